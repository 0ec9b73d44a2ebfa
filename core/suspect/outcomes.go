package suspect

import (
	"math"
	"slices"
)

// outcomes counts how likely each outcome of a test is with each thing to do.
type outcomes struct {
	remedies []remedy
	p        [][]float64 // by remedy, by outcome
}

func (o *outcomes) add(r remedy, by float64, like []float64) {
	i := slices.Index(o.remedies, r)
	if i < 0 {
		i = len(o.remedies)
		o.remedies = append(o.remedies, r)
		o.p = append(o.p, make([]float64, len(like)))
	}
	for x, l := range like {
		o.p[i][x] += by * l
	}
}

// bits is the information between the outcome and what to do: how much less is in
// doubt once it is known, on average. Never negative; none where every outcome is as
// likely whatever there is to do.
func (o *outcomes) bits() float64 {
	all := 0.0
	for _, row := range o.p {
		for _, p := range row {
			all += p
		}
	}
	if all <= 0 {
		return 0
	}
	sum := 0.0
	n := len(o.p[0])
	byOutcome := make([]float64, n)
	for _, row := range o.p {
		for x, p := range row {
			byOutcome[x] += p
		}
	}
	for _, row := range o.p {
		r := 0.0
		for _, p := range row {
			r += p
		}
		for x, p := range row {
			if p > 1e-12 && r > 0 {
				sum += p / all * math.Log2(p*all/(r*byOutcome[x]))
			}
		}
	}
	return max(0, sum)
}

// Between outcomes lies what an instrument can tell apart: so many steps from the
// least to the most that would be read.
const stepsRead = 14

// scale lays the outcomes of a figure over a row of steps.
type scale struct{ lo, by float64 }

func scaleOf(lo, hi float64) scale {
	return scale{lo, max(hi-lo, 1e-9) / stepsRead}
}

// spread gives how likely each step is for a figure expected at best ± sigma.
func (sc scale) spread(best, sigma float64, out []float64) {
	below := 0.0
	for x := range out {
		upTo := 1.0
		if x < len(out)-1 {
			upTo = under((sc.lo + sc.by*float64(x+1) - best) / sigma)
		}
		out[x] = (1-slips)*(upTo-below) + slips/float64(len(out))
		below = upTo
	}
}

// under is the part of a normal distribution under z deviates: a logistic curve close
// to it, to 1 in 100.
func under(z float64) float64 {
	switch {
	case z < -5:
		return 0
	case z > 5:
		return 1
	}
	return 1 / (1 + math.Exp(-1.5976*z-0.07056*z*z*z))
}
