package main

import (
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
)

// copyTree copies what git tracks, as it is in the working tree, and borrows the packages of
// the front end.
func copyTree(dir string) error {
	list, err := exec.Command("git", "ls-files", "-co", "--exclude-standard", "-z").Output()
	if err != nil {
		return fmt.Errorf("git ls-files: %w", err)
	}
	for _, name := range strings.Split(strings.TrimRight(string(list), "\x00"), "\x00") {
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
		file := filepath.Join(dir, name)
		if err := os.MkdirAll(filepath.Dir(file), 0o755); err != nil {
			return err
		}
		if err := os.WriteFile(file, data, info.Mode()); err != nil {
			return err
		}
		// As old as it was, so that nothing is made anew that stands.
		if err := os.Chtimes(file, info.ModTime(), info.ModTime()); err != nil {
			return err
		}
	}
	modules, err := filepath.Abs("web/node_modules")
	if err != nil {
		return err
	}
	return os.Symlink(modules, filepath.Join(dir, "web/node_modules"))
}
