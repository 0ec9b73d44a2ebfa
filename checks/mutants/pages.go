package main

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
)

// pages are the tests of the front end: a copy of the project to make its faults in, and the
// programs of the tests, built once. They hold no pages of their own and take them from the
// folder they run in.
type pages struct {
	copy string
	bins map[string]string // the program of a package's tests
}

// programs builds the test programs of what opens pages.
func programs(ctx context.Context, dir string, pkgs []string) (map[string]string, error) {
	index, err := filepath.Abs("web/dist/index.html")
	if err != nil {
		return nil, err
	}
	overlay, err := json.Marshal(map[string]map[string]string{"Replace": {index: ""}})
	if err != nil {
		return nil, err
	}
	laid := filepath.Join(dir, "nopages.json")
	if err := os.WriteFile(laid, overlay, 0o644); err != nil {
		return nil, err
	}
	bins := map[string]string{}
	for _, pkg := range pkgs {
		bin := filepath.Join(dir, strings.ReplaceAll(filepath.Clean(pkg), "/", "-")+".test")
		c := exec.CommandContext(ctx, "go", "test", "-c", "-vet=off", "-overlay", laid, "-o", bin, pkg)
		if out, err := c.CombinedOutput(); err != nil {
			return nil, fmt.Errorf("build the tests of %s: %w\n%s", pkg, err, out)
		}
		bins[pkg] = bin
	}
	return bins, nil
}

// run runs tests of a package on the pages of the copy.
func (p *pages) run(ctx context.Context, pkg, which string, names ...string) (string, error) {
	args := append([]string{"tool", "test2json", p.bins[pkg], "-test.v=test2json", "-test.failfast"}, named("-test."+which, names)...)
	return failing(ctx, filepath.Join(p.copy, pkg), exec.Command("go", args...))
}
