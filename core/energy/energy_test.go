package energy

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/internal/effort"
)

func made(t testing.TB, chem battery.Chemistry, cca, ah float64) battery.Battery {
	t.Helper()
	b, _, err := battery.FromLabel(chem, 6, rating.Label{CCA: cca, Ah20h: ah})
	if err != nil {
		t.Fatal(err)
	}
	return b
}

// van is a baker's van in the cold: short stops, a long round once a week, and a drain.
func van(t testing.TB) Week {
	return Week{
		Battery: made(t, battery.EFB, 560, 60), TempC: 5,
		Vehicle: Vehicle{AlternatorVolts: 14.4, RoadAmps: 70, IdleAmps: 30, LoadAmps: 25, CrankAmps: 160, CrankSeconds: 3, DrainMilliamps: 60, UsualMilliamps: 25},
		Trips:   []Trip{{Times: 3, Minutes: 12}, {Times: 1, Minutes: 55}},
	}
}

func (a Account) line(code string) float64 {
	for _, l := range a.Lines {
		if l.Code == code {
			return l.Ah
		}
	}
	return 0
}

// Worked by hand. 30 mA over a week is 5.04 Ah (22 Ah a month, common practice, no
// source). Ten starts of 150 A for 3 s are 1.25 Ah. Idling an hour on an alternator that
// gives 20 A of the 25 A that are on takes 5 Ah.
func TestWhatGoesOut(t *testing.T) {
	w := van(t)
	w.Trips = []Trip{{Times: 10, Minutes: 6, Idling: true}}
	w.Vehicle.IdleAmps, w.Vehicle.CrankAmps, w.Vehicle.DrainMilliamps = 20, 150, 30
	a := Of(w)
	for code, want := range map[string]float64{"loads": -5, "cranks": -1.25, "drain": -0.030 * 167} {
		if got := a.line(code); math.Abs(got-want) > 1e-9 {
			t.Errorf("%s %.3f Ah, by hand %.3f", code, got, want)
		}
	}
	if a.Settles.Best != 0 || a.EmptyWeeks <= 0 {
		t.Errorf("settles at %+v, empty after %g weeks", a.Settles, a.EmptyWeeks)
	}
	idle := Week{Battery: w.Battery, TempC: 20, Vehicle: Vehicle{DrainMilliamps: 30}}
	if got := Of(idle).line("drain") * 30 / 7; math.Abs(got+21.6) > 0.01 {
		t.Errorf("30 mA are %.1f Ah a month", got)
	}
	// From full to a fifth, 48 Ah at 5.04 Ah a week and 0.4 to 0.9 % a week by itself: 8 to 9.5 weeks.
	if weeks := Of(idle).EmptyWeeks; weeks < 7.5 || weeks > 9.5 {
		t.Errorf("flat after %.1f weeks", weeks)
	}
}

// A quarter of an hour on a mower's coil of 4 A is about an ampere-hour. Common practice,
// no source.
func TestMowerCoil(t *testing.T) {
	w := Week{Battery: made(t, battery.Flooded, 300, 28), TempC: 20, Vehicle: Vehicle{AlternatorVolts: 14.2, RoadAmps: 4},
		Trips: []Trip{{Times: 1, Minutes: 15}}}
	l := w.ledger()
	if got := l.fed[0].kept.at(50); got < 0.85 || got > 1.02 {
		t.Errorf("%.2f Ah", got)
	}
}

