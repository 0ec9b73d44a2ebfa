package station

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
)

var num, car, rest, load = readingtest.Num, readingtest.Car, readingtest.Rest, readingtest.Load

// codes gives the codes of the ledger.
func codes(b *bench.Bench) string {
	var out []string
	for _, f := range b.Findings {
		out = append(out, f.Code)
	}
	return " " + strings.Join(out, " ") + " "
}

// Every station is whole: a name, minutes, labelled fields of which at most one
// is big, cautions that exist, a way for each word of the field that chooses it.
func TestEveryStationIsWhole(t *testing.T) {
	places := map[int]string{}
	for _, s := range stations {
		if s.Name == "" || s.Hint == "" || s.Minutes <= 0 {
			t.Errorf("%s: name %q, hint %q, %g min", s.Code, s.Name, s.Hint, s.Minutes)
		}
		if old, ok := places[s.Place]; ok && s.Place > 0 {
			t.Errorf("%s and %s have one place", old, s.Code)
		}
		places[s.Place] = s.Code
		if len(s.CautionsOf()) != len(s.Cautions) {
			t.Errorf("%s names a caution nobody wrote: %v", s.Code, s.Cautions)
		}
		big, names := 0, map[string]bool{}
		for _, f := range s.Fields {
			if f.Label == "" || names[f.Name] {
				t.Errorf("%s.%s: label %q, or twice", s.Code, f.Name, f.Label)
			}
			names[f.Name] = true
			if f.Big {
				big++
				if f.Example == "" || !f.Need {
					t.Errorf("%s.%s: the station's figure has example %q, needed %t", s.Code, f.Name, f.Example, f.Need)
				}
			}
			if f.Default != "" && !f.Words.Has(f.Default) {
				t.Errorf("%s.%s: the default %q is none of its words", s.Code, f.Name, f.Default)
			}
		}
		if big > 1 {
			t.Errorf("%s has %d figures of its own", s.Code, big)
		}
		if s.Advise == nil {
			continue
		}
		a := s.Advise(Put(car()))
		for _, w := range a.Ways {
			i := slices.IndexFunc(s.Fields, func(f Field) bool { return f.Name == a.By })
			if i < 0 || !s.Fields[i].Words.Has(w.Code) {
				t.Errorf("%s: no field %s for the way %s", s.Code, a.By, w.Code)
			}
			for _, f := range w.Fields {
				if !names[f.Name] {
					t.Errorf("%s, %s: advice on a field %s it has not", s.Code, w.Code, f.Name)
				}
			}
		}
	}
}

// The kinds of reading are those of the open format, which never lose one.
func TestKindsOfTheFormat(t *testing.T) {
	for _, k := range []string{"inspection", "lid_leakage", "rest_voltage", "hydrometer", "eye", "load_test",
		"conductance", "crank",
		"cable_drop", "charging", "drain", "jump_result", "charged", "cleaned"} {
		if !slices.Contains(Kinds(), k) {
			t.Errorf("no station takes %s", k)
		}
	}
	if s := Sheet(); len(s) < 4 || s[0].Code != Arrive || s[len(s)-1].Code != Decide {
		t.Errorf("the sheet goes %v", s)
	}
	if d, _ := Of(Decide); d.Kind() != Charged || len(d.Entered()) == 0 {
		t.Errorf("at the end a charge is noted: %+v", d.Kind())
	}
	if a, _ := Of(Arrive); a.Kind() != "" {
		t.Errorf("nothing is read on arrival: %s", a.Kind())
	}
}

