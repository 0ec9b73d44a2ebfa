package station

import (
	"math"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/internal/fatal"
)

func newBattery(t testing.TB, chem battery.Chemistry) battery.Battery {
	t.Helper()
	b, _, err := battery.FromLabel(chem, 6, rating.Label{CCA: 650, Ah20h: 62})
	must(t, err)
	return b
}

// one is what a station expects in one field.
func one(t *testing.T, code, field string, w World, how reading.Fields) Prediction {
	t.Helper()
	s, _ := KindOf(code)
	for _, p := range s.Expect(w, reading.Of(code, how)) {
		if p.Field == field {
			return p
		}
	}
	t.Fatalf("%s expects nothing in %s", code, field)
	return Prediction{}
}

// What a station expects in a world, judged again, gives the world back: charge
// from rest volts, strength from load test and crank, over chemistries, charges
// and wear. The two share the battery model and nothing else, so that a slip of
// sign, unit or field in one of them shows.
func TestExpectedReadingsAreJudgedBack(t *testing.T) {
	for _, chem := range battery.Chemistries() {
		made := newBattery(t, chem)
		for _, soc := range []float64{60, 80, 95} {
			w := World{Battery: fatal.Of(made.Worn(75)), SOC: soc, BatteryC: 15, StarterAmps: 160}
			c := car(rest(one(t, RestVoltage, "volts", w, nil).Best))
			c.Battery.Chemistry = chem
			*c.Conditions.AmbientC, *c.Conditions.BatteryC = 15, 15
			b := put(c)
			if band := b.SOC(); band == nil || band.Low > soc || band.High < soc || math.Abs(band.Best-soc) > 4 {
				t.Errorf("%s at %g %%: judged %+v", chem, soc, band)
			}
			volts := one(t, LoadTest, "volts_end", w, reading.Fields{"method": HalfCCA, "amps": 325,
				"seconds": 15}).Best
			low := one(t, Crank, "volts_min", w, nil).Best
			c.Readings = append(c.Readings, load(volts).With("battery_c", nil),
				reading.Of(Crank, reading.Fields{"volts_min": low, "amps": 160}))
			s := put(c).Strength()
			if len(s.Evidence) != 2 {
				t.Fatalf("%s at %g %%: %d readings of strength", chem, soc, len(s.Evidence))
			}
			for _, e := range s.Evidence {
				if pct := s.OfLabel(e); math.Abs(pct-75) > 4 {
					t.Errorf("%s at %g %%, %s: %.0f %% of its label, truly 75", chem, soc, e.What, pct)
				}
			}
		}
	}
}

// Bad contacts lower what is read under load and by conductance, and leave the
// rest volts alone. Ohm's law: 2 mΩ at 325 A is 0.65 V.
func TestContactsInTheWorld(t *testing.T) {
	good := World{Battery: newBattery(t, battery.Flooded), SOC: 90, BatteryC: 21, StarterAmps: 150}
	bad := good
	bad.PostOhms = 0.002
	how := reading.Fields{"method": HalfCCA, "amps": 325, "seconds": 15}
	if d := one(t, LoadTest, "volts_end", good, how).Best - one(t, LoadTest, "volts_end", bad,
		how).Best; math.Abs(d-0.65) > 1e-9 {
		t.Errorf("under load the contacts lose %.3f V", d)
	}
	if one(t, Conductance, "cca", bad, nil).Best >= 0.9*one(t, Conductance, "cca", good, nil).Best {
		t.Error("a conductance tester sees through 2 mΩ at the posts")
	}
	rested := one(t, RestVoltage, "volts", good, nil).Best
	if one(t, RestVoltage, "volts", bad, nil).Best != rested {
		t.Error("a rest voltage draws nothing through the contacts")
	}
	if good.SurfaceVolts = 0.2; math.Abs(one(t, RestVoltage, "volts", good, nil).Best-rested-0.2) > 1e-9 {
		t.Error("surface charge adds to a rest voltage")
	}
	// A new and full battery reads its label on a conductance tester.
	full := World{Battery: good.Battery, SOC: 100, BatteryC: 25}
	if p := one(t, Conductance, "cca", full, nil); math.Abs(p.Best-650) > 1 || math.Abs(p.Sigma-0.03*p.Best) > 1 {
		t.Errorf("a new one reads %+v", p)
	}
}

