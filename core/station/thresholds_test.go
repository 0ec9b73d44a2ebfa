package station

import (
	"fmt"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
	"grapnel/internal/fatal"
)

// Each threshold of the load test from both sides. Half CCA: 9.6 V at 21 °C, BCI,
// from memory, and a miss that the meter, the amps or the charge explain is near;
// starter 9.6 V, a load under four fifths or more than 5 % off and seconds more
// than 1.5 off: common practice, no source.
func TestLoadTestThresholds(t *testing.T) {
	by := func(method string, volts float64, more ...any) reading.Reading {
		r := reading.Of(LoadTest, reading.Fields{"method": method, "volts_end": volts})
		for i := 0; i+1 < len(more); i += 2 {
			r = r.With(more[i].(string), more[i+1])
		}
		return r
	}
	for _, c := range []struct {
		r    reading.Reading
		code string // stands in the ledger
		not  string // does not
	}{
		{by(HalfCCA, 9.60), "load_test.held", "load_test.near"},
		{by(HalfCCA, 9.59), "load_test.near", "load_test.held"},
		{by(HalfCCA, 9.59, "amps", 325, "seconds", 15, "battery_c", 21), "load_test.near", "load_test.failed"},
		{by(HalfCCA, 8.00, "amps", 325, "battery_c", 21), "load_test.near", "load_test.failed"},   // nobody noted its seconds
		{by(HalfCCA, 8.00, "seconds", 15, "battery_c", 21), "load_test.near", "load_test.failed"}, // or its amps
		{by(HalfCCA, 9.50, "amps", 325, "seconds", 15, "battery_c", 21), "load_test.failed", "load_test.near"},
		{by(Fixed10s, 10.00), "load_test.silent", "load_test.held"}, // nobody noted its amps
		{by(Fixed10s, 8.99), "load_test.silent", "load_test.failed"},
		{by(Fixed10s, 11.4, "amps", 125), "load_test.held", "load_test.near"},
		{by(Fixed10s, 9.5, "amps", 125, "seconds", 10), "load_test.failed", "load_test.held"},
		{by(Fixed10s, 11.0, "amps", 125), "load_test.near", "load_test.failed"},
		{by(Starter, 9.60), "load_test.turned", "load_test.near"},
		{by(Starter, 9.59), "load_test.near", "load_test.turned"},
		{by(Starter, 7.00), "load_test.near", "load_test.failed"}, // never alone to the scrap
		{by(Starter, 7.0, "amps", 150, "seconds", 10), "load_test.failed", "load_test.near"},

		{by(HalfCCA, 10.6, "amps", 260), "load_test.held", "load_test.light"},
		{by(HalfCCA, 10.6, "amps", 259), "load_test.light", "load_test.held"},
		{by(HalfCCA, 10.2, "seconds", 13.5), "load_test.held", "load_test.light"},
		{by(HalfCCA, 10.2, "seconds", 13.4), "load_test.light", "load_test.held"},

		{by(HalfCCA, 10.2, "amps", 309), "load_test.held", "load_test.load_differs"},
		{by(HalfCCA, 10.2, "amps", 308), "load_test.load_differs", "load_test.light"},
		{by(HalfCCA, 10.2, "amps", 341), "load_test.held", "load_test.load_differs"},
		{by(HalfCCA, 10.2, "amps", 342), "load_test.load_differs", "load_test.light"},
		{by(Starter, 11.4, "amps", 100), "load_test.held", "load_test.load_differs"},
		{by(HalfCCA, 10.2), "load_test.held", "load_test.load_differs"},
		{by(HalfCCA, 10.2, "seconds", 15), "load_test.held", "load_test.time_differs"},
		{by(Starter, 10.2, "seconds", 10), "load_test.turned", "load_test.time_differs"},
		{by(HalfCCA, 9.59), "load_test.near", "load_test.dirty_contacts"},
		{by(HalfCCA, 10.2, "seconds", 16.5), "load_test.held", "load_test.time_differs"},
		{by(HalfCCA, 10.2, "seconds", 16.6), "load_test.time_differs", "load_test.light"},
		{by(HalfCCA, 10.2, "seconds", 13.4), "load_test.time_differs", "load_test.held"},
	} {
		got := codes(put(car(rest(12.65), c.r)))
		if !strings.Contains(got, " "+c.code+" ") || strings.Contains(got, " "+c.not+" ") {
			raw, _ := c.r.MarshalJSON()
			t.Errorf("%s: %s, want %s and not %s", raw, got, c.code, c.not)
		}
	}
	// Without a label nothing says what load would be light or off.
	bare := car(rest(12.65), by(HalfCCA, 10.2, "amps", 50))
	bare.Battery.Rating = reading.Rating{}
	if got := codes(put(bare)); strings.Contains(got, "light") || strings.Contains(got, "differs") {
		t.Errorf("no label: %s", got)
	}
	// Bad contacts explain a failure; a battery that held through them needs no excuse.
	dirty := reading.Of(Inspection, reading.Fields{"found": []string{"loose_clamp"}})
	for v, told := range map[float64]bool{9.59: true, 9.60: false} {
		got := codes(put(car(dirty, rest(12.65), load(v))))
		if strings.Contains(got, "load_test.dirty_contacts") != told {
			t.Errorf("%g V through bad contacts: %s", v, got)
		}
	}
	// A load too low to count its charge is kept and not judged, either way.
	for v, want := range map[float64]string{9.9: "load_test.held_while_low", 8.0: "load_test.not_fair"} {
		if got := codes(put(car(rest(12.24), load(v)))); !strings.Contains(got, want) {
			t.Errorf("%g V while low: %s", v, got)
		}
	}
	if got := codes(put(car(load(8)))); !strings.Contains(got, "load_test.charge_unknown") {
		t.Errorf("charge unknown: %s", got)
	}
}

