package battery

import "math"

// steadyVolts gives what EndVolts gives, in one pass instead of a run in steps,
// for searches that ask it a hundred times over. While a current is steady the
// two wells of a cell have a closed solution, the plates' polarisation follows
// within a second, and the heat of some seconds is small enough to be taken at
// its mean. TestSteadyVolts holds it against the run.
func (b *Battery) steadyVolts(soc, tempC, amps, seconds float64) float64 {
	k := b.circuit()
	return k.steadyVolts(clamp(soc/100, 0, 1), tempC, amps, seconds)
}

func (k *circuit) steadyVolts(s, tempC, amps, seconds float64) float64 {
	// The heat it makes: of metal and acid as they are halfway down, and of the
	// plates at the temperature it begins with.
	first := k.laws(tempC)
	heat := amps * amps * k.strap
	for i := range k.n {
		g := &k.cell[i]
		half := g.poreAfter(s, k.c, first.mix, amps, seconds/2)
		u := first.vt * math.Asinh(amps/(2*g.plate*first.taken))
		heat += g.count * amps * (amps*g.ohms*ohmsFactor(half, 0, first.acid) + u - emfPerC*(tempC+zeroC))
	}
	warm := clamp(heat*seconds/k.heat, 0, mostWarming)
	// Halfway between: the mean of what it begins and ends with, in proportion.
	at := k.laws(tempC + warm)
	mix := math.Sqrt(first.mix * at.mix)
	volts := -amps * k.strap
	for i := range k.n {
		g := &k.cell[i]
		pore := g.poreAfter(s, k.c, mix, amps, seconds)
		drop := amps * g.ohms * ohmsFactor(pore, 0, at.acid)
		u, beyond := g.steadyPolarisation(s, pore, at, amps, seconds)
		volts += g.count * (k.emf.volts(pore) + at.lift - u - beyond - drop)
	}
	return volts
}

// mostWarming is as far as some seconds of a load can warm a battery that is not
// destroyed by them, °C.
const mostWarming = 25

// poreAfter is the charge in the pores after seconds of amps, both wells having
// begun at s: dh1/dt = −I/(c q) − (1−c)·mix·(h1−h2), and the difference of the
// wells fades with mix.
func (g *cellParts) poreAfter(s, c, mix, amps, seconds float64) float64 {
	gone := -math.Expm1(-mix * seconds)
	return s - amps*seconds/g.q - (1-c)*amps/(c*g.q*mix)*gone
}

// nearLimit is the part of the plates' limiting current from which their volts
// are no longer steady but fall for as long as the load is on.
const nearLimit = 0.985

// steadyPolarisation is how far the plates stand under their electromotive force
// at the end of a discharge that took their pores from began to pore: main solved
// for its volts, a quadratic in exp(u/(2RT/F)), which the double layer follows;
// and how far they fall beyond, because what exceeds the limiting current empties
// it.
func (g *cellParts) steadyPolarisation(began, pore float64, at laws, amps, seconds float64) (u, beyond float64) {
	if amps == 0 {
		return 0, 0
	}
	limit, i0 := g.limitAt(pore, at), g.plate*at.taken
	flows := min(amps, nearLimit*limit)
	a, b := i0*(1-flows/limit), flows*(1-i0/limit)
	u = at.vt * math.Log((b+math.Sqrt(b*b+4*a*i0))/(2*a))
	if over := amps - flows; over > 0 {
		// The limit falls as the pores empty: only from where it crosses the load.
		first := nearLimit * g.limitAt(began, at)
		part := 1.0
		if first > amps {
			part = over / (first - flows) / 2
		}
		return u, over * part * seconds / g.farads
	}
	if seconds > settled*g.farads*u/amps {
		return u, 0
	}
	// Not followed yet: the double layer charges, in steps that grow with it.
	x, h := 0.0, seconds/(1<<layerSteps-1)
	for range layerSteps {
		d := math.Exp(x / at.vt)
		below := 1 + i0*(d-1)/limit
		passes := i0 * (d - 1/d) / below
		slope := (i0*(d+1/d)/below - passes*i0*d/(limit*below)) / at.vt
		x += (amps - passes) / slope * -math.Expm1(-slope*h/g.farads)
		h *= 2
	}
	return min(x, u), 0
}

// How many times the double layer's own time makes it settled, and in how many
// steps it is followed before.
const (
	settled    = 6
	layerSteps = 5
)

// limitAt is the limiting discharge current of pores at a charge.
func (g *cellParts) limitAt(pore float64, at laws) float64 {
	open := (pore - at.closed) / (1 - at.closed)
	open = 0.5 * (open + math.Sqrt(open*open+4*poreEdge*poreEdge))
	return g.limit * at.moves * max(open, poreEdge*poreEdge) // far below empty nothing is left of open
}
