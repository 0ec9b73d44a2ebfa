package demo

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"
)

// Clock is the demo workshop's own time: it can be moved on, so that a charge of hours is
// seen in a minute. Only the demo has one.
type Clock struct {
	mu    sync.Mutex
	path  string
	ahead time.Duration
}

// mostAhead is how far the clock is moved on in all, from one start of the demo's data to
// the next.
const mostAhead = 200 * 24 * time.Hour

// OpenClock gives the clock that is kept in a file, as far on as it was; without a path it
// is kept nowhere.
func OpenClock(path string) (*Clock, error) {
	c := &Clock{path: path}
	if path == "" {
		return c, nil
	}
	text, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) {
		return c, nil
	}
	if err != nil {
		return nil, err
	}
	if c.ahead, err = time.ParseDuration(strings.TrimSpace(string(text))); err != nil || c.ahead < 0 || c.ahead > mostAhead {
		return nil, fmt.Errorf("%s does not say how far the demo's clock is on; delete it and start again", path)
	}
	return c, nil
}

// Now gives the time by this clock.
func (c *Clock) Now() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	return time.Now().Add(c.ahead)
}

// ErrAhead is a clock that is moved on no further.
var ErrAhead = errors.New("the demo's clock goes no further; `make demo-reset` starts anew")

// Move moves the clock on, and keeps it there.
func (c *Clock) Move(by time.Duration) error {
	c.mu.Lock()
	defer c.mu.Unlock()
	to := c.ahead + by
	if by < 0 || to > mostAhead {
		return ErrAhead
	}
	if c.path != "" {
		if err := os.WriteFile(c.path+".new", []byte(to.String()+"\n"), 0o600); err != nil {
			return err
		}
		if err := os.Rename(c.path+".new", filepath.Clean(c.path)); err != nil {
			return err
		}
	}
	c.ahead = to
	return nil
}
