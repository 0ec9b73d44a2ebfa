package jump

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/engine"
)

// Circuit is everything a jump start joins. Volts of the donor are across its posts,
// volts of the flat one between the two places where the leads are clamped.
//
//	donor ──┬─ live lead ──┬── live cable ── starter
//	        │              │                    │
//	   alternator     flat battery            engine
//	        │              │                    │
//	        └─ earthed lead┴── earthed cable ───┘
//
// Where the earthed clamp bites the engine's metal, the flat battery's own earthed cable
// stands in its branch alone, and the starter is reached without it.
type Circuit struct {
	Giver     *battery.Joined // nil where the maker stands alone
	Maker     Maker
	GiverLoad float64 // amps
	Leads     float64 // ohms there and back; +Inf where nothing is joined
	Flat      *battery.Joined
	FlatOhms  float64        // in its branch alone
	FlatLoad  float64        // amps of what cannot be switched off, while it cranks
	Path      float64        // ohms from the clamps to the starter and back
	Starter   engine.Starter // of no amps: none
	OilC      float64

	rpm      float64
	cranking bool
	volts    [2]float64 // across the donor and the flat one, last found
}

// Moment is the circuit at one moment.
type Moment struct {
	GiverVolts   float64
	FlatVolts    float64 // where the leads are clamped
	StarterVolts float64
	GiverAmps    float64 // out of the donor's battery
	MakerAmps    float64
	LeadAmps     float64
	FlatAmps     float64 // into the flat battery; below 0 where it helps
	StarterAmps  float64
	RPM          float64
}

// trial is the circuit at two assumed volts, and by how much what flows misses there.
type trial struct {
	m            Moment
	miss1, miss2 float64 // amps
	a, b, c, d   float64 // derivatives of the misses by the donor's and the flat one's volts
}

// balance is Kirchhoff's law at both ends of the leads.
func (k *Circuit) balance(donor, flat, seconds float64) (t trial) {
	m := &t.m
	m.GiverVolts, m.FlatVolts, m.StarterVolts = donor, flat, flat
	siemens := 1 / k.Leads
	var into, takes, steep, draw, load float64
	if k.Giver != nil {
		m.LeadAmps = (donor - flat) * siemens
		m.GiverAmps, into = k.Giver.Near(donor, 0, seconds)
		m.GiverAmps = -m.GiverAmps
		m.MakerAmps, steep = k.Maker.current(donor)
		t.miss1 = m.MakerAmps + m.GiverAmps - k.GiverLoad - m.LeadAmps
		t.a, t.b, t.c, t.d = steep-siemens-into, siemens, siemens, -siemens
	} else {
		// A maker that stands alone reaches through the leads: they yield like its own volts.
		m.LeadAmps, t.d = k.Maker.behind(k.Leads).current(flat)
		m.MakerAmps, m.GiverVolts, t.a = m.LeadAmps, flat, -1
		if m.LeadAmps > 0 {
			m.GiverVolts += m.LeadAmps * k.Leads
		}
	}
	m.FlatAmps, takes = k.Flat.Near(flat, k.FlatOhms, seconds)
	if k.cranking {
		load = k.FlatLoad
		if k.Starter.Amps > 0 {
			m.RPM, m.StarterAmps, draw = k.Starter.Turn(flat, k.Path+k.Starter.Ohms, k.rpm, k.OilC, seconds)
			m.StarterVolts = flat - m.StarterAmps*k.Path
		}
	}
	t.miss2 = m.LeadAmps - load - m.FlatAmps - m.StarterAmps
	t.d -= takes + draw
	return t
}

// most is by how many amps a circuit may miss and still be searched on.
const most = 1e6

// settledAmps is within what the currents of a circuit add up.
const settledAmps = 0.05

