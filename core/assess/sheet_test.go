package assess

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/station"
	"grapnel/core/words"
)

func stateOf(t *testing.T, sh Sheet, code string) StationState {
	t.Helper()
	for _, s := range sh.Stations {
		if s.Station.Code == code {
			return s
		}
	}
	t.Fatalf("no station %s", code)
	return StationState{}
}

// The sheet's stations through a job: what is done, what is next, what is to be
// taken once more, and where the work goes on.
func TestStationsThroughAJob(t *testing.T) {
	for _, c := range []struct {
		name   string
		rs     []reading.Reading
		closed bool
		at     string
		states string // arrive, rest volts, load test, decide
	}{
		{"new", nil, false, "rest_voltage", "done next todo todo"},
		{"charged enough", []reading.Reading{rest(12.65)}, false, "strength", "done done next todo"},
		{"low", []reading.Reading{rest(12.2)}, false, "charge", "done done todo todo"},
		{"tested while low", []reading.Reading{rest(12.2), load(9), rest(12.65)}, false, "strength",
			"done done again todo"},
		{"charged since", []reading.Reading{rest(12.2), charged("full")}, false, "rest_voltage",
			"done again todo todo"},
		{"sound", []reading.Reading{rest(12.65), load(10.3)}, false, "handover", "done done done done"},
		{"handed over", []reading.Reading{rest(12.65), load(10.2)}, true, "handover", "done done done done"},
	} {
		sh := Judge(car(c.rs...), As{Voice: words.Voice{}, Closed: c.closed, Labels: readingtest.Labels})
		var states []string
		for _, code := range []string{station.Arrive, station.RestVoltage, station.Strength, station.Decide} {
			states = append(states, string(stateOf(t, sh, code).State))
		}
		for _, s := range sh.Stations {
			if (s.State == Done || s.State == Again) == s.Summary.IsZero() {
				t.Errorf("%s, %s: state %s and summary %q", c.name, s.Station.Code, s.State, s.Summary)
			}
		}
		if got := strings.Join(states, " "); got != c.states || sh.At != c.at {
			t.Errorf("%s: %s at %s, want %s at %s", c.name, got, sh.At, c.states, c.at)
		}
	}
}

func TestSummaries(t *testing.T) {
	c := car(rest(12.1), rest(12.65), load(9.5))
	c.Complaint = []string{"slow_crank", "short_trips"}
	sh := Judge(c, As{Voice: words.Voice{}, Closed: true, Labels: readingtest.Labels})
	for code, want := range map[string]struct {
		level bench.Level
		text  string
	}{
		"arrive":       {bench.Note, "Turns slowly, Short trips only"},
		"rest_voltage": {bench.OK, "12.65 V, 100 % charged, 93 to 100"},
		"strength":     {bench.Act, "9.50 V at the end"},
		"decide":       {bench.Act, "Replace it: charged, and still too weak."},
		"handover":     {bench.Act, "Handed over: Replace it: charged, and still too weak."},
	} {
		if s := stateOf(t, sh, code); s.Level != want.level || s.Summary.String() != want.text {
			t.Errorf("%s: %s %q, want %s %q", code, s.Level, s.Summary, want.level, want.text)
		}
	}
	if got := stateOf(t, sh, "rest_voltage").Taken; !slices.Equal(got, []int{0, 1}) {
		t.Errorf("taken: %v", got)
	}
	for said, complaint := range map[string][]string{"No complaint noted": nil, "Turns slowly": {"slow_crank"}} {
		c := car()
		c.Complaint = complaint
		if got := stateOf(t, Judge(c, As{Voice: words.Voice{}, Closed: false, Labels: readingtest.Labels}), "arrive").Summary.String(); got != said {
			t.Errorf("%v: %q", complaint, got)
		}
	}
}

