package assess

import (
	"fmt"
	"strings"
	"testing"

	"grapnel/core/jump"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/words"
)

const onPack = `{"source": {"kind": "pack", "peak_amps": 600}}`

func jumpOf(t *testing.T, c reading.Case, request string) jump.Plan {
	t.Helper()
	p, known, err := PlanJump(c, readingtest.Labels, []byte(request), words.Voice{})
	if err != nil || !known {
		t.Fatal(known, err)
	}
	return p
}

// What the sheet knows is what is planned with: vehicle, label, charge, cold, and what a
// crank of this very engine drew and lost; the request only adds to it.
func TestPlanJumpOfACase(t *testing.T) {
	flat := car(at(10))
	flat.Vehicle.Fuel = "diesel"
	p := jumpOf(t, flat, onPack)
	if !p.Allowed || p.Reached == nil || !strings.Contains(p.About.String(), "diesel, quite flat at 10 %") {
		t.Errorf("%s: %+v", p.About, p.Reached)
	}
	better := jumpOf(t, car(at(60)), onPack)
	if better.Reached.Best <= p.Reached.Best {
		t.Errorf("half charged it reaches %g, flat %g", better.Reached.Best, p.Reached.Best)
	}
	// What the request says of charge, label and hazards gives way to the sheet.
	lies := jumpOf(
		t,
		flat,
		`{"flat": {"soc_pct": 100, "hazards": ["leaking"], "battery": 7, "vehicle": null}, "source": {"kind": "pack", "peak_amps": 600}}`,
	)
	if !lies.Allowed || lies.Reached.Best != p.Reached.Best {
		t.Errorf("%+v against %+v", lies.Reached, p.Reached)
	}
	// Twice the draw, and cables that lose a volt at it.
	cranked := flat
	cranked.Readings = append(
		cranked.Readings,
		reading.Of(station.Crank, reading.Fields{"volts_min": 9.0, "amps": 400.0, "turned": "slow",
			"drop_live_volts": 1.0, "drop_earth_volts": 0.2}),
	)
	slow := jumpOf(t, cranked, onPack)
	if slow.Reached.Best >= p.Reached.Best {
		t.Errorf("it drew much and reaches %g instead of %g", slow.Reached.Best, p.Reached.Best)
	}
	lost := 0.0
	for _, l := range slow.Losses {
		if l.Part == "live_cable" {
			lost = l.Milliohms
		}
	}
	if lost != 2.5 {
		t.Errorf("a volt at 400 A is %g mΩ", lost)
	}
	// An engine that did not turn says nothing of its steady draw.
	stuck := flat
	stuck.Readings = append(
		stuck.Readings,
		reading.Of(station.Crank, reading.Fields{"volts_min": 9.0, "amps": 400.0, "turned": "no"}),
	)
	if got := jumpOf(t, stuck, onPack); got.Reached.Best != p.Reached.Best {
		t.Errorf("%g instead of %g", got.Reached.Best, p.Reached.Best)
	}
}

