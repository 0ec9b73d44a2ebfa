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

// reach says which packages' tests a fault can reach.
type reach struct {
	needs map[string][]string // a package with tests, and all it is built of, both without the module's name
}

func reachOf(ctx context.Context) (*reach, error) {
	out, err := exec.CommandContext(ctx, "go", "list", "-test", "-json=ImportPath,ForTest,Deps", "./...").Output()
	if err != nil {
		return nil, fmt.Errorf("go list: %w", err)
	}
	r := &reach{map[string][]string{}}
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

// of gives the packages whose tests a fault in a folder can reach: its own first, then those
// built of the fewest, which are the fastest. What is wrong with the front end, the tests that open pages notice.
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
		return cmp.Or(cmp.Compare(len(r.needs[a]), len(r.needs[b])), cmp.Compare(a, b))
	})
	return out
}
