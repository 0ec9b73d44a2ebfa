package battery

import (
	"math"
	"math/rand/v2"
	"testing"

	"grapnel/core/rating"
	"grapnel/internal/effort"
)

// What the formula says is what the model does with a battery that lies in a room, and
// colder rooms, longer ways and bigger batteries take longer.
func TestWarming(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 12))
	for range effort.Of(50, 200, 200) {
		b := fromLabel(t, Flooded, rating.Label{CCA: 300 + 500*rng.Float64()})
		from, room := -20+30*rng.Float64(), 12+15*rng.Float64()
		to := from + (room-from)*(0.3+0.6*rng.Float64())
		hours := b.Warming(from, to, room)
		if room-to < 1 {
			continue // its last degree
		}
		end, err := b.Run(b.Rested(80, from), Duty{Ambient: Ambient{Start: room}, Seconds: hours * 3600, Tolerance: 1e-4})
		if err != nil || math.Abs(end.State.TempC-to) > 0.05 {
			t.Fatalf("from %.1f to %.1f in %.1f °C: %.2f h, then it is at %.2f (%v)", from, to, room, hours, end.State.TempC, err)
		}
		if b.Warming(from-1, to, room) <= hours || b.Warming(from, to, room+1) >= hours {
			t.Fatalf("from %.1f to %.1f in %.1f °C: colder is no slower", from, to, room)
		}
	}
	b := car(t, Flooded)
	// Taken in from −8 °C it is as warm as the shop after a night or a working day. Common
	// practice, no source.
	if h := b.Warming(-8, 20, 20); h < 6 || h > 12 {
		t.Errorf("%.1f h", h)
	}
	for _, c := range []struct {
		from, to, room float64
		is             func(float64) bool
	}{
		{5, 15, 10, func(h float64) bool { return math.IsInf(h, 1) }},  // the room is colder than that
		{5, 15, 13, func(h float64) bool { return math.IsInf(h, 1) }},  // colder, and near it
		{10, 15, 5, func(h float64) bool { return math.IsInf(h, 1) }},  // it cools
		{5, 15, 15, func(h float64) bool { return h > 0 && h < 200 }},  // to within a degree of the room
		{14.5, 15, 15, func(h float64) bool { return h == 0 }},         // as good as there
		{15, 15, -30, func(h float64) bool { return h == 0 }},          // there
		{40, 25, 15, func(h float64) bool { return h > 0 && h < 200 }}, // it cools down as well
	} {
		if h := b.Warming(c.from, c.to, c.room); !c.is(h) {
			t.Errorf("from %g to %g in %g °C: %g h", c.from, c.to, c.room, h)
		}
	}
}
