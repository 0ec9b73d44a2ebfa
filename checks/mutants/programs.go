package main

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
)

// programs are the test programs of all packages, each built once, when it is asked for: it
// holds all faults of functions, and is told which to have. Those of pages hold no pages of
// their own and take them from the folder they run in.
type programs struct {
	dir   string
	laid  map[string]string // what stands for which source
	pages []string

	mu    sync.Mutex
	built map[string]func() error
	fine  map[string]bool // whether a test passes by itself without a fault
}

// build builds the test program of a package, unless that was done.
func (p *programs) build(pkg string) error {
	p.mu.Lock()
	build := p.built[pkg]
	if build == nil {
		build = sync.OnceValue(func() error { return p.compile(pkg) })
		p.built[pkg] = build
	}
	p.mu.Unlock()
	return build()
}

func (p *programs) compile(pkg string) error {
	over := maps.Clone(p.laid)
	if slices.Contains(p.pages, pkg) {
		index, err := filepath.Abs("web/dist/index.html")
		if err != nil {
			return err
		}
		over[index] = ""
	}
	overlay, err := json.Marshal(map[string]any{"Replace": over})
	if err != nil {
		return err
	}
	if err := os.WriteFile(p.overlay(pkg), overlay, 0o644); err != nil {
		return err
	}
	if out, err := exec.Command("go", "test", "-c", "-vet=off", "-overlay", p.overlay(pkg), "-o", p.of(pkg), pkg).CombinedOutput(); err != nil {
		return fmt.Errorf("build the tests of %s: %w\n%s", pkg, err, out)
	}
	return nil
}

// of is the program of a package's tests.
func (p *programs) of(pkg string) string {
	return filepath.Join(p.dir, strings.ReplaceAll(filepath.Clean(pkg), "/", "-")+".test")
}

// on runs tests of programs with a fault of theirs, or with none, on the pages of a folder.
func (p *programs) on(root string, fault int) tests {
	return func(ctx context.Context, pkg, which string, names ...string) (string, error) {
		if err := p.build(pkg); err != nil {
			return "", err
		}
		args := append([]string{"tool", "test2json", p.of(pkg), "-test.v=test2json", "-test.failfast"}, named("-test."+which, names)...)
		c := exec.Command("go", args...)
		c.Dir = filepath.Join(root, pkg)
		return failing(ctx, bound(which), c, fmt.Sprintf("%s=%d", hasFault, fault), overlaid(p.overlay(pkg)))
	}
}

// overlay says what is laid over the project for a package's program.
func (p *programs) overlay(pkg string) string { return p.of(pkg) + ".json" }

// sound reports whether a test passes by itself without a fault.
func (p *programs) sound(ctx context.Context, root, pkg, test string) (bool, error) {
	p.mu.Lock()
	fine, known := p.fine[pkg+" "+test]
	p.mu.Unlock()
	if known {
		return fine, nil
	}
	failed, err := p.on(root, 0)(ctx, pkg, "run", test)
	if err != nil {
		return false, err
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	p.fine[pkg+" "+test] = failed == ""
	return failed == "", nil
}
