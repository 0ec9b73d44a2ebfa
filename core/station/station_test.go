package station

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
)

var num, car, rest, load = readingtest.Num, readingtest.Car, readingtest.Rest, readingtest.Load

// put lays a case on the bench with all lines of its ledger.
func put(c reading.Case) *bench.Bench {
	b := Put(c, readingtest.Labels)
	b.TellLate()
	return b
}

// acid is a hydrometer reading of six cells alike.
func acid(sg float64) reading.Reading {
	return reading.Of(Hydrometer, reading.Fields{"cells_sg": slices.Repeat([]float64{sg}, 6), "acid_c": 26.7})
}

// codes gives the codes of the ledger.
func codes(b *bench.Bench) string {
	var out []string
	for _, f := range b.Findings {
		out = append(out, f.Code)
	}
	return " " + strings.Join(out, " ") + " "
}

// Every station is whole: a name, minutes, cautions that exist, ways that give a
// kind it takes and settle words that kind has; every kind has labelled fields of
// which at most one is big, and a station where it is taken.
func TestEveryStationIsWhole(t *testing.T) {
	b := put(car())
	for _, s := range stations {
		if s.Name == "" || s.Hint == "" || s.Minutes <= 0 || s.Place <= 0 {
			t.Errorf("%s: name %q, hint %q, %g min at %d", s.Code, s.Name, s.Hint, s.Minutes, s.Place)
		}
		if s.Cautions != nil && len(s.CautionsOf(b)) != len(s.Cautions(b)) {
			t.Errorf("%s names a caution nobody wrote: %v", s.Code, s.Cautions(b))
		}
		if s.Advise == nil {
			continue
		}
		for _, w := range s.Advise(b).Ways {
			k := findKind(w.Kind)
			if k == nil || !slices.Contains(s.Takes, w.Kind) || w.Word == "" {
				t.Errorf("%s: the way %s gives %q", s.Code, w.Code, w.Kind)
				continue
			}
			at := func(name string) int {
				return slices.IndexFunc(k.Fields, func(f Field) bool { return f.Name == name })
			}
			for name, word := range w.Preset {
				if i := at(name); i < 0 || !k.Fields[i].Words.Has(word) {
					t.Errorf("%s, %s: settles %s as %s", s.Code, w.Code, name, word)
				}
			}
			for _, f := range w.Fields {
				if at(f.Name) < 0 {
					t.Errorf("%s, %s: advice on a field %s it has not", s.Code, w.Code, f.Name)
				}
			}
		}
	}
	for _, k := range kinds {
		if s, ok := At(k.Code); !ok || k.Name == "" || k.Judge == nil {
			t.Errorf("%s is taken at %q, named %q", k.Code, s.Code, k.Name)
		}
		big, names := 0, map[string]bool{}
		for _, f := range k.Fields {
			if f.Label == "" || names[f.Name] {
				t.Errorf("%s.%s: label %q, or twice", k.Code, f.Name, f.Label)
			}
			names[f.Name] = true
			if f.Big {
				big++
				if f.Example == "" || !f.Need {
					t.Errorf("%s.%s: the station's figure has example %q, needed %t", k.Code, f.Name, f.Example, f.Need)
				}
			}
			if f.Default != "" && !f.Words.Has(f.Default) {
				t.Errorf("%s.%s: the default %q is none of its words", k.Code, f.Name, f.Default)
			}
		}
		if big > 1 {
			t.Errorf("%s has %d figures of its own", k.Code, big)
		}
	}
}

