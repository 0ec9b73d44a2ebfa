package jump

import (
	"math"
	"testing"
)

// An alternator gives under half of its amps at idle, nine tenths at 2000 turns and nearly
// all at 3000. Common practice, no source.
func TestAlternatorOverRevs(t *testing.T) {
	for rpm, want := range map[float64][2]float64{0: {0, 0}, 350: {0, 0}, 351: {0.001, 0.01}, IdleRPM: {0.38, 0.48},
		1200: {0.6, 0.75}, RaisedRPM: {0.87, 0.93}, 3000: {0.96, 1}} {
		if got := AlternatorPart(rpm); got < want[0] || got > want[1] {
			t.Errorf("at %g turns %.3f", rpm, got)
		}
	}
	if m := Alternator(90, RaisedRPM, 10, 14.2); math.Abs(m.Amps-(90*AlternatorPart(RaisedRPM)-10)) > 1e-9 || m.Volts != 14.2 {
		t.Errorf("%+v", m)
	}
	// What the donor needs itself comes first, from both sides of what it makes.
	made := 20 * AlternatorPart(IdleRPM)
	if m := Alternator(20, IdleRPM, made+0.01, 14.2); m != (Maker{}) {
		t.Errorf("it has %+v to spare", m)
	}
	if m := Alternator(20, IdleRPM, made-0.01, 14.2); m.Amps < 0.009 {
		t.Errorf("%+v", m)
	}
}

// It holds its volts as far as its amps go, gives nothing backwards, and answers to volts
// as its derivative says.
func TestMakerHoldsItsVolts(t *testing.T) {
	m := Alternator(90, RaisedRPM, 10, 14.2)
	last := math.Inf(1)
	for v := 6.0; v < 16; v += 0.01 {
		amps, steep := m.current(v)
		if amps > last+1e-9 || amps < -0.01 || amps > m.Amps+0.01 {
			t.Fatalf("%g V: %g A after %g", v, amps, last)
		}
		up, _ := m.current(v + 1e-6)
		if d := (up - amps) / 1e-6; math.Abs(d-steep) > 1e-3*(1+math.Abs(d)) {
			t.Fatalf("%g V: %g S, by difference %g", v, steep, d)
		}
		last = amps
	}
	if amps, _ := m.current(12); math.Abs(amps-m.Amps) > 0.1 {
		t.Errorf("pulled down it gives %g A", amps)
	}
	if amps, _ := m.current(14.2 - 20*m.Ohms); math.Abs(amps-20) > 0.1 {
		t.Errorf("a tenth of its yield under its volts it gives %g A", amps)
	}
	if amps, _ := m.current(15); amps > 0.01 {
		t.Errorf("over its volts it gives %g A", amps)
	}
	if amps, steep := (Maker{}).current(10); amps != 0 || steep != 0 {
		t.Error("nothing gives something")
	}
	// Behind leads it yields by both.
	if b := m.behind(0.01); math.Abs(b.Ohms-m.Ohms-0.01) > 1e-12 || b.Amps != m.Amps || m.behind(math.Inf(1)) != (Maker{}) {
		t.Errorf("%+v", b)
	}
	if b := Boost(100, 15); b.Amps != 100 || b.Volts != 15 || b.Ohms <= 0 {
		t.Errorf("%+v", b)
	}
	if PackCCA(1000) != 300 {
		t.Errorf("%g", PackCCA(1000))
	}
}
