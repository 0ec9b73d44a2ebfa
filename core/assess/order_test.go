package assess

import (
	"slices"
	"testing"
	"time"

	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/suspect"
	"grapnel/core/words"
)

func complained(c reading.Case, words ...string) reading.Case {
	c.Complaint = words
	return c
}

func testsOf(steps []Step) []string {
	var out []string
	for _, s := range steps {
		out = append(out, s.Test)
	}
	return out
}

// Where the verdict leaves open what is measured next, the test that tells most for its
// minutes stands first; a house that goes by its stations has them as they come.
func TestOrderOfTests(t *testing.T) {
	c := complained(car(inspected("clean"), rest(12.65), load(10.3)), "warning_lights", "slow_crank")
	best := testsOf(Assess(c, readingtest.Labels).Next)
	if best[0] != "charging" || !slices.Contains(best, "cable_drop") || best[len(best)-1] != "hand_over" {
		t.Errorf("by what tells most: %v", best)
	}
	c.Rules.TestOrder = rules.StationOrder
	a := Assess(c, readingtest.Labels)
	if got := testsOf(a.Next); !slices.Equal(got, []string{"acid", "cable_drop", "charging", "hand_over"}) {
		t.Errorf("by stations: %v", got)
	}
	places := []int{}
	for _, s := range a.Tests {
		at, _ := station.Of(s.Station)
		places = append(places, at.Place)
	}
	if len(places) < 2 || !slices.IsSorted(places) {
		t.Errorf("offered at %v", places)
	}
}

// Three tests are offered at most, and none that tells less than 0.03 bits.
func TestWhatIsOfferedBeside(t *testing.T) {
	b := station.Put(car(rest(12.6)), readingtest.Labels)
	op := suspect.Opinion{Tests: []suspect.Test{
		{Code: station.LoadTest, Bits: 0.03, Work: 6}, {Code: station.Charging, Bits: 0.029, Work: 5}, {Code: station.Drain, Bits: 0.5, Work: 6, Wait: 25},
		{Code: station.CableDrop, Bits: 0.4, Work: 10}, {Code: station.Hydrometer, Bits: 0.3, Work: 8},
	}}
	got := offered(b, op)
	if want := []string{"load_test", "drain", "cable_drop"}; !slices.Equal(testsOf(got), want) {
		t.Errorf("%v, want %v", testsOf(got), want)
	}
	if got[1].Waits != 25 || got[1].Minutes != 6 || got[1].Bits != 0.5 || got[1].Why.IsZero() {
		t.Errorf("%+v", got[1])
	}
}

// Before a battery that holds goes back, what would still settle much is asked for: from
// 0.08 bits, and 0.018 for each minute; cables only of an engine that would not turn.
func TestAskedBeforeItGoes(t *testing.T) {
	holds := complained(car(inspected("clean"), at(40), charged("full"), rest(12.65), load(10.3)), "slow_crank")
	b := station.Put(holds, readingtest.Labels)
	a := decide(b)
	if a.Verdict != Good {
		t.Fatal(a.Verdict)
	}
	asks := func(c reading.Case, x suspect.Test) bool {
		b := station.Put(c, readingtest.Labels)
		return slices.Contains(testsOf(askedFirst(b, decide(b), suspect.Opinion{Tests: []suspect.Test{x}})), stepOf(x.Code))
	}
	for _, c := range []struct {
		name string
		test suspect.Test
		want bool
	}{
		{"settles enough", suspect.Test{Code: station.Hydrometer, Bits: 0.08, Work: 4}, true},
		{"settles too little", suspect.Test{Code: station.Hydrometer, Bits: 0.079, Work: 1}, false},
		{"worth its minutes", suspect.Test{Code: station.Hydrometer, Bits: 0.18, Work: 10}, true},
		{"not worth them", suspect.Test{Code: station.Hydrometer, Bits: 0.179, Work: 10}, false},
		{"only after a charge", suspect.Test{Code: station.Hydrometer, Bits: 1, Work: 1, After: "charge"}, false},
		{"the cables of a slow one", suspect.Test{Code: station.CableDrop, Bits: 1, Work: 10}, true},
	} {
		if got := asks(holds, c.test); got != c.want {
			t.Errorf("%s: asked %t", c.name, got)
		}
	}
	if asks(complained(holds, "dim_lights"), suspect.Test{Code: station.CableDrop, Bits: 1, Work: 10}) {
		t.Error("it turned, and its cables are asked for")
	}
	// Its week is told last: what measures comes before what is only told.
	flat := complained(car(inspected("clean"), at(30), charged("full"), rest(12.65), load(10.3),
		reading.Of(station.Charging, reading.Fields{"volts": 14.2, "speed": "raised", "loads": "off"}),
		reading.Of(station.Drain, reading.Fields{"milliamps": 20, "minutes_asleep": 60})), "slow_crank")
	fb := station.Put(flat, readingtest.Labels)
	if got := testsOf(askedFirst(fb, decide(fb), suspect.Opinion{Tests: []suspect.Test{{Code: station.Hydrometer, Bits: 1, Work: 4}}})); !slices.Equal(got, []string{"acid", "why_flat", "hand_over"}) {
		t.Errorf("flat, with the acid still worth reading: %v", got)
	}
	// Nothing more is asked once something was mended, or where nothing was complained of.
	quiet := car(inspected("clean"), rest(12.65), load(10.3))
	if got := testsOf(Assess(quiet, readingtest.Labels).Next); !slices.Equal(got, []string{"hand_over"}) {
		t.Errorf("nothing complained of: %v", got)
	}
	for what, want := range map[string]bool{"starter": true, "drain": true, "cover": false} {
		c := holds
		c.Readings = append(slices.Clone(c.Readings), reading.Of(station.PutRight, reading.Fields{"what": []string{what}}))
		if got := mended(station.Put(c, readingtest.Labels)); got != want {
			t.Errorf("%s put right: mended %t", what, got)
		}
	}
}

