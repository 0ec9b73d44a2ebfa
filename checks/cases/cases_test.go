// Package cases holds cases worked by hand: a battery, what was read of it, and the
// verdict and next steps a careful senior technician would give, with the reason,
// written down before they were run. Each says whether its facts are published, of
// the trade (common practice, no source) or from memory.
package cases

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"grapnel/core/assess"
	"grapnel/core/casefile"
	"grapnel/core/station"
)

// worked is one case with what is expected of it.
type worked struct {
	Name    string           `json:"name"`
	Reason  string           `json:"reason"`
	Known   string           `json:"known"`   // published, trade or memory
	Verdict []assess.Verdict `json:"verdict"` // any of them
	Next    []string         `json:"next"`    // the first step is one of them; empty for any
	Then    []string         `json:"then"`    // steps that must stand somewhere, as often as they are named
	Never   []string         `json:"never"`   // steps that must not be asked for
	Says    []string         `json:"says"`    // findings that must stand in the ledger
	Case    json.RawMessage  `json:"case"`
}

func all(t *testing.T) map[string][]worked {
	t.Helper()
	files, err := filepath.Glob("testdata/*.json")
	if err != nil || len(files) == 0 {
		t.Fatalf("no cases: %v", err)
	}
	out := map[string][]worked{}
	for _, f := range files {
		raw, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		var some []worked
		dec := json.NewDecoder(bytes.NewReader(raw))
		dec.DisallowUnknownFields()
		if err := dec.Decode(&some); err != nil {
			t.Fatalf("%s: %v", f, err)
		}
		out[strings.TrimSuffix(filepath.Base(f), ".json")] = some
	}
	return out
}

func TestWorkedCases(t *testing.T) {
	n := 0
	for class, some := range all(t) {
		for _, w := range some {
			n++
			t.Run(class+"/"+w.Name, func(t *testing.T) {
				if !slices.Contains([]string{"published", "trade", "memory"}, w.Known) || w.Reason == "" {
					t.Errorf("known as %q, because %q", w.Known, w.Reason)
				}
				c, err := casefile.Decode(w.Case)
				if err != nil {
					t.Fatal(err)
				}
				a := assess.Assess(c, nil)
				var next, says []string
				for _, s := range a.Next {
					next = append(next, s.Test)
				}
				for _, f := range a.Findings {
					says = append(says, f.Code)
				}
				told := func(what string) {
					t.Errorf("%s\nwhy it should be otherwise: %s\nverdict %s: %s %s\nnext %v\nledger %v", what, w.Reason, a.Verdict, a.Headline,
						a.Because, next, says)
				}
				if !slices.Contains(w.Verdict, a.Verdict) {
					told("verdict, want " + strings.Join(strs(w.Verdict), " or "))
				}
				if len(w.Next) > 0 && (len(next) == 0 || !slices.Contains(w.Next, next[0])) {
					told("first step, want " + strings.Join(w.Next, " or "))
				}
				left := slices.Clone(next)
				for _, n := range w.Then {
					i := slices.Index(left, n)
					if i < 0 {
						told("nobody asks to " + n)
						continue
					}
					left = slices.Delete(left, i, i+1)
				}
				for _, n := range w.Never {
					if slices.Contains(next, n) {
						told("never " + n)
					}
				}
				for _, s := range w.Says {
					if !slices.Contains(says, s) {
						told("the ledger does not say " + s)
					}
				}
			})
		}
	}
	if n < 120 {
		t.Errorf("only %d cases", n)
	}
}

func strs(v []assess.Verdict) []string {
	var out []string
	for _, x := range v {
		out = append(out, string(x))
	}
	return out
}

// The cases reach every verdict, class of vehicle, chemistry and kind of reading.
func TestCasesReachEverything(t *testing.T) {
	seen := map[string]bool{}
	for _, some := range all(t) {
		for _, w := range some {
			c, err := casefile.Decode(w.Case)
			if err != nil {
				t.Fatalf("%s: %v", w.Name, err)
			}
			seen["class "+c.Vehicle.Class], seen["chemistry "+string(c.Battery.Chemistry)] = true, true
			for _, v := range w.Verdict {
				seen["verdict "+string(v)] = true
			}
			for _, r := range c.Readings {
				seen["kind "+r.Kind] = true
			}
		}
	}
	want := []string{}
	for _, v := range assess.Verdicts() {
		want = append(want, "verdict "+v)
	}
	for _, k := range station.Kinds() {
		if k != station.Interview {
			want = append(want, "kind "+k)
		}
	}
	for _, c := range []string{"car", "van", "motorcycle", "atv", "mower", "tractor", "hybrid", "electric", "classic", "boat", "motorhome"} {
		want = append(want, "class "+c)
	}
	for _, c := range []string{"flooded", "flooded_sealed", "efb", "agm", "gel", "agm_deep_cycle"} {
		want = append(want, "chemistry "+c)
	}
	for _, w := range want {
		if !seen[w] {
			t.Errorf("no case of %s", w)
		}
	}
}
