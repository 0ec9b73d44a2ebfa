package assess

import (
	"math"
	"strings"
	"testing"

	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/station"
)

// A battery that came in flat, with charging and drain found fine: its week is asked
// for, and says whether that emptied it.
func TestItsWeekSaysWhy(t *testing.T) {
	was := []reading.Reading{rest(11.9), charged("full"), rest(12.65), load(10.3),
		reading.Of(station.Charging, reading.Fields{"volts": 14.2, "speed": "raised", "loads": "off"}),
		reading.Of(station.Drain, reading.Fields{"milliamps": 20, "minutes_asleep": 60})}
	told := func(trips, minutes float64) reading.Reading {
		return reading.Of(station.Week, reading.Fields{"trips": trips, "minutes": minutes})
	}
	judged := func(complaint []string, more ...reading.Reading) Assessment {
		c := car(append(append([]reading.Reading{}, was...), more...)...)
		c.Vehicle.Fuel, c.Complaint = "petrol", complaint
		return Assess(c, readingtest.Labels)
	}
	for _, complaint := range [][]string{nil, {"short_trips"}} {
		a := judged(complaint)
		if a.Next[0].Test != "why_flat" || a.Next[0].Station != station.WhyFlat || a.Next[1].Test != "hand_over" || !a.Ready() ||
			a.Verdict != Good {
			t.Errorf("%v, not told: %s, then %+v", complaint, a.Verdict, a.Next)
		}
		a = judged(complaint, told(3, 3))
		if a.Next[0].Test != "hand_over" || a.Next[0].Why.String() != whyFeed ||
			!strings.Contains(a.Headline.String(), "Its weeks do not fill it") {
			t.Errorf("%v, two short trips: %s then %+v", complaint, a.Headline, a.Next)
		}
		if f := finding(t, a, "week.underfed"); !strings.Contains(f.Text.String(), "lives half charged") {
			t.Error(f.Text)
		}
	}
	a := judged(nil, told(14, 40))
	if a.Next[0].Test != "hand_over" || a.Next[0].Why.String() != whyWarn ||
		!strings.Contains(a.Headline.String(), "Nobody knows why") {
		t.Errorf("well fed: %s, then %+v", a.Headline, a.Next)
	}
	finding(t, a, "week.settles")
	// Without a label its ampere-hours are not known, and nobody is sent to tell.
	c := car(was...)
	c.Battery.Rating = reading.Rating{}
	for _, s := range Assess(c, readingtest.Labels).Next {
		if s.Test == "why_flat" {
			t.Error("its week cannot be worked out")
		}
	}
	// What was found before its week is asked stands before it.
	c = car(append(was[:5:5], reading.Of(station.Drain, reading.Fields{"milliamps": 300, "minutes_asleep": 60}), told(3, 3))...)
	c.Vehicle.Fuel = "petrol"
	if a := Assess(c, readingtest.Labels); a.Verdict != LookElsewhere || a.Next[0].Test != "drain" {
		t.Errorf("a drain was found: %s, then %s", a.Verdict, a.Next[0].Test)
	}
}

// A battery that was charged full and rests low for a full one is 85 % charged at the
// least, where its band allows it: what its volts leave open below is its build.
func TestLeastOfFull(t *testing.T) {
	for _, rests := range []float64{60, 70, 75, 80, 84.5, 92} {
		soc := station.Put(car(at(30), charged("full"), at(rests)), readingtest.Labels).SOC()
		if soc == nil {
			t.Fatalf("at %g %%: no charge", rests)
		}
		want := max(rests, min(85, soc.High))
		if soc.High < 75 {
			want = rests // under a fair test even so: it was not filled
		}
		if math.Abs(soc.Best-want) > 0.05 {
			t.Errorf("rests at %g %%, charged full: %.2f %% (to %.1f), want %g", rests, soc.Best, soc.High, want)
		}
	}
}
