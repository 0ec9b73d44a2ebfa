package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"github.com/evanw/esbuild/pkg/api"

	"grapnel/internal/effort"
)

// mostTime is the longest one package's tests may take with a fault in them: a fault that
// makes them hang is caught by that.
const mostTime = 5 * time.Minute

// What came of a fault.
const (
	caught   = "caught"
	survived = "survived"
	broken   = "broken" // it does not compile, which is no test's merit
	lost     = "lost"   // its place is not found
)

// hand is one of those who try faults side by side, with a folder of its own. A fault of Go
// is laid over the project for the compiler, which then has to compile what it touches and
// no more; one of the front end is made in a copy.
type hand struct {
	dir   string
	pages *pages
}

// try makes a fault and runs the tests that can notice until one does.
func (h *hand) try(ctx context.Context, f *fault, reach *reach) (err error) {
	began := time.Now()
	defer func() { f.took = time.Since(began) }()
	all, err := declarations(".", f.dir)
	if err != nil {
		return err
	}
	at, err := f.find(all)
	if err != nil {
		f.fate = lost
		return nil
	}
	good, err := os.ReadFile(at.file)
	if err != nil {
		return err
	}
	bad := f.made(string(good), at)
	run := tests(h.overlaid)
	if f.web() {
		if strings.HasPrefix(filepath.Ext(at.file), ".ts") && !parses(bad) {
			f.fate = broken
			return nil
		}
		run = h.pages.run
		file := filepath.Join(h.pages.copy, at.file)
		if err := os.WriteFile(file, []byte(bad), 0o644); err != nil {
			return err
		}
		defer func() { err = errors.Join(err, os.WriteFile(file, good, 0o644)) }()
	} else if err := h.lay(at.file, bad); err != nil {
		return err
	}
	fate, by, err := judged(ctx, f, run, reach)
	if err == nil {
		f.fate, f.by = fate, by
	}
	return err
}

// judged asks the test that caught a fault last, then all that it can reach.
func judged(ctx context.Context, f *fault, run tests, reach *reach) (fate, by string, err error) {
	last, test, _ := strings.Cut(f.by, " ")
	name, pkg := "", last
	if test != "" {
		name, err = run(ctx, last, "run", test)
	}
	for _, next := range reach.of(f.dir) {
		if name != "" || err != nil {
			break
		}
		pkg = next
		name, err = catcher(ctx, run, pkg)
	}
	switch {
	case errors.Is(err, errBroken):
		return broken, "", nil
	case err != nil:
		return "", "", err
	case name == "":
		return survived, "", nil
	}
	return caught, pkg + " " + name, nil
}

// catcher names the test of a package that notices a fault by itself too: one that failed
// among the others may only have been late.
func catcher(ctx context.Context, run tests, pkg string) (string, error) {
	var late []string
	for {
		name, err := run(ctx, pkg, "skip", late...)
		if name == "" || err != nil || name == unnamed {
			return name, err
		}
		if alone, err := run(ctx, pkg, "run", name); alone != "" || err != nil {
			return name, err
		}
		late = append(late, name)
	}
}

// unnamed is what failed where no test did: the package as a whole.
const unnamed = "the package"

// tests are run of a package: with "run" those that are named, with "skip" all others; the
// first that failed is told.
type tests func(ctx context.Context, pkg, which string, names ...string) (failed string, err error)

var errBroken = errors.New("it does not compile")

// lay puts a source with a fault over the good one for what is built next.
func (h *hand) lay(file, bad string) error {
	good, err := filepath.Abs(file)
	if err != nil {
		return err
	}
	laid := filepath.Join(h.dir, "laid"+filepath.Ext(file))
	overlay, err := json.Marshal(map[string]map[string]string{"Replace": {good: laid}})
	if err != nil {
		return err
	}
	return errors.Join(os.WriteFile(laid, []byte(bad), 0o644), os.WriteFile(h.overlay(), overlay, 0o644))
}

func (h *hand) overlay() string { return filepath.Join(h.dir, "overlay.json") }

// overlaid runs tests of a package with what was laid over.
func (h *hand) overlaid(ctx context.Context, pkg, which string, names ...string) (string, error) {
	args := []string{"test", "-overlay", h.overlay(), "-count=1", "-failfast", "-vet=off", "-json"}
	return failing(ctx, ".", exec.Command("go", append(args, append(named("-"+which, names), pkg)...)...))
}

// named chooses tests by their names, for a flag of the test runner.
func named(flag string, names []string) []string {
	if len(names) == 0 {
		return nil
	}
	return []string{flag, "^(" + strings.Join(names, "|") + ")$"}
}

// failing runs tests that tell of themselves in JSON, and names the first that failed.
func failing(ctx context.Context, dir string, c *exec.Cmd) (string, error) {
	within, cancel := context.WithTimeout(ctx, mostTime)
	defer cancel()
	c.Dir = dir
	c.Env = append(os.Environ(), effort.Impatient+"=20s")
	c.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	var out bytes.Buffer
	c.Stdout = &out
	if err := c.Start(); err != nil {
		return "", fmt.Errorf("run tests: %w", err)
	}
	// What it started goes with it.
	let := context.AfterFunc(within, func() { _ = syscall.Kill(-c.Process.Pid, syscall.SIGKILL) })
	err := c.Wait()
	let()
	if ctx.Err() != nil {
		return "", ctx.Err()
	}
	if err == nil {
		return "", nil
	}
	last := unnamed
	for line := range bytes.Lines(out.Bytes()) {
		var e struct{ Action, Test string }
		if json.Unmarshal(line, &e) != nil {
			continue
		}
		test, _, _ := strings.Cut(e.Test, "/")
		switch {
		case e.Action == "build-fail":
			return "", errBroken
		case e.Action == "fail" && test != "":
			return test, nil
		case e.Action == "run":
			last = test // a panic or a time-out has no line of its own
		}
	}
	return last, nil
}

// parses reports whether a source of the front end can be bundled at all.
func parses(src string) bool {
	return len(api.Transform(src, api.TransformOptions{Loader: api.LoaderTSX}).Errors) == 0
}