// Ohm's law over a path: 1.3 V at 94 A is 14 mΩ (worked example, arithmetic); the
// path that is asked for, and the starter's own draw where none was read.
func TestCablesInTheWorld(t *testing.T) {
	w := World{Battery: newBattery(t, battery.Flooded), LiveOhms: 1.3 / 94, EarthOhms: 0.001, StarterAmps: 100}
	for _, c := range []struct {
		how  reading.Fields
		want float64
	}{{reading.Fields{"path": "live", "amps": 94}, 1.3}, {reading.Fields{"path": "earth", "amps": 94},
		0.094}, {reading.Fields{"path": "earth"}, 0.1}} {
		if p := one(t, CableDrop, "volts", w, c.how); math.Abs(p.Best-c.want) > 1e-9 || p.Sigma <= 0 {
			t.Errorf("%v: %+v, want %g V", c.how, p, c.want)
		}
	}
}

// Charging volts fall as the battery warms, 18 to 24 mV for each °C (published,
// from memory); without an alternator the battery's own volts stand there.
func TestChargingInTheWorld(t *testing.T) {
	w := World{Battery: newBattery(t, battery.Flooded), SOC: 80, BatteryC: 25, AlternatorV: 14.3}
	warm := w
	warm.BatteryC = 35
	if got := one(t, Charging, "volts", w, nil).Best; got != 14.3 {
		t.Errorf("at 25 °C %.2f V", got)
	}
	if fall := 14.3 - one(t, Charging, "volts", warm, nil).Best; fall < 0.18 || fall > 0.24 {
		t.Errorf("ten degrees take %.2f V off", fall)
	}
	dead := w
	dead.AlternatorV = 0
	if got, rests := one(t, Charging, "volts", dead, nil).Best, one(t, RestVoltage, "volts", w,
		nil).Best; got != rests {
		t.Errorf("no alternator: %.2f V, at rest %.2f V", got, rests)
	}
}

func TestAcidEyeAndDrainInTheWorld(t *testing.T) {
	w := World{Battery: newBattery(t, battery.Flooded), SOC: 100, BatteryC: 26.7, DrainMilliamps: 28}
	// BCI, from memory: 1.265 full; read 0.004 low for each 10 °F of warmth.
	if got := one(t, Hydrometer, "cells_sg", w, nil).Best; math.Abs(got-1.265) > 0.001 {
		t.Errorf("full: %.4f", got)
	}
	w.BatteryC += 10 / 1.8
	if got := one(t, Hydrometer, "cells_sg", w, nil).Best; math.Abs(got-1.261) > 0.001 {
		t.Errorf("10 °F warmer: %.4f", got)
	}
	if p := one(t, Drain, "milliamps", w, nil); p.Best != 28 || p.Sigma < 1 {
		t.Errorf("drain %+v", p)
	}
	for soc, green := range map[float64]float64{65: 0.5, 90: 1, 40: 0} {
		w.SOC = soc
		if p := one(t, Eye, "colour", w, nil); math.Abs(p.Words["green"]-green) > 0.01 ||
			math.Abs(p.Words["green"]+p.Words["dark"]-1) > 1e-9 {
			t.Errorf("at %g %%: %v", soc, p.Words)
		}
	}
	w.Battery.Groups[0].Wet = 0.7
	if p := one(t, Eye, "colour", w, nil); p.Words["clear"] != 1 {
		t.Errorf("acid under the eye: %v", p.Words)
	}
	w.Battery = newBattery(t, battery.AGM)
	for _, code := range []string{Eye, Hydrometer} {
		if s, _ := KindOf(code); s.Expect(w, reading.Of(code, nil)) != nil {
			t.Errorf("%s of a battery whose acid cannot be reached", code)
		}
	}
}

// A starter's first surge is 3 to 5 times its steady draw (from memory), and the spread of the lowest volts is as wide as that makes it.
func TestSurgeOfAStarter(t *testing.T) {
	w := World{Battery: newBattery(t, battery.Flooded), SOC: 90, BatteryC: 21, StarterAmps: 150}
	at := func(amps float64) float64 { return w.Battery.LoadVolts(90, 21, amps, 0.3) }
	p := one(t, Crank, "volts_min", w, nil)
	if math.Abs(p.Best-at(600)) > 1e-9 {
		t.Errorf("lowest %.3f V, 600 A leave %.3f V", p.Best, at(600))
	}
	if half := (at(450) - at(750)) / 2; p.Sigma < half || p.Sigma > 1.05*half {
		t.Errorf("spread %.3f V, the surge alone makes %.3f V", p.Sigma, half)
	}
}

