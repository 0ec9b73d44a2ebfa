package station

import (
	"math"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/energy"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
)

func told(trips, minutes float64, more ...any) reading.Reading {
	r := reading.Of(Week, reading.Fields{"trips": trips, "minutes": minutes, "traffic": "road", "loads": "some", "season": "winter"})
	for i := 0; i+1 < len(more); i += 2 {
		r = r.With(more[i].(string), more[i+1])
	}
	return r
}

// weekly is a petrol car of which a week was told, after other readings.
func weekly(week reading.Reading, before ...reading.Reading) *bench.Bench {
	c := readingtest.Car(append(before, week)...)
	c.Vehicle.Fuel = "petrol"
	return Put(c, readingtest.Labels)
}

// From where a week feeds a battery, from both sides: the house's least charge for a
// fair test, and nine tenths.
func TestWeekLevels(t *testing.T) {
	b := weekly(told(10, 12))
	for pct, want := range map[float64]bench.Level{74.9: bench.Act, 75: bench.Note, 89.9: bench.Note, 90: bench.OK} {
		if got := weekLevel(b, &bench.Fed{Account: energy.Account{Settles: battery.Band{Best: pct}}}); got != want {
			t.Errorf("%g %%: %s, want %s", pct, got, want)
		}
	}
}

// What was measured takes the place of what is usual, until it is put right.
func TestWeekTakesWhatWasMeasured(t *testing.T) {
	running := func(v float64, speed string) reading.Reading {
		return reading.Of(Charging, reading.Fields{"volts": v, "speed": speed})
	}
	leaks := reading.Of(Drain, reading.Fields{"milliamps": 180, "minutes_asleep": 40})
	right := func(what string) reading.Reading { return reading.Of(PutRight, reading.Fields{"what": []string{what}}) }
	usual := energy.UsualOf("car")
	// 21 mV for each °C colder: at 0 °C regulated 0.52 V above what it is at 25.
	winter := energy.UsualVolts - 25*energy.VoltsPerC
	for name, c := range map[string]struct {
		before          []reading.Reading
		volts, ma       float64
		charging, drain bool
	}{
		"nothing measured":   {nil, winter, usual.DrainMilliamps, false, false},
		"charging at 21 °C":  {[]reading.Reading{running(14.0, "raised")}, 14.0 - 21*energy.VoltsPerC, usual.DrainMilliamps, true, false},
		"idling low":         {[]reading.Reading{running(13.2, "idle")}, winter, usual.DrainMilliamps, false, false},
		"idling well":        {[]reading.Reading{running(14.0, "idle")}, 14.0 - 21*energy.VoltsPerC, usual.DrainMilliamps, true, false},
		"does not charge":    {[]reading.Reading{running(12.5, "raised")}, 0, usual.DrainMilliamps, true, false},
		"charges a little":   {[]reading.Reading{running(13.0, "raised")}, 13.0 - 21*energy.VoltsPerC, usual.DrainMilliamps, true, false},
		"drains":             {[]reading.Reading{leaks}, winter, 180, false, true},
		"fuse out":           {[]reading.Reading{leaks, leaks.With("fuse", "14").With("milliamps", 20)}, winter, 180, false, true},
		"drain found":        {[]reading.Reading{leaks, right("drain")}, winter, usual.DrainMilliamps, false, false},
		"alternator changed": {[]reading.Reading{running(12.5, "raised"), right("alternator")}, winter, usual.DrainMilliamps, false, false},
		"belt tightened":     {[]reading.Reading{running(12.5, "raised"), right("belt")}, winter, usual.DrainMilliamps, false, false},
	} {
		f := weekly(told(10, 12), c.before...).Fed()
		if f == nil {
			t.Fatalf("%s: nothing", name)
		}
		v := f.Week.Vehicle
		if math.Abs(v.AlternatorVolts-c.volts) > 1e-9 || v.DrainMilliamps != c.ma || f.Charging != c.charging || f.Drain != c.drain {
			t.Errorf("%s: %.3f V, %g mA, measured %t %t; want %.3f V, %g mA, %t %t", name, v.AlternatorVolts, v.DrainMilliamps,
				f.Charging, f.Drain, c.volts, c.ma, c.charging, c.drain)
		}
	}
}