// The kinds of reading are those of the open format, which never lose one, and the
// sheet has the stations of the work in their order.
func TestKindsOfTheFormat(t *testing.T) {
	for _, k := range []string{"inspection", "lid_leakage", "rest_voltage", "hydrometer", "eye", "load_test",
		"conductance", "crank", "cable_drop", "charging", "drain", "jump_result", "charged", "cleaned"} {
		if !slices.Contains(Kinds(), k) {
			t.Errorf("no station takes %s", k)
		}
	}
	var order []string
	for _, s := range Sheet() {
		order = append(order, s.Code)
	}
	if got := strings.Join(order, " "); got != "arrive look clean rest_voltage acid eye charge strength crank charging drain why_flat decide prove handover" {
		t.Errorf("the sheet goes %s", got)
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
		"lid_leakage.volts": {-33.6, 33.6}, "hydrometer.acid_c": {-50, 70}, "charged.hours": {0, 500}, "charged.amps_end": {0, 500}, "charged.amps": {0, 500},
		"crank.drop_live_volts": {-33.6, 33.6}, "crank.drop_earth_volts": {-33.6, 33.6}, "interview.stood_hours": {0, 50000},
		"interview.stood_c": {-50, 60}, "put_right.battery_c": {-50, 70},
	}
	shape, seen := Shape(), 0
	for _, k := range Kinds() {
		s, _ := KindOf(k)
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
	for _, of := range []func() Station{func() Station { s, _ := Of(RestVoltage); return s }, func() Station { return Sheet()[3] }} {
		s := of()
		s.Takes[0], s.Aids[0] = "changed", "changed"
		if again := of(); again.Takes[0] == "changed" || again.Aids[0] == "changed" {
			t.Errorf("%+v", again)
		}
	}
	k, _ := KindOf(RestVoltage)
	k.Fields[0].Label, k.Fields[2].Picks[0].Word = "changed", "changed"
	if again, _ := KindOf(RestVoltage); again.Fields[0].Label == "changed" || again.Fields[2].Picks[0].Word == "changed" {
		t.Errorf("%+v", again.Fields)
	}
}

// A station or kind that is registered twice is a mistake that stops the program.
func TestRegisteredOnce(t *testing.T) {
	for name, again := range map[string]func(){
		"station": func() { register(Station{Code: RestVoltage, Place: 999}) },
		"place":   func() { register(Station{Code: "new", Place: 40}) },
		"kind":    func() { register(Station{Code: "new", Place: 999}, Kind{Code: RestVoltage}) },
	} {
		func() {
			defer func() {
				if recover() == nil {
					t.Errorf("a second %s is taken", name)
				}
			}()
			again()
		}()
	}
}

// The cautions that stand at a step are those of this battery: a hybrid is isolated
// before it is loaded, a glass mat never equalised, a leak neutralised. Common
// practice, no source.
func TestCautionsAreGivenWhereTheyBelong(t *testing.T) {
	hybrid := car()
	hybrid.Vehicle.Class, hybrid.Battery.Chemistry = "hybrid", battery.AGM
	for _, c := range []struct {
		c    reading.Case
		at   string
		want string
	}{
		{car(), Strength, "load_tester"}, {hybrid, Strength, "load_tester high_voltage isolate"},
		{car(), Charge, "hydrogen charging"}, {hybrid, Charge, "hydrogen charging charging_sealed high_voltage"},
		{car(), Look, "acid"}, {car(looked("leaking")), Look, "leak"}, {car(), Clean, "acid cleaning"},
		{car(), Crank, "cranking"}, {car(), Charging, "running_engine"}, {hybrid, Charging, "high_voltage"}, {car(), Drain, "ammeter"},
	} {
		s, _ := Of(c.at)
		var got []string
		for _, one := range s.CautionsOf(put(c.c)) {
			got = append(got, one.Code)
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%s, %s: %v, want %s", c.c.Vehicle.Class, c.at, got, c.want)
		}
	}
	for _, c := range guide.Cautions() {
		if c.Code == "frozen" || c.Code == "acid" || c.Code == "leak" || strings.Contains(c.More, "maker") || strings.Contains(c.More, "codes") {
			continue
		}
		if c.Code != "starter_load" && c.Code != "cranking" {
			t.Errorf("%s defers to nobody: %s", c.Code, c.More)
		}
	}
}