// Those who go by flat volts alone are heard, and not followed: 10 V fine, under 9 V
// finished, half of it on 6 V, from both sides. Common practice, no source.
func TestFlatVoltsAreHeard(t *testing.T) {
	for volts, want := range map[float64]string{10.01: ": fine", 10: ": fine", 9.99: ": in between", 9: ": in between", 8.99: ": replace it"} {
		for _, system := range []float64{12, 6} {
			c := car(rest(12.65*system/12), reading.Of(LoadTest, reading.Fields{"method": Fixed10s, "volts_end": volts * system / 12}))
			c.Vehicle.SystemVolts = system
			if f := finding(t, c, "load_test.silent"); !strings.HasSuffix(f.Other.String(), want) {
				t.Errorf("%g V of %g: %s", volts, system, f.Other)
			}
		}
	}
}

// The strict school asks 10 V of the starter, and the other school is heard.
func TestStarterSchools(t *testing.T) {
	c := car(rest(12.65), reading.Of(LoadTest, reading.Fields{"method": Starter, "volts_end": 9.8}))
	if f := finding(t, c, "load_test.turned"); !strings.Contains(f.Other.String(), "strict (10 V): it fails") {
		t.Errorf("%s", f.Other)
	}
	c.Rules.StarterMinVolts = 10
	if f := finding(t, c, "load_test.near"); !strings.Contains(f.Other.String(), "common (9.6 V): it holds") {
		t.Errorf("%s", f.Other)
	}
}

func finding(t *testing.T, c reading.Case, code string) bench.Finding {
	t.Helper()
	b := put(c)
	for _, f := range b.Findings {
		if f.Code == code {
			return f
		}
	}
	t.Fatalf("no %s among%s", code, codes(b))
	return bench.Finding{}
}

