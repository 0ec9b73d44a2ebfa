package main

import (
	"cmp"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// hasFault is the variable of the environment that says which fault a program has, none
// without it.
const hasFault = "GRAPNEL_FAULT"

// switches is the source a package has for its faults: each function with faults is kept
// beside one of each fault, and what is called by its name chooses among them. So all faults
// of functions are compiled once.
type switches struct {
	files map[string]*doubled // by name
	into  map[string]string   // packages of Go with faults, by folder
}

// doubled is a file whose functions have others beside them.
type doubled struct {
	src       string
	tree      *ast.File
	offset    func(token.Pos) int
	functions map[*ast.FuncDecl][]beside
}

// beside is a function with a fault, whose name is still the good one's.
type beside struct {
	n   int
	src string
	end int // of its name in src
}

func newSwitches() *switches { return &switches{map[string]*doubled{}, map[string]string{}} }

// add takes a fault up where it lies in the body of a function that can have others beside it.
func (s *switches) add(f *fault, file, good, bad string, at place) bool {
	d := s.files[file]
	if d == nil {
		var err error
		if d, err = double(good); err != nil {
			return false
		}
		s.files[file] = d
	}
	with, err := double(bad)
	if err != nil {
		return false
	}
	for i, decl := range d.tree.Decls {
		fn, is := decl.(*ast.FuncDecl)
		if !is || fn.Body == nil || at.from <= d.offset(fn.Body.Pos()) || at.to >= d.offset(fn.End()) || !doubles(fn) || i >= len(with.tree.Decls) {
			continue
		}
		worse, is := with.tree.Decls[i].(*ast.FuncDecl)
		if !is {
			return false
		}
		from := with.offset(worse.Pos())
		d.functions[fn] = append(d.functions[fn], beside{
			f.n, bad[from:with.offset(worse.End())], with.offset(worse.Name.End()) - from,
		})
		s.into[filepath.Dir(file)] = d.tree.Name.Name
		return true
	}
	return false
}

func double(src string) (*doubled, error) {
	files := token.NewFileSet()
	tree, err := parser.ParseFile(files, "", src, parser.SkipObjectResolution)
	return &doubled{src, tree, func(p token.Pos) int { return files.Position(p).Offset }, map[*ast.FuncDecl][]beside{}}, err
}

// doubles reports whether a function can have another beside it: it can be called by name,
// and is no pattern of functions.
func doubles(fn *ast.FuncDecl) bool {
	if fn.Recv != nil {
		t := fn.Recv.List[0].Type
		if star, is := t.(*ast.StarExpr); is {
			t = star.X
		}
		_, plain := t.(*ast.Ident)
		return plain
	}
	return fn.Type.TypeParams == nil && !slices.Contains([]string{"init", "main", "_"}, fn.Name.Name)
}

// lay writes the sources with the faults into a folder, and gives what of them stands for
// which file.
func (s *switches) lay(dir string) (map[string]string, error) {
	laid := map[string]string{}
	write := func(file, src string) error {
		good, err := filepath.Abs(file)
		if err != nil {
			return err
		}
		laid[good] = filepath.Join(dir, fmt.Sprintf("switched%d.go", len(laid)))
		return os.WriteFile(laid[good], []byte(src), 0o644)
	}
	for name, d := range s.files {
		if err := write(name, d.text()); err != nil {
			return nil, err
		}
	}
	for folder, pkg := range s.into {
		src := fmt.Sprintf("package %s\n\nimport (\n\t\"os\"\n\t\"strconv\"\n)\n\nvar chosenFault, _ = strconv.Atoi(os.Getenv(%q))\n", pkg, hasFault)
		if err := write(filepath.Join(folder, "chosen_fault.go"), src); err != nil {
			return nil, err
		}
	}
	return laid, nil
}

// text is the file with its functions doubled: what stood in it stands where it stood.
func (d *doubled) text() string {
	fns := make([]*ast.FuncDecl, 0, len(d.functions))
	for fn := range d.functions {
		fns = append(fns, fn)
	}
	slices.SortFunc(fns, func(a, b *ast.FuncDecl) int { return cmp.Compare(a.Pos(), b.Pos()) })
	var body, more strings.Builder
	from := 0
	for _, fn := range fns {
		to := d.offset(fn.Name.End())
		body.WriteString(d.src[from:to] + suffix(0))
		from = to
		for _, b := range d.functions[fn] {
			// A fault that does not compile is known by its number.
			_, _ = fmt.Fprintf(&more, "\n//line fault%d.go:1\n%s%s%s\n", b.n, b.src[:b.end], suffix(b.n), b.src[b.end:])
		}
		more.WriteString("\n" + d.chooser(fn))
	}
	return body.String() + d.src[from:] + more.String()
}

func suffix(n int) string { return fmt.Sprintf("_fault%d", n) }

// chooser is a function that calls the one with the chosen fault, or the good one.
func (d *doubled) chooser(fn *ast.FuncDecl) string {
	text := func(n ast.Node) string { return d.src[d.offset(n.Pos()):d.offset(n.End())] }
	var takes, gives []string
	for _, field := range fn.Type.Params.List {
		for range max(1, len(field.Names)) {
			name := fmt.Sprintf("p_%d", len(takes))
			takes = append(takes, name+" "+text(field.Type))
			if _, all := field.Type.(*ast.Ellipsis); all {
				name += "..."
			}
			gives = append(gives, name)
		}
	}
	head, call, back := "func ", "", ""
	if fn.Recv != nil {
		head, call = "func (r_ "+text(fn.Recv.List[0].Type)+") ", "r_."
	}
	if fn.Type.Results != nil {
		back = text(fn.Type.Results)
	}
	one := func(n int) string {
		called := call + fn.Name.Name + suffix(n) + "(" + strings.Join(gives, ", ") + ")"
		if back == "" {
			return called + "; return"
		}
		return "return " + called
	}
	var s strings.Builder
	s.WriteString(head + fn.Name.Name + "(" + strings.Join(takes, ", ") + ") " + back + " {\n\tswitch chosenFault {\n")
	for _, b := range d.functions[fn] {
		_, _ = fmt.Fprintf(&s, "\tcase %d:\n\t\t%s\n", b.n, one(b.n))
	}
	s.WriteString("\t}\n\t" + one(0) + "\n}\n")
	return s.String()
}
