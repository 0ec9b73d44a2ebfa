package battery

import "math"

// Joined carries one battery through a circuit that is solved outside of it: batteries
// and machines joined by leads. For each stretch of time it answers what flows at its end
// for the volts across it; the circuit finds the volts at which all that flows adds up, and
// then each battery goes on. One battery alone is better carried by Run.
//
// Over a stretch the two wells follow their closed solution, and the polarisation of the
// plates one implicit step, so that stretches of milliseconds and of a minute are both
// stable; the heat made in it warms the battery at its end. What flows changes
// evenly in one, or leaps at its beginning. TestJoinedFollowsRun holds it against Run.
type Joined struct {
	circuit
	y     vector
	at    laws
	cells [MaxGroups]well
	amps  float64 // through the cells, as last answered
	began float64 // and at the beginning of the stretch
	// weight is that of the current's end in its mean over the stretch: half, and all of it
	// where it leaps at the beginning.
	weight float64

	gone, goneIn float64 // part of the wells' difference that evens out in so many seconds
}

// well is what one group of cells comes to at the end of a stretch, as last answered.
type well struct {
	pore, bulk, polar, into float64
	was                     float64 // into, at the beginning of the stretch
	fixed, byAmps           float64 // the next correction of polar, and how it answers to amps
}

// Join gives the battery in state s, in surroundings of roomC °C.
func (b *Battery) Join(s State, roomC float64) *Joined {
	p := stepper{circuit: b.circuit()}
	p.load(s)
	j := &Joined{circuit: p.circuit, y: p.y}
	j.ambient = Ambient{Start: roomC}
	j.Leap()
	j.arrive()
	return j
}

// arrive settles what holds until the next stretch.
func (j *Joined) arrive() {
	j.goneIn = 0
	j.at = j.laws(j.y[atTemp])
	for i := range j.n {
		v := j.y[atCell+stride*i:]
		w := &j.cells[i]
		w.pore, w.bulk, w.polar = v[0], v[1], v[2] // what flowed is likely near what will
	}
}

// Takes gives the amps into the battery after so many seconds with volts across it and a
// resistance of its own branch together, and how they answer to volts, in siemens.
func (j *Joined) Takes(volts, ohms, seconds float64) (amps, siemens float64) {
	return j.corrected(volts, ohms, seconds, mostCorrections)
}

// Near is Takes for a search: nearer with each time it is asked, and as near as Takes once
// it is asked about the same volts again.
func (j *Joined) Near(volts, ohms, seconds float64) (amps, siemens float64) {
	return j.corrected(volts, ohms, seconds, fewCorrections)
}

func (j *Joined) corrected(volts, ohms, seconds float64, most int) (amps, siemens float64) {
	if j.goneIn != seconds {
		j.gone, j.goneIn = -math.Expm1(-j.at.mix*seconds), seconds
	}
	// A dirty lid stands beside the cells, behind the branch's own resistance.
	share := 1 / (1 + ohms*j.lid)
	var steep float64
	for range most {
		gap, fixed := (volts-j.amps*ohms)*share-j.amps*j.strap, 0.0
		steep = j.strap + ohms*share
		far, moved := 0.0, 0.0
		for i := range j.n {
			n := j.cell[i].count
			was := j.cells[i].into
			shows, answers := j.correct(i, seconds)
			moved = max(moved, math.Abs(j.cells[i].into-was))
			gap -= n * shows
			steep += n * answers
			fixed += n * j.cells[i].fixed
			far = max(far, math.Abs(j.cells[i].fixed))
		}
		d := (gap - fixed) / steep
		if !(math.Abs(d) < absurdAmps) { // a wreck driven beyond where the laws hold: it stays as it was
			steep = j.strap + ohms*share + absurdOhms
			break
		}
		j.amps += d
		for i := range j.n {
			w := &j.cells[i]
			w.polar += clamp(w.fixed+w.byAmps*d, -mostPolarStep, mostPolarStep)
		}
		if near := nearAmps + nearPart*math.Abs(j.amps); far < nearPolar && math.Abs(d) < near && moved < near {
			break // the next correction would be its square
		}
	}
	answers := share / steep
	return j.amps + j.lid*(volts-j.amps*ohms)*share, answers + j.lid*(1-ohms*answers)*share
}

// correct looks at a group of cells for the current last assumed: what each shows, and how
// that answers to amps, in ohms; and how far its polarisation is from where it belongs.
func (j *Joined) correct(i int, seconds float64) (volts, ohms float64) {
	g, w := &j.cell[i], &j.cells[i]
	v := j.y[atCell+stride*i:]
	u := w.polar
	began, apart := j.c*v[0]+j.cc*v[1], v[0]-v[1]
	// What each amp adds to the pores, of the mean of the current's beginning and end.
	perAmp := seconds/g.q + j.cc*j.gone/(j.c*g.q*j.at.mix)
	mean := w.was + j.weight*(w.into-w.was)
	w.pore = began + j.cc*apart*(1-j.gone) + perAmp*mean
	perAmp *= j.weight
	e, slope := j.emf.at(w.pore)
	phi := e + j.at.lift + u
	var up, down float64
	if phi > noGas || phi < 0.5 {
		up, down = g.gassing(phi, j.y[atTemp])
	}
	// The wells take what is left beside gas and short.
	aside := up - down + g.short*phi
	leak := gasPerVolt*(up+down) + g.short
	w.into = j.amps - aside
	left := above(1 - (began + mean*seconds/g.q))
	m := g.mainSlopes(w.pore, u, v[3], left, j.at.moves, 0, j.at.vt, j.at.closed, j.y[atTemp]+zeroC)
	by := g.farads/seconds + m.polar + leak
	w.fixed = -(g.farads*(u-v[2])/seconds + m.amps - w.into) / by
	w.byAmps = (1 - m.pore*perAmp + j.weight*m.left*seconds/g.q - leak*slope*perAmp) / by
	poreByAmps := perAmp * (1 - leak*w.byAmps) / (1 + leak*slope*perAmp)
	w.bulk = w.pore - (apart*(1-j.gone) + mean*j.gone/(j.c*g.q*j.at.mix))
	r := g.ohms * ohmsFactor(w.pore, v[3], j.at.acid)
	return phi + j.amps*r, max(0, slope*poreByAmps+w.byAmps) + r
}

