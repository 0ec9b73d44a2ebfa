// Mutants makes small faults in a copy of the project, one at a time, runs the
// tests that should notice, and tells which faults nobody noticed. The faults are
// kept in faults.txt. It is no part of `make test`: `make mutants` runs it and
// writes docs/mutants.md.
package main

import (
	"bytes"
	"context"
	"errors"
	"flag"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"time"
)

func main() {
	only := flag.String("only", "", "run the faults whose file or reason matches this regular expression")
	from := flag.Int("from", 1, "first fault to run, counted as in the table")
	out := flag.String("out", "docs/mutants.md", "where the table is written; nowhere when empty or with -only")
	flag.Parse()
	if err := run(*only, *from, *out); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

// fault is one small edit and the tests that should notice it.
type fault struct {
	n        int
	file     string
	old, new string
	tests    []string // arguments of go test
	why      string
	// What came of it.
	fate string // caught, survived or broken
	took time.Duration
}

func run(only string, from int, out string) error {
	raw, err := os.ReadFile("checks/mutants/faults.txt")
	if err != nil {
		return err
	}
	all, err := parse(string(raw))
	if err != nil {
		return err
	}
	dir, err := os.MkdirTemp("", "mutants")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	if err := copyTree(dir); err != nil {
		return err
	}
	wanted, err := regexp.Compile(only)
	if err != nil {
		return err
	}
	var chosen []*fault
	for i := range all {
		if f := &all[i]; f.n >= from && wanted.MatchString(f.file+" "+f.why) {
			chosen = append(chosen, f)
		}
	}
	if err := sound(dir, chosen); err != nil {
		return err
	}
	survived, broken, ran := 0, 0, 0
	for _, f := range chosen {
		if err := f.try(dir); err != nil {
			return fmt.Errorf("fault %d, %s: %w", f.n, f.file, err)
		}
		ran++
		switch f.fate {
		case "survived":
			survived++
		case "broken":
			broken++
		}
		fmt.Printf("%3d %-8s %5.1f s  %s: %s\n", f.n, f.fate, f.took.Seconds(), f.file, f.why)
	}
	fmt.Printf("%d faults, %d caught, %d survived, %d did not build\n", ran, ran-survived-broken, survived, broken)
	if only == "" && from == 1 && out != "" {
		if err := os.WriteFile(out, []byte(table(all)), 0o644); err != nil {
			return err
		}
	}
	if survived > 0 || broken > 0 {
		return errors.New("not every fault was caught")
	}
	return nil
}

// copyTree copies what git tracks, as it is in the working tree, and borrows the
// packages of the front end.
func copyTree(to string) error {
	list, err := exec.Command("git", "ls-files", "-co", "--exclude-standard").Output()
	if err != nil {
		return fmt.Errorf("git ls-files: %w", err)
	}
	for _, name := range strings.Fields(string(list)) {
		data, err := os.ReadFile(name)
		if errors.Is(err, os.ErrNotExist) {
			continue
		}
		if err != nil {
			return err
		}
		info, err := os.Stat(name)
		if err != nil {
			return err
		}
		file := filepath.Join(to, name)
		if err := os.MkdirAll(filepath.Dir(file), 0o755); err != nil {
			return err
		}
		if err := os.WriteFile(file, data, info.Mode()); err != nil {
			return err
		}
	}
	modules, err := filepath.Abs("web/node_modules")
	if err != nil {
		return err
	}
	if err := os.Symlink(modules, filepath.Join(to, "web/node_modules")); err != nil {
		return err
	}
	return build(to)
}

// build builds the front end of the copy.
func build(dir string) error {
	c := exec.Command("npm", "run", "--silent", "build")
	c.Dir = filepath.Join(dir, "web")
	if out, err := c.CombinedOutput(); err != nil {
		return fmt.Errorf("build the front end: %w\n%s", err, out)
	}
	return nil
}

// sound runs the packages of the faults before any is made: a test that fails
// without a fault would catch every one.
func sound(dir string, all []*fault) error {
	if err := build(dir); err != nil {
		return err
	}
	var pkgs []string
	for _, f := range all {
		for _, arg := range f.tests {
			if strings.HasPrefix(arg, "./") && !slices.Contains(pkgs, arg) {
				pkgs = append(pkgs, arg)
			}
		}
	}
	c := exec.Command("go", append([]string{"test"}, pkgs...)...)
	c.Dir = dir
	if out, err := c.CombinedOutput(); err != nil {
		return fmt.Errorf("without any fault the tests fail: %w\n%s", err, out)
	}
	return nil
}

// mostTime is the longest one fault's tests may take: a fault that makes them hang
// is caught by that.
const mostTime = 5 * time.Minute

// try makes the fault in the copy, runs the tests, and mends it again.
func (f *fault) try(dir string) error {
	file := filepath.Join(dir, f.file)
	good, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	if n := strings.Count(string(good), f.old); n != 1 {
		return fmt.Errorf("%q stands %d times in it, not once", f.old, n)
	}
	if err := os.WriteFile(file, []byte(strings.Replace(string(good), f.old, f.new, 1)), 0o644); err != nil {
		return err
	}
	web := strings.HasPrefix(f.file, "web/")
	start := time.Now()
	f.fate = f.tried(dir, web)
	f.took = time.Since(start)
	return os.WriteFile(file, good, 0o644)
}

func (f *fault) tried(dir string, web bool) string {
	if web && build(dir) != nil {
		return "broken"
	}
	ctx, cancel := context.WithTimeout(context.Background(), mostTime)
	defer cancel()
	// Vetted first, so that a fault that does not compile is not taken for caught.
	if vet := exec.CommandContext(ctx, "go", append([]string{"build"}, "./"+filepath.Dir(f.file)+"/")...); !web &&
		strings.HasSuffix(f.file, ".go") {
		vet.Dir = dir
		if vet.Run() != nil {
			return "broken"
		}
	}
	c := exec.CommandContext(ctx, "go", append([]string{"test", "-count=1"}, f.tests...)...)
	c.Dir = dir
	out, err := c.CombinedOutput()
	switch {
	case err != nil:
		return "caught"
	case bytes.Contains(out, []byte("[no tests to run]")):
		return "without a test"
	}
	return "survived"
}

// table writes what came of the faults.
func table(all []fault) string {
	var s strings.Builder
	caught := 0
	for _, f := range all {
		if f.fate == "caught" {
			caught++
		}
	}
	_, _ = fmt.Fprintf(&s, `# Faults made by hand, and whether the tests notice

Written by %s. Each fault is one small edit in a copy of the project; the tests named are the only ones that run. %d of %d are caught (%.0f %%).

| | Where | What was changed | Tests | Fate |
|---|---|---|---|---|
`, "`make mutants`", caught, len(all), 100*float64(caught)/float64(len(all)))
	for _, f := range all {
		_, _ = fmt.Fprintf(&s, "| %d | `%s` | %s | `%s` | %s |\n", f.n, f.file, f.why, strings.Join(f.tests, " "),
			f.fate)
	}
	return s.String()
}

// parse reads the list: blocks of a file, the old text, the new text, the tests
// and the reason, a blank line between blocks.
//
//	core/rating/rating.go
//	- caToCCA = 0.8
//	+ caToCCA = 0.7
//	? ./core/rating
//	! CA read by another ratio
func parse(text string) ([]fault, error) {
	var all []fault
	for _, block := range strings.Split(strings.TrimSpace(text), "\n\n") {
		f := fault{n: len(all) + 1}
		for _, line := range strings.Split(block, "\n") {
			mark, rest, ok := strings.Cut(line, " ")
			if !ok {
				mark, rest = "", line
			}
			switch mark {
			case "#":
			case "-":
				f.old = strings.TrimPrefix(f.old+"\n"+rest, "\n")
			case "+":
				f.new = strings.TrimPrefix(f.new+"\n"+rest, "\n")
			case "?":
				f.tests = strings.Fields(rest)
			case "!":
				f.why = rest
			case "":
				f.file = rest
			default:
				return nil, fmt.Errorf("fault %d: what is %q?", f.n, line)
			}
		}
		if f.file == "" && f.old == "" {
			continue // a comment
		}
		if f.file == "" || f.old == "" || len(f.tests) == 0 || f.why == "" || f.old == f.new {
			return nil, fmt.Errorf("fault %d is not whole: %+v", f.n, f)
		}
		all = append(all, f)
	}
	return all, nil
}
