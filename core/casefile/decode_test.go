package casefile

import (
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/internal/fatal"
)

func example(t testing.TB) []byte {
	t.Helper()
	data, err := os.ReadFile("testdata/case.json")
	must(t, err)
	return data
}

// The worked example of the format document, with each of its kinds of reading.
func TestExampleDecodes(t *testing.T) {
	c, err := Decode(example(t))
	must(t, err)
	if len(c.Readings) != 14 || c.Readings[2].Or("volts", 0) != 12.24 || *c.Battery.Rating.CCA != 650 ||
		c.Rules.LoadTestMinSOC != 75 || c.Rules.RestMinutes != 60 {
		t.Errorf("decoded %+v", c)
	}
	again, err := json.Marshal(c)
	must(t, err)
	if _, err := Decode(again); err != nil {
		t.Errorf("what was written does not read back: %v", err)
	}
}

// Each bad document is refused with the place and a way out.
func TestRefusals(t *testing.T) {
	base := string(example(t))
	for _, c := range []struct{ name, from, to, path, says string }{
		{"unknown field", `"volts": 12.24`, `"volts": 12.24, "wolts": 1`, "readings[2].wolts", "unknown field"},
		{"field of another kind", `"colour": "dark"`, `"colour": "dark", "amps": 3`, "readings[4].amps",
			"unknown field"},
		{"unknown top field", `"format"`, `"owner": 1, "format"`, "owner", "unknown field"},
		{"125 V", `"volts": 12.24`, `"volts": 125`, "readings[2].volts", "outside"},
		{"14.9 V as 149 tenths", `"volts": 12.24`, `"volts": 17`, "readings[2].volts",
			"0 to 16.2 V for a 12 V battery"},
		{"minus 5 V", `"volts": 12.24`, `"volts": -5`, "readings[2].volts", "leads are swapped"},
		{"twelve", `"volts": 12.24`, `"volts": "twelve"`, "readings[2].volts", "not a number"},
		{"number in quotes", `"volts": 12.24`, `"volts": "12.24"`, "readings[2].volts", "without quotes"},
		{"CCA of 0", `"cca": 650`, `"cca": 0`, "battery.rating.cca", "outside 5 to 3000 A"},
		{"wrong date", `"made": "2022-03"`, `"made": "2022-13"`, "battery.made", "2022-03"},
		{"wrong time", `"kind": "eye"`, `"kind": "eye", "at": "yesterday"`, "readings[4].at", "not a time"},
		{"unknown kind", `"kind": "eye"`, `"kind": "smell"`, "readings[4].kind", "not a kind of reading"},
		{"unknown word", `"earth": "negative"`, `"earth": "left"`, "vehicle.earth", "negative, positive"},
		{"missing volts", `"volts": 12.24, `, ``, "readings[2].volts", "missing"},
		{"no chemistry", `"chemistry": "flooded", `, ``, "battery.chemistry", "missing"},
		{"other format", `grapnel.case/1`, `grapnel.case/9`, "format", "grapnel.case/1"},
		{"1001 readings", `"readings": [`, `"readings": [` + strings.Repeat(`{"kind":"eye","colour":"dark"},`, 987),
			"readings", "1001 entries; 0 to 1000 are allowed"},
		{"24 V single", `"system_volts": 12`, `"system_volts": 24`, "vehicle.system_volts", "series"},
		{"13 V system", `"system_volts": 12`, `"system_volts": 13`, "vehicle.system_volts", "6, 8, 12, 24"},
		{"list for text", `"class": "car"`, `"class": ["car"]`, "vehicle.class", "not text"},
		{"rule out of range", `"load_test_min_soc_pct": 75`, `"load_test_min_soc_pct": 7`,
			"rules.load_test_min_soc_pct", "50 to 100"},
		{"gravity out of range", `1.185`, `11.85`, "readings[3].cells_sg[2]", "1 to 1.4"},
		{"huge number", `"volts": 12.24`, `"volts": 1e999`, "readings[2].volts", "too large"},
		{"cut off", base[len(base)/2:], "", "", "cut off"},
		{"broken", `"format":`, `"format"`, "", "line 2"},
		{"empty", base, "", "", "empty"},
		{"two documents", base, base + "{}", "", "more follows"},
		{"not an object", base, "[1]", "", "not an object"},
	} {
		t.Run(c.name, func(t *testing.T) {
			bad := strings.Replace(base, c.from, c.to, 1)
			if bad == base {
				t.Fatal("the case was not spoiled")
			}
			_, err := Decode([]byte(bad))
			problems, ok := err.(document.Problems)
			if !ok {
				t.Fatalf("error %T %v", err, err)
			}
			for _, p := range problems {
				if p.Path == c.path && strings.Contains(p.Message, c.says) {
					return
				}
			}
			t.Errorf("want %q at %q, got %v", c.says, c.path, err)
		})
	}
}