// A load that nobody set and a starter nobody measured foretell nothing; the
// label's load and the world's starter stand in where they can.
func TestLoadsThatAreNotKnown(t *testing.T) {
	s, _ := KindOf(LoadTest)
	w := World{Battery: newBattery(t, battery.Flooded), SOC: 90, BatteryC: 21}
	for method, want := range map[string]bool{HalfCCA: true, Fixed10s: false, Starter: false} {
		if got := s.Expect(w, reading.Of(LoadTest, reading.Fields{"method": method})); (got != nil) != want {
			t.Errorf("%s without amps: %+v", method, got)
		}
	}
	w.StarterAmps = 150
	if got := s.Expect(w, reading.Of(LoadTest, reading.Fields{"method": Starter})); got == nil {
		t.Error("the world's own starter is a load")
	}
	assumed := one(t, LoadTest, "volts_end", w, reading.Fields{"method": HalfCCA})
	read := one(t, LoadTest, "volts_end", w, reading.Fields{"method": HalfCCA, "amps": 325})
	if assumed.Best != read.Best || assumed.Sigma <= read.Sigma {
		t.Errorf("assumed %+v, read %+v", assumed, read)
	}
	if c, _ := KindOf(Crank); c.Expect(World{Battery: w.Battery, SOC: 90}, reading.Of(Crank, nil)) != nil {
		t.Error("a crank without a starter")
	}
}

// How well each instrument is read, one standard deviation: a meter's limit of
// error over √3, a load's volts for 3 % of its amps read and 10 % assumed, 3 % of
// a conductance figure, 0.004 of gravity, 0.1 V between alternators, 1 mA and 5 %
// of a drain, 8 % of charge for an eye. From memory.
func TestSpreads(t *testing.T) {
	w := World{Battery: newBattery(t, battery.Flooded), SOC: 73, BatteryC: 21, AlternatorV: 14.3, DrainMilliamps: 200,
		StarterAmps: 150, LiveOhms: 0.002}
	meter := func(v float64) float64 { return battery.MeterError(v) / math.Sqrt(3) }
	loads := func(part float64) float64 {
		return math.Abs(w.Battery.LoadVolts(73, 21, 325*(1-part), 15)-w.Battery.LoadVolts(73, 21, 325*(1+part), 15)) / 2
	}
	for _, c := range []struct {
		code, field string
		how         reading.Fields
		want        func(best float64) float64
	}{
		{RestVoltage, "volts", nil,
			func(v float64) float64 { return math.Hypot(meter(v), battery.Flooded.RestSpread()) }},
		{LoadTest, "volts_end", reading.Fields{"method": HalfCCA, "amps": 325},
			func(v float64) float64 { return math.Hypot(meter(v), loads(0.03)) }},
		{LoadTest, "volts_end", reading.Fields{"method": HalfCCA},
			func(v float64) float64 { return math.Hypot(meter(v), loads(0.10)) }},
		{Hydrometer, "cells_sg", nil, func(float64) float64 { return 0.004 }},
		{Charging, "volts", nil, func(v float64) float64 { return math.Hypot(meter(v), 0.1) }},
		{Drain, "milliamps", nil, func(ma float64) float64 { return math.Hypot(1, 0.05*ma) }},
		{Crank, "amps", nil, func(a float64) float64 { return 0.03 * a }},
		{CableDrop, "volts", reading.Fields{"path": "live"},
			func(v float64) float64 { return math.Hypot(meter(v), 0.03*v) }},
	} {
		if p := one(t, c.code, c.field, w, c.how); math.Abs(p.Sigma-c.want(p.Best)) > 1e-6 {
			t.Errorf("%s %v: ± %g, want %g", c.code, c.how, p.Sigma, c.want(p.Best))
		}
	}
	// One standard deviation over its turning point, 84 of 100 eyes are green.
	if p := one(t, Eye, "colour", w, nil); math.Abs(p.Words["green"]-0.841) > 0.01 {
		t.Errorf("at 73 %% %.3f are green", p.Words["green"])
	}
	six, _, err := battery.FromLabel(battery.Flooded, 3, rating.Label{CCA: 420, Ah20h: 70})
	must(t, err)
	w.Battery = six
	if p := one(t, Charging, "volts", w, nil); math.Abs(p.Best-7.15-0.5*0.021*4) > 1e-9 ||
		math.Abs(p.Sigma-math.Hypot(meter(p.Best), 0.05)) > 1e-6 {
		t.Errorf("6 V: %+v", p)
	}
}

var must = fatal.On
