package assess

import (
	"math"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/station"
	"grapnel/internal/fatal"
)

func conductance(cca float64) reading.Reading {
	return reading.Of(station.Conductance, reading.Fields{"cca": cca, "standard": string(rating.SAE)})
}

// A battery of known wear, read by a load tester and by a conductance tester,
// comes out at its own strength by both, and they agree. The readings are the
// model's; the estimate must find the wear again through the whole case.
func TestStrengthInACase(t *testing.T) {
	b, _, err := battery.FromLabel(battery.Flooded, 6, rating.Label{CCA: 650, Ah20h: 62})
	if err != nil {
		t.Fatal(err)
	}
	old := fatal.Of(b.Worn(70))
	volts := fatal.Of(old.EndVolts(95, 21, 325, 15))
	rested := battery.RestVolts(battery.Flooded, 6, 95, 21)
	found := 650 * b.Resistance(100, 25) / old.Resistance(95, 25)
	for name, rs := range map[string][]reading.Reading{
		"load":               {rest(rested), load(volts)},
		"conductance":        {rest(rested), conductance(found)},
		"both":               {rest(rested), load(volts), conductance(found)},
		"rest voltage after": {conductance(found), rest(rested)},
	} {
		a := Assess(car(rs...), readingtest.Labels)
		e := a.CCAEst
		if e == nil || math.Abs(e.OfRatingPct-70) > 5 || e.Low >= e.Best || e.Best >= e.High {
			t.Errorf("%s: %+v, truly 70 %% of 650", name, e)
		}
	}
	a := Assess(car(rest(rested), load(volts), conductance(found)), readingtest.Labels)
	finding(t, a, "strength.agree")
	if f := finding(t, a, "strength.load_test"); !strings.Contains(f.Other.String(), "weak") || f.Source == "" ||
		f.Readings[0] != 1 {
		t.Errorf("%+v", f)
	}
	// The load test passes what the conductance school calls weak: the ledger shows
	// both.
	finding(t, a, "load_test.held")
}

// 10.7 V under half the CCA and 40 % conductance are no one battery's: the ledger
// says so, says what would settle it, and gives no figure.
func TestTestersThatContradict(t *testing.T) {
	a := Assess(car(rest(12.64), load(10.7), conductance(260)), readingtest.Labels)
	f := finding(t, a, "strength.disagree")
	if a.CCAEst != nil || f.Level != bench.Act || !strings.Contains(f.Why.String(), "on the posts") ||
		len(f.Readings) != 2 {
		t.Errorf("%+v, estimate %+v", f, a.CCAEst)
	}
	for _, g := range gauges(car(rest(12.64), load(10.7), conductance(260))) {
		if g.Quantity == "cranking" && (g.Band != nil || g.Level != bench.Act) {
			t.Errorf("%+v", g)
		}
	}
	// Neither is outvoted: not handed back on the one, not condemned on the other.
	for name, rs := range map[string][]reading.Reading{
		"held, conductance low":  {rest(12.64), load(10.7), conductance(260)},
		"failed, conductance ok": {rest(12.64), load(8.0), conductance(640)},
	} {
		if a := Assess(car(rs...), readingtest.Labels); a.Verdict != MoreReadings || a.Next[0].Test != "load_test" || a.Because.IsZero() {
			t.Errorf("%s: %s, %+v", name, a.Verdict, a.Next)
		}
	}
	if a := Assess(car(rest(12.64), load(8.0), conductance(240)), readingtest.Labels); a.Verdict != Replace {
		t.Errorf("both weak: %s", a.Verdict)
	}
	if a := Assess(car(inspected("corrosion_live"), rest(12.64), load(8.0),
		conductance(640)), readingtest.Labels); a.Next[0].Test != "clean" {
		t.Errorf("dirty: %+v", a.Next)
	}
	if a := Assess(car(rest(12.47), load(8.0), conductance(640)), readingtest.Labels); a.Next[0].Test != "charge" {
		t.Errorf("part charged: %+v", a.Next)
	}
	dirty := finding(t, Assess(car(inspected("corrosion_live"), rest(12.64), load(10.7), conductance(260)), readingtest.Labels),
		"strength.disagree")
	if !strings.Contains(dirty.Why.String(), "Clean") {
		t.Errorf("%+v", dirty)
	}
	low := finding(t, Assess(car(rest(12.45), load(10.7), conductance(260)), readingtest.Labels), "strength.disagree")
	if !strings.Contains(low.Why.String(), "Charge it full") {
		t.Errorf("%+v", low)
	}
}

// Nothing is made up: no charge, no rating or a hazard give no strength, and a
// reading of strength alone decides nothing.
func TestNoStrengthWithoutGrounds(t *testing.T) {
	for name, c := range map[string]reading.Case{
		"no rest voltage":    car(load(9.9)),
		"charged in between": car(conductance(500), charged("full"), rest(12.6)),
		"leaking":            car(inspected("leaking"), rest(12.6), load(9.9)),
		"off the charger":    car(rest(13.6), load(9.9)),
		"starter, amps unread": car(rest(12.6), reading.Of(station.LoadTest, reading.Fields{"method": station.Starter,
			"volts_end": 10.2})),
	} {
		if a := Assess(c, readingtest.Labels); a.CCAEst != nil {
			t.Errorf("%s: %+v", name, a.CCAEst)
		}
	}
	bare := car(rest(12.6), load(9.9))
	bare.Battery.Rating = reading.Rating{}
	if a := Assess(bare, readingtest.Labels); a.CCAEst != nil {
		t.Errorf("no rating: %+v", a.CCAEst)
	}
	if a := Assess(car(rest(12.65), conductance(200)), readingtest.Labels); a.Verdict != MoreReadings || a.Next[0].Test != "load_test" {
		t.Errorf("a conductance figure alone: %s", a.Verdict)
	}
}