// Step carries the circuit on by some seconds, in one implicit step, and gives its last
// moment.
func (k *Circuit) Step(seconds float64) Moment {
	if k.volts[1] == 0 {
		k.volts = [2]float64{max(k.Maker.Volts, k.Flat.Open()), k.Flat.Open()}
		if k.Giver != nil {
			k.volts[0] = k.Giver.Open()
		}
	}
	t := k.balance(k.volts[0], k.volts[1], seconds)
	for range 60 {
		size := math.Abs(t.miss1) + math.Abs(t.miss2)
		if size < settledAmps {
			break
		}
		det := t.a*t.d - t.b*t.c
		d1, d2 := (t.b*t.miss2-t.d*t.miss1)/det, (t.c*t.miss1-t.a*t.miss2)/det
		best, part := t, 1.0
		for range 4 { // shorter where a corner bends it
			best = k.balance(t.m.GiverVolts+part*d1, t.m.FlatVolts+part*d2, seconds)
			if math.Abs(best.miss1)+math.Abs(best.miss2) < size {
				break
			}
			part /= 2
		}
		if !(math.Abs(best.miss1)+math.Abs(best.miss2) < most) {
			break
		}
		t = best
	}
	if k.Giver != nil {
		k.Giver.Go(seconds)
	}
	k.Flat.Go(seconds)
	k.rpm, k.volts = t.m.RPM, [2]float64{t.m.GiverVolts, t.m.FlatVolts}
	return t.m
}

// Fork gives the same circuit at the same moment, to be carried on otherwise.
func (k *Circuit) Fork() *Circuit {
	out := *k
	out.Flat = k.Flat.Fork()
	if k.Giver != nil {
		out.Giver = k.Giver.Fork()
	}
	return &out
}

// Steps of a stretch: they grow from the first, by a factor, up to the longest, seconds.
type steps struct{ first, grows, most float64 }

var (
	// Within a percent of steps a tenth as long; see TestStepsAreShortEnough.
	tryFine  = steps{0.03, 1.4, 0.15}
	onCharge = steps{0.5, 1.7, 40}
	onCurve  = steps{2, 4, 240}
)

// run carries the circuit through a stretch, and gives its last moment.
func (k *Circuit) run(seconds float64, s steps) (m Moment) {
	m, _ = k.goOn(seconds, s, s.first)
	return m
}

// goOn is run with a first step of another length; it gives the length of the next, too.
func (k *Circuit) goOn(seconds float64, s steps, h float64) (m Moment, next float64) {
	for at := 0.0; at < seconds-1e-9; h = min(s.most, h*s.grows) {
		part := min(h, seconds-at)
		if rest := seconds - at - part; rest < 0.3*part {
			part = seconds - at // no splinter at the end
		}
		m = k.Step(part)
		at += part
	}
	return m, h
}

// turn turns the key.
func (k *Circuit) turn(on bool) {
	k.cranking, k.rpm = on, 0
	k.Flat.Leap()
	if k.Giver != nil {
		k.Giver.Leap()
	}
}

// Charge lets the source charge the flat battery, the key off.
func (k *Circuit) Charge(seconds float64) Moment {
	k.turn(false)
	return k.run(seconds, onCharge)
}

// Crank pulls the starter for some seconds, from rest.
func (k *Circuit) Crank(seconds float64) Moment {
	k.turn(true)
	m := k.run(seconds, tryFine)
	k.turn(false)
	return m
}

// quick are the steps of a search.
var quick = [...]float64{0.15, 0.6, 2.25}

// guess is what the volts of a quick try were, step by step: those of the next are likely
// near.
type guess struct {
	known bool
	at    [len(quick)][2]float64
}

// crankQuick is Crank in few steps.
func (k *Circuit) crankQuick(g *guess) (m Moment) {
	k.turn(true)
	for i, h := range quick {
		if g.known {
			k.volts = g.at[i]
		}
		m = k.Step(h)
		g.at[i] = k.volts
	}
	g.known = true
	k.turn(false)
	return m
}

// TrySeconds is how far into a try the circuit is looked at: an engine that will fire does
// so about then. House judgement.
const TrySeconds = 3.0
