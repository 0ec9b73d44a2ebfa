package charge

import (
	"math"
	"slices"

	"grapnel/core/battery"
)

// Estimate is what checks say of a battery on its charger.
type Estimate struct {
	// Shares are how likely each world is, by its code; they sum to 1.
	Shares map[string]float64
	// World is the likeliest.
	World string
	// Named is a fault that is sure enough to be said, or nothing.
	Named string
	// Setup is battery and charger as they most likely were when it was hung on, in the
	// likeliest world.
	Setup Setup

	known  Setup
	doubt  Doubt
	fit    fitted
	offset float64
}

// namedFrom is how likely a fault must be to be named.
const namedFrom = 0.97

// Estimate weighs checks, oldest first, against every world; d is what was not known
// before them. With none it is what was thought before.
func (s Setup) Estimate(d Doubt, checks []Check) (Estimate, error) {
	s = s.minded(checks)
	times := make([]float64, len(checks))
	for i, c := range checks {
		times[i] = 60 * c.Minutes
	}
	fits := make([]fitted, len(worlds))
	logs := make([]float64, len(worlds))
	var failed error
	best := 0
	// weigh fits a world from whichever start lies nearest to what was read.
	weigh := func(i int, starts ...[]float64) {
		w := worlds[i]
		gaps := func(theta []float64) ([]float64, bool) {
			made, offset := w.make(s, d, theta)
			seen, err := made.at(times, fitTolerance)
			if err != nil {
				failed = err
				return nil, false
			}
			out := make([]float64, 0, 3*len(checks))
			for j, c := range checks {
				out = c.gaps(out, seen[j], offset)
			}
			return out, true
		}
		// What cannot have a share worth naming any more is not looked into further.
		worth := math.Inf(1)
		if i != best {
			worth = math.Log(w.prior) - logs[best] + noShare
		}
		f, ok := fit(nearest(starts, gaps), worth, gaps)
		if log := math.Log(w.prior) + f.evidence(); ok && log > logs[i] {
			fits[i], logs[i] = f, log
		}
	}
	for i, w := range worlds {
		logs[i] = math.Inf(-1)
		starts := [][]float64{shared(fitted{}, w, 0)}
		for _, own := range w.tries {
			starts = append(starts, shared(fitted{}, w, own))
		}
		if i > 0 {
			starts = append(starts, shared(fits[0], w, w.least))
		}
		weigh(i, starts...)
		if logs[i] > logs[best] {
			best = i
		}
	}
	if best != 0 {
		// A sound battery is given every chance before another is accused.
		if weigh(0, shared(fits[best], worlds[0], 0)); logs[0] > logs[best] {
			best = 0
		}
	}
	top := logs[best]
	if math.IsInf(top, -1) {
		return Estimate{}, failed
	}
	out := Estimate{Shares: map[string]float64{}, known: s, doubt: d}
	sum := 0.0
	for _, l := range logs {
		sum += math.Exp(l - top)
	}
	for i, w := range worlds {
		out.Shares[w.code] = math.Exp(logs[i]-top) / sum
	}
	w := worlds[best]
	out.World, out.fit = w.code, fits[best]
	if w.code != Sound && out.Shares[w.code] >= namedFrom && (w.code != Shorted || stalls(checks, s.Battery)) {
		out.Named = w.code
	}
	out.Setup, out.offset = w.make(s, d, out.fit.theta[:out.fit.n])
	return out, nil
}

// shared is a start for a world from a fit of another: what both have as it lies there,
// and the world's own thing as given.
func shared(from fitted, w world, own float64) []float64 {
	start := make([]float64, w.n)
	if copy(start, from.theta[:plain]); w.n > plain {
		start[plain] = own
	}
	return start
}

// nearest is the start of least cost; the first where none can be foretold from.
func nearest(starts [][]float64, gaps func([]float64) ([]float64, bool)) []float64 {
	if len(starts) == 1 {
		return starts[0]
	}
	out, least := starts[0], math.Inf(1)
	for _, start := range starts {
		if r, ok := gaps(start); ok && cost(start, r) < least {
			out, least = start, cost(start, r)
		}
	}
	return out
}

// stalls reports whether looks can show a shorted cell at all: that volts stall is seen
// from two of them, or from one that lies a whole cell short.
func stalls(checks []Check, b battery.Battery) bool {
	cells := float64(b.Cells())
	last := checks[len(checks)-1]
	return len(checks) > 1 || last.Volts != nil && *last.Volts < aCellShort*(cells-1)
}

// aCellShort is the volts of a charging cell; all but one of them make a battery that lies
// a cell short. Common practice, no source: 2.1 V at rest, and more on charge.
const aCellShort = 2.25

// noShare is how far, as a logarithm, a world lies behind the likeliest that has no share.
const noShare = 10.0

// fitTolerance is that of the runs inside a fit.
const fitTolerance = 1e-2

// Forecast gives what the charge will do as the checks have it, drawn from when it was
// hung on, with what they leave open.
func (e Estimate) Forecast() (Forecast, error) {
	w := worlds[slices.IndexFunc(worlds, func(w world) bool { return w.code == e.World })]
	var others [][2]*maybe
	for _, way := range e.fit.open() {
		var pair [2]*maybe
		for i, sign := range []float64{1, -1} {
			theta := e.fit.theta
			for j := range e.fit.n {
				theta[j] += sign * way[j]
			}
			s, offset := w.make(e.known, e.doubt, theta[:e.fit.n])
			pair[i] = &maybe{s, offset}
		}
		others = append(others, pair)
	}
	return maybe{e.Setup, e.offset}.forecast(others)
}
