package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"time"
)

// mostTime is the longest one package's tests may take with a fault in them: a fault that
// makes them hang is caught by that.
const mostTime = 5 * time.Minute

// try makes a fault in a copy, runs the tests that can notice until one does, and mends it
// again.
func (f *fault) try(ctx context.Context, dir string, reach *reach) error {
	began := time.Now()
	defer func() { f.took = time.Since(began) }()
	all, err := declarations(dir, f.dir)
	if err != nil {
		return err
	}
	at, err := f.find(all)
	if err != nil {
		f.fate = "lost"
		return nil
	}
	file := filepath.Join(dir, at.file)
	good, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	if err := os.WriteFile(file, []byte(f.made(string(good), at)), 0o644); err != nil {
		return err
	}
	f.fate, err = f.tried(ctx, dir, reach)
	return errors.Join(err, os.WriteFile(file, good, 0o644))
}

func (f *fault) tried(ctx context.Context, dir string, reach *reach) (fate string, err error) {
	if strings.HasPrefix(f.dir, "web") {
		if build(ctx, dir) != nil {
			return "broken", ctx.Err()
		}
	} else {
		// Built first, so that a fault that does not compile is not taken for caught.
		c := exec.CommandContext(ctx, "go", "build", "./"+f.dir+"/")
		c.Dir = dir
		if !f.web() && c.Run() != nil {
			return "broken", ctx.Err()
		}
	}
	if pkg, test, ok := strings.Cut(f.by, " "); ok {
		if name := failing(ctx, dir, pkg, "^"+regexp.QuoteMeta(test)+"$"); name != "" {
			return "caught", ctx.Err()
		}
	}
	f.by = ""
	for _, pkg := range reach.of(f.dir) {
		if name := failing(ctx, dir, pkg, ""); name != "" {
			f.by = pkg + " " + name
			return "caught", ctx.Err()
		}
		if ctx.Err() != nil {
			return "", ctx.Err()
		}
	}
	return "survived", nil
}

// failing runs a package's tests, and gives the first that failed.
func failing(ctx context.Context, dir, pkg, run string) string {
	ctx, cancel := context.WithTimeout(ctx, mostTime)
	defer cancel()
	args := []string{"test", "-count=1", "-failfast", "-vet=off", "-json"}
	if run != "" {
		args = append(args, "-run", run)
	}
	c := exec.CommandContext(ctx, "go", append(args, pkg)...)
	c.Dir = dir
	// What it started goes with it.
	c.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	c.Cancel = func() error { return syscall.Kill(-c.Process.Pid, syscall.SIGTERM) }
	c.WaitDelay = 10 * time.Second
	out, err := c.Output()
	if err == nil {
		return ""
	}
	last := "the package"
	for line := range bytes.Lines(out) {
		var e struct{ Action, Test string }
		if json.Unmarshal(line, &e) != nil || e.Test == "" {
			continue
		}
		test, _, _ := strings.Cut(e.Test, "/")
		if e.Action == "fail" {
			return test
		}
		if e.Action == "run" {
			last = test // a panic or a time-out has no line of its own
		}
	}
	return last
}