// How the search for a stretch's currents goes: how far one correction may move a cell's
// polarisation, volts, whose current grows e-fold in 0.05 V; when a correction is small
// enough to be the last, in volts of a cell, amps and part of the current; and how many
// there are at most.
const (
	mostPolarStep       = 0.08
	nearPolar, nearAmps = 1e-3, 2e-2
	nearPart            = 1e-3
	mostCorrections     = 40
	fewCorrections      = 2
)

// What no correction of a current is, amps; and what a battery whose laws give out counts
// as, ohms.
const absurdAmps, absurdOhms = 1e6, 0.1

// noGas is a cell's volts under which it makes less than a twentieth of what it gasses
// with at rest: nothing beside the currents of a circuit.
const noGas = 1.95

// Go carries the battery through a stretch as last answered, and warms it by what that
// took; no hotter than its acid boils, where the circuit it is in has other worries.
func (j *Joined) Go(seconds float64) {
	for i := range j.n {
		v, w := j.y[atCell+stride*i:], &j.cells[i]
		v[0], v[1], v[2] = clamp(w.pore, curveFrom, curveTo), clamp(w.bulk, curveFrom, curveTo), w.polar
		w.was = w.into
	}
	var dy vector
	j.source = Source{Amps: j.amps, Volts: math.Copysign(unreached, j.amps)}
	lid := j.lid
	j.lid = 0 // what flows there is not through the cells
	j.slope(&j.y, &dy, 0)
	j.lid = lid
	j.y[atTemp] = clamp(j.y[atTemp]+dy[atTemp]*seconds, coldestC, boilsC)
	for i := range j.n { // hard sulphate dissolves or grows
		v := j.y[atCell+stride*i:]
		v[3] = clamp(v[3]+dy[atCell+stride*i+3]*seconds, 0, 1)
	}
	j.y[j.live] += (j.began + j.weight*(j.amps-j.began)) * seconds
	j.began, j.weight = j.amps, 0.5
	j.arrive()
}

// unreached are volts that no source here holds a battery to.
const unreached = 1e6

// Leap says that the current leaps at the beginning of the next stretch: a key is turned,
// a clamp goes on or comes off.
func (j *Joined) Leap() { j.weight = 1 }

// Open is what it shows while nothing flows, volts.
func (j *Joined) Open() float64 {
	volts := 0.0
	for i := range j.n {
		v := j.y[atCell+stride*i:]
		volts += j.cell[i].count * (j.emf.volts(v[0]) + j.at.lift + v[2])
	}
	return volts
}

// Fork gives the same battery at the same moment, to be carried on otherwise.
func (j *Joined) Fork() *Joined {
	out := *j
	return &out
}

// Ah is what has gone into its cells since it was joined, less what came out, ampere-hours.
func (j *Joined) Ah() float64 { return j.y[j.live] / 3600 }

// TempC is its temperature.
func (j *Joined) TempC() float64 { return j.y[atTemp] }

// SOC is its charge, percent, of the weakest cell.
func (j *Joined) SOC() float64 {
	least := math.Inf(1)
	for i := range j.n {
		v := j.y[atCell+stride*i:]
		least = min(least, j.c*v[0]+j.cc*v[1])
	}
	return 100 * least
}

// State is its state.
func (j *Joined) State() State {
	s := State{TempC: j.y[atTemp], AhIn: j.Ah()}
	for i := range j.n {
		v := j.y[atCell+stride*i:]
		s.Cells[i] = Cell{Pore: v[0], Bulk: v[1], Polarisation: v[2], Sulphate: v[3]}
	}
	return s
}

// Times gives n batteries like this side by side, joined post to post, as one.
func (b Battery) Times(n int) Battery { return b.scaled(float64(n)) }

// scaled is plates wider by a factor, everything else alike.
func (b Battery) scaled(k float64) Battery {
	b.Ah20h, b.RCMin, b.CCA, b.PlateAmps, b.Coulombs = k*b.Ah20h, k*b.RCMin, k*b.CCA, k*b.PlateAmps, k*b.Coulombs
	b.Ohms, b.StrapOhms = b.Ohms/k, b.StrapOhms/k
	b.HeatCapacity, b.Cooling, b.LidSiemens = k*b.HeatCapacity, k*b.Cooling, k*b.LidSiemens
	for i := range b.Kinds {
		b.Groups[i].ShortSiemens *= k
	}
	return b
}

// Grown gives a battery of the same make that is larger by a factor.
func (b Battery) Grown(factor float64) Battery { return b.scaled(factor) }

// Chain gives n batteries like this in a row, one's positive to the other's negative, as
// one: a 24 V bank of two of 12 V.
func (b Battery) Chain(n int) Battery {
	k := float64(n)
	b.StrapOhms *= k
	b.HeatCapacity, b.Cooling, b.LidSiemens = k*b.HeatCapacity, k*b.Cooling, b.LidSiemens/k
	for i := range b.Kinds {
		b.Groups[i].Count *= n
	}
	return b
}