// Of a pair each battery has half; what a word says of loads and season is taken, and
// what is left out is as usual.
func TestWeekWords(t *testing.T) {
	one := weekly(told(10, 12)).Fed().Week
	c := readingtest.Car(told(10, 12))
	c.Vehicle.Fuel, c.Vehicle.Arrangement = "petrol", "parallel"
	half := Put(c, readingtest.Labels).Fed().Week
	for name, of := range map[string]func(energy.Vehicle) float64{
		"road":  func(v energy.Vehicle) float64 { return v.RoadAmps },
		"idle":  func(v energy.Vehicle) float64 { return v.IdleAmps },
		"loads": func(v energy.Vehicle) float64 { return v.LoadAmps },
		"crank": func(v energy.Vehicle) float64 { return v.CrankAmps },
		"drain": func(v energy.Vehicle) float64 { return v.DrainMilliamps },
		"usual": func(v energy.Vehicle) float64 { return v.UsualMilliamps },
	} {
		if got, want := of(half.Vehicle), of(one.Vehicle)/2; got != want || got == 0 {
			t.Errorf("%s of a pair: %g, want %g", name, got, want)
		}
	}
	usual := energy.UsualOf("car")
	bare := weekly(reading.Of(Week, reading.Fields{"trips": 3, "minutes": 10})).Fed().Week
	many := weekly(told(3, 10, "loads", "many", "season", "summer", "traffic", "idling", "long_minutes", 90, "nights", 2)).Fed().Week
	if bare.TempC != 0 || bare.Vehicle.LoadAmps != usual.LoadAmps[energy.SomeOn] || bare.Trips[0].Idling || len(bare.Trips) != 1 || bare.Nights != 0 {
		t.Errorf("left out: %+v", bare)
	}
	if many.TempC != 20 || many.Vehicle.LoadAmps != usual.LoadAmps[energy.MuchOn] || !many.Trips[0].Idling || len(many.Trips) != 2 ||
		many.Trips[1] != (energy.Trip{Times: 1, Minutes: 90}) || many.Nights != 2 || math.Abs(many.ChargerAmps-6.2) > 1e-9 {
		t.Errorf("said: %+v", many)
	}
	if few := weekly(told(3, 10, "loads", "few")).Fed().Week; few.Vehicle.LoadAmps != usual.LoadAmps[energy.LittleOn] {
		t.Errorf("little on: %g A", few.Vehicle.LoadAmps)
	}
	six := readingtest.Car(told(10, 12))
	six.Vehicle.SystemVolts, six.Vehicle.Fuel = 6, "none"
	w := Put(six, readingtest.Labels).Fed().Week
	if w.Vehicle.CrankAmps != 0 || math.Abs(w.Vehicle.AlternatorVolts-one.Vehicle.AlternatorVolts/2) > 1e-9 {
		t.Errorf("6 V without an engine: %+v", w.Vehicle)
	}
	electric := readingtest.Car(told(10, 12))
	electric.Vehicle.Class = "electric"
	if b := Put(electric, readingtest.Labels); b.Fed() != nil || flowOf(b) != nil || tellWeek(b) != nil {
		t.Error("an electric car has no such week")
	}
	if b := Put(readingtest.Car(), readingtest.Labels); b.Fed() != nil || flowOf(b) != nil {
		t.Error("nobody told of a week")
	}
	worn := weekly(told(10, 12), reading.Of(RestVoltage, reading.Fields{"volts": 12.62, "surface_charge": "rested"}),
		reading.Of(Conductance, reading.Fields{"cca": 330, "standard": "SAE"})).Fed().Week
	under := func(w energy.Week) float64 { return w.Battery.LoadVolts(80, 20, 325, 15) }
	if under(worn) > under(one)-0.5 || worn.Vehicle.CrankAmps != one.Vehicle.CrankAmps {
		t.Errorf("a worn battery, %.2f V of %.2f, turns the same engine: %g and %g A", under(worn), under(one), worn.Vehicle.CrankAmps, one.Vehicle.CrankAmps)
	}
}