// A rest voltage from both sides of what it may be: more than any rested battery
// shows, five good cells, rested long enough, a fair test.
func TestRestVoltageThresholds(t *testing.T) {
	full := battery.RestVolts(battery.Flooded, 6, 100, 21)
	least := battery.RestVolts(battery.Flooded, 6, 75, 21)
	took := func(volts, minutes float64, surface string) reading.Reading {
		return reading.Of(RestVoltage, reading.Fields{"volts": volts, "minutes_since_charge": minutes,
			"surface_charge": surface})
	}
	for _, c := range []struct {
		r    reading.Reading
		code string
		has  bool
	}{
		{took(full+AboveFull+0.001, 600, "rested"), "rest_voltage.above_rest", true},
		{took(full+AboveFull-0.001, 600, "rested"), "rest_voltage.above_rest", false},
		{took(10.19, 600, "rested"), "rest_voltage.five_cells", false},
		{took(10.20, 600, "rested"), "rest_voltage.five_cells", true},
		{took(10.90, 600, "rested"), "rest_voltage.five_cells", true},
		{took(10.91, 600, "rested"), "rest_voltage.five_cells", false},
		{took(12.5, 60, "none"), "rest_voltage.surface_charge", false},
		{took(12.5, 59, "none"), "rest_voltage.surface_charge", true},
		{took(12.5, 0, "headlights_2min"), "rest_voltage.surface_charge", false},
		{took(12.5, 0, "rested"), "rest_voltage.surface_charge", true},
		{took(least+0.001, 20000, "rested"), "rest_voltage.enough_to_test", true},
		{took(least-0.001, 20000, "rested"), "rest_voltage.enough_to_test", false},
		{took(least-0.001, 20000, "rested"), "rest_voltage.low_to_test", true},
	} {
		got := codes(put(car(c.r)))
		if strings.Contains(got, " "+c.code+" ") != c.has {
			raw, _ := c.r.MarshalJSON()
			t.Errorf("%s: %s, %s should be there: %t", raw, got, c.code, c.has)
		}
	}
	// Nobody said how long: "rested" is believed, nothing said is not.
	for surface, settled := range map[string]bool{"rested": true, "none": false} {
		b := put(car(reading.Of(RestVoltage, reading.Fields{"volts": 12.5, "surface_charge": surface})))
		if b.Charge.Settled != settled {
			t.Errorf("%s, no time: settled %t", surface, b.Charge.Settled)
		}
	}
	// Six volts: the same margins, halved.
	six := car(took((full+AboveFull)/2+0.001, 600, "rested"))
	six.Vehicle.SystemVolts = 6
	if got := codes(put(six)); !strings.Contains(got, "above_rest") {
		t.Errorf("6 V: %s", got)
	}
	if AboveFull != 0.25 {
		t.Errorf("above full by %g V", AboveFull)
	}
}

// The eye turns at the school's figure; low acid stops the work.
func TestEye(t *testing.T) {
	for colour, want := range map[string]struct {
		code   string
		level  bench.Level
		hazard bool
	}{"green": {"eye.green", bench.OK, false}, "dark": {"eye.dark", bench.Act, false}, "clear": {"eye.clear",
		bench.Stopped, true}, "yellow": {"eye.clear", bench.Stopped, true}} {
		c := car(reading.Of(Eye, reading.Fields{"colour": colour}))
		f := finding(t, c, want.code)
		if f.Level != want.level || put(c).Hazardous() != want.hazard {
			t.Errorf("%s: %+v", colour, f)
		}
	}
}

// stops reports whether a bench is stopped, and by what.
func stops(b *bench.Bench) string {
	h, ok := b.Stopped()
	if !ok {
		if h, ok = b.Held(); ok {
			return "held: " + h.Code
		}
		return ""
	}
	return h.Code
}

func looked(found ...string) reading.Reading {
	return reading.Of(Inspection, reading.Fields{"found": found})
}

