package bench

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/engine"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// The conductance school's limits, percent of the label. Common practice, no
// source: 80 and over serviceable, under 60 replace.
const (
	ServiceablePct = 80.0
	FinishedPct    = 60.0
)

// SettledPct is the charge from which a contradiction between testers can no
// longer be a mistaken charge. House judgement.
const SettledPct = 90.0

// Strength is what all readings say of cranking, brought to one figure: the cold
// cranking amps (SAE) the battery would have if it were full.
type Strength struct {
	Label    float64 // SAE amps
	Evidence []Evidence
	Joint    *battery.Band // nil when nothing was read, or two testers contradict each other
	Apart    bool          // no one battery gives all readings, yet none fails it by its own limits
}

// Evidence is one reading of strength, put through the model.
type Evidence struct {
	*Test
	battery.Strength
	demand words.Text
}

// OfLabel is a reading's best figure in percent of the label.
func (s Strength) OfLabel(e Evidence) float64 { return 100 * e.CCA.Best / s.Label }

// Contradicted reports whether testers contradict each other, so that no figure
// can be given.
func (s Strength) Contradicted() bool { return len(s.Evidence) > 1 && s.Joint == nil }

// Strength puts the last reading of each tester through the model, once; each
// counts only with a charge to go with it, and not after what it read through was
// cleaned.
func (b *Bench) Strength() Strength {
	if b.strength != nil {
		return *b.strength
	}
	s := Strength{Label: b.SAE.Amps}
	b.strength = &s
	if b.Hazardous() || s.Label <= 0 {
		return s
	}
	tests := slices.SortedStableFunc(slices.Values(b.tests), func(a, c *Test) int { return a.Rank - c.Rank })
	for _, t := range tests {
		t.Charge = b.chargeFor(t.Reading, t.Charge)
		if t.Charge == nil || t.CleanedSince || t.Kind == loadTestKind && (b.Load == nil || b.Load.Reading != t.Reading) {
			continue
		}
		if e, ok := b.through(t); ok {
			s.Evidence = append(s.Evidence, e)
		}
	}
	if len(s.Evidence) > 0 {
		joint, agree := s.Evidence[0].CCA, true
		for _, e := range s.Evidence[1:] {
			a := battery.Compare(battery.Strength{CCA: joint}, e.Strength)
			joint, agree = a.Both, agree && a.Agree
		}
		switch {
		case agree:
			s.Joint = &joint
		case !b.byLimitsApart():
			// Two that do not contradict each other by their own limits: the heavier load
			// has the word.
			first := s.Evidence[0].CCA
			s.Joint, s.Apart = &first, true
		}
	}
	return s
}

// through puts one reading through the model.
func (b *Bench) through(t *Test) (Evidence, bool) {
	made, ok := b.AsNew()
	if !ok {
		return Evidence{}, false
	}
	temp, assumed := b.Case.TempC(t.BatteryC)
	at := battery.Condition{SOC: *t.Charge, TempC: temp}
	if assumed {
		at.TempSpread = battery.UnknownTempC
	}
	found, ok := b.memo.measure(t, made, at)
	charge := words.Say(saysChargeAt, "charge", SpellCharge(*t.Charge), "temp", measure.Degrees(temp))
	return Evidence{t, found, t.Demand(charge)}, ok
}

// Undecided reports whether two testers contradict each other: by their own limits
// one passes it and the other fails it, and where the load held, no one battery
// gives both figures. Two that each pass do not, however far apart their figures
// are.
func (b *Bench) Undecided() bool {
	return b.byLimitsApart() && (b.Load.Result == Sagged || !b.agree())
}

// agree reports whether one battery can give all figures of strength.
func (b *Bench) agree() bool {
	s := b.Strength()
	return len(s.Evidence) > 1 && s.Joint != nil && !s.Apart
}

// byLimitsApart reports whether by their own limits one tester passes it and another
// fails it.
func (b *Bench) byLimitsApart() bool {
	l := b.Load
	if l == nil || !l.Fair {
		return false
	}
	own := 0.0
	for _, t := range b.tests {
		if t.Own > 0 && !t.CleanedSince && t.Charge != nil && t.Charge.Best >= battery.LeastConductanceSOC {
			own = t.Own
		}
	}
	switch {
	case own == 0:
		return false
	case l.Result == Sagged:
		// Repeated on clean posts and a full battery, a failure under load is one.
		return own >= ServiceablePct && !(b.Fails > 1 && l.Charge.Best >= SettledPct && len(b.Dirty) == 0)
	case l.Result == Held:
		return own < FinishedPct && !b.repeated(conductanceKind)
	}
	return false
}