// A reading of each kind within its ranges is taken, each end of each range too,
// and what lies beyond is refused.
func TestRangesOfTheFields(t *testing.T) {
	want := map[string][2]float64{
		"rest_voltage.volts": {-1000, 1000}, "rest_voltage.minutes_since_charge": {0,
			5256000}, "load_test.volts_end": {-1000, 1000},
		"load_test.amps": {1, 3000}, "load_test.seconds": {1, 60}, "load_test.battery_c": {-50,
			70}, "conductance.cca": {0, 3000},
		"crank.volts_min": {-1000, 1000}, "crank.seconds": {0, 60}, "crank.amps": {0,
			3000}, "cable_drop.volts": {-33.6, 33.6},
		"cable_drop.amps": {0, 3000}, "charging.volts": {-1000, 1000}, "drain.milliamps": {0,
			100000}, "drain.minutes_asleep": {0, 100000},
		"lid_leakage.volts": {-33.6, 33.6}, "hydrometer.acid_c": {-50, 70}, "charged.hours": {0,
			500}, "charged.amps_end": {0, 500},
	}
	shape, seen := Shape(), 0
	for _, k := range Kinds() {
		s, _ := Of(k)
		for _, f := range s.Fields {
			if f.Shape.Kind != "number" {
				continue
			}
			ends := [2]float64{f.Shape.Min, f.Shape.Max}
			if pinned, ok := want[k+"."+f.Name]; ok && pinned != ends {
				t.Errorf("%s.%s: %v, want %v", k, f.Name, ends, pinned)
			} else if ok {
				seen++
			}
			for v, good := range map[float64]bool{ends[0]: true, ends[1]: true, ends[0] - 0.01: false,
				ends[1] + 0.01: false} {
				raw, err := json.Marshal(reading.Of(k, reading.Fields{f.Name: v}))
				must(t, err)
				tree, err := document.Parse(raw, "reading")
				must(t, err)
				if wrong := document.Check(tree, shape); wrong.Has(f.Name) == good {
					t.Errorf("%s: %v", raw, wrong)
				}
			}
		}
	}
	for _, c := range []struct {
		cells int
		sg    float64
		good  bool
	}{{3, 1, true}, {12, 1.4, true}, {2, 1.2, false}, {13, 1.2, false}, {6, 0.999, false}, {6, 1.401, false}} {
		raw, _ := json.Marshal(reading.Of(Hydrometer, reading.Fields{"cells_sg": slices.Repeat([]float64{c.sg}, c.cells)}))
		tree, _ := document.Parse(raw, "reading")
		if wrong := fmt.Sprint(document.Check(tree, shape)); strings.Contains(wrong, "cells_sg") == c.good {
			t.Errorf("%d cells of %g: %s", c.cells, c.sg, wrong)
		}
	}
	if seen != len(want) {
		t.Errorf("%d ranges are pinned, %d of them met", len(want), seen)
	}
}

func TestTell(t *testing.T) {
	for _, c := range []struct {
		r                       reading.Reading
		figure, unit, text, how string
	}{
		{rest(12.4), "12.40", "V", "Rest volts 12.40 V", "rested, last charged or driven: overnight"},
		{rest(12.4).With("minutes_since_charge", 45), "12.40", "V", "Rest volts 12.40 V",
			"rested, last charged or driven: 45 min"},
		{load(9.9), "9.90", "V", "Load test 9.90 V", "Half the CCA, 325 A, 15 s"},
		{reading.Of(Charged, reading.Fields{"ended": "full", "hours": 8, "amps_end": 0.6}), "", "",
			"Charged: to full, 8 h, 0.6 A at the end",
			"to full, 8 h, 0.6 A at the end"},
		{reading.Of(Inspection, reading.Fields{"found": []string{"case_bulged", "wet_lid"}}), "", "",
			"Looked: case bulged, wet lid", "case bulged, wet lid"},
		{reading.Of(Hydrometer, reading.Fields{"cells_sg": []float64{1.26, 1.255}}), "", "",
			"Hydrometer: 1.260, 1.255", "1.260, 1.255"},
		{reading.Of(JumpResult, reading.Fields{"started": true}), "", "", "Jump start: started: yes", "started: yes"},
		{reading.Of(CableDrop, reading.Fields{"path": "live", "volts": 0.2, "amps": 140}), "0.20", "V",
			"Cable drop 0.20 V", "live side, at 140 A"},
		{reading.Of("no_such", nil), "", "", "no such", ""},
	} {
		l := Tell(c.r)
		if l.Figure != c.figure || l.Unit != c.unit || l.Text.String() != c.text || l.How.String() != c.how {
			t.Errorf("%q %q %q %q, want %q %q %q %q", l.Figure, l.Unit, l.Text, l.How, c.figure, c.unit, c.text, c.how)
		}
	}
}

// What is given away can be written on without changing the trade.
func TestStationsAreGivenAsCopies(t *testing.T) {
	for _, of := range []func() Station{func() Station { s, _ := Of(RestVoltage); return s }, func() Station { return Sheet()[1] }} {
		s := of()
		s.Fields[0].Label, s.Fields[2].Picks[0].Word, s.Aids[0] = "changed", "changed", "changed"
		if again := of(); again.Fields[0].Label == "changed" || again.Fields[2].Picks[0].Word == "changed" || again.Aids[0] == "changed" {
			t.Errorf("%+v", again.Fields)
		}
	}
}

// A station that is registered twice is a mistake that stops the program.
func TestRegisteredOnce(t *testing.T) {
	defer func() {
		if recover() == nil {
			t.Error("a second rest voltage is taken")
		}
	}()
	register(Station{Code: RestVoltage})
}

func TestCautionsAreGivenWhereTheyBelong(t *testing.T) {
	s, _ := Of(LoadTest)
	if c := s.CautionsOf(); len(c) != 1 || c[0].Code != "load_tester" {
		t.Errorf("at the load test: %+v", c)
	}
	if _, ok := guide.CautionOf("load_tester"); !ok {
		t.Error("the caution is gone")
	}
}
