package charge

import (
	"math"
	"math/rand/v2"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/internal/effort"
	"grapnel/internal/fatal"
)

var must = fatal.On

// made is a 12 V battery of 540 CCA, 75 min, 48 Ah, of a build.
func made(t testing.TB, c battery.Chemistry) battery.Battery {
	t.Helper()
	b, _, err := battery.FromLabel(c, 6, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
	must(t, err)
	return b
}

// hung is a battery rested at a charge and temperature, in a room as cold, on a charger.
func hung(b battery.Battery, soc, tempC float64, c Charger) Setup {
	return Setup{Battery: b, State: b.Rested(soc, tempC), Charger: c, Room: battery.Ambient{Start: tempC}, Ready: 75}
}

func forecast(t testing.TB, s Setup) Forecast {
	t.Helper()
	f, err := s.Forecast(Usual())
	must(t, err)
	return f
}

func hours(t testing.TB, h *Hours) float64 {
	t.Helper()
	if h == nil {
		t.Fatal("it never comes")
	}
	return h.Best
}

// Common practice, no source: RC 75 at 25 A is 3 h, at 10 A 7.5 h. For a flat battery
// the model is within a third of it: under it, because the rule gives back more than
// came out, over it in the cold.
func TestRuleOfThumb(t *testing.T) {
	if a, b := RuleOfThumb(75, 25), RuleOfThumb(75, 10); a != 3 || b != 7.5 {
		t.Errorf("%g h at 25 A, %g h at 10 A", a, b)
	}
	b := made(t, battery.Flooded)
	for amps, want := range map[float64]float64{25: 3, 10: 7.5} {
		full := hours(t, forecast(t, hung(b, 5, 20, SmartAt(amps))).Full)
		if full < want*0.67 || full > want*1.67 {
			t.Errorf("flat on %g A: full after %.1f h, the rule says %.1f", amps, full, want)
		}
	}
	warm, cold := hours(t, forecast(t, hung(b, 5, 20, SmartAt(25))).Full), hours(t, forecast(t, hung(b, 5, -5, SmartAt(25))).Full)
	if cold < 1.5*warm {
		t.Errorf("%.1f h at 20 °C, %.1f h at -5 °C", warm, cold)
	}
}

// Common practice, no source: a taper charger that falls from 30 to 10 A in an hour
// averages 20 A.
func TestTaper(t *testing.T) {
	s := hung(made(t, battery.Flooded), 15, 20, Charger{Kind: Taper, AmpsStart: 30, VoltsOpen: 15})
	f := forecast(t, s)
	if mean := s.average(f.Curve); mean < 16 || mean > 22 {
		t.Errorf("%.1f A on average", mean)
	}
	first, hour := f.Curve[0].Amps, 0.0
	for i, p := range f.Curve {
		if p.Minute >= 60 {
			hour = p.Amps
			break
		}
		if i > 0 && p.Amps > f.Curve[i-1].Amps+0.5 {
			t.Errorf("it rises to %.1f A after %.0f min", p.Amps, p.Minute)
		}
	}
	if first < 27 || first > 31 || hour > 16 || hour < 8 {
		t.Errorf("%.1f A at first, %.1f A after an hour", first, hour)
	}
	// Its volts behind ohms are the same thing said otherwise.
	same := s
	same.Charger = Charger{Kind: Taper, VoltsSet: 15, Ohms: 0.1}
	if a, b := hours(t, f.Full), hours(t, forecast(t, same).Full); math.Abs(a/b-1) > 0.01 {
		t.Errorf("%.2f h by its start, %.2f h by its ohms", a, b)
	}
}

// Common practice, no source: from 80 % to full takes 3 to 5 h whatever the charger, warm
// and at its build's volts.
func TestLastFifth(t *testing.T) {
	for _, c := range []battery.Chemistry{battery.Flooded, battery.FloodedSealed, battery.EFB, battery.AGM} {
		b := made(t, c)
		for _, amps := range []float64{5, 10, 20, 40} {
			full := hours(t, forecast(t, hung(b, 80, 22, SmartAt(amps))).Full)
			if full < 2.4 || full > 5.2 {
				t.Errorf("%s on %g A: %.1f h", c, amps, full)
			}
		}
	}
}

// Full is where the current has fallen to about 1 % of the ampere-hours, at 20 °C: the
// two ends of a charge that are practised are one.
func TestFullIsTheTail(t *testing.T) {
	for c, volts := range map[battery.Chemistry]float64{battery.Flooded: 14.4, battery.FloodedSealed: 14.6, battery.EFB: 14.6, battery.AGM: 14.6} {
		b := made(t, c)
		end, err := b.Run(b.Rested(50, 20), battery.Duty{Source: battery.Source{Amps: 10, Volts: volts}, Ambient: battery.Ambient{Start: 20},
			Seconds: 48 * 3600, Events: []battery.Event{{Name: "tail", When: func(x battery.Sample) float64 { return x.Amps - 0.01*b.Ah20h }}}})
		must(t, err)
		if math.Abs(end.SOC-FullPct) > 2.5 {
			t.Errorf("%s: 1 %% of its Ah at %.1f %% of charge", c, end.SOC)
		}
	}
}

// More amps, more warmth and more charge never make it later; cold makes it much later.
func TestSooner(t *testing.T) {
	for _, c := range []battery.Chemistry{battery.Flooded, battery.AGM, battery.Gel} {
		b := made(t, c)
		last := math.Inf(1)
		for _, amps := range []float64{2, 4, 8, 16, 32} {
			f := forecast(t, hung(b, 20, 20, SmartAt(amps)))
			if h := hours(t, f.Ready); h > last+0.01 {
				t.Errorf("%s: ready after %.2f h on %g A, %.2f on less", c, h, amps, last)
			} else {
				last = h
			}
		}
		last = math.Inf(1)
		for _, temp := range []float64{-15, -5, 5, 15, 25} {
			if h := hours(t, forecast(t, hung(b, 30, temp, SmartAt(10))).Ready); h > last+0.01 {
				t.Errorf("%s: ready after %.2f h at %g °C, %.2f colder", c, h, temp, last)
			} else {
				last = h
			}
		}
		last = math.Inf(1)
		for _, soc := range []float64{0, 20, 40, 60, 80} {
			if h := hours(t, forecast(t, hung(b, soc, 20, SmartAt(10))).Full); h > last+0.01 {
				t.Errorf("%s: full after %.2f h from %g %%, %.2f from less", c, h, soc, last)
			} else {
				last = h
			}
		}
	}
	b := made(t, battery.Flooded)
	if warm, cold := hours(t, forecast(t, hung(b, 50, 20, SmartAt(10))).Ready), hours(t, forecast(t, hung(b, 50, -18, SmartAt(10))).Ready); cold < 2.5*warm {
		t.Errorf("a quarter of its charge: %.1f h at 20 °C, %.1f h at -18 °C", warm, cold)
	}
}

// By hand: at a steady 4.8 A a 48 Ah battery gains 10 % an hour; its acid holds 4 to 6 %
// more than the 20 h rate draws, so that from 25 % it is at 75 % after 5.2 to 5.3 h.
func TestSteadyCharge(t *testing.T) {
	b := made(t, battery.Flooded)
	f := forecast(t, hung(b, 25, 20, Charger{Kind: Manual, Amps: 4.8}))
	if h, by := hours(t, f.Ready), 0.5*b.Coulombs/3600/4.8; math.Abs(h/by-1) > 0.01 || by < 5.15 || by > 5.35 {
		t.Errorf("ready after %.2f h, by hand %.2f", h, by)
	}
	if f.Ah < 0.71*48 || f.Ah > 0.85*48 {
		t.Errorf("%.1f Ah to full, %.1f were missing", f.Ah, 0.71*48)
	}
	for _, p := range f.Curve {
		if p.Amps != 4.8 {
			t.Errorf("%.2f A after %.0f min", p.Amps, p.Minute)
		}
	}
}

// A curve begins at once, ends a little after full, and has at most 500 points inside its
// band; the best moment lies inside its own.
func TestCurveAndBand(t *testing.T) {
	for _, c := range []Charger{SmartAt(10), {Kind: Taper, AmpsStart: 25}, {Kind: Manual, Amps: 4}, {Kind: Maintainer, AmpsMax: 1.5}, {Kind: Trickle, Amps: 0.8}} {
		for _, soc := range []float64{3, 40, 85} {
			f := forecast(t, hung(made(t, battery.FloodedSealed), soc, 12, c))
			if len(f.Curve) > 500 || len(f.Curve) != len(f.Band) || f.Curve[0].Minute != 0 {
				t.Fatalf("%d points, %d of the band", len(f.Curve), len(f.Band))
			}
			for i, p := range f.Curve {
				r := f.Band[i]
				if i > 0 && p.Minute <= f.Curve[i-1].Minute || r.Minute != p.Minute {
					t.Fatalf("%s: point %d at %g min, band at %g", c.Kind, i, p.Minute, r.Minute)
				}
				const e = 1e-9
				if p.Volts < r.VoltsLow-e || p.Volts > r.VoltsHigh+e || p.Amps < r.AmpsLow-e || p.Amps > r.AmpsHigh+e ||
					p.SOCPct < r.SOCPctLow-e || p.SOCPct > r.SOCPctHigh+1.5 || p.BatteryC < r.BatteryCMin-e || p.BatteryC > r.BatteryCMax+e {
					t.Fatalf("%s from %g %%: %+v outside %+v", c.Kind, soc, p, r)
				}
			}
			if f.Full == nil {
				t.Fatalf("%s from %g %% never fills", c.Kind, soc)
			}
			if end := f.Curve[len(f.Curve)-1].Minute / 60; end < f.Full.Best || end > max(1.3*f.Full.Best, 1.1) {
				t.Errorf("%s: curve to %.1f h, full after %.1f", c.Kind, end, f.Full.Best)
			}
			if f.Full.Low > f.Full.Best || f.Full.High != nil && *f.Full.High < f.Full.Best {
				t.Errorf("%+v", f.Full)
			}
		}
	}
}

// A charger that goes to float sooner or later shows one volt or the other: the band lies
// between them, give or take its own width elsewhere.
func TestBandAtFloat(t *testing.T) {
	f := forecast(t, hung(made(t, battery.Flooded), 50, 6, SmartAt(4)))
	l, jumped := LimitsOf(battery.Flooded), false
	for _, r := range f.Band[2:] {
		jumped = jumped || r.VoltsHigh-r.VoltsLow > 0.8
		if r.VoltsHigh > l.AbsorptionUsual+0.2 || r.VoltsLow < 12 || r.Minute/60 > f.Full.Low && r.VoltsLow < l.FloatUsual-0.2 {
			t.Errorf("%+v", r)
		}
	}
	if !jumped {
		t.Error("nobody doubts when it goes to float")
	}
}

// Nine in ten: batteries drawn with all their doubts at once are full within the band
// about that often.
func TestBandHolds(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	d := Usual()
	inside, all := 0, 0
	for _, at := range []struct{ soc, temp, amps float64 }{{20, 20, 10}, {50, 5, 6}, {10, 25, 4}, {35, 12, 20}} {
		s := hung(made(t, battery.Flooded), at.soc, at.temp, SmartAt(at.amps))
		f := forecast(t, s)
		for range 60 {
			o := s
			g := func(spread float64) float64 { return spread * rng.NormFloat64() }
			o.State = shifted(o.State, 1, g(d.SOC)/100)
			o.Battery.Groups[0].Capacity *= factor(g(d.Capacity))
			o.Battery.Acceptance *= factor(g(d.Acceptance))
			o.Battery.Gassing *= factor(g(d.Gassing))
			o.Charger = o.Charger.scaled(factor(g(d.Amps)))
			warmer := g(d.TempC)
			o.State.TempC += warmer
			o.Room.Start += warmer
			o.State.Cells[0].Sulphate = math.Abs(g(d.Sulphate))
			c, err := o.run(bandTolerance, nil)
			must(t, err)
			all++
			if h := c.full / 3600; h >= f.Full.Low && (f.Full.High == nil || h <= *f.Full.High) {
				inside++
			}
		}
	}
	if part := float64(inside) / float64(all); part < 0.84 || part > 0.99 {
		t.Errorf("%.0f %% of %d inside a band for nine in ten", 100*part, all)
	}
}

// Common practice, no source: a long-flat battery refuses for 8 to 16 h under 16 V across
// it, up to 4 h at more; one that is only flat takes current at once.
func TestDelay(t *testing.T) {
	quarter := Forecast{Delay: Hours{Best: 0.25}}
	if quarter.Delayed() {
		t.Error("a quarter of an hour is not worth saying")
	}
	if quarter.Delay.Best = 0.26; !quarter.Delayed() {
		t.Error("more than a quarter of an hour is not said")
	}
	b := made(t, battery.Flooded)
	long := func(c Charger) Forecast {
		s := hung(b, 5, 20, c)
		s.State.Cells[0].Sulphate = battery.Hardened(5, 20, 60)
		return forecast(t, s)
	}
	if h := long(SmartAt(5)).Delay.Best; h < 5 || h > 16 {
		t.Errorf("%.1f h on 14.6 V", h)
	}
	if h := long(Charger{Kind: Manual, Amps: 5, VoltsOpen: 18}).Delay.Best; h > 4 || h < 0.3 {
		t.Errorf("%.1f h driven to 18 V", h)
	}
	if h := forecast(t, hung(b, 5, 20, SmartAt(5))).Delay; h.Best != 0 {
		t.Errorf("%+v for one that is only flat", h)
	}
	// The smart charger may take the refusal for the end.
	f := long(SmartAt(5))
	if f.Says == nil || f.Says.SOCPct > 12 || f.Says.Hours > 1 || hours(t, f.Full) < 8 {
		t.Errorf("the charger says %+v, full after %+v", f.Says, f.Full)
	}
	if f := forecast(t, hung(b, 5, 20, SmartAt(5))); f.Says != nil {
		t.Errorf("one that is only flat: the charger says %+v", f.Says)
	}
}

// 60 days at 20 °C and 5 %: by hand, 1 − exp(−60/21 · 0.95² · w¹¹), w¹¹ = 0.698.
func TestHardened(t *testing.T) {
	if z := battery.Hardened(5, 20, 60); math.Abs(z-(1-math.Exp(-60.0/21*0.9025*0.6955))) > 0.01 {
		t.Errorf("%.3f", z)
	}
	for _, days := range []float64{0, -3} {
		if z := battery.Hardened(5, 20, days); z != 0 {
			t.Errorf("%g days: %g", days, z)
		}
	}
	// What the run does with two months.
	b := made(t, battery.Flooded)
	end, err := b.Run(b.Rested(5, 20), battery.Duty{Ambient: battery.Ambient{Start: 20}, Seconds: 60 * 86400})
	must(t, err)
	if z := battery.Hardened(5, 20, 60); math.Abs(z-end.State.Cells[0].Sulphate) > 0.03 {
		t.Errorf("%.3f in one formula, %.3f in a run", z, end.State.Cells[0].Sulphate)
	}
}

// A battery that reaches 52 °C ends there, before it is full; the same one at kind amps
// does not.
func TestGetsHot(t *testing.T) {
	b := made(t, battery.Flooded).WithCell(battery.Shorted(0.01))
	s := hung(b, 60, 35, Charger{Kind: Manual, Amps: 30})
	f := forecast(t, s)
	if f.HotAt == nil || f.Full != nil || math.Abs(f.PeakC-HotC) > 0.1 || math.Abs(f.Curve[len(f.Curve)-1].BatteryC-HotC) > 0.1 {
		t.Errorf("hot %+v, full %+v, peak %.1f °C", f.HotAt, f.Full, f.PeakC)
	}
	if f := forecast(t, hung(made(t, battery.Flooded), 60, 25, SmartAt(5))); f.HotAt != nil || f.PeakC > 40 {
		t.Errorf("hot %+v, peak %.1f °C", f.HotAt, f.PeakC)
	}
}

// Three and four cells do as six, at their own volts.
func TestSixAndEightVolts(t *testing.T) {
	twelve := forecast(t, hung(made(t, battery.Flooded), 30, 20, SmartAt(5)))
	for _, cells := range []int{3, 4} {
		b, _, err := battery.FromLabel(battery.Flooded, cells, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
		must(t, err)
		f := forecast(t, hung(b, 30, 20, SmartAt(5)))
		if a, b := hours(t, f.Full), hours(t, twelve.Full); math.Abs(a/b-1) > 0.03 {
			t.Errorf("%d cells: %.2f h, six %.2f h", cells, a, b)
		}
		if a, b := f.Curve[40].Volts/float64(cells), twelve.Curve[40].Volts/6; math.Abs(a-b) > 0.02 {
			t.Errorf("%d cells: %.3f V a cell, six %.3f", cells, a, b)
		}
	}
}

// Nothing leaves its range, whatever hangs on whatever.
func TestForecastsAreSane(t *testing.T) {
	rng := rand.New(rand.NewPCG(9, 9))
	for range effort.Of(15, 75, 150) {
		c := battery.Chemistries()[rng.IntN(len(battery.Chemistries()))]
		ah := 4 + 200*rng.Float64()*rng.Float64()
		b, _, err := battery.FromLabel(c, 6, rating.Label{Ah20h: ah})
		must(t, err)
		b = b.WornTo(15 + 85*rng.Float64()).WithCapacity(20 + 80*rng.Float64())
		charger := []Charger{SmartAt(0.5 + 40*rng.Float64()), {Kind: Taper, AmpsStart: 5 + 40*rng.Float64()}, {Kind: Manual, Amps: 0.5 + 20*rng.Float64()},
			{Kind: Maintainer, AmpsMax: 0.3 + rng.Float64()}, {Kind: Trickle, Amps: 0.1 + rng.Float64()}}[rng.IntN(5)]
		s := hung(b, 100*rng.Float64(), -25+60*rng.Float64(), charger)
		s.Room.Start = -25 + 60*rng.Float64()
		s.State.Cells[0].Sulphate = rng.Float64() * rng.Float64()
		f, err := s.Forecast(Usual())
		must(t, err)
		for _, p := range f.Curve {
			if math.IsNaN(p.Volts+p.Amps+p.SOCPct+p.BatteryC) || p.Amps < 0 || p.SOCPct < -1 || p.SOCPct > 115 || p.Volts > 19 || p.BatteryC > HotC+1 {
				t.Fatalf("%+v: %+v", s, p)
			}
		}
		if f.Ready != nil && f.Full != nil && s.Ready < FullPct && f.Ready.Best > f.Full.Best+1e-9 {
			t.Errorf("%s %s: ready after %.2f h, full after %.2f", c, charger.Kind, f.Ready.Best, f.Full.Best)
		}
		if f.Ah < 0 || f.PeakC < s.State.TempC-1e-9 {
			t.Errorf("%g Ah, peak %g °C", f.Ah, f.PeakC)
		}
	}
}

func BenchmarkForecast(b *testing.B) {
	s := hung(made(b, battery.Flooded), 20, 20, SmartAt(10))
	for b.Loop() {
		if _, err := s.Forecast(Usual()); err != nil {
			b.Fatal(err)
		}
	}
}
