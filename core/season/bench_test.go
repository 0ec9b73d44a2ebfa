package season

import (
	"os"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/words"
)

// known finds labels as a server does that has seen them.
func known() func(c battery.Chemistry, cells int, l rating.Label) (battery.Battery, battery.Nameplate, error) {
	type key struct {
		c     battery.Chemistry
		cells int
		l     rating.Label
	}
	seen := map[key]battery.Battery{}
	return func(c battery.Chemistry, cells int, l rating.Label) (battery.Battery, battery.Nameplate, error) {
		if b, ok := seen[key{c, cells, l}]; ok {
			return b, battery.Nameplate{}, nil
		}
		b, plate, err := battery.FromLabel(c, cells, l)
		seen[key{c, cells, l}] = b
		return b, plate, err
	}
}

func example(tb testing.TB) Request {
	tb.Helper()
	data, err := os.ReadFile("testdata/request.json")
	if err != nil {
		tb.Fatal(err)
	}
	r, err := Decode(data)
	if err != nil {
		tb.Fatal(err)
	}
	return r
}

// A season with its band and all ways of keeping it, driving and the sun among them, of a
// battery whose label is known.
func BenchmarkSeason(b *testing.B) {
	r := example(b)
	drive := true
	r.MayDrive, r.AtHand, r.Solar = &drive, []string{Mains, LiveSocket, Panel, Indoors, Switch}, &Solar{20, 52}
	labels := known()
	for b.Loop() {
		if _, err := r.Make(labels, words.Voice{}); err != nil {
			b.Fatal(err)
		}
	}
}

// The same with a dozen looks to learn from.
func BenchmarkSeasonLearnt(b *testing.B) {
	r := example(b)
	r.Way = Connected
	for _, on := range []string{"2026-10-20", "2026-10-27", "2026-11-03", "2026-11-10", "2026-11-17", "2026-11-24"} {
		volts := 12.5
		r.Looks = append(r.Looks, Look{Date: on, RestVolts: &volts})
	}
	labels := known()
	for b.Loop() {
		if _, err := r.Make(labels, words.Voice{}); err != nil {
			b.Fatal(err)
		}
	}
}
