package assess

import (
	"testing"
	"time"

	"grapnel/core/bench"
	"grapnel/core/guide"
	"grapnel/core/reading"
	. "grapnel/core/reading/readingtest"
)

var thatDay = time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)

// A guide is made of the sheet: its hazards, whether it was charged full, its class's rules.
func TestSceneIsTheSheets(t *testing.T) {
	found := func(what string) reading.Reading {
		return reading.Of("inspection", reading.Fields{"found": []string{what}})
	}
	s := Scene(Car(found("case_bulged")), Labels, guide.Site{Place: "boot"}, false, thatDay)
	if len(s.Hazards) != 1 || s.Hazards[0].Code != bench.HazardBulged || s.Site.Place != "boot" || s.Year != 2026 || s.Site.Full {
		t.Errorf("%+v", s)
	}
	full := Car(found("clean"), Rest(12.2), reading.Of("charged", reading.Fields{"ended": "full", "hours": 9.0}))
	if s := Scene(full, Labels, guide.Site{}, false, thatDay); !s.Site.Full {
		t.Error("charged full, and the guide does not know")
	}
	if s := Scene(full, Labels, guide.Site{}, true, thatDay); s.Site.Full {
		t.Error("a guide that is under way changes under the hands")
	}
	gone := Car(found("case_bulged"), reading.Of("replaced", reading.Fields{"with": "S-01"}))
	if s := Scene(gone, Labels, guide.Site{}, true, thatDay); len(s.Hazards) > 0 {
		t.Errorf("the hazard of a battery that is out: %+v", s.Hazards)
	}
	// Every hazard of the bench is one a guide knows.
	for _, h := range []string{bench.HazardBulged, bench.HazardCracked, bench.HazardLeaking, bench.HazardFrozen,
		bench.HazardEye, bench.HazardDry, bench.HazardGas,
		bench.HazardHot, bench.HazardIce} {
		g := guide.Make(guide.Cleaning, guide.Scene{Vehicle: full.Vehicle, Battery: full.Battery, Rules: full.Rules,
			Hazards: []guide.Hazard{{Code: h}}})
		if len(g.Steps) > 0 || g.Refusal.String() == ": put that right first." {
			t.Errorf("%s: %q", h, g.Refusal)
		}
	}
}

// Only a verdict is reason enough to replace: an end, a weak one, or a hazard that ends it.
func TestWarrants(t *testing.T) {
	weak := Car(reading.Of("inspection", reading.Fields{"found": []string{"clean"}}), Rest(12.7))
	for name, c := range map[string]struct {
		c    reading.Case
		want bool
	}{
		"nothing read": {Car(), false},
		"sound": {Car(reading.Of("inspection", reading.Fields{"found": []string{"clean"}}), Rest(12.7), Load(10.4)),
			false},
		"cracked":   {Car(reading.Of("inspection", reading.Fields{"found": []string{"case_cracked"}})), true},
		"frozen":    {Car(reading.Of("inspection", reading.Fields{"found": []string{"frozen"}})), false},
		"low":       {Car(Rest(12.1)), false},
		"collapsed": {Car(append(weak.Readings, Load(6), Load(6))...), true},
	} {
		if a := Assess(c.c, Labels); Warrants(a) != c.want {
			t.Errorf("%s: %s, %v", name, a.Verdict, Warrants(a))
		}
	}
}

// What the present battery tells of what is needed, with the most the vehicle has charged at.
func TestNeedsOfTheSheet(t *testing.T) {
	charging := func(v float64) reading.Reading {
		return reading.Of("charging", reading.Fields{"volts": v, "speed": "idle", "loads": "off"})
	}
	c := Car(charging(14.1), charging(14.6), charging(13.9))
	n := NeedsOf(c)
	if n.CCA != *c.Battery.Rating.CCA || n.Chemistry != c.Battery.Chemistry || n.ChargingV != 14.6 {
		t.Errorf("%+v", n)
	}
}

// What the sheet of a battery on the shelf says of it.
func TestShelfTest(t *testing.T) {
	if got := ShelfTest(Car(), Labels, time.UTC); got != nil {
		t.Errorf("nothing read: %+v", got)
	}
	rest := Rest(12.7)
	rest.At = &thatDay
	got := ShelfTest(Car(rest, reading.Of("conductance", reading.Fields{"cca": 640.0, "standard": "SAE"})), Labels, time.UTC)
	if got.RestVolts != 12.7 || got.On != "2026-11-24" || got.CCA != 640 || got.Standard != "SAE" || got.Verdict == "" {
		t.Errorf("%+v", got)
	}
	// Charged since and not rested: nobody knows how full it is.
	charged := ShelfTest(Car(Rest(12.1), reading.Of("charged", reading.Fields{"ended": "full", "hours": 9.0})), Labels, time.UTC)
	if charged.RestVolts != 0 {
		t.Errorf("the volts from before the charge speak on: %+v", charged)
	}
	bad := ShelfTest(Car(reading.Of("inspection", reading.Fields{"found": []string{"case_cracked"}}), Rest(12.7)), Labels, time.UTC)
	if bad.Verdict != string(Stop) {
		t.Errorf("%+v", bad)
	}
}