// A sheet has the stations its battery has: acid only where caps come off, an eye
// only where there is one, cranking only where there is a starter; and any station
// where something was taken.
func TestStationsThatFit(t *testing.T) {
	has := func(c reading.Case, code string) bool {
		return slices.ContainsFunc(Judge(c, As{Labels: readingtest.Labels}).Stations, func(s StationState) bool {
			return s.Station.Code == code
		})
	}
	c := car()
	if !has(c, station.Acid) || has(c, station.Eye) || !has(c, station.Crank) {
		t.Error("a flooded car battery: acid and crank, no eye")
	}
	c.Battery.Eye = true
	if !has(c, station.Eye) {
		t.Error("an eye that is there")
	}
	c.Battery.Chemistry, c.Battery.Caps = battery.AGM, "sealed"
	if has(c, station.Acid) {
		t.Error("acid of a sealed battery")
	}
	c.Readings = append(c.Readings, reading.Of(station.Hydrometer, reading.Fields{"cells_sg": []float64{1.2, 1.2, 1.2}}))
	if !has(c, station.Acid) {
		t.Error("what was taken has no station")
	}
	c.Vehicle.Class = "hybrid"
	if has(c, station.Crank) {
		t.Error("a hybrid is cranked")
	}
}

// A battery is handed over when it is sound and full, or the fault is elsewhere;
// a verdict weighs as much as what it asks for.
func TestHandsOver(t *testing.T) {
	weighs := map[Verdict]bench.Level{Good: bench.OK, GoodAfterCharge: bench.OK, LookElsewhere: bench.OK,
		ChargeAndRetest: bench.Act, Weak: bench.Act, Replace: bench.Act, MoreReadings: bench.Note, Stop: bench.Stopped}
	for _, v := range Verdicts() {
		if got := Verdict(v).Level(); got != weighs[Verdict(v)] {
			t.Errorf("%s weighs %s", v, got)
		}
	}
	crank := func(live float64) reading.Reading {
		return reading.Of(station.Crank, reading.Fields{"volts_min": 11.0, "amps": 150, "turned": "normal", "drop_live_volts": live, "drop_earth_volts": 0.1})
	}
	charges := reading.Of(station.Charging, reading.Fields{"volts": 14.2, "speed": "raised", "loads": "on"})
	for name, c := range map[string]struct {
		rs    []reading.Reading
		slow  bool
		level bench.Level
		ready bool
	}{
		"sound":                 {[]reading.Reading{at(97), load(10.4)}, false, bench.OK, true},
		"sound, a cover to fit": {[]reading.Reading{at(97), load(10.4), inspected("cover_missing")}, false, bench.OK, true},
		"sound, no reason":      {[]reading.Reading{at(30), charged("full"), at(97), load(10.4)}, false, bench.OK, false},
		"sound, charging not looked at": {[]reading.Reading{at(30), charged("full"), at(97), load(10.4),
			reading.Of(station.Drain, reading.Fields{"milliamps": 20, "minutes_asleep": 60})}, false, bench.OK, false},
		"sound, turns slowly":         {[]reading.Reading{at(97), load(10.4)}, true, bench.Act, false},
		"sound, a path to mend":       {[]reading.Reading{at(97), load(10.4), crank(0.9)}, true, bench.Act, false},
		"sound, nothing found around": {[]reading.Reading{at(97), load(10.4), crank(0.1), charges}, true, bench.OK, true},
		"sound, part charged":         {[]reading.Reading{at(80), load(10.4)}, false, bench.OK, false},
		"weak":                        {[]reading.Reading{at(97), load(9.7)}, false, bench.Act, false},
		"flat":                        {[]reading.Reading{at(30)}, false, bench.Act, false},
	} {
		made := car(c.rs...)
		if c.slow {
			made.Complaint = []string{"slow_crank"}
		}
		if a := Assess(made, readingtest.Labels); a.Level() != c.level || a.Ready() != c.ready {
			t.Errorf("%s: %s, weighs %s, ready %t", name, a.Headline, a.Level(), a.Ready())
		}
	}
}

// A full rested battery that holds its load is sound.
func ExampleAssess() {
	c := car(rest(12.65), load(10.3))
	a := Assess(c, readingtest.Labels)
	fmt.Println(a.Verdict, "-", a.Headline)
	for _, n := range a.Next {
		fmt.Println(n.Do)
	}
	// Output:
	// good - It holds, and is charged. Back to work.
	// Hand it over
}

// The same battery found half flat cannot be judged yet; its reader has °F.
func ExampleJudge() {
	sheet := Judge(car(rest(12.24)), As{Voice: words.Voice{Temperature: words.Fahrenheit}, Closed: false, Labels: readingtest.Labels})
	fmt.Println(sheet.Assessment.Headline)
	fmt.Println(sheet.Assessment.Findings[0].Text)
	fmt.Println("go on at", sheet.At)
	// Output:
	// Charge it, then test again.
	// 12.24 V rested 10 h at 70 °F is 42 to 57 % charged.
	// go on at charge
}