// A battery that failed its load goes after its posts were cleaned and it was loaded once
// more, where contacts may be why: from 0.8 % likely, complained of, looked at, not
// cleaned yet. The verdict stands.
func TestConfirmedOnCleanPosts(t *testing.T) {
	fails := complained(car(inspected("clean"), rest(12.65), load(8.5)), "slow_crank")
	next := func(c reading.Case, contacts float64) string {
		b := station.Put(c, readingtest.Labels)
		a := confirmed(b, decide(b), contacts)
		if a.Verdict != Replace {
			t.Fatalf("%s", a.Verdict)
		}
		return a.Next[0].Test
	}
	unlooked := complained(readingtest.Car(rest(12.65), load(8.5)), "slow_crank")
	cleaned := complained(car(inspected("clean"), rest(12.65), reading.Of(station.Cleaned, reading.Fields{"what": []string{"posts"}}), load(8.5)), "slow_crank")
	for _, c := range []struct {
		name     string
		c        reading.Case
		contacts float64
		want     string
	}{
		{"may be contacts", fails, 0.008, "clean"},
		{"hardly contacts", fails, 0.0079, "replace"},
		{"nothing complained of", car(inspected("clean"), rest(12.65), load(8.5)), 0.5, "replace"},
		{"nobody looked", unlooked, 0.5, "replace"},
		{"cleaned before", cleaned, 0.5, "replace"},
	} {
		if got := next(c.c, c.contacts); got != c.want {
			t.Errorf("%s: %s first", c.name, got)
		}
	}
}

