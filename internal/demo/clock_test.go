package demo

import (
	"errors"
	"os"
	"path/filepath"
	"testing"
	"time"
)

// The clock goes on from where it was, after a restart too, and never back.
func TestClock(t *testing.T) {
	path := filepath.Join(t.TempDir(), "clock")
	c, err := OpenClock(path)
	must(t, err)
	ahead := func(c *Clock) time.Duration { return time.Until(c.Now()).Round(time.Minute) }
	if ahead(c) != 0 {
		t.Errorf("begins %v ahead", ahead(c))
	}
	must(t, c.Move(90*time.Minute))
	must(t, c.Move(time.Hour))
	again, err := OpenClock(path)
	must(t, err)
	if ahead(c) != 150*time.Minute || ahead(again) != 150*time.Minute {
		t.Errorf("%v ahead, after a restart %v", ahead(c), ahead(again))
	}
	if err := c.Move(-time.Second); !errors.Is(err, ErrAhead) {
		t.Errorf("back: %v", err)
	}
	must(t, c.Move(mostAhead-150*time.Minute))
	if err := c.Move(time.Second); !errors.Is(err, ErrAhead) || ahead(c) != mostAhead {
		t.Errorf("beyond the end: %v, %v", err, ahead(c))
	}
	for _, text := range []string{"", "tomorrow", "-1h", "10000h"} {
		must(t, os.WriteFile(path, []byte(text), 0o600))
		if _, err := OpenClock(path); err == nil {
			t.Errorf("%q is a clock", text)
		}
	}
	// One that cannot be kept is not moved.
	nowhere := &Clock{path: filepath.Join(t.TempDir(), "gone", "clock")}
	if err := nowhere.Move(time.Hour); err == nil || ahead(nowhere) != 0 {
		t.Errorf("%v, %v ahead", err, ahead(nowhere))
	}
	own, err := OpenClock("")
	must(t, err)
	if must(t, own.Move(time.Hour)); ahead(own) != time.Hour {
		t.Error("a clock that is kept nowhere stands still")
	}
}