// Every hazard on the bench refuses it, with what to do; the house's school settles the
// last clamp, by class where it has one.
func TestPlanJumpHazardsAndSchools(t *testing.T) {
	for _, found := range []string{"case_bulged", "case_cracked", "leaking", "frozen", "plates_dry", "rotten_egg_smell"} {
		p := jumpOf(t, readingtest.Car(at(20), inspected(found)), onPack)
		if p.Allowed || len(p.Refusals) == 0 {
			t.Errorf("%s is jumped", found)
		}
	}
	if p := jumpOf(t, car(at(20), reading.Of(station.Eye, reading.Fields{"colour": "clear"})), onPack); p.Allowed {
		t.Error("a clear eye is jumped")
	}
	cold := car(at(5))
	cold.Conditions.BatteryC, cold.Conditions.AmbientC = new(float64), new(float64)
	*cold.Conditions.BatteryC, *cold.Conditions.AmbientC = -12, -12
	if p := jumpOf(t, cold, onPack); p.Allowed || p.Refusals[0].Code != "may_be_frozen" {
		t.Errorf("%+v", p.Refusals)
	}
	last := func(c reading.Case, request string) string {
		for _, a := range jumpOf(t, c, request).Connect {
			if a.Clamp == 2 {
				return a.Place
			}
		}
		return ""
	}
	c := car(at(20))
	if got := last(c, onPack); got != jump.AtMetal {
		t.Errorf("last at %s", got)
	}
	rule, _ := rules.Find(rules.JumpClamp)
	c.Rules = c.Rules.Set(rules.JumpClamp, "", rule.Schools[1])
	if got := last(c, onPack); got != jump.AtFlatEarthed {
		t.Errorf("the house says the post, last at %s", got)
	}
	if got := last(c, `{"clamp_on": "body", "source": {"kind": "pack", "peak_amps": 600}}`); got != jump.AtMetal {
		t.Errorf("the request says the metal, last at %s", got)
	}
	own := car(at(20))
	own.Rules = own.Rules.Set(rules.JumpClamp, "car", rule.Schools[1])
	if ClampOn(own.Rules, "car") != jump.OnPost || ClampOn(own.Rules, "van") != jump.OnBody {
		t.Error("a class has no custom of its own")
	}
}

// Bad requests are told of, and a label without figures is no plan.
func TestPlanJumpBadInput(t *testing.T) {
	for request, say := range map[string]string{`{`: "broken JSON", `[]`: "an object is needed", `{}`: "source: is missing",
		`{"source": {"kind": "pack"}}`:                                    "peak_amps",
		`{"flat": {"colour": 1}, "source": {"kind": "pack", "cca": 300}}`: "flat.colour"} {
		if _, _, err := PlanJump(car(at(20)), readingtest.Labels, []byte(request), words.Voice{}); err == nil ||
			!strings.Contains(err.Error(), say) {
			t.Errorf("%s: %v", request, err)
		}
	}
	bare := car(at(20))
	bare.Battery.Rating = reading.Rating{}
	if _, known, err := PlanJump(bare, readingtest.Labels, []byte(onPack), words.Voice{}); known || err != nil {
		t.Errorf("known %t, %v", known, err)
	}
}

// Once a jump start has worked its charging volts come first, and why it went flat stays
// open; not where it failed, a hazard stands, something was read since, or there is no
// alternator to look at.
func TestWhileItRuns(t *testing.T) {
	jumped := func(ok bool) reading.Reading {
		return reading.Of(station.JumpResult, reading.Fields{"started": ok})
	}
	running := reading.Of(station.Charging, reading.Fields{"volts": 14.2, "speed": "raised", "loads": "off"})
	hybrid := readingtest.Car(at(20), jumped(true))
	hybrid.Vehicle.Class = "hybrid"
	for name, c := range map[string]struct {
		c     reading.Case
		first bool
	}{
		"started": {readingtest.Car(at(20), jumped(true)), true}, "failed": {readingtest.Car(at(20), jumped(false)),
			false}, "read since": {readingtest.Car(at(20), jumped(true), running), false},
		"leaking": {readingtest.Car(at(20), inspected("leaking"), jumped(true)), false}, "hybrid": {hybrid,
			false}, "nothing": {car(), false},
	} {
		a := Assess(c.c, readingtest.Labels)
		if first := len(a.Next) > 0 && a.Next[0].Test == "charging" && strings.Contains(a.Next[0].Why.String(),
			"runs now"); first != c.first {
			t.Errorf("%s: %v", name, fmt.Sprint(a.Next))
		}
		n := 0
		for _, s := range a.Next {
			if s.Test == "charging" {
				n++
			}
		}
		if n > 1 {
			t.Errorf("%s: asked %d times", name, n)
		}
	}
}
