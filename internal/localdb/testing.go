package localdb

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"syscall"

	"grapnel/internal/leash"
)

// roomy is how much memory has to be free for a database to be kept in it, bytes: half a
// dozen of a few hundred megabytes each, beside the programs.
const roomy = 4 << 30

// Throwaway starts a MariaDB in a new temporary folder, for one test program; in memory,
// where there is room, since nobody needs what it wrote. The returned function stops it and
// removes everything; so does the end of the program, whatever it died of.
func Throwaway(ctx context.Context) (*Server, func(), error) {
	dir, err := os.MkdirTemp(fastest(), "grapnel-test-")
	if err != nil {
		return nil, nil, err
	}
	s, err := Start(ctx, filepath.Join(dir, "db"), "--innodb-log-file-size=24M", "--innodb-doublewrite=0")
	if err != nil {
		_ = os.RemoveAll(dir)
		return nil, nil, err
	}
	let, err := leash.Hold([]int{s.pid}, dir, filepath.Dir(s.socket))
	if err != nil {
		_ = s.Kill()
		_ = os.RemoveAll(dir)
		return nil, nil, err
	}
	return s, func() {
		if err := s.Kill(); err != nil {
			fmt.Fprintln(os.Stderr, "stop the test database:", err)
		}
		_ = os.RemoveAll(dir)
		let()
	}, nil
}

// fastest is the folder for what is thrown away: in memory, or wherever the system has its
// temporary ones.
func fastest() string {
	const memory = "/dev/shm"
	var at syscall.Statfs_t
	if err := syscall.Statfs(memory, &at); err != nil || int64(at.Bavail)*at.Bsize < roomy {
		return ""
	}
	return memory
}
