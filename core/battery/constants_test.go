package battery

import (
	"math"
	"testing"

	"grapnel/internal/fatal"
)

// What the spread of batteries of one label, an assumed temperature and warmth in
// the pores come to: figures that many others rest on, pinned one by one.

// Two batteries of one label and one resistance differ by ± 10 % in cranking. Read
// off common batteries, no source.
func TestModelSpread(t *testing.T) {
	s := car(t, Flooded).strength(1, 1, 1)
	if math.Abs(s.CCA.Low/s.CCA.Best-0.90) > 1e-9 || math.Abs(s.CCA.High/s.CCA.Best-1.10) > 1e-9 {
		t.Errorf("%+v", s.CCA)
	}
}

// A temperature nobody measured may be 10 °C off, common practice, no source: by
// hand, 10 °C × 0.23 mV/°C × 6 cells is 14 mV.
func TestAssumedTemperature(t *testing.T) {
	of := func(assumed bool) float64 {
		return ChargeFromRest(Flooded, 6, Rest{Volts: 12.4, TempC: 20, TempAssumed: assumed, Surface: Rested,
			MinutesSinceCharge: 600}).ErrorVolts
	}
	if mv := 1000 * math.Sqrt(sq(of(true))-sq(of(false))); math.Abs(mv-13.8) > 0.2 {
		t.Errorf("an assumed temperature is worth %.1f mV", mv)
	}
}

// Cold shuts 0.4 % of the pores for each °C under 25, from memory; warmth opens as
// much, at most 15 %.
func TestPoresInColdAndWarmth(t *testing.T) {
	k := car(t, Flooded).circuit()
	for temp, closed := range map[float64]float64{-25: 0.20, 0: 0.10, 25: 0, 45: -0.08, 60: -0.14, 65: -0.15,
		70: -0.15} {
		if got := k.laws(temp).closed; math.Abs(got-closed) > 1e-9 {
			t.Errorf("at %g °C %.3f of the pores are shut, want %.3f", temp, got, closed)
		}
	}
}

// What each school of taking surface charge off may leave, straight after a
// drive, as the model itself leaves it (TestSurfaceChargeIsTheModels): 0.12, 0.09
// and 0.10 V of six cells in a flooded battery, more in glass mat; untouched 0.34 V,
// and 0.06 V of tail in glass mat, of which the best figure takes half.
func TestWhatEachSchoolLeaves(t *testing.T) {
	family := []float64{0, 0.10} // AGM tables differ by that much either way
	for surface, want := range map[SurfaceCharge][2]float64{Headlights2: {0.12, 0.16}, HighBeam5: {0.09, 0.13},
		Load15: {0.10, 0.14}, NotRemoved: {0.34, 0.40}} {
		for i, c := range []Chemistry{Flooded, AGM} {
			for _, cells := range []float64{6, 3} {
				volts := RestVolts(c, cells, 70, 20)
				got := ChargeFromRest(c, cells, Rest{Volts: volts, TempC: 20, Surface: surface})
				left := want[i] * cells / 6
				if math.Abs(got.SurfaceVolts-left) > 1e-9 ||
					math.Abs(got.Charge.Best-ChargeAtRest(c, cells, volts-left/2, 20)) > 1e-6 ||
					math.Abs(got.Charge.Low-ChargeAtRest(c, cells, volts-got.ErrorVolts-left-family[i]*cells/6, 20)) > 1e-6 {
					t.Errorf("%s, %g cells, %s: %+v, want %.3f V left", c, cells, surface, got, left)
				}
			}
		}
	}
}

// An electronic tester repeats within ± 5 %, from memory: on a full battery there is
// no charge to be taken out, and that is all its resistance is uncertain by.
func TestConductanceRepeats(t *testing.T) {
	b := car(t, Flooded)
	s, err := b.StrengthFromConductance(Condition{SOC: Band{100, 100, 100}, TempC: 25}, 400, 500)
	if err != nil || math.Abs(s.Resistance.Low-0.95*1.25) > 1e-9 || math.Abs(s.Resistance.Best-1.25) > 1e-9 ||
		math.Abs(s.Resistance.High-1.05*1.25) > 1e-9 {
		t.Errorf("400 found of 500: %+v (%v)", s.Resistance, err)
	}
}

// The joint figure of two readings leans to the one known better, by the square of
// its band, and stays where both can be true. By hand: (4 × 450 + 530) / 5 = 466.
func TestJointFigure(t *testing.T) {
	a := Strength{CCA: Band{400, 450, 500}}
	for _, c := range []struct{ other, both Band }{
		{Band{430, 530, 630}, Band{430, 466, 500}}, {Band{480, 530, 580}, Band{480, 490, 500}},
		{Band{496, 530, 564}, Band{496, 500, 500}},
	} {
		if got := Compare(a, Strength{CCA: c.other}); !got.Agree || math.Abs(got.Both.Low-c.both.Low) > 1e-9 ||
			math.Abs(got.Both.Best-c.both.Best) > 1e-9 || math.Abs(got.Both.High-c.both.High) > 1e-9 {
			t.Errorf("with %+v: %+v, want %+v", c.other, got, c.both)
		}
	}
	if got := Compare(a, Strength{CCA: Band{501, 530, 560}}); got.Agree || got.Both != (Band{500, 500.5, 501}) {
		t.Errorf("one amp apart: %+v", got)
	}
}

// Ageing is held within what a battery can be, and wear by cranking leaves the
// capacity as it was.
func TestAgeingIsHeld(t *testing.T) {
	b := car(t, Flooded)
	for _, c := range []struct{ capacity, resistance, wantCapacity, wantResistance float64 }{
		{60, 1.5, 0.6, 1.5}, {0, 0.1, 0.01, 0.3}, {200, 99, 1.5, 50},
	} {
		if g := b.Aged(c.capacity, c.resistance).Groups[0]; g.Capacity != c.wantCapacity || g.Resistance != c.wantResistance {
			t.Errorf("%g %% and %g times: %+v", c.capacity, c.resistance, g)
		}
	}
	if w := fatal.Of(b.WithCapacity(60).Worn(70)); w.Groups[0].Capacity != 0.6 || math.Abs(fatal.Of(w.ColdCrankingAmps())/b.CCA-0.7) > 0.01 {
		t.Errorf("worn to 70 %%: %.3f of its CCA, %+v", fatal.Of(w.ColdCrankingAmps())/b.CCA, w.Groups[0])
	}
}
