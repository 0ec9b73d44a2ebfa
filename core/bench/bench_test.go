package bench

import (
	"strings"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
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
		r := reading.Of("thing_seen", nil)
		if at := facts[i].At; !at.IsZero() {
			r.At = &at
		}
		c.Readings = append(c.Readings, r)
	}
	return Put(c, facts, words.Spaced, readingtest.Labels)
}

func charged(low, best, high float64) Fact {
	return Fact{Charge: &Charge{RestCharge: battery.RestCharge{Charge: battery.Band{Low: low, Best: best,
		High: high}}, TempC: 21}}
}

func load() Fact {
	return loadThat(Held)
}

// loadThat is a load test that ends so when it is weighed.
func loadThat(r Outcome) Fact {
	return Fact{Load: &Load{Weigh: func(_ *Bench, l *Load) { l.Result = r }, Conclude: func(*Bench, *Load) []Finding { return nil }}}
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
	hazard := Fact{Hazards: []Hazard{{Code: HazardCracked, Name: words.Say("It is cracked"), Stops: true}}}
	if b := on(charged(40, 50, 60), full); b.Charge != nil || b.Full == nil || b.Full.Reading != 1 || len(b.Charges) != 1 {
		t.Errorf("after a full charge: %+v", b)
	}
	if b := on(full, stopped, charged(40, 50, 60)); b.Charge == nil || b.Full != nil || len(b.Charges) != 2 {
		t.Errorf("after a charge stopped early: %+v", b)
	}
	if b := on(charged(40, 50, 60), Fact{Ran: true}); b.Charge != nil {
		t.Error("the engine ran, and its charge is known")
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
	if b := on(hazard, dirty); len(b.Dirty) != 0 || strings.Contains(codes(b), "dirty") || !b.stopped() {
		t.Errorf("a cracked one is not cleaned: %s", codes(b))
	}
	if b := on(Fact{Unjudged: true}, Fact{Unjudged: true}); codes(b) != "reading.kept" ||
		!strings.Contains(b.Findings[0].Text.String(), "rests on it: thing seen.") {
		t.Errorf("kept: %+v", b.Findings)
	}
}

// A load test is history when what it was read through was cleaned and it did not
// hold; when it was charged since and it was not a fair and clear one; and after
// two weeks.
func TestLoadTestsThatAreHistory(t *testing.T) {
	full := Fact{Charged: &Charged{Ended: "full"}}
	clean := Fact{Cleans: true}
	fair, low := charged(80, 90, 100), charged(40, 50, 60)
	for name, c := range map[string]struct {
		facts []Fact
		why   string
	}{
		"held, then cleaned":        {[]Fact{fair, loadThat(Held), clean}, ""},
		"failed, then cleaned":      {[]Fact{fair, loadThat(Sagged), clean}, PastCleaned},
		"near, then cleaned":        {[]Fact{fair, loadThat(Near), clean}, PastCleaned},
		"failed fair, then charged": {[]Fact{fair, loadThat(Sagged), full}, ""},
		"near, then charged":        {[]Fact{fair, loadThat(Near), full}, PastCharged},
		"failed low, then charged":  {[]Fact{low, loadThat(Sagged), full}, PastCharged},
		"held fair, then charged":   {[]Fact{fair, loadThat(Held), full}, ""},
		"held low, then charged":    {[]Fact{low, loadThat(Held), full}, PastCharged},
		"silent, then charged":      {[]Fact{fair, loadThat(Silent), full}, PastCharged},
		"failed, cleaned and again": {[]Fact{fair, loadThat(Sagged), clean, loadThat(Sagged)}, ""},
		"nothing changed":           {[]Fact{fair, loadThat(Sagged)}, ""},
		"two weeks old":             {[]Fact{dated(fair, 0), dated(loadThat(Held), 0), dated(charged(80, 90, 100), 14)}, ""},
		"two weeks and an hour old": {[]Fact{dated(fair, 0), dated(loadThat(Held), 0), dated(charged(80, 90, 100), 14.05)}, PastOld},
	} {
		b := on(c.facts...)
		if got := b.PastWhy; b.Load == nil && got != c.why || b.Load != nil && c.why != "" {
			t.Errorf("%s: load %t, history because %q, want %q", name, b.Load != nil, got, c.why)
		}
	}
	if b := on(fair, loadThat(Sagged), loadThat(Sagged)); b.Fails != 2 {
		t.Errorf("%d failures in a row", b.Fails)
	}
	if b := on(fair, loadThat(Sagged), loadThat(Held), loadThat(Sagged)); b.Fails != 1 {
		t.Errorf("%d failures since it held", b.Fails)
	}
}

var firstDay = time.Date(2026, 11, 1, 9, 0, 0, 0, time.UTC)

// dated gives a fact the time it was taken, days after the first.
func dated(f Fact, days float64) Fact {
	f.At = firstDay.Add(time.Duration(days * 24 * float64(time.Hour)))
	return f
}

// A charge that was read speaks for two days, from both sides; what has no time is
// of today.
func TestAgeOfACharge(t *testing.T) {
	for days, known := range map[float64]bool{0: true, 1.9: true, 2.1: false, 30: false} {
		b := on(dated(charged(80, 90, 100), 0), dated(Fact{}, days))
		if (b.SOC() != nil) != known || strings.Contains(codes(b), "rest_voltage.old") == known {
			t.Errorf("%g days later: %v, %s", days, b.SOC(), codes(b))
		}
	}
	if b := on(charged(80, 90, 100), dated(Fact{}, 30)); b.SOC() == nil {
		t.Error("a charge without a time is lost")
	}
	// What it was when a test was taken, it was.
	b := on(dated(charged(80, 90, 100), 0), dated(load(), 0), dated(Fact{}, 3))
	if b.Load == nil || !b.Load.Fair || b.SOC() != nil {
		t.Errorf("the test's own charge: %+v, now %v", b.Load, b.SOC())
	}
}

// A full charge that cannot have given what was missing did not fill it: by hand,
// 62 Ah at 40 % at most misses 37 Ah; six tenths of that are 22 Ah, 2.2 h at 10 A.
func TestFullTooSoon(t *testing.T) {
	low := charged(20, 30, 40)
	for _, c := range []struct {
		hours, amps float64
		soon        bool
	}{{2.1, 10, true}, {2.4, 10, false}, {0.85, 0, true}, {0.95, 0, false}, {0, 10, false}} {
		b := on(low, Fact{Charged: &Charged{Ended: EndedFull, Hours: c.hours, Amps: c.amps}})
		if got := b.TooSoon(b.Charges[0]); got != c.soon || (b.Full == nil) != c.soon {
			t.Errorf("full after %g h at %g A with %g Ah missing: too soon %t", c.hours, c.amps, b.Charges[0].Missing, got)
		}
	}
	if b := on(Fact{Charged: &Charged{Ended: EndedFull, Hours: 0.1}}); b.Full == nil {
		t.Error("nobody knows what was missing, and it is called too soon")
	}
}

// Refusals in a row: under eight hours half of one, over sixteen two; a charge that
// took ends the count. Common practice, no source.
func TestRefusals(t *testing.T) {
	refused := func(hours float64) Fact { return Fact{Charged: &Charged{Ended: EndedRefused, Hours: hours}} }
	hot, full := Fact{Charged: &Charged{Ended: EndedHot}}, Fact{Charged: &Charged{Ended: EndedFull}}
	for name, c := range map[string]struct {
		facts        []Fact
		refused, hot float64
	}{
		"none": {nil, 0, 0}, "one": {[]Fact{refused(8)}, 1, 0}, "short": {[]Fact{refused(7.9)}, 0.5, 0}, "long": {[]Fact{refused(16)}, 2, 0},
		"no hours": {[]Fact{refused(0)}, 0.5, 0}, "two": {[]Fact{refused(10), refused(10)}, 2, 0},
		"full between": {[]Fact{refused(10), full, refused(10)}, 1, 0}, "hot twice": {[]Fact{hot, hot}, 0, 2},
		"nearly full": {[]Fact{charged(80, 83, 85), refused(16)}, 0, 0}, "not quite": {[]Fact{charged(80, 83, 84.9), refused(16)}, 2, 0},
		"hot and refused": {[]Fact{hot, refused(10)}, 1, 1},
	} {
		if r, h := on(c.facts...).Refusals(); r != c.refused || h != c.hot {
			t.Errorf("%s: refused %g, hot %g", name, r, h)
		}
	}
}

// What a low battery after a full charge says of itself, by time, cable and drain.
// Self-discharge and drain by hand: a night takes a quarter of a percent by itself,
// 28 mA for 14 h 0.6 % of 62 Ah, 2 A 45 %.
func TestHolding(t *testing.T) {
	full := Fact{Charged: &Charged{Ended: EndedFull}}
	lowAt := func(minutes, volts float64, apart bool) Fact {
		f := charged(45, 50, 55)
		f.Charge.Volts, f.Charge.Settled, f.Charge.Apart, f.Charge.Rest.MinutesSinceCharge = volts, true, apart, minutes
		return f
	}
	const day = 24 * 60
	for name, c := range map[string]struct {
		low  Fact
		ma   float64
		want Holding
	}{
		"a night apart":                 {lowAt(840, 12.2, true), 0, Leaks},
		"a night in the vehicle":        {lowAt(840, 12.2, false), 0, Connected},
		"an hour in the vehicle":        {lowAt(60, 12.2, false), 0, Leaks},
		"a night, drain small":          {lowAt(840, 12.2, false), 28, Leaks},
		"a night, drain large":          {lowAt(840, 12.2, false), 2000, Drained},
		"a month in the vehicle":        {lowAt(30*day, 12.2, false), 0, Connected},
		"a month apart":                 {lowAt(30*day, 12.2, true), 0, Leaks},
		"a year apart":                  {lowAt(365*day, 12.2, true), 0, Drained},
		"no time":                       {lowAt(-1, 12.2, true), 0, TimeLost},
		"five cells":                    {lowAt(60, 10.5, false), 0, Shorted},
		"just over what five cells are": {lowAt(840, 10.91, true), 0, Leaks},
	} {
		facts := []Fact{full, c.low}
		b := on(facts...)
		if c.ma > 0 {
			b.Case.Readings[0] = reading.Of("drain", reading.Fields{"milliamps": c.ma})
		}
		if got := b.Holding(); got != c.want {
			t.Errorf("%s: %d, want %d", name, got, c.want)
		}
	}
	if on(lowAt(840, 12.2, true)).Holding() != Holds || on(full, charged(80, 90, 100)).Holding() != Holds {
		t.Error("never full, or not low, and it does not hold")
	}
}

// A load test is judged by the charge it had: the last rest voltage before it, or
// one taken after it when no charge came between.
func TestChargeOfALoadTest(t *testing.T) {
	full := Fact{Charged: &Charged{Ended: "full"}}
	high := charged(80, 90, 100)
	high.Charge.TooHigh = true
	for name, c := range map[string]struct {
		facts []Fact
		known bool
		fair  bool
	}{
		"before":               {[]Fact{charged(70, 75, 80), load()}, true, true},
		"before, too low":      {[]Fact{charged(70, 74.9, 80), load()}, true, false},
		"after":                {[]Fact{load(), charged(80, 90, 100)}, true, true},
		"after a charge":       {[]Fact{load(), full, charged(80, 90, 100)}, false, false},
		"too high to be rest":  {[]Fact{high, load()}, false, false},
		"the nearest, not all": {[]Fact{charged(30, 40, 50), charged(80, 90, 100), load()}, true, true},
	} {
		b := on(c.facts...)
		l := b.Load
		if l == nil {
			l = b.Past // it no longer counts, and had the charge it had
		}
		if (l.Charge != nil) != c.known || l.Fair != c.fair {
			t.Errorf("%s: charge %v, fair %t", name, l.Charge, l.Fair)
		}
	}
}

// The margin to ice is 5 °C, to the degree, and what lies inside the table's own
// error, 2 °C up to 1.200 and 4 °C above, may be ice. Freezing points: CRC and BCI,
// from memory; here only that the bench holds the cold against the model's own.
func TestFreezing(t *testing.T) {
	weakSG := battery.SpecificGravity(battery.Flooded, 40)
	weak, off := battery.FreezingPoint(weakSG), battery.FreezingError(weakSG)
	strong := battery.FreezingPoint(battery.SpecificGravity(battery.Flooded, 60))
	for _, c := range []struct {
		battery, ambient float64
		measured         bool
		code             string
		hazard           bool
	}{
		{weak + FreezeMarginC + 0.1, weak + FreezeMarginC + 0.1, true, "", false},
		{weak + FreezeMarginC - 0.1, 20, true, "freeze.margin", false},
		{20, weak + FreezeMarginC - 0.1, true, "freeze.margin", false},
		{weak + off + 0.1, 20, true, "freeze.margin", false},
		{weak + off - 0.1, 20, true, "freeze.doubt", true},
		{weak + off + 2.9, 20, false, "freeze.doubt", true},
		{weak + off + 3.1, 20, false, "", false},
		{strong + 0.1, 20, true, "freeze.doubt", true},
		{strong - 0.1, 20, true, "freeze.frozen", true},
	} {
		f := charged(40, 50, 60)
		f.Charge.TempC, f.Charge.Rest.TempAssumed = c.battery, !c.measured
		b := on(f)
		b.Findings, b.Hazards = nil, nil
		b.Case.Conditions.AmbientC = &c.ambient
		b.freezing()
		if codes(b) != c.code || b.Hazardous() != c.hazard {
			t.Errorf("acid at %.1f °C, shop at %.1f °C: %q, hazards %+v", c.battery, c.ambient, codes(b), b.Hazards)
		}
	}
	// Acid held in glass mat does not burst a case that nobody has seen split.
	f := charged(40, 50, 60)
	f.Charge.TempC = strong - 20
	b := on(f)
	b.Case.Battery.Chemistry, b.Findings, b.Hazards = battery.AGM, nil, nil
	b.freezing()
	if codes(b) != "freeze.doubt" || b.Hazards[0].Stops {
		t.Errorf("AGM: %s, %+v", codes(b), b.Hazards)
	}
	if FreezeMarginC != 5 {
		t.Errorf("the margin is %g °C", FreezeMarginC)
	}
}

// Under its empty volts a battery's freezing point goes on rising, to 0 °C.
func TestFreezingPointRisesUnderEmpty(t *testing.T) {
	last := -90.0
	for v := 12.2; v > 10.4; v -= 0.05 {
		f := charged(0, 0, 0)
		f.Charge.RestCharge = battery.ChargeFromRest(battery.Flooded, 6, battery.Rest{Volts: v, TempC: 21, Surface: battery.Rested, MinutesSinceCharge: 600})
		f.Charge.Volts = v
		weak, _, ok := on(f).Points()
		if !ok || weak < last-1e-9 || weak > 0 {
			t.Errorf("%.2f V may freeze at %.1f °C, %.2f V at %.1f", v, weak, v+0.05, last)
		}
		last = weak
	}
	if last < -0.5 {
		t.Errorf("at 10.4 V it freezes at %.1f °C: it is water", last)
	}
}

// Too hot from 52 °C, the edge from both sides, by whatever was read last; a charge
// that got hot is too, until it has rested. Common practice, no source.
func TestHot(t *testing.T) {
	at := func(c float64) Fact { return Fact{Warm: &c} }
	hotCharge := Fact{Charged: &Charged{Ended: EndedHot}}
	rested := charged(40, 50, 60)
	rested.Charge.Settled = true
	for name, c := range map[string]struct {
		facts []Fact
		hot   bool
	}{
		"51.9": {[]Fact{at(51.9)}, false}, "52": {[]Fact{at(52)}, true}, "60, then 40": {[]Fact{at(60), at(40)}, false},
		"40, then 60": {[]Fact{at(40), at(60)}, true}, "a hot charge": {[]Fact{hotCharge}, true},
		"a hot charge, rested": {[]Fact{hotCharge, rested}, false}, "a hot charge, cooled": {[]Fact{hotCharge, {Clears: []string{HazardHot}}}, false},
	} {
		if h, ok := on(c.facts...).Held(); ok != c.hot || ok && h.Code != HazardHot {
			t.Errorf("%s: %+v", name, h)
		}
	}
}

// Two testers bear on a verdict when one passes it and the other fails it by their
// own limits, 80 and 60 % of the label by conductance; two that each pass do not,
// however far apart. A failure under load that was repeated on clean posts and a
// full battery stands. Common practice, no source.
func TestContradictionsThatMatter(t *testing.T) {
	own := func(pct float64) Fact {
		f := tester(conductanceKind, 2, pct/100)
		f.Test.Own = pct
		return f
	}
	withTest := func(r Outcome, part float64) Fact {
		f := loadThat(r)
		f.Test = tester(loadTestKind, 1, part).Test
		return f
	}
	strong, failing := func(part float64) Fact { return withTest(Held, part) }, func(part float64) Fact { return withTest(Sagged, part) }
	full, part := charged(92, 95, 98), charged(80, 85, 90)
	dirty := Fact{Dirty: &Finding{Code: "dirty"}}
	for name, c := range map[string]struct {
		facts  []Fact
		matter bool
	}{
		"held, 60 %":                     {[]Fact{full, loadThat(Held), own(60)}, false},
		"held, 59.9 %":                   {[]Fact{full, loadThat(Held), own(59.9)}, true},
		"held, one battery gives both":   {[]Fact{full, strong(0.62), own(59.9)}, false},
		"held, no one battery does":      {[]Fact{full, strong(0.64), own(59.9)}, true},
		"failed, one battery gives both": {[]Fact{full, failing(0.80), own(80)}, true},
		"failed, cleaned, failed, 95 %":  {[]Fact{full, loadThat(Sagged), {Cleans: true}, loadThat(Sagged), own(95)}, false},
		"held, cleaned, failed, 95 %":    {[]Fact{full, loadThat(Near), {Cleans: true}, loadThat(Sagged), own(95)}, true},
		"failed, 79.9 %":                 {[]Fact{full, loadThat(Sagged), own(79.9)}, false},
		"failed, 80 %":                   {[]Fact{full, loadThat(Sagged), own(80)}, true},
		"near, 95 %":                     {[]Fact{full, loadThat(Near), own(95)}, false},
		"failed twice, 95 %":             {[]Fact{full, loadThat(Sagged), loadThat(Sagged), own(95)}, false},
		"failed twice, 95 %, dirty":      {[]Fact{full, dirty, loadThat(Sagged), loadThat(Sagged), own(95)}, true},
		"failed twice, 95 %, part full":  {[]Fact{part, loadThat(Sagged), loadThat(Sagged), own(95)}, true},
		"failed, 95 % before a cleaning": {[]Fact{full, own(95), {Cleans: true}, loadThat(Sagged)}, false},
		"failed while low, 95 %":         {[]Fact{charged(40, 50, 60), loadThat(Sagged), own(95)}, false},
		"failed, no tester":              {[]Fact{full, loadThat(Sagged)}, false},
	} {
		if got := on(c.facts...).Undecided(); got != c.matter {
			t.Errorf("%s: undecided %t", name, got)
		}
	}
}

// A tester that failed it twice outvotes a load that held, where both readings are young
// enough to be of this battery as it is now; from both sides of two weeks. House judgement.
func TestTesterRepeatedWithinWeeks(t *testing.T) {
	now := time.Date(2026, 5, 4, 9, 0, 0, 0, time.UTC)
	for days, undecided := range map[float64]bool{0: false, 13.9: false, 14.1: true, 31: true} {
		facts := []Fact{tester(conductanceKind, 2, 0.5), charged(92, 95, 98), loadThat(Held), tester(conductanceKind, 2, 0.5)}
		for i := range facts {
			facts[i].At = now
			if facts[i].Test != nil {
				facts[i].Test.Own = 50
			}
		}
		facts[0].At = now.Add(-time.Duration(days * 24 * float64(time.Hour)))
		b := on(facts...)
		for i, f := range facts {
			if f.Test != nil {
				b.Case.Readings[i].Kind = conductanceKind
			}
		}
		if got := b.Undecided(); got != undecided {
			t.Errorf("read twice, %.1f days apart: undecided %t", days, got)
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
		{[]Fact{charged(90, 95, 100), dirty}, "Clean"}, {nil, "rest volts"}, {[]Fact{charged(80, 89.9, 95)},
			"Charge it full"},
		{[]Fact{charged(80, 90, 95)}, "on the posts"},
	} {
		if got := on(c.facts...).Settle().String(); !strings.Contains(got, c.want) {
			t.Errorf("%d facts: %s, want %s", len(c.facts), got, c.want)
		}
	}
}

// Strength is one figure of all testers, in the order of their rank, and needs a
// charge, a rating and no hazard.
func TestStrength(t *testing.T) {
	full := charged(90, 95, 100)
	loaded := tester("load_test", 1, 0.81)
	loaded.Load = load().Load
	b := on(full, tester("conductance", 2, 0.80), loaded, tester("conductance", 2, 0.82))
	s := b.Strength()
	if len(s.Evidence) != 2 || s.Evidence[0].Kind != "load_test" || s.Evidence[1].Reading != 3 || s.Joint == nil ||
		s.Joint.Best < 520 || s.Joint.Best > 540 {
		t.Errorf("%+v, joint %+v", s.Evidence, s.Joint)
	}
	b.TellStrength()
	if got := codes(b); got != "strength.load_test strength.conductance strength.agree" {
		t.Errorf("told: %s", got)
	}
	if part, ok := b.Part(); !ok || part.Best < 80 || part.Best > 83 {
		t.Errorf("%+v of the label", part)
	}
	// Three that no one battery gives, none of which fails it by its own limits: the
	// heaviest load has the word.
	loaded = tester("load_test", 1, 0.50)
	loaded.Load = load().Load
	b = on(full, tester("crank", 3, 0.65), tester("conductance", 2, 0.80), loaded)
	s = b.Strength()
	if s.Evidence[0].Rank != 1 || s.Evidence[1].Rank != 2 || s.Evidence[2].Rank != 3 || !s.Apart || s.Contradicted() ||
		s.Joint.Best != s.Evidence[0].CCA.Best || s.OfLabel(s.Evidence[0]) != 50 {
		t.Errorf("%+v, joint %+v", s.Evidence, s.Joint)
	}
	cleaned := on(full, tester("conductance", 2, 0.8), Fact{Cleans: true})
	if s := cleaned.Strength(); len(s.Evidence) != 0 {
		t.Errorf("read through what was cleaned since: %+v", s)
	}
	crack := Hazard{Code: HazardLeaking, Name: words.Say("It leaks"), Stops: true}
	for name, b := range map[string]*Bench{
		"no charge": on(tester("conductance", 1, 0.8)),
		"a hazard":  on(full, Fact{Hazards: []Hazard{crack}}, tester("conductance", 1, 0.8)),
	} {
		if s := b.Strength(); len(s.Evidence) != 0 || s.Joint != nil || s.Contradicted() {
			t.Errorf("%s: %+v", name, s)
		}
	}
	bare := on(full, tester("conductance", 1, 0.8))
	bare.SAE, bare.strength = rating.SAECCA{}, nil
	if s := bare.Strength(); len(s.Evidence) != 0 {
		t.Errorf("no rating: %+v", s)
	}
}

// Motorcycle AGM and hybrid auxiliaries are apart from their chemistry where the
// label gives ampere-hours alone: 18 and 7 A for each. Read off common labels.
func TestAmpsOfAClass(t *testing.T) {
	ah := 10.0
	for class, want := range map[string]float64{"motorcycle": 180, "hybrid": 70, "car": 0} {
		b := on()
		b.Case.Vehicle.Class, b.Case.Battery.Chemistry, b.Case.Battery.Rating = class, battery.AGM, reading.Rating{Ah20h: &ah}
		if got := b.label().CCA; got != want {
			t.Errorf("%s: %g A of 10 Ah, want %g", class, got, want)
		}
	}
}

// Years from which age is told, from both sides: watched from three, lived from six.
// Common practice, no source.
func TestAge(t *testing.T) {
	for made, want := range map[string]string{"2023-12": "", "2023-11": "3 years old: watch", "2020-12": "5 years old: watch", "2020-11": "6 years old: it has lived",
		"": "", "2013-05": "13 years"} {
		b := on()
		b.Case.Battery.Made, b.Now, b.Findings = made, firstDay, nil
		b.buildFindings()
		got := ""
		for _, f := range b.Findings {
			got += f.Text.String()
		}
		if (want == "") != (got == "") || !strings.Contains(got, want) {
			t.Errorf("made %s: %q, want %q", made, got, want)
		}
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

// A lead lifts what stops the work, and only what he names; what waits to be dealt
// with is not lifted but dealt with.
func TestWhatALeadLifts(t *testing.T) {
	cracked := Fact{Hazards: []Hazard{{Code: HazardCracked, Stops: true}}}
	leaking := Fact{Hazards: []Hazard{{Code: HazardLeaking, Stops: true}}}
	gas := Fact{Hazards: []Hazard{{Code: HazardGas}}}
	lifts := func(codes ...string) Fact { return Fact{Lifts: codes} }
	for _, c := range []struct {
		name  string
		facts []Fact
		want  string
	}{
		{"one of two", []Fact{cracked, leaking, lifts(HazardCracked)}, HazardLeaking},
		{"both", []Fact{cracked, leaking, lifts(HazardCracked, HazardLeaking)}, ""},
		{"before it was found", []Fact{lifts(HazardCracked), cracked}, HazardCracked},
		{"a smell", []Fact{gas, lifts(HazardGas)}, HazardGas},
	} {
		b := on(c.facts...)
		got := ""
		for _, h := range b.Hazards {
			got += h.Code
		}
		if got != c.want {
			t.Errorf("%s: %q stands, want %q", c.name, got, c.want)
		}
	}
}
