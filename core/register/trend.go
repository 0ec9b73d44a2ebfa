package register

import (
	"math"
	"time"

	"grapnel/core/battery"
)

// A battery wears slowly at first and faster as it ages: its strength, percent of its
// label, is start − rate·g(months), with g(m) = m·(1 + m/120). What its tests say of start
// and rate is weighed against what batteries are known to do, so that one test moves the
// line and does not bend it. Common practice, no source: a starting battery is at two
// thirds after five years, give or take two.
const (
	startPct, startSpread     = 102.0, 7.0
	ratePct, rateSpread       = 0.40, 0.22 // a month
	unsureStart, unsureSpread = 100.0, 14.0
	slowestRate               = 0.05
	doublesIn                 = 120.0 // months

	testPart  = 0.04 // of a test against the next of the same battery, part of what it reads
	testLeast = 1.5  // and at the least, percent of the label
	wandering = 0.8  // variance of what no line foretells, percent² a month
	ofTester  = 5.0  // what all tests of one battery may be off by together, percent
)

func worn(months float64) float64 { return months * (1 + months/doublesIn) }

func months(from, to time.Time) float64 { return to.Sub(from).Hours() / 24 / 30.44 }

// trend is what is known of start and rate: their means and covariance.
type trend struct {
	start, rate     float64
	ss, sr, rr      float64 // variances
	born, last, now time.Time
	tested          bool
}

// A battery that is suddenly far under its line, by so many deviates, has not worn: a cell
// went, and what was tested before says little of it. House judgement.
const (
	suddenly     = 2.5
	beforeSudden = 18.0 // by how much older tests may be off then, percent
)

// trendOf weighs tests, the oldest first, against what is usual.
func trendOf(tests []Test, born time.Time, sure bool, now time.Time) trend {
	older := 0.0
	if n := len(tests) - 1; n > 0 {
		last := tests[n]
		line := weighed(tests[:n], born, sure, last.At, 0)
		by := line.at(last.At)
		if by.best-last.Pct.Best > suddenly*math.Sqrt(sq(by.sigma)+ofTest(last)) {
			older = sq(beforeSudden)
		}
	}
	return weighed(tests, born, sure, now, older)
}

// ofTest is the variance of one test.
func ofTest(t Test) float64 { return sq(testPart*t.Pct.Best) + sq(testLeast) }

// weighed weighs them, all but the last with so much variance more.
func weighed(tests []Test, born time.Time, sure bool, now time.Time, older float64) trend {
	mean := [2]float64{startPct, ratePct}
	spread := [2]float64{startSpread, rateSpread}
	if !sure {
		mean[0], spread[0] = unsureStart, unsureSpread
	}
	// Precision and information of the two, added up test by test.
	a, b, d := 1/sq(spread[0]), 0.0, 1/sq(spread[1])
	u, v := a*mean[0], d*mean[1]
	last := born
	for i, t := range tests {
		g := worn(max(0, months(born, t.At)))
		// What it wanders between then and now makes an old test say less of today.
		variance := ofTest(t) + wandering*max(0, months(t.At, now))
		if i < len(tests)-1 {
			variance += older
		}
		w := 1 / variance
		a, b, d = a+w, b-w*g, d+w*g*g
		u, v = u+w*t.Pct.Best, v-w*g*t.Pct.Best
		if t.At.After(last) {
			last = t.At
		}
	}
	det := a*d - b*b
	out := trend{ss: d / det, sr: -b / det, rr: a / det, born: born, last: last, now: now, tested: len(tests) > 0}
	out.start, out.rate = out.ss*u+out.sr*v, out.sr*u+out.rr*v
	out.rate = max(out.rate, slowestRate)
	return out
}

func sq(x float64) float64 { return x * x }

// pct is its strength at a time, percent of its label, and its standard deviation.
type pct struct{ best, sigma float64 }

func (t trend) at(when time.Time) pct {
	g := worn(max(0, months(t.born, when)))
	variance := t.ss - 2*g*t.sr + g*g*t.rr + sq(ofTester)
	if ahead := months(t.last, when); ahead > 0 && t.tested {
		variance += wandering * ahead
	}
	return pct{max(0, t.start-t.rate*g), math.Sqrt(max(variance, 0))}
}

// band is what is told of it: eight in ten lie within.
func (p pct) band() battery.Band {
	const eighty = 1.28
	return battery.Band{Low: max(0, p.best-eighty*p.sigma), Best: p.best, High: p.best + eighty*p.sigma}
}

// Point is its strength at a time, percent of its label.
type Point struct {
	At time.Time `json:"at"`
	battery.Band
}

// ahead is how far the line is drawn on, months.
const ahead = 14

// line draws it, month by month, from when it was made (or its first test) to a year and
// some from now, or to its end.
func (t trend) line(born time.Time, sure bool, now time.Time, tests []Test, ended *time.Time) []Point {
	from, to := born, now.AddDate(0, ahead, 0)
	if !sure && len(tests) > 0 {
		from = tests[0].At
	} else if !sure {
		from = now
	}
	if ended != nil {
		to = *ended
	}
	out := []Point{}
	// A battery of thirty years is drawn by longer steps.
	step := max(1, int(months(from, to)/120))
	for at := from; at.Before(to); at = at.AddDate(0, step, 0) {
		out = append(out, Point{at, t.at(at).band()})
	}
	return append(out, Point{to, t.at(to).band()})
}
