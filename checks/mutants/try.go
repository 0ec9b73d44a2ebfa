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

// The longest a package's tests, and one of them, may take with a fault: one that makes them
// hang is caught by that.
const mostTime, mostAlone = 5 * time.Minute, 2 * time.Minute

// What came of a fault.
const (
	caught   = "caught"
	survived = "survived"
	broken   = "broken" // it does not compile, which is no test's merit
	lost     = "lost"   // its place is not found
)

// hand is one of those who try faults side by side, with a folder of its own.
type hand struct {
	dir      string
	programs *programs
	switched map[*fault]bool // which faults the programs hold
}

// copy is the project as the tests of pages find it, to make faults of the front end in.
func (h *hand) copy() string { return filepath.Join(h.dir, "copy") }

// try makes a fault and runs the tests that can notice until one does. Most faults of Go are
// in the programs already; another is laid over the project for the compiler; one of the
// front end is made in a copy.
func (h *hand) try(ctx context.Context, f *fault, reach *reach) (err error) {
	began := time.Now()
	defer func() { f.took = time.Since(began) }()
	j := judge{reach: reach.of(f.dir), with: h.programs.on(".", f.n)}
	j.sound = func(pkg, test string) (bool, error) { return h.programs.sound(ctx, ".", pkg, test) }
	if !h.switched[f] {
		at, good, bad, where := f.sources()
		if where != nil {
			f.fate = lost
			return nil
		}
		if f.web() {
			if strings.HasPrefix(filepath.Ext(at.file), ".ts") && !parses(bad) {
				f.fate = broken
				return nil
			}
			file := filepath.Join(h.copy(), at.file)
			put := func(src string) error { return os.WriteFile(file, []byte(src), 0o644) }
			if err := put(bad); err != nil {
				return err
			}
			defer func() { err = errors.Join(err, put(good)) }()
			j.with = h.programs.on(h.copy(), 0)
			j.sound = func(pkg, test string) (bool, error) {
				if err := put(good); err != nil {
					return false, err
				}
				fine, err := h.programs.sound(ctx, h.copy(), pkg, test)
				return fine, errors.Join(err, put(bad))
			}
		} else {
			if err := h.lay(at.file, bad); err != nil {
				return err
			}
			j.with = h.overlaid
		}
	}
	fate, by, err := j.judged(ctx, f.by)
	if err == nil {
		f.fate, f.by = fate, by
	}
	return err
}

// judge runs tests with a fault, and knows whether a test passes by itself without one.
type judge struct {
	reach []string // the packages whose tests the fault can reach
	with  tests
	sound func(pkg, test string) (bool, error)
}

// judged asks the test that caught a fault last, then all that it can reach.
func (j *judge) judged(ctx context.Context, last string) (fate, by string, err error) {
	pkg, name, hinted := strings.Cut(last, " ")
	found := false
	if hinted {
		found, err = j.catches(ctx, pkg, name)
	}
	for _, next := range j.reach {
		if found || err != nil {
			break
		}
		pkg = next
		name, err = j.catcher(ctx, pkg)
		found = name != ""
	}
	switch {
	case errors.Is(err, errBroken):
		return broken, "", nil
	case err != nil:
		return "", "", err
	case !found:
		return survived, "", nil
	}
	return caught, pkg + " " + name, nil
}

// catches reports whether a test fails by itself with the fault, and passes without it.
func (j *judge) catches(ctx context.Context, pkg, test string) (bool, error) {
	failed, err := j.with(ctx, pkg, "run", test)
	if failed == "" || err != nil {
		return false, err
	}
	return j.sound(pkg, test)
}

// catcher names the test of a package that notices a fault by itself too: one that failed
// among the others may only have been late.
func (j *judge) catcher(ctx context.Context, pkg string) (string, error) {
	var late []string
	for {
		name, err := j.with(ctx, pkg, "skip", late...)
		if name == "" || name == unnamed || err != nil {
			return name, err
		}
		if does, err := j.catches(ctx, pkg, name); does || err != nil {
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
	args := append([]string{"test", "-count=1", "-failfast", "-vet=off", "-json"}, named("-"+which, names)...)
	return failing(ctx, bound(which), exec.Command("go", append(args, pkg)...), overlaid(h.overlay()))
}

// overlaid is the environment in which the compiler sees what was laid over, for programs
// that tests build too.
func overlaid(overlay string) string { return "GOFLAGS=-overlay=" + overlay }

func bound(which string) time.Duration {
	if which == "run" {
		return mostAlone
	}
	return mostTime
}

// named chooses tests by their names, for a flag of the test runner.
func named(flag string, names []string) []string {
	if len(names) == 0 {
		return nil
	}
	return []string{flag, "^(" + strings.Join(names, "|") + ")$"}
}

// failing runs tests that tell of themselves in JSON, and names the first that failed.
func failing(ctx context.Context, most time.Duration, c *exec.Cmd, env ...string) (string, error) {
	within, cancel := context.WithTimeout(ctx, most)
	defer cancel()
	c.Env = append(append(os.Environ(), effort.Impatient+"=20s"), env...)
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
