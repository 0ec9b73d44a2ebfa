package station

import (
	"strings"
	"testing"

	"grapnel/core/bench"
	"grapnel/core/reading"
)

// Every answer of a try weighs what it should, and says so in the ledger.
func TestProofReadings(t *testing.T) {
	for _, c := range []struct {
		fields reading.Fields
		codes  string
		level  bench.Level // of the station
		sum    string
	}{
		{reading.Fields{"restart": AtOnce}, "proof.started ok", bench.OK, "starts at once"},
		{reading.Fields{"restart": Slowly}, "proof.slow act", bench.Act, "starts slowly"},
		{reading.Fields{"restart": Refused}, "proof.no_start act", bench.Act, "does not start"},
		{reading.Fields{"restart": AtOnce, "warning_lights": "none"}, "proof.started ok", bench.OK, "starts at once, no warning lights"},
		{reading.Fields{"restart": AtOnce, "warning_lights": "on"}, "proof.started ok, proof.lights act", bench.Act, "starts at once, warning lights on"},
		{reading.Fields{"restart": AtOnce, "complaint": Gone}, "proof.started ok, proof.gone ok", bench.OK, "starts at once, what it came for is gone"},
		{reading.Fields{"restart": AtOnce, "complaint": Still}, "proof.started ok, proof.still act", bench.Act, "starts at once, what it came for is still there"},
		{reading.Fields{"restart": AtOnce, "complaint": NotTried}, "proof.started ok, proof.not_tried note", bench.OK,
			"starts at once, what it came for could not be tried"},
	} {
		b := put(car(rest(12.7), reading.Of(Proven, c.fields)))
		var got []string
		for _, f := range b.Findings {
			if strings.HasPrefix(f.Code, "proof.") {
				got = append(got, f.Code+" "+string(f.Level))
			}
		}
		if s := strings.Join(got, ", "); s != c.codes {
			t.Errorf("%v: %s, want %s", c.fields, s, c.codes)
		}
		s, _ := Of(Prove)
		if level, sum := s.Sum(b); level != c.level || sum.String() != c.sum {
			t.Errorf("%v: %s %q, want %s %q", c.fields, level, sum, c.level, c.sum)
		}
		// A start says nothing of the charge, and takes nothing from what was read of it.
		if b.SOC() == nil || b.SOC().Best < 99 {
			t.Errorf("%v: charge %+v", c.fields, b.SOC())
		}
	}
}

// What is not complained of is not asked after; what is has to be answered. A hybrid is not
// asked to crank.
func TestProofAsks(t *testing.T) {
	s, _ := Of(Prove)
	field := func(c reading.Case, name string) FieldAdvice {
		for _, f := range s.Advise(put(c)).Ways[0].Fields {
			if f.Name == name {
				return f
			}
		}
		return FieldAdvice{}
	}
	plain, slow := car(rest(12.7)), car(rest(12.7))
	slow.Complaint = []string{"slow_crank"}
	if f := field(plain, "complaint"); !f.Hidden || f.Need {
		t.Errorf("no complaint: %+v", f)
	}
	if f := field(slow, "complaint"); f.Hidden || !f.Need || f.Hint.String() != "it came for: turns slowly" {
		t.Errorf("a complaint: %+v %q", f, f.Hint)
	}
	hybrid := plain
	hybrid.Vehicle.Class = "hybrid"
	if got := s.Advise(put(hybrid)).Ways[0].Do.String(); got != doProofReady {
		t.Errorf("a hybrid: %q", got)
	}
	cracked := car(reading.Of("inspection", reading.Fields{"found": []string{"case_cracked"}}))
	if a := s.Advise(put(cracked)); !a.Closed {
		t.Error("a cracked case may be cranked")
	}
}

// What goes with a battery stands in the ledger and in the station's line.
func TestHandoverReading(t *testing.T) {
	r := reading.Of(Handover, reading.Fields{"reset_done": []string{"clock"}, "reset_left": []string{"radio_code", "windows"},
		"next_check": "2027-10-01"})
	b := put(car(rest(12.7), r))
	want := map[string]string{
		"handover.reset_left": "Its owner sets again: radio code, windows, each held up and down.",
		"handover.reset_done": "Set again here: clock.",
		"handover.next":       "It is looked at again on 1 October 2027.",
	}
	for _, f := range b.Findings {
		if text, ok := want[f.Code]; ok && f.Text.String() == text {
			delete(want, f.Code)
		}
	}
	if len(want) > 0 {
		t.Errorf("missing %v", want)
	}
	s, _ := Of(Handover)
	if _, sum := s.Sum(b); sum.String() != "set again: clock, its owner sets: radio code, windows, each held up and down, next look 1 October 2027" {
		t.Errorf("%q", sum)
	}
	if _, sum := s.Sum(put(car(rest(12.7)))); !sum.IsZero() {
		t.Errorf("nothing was handed over: %q", sum)
	}
	if got, ok := LastHandover(car(r, rest(12.7), reading.Of(Handover, reading.Fields{"told": "x"}))); !ok || got.Word("told") != "x" {
		t.Errorf("last: %v %v", got, ok)
	}
}
