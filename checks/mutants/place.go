package main

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
)

// stretch is a declaration of a source: a function, method, constant, variable or type.
type stretch struct {
	file     string
	name     string // Receiver.Method for a method
	src      string // of the whole file
	from, to int
	pieces   []piece
}

// place is where a fault is made.
type place struct {
	file     string
	from, to int
	renamed  map[string]string // names that are others now than when the fault was written down
}

// declarations are those of a package of Go, or of a folder of another language; tests are
// none of them.
func declarations(root, dir string) ([]stretch, error) {
	entries, err := os.ReadDir(filepath.Join(root, dir))
	if err != nil {
		return nil, err
	}
	var out []stretch
	for _, e := range entries {
		name := filepath.Join(dir, e.Name())
		if e.IsDir() || strings.HasSuffix(name, "_test.go") {
			continue
		}
		raw, err := os.ReadFile(filepath.Join(root, name))
		if err != nil {
			return nil, err
		}
		src := string(raw)
		switch ext := filepath.Ext(name); {
		case ext == ".go":
			found, err := goDeclarations(name, src)
			if err != nil {
				return nil, err
			}
			out = append(out, found...)
		case ext == ".ts" || ext == ".tsx":
			out = append(out, webDeclarations(name, src)...)
		case textual[ext]:
			out = append(out, stretch{name, e.Name(), src, 0, len(src), textPieces(src)})
		}
	}
	return out, nil
}

// textual sources have no declarations: a fault's place is named after the file.
var textual = map[string]bool{".sql": true, ".css": true, ".service": true}

func goDeclarations(file, src string) ([]stretch, error) {
	files := token.NewFileSet()
	tree, err := parser.ParseFile(files, file, src, parser.SkipObjectResolution)
	if err != nil {
		return nil, err
	}
	var out []stretch
	add := func(name string, n ast.Node) {
		from, to := files.Position(n.Pos()).Offset, files.Position(n.End()).Offset
		pieces := goPieces(src[from:to])
		for i := range pieces {
			pieces[i].from += from
			pieces[i].to += from
		}
		out = append(out, stretch{file, name, src, from, to, pieces})
	}
	for _, d := range tree.Decls {
		switch d := d.(type) {
		case *ast.FuncDecl:
			add(funcName(d), d)
		case *ast.GenDecl:
			for _, s := range d.Specs {
				var n ast.Node = s
				if len(d.Specs) == 1 {
					n = d
				}
				switch s := s.(type) {
				case *ast.ValueSpec:
					add(s.Names[0].Name, n)
				case *ast.TypeSpec:
					add(s.Name.Name, n)
				}
			}
		}
	}
	return out, nil
}

func funcName(d *ast.FuncDecl) string {
	if d.Recv == nil {
		return d.Name.Name
	}
	t := d.Recv.List[0].Type
	for {
		switch x := t.(type) {
		case *ast.StarExpr:
			t = x.X
		case *ast.IndexExpr:
			t = x.X
		case *ast.Ident:
			return x.Name + "." + d.Name.Name
		default:
			return d.Name.Name
		}
	}
}

// A declaration of the front end begins at the left edge.
var declared = regexp.MustCompile(`(?m)^(?:export )?(?:default )?(?:async )?(?:function|const|let|class|type|interface) ([\pL\d_$]+)`)

func webDeclarations(file, src string) []stretch {
	heads := declared.FindAllStringSubmatchIndex(src, -1)
	var out []stretch
	for i, h := range heads {
		to := len(src)
		if i+1 < len(heads) {
			to = heads[i+1][0]
		}
		pieces := textPieces(src[h[0]:to])
		for k := range pieces {
			pieces[k].from += h[0]
			pieces[k].to += h[0]
		}
		out = append(out, stretch{file, src[h[2]:h[3]], src, h[0], to, pieces})
	}
	return out
}

// fewestLoose is how many tokens it takes to know an expression by its shape alone.
const fewestLoose = 5

// find says where a fault is made: in the declaration of its name, or wherever the
// expression stands once when that has another name now; and where its own names were
// changed, by its shape.
func (f *fault) find(all []stretch) (place, error) {
	named := slices.DeleteFunc(slices.Clone(all), func(s stretch) bool { return s.name != f.name })
	old := f.pieces(f.old)
	for _, loose := range []bool{false, true} {
		if loose && len(old) < fewestLoose {
			break
		}
		for _, in := range [][]stretch{named, all} {
			at := matches(in, old, loose)
			if len(at) == 1 {
				return at[0], nil
			}
			if len(at) > 1 {
				return place{}, fmt.Errorf("%q stands %d times in %s %s, not once", f.old, len(at), f.dir, f.name)
			}
		}
	}
	return place{}, fmt.Errorf("%q stands nowhere in %s %s", f.old, f.dir, f.name)
}

func matches(in []stretch, some []piece, loose bool) (out []place) {
	for _, s := range in {
		for i := range s.pieces {
			if renamed, same := sameFrom(s.pieces, i, some, loose); same {
				out = append(out, place{s.file, s.pieces[i].from, s.pieces[i+len(some)-1].to, renamed})
			}
		}
	}
	return out
}

func (f *fault) pieces(src string) []piece {
	if f.web() || textual[filepath.Ext(f.name)] {
		return textPieces(src)
	}
	return goPieces(src)
}

// made is the source with the fault in it.
func (f *fault) made(src string, at place) string {
	fresh, from := f.new, 0
	if strings.HasPrefix(src[at.to:], ";") { // it stays, being no token
		fresh = strings.TrimSuffix(fresh, ";")
	}
	var renamed strings.Builder
	for _, p := range f.pieces(fresh) {
		if to, is := at.renamed[p.text]; is && p.name {
			renamed.WriteString(fresh[from:p.from] + to)
			from = p.to
		}
	}
	renamed.WriteString(fresh[from:])
	return src[:at.from] + renamed.String() + src[at.to:]
}

// sources are the file a fault is made in, without it and with it.
func (f *fault) sources() (at place, good, bad string, err error) {
	all, err := declarations(".", f.dir)
	if err != nil {
		return place{}, "", "", err
	}
	if at, err = f.find(all); err != nil {
		return place{}, "", "", err
	}
	raw, err := os.ReadFile(at.file)
	return at, string(raw), f.made(string(raw), at), err
}
