package battery

import "math"

// Event is something to watch for in a run: "it is full", "the current has fallen
// under an ampere", "it is too hot".
type Event struct {
	Name string
	// When falls to zero or below where it happens, at the beginning too.
	When func(Sample) float64
	// Arm, where given, has to fall to zero or below before When counts, and need
	// not stay there: "under one percent of its ampere-hours" means nothing while a
	// battery refuses all current, or before the charger holds its volts.
	Arm func(Sample) float64
	// GoOn notes the event, once, and lets the run go on; otherwise it ends it.
	GoOn bool
}

// MostEvents is how many events one run watches for.
const MostEvents = 16

// watch is what a run remembers of its events.
type watch struct {
	armed, done [MostEvents]bool
}

// begin sees to what has happened before anything has.
func (w *watch) begin(d *Duty, now Sample) (Sample, bool, error) {
	for i := range d.Events {
		e := &d.Events[i]
		w.armed[i] = e.Arm == nil || e.Arm(now) <= 0
		if !w.armed[i] || e.When(now) > 0 {
			continue
		}
		if over, err := w.happens(d, i, now); over || err != nil {
			return now.named(e.Name), over, err
		}
	}
	return now, false, nil
}

// happens notes an event and tells whether it ends the run.
func (w *watch) happens(d *Duty, i int, at Sample) (bool, error) {
	w.done[i] = true
	if !d.Events[i].GoOn {
		// The beginning has been seen already, but not that it is an end.
		return true, d.visit(at.named(d.Events[i].Name))
	}
	return false, d.visit(at.named(d.Events[i].Name))
}

func (x Sample) named(event string) Sample {
	x.Event = event
	return x
}

// step sees to what happens within a step of h seconds that ends at p.next,
// earliest first. It leaves the stepper ready to stand there.
func (w *watch) step(p *stepper, b Battery, d *Duty, from Sample, h, to, tol float64) (Sample, bool, error) {
	next := p.sample(b, &p.next, to)
	p.half(h)
	mid := p.sample(b, &p.tmp, p.t+h/2)
	seen := false
	for i := range d.Events {
		seen = seen || w.stirs(&d.Events[i], i, mid) || w.stirs(&d.Events[i], i, next)
	}
	if !seen {
		return next, false, nil
	}
	end := p.next
	p.prepare(&p.y, p.t)
	var found [MostEvents]Sample
	var happens [MostEvents]bool
	for i := range d.Events {
		e, begins := &d.Events[i], from
		between := w.stirs(e, i, mid)
		if !between && !w.stirs(e, i, next) {
			continue
		}
		if !w.armed[i] {
			at, ok := p.crossing(b, e.Arm, from, next, h, tol, between)
			if !ok {
				continue
			}
			w.armed[i], begins, between = true, at, true
		}
		found[i], happens[i] = p.crossing(b, e.When, begins, next, h, tol, between)
	}
	over, last, err := false, next, error(nil)
	for !over && err == nil {
		first := -1
		for i := range d.Events {
			if happens[i] && (first < 0 || found[i].Seconds < found[first].Seconds) {
				first = i
			}
		}
		if first < 0 {
			break
		}
		happens[first] = false
		last = found[first].named(d.Events[first].Name)
		over, err = w.happens(d, first, found[first])
	}
	p.next = end
	if !over && err == nil {
		p.prepare(&p.next, to)
	}
	return last, over, err
}

// stirs reports whether an event may happen, or arm, by a moment.
func (w *watch) stirs(e *Event, i int, x Sample) bool {
	return !w.done[i] && (w.armed[i] && e.When(x) <= 0 || !w.armed[i] && e.Arm(x) <= 0)
}

// half puts the cubic through both ends of a step, at its middle, into p.tmp: what
// comes and goes within a long step shows there.
func (p *stepper) half(h float64) {
	for i := range p.live {
		p.tmp[i] = 0.5*(p.y[i]+p.next[i]) + h/8*(p.was[i]-p.f[i])
	}
	for i := p.live; i < p.all; i++ {
		p.tmp[i] = 0.5 * (p.y[i] + p.next[i])
	}
}

// crossing finds the first moment at which f is zero or below from one sample to
// another of a step of h seconds that begins at p.t, and whether there is one; between
// asks for one that has passed again by the end. It steps anew from the step's
// beginning: the derivatives prepared there still hold.
func (p *stepper) crossing(b Battery, f func(Sample) float64, lo, hi Sample, h, tol float64, between bool) (Sample, bool) {
	at := func(seconds float64) Sample {
		p.try(seconds, tol)
		return p.sample(b, &p.next, p.t+seconds)
	}
	if f(lo) <= 0 {
		return lo, true
	}
	begin := p.t
	if mid := begin + h/2; between && lo.Seconds < mid {
		if x := at(h / 2); f(x) <= 0 {
			hi = x
		} else if f(hi) <= 0 {
			lo = x
		}
	}
	if f(hi) > 0 {
		return hi, false
	}
	near := locateNear * max(1, tol/DefaultTolerance)
	flo, fhi, side := f(lo), f(hi), 0
	for range 60 {
		if hi.Seconds-lo.Seconds <= locatePart*hi.Seconds || math.Abs(f(hi)) < near {
			break
		}
		x := at(lo.Seconds - begin + (hi.Seconds-lo.Seconds)*clamp(flo/(flo-fhi), 0.01, 0.99))
		if v := f(x); v <= 0 {
			hi, fhi = x, v
			if side == 1 {
				flo /= 2
			}
			side = 1
		} else {
			lo, flo = x, v
			if side == -1 {
				fhi /= 2
			}
			side = -1
		}
	}
	return hi, true
}

// How exactly the moment of an event is found: to a part of the time gone, or to
// so near zero, in volts, amps or percent, at the default tolerance.
const (
	locatePart = 1e-7
	locateNear = 1e-5
)