// What is drawn adds up, and says the same as the ledger.
func TestFlow(t *testing.T) {
	leaks := reading.Of(Drain, reading.Fields{"milliamps": 60, "minutes_asleep": 40})
	b := weekly(told(4, 12, "long_minutes", 55), leaks)
	f := flowOf(b)
	in, out := 0.0, 0.0
	for _, l := range f.In {
		in += l.Ah
	}
	for i, l := range f.Out {
		out += l.Ah
		if i > 0 && l.Ah > f.Out[i-1].Ah {
			t.Errorf("%s after less", l.Code)
		}
	}
	if math.Abs(in-f.InAh) > 1e-9 || math.Abs(out-f.OutAh) > 1e-9 || math.Abs(in-out) > 0.02*in {
		t.Errorf("%.3f of %.3f Ah in, %.3f of %.3f out", in, f.InAh, out, f.OutAh)
	}
	names := func(lines []FlowLine) string {
		var all []string
		for _, l := range lines {
			all = append(all, l.Name.String())
		}
		return strings.Join(all, "; ")
	}
	if got := names(f.In); got != "4 trips of 12 min; one drive of 55 min" {
		t.Error(got)
	}
	if got := names(f.Out); got != "standing drain, 60 mA; 5 starts; self-discharge" {
		t.Error(got)
	}
	if f.In[0].Times != 4 || f.In[1].Times != 1 || len(f.Levers) != mostLevers || f.From != 75 {
		t.Errorf("%+v", f)
	}
	if got := f.Customer.String(); !strings.HasPrefix(got, "Parked, it uses more than your drives put back.") || !strings.Contains(got, "it stays at") {
		t.Error(got)
	}
	if got := f.Taken.String(); got != takenDrain {
		t.Error(got)
	}
	if got, ledger := f.Word.String(), tellWeek(b)[0].Text.String(); got != ledger {
		t.Errorf("%s, in the ledger %s", got, ledger)
	}
}

// Each reason is said in its own words.
func TestCustomerOfTheWeek(t *testing.T) {
	running := func(v float64) reading.Reading {
		return reading.Of(Charging, reading.Fields{"volts": v, "speed": "raised"})
	}
	leaks := reading.Of(Drain, reading.Fields{"milliamps": 60, "minutes_asleep": 40})
	quiet := reading.Of(Drain, reading.Fields{"milliamps": 2, "minutes_asleep": 40})
	for want, b := range map[string]*bench.Bench{
		customerFed:      weekly(told(14, 40), running(14.4), quiet),
		customerDrain:    weekly(told(3, 12), running(14.4), leaks),
		customerLoads:    weekly(told(30, 20, "traffic", "idling", "loads", "many", "season", "winter"), quiet, running(14.4)),
		customerShort:    weekly(told(14, 2), running(14.4), quiet),
		customerNoCharge: weekly(told(14, 30), running(12.4), quiet),
	} {
		if want == customerLoads {
			// A motorcycle's alternator gives less at idle than all that is on.
			c := readingtest.Car(b.Case.Readings...)
			c.Vehicle.Class, c.Vehicle.Fuel = "motorcycle", "petrol"
			b = Put(c, readingtest.Labels)
		}
		f := flowOf(b)
		if got := f.Customer.String(); !strings.HasPrefix(got, want) {
			t.Errorf("%q, want %q; out %+v", got, want, f.Out)
		}
	}
	starving := flowOf(weekly(told(2, 3), leaks.With("milliamps", 400)))
	if starving.Lasts.IsZero() || starving.Settles.Best != 0 {
		t.Errorf("400 mA, two trips of 3 min: settles at %g, %s", starving.Settles.Best, starving.Lasts)
	}
	if fed := flowOf(weekly(told(14, 40), quiet)); !fed.Lasts.IsZero() {
		t.Errorf("fed, and lasts %s", fed.Lasts)
	}
}