// What is seen stops the work, holds it up, or is put right in passing; what
// clears it does, and a crack does not heal. Common practice, no source.
func TestInspection(t *testing.T) {
	for found, want := range map[string]string{"frozen": "frozen", "case_bulged": "case_bulged", "case_cracked": "case_cracked",
		"leaking": "leaking", "wet_lid": "", "wet_vents": "", "clean": "", "rotten_egg_smell": "held: rotten_egg_smell",
		"plates_dry": "held: plates_dry"} {
		if got := stops(put(car(looked(found)))); got != want {
			t.Errorf("%s: %q, want %q", found, got, want)
		}
	}
	sealed := car(looked("plates_dry"))
	sealed.Battery.Chemistry, sealed.Battery.Caps = battery.FloodedSealed, "sealed"
	if got := stops(put(sealed)); got != "plates_dry" {
		t.Errorf("dry and sealed: %q", got)
	}
	lift := reading.Of(Override, reading.Fields{"hazard": []string{"case_cracked"}, "reason": "a scratch"})
	right := func(what string) reading.Reading { return reading.Of(PutRight, reading.Fields{"what": []string{what}}) }
	for name, c := range map[string]struct {
		rs   []reading.Reading
		want string
	}{
		"a crack looked at again":      {[]reading.Reading{looked("case_cracked"), looked("clean")}, "case_cracked"},
		"a crack lifted":               {[]reading.Reading{looked("case_cracked"), lift}, ""},
		"a crack seen after the lift":  {[]reading.Reading{looked("case_cracked"), lift, looked("case_cracked")}, "case_cracked"},
		"another hazard than lifted":   {[]reading.Reading{looked("leaking"), lift}, "leaking"},
		"ice that thawed":              {[]reading.Reading{looked("frozen"), right("thawed")}, ""},
		"ice not seen again":           {[]reading.Reading{looked("frozen"), looked("clean")}, ""},
		"a smell that is gone":         {[]reading.Reading{looked("rotten_egg_smell"), looked("clean")}, ""},
		"a smell aired":                {[]reading.Reading{looked("rotten_egg_smell"), right("aired")}, ""},
		"dry, watered":                 {[]reading.Reading{looked("plates_dry"), right("watered")}, ""},
		"dry, then covered by acid":    {[]reading.Reading{looked("plates_dry"), acid(1.2).With("level", "covered")}, ""},
		"dry in the acid":              {[]reading.Reading{acid(1.2).With("level", "plates_dry")}, "held: plates_dry"},
		"a clear eye, then dark":       {[]reading.Reading{reading.Of(Eye, reading.Fields{"colour": "clear"}), reading.Of(Eye, reading.Fields{"colour": "dark"})}, ""},
		"a smell cannot be overridden": {[]reading.Reading{looked("rotten_egg_smell"), lift.With("hazard", []string{"plates_dry"})}, "held: rotten_egg_smell"},
	} {
		if got := stops(put(car(c.rs...))); got != c.want {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
	}
	for name, c := range map[string]struct {
		r    reading.Reading
		want bool
	}{
		"nothing wrong":         {looked("clean"), true},
		"something found":       {looked("wet_lid"), true},
		"the question in part":  {looked("wet_lid").With("checked", []string{"whole", "dry", "no_smell"}), false},
		"the question in whole": {looked("wet_lid").With("checked", []string{"whole", "dry", "no_smell", "not_frozen"}), true},
		"a hazard":              {looked("leaking").With("checked", []string{"dry"}), true},
	} {
		if got := put(car(c.r)).Looked; got != c.want {
			t.Errorf("%s: looked %t", name, got)
		}
	}
	if put(car(rest(12.6))).Looked {
		t.Error("nobody looked")
	}
	for found, dirty := range map[string]bool{"corrosion_live": true, "corrosion_earth": true, "loose_clamp": true,
		"clamp_not_seated": true, "film_live": true, "film_earth": true, "clamp_eaten": true, "belt_slack": false, "cover_missing": false} {
		b := put(car(reading.Of(Inspection, reading.Fields{"found": []string{found}})))
		if (len(b.Dirty) > 0) != dirty {
			t.Errorf("%s: contacts %v", found, b.Dirty)
		}
	}
	for what, clean := range map[string]bool{"posts": true, "clamps": true, "lid": false, "tray": false} {
		b := put(car(reading.Of(Inspection, reading.Fields{"found": []string{"loose_clamp"}}), reading.Of(Cleaned,
			reading.Fields{"what": []string{what}})))
		if (len(b.Dirty) == 0) != clean {
			t.Errorf("%s cleaned: contacts %v", what, b.Dirty)
		}
	}
}

// The load test's advice: what to set, whether it is fair now, and that nothing
// is loaded while a hazard stands.
func TestLoadAdvice(t *testing.T) {
	least := battery.RestVolts(battery.Flooded, 6, 75, 21)
	for _, c := range []struct {
		name   string
		c      reading.Case
		level  bench.Level
		closed bool
		says   string
	}{
		{"charged", car(rest(least + 0.001)), bench.OK, false, "a fair test"},
		{"low", car(rest(least - 0.001)), bench.Act, false, "Charge it to 75 % first"},
		{"unknown", car(), bench.Act, false, "nobody knows how full"},
		{"cracked", car(reading.Of(Inspection, reading.Fields{"found": []string{"case_cracked"}})), bench.Stopped,
			true, "Do not load"},
	} {
		a := adviseStrength(put(c.c))
		if a.Level != c.level || a.Closed != c.closed || !strings.Contains(a.Text.String(), c.says) {
			t.Errorf("%s: %+v", c.name, a)
		}
		if (a.Head.IsZero()) != (c.level == bench.OK || c.name == "unknown" || c.closed) {
			t.Errorf("%s: head %q", c.name, a.Head)
		}
	}
	ways := adviseStrength(put(car(rest(12.65)))).Ways
	if len(ways) != 4 || *ways[0].Set.Value != 325 || ways[0].Timer.Seconds != 15 || ways[1].Timer.Seconds != 10 ||
		ways[2].Timer.Seconds != 15 {
		t.Errorf("%+v", ways)
	}
	for i, seconds := range []float64{15, 10, 15} {
		told := map[string]FieldAdvice{}
		for _, f := range ways[i].Fields {
			told[f.Name] = f
		}
		if s := told["seconds"]; !s.Hidden || *s.Default != seconds {
			t.Errorf("%s lasts %+v", ways[i].Code, s)
		}
		if a := told["amps"]; a.Hidden || (a.Default != nil) != (ways[i].Code == HalfCCA) {
			t.Errorf("%s, amps: %+v", ways[i].Code, a)
		}
	}
	cold := car()
	cold.Conditions = reading.Conditions{AmbientC: num(5)}
	for _, f := range adviseStrength(put(cold)).Ways[0].Fields {
		if f.Name == "battery_c" && f.Hint.In(words.Voice{Temperature: words.Fahrenheit}).String() != "41 °F assumed" {
			t.Errorf("the battery's temperature: %s", f.Hint)
		}
	}
}

// The table ends at 0 °F, printed as −18 °C: colder is said, and the last row holds.
func TestColderThanTheTable(t *testing.T) {
	for temp, says := range map[float64]bool{-17.8: false, -18: false, -18.1: true} {
		c := car(rest(12.65), load(9).With("battery_c", temp))
		if f := finding(t, c, "load_test.held"); strings.Contains(f.Why.String(), "colder than the table") != says {
			t.Errorf("%g °C: %s", temp, f.Why)
		}
	}
	// What nobody measured is said, and whether the other school comes to the same.
	for name, c := range map[string]struct {
		volts             float64
		measured, differs bool
	}{"measured": {9.7, true, false}, "assumed": {9.7, false, false}, "between the two": {9.5, false, true}} {
		cold := car(rest(12.65), load(c.volts).With("battery_c", nil))
		if cold.Conditions.AmbientC, cold.Conditions.BatteryC = num(5), nil; c.measured {
			cold.Conditions.BatteryC = num(5)
		}
		f := finding(t, cold, "load_test.held")
		if strings.Contains(f.Why.String(), "was not measured") == c.measured ||
			strings.Contains(f.Other.String(), "same answer") == c.differs {
			t.Errorf("%s: %s %s", name, f.Why, f.Other)
		}
	}
	// A flat limit that a new battery would miss in this cold condemns none.
	fixed := car(rest(12.65), load(9.1).With("battery_c", -20))
	fixed.Rules.LoadTestLimit = rules.LimitFixed
	if f := finding(t, fixed, "load_test.near"); !strings.Contains(f.Why.String(), "9.6 V at any temperature") {
		t.Errorf("%s", f.Why)
	}
}

// The strength gauge marks what the conductance school marks, and turns at it.
func TestStrengthGaugeTurns(t *testing.T) {
	made, _ := put(car()).AsNew()
	for part, level := range map[float64]bench.Level{0.9: bench.OK, 0.7: bench.Note} {
		worn := fatal.Of(made.Worn(100 * part))
		volts := fatal.Of(worn.EndVolts(95, 21, 325, 15))
		b := put(car(rest(battery.RestVolts(battery.Flooded, 6, 95, 21)), load(volts)))
		g := strengthGauge(b)
		if g.Level != level || !g.Shown || g.Band == nil {
			t.Errorf("%g of the label: %+v", part, g)
		}
		if g.Notches[0].At != 390 || g.Notches[1].At != 520 || g.Notches[2].At != 650 {
			t.Errorf("notches %+v", g.Notches)
		}
	}
	if got := fmt.Sprint(OfLabelPct(519.9, 650), OfLabelPct(517, 650)); got != "80 80" {
		t.Errorf("whole percents: %s", got)
	}
	for most, want := range map[float64]float64{45: 5, 46: 10, 900: 100, 901: 200, 5000: 500} {
		if got := scaleStep(most); got != want {
			t.Errorf("a scale to %g goes by %g, want %g", most, got, want)
		}
	}
}