// In and out meet where it settles, over weeks at random; and everything moves it the
// way it should.
func TestAccountsBalance(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	between := func(lo, hi float64) float64 { return lo + (hi-lo)*rng.Float64() }
	bases := []battery.Battery{made(t, battery.Flooded, 540, 52), made(t, battery.AGM, 760, 70), made(t, battery.FloodedSealed, 600, 60)}
	met := 0
	n := effort.Of(4, 24, 60)
	for range n {
		w := Week{Battery: bases[rng.IntN(3)].WithCapacity(between(50, 100)), TempC: between(-10, 30),
			Vehicle: Vehicle{AlternatorVolts: between(13.6, 14.6), RoadAmps: between(20, 90), IdleAmps: between(10, 50), LoadAmps: between(5, 30),
				CrankAmps: between(80, 250), CrankSeconds: between(1, 5), DrainMilliamps: between(0, 150)},
			Trips: []Trip{{Times: between(1, 10), Minutes: between(3, 20)}, {Times: between(0, 6), Minutes: between(3, 20), Idling: true}}}
		a := Of(w)
		sum, gross := 0.0, 0.0
		for _, l := range a.Lines {
			sum, gross = sum+l.Ah, gross+math.Abs(l.Ah)
		}
		s := a.Settles
		if s.Low > s.Best+1e-9 || s.Best > s.High+1e-9 || s.Low < 0 || s.High > 100 {
			t.Errorf("%+v", s)
		}
		switch {
		case s.Best > 0 && s.Best < 100:
			met++
			if math.Abs(sum) > 1e-3*gross+1e-6 {
				t.Errorf("in and out differ by %.4f of %.1f Ah at %.1f %%", sum, gross, s.Best)
			}
		case s.Best == 0 && sum > 1e-6, s.Best == 100 && sum < -1e-6:
			t.Errorf("%.3f Ah left over at %g %%", sum, s.Best)
		}
		more := w
		more.Vehicle.DrainMilliamps += 40
		longer := w
		longer.Trips = append(slices.Clone(w.Trips), Trip{Times: 1, Minutes: 60})
		if Of(more).Settles.Best > s.Best+1e-6 || Of(longer).Settles.Best < s.Best-1e-6 {
			t.Error("more drain fills it, or a longer drive empties it")
		}
		colder := w
		colder.TempC -= 15
		colder.Vehicle.DrainMilliamps, w.Vehicle.DrainMilliamps = 100, 100
		if Of(colder).Settles.Best > Of(w).Settles.Best+3 { // less self-discharge, a little
			t.Errorf("15 °C colder it settles at %.1f, not %.1f %%", Of(colder).Settles.Best, Of(w).Settles.Best)
		}
		for i, l := range Levers(w) {
			if l.Settles <= Of(w).Settles.Best+2-1e-9 {
				t.Errorf("%s helps by %.1f %%", l.Code, l.Settles-Of(w).Settles.Best)
			}
			if all := Levers(w); i > 0 && l.Settles > all[i-1].Settles {
				t.Error("the most helpful is not first")
			}
		}
	}
	if met < n/4 {
		t.Errorf("only %d weeks balance between flat and full", met)
	}
}

// The van: a night on a charger fills it, a maintainer too; a van that is full needs
// nothing.
func TestLevers(t *testing.T) {
	w := van(t)
	w.Vehicle.DrainMilliamps = 120
	a := Of(w)
	if a.Settles.Best > 90 {
		t.Fatalf("settles at %.0f %%", a.Settles.Best)
	}
	codes := map[string]float64{}
	for _, l := range Levers(w) {
		codes[l.Code] = l.Settles
	}
	for _, code := range []string{"drive", "night", "drain", "maintainer"} {
		if codes[code] <= a.Settles.Best {
			t.Errorf("%s: %.0f %%, from %.0f", code, codes[code], a.Settles.Best)
		}
	}
	w.Vehicle.DrainMilliamps, w.Trips = 10, []Trip{{Times: 10, Minutes: 60}}
	if more := Levers(w); len(more) != 0 {
		t.Errorf("full, and still %d", len(more))
	}
	w = van(t)
	w.Vehicle.DrainMilliamps = w.Vehicle.UsualMilliamps
	for _, l := range Levers(w) {
		if l.Code == "drain" {
			t.Error("a usual drain is brought down")
		}
	}
	w.Vehicle.AlternatorVolts = 0
	if a := Of(w); a.Settles.Best != 0 || a.line("trips") != 0 || a.line("loads") >= 0 {
		t.Errorf("without an alternator %+v", a)
	}
}

// A maintainer keeps all its current up to nine tenths, and none when full.
func TestMaintains(t *testing.T) {
	for soc, want := range map[float64]float64{0: 1, 90: 1, 95: 0.5, 100: 0} {
		if got := maintains(soc); math.Abs(got-want) > 1e-9 {
			t.Errorf("at %g %% %g", soc, got)
		}
	}
}

func BenchmarkLevers(b *testing.B) {
	w := van(b)
	for b.Loop() {
		Levers(w)
	}
}

// By hand: 14.2 V at 25 °C are 14.2 + 35·0.021 = 14.935 V at −10 °C, and twice that on 24 V.
func TestRegulated(t *testing.T) {
	for _, c := range []struct{ temp, nominal, want float64 }{{25, 12, 14.2}, {-10, 12, 14.935}, {-10, 24, 29.87}, {45, 6, 6.89}} {
		if got := Regulated(UsualVolts, c.temp, c.nominal); math.Abs(got-c.want) > 1e-9 {
			t.Errorf("%g °C, %g V: %g, by hand %g", c.temp, c.nominal, got, c.want)
		}
	}
}
