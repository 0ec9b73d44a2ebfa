package battery

import (
	"math"
	"math/rand/v2"
	"testing"

	"grapnel/core/rating"
)

// wreck is a battery with every fault at once: groups of unlike cells, a short,
// a dry cell, a leaking lid and a bad strap.
func wreck(t testing.TB) Battery {
	b, _, err := FromLabel(Flooded, 6, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
	must(t, err)
	b = b.Aged(80, 1.4).WithCell(Shorted(0.5)).WithCell(Dry(0.6)).WithCell(Weak(50)).Leaking(30)
	b.StrapOhms = 0.001
	return b
}

// randomState puts a battery anywhere it could be.
func randomState(b Battery, rng *rand.Rand) State {
	s := State{TempC: -40 + 100*rng.Float64()}
	for i := range b.Kinds {
		s.Cells[i] = Cell{
			Pore:         -0.1 + 1.2*rng.Float64(),
			Bulk:         1.05 * rng.Float64(),
			Polarisation: -0.4 + 0.8*rng.Float64(),
			Sulphate:     rng.Float64(),
		}
	}
	return s
}

// randomSource is a rest, a load, a charger or a resistor.
func randomSource(rng *rand.Rand) Source {
	switch rng.IntN(4) {
	case 0:
		return Source{}
	case 1:
		return Source{Amps: -math.Pow(10, -2+5*rng.Float64()), Volts: 6 * rng.Float64()}
	case 2:
		return Source{Amps: math.Pow(10, -1+3*rng.Float64()), Volts: 12.5 + 5*rng.Float64(), Ohms: 0.1 * rng.Float64()}
	}
	return Source{Amps: math.Inf(-1), Ohms: 0.02 + rng.Float64()}
}

// The derivatives the stepper rests on are those of the equations: each against
// the central difference of slope, at random places of a battery with every
// fault.
func TestDerivativesAreThoseOfTheEquations(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 8))
	b := wreck(t)
	for range 400 {
		p := stepper{circuit: b.circuit()}
		p.source, p.ambient = randomSource(rng), Ambient{Start: 10, PerHour: 1}
		p.load(randomState(b, rng))
		p.derive(&p.y, &p.f, &p.jac, 100)
		var f, up, down vector
		p.slope(&p.y, &f, 100)
		for i := range p.all {
			if math.Abs(f[i]-p.f[i]) > 1e-9*(1+math.Abs(f[i])) {
				t.Fatalf("slope %d: %g by slope, %g by derive", i, f[i], p.f[i])
			}
		}
		for j := range p.live {
			d := 1e-6 * scale(j)
			y := p.y
			y[j] += d
			p.slope(&y, &up, 100)
			y[j] -= 2 * d
			p.slope(&y, &down, 100)
			for i := range p.all {
				want := (up[i] - down[i]) / (2 * d)
				// What rounding in slope leaves of a difference.
				noise := 1e-9*(math.Abs(up[i])+math.Abs(f[i]))/d*1e-3 + 1e-9
				if e := math.Abs(want - p.jac[i][j]); e > 2e-4*math.Abs(want)+noise {
					t.Fatalf("d%d/d%d: %g by difference, %g by derive (source %+v, y %v)", i, j, want, p.jac[i][j],
						p.source, p.y[:p.live])
				}
			}
		}
	}
}