// A crank with its amps is a load test of a second at the starter's surge, and
// says less; an EN figure is read in its own amps.
func TestOtherWitnesses(t *testing.T) {
	b, _, err := battery.FromLabel(battery.Flooded, 6, rating.Label{CCA: 650, Ah20h: 62})
	if err != nil {
		t.Fatal(err)
	}
	old := fatal.Of(b.Worn(80))
	crank := reading.Of(station.Crank,
		reading.Fields{"volts_min": fatal.Of(old.EndVolts(90, 21, 4*180, 0.3)), "seconds": 2, "amps": 180, "turned": "normal"})
	full := battery.RestVolts(battery.Flooded, 6, 90, 21)
	cranked := Assess(car(rest(full), crank), readingtest.Labels)
	if f := finding(t, cranked, "strength.crank"); !strings.Contains(f.Why.String(), "720 A at the first surge, for 180 A") {
		t.Errorf("%s", f.Why)
	}
	if e := cranked.CCAEst; e == nil || math.Abs(e.OfRatingPct-80) > 6 ||
		(e.High-e.Low)/e.Best < 0.4 {
		t.Errorf("crank: %+v, truly 80 %% and not sharply", e)
	}
	en := conductance(613)
	en = en.With("standard", "EN") // 613 EN is 650 SAE
	if e := Assess(car(rest(12.65), en), readingtest.Labels).CCAEst; e == nil || math.Abs(e.OfRatingPct-100) > 4 {
		t.Errorf("613 EN found: %+v", e)
	}
	// A figure without a standard is by the label's: 600 found on a 600 EN label.
	c := car(rest(12.65), conductance(600))
	c.Readings[1] = c.Readings[1].With("standard", nil)
	c.Battery.Rating = reading.Rating{CCA: num(600), Standard: rating.EN}
	if e := Assess(c, readingtest.Labels).CCAEst; e == nil || math.Abs(e.OfRatingPct-100) > 5 {
		t.Errorf("600 on 600 EN: %+v", e)
	}
}

// A label that no battery could keep is doubted before strength is judged by it.
func TestDoubtfulLabel(t *testing.T) {
	c := car(rest(12.65), load(10.2))
	c.Battery.Rating = reading.Rating{CCA: num(650), Ah20h: num(9)}
	if f := finding(t, Assess(c, readingtest.Labels), "rating.doubt"); !strings.Contains(f.Why.String(), "9 Ah") {
		t.Errorf("%+v", f)
	}
	c.Readings = nil // it is told before anything is read
	finding(t, Assess(c, readingtest.Labels), "rating.doubt")
	for _, f := range Assess(car(rest(12.65), load(10.2)), readingtest.Labels).Findings {
		if f.Code == "rating.doubt" {
			t.Errorf("a fine label: %+v", f)
		}
	}
}

// Glance is the assessment but for the figures of strength.
func TestGlanceIsTheVerdict(t *testing.T) {
	for _, c := range []reading.Case{car(), car(rest(12.2)), car(rest(12.65), load(8.4)), car(rest(12.65), load(10.4),
		conductance(600)), car(rest(12.65), load(8), conductance(640)), car(inspected("leaking"))} {
		a, g := Assess(c, readingtest.Labels), Glance(c, readingtest.Labels)
		if a.Verdict != g.Verdict || a.Headline.String() != g.Headline.String() || len(a.Next) != len(g.Next) ||
			g.CCAEst != nil {
			t.Errorf("%s %v, at a glance %s %v", a.Verdict, a.Headline, g.Verdict, g.Headline)
		}
	}
}

// A new battery's volts stand on the load gauge, above the limit; the strength
// gauge has the label in range for any label.
func TestStrengthGauges(t *testing.T) {
	for _, cca := range []float64{20, 180, 325, 650, 900, 1400, 2500} {
		c := car(rest(12.65), load(10.2))
		c.Battery.Rating = reading.Rating{CCA: num(cca)}
		c.Readings[1] = c.Readings[1].With("amps", cca/2)
		for _, g := range gauges(c) {
			switch g.Quantity {
			case "cranking":
				if g.Max < 1.15*cca || g.Max > 2*cca || g.Max/g.Step > 12 || g.Band == nil ||
					g.Band.High <= g.Band.Low {
					t.Errorf("%g CCA: %+v", cca, g)
				}
			case "load_volts":
				fresh := g.Notches[1]
				if !strings.HasPrefix(fresh.Word.String(), "new ") || fresh.At < 10.2 || fresh.At > 11.2 ||
					fresh.At <= g.Notches[0].At {
					t.Errorf("%g CCA: %+v", cca, g.Notches)
				}
			}
		}
	}
}

// A full case's verdict and steps, for lists.
func BenchmarkGlance(b *testing.B) {
	c := full()
	for b.Loop() {
		Ended(c, readingtest.Labels)
	}
}
