package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
)

// copyTree copies what git tracks, as it is in the working tree, and borrows the packages of
// the front end and what was built of it.
func copyTree() (dir string, end func(), err error) {
	dir, err = os.MkdirTemp("", "grapnel-mutants-")
	if err != nil {
		return "", nil, err
	}
	end = func() { _ = os.RemoveAll(dir) }
	defer func() {
		if err != nil {
			end()
		}
	}()
	list, err := exec.Command("git", "ls-files", "-co", "--exclude-standard", "-z").Output()
	if err != nil {
		return "", nil, fmt.Errorf("git ls-files: %w", err)
	}
	for _, name := range strings.Split(strings.TrimRight(string(list), "\x00"), "\x00") {
		data, err := os.ReadFile(name)
		if errors.Is(err, os.ErrNotExist) {
			continue
		}
		if err != nil {
			return "", nil, err
		}
		info, err := os.Stat(name)
		if err != nil {
			return "", nil, err
		}
		file := filepath.Join(dir, name)
		if err := os.MkdirAll(filepath.Dir(file), 0o755); err != nil {
			return "", nil, err
		}
		if err := os.WriteFile(file, data, info.Mode()); err != nil {
			return "", nil, err
		}
	}
	modules, err := filepath.Abs("web/node_modules")
	if err != nil {
		return "", nil, err
	}
	if err := os.Symlink(modules, filepath.Join(dir, "web/node_modules")); err != nil {
		return "", nil, err
	}
	return dir, end, build(context.Background(), dir)
}

// build builds the front end of a copy.
func build(ctx context.Context, dir string) error {
	c := exec.CommandContext(ctx, "npm", "run", "--silent", "build")
	c.Dir = filepath.Join(dir, "web")
	if out, err := c.CombinedOutput(); err != nil {
		return fmt.Errorf("build the front end: %w\n%s", err, out)
	}
	return nil
}
