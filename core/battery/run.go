package battery

import (
	"errors"
	"fmt"
	"math"
)

// DefaultTolerance keeps a run's figures within 0.1 % of the equations' own
// answer; see the checks against a reference integrator.
const DefaultTolerance = 3e-4

// Sample is what could be measured at a moment of a run, and the state behind
// it.
type Sample struct {
	Seconds float64
	Volts   float64 // at the posts
	Amps    float64 // through the posts, charge positive
	SOC     float64 // percent, of the weakest cell
	GasAmps float64 // current that makes gas, mean of the cells
	State   State
	Event   string // the event found at this moment, empty for none
}

// Duty is one stretch of a battery's life: what stands at its posts, around it,
// and for how long.
type Duty struct {
	Source  Source
	Ambient Ambient
	Seconds float64 // at most; 0 to 100 years

	// Events are watched for all at once, at most MostEvents; see Event.
	Events []Event
	// Visit sees the beginning, every step the stepper chose and every event; nil
	// for none. An error it gives ends the run there and is the run's error.
	Visit func(Sample) error
	// Marks are moments, in seconds and in order, at which a step ends, so that Visit
	// sees them.
	Marks []float64
	// Tolerance is the error allowed in each step, in parts of each variable's
	// size; 0 is DefaultTolerance.
	Tolerance float64
}

// ErrBoils ends a run in which the acid boils: an overcharged or shorted battery
// running away. The sample given with it is that moment's.
var ErrBoils = errors.New("the acid boils")

// Limits of a duty.
const (
	mostSeconds = 100 * 365.25 * 86400
	mostSteps   = 200000
	coldestC    = -60
	boilsC      = 110 // battery acid boils at 107 to 112 °C; CRC Handbook, from memory
)

// check refuses what the equations do not hold for.
func (d Duty) check(b Battery, s State) error {
	switch {
	case b.Kinds < 1 || b.Kinds > MaxGroups:
		return fmt.Errorf("the battery has no cells: make it with FromLabel")
	case math.IsNaN(d.Source.Amps):
		return fmt.Errorf("the current is not a number")
	case !(math.Abs(d.Source.Volts) <= 1000):
		return fmt.Errorf("the source has %g V: it must be between -1000 and 1000", d.Source.Volts)
	case len(d.Events) > MostEvents:
		return fmt.Errorf("%d events are watched for: at most %d can be", len(d.Events), MostEvents)
	case !(d.Source.Ohms >= 0):
		return fmt.Errorf("the source has %g ohms: it must be 0 or more", d.Source.Ohms)
	case !(d.Seconds >= 0 && d.Seconds <= mostSeconds):
		return fmt.Errorf("the duty lasts %g s: it must be between 0 and 100 years", d.Seconds)
	case !inside(s.TempC, coldestC, boilsC) || !inside(d.Ambient.Start, coldestC, boilsC) ||
		!inside(d.Ambient.at(d.Seconds), coldestC, boilsC):
		return fmt.Errorf("battery at %g °C, surroundings from %g to %g °C: temperatures must be between %d and %d °C",
			s.TempC, d.Ambient.Start, d.Ambient.at(d.Seconds), coldestC, boilsC)
	}
	return nil
}

func inside(v, lo, hi float64) bool { return v >= lo && v <= hi }

