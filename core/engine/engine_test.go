package engine

import (
	"math"
	"testing"

	"grapnel/core/battery"
)

// Published, widely printed in service texts, from memory: 155 % at 0 °C, 210 % at
// −18 °C of what is needed at 27 °C.
func TestNeed(t *testing.T) {
	for temp, want := range map[float64]float64{40: 1, 27: 1, 0: 1.55, -18: 2.10, 13.5: 1.275, -9: 1.825} {
		if got := Need(temp); math.Abs(got-want) > 1e-9 {
			t.Errorf("at %g °C %.3f, want %.3f", temp, got, want)
		}
	}
}

// By hand: an engine of 135 A at 27 °C needs 283.5 A at −18 °C, so a battery that
// is down to 283.5 A CCA just turns it there, whichever rule the cold follows.
func TestFailsBelowByHand(t *testing.T) {
	e := Engine{Amps: battery.Band{Low: 135, Best: 135, High: 135}}
	got := e.FailsBelow(battery.Band{Low: 283.5, Best: 283.5, High: 283.5})
	for _, v := range []float64{got.Low, got.Best, got.High} {
		if math.Abs(v+18) > 0.1 {
			t.Errorf("%+v, want −18 °C", got)
		}
	}
	// At 0 °C it needs 209.25 A. By the texts 209.25/1.63 = 128.4 A CCA give them, by
	// the labels 209.25/1.25 = 167.4 A.
	if got := e.FailsBelow(battery.Band{Low: 128.4, Best: 150, High: 167.4}); math.Abs(got.Low-(-7)) > 8 || got.High < 0 {
		t.Errorf("%+v", got)
	}
	for cca, at := range map[float64]float64{209.25 / 1.63: 0, 209.25 / 1.25: 0} {
		band := e.FailsBelow(battery.Band{Low: cca, Best: cca, High: cca})
		if band.Low > at+0.1 || band.High < at-0.1 {
			t.Errorf("%.1f A: %+v does not hold 0 °C", cca, band)
		}
	}
}

// A weaker battery fails in less cold, a thirstier engine too, and the band is in
// order; a diesel asks for more than a petrol engine of the same label.
func TestFailsBelowProperties(t *testing.T) {
	petrol, diesel := Of("petrol", 650), Of("diesel", 650)
	last := math.Inf(1)
	for part := 0.1; part <= 1.2; part += 0.05 {
		cca := battery.Band{Low: 0.9 * part * 650, Best: part * 650, High: 1.1 * part * 650}
		got := petrol.FailsBelow(cca)
		if !(got.Low <= got.Best && got.Best <= got.High) {
			t.Errorf("%.0f %%: %+v", 100*part, got)
		}
		if got.Best > last {
			t.Errorf("%.0f %% of the label fails at %.1f °C, a weaker one at %.1f", 100*part, got.Best, last)
		}
		last = got.Best
		if d := diesel.FailsBelow(cca); d.Best < got.Best {
			t.Errorf("%.0f %%: a diesel turns further down, %.1f against %.1f °C", 100*part, d.Best, got.Best)
		}
	}
	// A new battery turns the engine its label is meant for in any cold it is sold
	// for. Common practice, no source.
	if got := petrol.FailsBelow(battery.Band{Low: 650, Best: 650, High: 650}); got.High > -18 {
		t.Errorf("a new battery fails from %+v", got)
	}
	if e := Cranked(209.25, 0); math.Abs(e.Amps.Best-135) > 0.1 || !e.Measured {
		t.Errorf("%+v", e)
	}
}