// What comes to an end that went on for ever: a full battery a little under the table, a
// charge that was stopped after giving more than there is, one that takes nothing twice.
func TestNothingGoesOnForEver(t *testing.T) {
	hours := func(h, amps float64, ended string) reading.Reading {
		return reading.Of(station.Charged, reading.Fields{"ended": ended, "hours": h, "amps": amps})
	}
	night := func(v float64) reading.Reading { return rest(v).With("minutes_since_charge", 61) }
	at85 := at(85).With("minutes_since_charge", 61)
	for _, c := range []struct {
		name    string
		rs      []reading.Reading
		verdict Verdict
	}{
		{"full at 85 % by the table", []reading.Reading{at(40), hours(9, 6, "full"), at85, load(10.2)}, Good},
		{"at 85 %, not filled", []reading.Reading{at85, load(10.2)}, GoodAfterCharge},
		{"near, full by its build", []reading.Reading{at(40), hours(9, 6, "full"), at85, load(9.56)}, Weak},
		{"near, not full", []reading.Reading{at85, load(9.56)}, ChargeAndRetest},
		// 62 Ah: 80.6 Ah are 1.3 times as much.
		{"five cells, given 1.3 times all", []reading.Reading{night(10.5), hours(13.44, 6, "stopped"), night(10.5)}, Replace},
		{"five cells, given less", []reading.Reading{night(10.5), hours(13.42, 6, "stopped"), night(10.5)}, ChargeAndRetest},
		{"takes nothing, once", []reading.Reading{at(20), hours(1, 6, "full"), at(20).With("minutes_since_charge", 61)}, ChargeAndRetest},
		{"takes nothing, twice", []reading.Reading{at(20), hours(1, 6, "full"), at(20).With("minutes_since_charge", 61), hours(1, 6, "full"),
			at(20).With("minutes_since_charge", 61)}, Replace},
	} {
		if a := ByRules(car(append([]reading.Reading{inspected("clean")}, c.rs...)...), readingtest.Labels); a.Verdict != c.verdict {
			t.Errorf("%s: %s, %s", c.name, a.Verdict, a.Headline)
		}
	}
	// Two days after it was filled that counts no more.
	filled := func(later time.Duration) Verdict {
		begun := time.Date(2026, 11, 1, 8, 0, 0, 0, time.UTC)
		rs := []reading.Reading{at(40), hours(9, 6, "full"), at(85).With("minutes_since_charge", later.Minutes()), load(10.2)}
		for i := range rs {
			when := begun
			if i > 1 {
				when = begun.Add(later)
			}
			rs[i].At = &when
		}
		return ByRules(car(rs...), readingtest.Labels).Verdict
	}
	if got := filled(48 * time.Hour); got != Good {
		t.Errorf("two days later: %s", got)
	}
	if got := filled(48*time.Hour + time.Minute); got != GoodAfterCharge {
		t.Errorf("more than two days later: %s", got)
	}
}

// Every stretch of the job comes to an end at a glance as on the sheet.
func TestGlanceHasTheSameFirstStep(t *testing.T) {
	for _, c := range []reading.Case{
		complained(car(inspected("clean"), rest(12.65), load(10.3)), "slow_crank"),
		complained(car(inspected("clean"), rest(12.65), load(8.3)), "slow_crank"),
		complained(car(rest(11.9)), "rapid_click"),
	} {
		if a, g := Assess(c, readingtest.Labels), Glance(c, readingtest.Labels); a.Next[0].Test != g.Next[0].Test || a.Verdict != g.Verdict {
			t.Errorf("%s, at a glance %s", a.Next[0].Test, g.Next[0].Test)
		}
		if a, e := Assess(c, readingtest.Labels), Ended(c, readingtest.Labels); a.Verdict != e.Verdict || a.Headline.String() != e.Headline.String() {
			t.Errorf("%s, once it has gone %s", a.Headline, e.Headline)
		}
	}
}

// A verdict that goes against the first suspect says so, from an even chance on; one that
// agrees with it, or with nothing at all, does not.
func TestVerdictAgainstTheFirstSuspect(t *testing.T) {
	b := station.Put(car(rest(12.65), load(9.9)), readingtest.Labels)
	for _, c := range []struct {
		verdict Verdict
		first   suspect.Fault
		present float64
		want    string
	}{
		{Good, suspect.WornOut, 0.5, saysPassesThough},
		{Good, suspect.WornOut, 0.49, ""},
		{LookElsewhere, suspect.Open, 0.9, saysPassesThough},
		{Good, suspect.Drain, 0.9, ""},
		{Weak, suspect.WornOut, 0.9, ""},
		{Replace, suspect.DirtyContacts, 0.5, saysGoesThough},
		{Replace, suspect.DirtyContacts, 0.49, ""},
		{Replace, suspect.WornOut, 0.9, ""},
		{Replace, suspect.None, 0.9, ""},
	} {
		name := suspect.Faults().Word(c.first.Code())
		f, ok := against(b, Assessment{Verdict: c.verdict, Suspects: []suspect.Suspect{{Fault: c.first.Code(), Name: name, Present: c.present}}})
		if ok != (c.want != "") || ok && (f.Text.String() != words.Say(c.want, "name", name).String() || f.Readings[0] != 1) {
			t.Errorf("%s, %s at %.2f: %t %q", c.verdict, c.first.Code(), c.present, ok, f.Text)
		}
	}
}
