package assess

import (
	"strings"
	"testing"
	"time"

	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/station"
)

func proof(restart, lights, complaint string) reading.Reading {
	r := reading.Of(station.Proven, reading.Fields{"restart": restart})
	if lights != "" {
		r = r.With("warning_lights", lights)
	}
	if complaint != "" {
		r = r.With("complaint", complaint)
	}
	return r
}

func running(volts float64) reading.Reading {
	return reading.Of(station.Charging, reading.Fields{"volts": volts, "speed": "raised", "loads": "off"})
}

func sleeping(ma float64) reading.Reading {
	return reading.Of(station.Drain, reading.Fields{"milliamps": ma, "minutes_asleep": 60})
}

// The verdict after the work stands beside the one before it, and what came before the work
// proves nothing.
func TestOutcome(t *testing.T) {
	flat, full := rest(12.1), rest(12.7)
	for _, c := range []struct {
		name      string
		complaint []string
		readings  []reading.Reading
		before    Verdict // empty: no outcome
		proof     Proof
		says      string
	}{
		{"nothing done", []string{"slow_crank"}, []reading.Reading{full, load(10.3)}, "", "", ""},
		{"charged, not tried", []string{"dead_silent"}, []reading.Reading{flat, charged("full"), full, load(10.3)},
			ChargeAndRetest, ProofOpen, "Not proven yet: stop and restart, warning lights, what it came for."},
		{"proven", []string{"dead_silent"}, []reading.Reading{flat, charged("full"), full, load(10.3), proof("at_once", "none", "gone")},
			ChargeAndRetest, ProofProven, saysProvenGone},
		{"nothing complained of", nil, []reading.Reading{flat, charged("full"), full, load(10.3), proof("at_once", "none", "")},
			ChargeAndRetest, ProofProven, saysProven},
		{"lights not looked at", nil, []reading.Reading{flat, charged("full"), proof("at_once", "", "")},
			ChargeAndRetest, ProofOpen, "Not proven yet: warning lights."},
		{"starts slowly", nil, []reading.Reading{flat, charged("full"), full, load(10.3), proof("slowly", "none", "")},
			ChargeAndRetest, ProofFailed, "Not mended: it starts slowly."},
		{"no start", nil, []reading.Reading{flat, charged("full"), full, proof("no", "none", "")},
			ChargeAndRetest, ProofFailed, "Not mended: it does not start again."},
		{"lights on", nil, []reading.Reading{flat, charged("full"), full, proof("at_once", "on", "")},
			ChargeAndRetest, ProofFailed, "Not mended: warning lights stay on."},
		{"still there", []string{"dead_silent"}, []reading.Reading{flat, charged("full"), full, proof("at_once", "none", "still")},
			ChargeAndRetest, ProofFailed, "Not mended: what it came for is still there."},
		{"could not be tried", []string{"dead_silent"}, []reading.Reading{flat, charged("full"), full, proof("at_once", "none", "not_tried")},
			ChargeAndRetest, ProofOpen, "Not proven yet: what it came for."},
		{"proved before it was charged", nil, []reading.Reading{flat, proof("at_once", "none", ""), charged("full"), full},
			ChargeAndRetest, ProofOpen, "Not proven yet: stop and restart, warning lights."},
		{"stands flat: the drain is needed", []string{"after_standing"}, []reading.Reading{flat, charged("full"), full, proof("at_once", "none", "gone")},
			ChargeAndRetest, ProofOpen, "Not proven yet: drain once asleep."},
		{"and read", []string{"after_standing"}, []reading.Reading{flat, charged("full"), full, sleeping(28), proof("at_once", "none", "gone")},
			ChargeAndRetest, ProofProven, saysProvenGone},
		{"and too much", []string{"after_standing"}, []reading.Reading{flat, charged("full"), full, sleeping(180), proof("at_once", "none", "gone")},
			ChargeAndRetest, ProofFailed, "Not mended: 180 mA"},
		{"read before the work", []string{"after_standing"}, []reading.Reading{flat, sleeping(28), charged("full"), full, proof("at_once", "none", "gone")},
			ChargeAndRetest, ProofOpen, "Not proven yet: drain once asleep."},
		{"dim lights: the charging is needed", []string{"dim_lights"}, []reading.Reading{flat, charged("full"), full, proof("at_once", "none", "gone")},
			ChargeAndRetest, ProofOpen, "Not proven yet: charging volts."},
		{"charges", []string{"dim_lights"}, []reading.Reading{flat, charged("full"), full, running(14.3), proof("at_once", "none", "gone")},
			ChargeAndRetest, ProofProven, saysProvenGone},
		{"slow: the volts while it cranks are needed", []string{"slow_crank"}, []reading.Reading{flat, charged("full"), full, proof("at_once", "none", "gone")},
			ChargeAndRetest, ProofOpen, "Not proven yet: volts while it cranks."},
		{"cleaned first: the verdict is that of the tests after it", nil,
			[]reading.Reading{reading.Of(station.LidLeakage, reading.Fields{"volts": 0.8}), reading.Of(station.Cleaned, reading.Fields{"what": []string{"lid"}}), flat, charged("full"), full, proof("at_once", "none", "")},
			ChargeAndRetest, ProofProven, saysProven},
		{"cleaned alone", nil, []reading.Reading{full, load(10.3), reading.Of(station.Cleaned, reading.Fields{"what": []string{"posts"}}), proof("at_once", "none", "")},
			Good, ProofProven, saysProven},
		{"tried without work", []string{"dead_silent"}, []reading.Reading{full, load(10.3), proof("at_once", "none", "gone")},
			"none", ProofProven, saysProvenGone},
	} {
		in := car(c.readings...)
		in.Complaint = c.complaint
		o := Judge(in, As{Labels: readingtest.Labels}).Outcome
		switch {
		case c.before == "" || o == nil:
			if (o == nil) != (c.before == "") {
				t.Errorf("%s: %+v", c.name, o)
			}
			continue
		case c.before == "none":
			if o.Before != nil {
				t.Errorf("%s: before, %s", c.name, o.Before.Verdict)
			}
		case o.Before == nil || o.Before.Verdict != c.before:
			t.Errorf("%s: before %+v, want %s", c.name, o.Before, c.before)
		}
		if o.Proof != c.proof || !strings.HasPrefix(o.Headline.String(), c.says) {
			t.Errorf("%s: %s %q, want %s %q", c.name, o.Proof, o.Headline, c.proof, c.says)
		}
	}
}

