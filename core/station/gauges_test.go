package station

import (
	"math"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/rules"
)

func gauge(t *testing.T, c reading.Case, code, quantity string) bench.Gauge {
	t.Helper()
	s, _ := Of(code)
	for _, g := range s.Gauges(put(c)) {
		if g.Quantity == quantity {
			return g
		}
	}
	t.Fatalf("%s has no gauge of %s", code, quantity)
	return bench.Gauge{}
}

// notch gives where the notch stands whose word begins so.
func notch(t *testing.T, g bench.Gauge, word string) float64 {
	t.Helper()
	for _, n := range g.Notches {
		if strings.HasPrefix(n.Word.String(), word) {
			return n.At
		}
	}
	t.Fatalf("%s has no notch %q: %+v", g.Quantity, word, g.Notches)
	return 0
}

// The sticks of a rest voltage: how they weigh on either side of a fair test and
// above what rests, how far down surface charge makes them uncertain, and their
// notches at the charges they name.
func TestRestGauges(t *testing.T) {
	at := func(soc float64) float64 { return battery.RestVolts(battery.Flooded, 6, soc, 21) }
	for _, c := range []struct {
		volts float64
		level bench.Level
	}{{at(75.1), bench.OK}, {at(74.9), bench.Act}, {at(100) + AboveFull - 0.01, bench.OK},
		{at(100) + AboveFull + 0.01, bench.Act}} {
		v := gauge(t, car(rest(c.volts)), RestVoltage, "rest_volts")
		charge := gauge(t, car(rest(c.volts)), RestVoltage, "charge")
		if v.Level != c.level || charge.Level != c.level {
			t.Errorf("%.3f V: volts weigh %s, charge %s, want %s", c.volts, v.Level, charge.Level, c.level)
		}
		if tooMuch := c.volts > at(100)+AboveFull; (charge.Band == nil) != tooMuch {
			t.Errorf("%.3f V: a charge of %+v", c.volts, charge.Band)
		}
	}
	for soc, level := range map[float64]bench.Level{75.1: bench.OK, 74.9: bench.Act} {
		if f := finding(t, car(rest(at(soc))), "rest_voltage.charge"); f.Level != level {
			t.Errorf("%g %% is told as %s", soc, f.Level)
		}
	}
	fresh := rest(12.5).With("minutes_since_charge", 10).With("surface_charge", "none")
	at10 := put(car(fresh)).Charge
	low, high := 12.5-at10.ErrorVolts-at10.SurfaceVolts, 12.5+at10.ErrorVolts
	if band := gauge(t, car(fresh), RestVoltage, "rest_volts").Band; math.Abs(band.Low-low) > 1e-9 ||
		math.Abs(band.High-high) > 1e-9 || at10.SurfaceVolts < 0.1 {
		t.Errorf("with %.2f V of surface charge the volts are %+v", at10.SurfaceVolts, band)
	}
	g := gauge(t, car(), RestVoltage, "rest_volts")
	if full, fair, eye := notch(t, g, "full"), notch(t, g, "test from"), notch(t, g, "eye school"); full != at(100) ||
		fair != at(75) || eye != at(65) || g.Min != 11.6 || g.Max != 13.2 {
		t.Errorf("full at %g, fair at %g, eye school at %g, from %g to %g", full, fair, eye, g.Min, g.Max)
	}
	for i, minutes := range []float64{0, 30, 60, 180, 600, 2880} { // as their words say, overnight 10 h, days two
		if s, _ := KindOf(RestVoltage); s.Fields[2].Picks[i].Value != minutes {
			t.Errorf("%s is %g min", s.Fields[2].Picks[i].Word, s.Fields[2].Picks[i].Value)
		}
	}
	// 10.5 V is five of six cells, and more than four that rest.
	eight := car(rest(10.5))
	eight.Vehicle.SystemVolts = 8
	if got := codes(put(eight)); strings.Contains(got, "five_cells") || !strings.Contains(got, "above_rest") {
		t.Errorf("8 V: %s", got)
	}
}