const conductanceKind = "conductance"

// repeated reports whether a tester was used more than once at the charge and on
// the contacts there are now.
func (b *Bench) repeated(kind string) bool {
	n := 0
	for i, r := range b.Case.Readings {
		if r.Kind == kind && b.speaks(i) && (len(b.Charges) == 0 || i > b.Charges[len(b.Charges)-1].Reading) {
			n++
		}
	}
	return n > 1
}

// Part is the strength in percent of the label, as far as all readings allow; false
// when nobody knows it.
func (b *Bench) Part() (battery.Band, bool) {
	s := b.Strength()
	if s.Joint == nil || s.Label <= 0 {
		return battery.Band{}, false
	}
	k := 100 / s.Label
	return battery.Band{Low: k * s.Joint.Low, Best: k * s.Joint.Best, High: k * s.Joint.High}, true
}

// ChargeOf is the charge a test was taken at, nil when nobody knows it.
func (b *Bench) ChargeOf(t *Test) *battery.Band { return b.chargeFor(t.Reading, t.Charge) }

// ChargeToStart is the charge, percent, under which a battery no longer turns the
// engine its label is meant for; 100 where even a full one does not.
func (b *Bench) ChargeToStart(made battery.Battery, tempC float64) float64 {
	e := engine.Of(b.Case.Vehicle.Fuel, made.CCA)
	least, ever := made.ChargeToCrank(tempC, e.Amps.Best*engine.Need(tempC))
	if !ever {
		return 100
	}
	return least
}

// FailsBelow is the temperature from which it no longer turns this engine, °C;
// false where nobody knows its strength or it has no engine to turn.
func (b *Bench) FailsBelow() (battery.Band, bool) {
	if b.fails == nil {
		t, ok := b.failsBelow()
		b.fails = &failure{t, ok}
	}
	return b.fails.below, b.fails.known
}

// failure is FailsBelow once it was worked out.
type failure struct {
	below battery.Band
	known bool
}

func (b *Bench) failsBelow() (battery.Band, bool) {
	s := b.Strength()
	e, ok := b.Engine()
	if s.Joint == nil || !ok {
		return battery.Band{}, false
	}
	return e.FailsBelow(*s.Joint), true
}

// Engine is the engine it turns: as it was cranked here, or as its label is usual for;
// false where it turns none or the label says nothing.
func (b *Bench) Engine() (engine.Engine, bool) {
	v := b.Case.Vehicle
	if v.Electric() || v.Fuel == "none" || b.SAE.Amps <= 0 {
		return engine.Engine{}, false
	}
	e := engine.Of(v.Fuel, b.SAE.Amps)
	for i, r := range b.Case.Readings {
		if amps, ok := r.Number("amps"); ok && b.speaks(i) && r.Kind == "crank" && amps > 0 && r.Word("turned") == "normal" {
			if t, assumed := b.Case.TempC(nil); !assumed {
				e = engine.Cranked(amps, t)
			}
		}
	}
	return e, true
}

// TellStrength writes the ledger's lines about strength.
func (b *Bench) TellStrength() {
	s := b.Strength()
	if doubt := b.LabelDoubt(); doubt != "" {
		b.tell(Finding{Code: "rating.doubt", Level: Act, Rule: "rating.together", Source: ModelSource,
			Text: words.Say(saysDoubt), Why: words.Say("{Doubt}.", "doubt", doubt)})
	}
	for _, e := range s.Evidence {
		pct := s.OfLabel(e)
		b.tell(Finding{
			Code:     "strength." + e.Code,
			Level:    Note,
			Readings: []int{e.Reading},
			Rule:     "strength.model",
			Source:   ModelSource,
			Text: words.Say(saysStrength, "what", e.What, "best", cranking(e.CCA.Best), "low", round5(e.CCA.Low),
				"high", round5(e.CCA.High), "pct", measure.Percents(pct)),
			Why:   words.Say(whyStrength, "demand", e.demand),
			Other: conductanceSchool(pct),
		})
	}
	if len(s.Evidence) < 2 {
		return
	}
	f := Finding{
		Code:   "strength.agree",
		Level:  OK,
		Rule:   "strength.reconcile",
		Source: ModelSource,
		Why:    words.Say(whyAgree),
	}
	for _, e := range s.Evidence {
		f.Readings = append(f.Readings, e.Reading)
	}
	if s.Apart {
		f.Code, f.Level, f.Text, f.Why = "strength.apart", Note, words.Say(saysApart), words.Say(whyApart)
	} else if s.Contradicted() {
		f.Code, f.Level = "strength.disagree", Act
		f.Text, f.Why = words.Say(saysDisagree), words.Say(whyDisagree, "settle", b.Settle())
	} else {
		f.Text = words.Say(saysAgree, "best", cranking(s.Joint.Best))
	}
	b.tell(f)
}

