package bench

import (
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// on is a 650 CCA car battery at 21 °C with as many readings as there are
// facts.
func on(facts ...Fact) *Bench {
	cca, ah, temp := 650.0, 62.0, 21.0
	c := reading.Case{
		Vehicle:    reading.Vehicle{Class: "car"},
		Battery:    reading.Battery{Chemistry: battery.Flooded, Rating: reading.Rating{CCA: &cca, Ah20h: &ah}},
		Conditions: reading.Conditions{AmbientC: &temp, BatteryC: &temp}, Rules: rules.Default(),
	}
	for i := range facts {
		facts[i].Reading = i
		c.Readings = append(c.Readings, reading.Of("thing_seen", nil))
	}
	return Put(c, facts, words.Spaced)
}

func charge(low, best, high float64) Fact {
	return Fact{Charge: &Charge{RestCharge: battery.RestCharge{Charge: battery.Band{Low: low, Best: best,
		High: high}}, TempC: 21}}
}

func load() Fact {
	return Fact{Load: &Load{Conclude: func(*Bench) []Finding { return nil }}}
}

// tester is a reading of strength that comes to part of the label, ± 2 %.
func tester(kind string, rank int, part float64) Fact {
	return Fact{Test: &Test{Kind: kind, Code: kind, What: kind, Rank: rank,
		Measure: func(b battery.Battery, _ battery.Condition) (battery.Strength, bool) {
			cca := part * b.CCA
			return battery.Strength{CCA: battery.Band{Low: 0.98 * cca, Best: cca, High: 1.02 * cca}}, true
		},
		Demand: func(charge words.Text) words.Text { return charge }}}
}

func codes(b *Bench) string {
	var out []string
	for _, f := range b.Findings {
		out = append(out, f.Code)
	}
	return strings.Join(out, " ")
}

// What was read before a charge is history; a cleaning makes contacts good; a
// hazard keeps anybody from being sent to clean.
func TestWhatHoldsInOrder(t *testing.T) {
	full, stopped := Fact{Charged: &Charged{Ended: "full"}}, Fact{Charged: &Charged{Ended: "stopped"}}
	dirty := Fact{Dirty: &Finding{Code: "dirty"}}
	hazard := Fact{Hazard: words.Say("It is cracked")}
	if b := on(charge(40, 50, 60), full); b.Charge != nil || b.Full != 1 || b.Charged != 1 {
		t.Errorf("after a full charge: %+v", b)
	}
	if b := on(full, stopped, charge(40, 50, 60)); b.Charge == nil || b.Full != 0 || b.Charged != 1 {
		t.Errorf("after a charge stopped early: %+v", b)
	}
	if b := on(dirty); len(b.Dirty) != 1 || codes(b) != "dirty" {
		t.Errorf("dirty: %v, %s", b.Dirty, codes(b))
	}
	if b := on(dirty, Fact{Cleans: true}); len(b.Dirty) != 0 {
		t.Errorf("cleaned: %v", b.Dirty)
	}
	if b := on(Fact{Cleans: true}, dirty); len(b.Dirty) != 1 {
		t.Errorf("dirty again: %v", b.Dirty)
	}
	if b := on(hazard, dirty); len(b.Dirty) != 0 || strings.Contains(codes(b), "dirty") ||
		b.Hazard.String() != "It is cracked" {
		t.Errorf("a cracked one is not cleaned: %s", codes(b))
	}
	if b := on(Fact{Unjudged: true}, Fact{Unjudged: true}); codes(b) != "reading.kept" ||
		!strings.Contains(b.Findings[0].Text.String(), "rests on it: thing seen.") {
		t.Errorf("kept: %+v", b.Findings)
	}
}

// A load test is judged by the charge it had: the last rest voltage before it, or
// one taken after it when no charge came between.
func TestChargeOfALoadTest(t *testing.T) {
	full := Fact{Charged: &Charged{Ended: "full"}}
	high := charge(80, 90, 100)
	high.Charge.TooHigh = true
	for name, c := range map[string]struct {
		facts []Fact
		known bool
		fair  bool
	}{
		"before":               {[]Fact{charge(70, 75, 80), load()}, true, true},
		"before, too low":      {[]Fact{charge(70, 74.9, 80), load()}, true, false},
		"after":                {[]Fact{load(), charge(80, 90, 100)}, true, true},
		"after a charge":       {[]Fact{load(), full, charge(80, 90, 100)}, false, false},
		"too high to be rest":  {[]Fact{high, load()}, false, false},
		"the nearest, not all": {[]Fact{charge(30, 40, 50), charge(80, 90, 100), load()}, true, true},
	} {
		l := on(c.facts...).Load
		if (l.Charge != nil) != c.known || l.Fair != c.fair {
			t.Errorf("%s: charge %v, fair %t", name, l.Charge, l.Fair)
		}
	}
}

// The margin to ice is 5 °C, to the degree, and the acid decides what is ice.
// Freezing point of acid at 50 % of 1.265/1.120: about −25 °C, CRC and BCI, from
// memory; here only that the bench holds the cold against the model's own point.
func TestFreezing(t *testing.T) {
	weak := battery.FreezingPoint(battery.SpecificGravity(battery.Flooded, 40))
	strong := battery.FreezingPoint(battery.SpecificGravity(battery.Flooded, 60))
	for _, c := range []struct {
		battery, ambient float64
		code             string
		frozen, hazard   bool
	}{
		{weak + FreezeMarginC + 0.1, weak + FreezeMarginC + 0.1, "", false, false},
		{weak + FreezeMarginC - 0.1, 20, "freeze.margin", false, false},
		{20, weak + FreezeMarginC - 0.1, "freeze.margin", false, false},
		{weak + 0.1, 20, "freeze.margin", false, false},
		{weak - 0.1, 20, "freeze.doubt", true, false},
		{strong + 0.1, 20, "freeze.doubt", true, false},
		{strong - 0.1, 20, "freeze.frozen", true, true},
	} {
		f := charge(40, 50, 60)
		f.Charge.TempC = c.battery
		b := on(f)
		b.Findings = nil
		b.Case.Conditions.AmbientC = &c.ambient
		b.freezing()
		if codes(b) != c.code || b.Frozen != c.frozen || b.Hazard.IsZero() == c.hazard {
			t.Errorf("acid at %.1f °C, shop at %.1f °C: %q, frozen %t", c.battery, c.ambient, codes(b), b.Frozen)
		}
	}
	// Acid held in glass mat does not burst a case that nobody has seen split.
	f := charge(40, 50, 60)
	f.Charge.TempC = strong - 20
	b := on(f)
	b.Case.Battery.Chemistry, b.Findings, b.Frozen, b.Hazard = battery.AGM, nil, false, words.Text{}
	b.freezing()
	if codes(b) != "freeze.doubt" || !b.Hazard.IsZero() {
		t.Errorf("AGM: %s, %v", codes(b), b.Hazard)
	}
	if FreezeMarginC != 5 {
		t.Errorf("the margin is %g °C", FreezeMarginC)
	}
}

// Two testers bear on a verdict when they contradict each other and do not both
// say finished, under 60 %, or both strong, 80 % and over. Common practice, no
// source.
func TestContradictionsThatMatter(t *testing.T) {
	for _, c := range []struct {
		a, b             float64
		disagree, matter bool
	}{
		{0.90, 0.91, false, false}, {0.70, 0.71, false, false}, {0.40, 0.75, true, true}, {0.40, 0.59, true, false}, {0.40, 0.61, true, true},
		{0.801, 1.0, true, false}, {0.79, 1.0, true, true}, {0.59, 0.80, true, true},
	} {
		b := on(charge(90, 95, 100), tester("load_test", 1, c.a), tester("conductance", 2, c.b))
		if got := b.Strength().Contradicted(); got != c.disagree {
			t.Errorf("%g and %g of the label contradict: %t", c.a, c.b, got)
		}
		if got := b.Undecided(); got != c.matter {
			t.Errorf("%g and %g of the label leave it undecided: %t", c.a, c.b, got)
		}
	}
}

// What the conductance school says of each part of the label.
func TestConductanceSchool(t *testing.T) {
	for pct, want := range map[float64]string{
		100: "serviceable", 80: "serviceable", 79.9: "(60 to 80 %): weak", 60: "weak", 59.9: "replace", 10: "replace",
	} {
		if got := conductanceSchool(pct).String(); !strings.Contains(got, want) {
			t.Errorf("%g %%: %s", pct, got)
		}
	}
}

// What settles a contradiction: clean contacts, then a known charge, then a full
// one from 90 %, then the posts themselves.
func TestSettle(t *testing.T) {
	dirty := Fact{Dirty: &Finding{Code: "dirty"}}
	for _, c := range []struct {
		facts []Fact
		want  string
	}{
		{[]Fact{charge(90, 95, 100), dirty}, "Clean"}, {nil, "rest volts"}, {[]Fact{charge(80, 89.9, 95)},
			"Charge it full"},
		{[]Fact{charge(80, 90, 95)}, "on the posts"},
	} {
		if got := on(c.facts...).Settle().String(); !strings.Contains(got, c.want) {
			t.Errorf("%d facts: %s, want %s", len(c.facts), got, c.want)
		}
	}
}

// Strength is one figure of all testers, in the order of their rank, and needs a
// charge, a rating and no hazard.
func TestStrength(t *testing.T) {
	full := charge(90, 95, 100)
	b := on(full, tester("conductance", 2, 0.80), tester("load_test", 1, 0.81), tester("conductance", 2, 0.82))
	s := b.Strength()
	if len(s.Evidence) != 2 || s.Evidence[0].Kind != "load_test" || s.Evidence[1].Reading != 3 || s.Joint == nil ||
		s.Joint.Best < 520 || s.Joint.Best > 540 {
		t.Errorf("%+v, joint %+v", s.Evidence, s.Joint)
	}
	b.TellStrength()
	if got := codes(b); got != "strength.load_test strength.conductance strength.agree" {
		t.Errorf("told: %s", got)
	}
	// Three in any order; two that contradict each other are not reconciled by a third
	// between them.
	b = on(full, tester("crank", 3, 0.65), tester("conductance", 2, 0.80), tester("load_test", 1, 0.50))
	s = b.Strength()
	if s.Evidence[0].Rank != 1 || s.Evidence[1].Rank != 2 || s.Evidence[2].Rank != 3 || !s.Contradicted() ||
		s.OfLabel(s.Evidence[0]) != 50 {
		t.Errorf("%+v, joint %+v", s.Evidence, s.Joint)
	}
	for name, b := range map[string]*Bench{
		"no charge": on(tester("load_test", 1, 0.8)),
		"a hazard":  on(full, Fact{Hazard: words.Say("It leaks")}, tester("load_test", 1, 0.8)),
		"ice":       on(full, Fact{Ice: true}, tester("load_test", 1, 0.8)),
	} {
		if s := b.Strength(); len(s.Evidence) != 0 || s.Joint != nil || s.Contradicted() {
			t.Errorf("%s: %+v", name, s)
		}
	}
	bare := on(full, tester("load_test", 1, 0.8))
	bare.SAE, bare.strength = rating.SAECCA{}, nil
	if s := bare.Strength(); len(s.Evidence) != 0 {
		t.Errorf("no rating: %+v", s)
	}
}

// Amps are said to five, as finely as any of this is known.
func TestAmpsToFive(t *testing.T) {
	for a, want := range map[float64]string{537.4: "535 CCA", 537.6: "540 CCA", 0: "0 CCA"} {
		if got := (words.Voice{}).Quantity(CCA(a)); got != want {
			t.Errorf("%g: %s", a, got)
		}
	}
}

func TestSpellCharge(t *testing.T) {
	for _, c := range []struct {
		b    battery.Band
		want string
	}{
		{battery.Band{Low: 45.2, Best: 52, High: 58.9}, "45 to 59 %"}, {battery.Band{Low: 0, Best: 10, High: 20},
			"at most 20 %"},
		{battery.Band{Low: 1, Best: 10, High: 20}, "1 to 20 %"},
		{battery.Band{Low: 80, Best: 95, High: 100}, "at least 80 %"}, {battery.Band{Low: 50, Best: 50, High: 50},
			"50 %"},
	} {
		if got := SpellCharge(c.b).String(); got != c.want {
			t.Errorf("%+v: %s, want %s", c.b, got, c.want)
		}
	}
}