// What was done before a rest voltage is said as it was, and so is the curve's source.
func TestRestVoltageIsTold(t *testing.T) {
	for _, c := range []struct {
		surface string
		minutes any
		chem    battery.Chemistry
		text    string
		source  string
	}{
		{"rested", 600, battery.Flooded, "12.50 V rested 10 h at", "gravities of the BCI table"},
		{"rested", nil, battery.AGM, "12.50 V rested at", "common practice"},
		{"headlights_2min", 5, battery.Flooded, "after 2 min of headlights 5 min after charging or driving at", ""},
		{"headlights_2min", nil, battery.Flooded, "after 2 min of headlights at", ""},
		{"none", 5, battery.Flooded, "12.50 V 5 min after charging or driving at", ""},
		{"none", nil, battery.Flooded, "12.50 V with its surface charge at", ""},
	} {
		job := car(rest(12.5).With("surface_charge", c.surface).With("minutes_since_charge", c.minutes))
		job.Battery.Chemistry = c.chem
		f := finding(t, job, "rest_voltage.charge")
		left := put(job).Charge.SurfaceVolts
		if !strings.Contains(f.Text.String(), c.text) || !strings.Contains(f.Source, c.source) ||
			strings.Contains(f.Why.String(), "none left") != (left < 0.005) {
			t.Errorf("%s, %v: %s %s (%s), %g V left", c.surface, c.minutes, f.Text, f.Why, f.Source, left)
		}
	}
}

// The load test's stick: its scale, what the meter may be off, the other school's
// limit at the temperature of the test, and no new battery under a starter whose
// draw nobody read.
func TestLoadGauge(t *testing.T) {
	g := gauge(t, car(rest(12.65), load(9.9)), Strength, "load_volts")
	if e := battery.MeterError(9.9); g.Band.Low > 9.9-e || g.Band.Best != 9.9 || g.Band.High < 9.9+e || g.Band.High > 10.3 ||
		g.Min != 7 || g.Max != 12 || g.Step != 0.5 || len(g.Notches) != 2 {
		t.Errorf("at 21 °C both schools ask 9.6 V: %+v", g)
	}
	six := car()
	six.Vehicle.SystemVolts = 6
	if g := gauge(t, six, Strength, "load_volts"); g.Min != 3.5 || g.Max != 6 || g.Step != 0.25 {
		t.Errorf("6 V: %+v", g)
	}
	fixed := car(rest(12.65), load(9.9).With("battery_c", -10))
	fixed.Rules.LoadTestLimit = rules.LimitFixed
	if at := notch(t, gauge(t, fixed, Strength, "load_volts"), "temperature table"); at != rating.LoadTestLimit(12, -10) {
		t.Errorf("the other school's limit at -10 °C stands at %g V", at)
	}
	for amps, notches := range map[any]int{nil: 1, 180: 2} {
		r := reading.Of(LoadTest, reading.Fields{"method": Starter, "volts_end": 10.2}).With("amps", amps)
		if g := gauge(t, car(rest(12.65), r), Strength, "load_volts"); len(g.Notches) != notches {
			t.Errorf("starter, %v A: %+v", amps, g.Notches)
		}
	}
}

