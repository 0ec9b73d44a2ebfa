package battery

import (
	"math"
	"testing"

	"grapnel/core/rating"
	"grapnel/internal/effort"
	"grapnel/internal/fatal"
)

func fromLabel(t testing.TB, c Chemistry, l rating.Label) Battery {
	t.Helper()
	b, _, err := FromLabel(c, 6, l)
	must(t, err)
	return b
}

// car is a common car battery.
func car(t testing.TB, c Chemistry) Battery {
	return fromLabel(t, c, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
}

// Sources: SAE J537 (CCA, RC), EN 50342-1 (20 h capacity); from memory. What the
// label promises the model delivers, within 3 %, over sizes from a small
// motorcycle's to a lorry's, all chemistries, and the ratios labels have. The
// few that hardly any battery can keep are said to be doubtful, never silently
// missed.
func TestLabelInLabelOut(t *testing.T) {
	labels, doubted := 0, 0
	sizes := []float64{8, 18, 30, 48, 62, 95, 180}
	for _, c := range Chemistries() {
		for _, ah := range effort.Of([]float64{62}, sizes, sizes) {
			for _, perAh := range []float64{5, 8, 11, 17} {
				for _, part := range []float64{0.9, 1, 1.1} {
					l := rating.Label{CCA: perAh * ah, Ah20h: ah}
					p, err := Complete(c, l)
					must(t, err)
					l.RCMin = math.Round(10*p.RCMin.Value*part) / 10
					b, p, err := FromLabel(c, 6, l)
					must(t, err)
					labels++
					if p.Doubt != "" {
						// 25 A is no small part of such a battery, or its cranking is beyond
						// what labels of its size promise.
						if doubted++; l.CCA > 80 && perAh < 17 && part == 1 {
							t.Errorf("%s %+v is no odd label, yet: %s", c, l, p.Doubt)
						}
						continue
					}
					within(t, l, "CCA", fatal.Of(b.ColdCrankingAmps()), l.CCA)
					within(t, l, "RC", fatal.Of(b.ReserveMinutes()), l.RCMin)
					within(t, l, "20 h capacity", fatal.Of(b.Capacity(ah/20, 25)), ah)
					// Run, not solved for: after 30 s at the rated current it still has 7.2 V.
					if v := fatal.Of(b.EndVolts(100, -18, l.CCA, 30)); math.Abs(v-7.2) > 0.17 {
						t.Errorf("%s %+v: %.2f V after 30 s at its CCA, want 7.2", c, l, v)
					}
				}
			}
		}
	}
	if labels-doubted < 2*labels/3 {
		t.Errorf("%d of %d labels doubted", doubted, labels)
	}
	t.Logf("%d labels, %d doubted", labels, doubted)
}

func within(t *testing.T, l rating.Label, what string, got, want float64) {
	t.Helper()
	if !(math.Abs(got/want-1) <= 0.03) {
		t.Errorf("%+v: %s %.4g, label %.4g", l, what, got, want)
	}
}

// Source: EN 50342-1 (10 s to 7.5 V at -18 °C), DIN 43539 (30 s to 9.0 V), IEC
// 60095-1 old issue (60 s to 8.4 V); from memory. A label by another standard is
// met by its own test, and the amps it comes to by SAE agree with the ratio
// usual in the trade within the spread stated for it.
func TestOtherStandards(t *testing.T) {
	for _, c := range []Chemistry{Flooded, AGM, EFB} {
		for _, s := range []rating.Standard{rating.EN, rating.DIN, rating.IEC} {
			test, err := rating.TestOf(s)
			must(t, err)
			l := rating.Label{CCA: 640 / test.ToSAE, Standard: s, Ah20h: 60}
			b := fromLabel(t, c, l)
			if v := fatal.Of(b.EndVolts(100, test.TempC, l.CCA, test.Seconds)); math.Abs(v-test.EndVolts) > 0.1 {
				t.Errorf("%s %s: %.2f V after %g s, want %g", c, s, v, test.Seconds, test.EndVolts)
			}
			if ratio := fatal.Of(b.ColdCrankingAmps()) / l.CCA; math.Abs(ratio/test.ToSAE-1) > test.SpreadTo+0.02 {
				t.Errorf("%s: the model says %.2f SAE amps for each, the trade %.2f ± %.0f %%", s, ratio, test.ToSAE,
					100*test.SpreadTo)
			}
		}
	}
}

// Labels read 675 CA / 540 CCA (common practice, no source: CCA is 0.8 of CA),
// and service texts print cranking ability of 65 % at 0 °C and 40 % at -18 °C of
// that at 27 °C (published, from memory). The two contradict each other: 65/40
// is 1.63, 1/0.8 is 1.25. The model stands between, within 8 points of the one
// and 16 % of the other.
func TestColdCranking(t *testing.T) {
	for _, l := range []rating.Label{{CCA: 540, RCMin: 75, Ah20h: 48}, {CCA: 650, RCMin: 110, Ah20h: 62}, {CCA: 720,
		Ah20h: 88}, {CCA: 440, Ah20h: 45}} {
		for _, c := range []Chemistry{Flooded, FloodedSealed, EFB} {
			b := fromLabel(t, c, l)
			warm, zero, cold := fatal.Of(b.CrankingAmps(100, 27, 30, 7.2)), fatal.Of(b.CA()), fatal.Of(b.CrankingAmps(100, -18, 30, 7.2))
			if at0, at18 := 100*zero/warm, 100*cold/warm; math.Abs(at0-65) > 8 || math.Abs(at18-40) > 8 {
				t.Errorf("%s %+v: %.0f %% at 0 °C, %.0f %% at -18 °C", c, l, at0, at18)
			}
			if r := zero / cold * 0.8; math.Abs(r-1) > 0.16 {
				t.Errorf("%s %+v: CA %.0f, CCA %.0f", c, l, zero, cold)
			}
		}
	}
	// A label with CA alone is read by the trade's rule.
	b, p, err := FromLabel(Flooded, 6, rating.Label{CA: 675, Ah20h: 48})
	if err != nil || math.Abs(fatal.Of(b.ColdCrankingAmps())-540) > 8 || !p.CCA.Estimated {
		t.Errorf("675 CA: %.0f CCA (%+v, %v)", fatal.Of(b.ColdCrankingAmps()), p.CCA, err)
	}
}

// What a label leaves out is estimated from common labels (no source): 540 CCA
// goes with about 48 Ah and 75 min, 650 with 62 and 110, each within the spread
// stated.
func TestCompletedLabels(t *testing.T) {
	for _, l := range []rating.Label{{CCA: 540, RCMin: 75, Ah20h: 48}, {CCA: 650, RCMin: 110, Ah20h: 62}} {
		for _, part := range []rating.Label{{CCA: l.CCA}, {RCMin: l.RCMin}, {Ah20h: l.Ah20h}, {CCA: l.CCA,
			RCMin: l.RCMin}, {CCA: l.CCA, Ah20h: l.Ah20h}} {
			p, err := Complete(Flooded, part)
			must(t, err)
			for _, f := range []struct {
				what    string
				got     Figure
				want    float64
				printed bool
			}{{"CCA", p.CCA, l.CCA, part.CCA > 0}, {"RC", p.RCMin, l.RCMin, part.RCMin > 0}, {"Ah", p.Ah20h, l.Ah20h,
				part.Ah20h > 0}} {
				if f.printed && (f.got.Value != f.want || f.got.Estimated) {
					t.Errorf("%+v: printed %s came out as %+v", part, f.what, f.got)
				}
				if !f.printed && (!f.got.Estimated || f.got.From == "" ||
					math.Abs(f.got.Value/f.want-1) > f.got.Spread) {
					t.Errorf("%+v: %s %+v, want %g", part, f.what, f.got, f.want)
				}
			}
		}
	}
	if _, err := Complete(Flooded, rating.Label{}); err == nil {
		t.Error("an empty label was completed")
	}
	for _, l := range []rating.Label{{CCA: 900, Ah20h: 10}, {CCA: 50, Ah20h: 90}, {RCMin: 200, Ah20h: 60}, {RCMin: 90,
		Ah20h: 600}} {
		if p, err := Complete(Flooded, l); err != nil || p.Doubt == "" {
			t.Errorf("%+v contradicts itself: %+v (%v)", l, p, err)
		}
	}
	if _, _, err := FromLabel(Flooded, 0, rating.Label{CCA: 500}); err == nil {
		t.Error("a battery without cells was made")
	}
}

// More Ah, more CCA or more RC on the label never gives less of it, and 6 V is
// half of 12 V.
func TestLabelsAreMonotonic(t *testing.T) {
	last := Battery{}
	for ah := 20.0; ah <= 100; ah += 10 {
		b := fromLabel(t, AGM, rating.Label{CCA: 500, Ah20h: ah})
		if b.Coulombs <= last.Coulombs {
			t.Errorf("%g Ah: %g C after %g C", ah, b.Coulombs, last.Coulombs)
		}
		last = b
	}
	last = Battery{Ohms: math.Inf(1)}
	for cca := 200.0; cca <= 1000; cca += 100 {
		b := fromLabel(t, Flooded, rating.Label{CCA: cca, Ah20h: 60})
		if b.Ohms >= last.Ohms {
			t.Errorf("%g CCA: %g ohms after %g", cca, b.Ohms, last.Ohms)
		}
		last = b
	}
	six, _, err := FromLabel(Flooded, 3, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
	must(t, err)
	near(t, "6 V under its CCA", fatal.Of(six.EndVolts(100, -18, 540, 30)), 3.6, 0.08)
	near(t, "6 V reserve", fatal.Of(six.ReserveMinutes()), 75, 2)
}

func BenchmarkFromLabel(b *testing.B) {
	for b.Loop() {
		if _, _, err := FromLabel(Flooded, 6, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48}); err != nil {
			b.Fatal(err)
		}
	}
}

// Any label that can be typed in gives a battery that can be reckoned with, or
// an error: finite, with something in it, and quick to ask.
func FuzzFromLabel(f *testing.F) {
	f.Add(540.0, 75.0, 48.0, 0.0, uint8(0), uint8(0))
	f.Add(3000.0, 1.0, 600.0, 5.0, uint8(3), uint8(2))
	f.Add(0.0, 0.0, 0.0, 900.0, uint8(5), uint8(1))
	f.Fuzz(func(t *testing.T, cca, rc, ah, ca float64, chem, standard uint8) {
		for v, most := range map[float64]float64{cca: 3000, rc: 1000, ah: 600, ca: 4000} {
			if !(v == 0 || v >= 1 && v <= most) {
				return
			}
		}
		c := Chemistries()[int(chem)%len(Chemistries())]
		l := rating.Label{
			CCA:      cca,
			RCMin:    rc,
			Ah20h:    ah,
			CA:       ca,
			Standard: rating.Standards()[int(standard)%len(rating.Standards())],
		}
		b, _, err := FromLabel(c, 6, l)
		if err != nil {
			return
		}
		if !(b.Ohms > 0 && b.Ohms < 10 && b.Coulombs > 0 && b.Coulombs < 1e8 && b.PoreShare > 0 && b.PoreShare < 1) {
			t.Fatalf("%+v gives %+v", l, b)
		}
		s, err := b.StrengthFromLoad(Condition{SOC: Band{70, 80, 90}, TempC: 10},
			Discharge{Amps: max(1, b.PlateAmps/2), Seconds: 15, Volts: 9.5})
		if err != nil || math.IsNaN(s.CCA.Low+s.CCA.Best+s.CCA.High) || s.CCA.Low > s.CCA.High {
			t.Fatalf("%+v: strength %+v (%v)", l, s, err)
		}
	})
}