// A wrong decimal point is met with the figure that was probably meant.
func TestSlippedDecimalPoint(t *testing.T) {
	for _, c := range []struct {
		volts      float64
		kind, says string
	}{
		{125, station.RestVoltage, "show 12.50?"}, {97, station.RestVoltage, "show 9.70?"},
		{162, station.RestVoltage, "show 16.20?"}, {16.3, station.RestVoltage, "battery. Check the decimal"},
		{95, station.LoadTest, "battery. Check the decimal"}, {163, station.LoadTest, "battery. Check the decimal"},
		{143, station.Charging, "Check the meter's range"}, {20.1, station.Charging, "0 to 20.0 V for a 12 V battery"},
	} {
		if got := wrongVolts(reading.Case{}, c.volts, c.kind); !strings.Contains(got, c.says) {
			t.Errorf("%g V, %s: %s", c.volts, c.kind, got)
		}
	}
	for _, volts := range []float64{0, 0.01, 16.2} {
		if got := wrongVolts(reading.Case{}, volts, station.RestVoltage); got != "" {
			t.Errorf("%g V can be read: %s", volts, got)
		}
	}
	if got := wrongVolts(reading.Case{}, 20, station.Charging); got != "" {
		t.Errorf("a regulator that fails gives 20 V: %s", got)
	}
	earthed := reading.Case{Vehicle: reading.Vehicle{Earth: "positive"}}
	if got := wrongVolts(earthed, -6.3, station.RestVoltage); !strings.Contains(got, "earthed") ||
		!strings.Contains(got, "−6.3") {
		t.Errorf("positive earth, swapped leads: %s", got)
	}
}

// Each figure of the label, the vehicle and the day: the ends of its range are
// taken, what lies beyond is refused.
func TestRangesOfTheCase(t *testing.T) {
	for path, ends := range map[string][2]float64{
		"battery.rating.cca": {5, 3000}, "battery.rating.rc_min": {1, 1000}, "battery.rating.ah_20h": {1, 600},
		"battery.rating.ca": {5, 4000}, "vehicle.made_year": {1900, 2100}, "conditions.ambient_c": {-50, 60},
		"conditions.battery_c": {-50, 70},
	} {
		for v, good := range map[float64]bool{ends[0]: true, ends[1]: true, ends[0] - 1: false, ends[1] + 1: false} {
			at := strings.Split(path, ".")
			doc := fmt.Sprintf(`{"%s": %g}`, at[len(at)-1], v)
			if len(at) == 3 {
				doc = fmt.Sprintf(`{"%s": %s}`, at[1], doc)
			}
			_, err := Decode([]byte(fmt.Sprintf(`{"format": "grapnel.case/1", "%s": %s}`, at[0], doc)))
			if strings.Contains(fmt.Sprint(err), path+": ") == good {
				t.Errorf("%s of %g: %v", path, v, err)
			}
		}
	}
	for path, most := range map[string]int{"vehicle.name": 80, "battery.tag": 40} {
		for length, good := range map[int]bool{most: true, most + 1: false} {
			at := strings.Split(path, ".")
			_, err := Decode([]byte(fmt.Sprintf(`{"%s": {"%s": "%s"}}`, at[0], at[1], strings.Repeat("é", length))))
			if strings.Contains(fmt.Sprint(err), path+": ") == good {
				t.Errorf("%s of %d letters: %v", path, length, err)
			}
		}
	}
}

