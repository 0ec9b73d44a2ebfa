package rating

import (
	"math"
	"testing"
)

// Source: BCI load test temperature table, from memory, ±0.05 V: 21 °C and
// warmer 9.6 V, 16 °C 9.5, 10 °C 9.4, 4 °C 9.3, -1 °C 9.1, -7 °C 8.9, -12 °C
// 8.7, -18 °C 8.5; half on 6 V.
func TestPublishedLimits(t *testing.T) {
	for _, row := range []struct{ c, volts float64 }{
		{40, 9.6}, {21, 9.6}, {16, 9.5}, {10, 9.4}, {4, 9.3}, {-1, 9.1}, {-7, 8.9}, {-12, 8.7}, {-18, 8.5}, {-30, 8.5},
	} {
		if got := LoadTestLimit(12, row.c); math.Abs(got-row.volts) > 0.05 {
			t.Errorf("12 V at %g °C: limit %.3f, want %.1f", row.c, got, row.volts)
		}
		if got := LoadTestLimit(6, row.c); math.Abs(got-row.volts/2) > 0.025 {
			t.Errorf("6 V at %g °C: limit %.3f, want %.2f", row.c, got, row.volts/2)
		}
	}
}

func TestColderIsNeverStricter(t *testing.T) {
	for c := -60.0; c < 60; c += 0.25 {
		for _, v := range []float64{6, 8, 12} {
			if LoadTestLimit(v, c) > LoadTestLimit(v, c+0.25)+1e-12 {
				t.Fatalf("%g V: the limit at %g °C is above the limit at %g °C", v, c, c+0.25)
			}
		}
	}
}

// Common practice, no source: a 650 CCA battery is loaded with about 320 A; a
// 540 with 270; one of 48 Ah without a cranking figure with 3 × 48 = 144 A.
func TestHalfCCALoad(t *testing.T) {
	for _, c := range []struct {
		label  Label
		amps   float64
		approx bool
	}{
		{Label{CCA: 650, Standard: SAE}, 325, false},
		{Label{CCA: 540}, 270, false},
		{Label{Ah20h: 48}, 145, true},
		{Label{CA: 675}, 270, true},                 // labels read 675 CA / 540 CCA
		{Label{CA: 900}, 360, true},                 // 900 CA / 720 CCA
		{Label{CCA: 640, Standard: EN}, 340, true},  // 640 × 1.06 / 2 = 339
		{Label{CCA: 380, Standard: DIN}, 335, true}, // 380 × 1.75 / 2 = 332.5
	} {
		got, err := TestLoad(c.label)
		if err != nil || math.Abs(got.Amps-c.amps) > 2.5 {
			t.Errorf("%+v: load %v (%v), want %g", c.label, got.Amps, err, c.amps)
		}
		if (got.Note != "") != c.approx {
			t.Errorf("%+v: note %q, approximate should be %v", c.label, got.Note, c.approx)
		}
	}
	if _, err := TestLoad(Label{RCMin: 75}); err == nil {
		t.Error("a label with reserve capacity alone gave a load")
	}
}

// A bigger label never asks for a smaller load.
func TestLoadGrowsWithLabel(t *testing.T) {
	for _, s := range Standards() {
		last := 0.0
		for cca := 10.0; cca < 2000; cca += 7 {
			l, err := TestLoad(Label{CCA: cca, Standard: s})
			if err != nil || l.Amps < last {
				t.Fatalf("%s %g: load %g after %g (%v)", s, cca, l.Amps, last, err)
			}
			last = l.Amps
		}
	}
}

// The definitions as printed and the ratios of common labels, from memory: SAE
// J537, EN 50342-1, DIN 43539, IEC 60095-1, JIS D 5301. A JIS figure is an SAE
// figure for want of a better ratio, ±10 %.
func TestDefinitions(t *testing.T) {
	for _, want := range []Test{{SAE, -18, 30, 7.2, 1, 0, ""}, {EN, -18, 10, 7.5, 1.06, 0.05, ""},
		{DIN, -18, 30, 9, 1.75, 0.1, ""}, {IEC, -18, 60, 8.4, 1.5, 0.1, ""}, {JIS, -18, 30, 7.2, 1, 0.03, ""}} {
		got, err := TestOf(want.Standard)
		if got.Source == "" {
			t.Errorf("%s has no source", want.Standard)
		}
		if got.Source = ""; err != nil || got != want {
			t.Errorf("%+v (%v), want %+v", got, err, want)
		}
	}
	if _, err := TestOf("ABC"); err == nil {
		t.Error("an unknown standard was accepted")
	}
}

// Source of the ratios: common labels, from memory: 600 A EN is about 636 SAE and
// 363 DIN.
func TestConvert(t *testing.T) {
	for _, c := range []struct {
		from, to     Standard
		want, spread float64
	}{{EN, SAE, 636, 0.05}, {EN, DIN, 363.4, 0.112}, {SAE, "", 600, 0}, {DIN, DIN, 600, 0}} {
		if got, spread, err := Convert(600, c.from, c.to); err != nil || math.Abs(got-c.want) > 0.1 ||
			math.Abs(spread-c.spread) > 0.001 {
			t.Errorf("600 A %s in %s: %.1f ± %.3f (%v), want %.1f ± %.3f", c.from, c.to, got, spread, err, c.want,
				c.spread)
		}
	}
	for _, a := range Standards() {
		for _, b := range Standards() {
			there, _, _ := Convert(500, a, b)
			if back, _, err := Convert(there, b, a); err != nil || math.Abs(back-500) > 1e-9 {
				t.Errorf("%s to %s and back: %g (%v)", a, b, back, err)
			}
		}
	}
	if _, _, err := Convert(500, SAE, "ABC"); err == nil {
		t.Error("an unknown standard was converted to")
	}
}