// Where the work goes on once the battery is done: to the proof until it is given.
func TestProofComesBeforeHandingOver(t *testing.T) {
	done := []reading.Reading{rest(12.1), charged("full"), rest(12.7), load(10.4), running(14.3), sleeping(20)}
	for want, rs := range map[string][]reading.Reading{
		station.Prove:    done,
		station.Handover: append(done[:len(done):len(done)], proof("at_once", "none", "gone")),
	} {
		in := car(rs...)
		in.Battery.Caps, in.Complaint = "sealed", []string{"lights_left_on"}
		if at := Judge(in, As{Labels: readingtest.Labels}).At; at != want {
			t.Errorf("goes on at %s, want %s", at, want)
		}
	}
	// A try that fails sends nobody away: it says so, and the sheet stays open to all.
	failed := append(done[:len(done):len(done)], proof("slowly", "none", ""))
	if sh := Judge(car(failed...), As{Labels: readingtest.Labels}); sh.Outcome.Proof != ProofFailed {
		t.Errorf("%+v", sh.Outcome)
	}
}

// A hybrid has no 12 V starter: nothing is asked of its cranking. One that took the place of
// another has that one's verdict before it.
func TestOutcomeOfOthers(t *testing.T) {
	hybrid := car(rest(12.1), charged("full"), rest(12.7))
	hybrid.Vehicle.Class = "hybrid"
	for _, i := range Judge(hybrid, As{Labels: readingtest.Labels}).Outcome.Items {
		if i.Code == "crank" {
			t.Error("a hybrid is to be cranked")
		}
	}
	mower := car(rest(12.1), charged("full"), rest(12.7), proof("at_once", "", ""))
	mower.Vehicle.Class = "mower"
	if o := Judge(mower, As{Labels: readingtest.Labels}).Outcome; o.Proof != ProofProven {
		t.Errorf("a mower has no warning lights, and waits for them: %s", o.Headline)
	}
	was := Opinion{Verdict: Replace, Tag: "K-0007"}
	o := Judge(car(rest(12.7), load(10.4)), As{Labels: readingtest.Labels, Was: &was}).Outcome
	if o == nil || o.Before != &was || o.Proof != ProofOpen {
		t.Errorf("%+v", o)
	}
	gone := car(rest(12.65), load(8.9), reading.Of(station.Replaced, reading.Fields{"with": "K-0008"}))
	if o := Judge(gone, As{Labels: readingtest.Labels}).Outcome; o != nil {
		t.Errorf("one that was replaced is to be proven: %+v", o)
	}
}