// Settle says which reading would decide between testers that cannot both be
// right. Common practice, no source.
func (b *Bench) Settle() words.Text {
	switch {
	case len(b.Dirty) > 0:
		return words.Say(settleClean)
	case b.knownCharge() == nil:
		return words.Say(settleRest)
	case b.Charge.RestCharge.Charge.Best < SettledPct:
		return words.Say(settleCharge)
	}
	return words.Say(settlePosts)
}

// conductanceSchool is what those who go by conductance would say of a part of
// the label.
func conductanceSchool(pct float64) words.Text {
	finished, serviceable := measure.Percents(FinishedPct), measure.Percents(ServiceablePct)
	switch {
	case pct >= ServiceablePct:
		return words.Say(schoolServiceable, "from", serviceable)
	case pct >= FinishedPct:
		return words.Say(schoolWeak, "from", measure.Plain(FinishedPct, 0), "to", serviceable)
	}
	return words.Say(schoolFinished, "under", finished)
}

// round5 gives amps as finely as any of this is known.
func round5(a float64) measure.Quantity {
	return measure.Plain(5*float64(int(a/5+0.5)), 0)
}

func cranking(a float64) measure.Quantity {
	q := round5(a)
	q.Unit = measure.Cranking
	return q
}

// CCA gives amps as they are said, to 5 A.
func CCA(a float64) measure.Quantity { return cranking(a) }

// SpellCharge says a charge band as a technician would, in whole percent.
func SpellCharge(b battery.Band) words.Text {
	b = b.Rounded()
	low, high := measure.Percents(b.Low), measure.Percents(b.High)
	switch {
	case b.Low == b.High:
		return words.Say("{best}", "best", measure.Percents(b.Best))
	case b.Low <= 0:
		return words.Say(spellAtMost, "high", high)
	case b.High >= 100:
		return words.Say(spellAtLeast, "low", low)
	}
	return words.Say(spellBand, "low", measure.Plain(b.Low, 0), "high", high)
}

// Words of strength.
const (
	saysDoubt    = "Read the label again: its figures hardly belong together."
	saysStrength = "{What}: cranks like {best}, {low} to {high}. That is {pct} of its label."
	whyStrength  = "{demand}. Charge and temperature are taken out."
	saysChargeAt = "{charge} charged, {temp}"
	saysAgree    = "These readings agree: one battery of about {best} gives them all."
	whyAgree     = "They asked different things of it, at the charge and temperature of the moment."
	saysApart    = "Their figures lie apart, and each passes or fails it alike: that is no contradiction."
	whyApart     = "Each goes by its own limits. The figure of the heavier load is kept."
	saysDisagree = "No one battery gives all these readings: one of them is wrong."
	whyDisagree  = "A bad contact, a wrong rating keyed in or a mistaken charge are the usual causes. {settle}"

	settleClean  = "Clean the contacts, then take both again."
	settleRest   = "Read its rest volts, then take both again."
	settleCharge = "Charge it full, then take both again."
	settlePosts  = "Take the load test again with its clamps on the posts themselves."

	schoolServiceable = "by conductance ({from} and over): serviceable"
	schoolWeak        = "by conductance ({from} to {to}): weak, watch it"
	schoolFinished    = "by conductance (under {under}): replace"

	spellAtMost  = "at most {high}"
	spellAtLeast = "at least {low}"
	spellBand    = "{low} to {high}"
)

// Conducted reports whether there is a conductance figure that counts: taken at a
// charge at which testers can be believed, through contacts not cleaned since.
func (b *Bench) Conducted() bool {
	for _, t := range b.tests {
		if t.Kind == conductanceKind && t.Own > 0 && !t.CleanedSince {
			soc := b.ChargeOf(t)
			return soc != nil && soc.Best >= b.House.LoadTestMinSOC
		}
	}
	return false
}
