// Package bench puts together what the readings of one battery say: what holds of
// it now. Each reading has been looked at by itself (a Fact, from its station);
// here they meet, in the order they were taken: a charge makes what was read
// before it history, a cleaning makes contacts good, a rest voltage speaks for
// the load test beside it, testers are brought to one figure by the battery
// model, and the acid is held against the cold. What to do about it is policy, in
// package assess.
package bench

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Bench is what holds of a battery once its readings are put together.
type Bench struct {
	Case reading.Case
	SAE  rating.SAECCA // the label's cranking figure, zero amps when it has none

	Hazard   words.Text // finishes "Stop. …"; zero when the work may go on
	Frozen   bool       // seen, or the physics says the acid may be ice
	Dirty    []int      // readings that found a contact no test can be trusted through
	Charge   *Charge    // the last rest voltage since charging
	Load     *Load      // the last load test
	Full     int        // the reading of the last charge that ended full, -1 when none
	Charged  int        // the reading of the last charge of any end, -1 when none
	Findings []Finding

	tests    []*Test // the last of each kind of tester
	unjudged []int
	modelled bool
	asNew    *battery.Battery
	doubt    string
	strength *Strength
}

// Put lays a case and what each of its readings says on the bench. describe
// names a kind of reading, for the ledger.
func Put(c reading.Case, facts []Fact, describe func(kind string) string) *Bench {
	told := 5 // lines of the label, the cold, the load test, what is kept
	for _, f := range facts {
		told += len(f.Findings)
	}
	b := &Bench{Case: c, Full: -1, Charged: -1, Findings: make([]Finding, 0, told)}
	b.SAE, _ = c.Battery.Rating.Label().ToSAE()
	b.labelFindings()
	for _, f := range facts {
		b.take(f)
	}
	b.freezing()
	b.settleLoad()
	b.kept(describe)
	return b
}

// take adds one fact to what holds.
func (b *Bench) take(f Fact) {
	if !f.Hazard.IsZero() {
		b.Hazard = f.Hazard
	}
	b.Frozen = b.Frozen || f.Ice
	if f.Cleans {
		b.Dirty = nil
	}
	if f.Charge != nil {
		b.Charge = f.Charge
		b.Charge.Reading = f.Reading
	}
	if f.Load != nil {
		b.Load = f.Load
		b.Load.Reading = f.Reading
		b.Load.Charge = b.knownCharge()
	}
	if f.Test != nil {
		f.Test.Reading, f.Test.Charge = f.Reading, b.knownCharge()
		b.tests = slices.DeleteFunc(b.tests, func(t *Test) bool { return t.Kind == f.Test.Kind })
		b.tests = append(b.tests, f.Test)
	}
	if f.Charged != nil {
		b.Charged, b.Charge = f.Reading, nil
		if f.Charged.Ended == "full" {
			b.Full = f.Reading
		}
	}
	if f.Unjudged {
		b.unjudged = append(b.unjudged, f.Reading)
	}
	b.tell(f.Findings...)
	// Nobody is sent to clean a battery that must not be worked on.
	if f.Dirty != nil && b.Hazard.IsZero() {
		b.Dirty = append(b.Dirty, f.Reading)
		b.tell(*f.Dirty)
	}
}

// knownCharge is the charge a test taken now is judged with, nil when nobody
// knows it.
func (b *Bench) knownCharge() *battery.Band {
	if b.Charge == nil || b.Charge.TooHigh {
		return nil
	}
	soc := b.Charge.RestCharge.Charge
	return &soc
}

// SOC is the charge now, percent; nil when nobody knows it.
func (b *Bench) SOC() *battery.Band { return b.knownCharge() }

// chargeFor is the charge a test was taken at. A rest voltage taken after the
// test speaks for it too, when no charge came between: 15 s of load takes well
// under 1 % out.
func (b *Bench) chargeFor(reading int, known *battery.Band) *battery.Band {
	if known == nil && b.Charged < reading {
		return b.knownCharge()
	}
	return known
}

