package localdb

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
)

// Throwaway starts a MariaDB in a new temporary folder, for one test program.
// The returned function stops it and removes everything.
func Throwaway(ctx context.Context) (*Server, func(), error) {
	dir, err := os.MkdirTemp("", "grapnel-test-")
	if err != nil {
		return nil, nil, err
	}
	s, err := Start(ctx, filepath.Join(dir, "db"))
	if err != nil {
		_ = os.RemoveAll(dir)
		return nil, nil, err
	}
	return s, func() {
		if err := s.Kill(); err != nil {
			fmt.Fprintln(os.Stderr, "stop the test database:", err)
		}
		_ = os.RemoveAll(dir)
	}, nil
}
