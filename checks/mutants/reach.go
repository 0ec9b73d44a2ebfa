package main

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"os/exec"
	"slices"
	"strings"
)

// reach says which packages' tests a fault can reach, and how long each takes.
type reach struct {
	needs   map[string][]string // a package with tests, and all it is built of, both without the module's name
	seconds map[string]float64
}

func reachOf(ctx context.Context) (*reach, error) {
	out, err := exec.CommandContext(ctx, "go", "list", "-test", "-json=ImportPath,ForTest,Deps", "./...").Output()
	if err != nil {
		return nil, fmt.Errorf("go list: %w", err)
	}
	r := &reach{map[string][]string{}, map[string]float64{}}
	for lists := json.NewDecoder(bytes.NewReader(out)); lists.More(); {
		var p struct {
			ImportPath, ForTest string
			Deps                []string
		}
		if err := lists.Decode(&p); err != nil {
			return nil, err
		}
		pkg, is := strings.CutSuffix(p.ImportPath, ".test")
		if !is {
			continue
		}
		for _, d := range append(p.Deps, p.ImportPath) {
			d, _, _ = strings.Cut(d, " ") // as built for a test
			if own, is := strings.CutPrefix(d, "grapnel/"); is {
				r.needs["./"+short(pkg)] = append(r.needs["./"+short(pkg)], own)
			}
		}
	}
	return r, nil
}

func short(pkg string) string { return strings.TrimPrefix(pkg, "grapnel/") }

// of gives the packages whose tests a fault in a folder can reach: its own first, then the
// fastest. What is wrong with the front end, the tests that open pages notice.
func (r *reach) of(dir string) []string {
	if (&fault{dir: dir}).web() {
		return r.pages()
	}
	return r.needing(strings.TrimSuffix(dir, "/migrations"))
}

func (r *reach) pages() []string { return r.needing("internal/stage") }

func (r *reach) needing(dir string) []string {
	var out []string
	for pkg, needs := range r.needs {
		if slices.Contains(needs, dir) {
			out = append(out, pkg)
		}
	}
	slices.SortFunc(out, func(a, b string) int {
		if own := "./" + dir; (a == own) != (b == own) {
			return map[bool]int{true: -1, false: 1}[a == own]
		}
		return cmp.Or(cmp.Compare(r.seconds[a], r.seconds[b]), cmp.Compare(len(r.needs[a]), len(r.needs[b])), cmp.Compare(a, b))
	})
	return out
}

// sound runs the tests the faults can reach before any is made: a test that fails without a
// fault would catch every one. It asks as `make test` does, so that what passed there is
// known already. It also finds out how long they take.
func (r *reach) sound(ctx context.Context, all []*fault) error {
	var pkgs []string
	for _, f := range all {
		pkgs = append(pkgs, r.of(f.dir)...)
	}
	slices.Sort(pkgs)
	pkgs = slices.Compact(pkgs)
	c := exec.CommandContext(ctx, "go", append([]string{"test", "-json", "-vet=off", "-timeout", "0", "-parallel", "4"}, pkgs...)...)
	out, err := c.Output()
	for line := range bytes.Lines(out) {
		var e struct {
			Action, Package, Test string
			Elapsed               float64
		}
		if json.Unmarshal(line, &e) != nil {
			continue
		}
		if e.Test == "" && e.Elapsed > 0 {
			r.seconds["./"+short(e.Package)] = e.Elapsed
		}
		if e.Action == "fail" && err != nil {
			err = fmt.Errorf("%w: %s %s", err, e.Package, e.Test)
		}
	}
	if err != nil {
		return fmt.Errorf("without any fault the tests fail: %w", err)
	}
	return nil
}