// Batteries of 6, 8 and 12 V are known, and two in series share the system's.
func TestVoltsOfTheBattery(t *testing.T) {
	for _, c := range []struct {
		volts       float64
		arrangement string
		known       bool
	}{{6, "", true}, {8, "single", true}, {12, "parallel", true}, {24, "series", true}, {12, "series", true},
		{24, "parallel", false}, {6, "series", false}, {8, "series", false}} {
		err := Check(reading.Case{Vehicle: reading.Vehicle{SystemVolts: c.volts, Arrangement: c.arrangement}})
		if (err == nil) != c.known {
			t.Errorf("%g V, %s: %v", c.volts, c.arrangement, err)
		}
	}
}

// Every fault in a document is reported, not only the first.
func TestAllProblemsAtOnce(t *testing.T) {
	bad := strings.NewReplacer(`"volts": 12.24`, `"volts": "x"`, `"cca": 650`, `"cca": 0`, `"earth": "negative"`,
		`"earth": 4`).
		Replace(string(example(t)))
	_, err := Decode([]byte(bad))
	if p, ok := err.(document.Problems); !ok || len(p) != 3 {
		t.Errorf("three faults, got %v", err)
	}
}

// No input makes the decoder panic, and what it accepts it accepts again.
func FuzzDecode(f *testing.F) {
	f.Add(example(f))
	f.Add([]byte(`{"format":"grapnel.case/1","battery":{"chemistry":"agm"},"readings":[]}`))
	f.Add([]byte("\xff{"))
	f.Fuzz(func(t *testing.T, data []byte) {
		c, err := Decode(data)
		if err != nil {
			return
		}
		out, err := json.Marshal(c)
		must(t, err)
		if _, err := Decode(out); err != nil {
			t.Fatalf("accepted once, refused after a round trip: %v\n%s", err, out)
		}
	})
}

var must = fatal.On

// As many cells can be read as the battery has, or fewer.
func TestCellsOfTheBattery(t *testing.T) {
	for _, c := range []struct {
		volts float64
		cells int
		fine  bool
	}{{12, 6, true}, {12, 3, true}, {12, 7, false}, {6, 3, true}, {6, 4, false}} {
		r := reading.Of(station.Hydrometer, reading.Fields{"cells_sg": slices.Repeat([]float64{1.25}, c.cells)})
		got := CheckReading(reading.Case{Vehicle: reading.Vehicle{SystemVolts: c.volts}}, r)
		if (len(got) == 0) != c.fine {
			t.Errorf("%d cells of %g V: %v", c.cells, c.volts, got)
		}
	}
}

// A week has 168 hours, from both sides.
func TestWeekOfTheWeek(t *testing.T) {
	for _, c := range []struct {
		trips, minutes, long float64
		wrong                bool
	}{{7, 1440, 0, false}, {8, 1440, 0, true}, {7, 1439, 7, false}, {7, 1439, 8, true}, {300, 33, 0, false}, {300, 34, 0, true}} {
		f := reading.Fields{"trips": c.trips, "minutes": c.minutes}
		if c.long > 0 {
			f["long_minutes"] = c.long
		}
		got := CheckReading(reading.Case{Vehicle: reading.Vehicle{SystemVolts: 12}}, reading.Of(station.Week, f))
		if (len(got) > 0) != c.wrong ||
			c.wrong && (got[0].Path != "trips" || !strings.Contains(got[0].Message, "a week has 168")) {
			t.Errorf("%g of %g min and %g: %v", c.trips, c.minutes, c.long, got)
		}
	}
}
