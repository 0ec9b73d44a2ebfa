package register

import (
	"testing"
	"time"
)

func TestComeback(t *testing.T) {
	closed := time.Date(2026, 9, 1, 12, 0, 0, 0, time.UTC)
	for _, c := range []struct {
		after time.Duration
		days  int
		is    bool
	}{
		{-time.Minute, 0, false}, {0, 0, true}, {3 * 24 * time.Hour, 3, true}, {24*time.Hour - time.Second, 0, true},
		{91*24*time.Hour - time.Second, 90, true}, {91 * 24 * time.Hour, 91, false},
	} {
		if days, is := Comeback(closed, closed.Add(c.after)); days != c.days || is != c.is {
			t.Errorf("after %s: %d %v, want %d %v", c.after, days, is, c.days, c.is)
		}
	}
}
