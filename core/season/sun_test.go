package season

import (
	"math"
	"testing"
	"time"
)

// of is a day of 2026.
func of(month time.Month, day int) time.Time {
	return time.Date(2026, month, day, 0, 0, 0, 0, time.UTC)
}

// Worked examples of the books the formulas are printed in, from memory: Duffie and Beckman,
// Solar Engineering of Thermal Processes, 43° N on 15 April 33.8 MJ/m²; FAO Irrigation and
// Drainage Paper 56, examples 8 and 9, 20° S on 3 September 32.2 MJ/m² and 11.7 h. The
// latter takes a simpler declination, 0.6° off on that day, and both 1367 W/m²: ±2 %.
func TestWorkedExamples(t *testing.T) {
	for _, c := range []struct {
		latitude float64
		month    time.Month
		day      int
		mj       float64
	}{{43, 4, 15, 33.8}, {-20, 9, 3, 32.2}} {
		if got := AboveAir(c.latitude, of(c.month, c.day)) * 3.6; math.Abs(got/c.mj-1) > 0.02 {
			t.Errorf("%g° on %d.%d.: %.2f MJ/m², printed %g", c.latitude, c.day, c.month, got, c.mj)
		}
	}
	if got := DayHours(-20, of(9, 3)); math.Abs(got-11.7) > 0.1 {
		t.Errorf("20° S on 3 September: %.2f h, printed 11.7", got)
	}
	// By hand: 52° N on 21 December, declination −23.45°: cos ω = tan 52° × tan 23.45° = 0.5552,
	// ω = 56.27°, 7.50 h.
	if got := DayHours(52, of(12, 21)); math.Abs(got-7.50) > 0.02 {
		t.Errorf("52° N on 21 December: %.2f h, by hand 7.50", got)
	}
}

// Days are twelve hours at the equator, none in polar night, all in polar day, and those of
// one hemisphere the nights of the other.
func TestDayLengths(t *testing.T) {
	for n := range 366 {
		day := of(1, 1+n)
		if got := DayHours(0, day); math.Abs(got-12) > 1e-9 {
			t.Fatalf("on %s the equator has %.3f h", day, got)
		}
		for lat := -90.0; lat <= 90; lat += 7.5 {
			h := DayHours(lat, day)
			if h < 0 || h > 24 || math.Abs(h+DayHours(-lat, day)-24) > 1e-6 {
				t.Fatalf("%g° on %s: %.3f h", lat, day, h)
			}
			if ah := AboveAir(lat, day); ah < -1e-9 || ah > 14 || h == 0 && ah > 1e-9 {
				t.Fatalf("%g° on %s: %.3f kWh/m² in %.1f h", lat, day, ah, h)
			}
		}
	}
	if DayHours(75, of(12, 21)) != 0 || DayHours(75, of(6, 21)) != 24 {
		t.Errorf("75° N: %.1f h at Christmas, %.1f h at midsummer", DayHours(75, of(12, 21)), DayHours(75, of(6, 21)))
	}
}

// A panel for the darkest month: by hand at 52° N, 1.74 kWh/m² above the air on 21 December, of
// which 0.24 come through in usual dull weather: 0.42 h of full sun. One watt gives 1/18 A × 0.9
// × 0.42 h = 0.021 Ah, so that 0.24 Ah a day (10 mA) take about 11.5 W; averaged over the month a
// little less.
func TestWattsFor(t *testing.T) {
	if got := WattsFor(0.24, 52); got < 10.5 || got > 12 {
		t.Errorf("10 mA at 52° take %.1f W", got)
	}
	last := 0.0
	for lat := 10.0; lat <= 60; lat += 5 {
		got := WattsFor(1, lat)
		if got <= last {
			t.Errorf("at %g° %.1f W, less than nearer the equator", lat, got)
		}
		if south := WattsFor(1, -lat); math.Abs(south/got-1) > 0.15 {
			t.Errorf("at %g° south %.1f W, north %.1f", lat, south, got)
		}
		last = got
	}
	if !math.IsInf(WattsFor(1, 80), 1) {
		t.Errorf("in polar night %.0f W do", WattsFor(1, 80))
	}
}

// A panel's plan says which one would do, and that none does where the sun does not rise.
func TestBySun(t *testing.T) {
	r := example(t)
	r.AtHand, r.Solar = []string{Panel}, &Solar{2, 52}
	w := planOf(t, r).of(t, BySun)
	if w.Sign == "holds" || w.Watts < 10 || w.Watts > 20 {
		t.Errorf("2 W: %s, %g W needed", w.Sign, w.Watts)
	}
	r.Solar.Watts = 2 * w.Watts
	if w := planOf(t, r).of(t, BySun); w.Sign != "holds" {
		t.Errorf("%g W: %s, %s", r.Solar.Watts, w.Sign, w.Says)
	}
	r.Solar.LatitudeDeg = 75
	if w := planOf(t, r).of(t, BySun); w.Watts != 0 || w.Cost.String() == "" || w.Sign == "holds" {
		t.Errorf("at 75°: %s, %g W", w.Sign, w.Watts)
	}
}
