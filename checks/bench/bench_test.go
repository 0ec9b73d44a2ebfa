package main

import (
	"strings"
	"testing"
)

// A short run takes what fits, the fastest first; what nobody has timed is left to a long one.
// How long is left is said of all rounds.
func TestWhatFits(t *testing.T) {
	all := []part{{"Slow", "1x", "./a"}, {"Quick", "1x", "./a"}, {"Middling", "1x", "./b"}, {"New", "1x", "./b"}}
	seconds := map[string]float64{"./a Slow": 200, "./a Quick": 10, "./b Middling": 90}
	in, out := fitting(all, seconds, 300)
	if len(in) != 3 || in[0].pattern != "Quick" || in[2].pattern != "Slow" || len(out) != 1 || out[0].pattern != "New" {
		t.Errorf("in %v, out %v", in, out)
	}
	if in, _ := fitting(all, seconds, 299); len(in) != 2 {
		t.Errorf("in 299 s: %v", in)
	}
	if got := toGo(in, 1, 2, seconds); got != "about 9m50s to go" {
		t.Errorf("in the second of three, a round to come: %s", got)
	}
	if got := toGo(all, 3, 1, seconds); !strings.Contains(got, "1 parts nobody") {
		t.Errorf("the last nobody has timed: %s", got)
	}
}