// settleLoad says of the last load test what depends on other readings.
func (b *Bench) settleLoad() {
	l := b.Load
	if l == nil {
		return
	}
	l.Charge = b.chargeFor(l.Reading, l.Charge)
	l.Fair = l.Charge != nil && l.Charge.Best >= b.Case.Rules.LoadTestMinSOC
	b.tell(l.Conclude(b)...)
}

// kept says which readings are in the case but in no verdict.
func (b *Bench) kept(describe func(string) string) {
	if len(b.unjudged) == 0 {
		return
	}
	var names []string
	var said []words.Text
	for _, i := range b.unjudged {
		if name := describe(b.Case.Readings[i].Kind); !slices.Contains(names, name) {
			names, said = append(names, name), append(said, words.Say(name))
		}
	}
	b.tell(Finding{
		Code:     "reading.kept",
		Level:    Note,
		Readings: b.unjudged,
		Text:     words.Say(saysKept, "kinds", said),
		Why:      words.Say(whyKept),
	})
}

func (b *Bench) tell(fs ...Finding) {
	for _, f := range fs {
		if f.Readings == nil {
			f.Readings = []int{}
		}
		b.Findings = append(b.Findings, f)
	}
}

// Tell adds to the ledger what a verdict adds to what the readings say.
func (b *Bench) Tell(f Finding) { b.tell(f) }

// FreezeMarginC is how near to freezing is too near. House judgement, as the
// trade's defaults: 5 °C.
const FreezeMarginC = 5.0

// freezing compares the acid's freezing point with the cold the battery is in.
func (b *Bench) freezing() {
	c := b.Case.Conditions
	if b.knownCharge() == nil {
		return
	}
	chem := b.Case.Battery.Chemistry
	point := func(soc float64) float64 { return battery.FreezingPoint(battery.SpecificGravity(chem, soc)) }
	weak, strong := point(b.Charge.RestCharge.Charge.Low), point(b.Charge.RestCharge.Charge.High)
	in := b.Charge.TempC
	temp := func(c float64) measure.Quantity { return measure.Degrees(c) }
	f := Finding{
		Readings: []int{b.Charge.Reading},
		Rule:     "freeze.acid",
		Source:   "CRC Handbook and BCI service tables, from memory",
		Why:      words.Say(whyFreezes, "strong", temp(strong), "weak", temp(weak)),
	}
	switch {
	case in < strong && chem.Liquid():
		b.Frozen, b.Hazard = true, words.Say(hazardIce)
		f.Code, f.Level, f.Text = "freeze.frozen", Stopped, words.Say(saysIce, "temp", temp(in))
	case in < weak:
		b.Frozen = true
		f.Code, f.Level, f.Text = "freeze.doubt", Act, words.Say(saysMaybeIce)
	default:
		if c.AmbientC != nil {
			in = min(in, *c.AmbientC)
		}
		if in > weak+FreezeMarginC {
			return
		}
		f.Code, f.Level, f.Text = "freeze.margin", Act, words.Say(saysNearIce, "weak", temp(weak), "temp", temp(in))
	}
	b.tell(f)
}

// Words of what holds.
const (
	saysKept = "Kept, but no verdict rests on it: {kinds}."
	whyKept  = "It stays in the history and in the case file. A figure of strength is still compared with the load " +
		"test where the charge is known, and holds a verdict back when the two contradict each other."
	whyFreezes = "Acid this weak freezes between {strong} and {weak}."
	hazardIce  = "It is colder than its acid can stand"
	saysIce    = "At {temp} this acid is ice. Do not charge, load or jump it: thaw it, check the case, and expect " +
		"to replace it."
	saysMaybeIce = "It may be frozen. Thaw it and look at the case before you charge it."
	saysNearIce  = "It can freeze from {weak}, and it stands at {temp}. Charge it before it stands out in the cold."
)