// On 6 V every limit is half: the load test 4.8 V, the starter 4.8 V.
func TestLimitsOfSixVolts(t *testing.T) {
	for _, c := range []struct {
		method string
		volts  float64
		code   string
		limit  float64
	}{
		{Starter, 4.80, "turned", 4.8}, {Starter, 4.79, "near", 4.8},
		{HalfCCA, 4.80, "held", 4.8}, {HalfCCA, 4.79, "near", 4.8}, {HalfCCA, 4.50, "failed", 4.8},
	} {
		six := car(rest(6.325), reading.Of(LoadTest, reading.Fields{"method": c.method, "volts_end": c.volts, "seconds": 15}))
		if c.method == HalfCCA {
			six.Readings[1] = six.Readings[1].With("amps", 325)
		}
		six.Vehicle.SystemVolts = 6
		if got := codes(put(six)); !strings.Contains(got, " load_test."+c.code+" ") {
			t.Errorf("%s, %g V: %s, want %s", c.method, c.volts, got, c.code)
		}
		// The table is in °F and has 9.598 V at 21 °C.
		if at := notch(t, gauge(t, six, Strength, "load_volts"), "holds from"); math.Abs(at-c.limit) > 0.002 {
			t.Errorf("%s: holds from %g V, want %g", c.method, at, c.limit)
		}
	}
}

// The notch of a new battery is where the model ends a new and full one under the
// load and for the seconds that were on, at the temperature it was tested at.
func TestNotchOfANewBattery(t *testing.T) {
	made, _ := put(car()).AsNew()
	for _, c := range []struct {
		amps, seconds, temp float64
	}{{325, 15, 21}, {325, 5, 21}, {200, 15, 21}, {325, 15, -10}} {
		r := load(9.9).With("amps", c.amps).With("seconds", c.seconds).With("battery_c", c.temp)
		want := made.LoadVolts(100, c.temp, c.amps, c.seconds)
		if at := notch(t, gauge(t, car(rest(12.65), r), Strength, "load_volts"), "new"); math.Abs(at-want) > 1e-9 {
			t.Errorf("%+v: a new one ends at %.3f V, want %.3f", c, at, want)
		}
	}
}

// Strength takes the temperature the test was taken at before the sheet's, and
// what nobody measured widens it by the 10 °C it may be off.
func TestStrengthByItsOwnTemperature(t *testing.T) {
	d := battery.Discharge{Amps: 325, Seconds: 15, Volts: 9.4, AmpsSpread: 0.03}
	for name, c := range map[string]struct {
		battery *float64
		own     any
		at      battery.Condition
	}{"the sheet's": {num(21), nil, battery.Condition{TempC: 21}},
		"its own": {num(21), -15, battery.Condition{TempC: -15}},
		"assumed": {nil, nil, battery.Condition{TempC: 5, TempSpread: 10}}} {
		job := car(rest(12.65), load(9.4).With("battery_c", c.own))
		job.Conditions = reading.Conditions{AmbientC: num(5), BatteryC: c.battery}
		b := put(job)
		made, _ := b.AsNew()
		c.at.SOC = *b.SOC()
		want, err := made.StrengthFromLoad(c.at, d)
		if got := b.Strength().Evidence[0]; err != nil || got.CCA != want.CCA {
			t.Errorf("%s: %+v, want %+v (%v)", name, got.CCA, want.CCA, err)
		}
	}
}

// What may be ice is not loaded, and a charge that ended badly is told as that.
func TestAdviceAndNotesOfTrouble(t *testing.T) {
	cold := car(rest(11.95))
	cold.Conditions = reading.Conditions{AmbientC: num(-14), BatteryC: num(-14)}
	b := put(cold)
	if a := adviseStrength(b); !b.Hazardous() || a.Level != bench.Act || !a.Closed ||
		!strings.Contains(a.Text.String(), "may be frozen") {
		t.Errorf("hazards %+v: %+v", b.Hazards, a)
	}
	for ended, want := range map[string]struct {
		level bench.Level
		says  string
	}{"full": {bench.OK, "Charged to full"}, "stopped": {bench.OK, "before the end"}, "refused": {bench.Act, "refused"},
		"hot": {bench.Act, "got hot"}} {
		f := finding(t, car(reading.Of(Charged, reading.Fields{"ended": ended})), "charged."+ended)
		if f.Level != want.level || !strings.Contains(f.Text.String(), want.says) {
			t.Errorf("%s: %s, %s", ended, f.Level, f.Text)
		}
	}
}