// Run carries the battery from state s through a duty, in steps of its own
// choice, and gives the last sample; Sample.Event names the event that ended it.
// The error says what in the duty cannot be, is the visitor's own, or is ErrBoils.
func (b Battery) Run(s State, d Duty) (Sample, error) {
	if err := d.check(b, s); err != nil {
		return Sample{State: s}, err
	}
	tol := d.Tolerance
	if tol == 0 {
		tol = DefaultTolerance
	}
	p := stepper{circuit: b.circuit()}
	p.source, p.ambient = d.Source, d.Ambient
	p.load(s)
	now := p.sample(b, &p.y, 0)
	if err := d.visit(now); err != nil {
		return now, err
	}
	var watched watch
	if end, over, err := watched.begin(&d, now); over || err != nil {
		return end, err
	}
	h := min(firstStep, d.Seconds)
	p.prepare(&p.y, p.t)
	marks := d.Marks
	for steps := 0; p.t < d.Seconds; steps++ {
		if steps > mostSteps {
			return now, fmt.Errorf("no end after %d steps, %g s into %g s", steps, p.t, d.Seconds)
		}
		for len(marks) > 0 && marks[0] <= p.t {
			marks = marks[1:]
		}
		goal, free := d.Seconds, h
		if len(marks) > 0 && marks[0] < goal {
			goal = marks[0]
		}
		if h = min(h, goal-p.t); h > (goal-p.t)*(1-1e-9) {
			h = goal - p.t
		}
		e := p.try(h, tol)
		if !(e <= 1) {
			shrink := 0.1 // also where the step left what numbers can hold
			if e < math.Inf(1) {
				shrink = clamp(0.9*math.Pow(e, -0.25), 0.1, 0.9)
			}
			if h *= shrink; h < leastStep {
				return now, fmt.Errorf("the step vanished %g s into the duty", p.t)
			}
			continue
		}
		to := p.t + h
		if h == goal-p.t {
			to = goal
		}
		if len(d.Events) > 0 {
			p.was = p.f
		}
		p.prepare(&p.next, to)
		if p.astray(h) {
			p.prepare(&p.y, p.t)
			h /= 4
			continue
		}
		if len(d.Events) > 0 {
			end, over, err := watched.step(&p, b, &d, now, h, to, tol)
			if over || err != nil {
				return end, err
			}
		}
		p.y, p.t = p.next, to
		h *= clamp(0.9*math.Pow(e, -0.25), 0.2, 6)
		if to == goal {
			h = max(h, free) // a mark cut it short, not its error
		}
		if p.y[atTemp] > boilsC {
			return p.sample(b, &p.y, p.t), fmt.Errorf("%w after %.0f s", ErrBoils, p.t)
		}
		if d.Visit != nil || len(d.Events) > 0 || p.t == d.Seconds {
			now = p.sample(b, &p.y, p.t)
			if err := d.visit(now); err != nil {
				return now, err
			}
		}
	}
	return now, nil
}

func (d *Duty) visit(x Sample) error {
	if d.Visit == nil {
		return nil
	}
	return d.Visit(x)
}

// firstStep is short enough to see a starter's first moment.
const firstStep = 0.05

// leastStep is far below anything a battery does, in seconds.
const leastStep = 1e-12

// load puts a state into the stepper's vector.
func (p *stepper) load(s State) {
	p.y[atTemp] = s.TempC
	for i := range p.n {
		c := s.Cells[i]
		v := p.y[atCell+stride*i:]
		v[0], v[1], v[2], v[3] = c.Pore, c.Bulk, c.Polarisation, c.Sulphate
		p.y[p.live+sums+i] = c.GasAh * 3600
	}
	p.y[p.live], p.y[p.live+1], p.y[p.live+2] = s.AhIn*3600, s.WhIn*3600, s.JoulesOut
}

// sample reads the vector y, t seconds into the run.
func (p *stepper) sample(b Battery, y *vector, t float64) Sample {
	s := State{TempC: y[atTemp], AhIn: y[p.live] / 3600, WhIn: y[p.live+1] / 3600, JoulesOut: y[p.live+2]}
	acid := acidFactor(s.TempC)
	phi, ohms, gas, cells := 0.0, p.strap, 0.0, 0.0
	for i := range p.n {
		g := &p.cell[i]
		v := y[atCell+stride*i:]
		s.Cells[i] = Cell{v[0], v[1], v[2], v[3], y[p.live+sums+i] / 3600}
		one := p.emf.volts(v[0]) + emfPerC*(s.TempC-25) + v[2]
		phi += g.count * one
		ohms += g.count * g.ohms * ohmsFactor(v[0], v[3], acid)
		up, down := g.gassing(one, s.TempC)
		gas += g.count * (up + down)
		cells += g.count
	}
	amps, _, volts, _ := p.posts(phi, ohms)
	return Sample{Seconds: t, Volts: volts, Amps: amps, SOC: b.SOC(s), GasAmps: gas / cells, State: s}
}
