package suspect

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/engine"
	"grapnel/core/reading"
	"grapnel/core/station"
)

// part is something outside the battery of which one figure tells how it is: the
// starter, a cable, the alternator, the drain. It is one of some classes (sound,
// faulty), each with the figures it has.
type part struct {
	values  []float64
	classes [][]float64 // of each class, how likely each value is; each sums to 1
	in      func(w *station.World, value float64)
}

// Classes of every part.
const (
	sound  = iota
	faulty // by the fault the part is about
	third  // what else can be: each part says what
)

// parts of a vehicle, by what stations read of them.
type parts struct {
	starter, live, earth, charging, drain part
	amps                                  float64 // the starter's usual draw now
}

// partsOf gives the parts of a case. Medians and spreads: common practice, no source,
// wider than any one workshop sees.
func partsOf(b *bench.Bench, made battery.Battery, tempC float64) parts {
	c := b.Case
	k := c.Volts() / 12
	warm := engine.Of(c.Vehicle.Fuel, made.CCA).Amps.Best
	if c.Volts() < 10 {
		warm *= 1.3 // the same engine at half the volts draws more, at a label that is small for it
	}
	usual := warm * engine.Need(tempC)
	out := parts{amps: usual}

	ratios := append([]float64{0}, steps(0.15, 4.5, 26)...)
	turns := lognormal(ratios, 1, 0.33)
	out.starter = part{
		values: ratios,
		classes: [][]float64{
			turns,
			mix(share{at(ratios, 0), 0.15}, share{lognormal(ratios, 0.4, 0.3), 0.08}, share{lognormal(ratios, 1.9, 0.28), 0.77}),
			mix(share{at(ratios, 0), 0.4}, share{turns, 0.6}), // what an immobiliser lets through
		},
		in: func(w *station.World, v float64) { w.StarterAmps = v * usual },
	}
	// A path that loses its half volt at the usual draw is bad whatever the draw.
	scale := k / max(warm, 5)
	drops := steps(0.015, 9, 26)
	path := func(in func(w *station.World, ohms float64)) part {
		return part{values: drops, classes: [][]float64{
			lognormal(drops, 0.14, 0.45), lognormal(drops, 1.0, 0.6), lognormal(drops, 0.7, 0.6),
		}, in: func(w *station.World, v float64) { in(w, v*scale) }}
	}
	out.live = path(func(w *station.World, ohms float64) { w.LiveOhms = ohms })
	out.earth = path(func(w *station.World, ohms float64) { w.EarthOhms = ohms })

	volts := append([]float64{0}, even(12.4, 17.4, 0.1)...)
	out.charging = part{
		values: volts,
		classes: [][]float64{
			normal(volts, 14.25, 0.22),
			mix(share{at(volts, 0), 0.45}, share{normal(volts, 13.0, 0.28), 0.55}),
			normal(volts, 15.6, 0.45),
		},
		in: func(w *station.World, v float64) { w.AlternatorV = v },
	}
	mas := steps(1, 12000, 34)
	quiet := 18.0
	switch c.Vehicle.Class {
	case "mower", "atv", "motorcycle", "classic", "tractor", "boat":
		quiet = 5
	}
	out.drain = part{
		values:  mas,
		classes: [][]float64{lognormal(mas, quiet, 0.6), lognormal(mas, 300, 0.8)},
		in:      func(w *station.World, v float64) { w.DrainMilliamps = v },
	}
	return out
}

// steps are n values from lo to hi in equal proportions, even those in equal parts.
func steps(lo, hi float64, n int) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = lo * math.Pow(hi/lo, float64(i)/float64(n-1))
	}
	return out
}

func even(lo, hi, by float64) []float64 {
	out := make([]float64, 0, 64)
	for v := lo; v <= hi+1e-9; v += by {
		out = append(out, v)
	}
	return out
}

func lognormal(values []float64, median, spread float64) []float64 {
	return weigh(values, func(v float64) float64 {
		if v <= 0 {
			return 0
		}
		return bell(math.Log(v/median) / spread)
	})
}

func normal(values []float64, mean, spread float64) []float64 {
	return weigh(values, func(v float64) float64 { return bell((v - mean) / spread) })
}

func at(values []float64, v float64) []float64 {
	return weigh(values, func(x float64) float64 {
		if x == v {
			return 1
		}
		return 0
	})
}

// share is a distribution and its part of a mixture.
type share struct {
	of   []float64
	part float64
}

// mix adds distributions, each with its part.
func mix(all ...share) []float64 {
	out := make([]float64, len(all[0].of))
	for _, s := range all {
		for i, p := range s.of {
			out[i] += s.part * p
		}
	}
	return out
}

func weigh(values []float64, f func(float64) float64) []float64 {
	out := make([]float64, len(values))
	sum := 0.0
	for i, v := range values {
		out[i] = f(v)
		sum += out[i]
	}
	for i := range out {
		out[i] /= max(sum, 1e-300)
	}
	return out
}

// bell is the density of a standard deviate, without its factor.
func bell(z float64) float64 { return math.Exp(-0.5 * z * z) }

// A reading is once in a while not what it should be: a slip, a bad probe, a world
// nobody thought of. House judgement.
const slips = 0.0015

// density is how likely a figure is that is expected at best ± sigma, where a slip can
// be anything within span.
func density(v, best, sigma, span float64) float64 {
	const factor = 0.3989422804014327 // 1/√(2π)
	z := (v - best) / sigma
	if z > farOut || z < -farOut {
		return slips / span
	}
	return (1-slips)*factor/sigma*bell(z) + slips/span
}

// farOut is so many deviates out that a figure can only be a slip.
const farOut = 7

// root adds independent spreads.
func root(a, b float64) float64 { return math.Sqrt(a*a + b*b) }

// read gives how likely a figure of a reading is with each value of a part.
func (p part) read(w station.World, r reading.Reading, field string, span float64) []float64 {
	v, ok := r.Number(field)
	if !ok {
		return nil
	}
	best, sigma := p.expect(w, r, field)
	out := make([]float64, len(p.values))
	for i := range out {
		out[i] = density(v, best[i], sigma[i], span)
	}
	return out
}

// expect gives what a figure would read with each value; the values stand for all
// between them, which widens what is expected.
func (p part) expect(w station.World, r reading.Reading, field string) (best, sigma []float64) {
	best, sigma = make([]float64, len(p.values)), make([]float64, len(p.values))
	for i, v := range p.values {
		p.in(&w, v)
		found := false
		for _, e := range station.Expect(w, r) {
			if e.Field == field {
				best[i], sigma[i], found = e.Best, e.Sigma, true
			}
		}
		if !found {
			// Nothing flows: a meter shows nothing, give or take.
			best[i], sigma[i] = 0, 0.02
		}
	}
	for i := range sigma {
		lo, hi := max(i-1, 0), min(i+1, len(sigma)-1)
		if p.values[lo] == 0 || p.values[i] == 0 {
			lo = i // apart from the others
		}
		sigma[i] = root(sigma[i], 0.4*math.Abs(best[hi]-best[lo])/float64(max(1, hi-lo)))
	}
	return best, sigma
}