// Figures stand beside what they were before the work, as far as they differ.
func TestBeforeAndNow(t *testing.T) {
	o := Judge(car(rest(12.1), charged("full"), rest(12.7), load(10.4)), As{Labels: readingtest.Labels}).Outcome
	got := map[string][2]float64{}
	for _, g := range o.Gauges {
		was := -1.0
		if g.Was != nil {
			was = g.Was.Best
		}
		got[g.Quantity] = [2]float64{was, g.Band.Best}
	}
	if v := got["charge"]; v != [2]float64{31, 100} {
		t.Errorf("charge %v", v)
	}
	if v, ok := got["cranking"]; !ok || v[0] >= 0 {
		t.Errorf("strength %v: it was not read before", v)
	}
	lid := func(v float64) reading.Reading { return reading.Of(station.LidLeakage, reading.Fields{"volts": v}) }
	o = Judge(car(lid(0.8), reading.Of(station.Cleaned, reading.Fields{"what": []string{"lid"}}), lid(0.05), rest(12.1), charged("full"), rest(12.7)),
		As{Labels: readingtest.Labels}).Outcome
	for _, g := range o.Gauges {
		if want := map[string]float64{"charge": 31, "lid_volts": 0.8}[g.Quantity]; want > 0 && (g.Was == nil || g.Was.Best != want) {
			t.Errorf("%s was %+v, want %g", g.Quantity, g.Was, want)
		}
	}
	if _, ok := got["load_volts"]; ok {
		t.Error("a strength is told, and the volts it was worked out of too")
	}
}

// When it is looked at next, on both sides of every limit.
func TestLookAgain(t *testing.T) {
	on := func(s string) time.Time {
		at, err := time.Parse(time.DateOnly, s)
		if err != nil {
			t.Fatal(err)
		}
		return at
	}
	sound := []reading.Reading{rest(12.65), load(10.4)}
	weakOne := []reading.Reading{rest(12.65), load(9.75)}
	for _, c := range []struct {
		name     string
		made     string
		readings []reading.Reading
		now      string
		want     string // empty: none
	}{
		{"young", "2025-01", sound, "2027-03-01", "2028-02-29"},
		{"nobody knows how old", "", sound, "2027-03-01", "2028-02-29"},
		{"35 months", "2024-04", sound, "2027-03-01", "2028-02-29"},
		{"36 months, before the cold", "2024-03", sound, "2027-03-01", "2027-10-01"},
		{"old, 22 days before it", "2020-01", sound, "2027-09-09", "2027-10-01"},
		{"old, 21 days before it", "2020-01", sound, "2027-09-10", "2027-10-01"},
		{"old, 20 days before it", "2020-01", sound, "2027-09-11", "2028-03-11"},
		{"old, in the cold", "2020-01", sound, "2027-10-01", "2028-03-31"},
		{"weak, in summer", "2020-01", weakOne, "2027-06-01", "2027-10-01"},
		{"weak, at the end of the cold", "2020-01", weakOne, "2027-04-01", "2027-10-01"},
		{"weak, in March", "2020-01", weakOne, "2027-03-31", "2027-04-30"},
		{"weak, in the cold", "2020-01", weakOne, "2027-11-27", "2027-12-27"},
		{"weak, just before it", "2020-01", weakOne, "2027-09-11", "2027-10-11"},
		{"flat, and nobody knows why", "2025-01", []reading.Reading{rest(12.0), charged("full"), rest(12.7), load(10.4)}, "2027-03-01", "2027-03-08"},
		{"beyond it", "2025-01", []reading.Reading{rest(12.65), load(8.9), load(8.9)}, "2027-03-01", ""},
		{"not judged", "2025-01", []reading.Reading{rest(12.0)}, "2027-03-01", ""},
		{"replaced", "2025-01", append(sound[:2:2], reading.Of(station.Replaced, reading.Fields{"with": "K-1"})), "2027-03-01", ""},
	} {
		in := car(c.readings...)
		in.Battery.Made = c.made
		got, ok := LookAgain(in, Concluded(station.Put(in, readingtest.Labels)), on(c.now))
		if ok != (c.want != "") || got.On != c.want {
			t.Errorf("%s: %v %+v, want %q", c.name, ok, got, c.want)
		}
		if ok && (got.Do.IsZero() || got.Why.IsZero()) {
			t.Errorf("%s: no words", c.name)
		}
	}
}

// Hanging a battery on a charger begins work and is none that is done; the verdict of a battery
// that was replaced is that of its tests.
func TestWorkDone(t *testing.T) {
	c := readingtest.Car(rest(12.1), reading.Of(station.OnCharger, nil), charged("full"), rest(12.7), load(8.5))
	if got := WorkDone(c); len(got) != 1 || !strings.HasPrefix(got[0].String(), "Charged") {
		t.Errorf("done: %v", got)
	}
	if !IsWork(station.OnCharger) || IsDone(station.OnCharger) || !IsDone(station.Charged) || IsDone(station.RestVoltage) {
		t.Error("what is work, and what is done, are mixed up")
	}
	was := OpinionOf(Ended(c, readingtest.Labels), c)
	c.Battery.Tag = "K-0007"
	c.Readings = append(c.Readings, reading.Of(station.Replaced, reading.Fields{"tag": "K-0008"}))
	if old := OpinionOfOld(c, readingtest.Labels); old.Verdict != was.Verdict || old.Verdict != Replace || old.Tag != "K-0007" {
		t.Errorf("the old one was said to be %q (%s); its tests say %q", old.Verdict, old.Tag, was.Verdict)
	}
}
