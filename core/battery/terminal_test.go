package battery

import (
	"math"
	"math/rand/v2"
	"testing"
)

// What a state shows to the outside is what a run begins with, whatever flows,
// with every fault.
func TestTerminalIsTheRuns(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	for _, b := range []Battery{car(t, Flooded), wreck(t), car(t, AGM).Leaking(50).WithCell(Weak(40))} {
		for range 200 {
			s := randomState(b, rng)
			end := b.Terminal(s)
			for _, amps := range []float64{0, -300, -5, 8, 60} {
				now, err := b.Run(s, Duty{Source: Source{Amps: amps, Volts: math.Copysign(1000, amps)}, Ambient: Ambient{Start: 20}})
				must(t, err)
				if math.Abs(now.Volts-end.Volts-end.Ohms*now.Amps) > 1e-9 || now.Amps != amps || end.Ohms <= 0 {
					t.Fatalf("%+v shows %g V at %g A, the run %g V at %g A", end, end.Volts+end.Ohms*amps, amps, now.Volts, now.Amps)
				}
			}
		}
	}
}

// By Kirchhoff: of two batteries in parallel the fuller feeds the other, less and
// less. Each second the flat one is charged by a source with the full one's volts
// and ohms, and what it took is drawn from the full one.
func TestParallelBatteries(t *testing.T) {
	full, flat := car(t, Flooded), car(t, Flooded)
	a, b := full.Rested(95, 20), flat.Rested(20, 20)
	first, last := 0.0, 0.0
	for i := range 600 {
		x := full.Terminal(a)
		took, err := flat.Run(b, Duty{Source: Source{Amps: 1000, Volts: x.Volts, Ohms: x.Ohms}, Ambient: Ambient{Start: 20}, Seconds: 1})
		must(t, err)
		last = 3600 * (took.State.AhIn - b.AhIn)
		gave, err := full.Run(a, Duty{Source: Source{Amps: -last, Volts: unlimited}, Ambient: Ambient{Start: 20}, Seconds: 1})
		must(t, err)
		if a, b = gave.State, took.State; i == 0 {
			first = last
		}
	}
	if first < 10 || last <= 0 || last > first/2 {
		t.Errorf("%.1f A in the first second, %.2f A after ten minutes", first, last)
	}
	near(t, "what left one is in the other, Ah", a.AhIn+b.AhIn, 0, 1e-9)
	if x, y := full.Terminal(a), flat.Terminal(b); math.Abs(x.Volts-x.Ohms*last-y.Volts-y.Ohms*last) > 0.02 {
		t.Errorf("the posts show %.3f and %.3f V", x.Volts-x.Ohms*last, y.Volts+y.Ohms*last)
	}
	if gained := flat.SOC(b) - 20; gained <= 0 || full.SOC(a) >= 95 {
		t.Errorf("the flat one gained %.2f %%", gained)
	}
}
