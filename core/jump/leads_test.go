package jump

import (
	"math"
	"testing"
)

// Source: the most that IEC 60228 allows a stranded flexible conductor of plain copper,
// class 5, Ω/km at 20 °C, from memory. What leads are taken for lies within 2.5 % of it.
func TestLeadsAgainstTheConductorTable(t *testing.T) {
	for mm2, most := range map[float64]float64{4: 4.95, 6: 3.30, 10: 1.91, 16: 1.21, 25: 0.780, 35: 0.554, 50: 0.386, 70: 0.272, 95: 0.206} {
		got := 1000 * Leads{MM2: mm2, Metres: 1000, Metal: Copper}.Each() / 1000
		if math.Abs(got/most-1) > 0.025 {
			t.Errorf("%g mm²: %.3f Ω/km, the table %.3f", mm2, got, most)
		}
	}
}

// By hand: 3 m of 25 mm² are 0.0194·3/25 = 2.328 mΩ; there and back with four clamps of
// 1.5 mΩ 10.656 mΩ. 250 A in it are 10 A/mm², 0.0194·100/3.45 = 0.5623 °C a second.
func TestLeadsByHand(t *testing.T) {
	l := Leads{MM2: 25, Metres: 3, Metal: Copper, ClampOhms: 0.0015, Clamps: 4}
	for what, c := range map[string][2]float64{"each": {1000 * l.Each(), 2.328}, "clamps": {1000 * l.Bites(), 6}, "all": {1000 * l.Ohms(), 10.656}, "rise": {l.Rise(250), 5.623}} {
		if math.Abs(c[0]-c[1]) > 1e-3*c[1] {
			t.Errorf("%s: %g, by hand %g", what, c[0], c[1])
		}
	}
	twice := l
	twice.MM2 *= 2
	if twice.Each() != l.Each()/2 || twice.Bites() != l.Bites() {
		t.Error("twice the copper does not halve its loss, or touches the clamps'")
	}
	clad := l
	clad.Metal = Clad
	if r := l.Each() / clad.Each(); math.Abs(r-0.63) > 1e-9 || clad.Rise(250) < 1.5*l.Rise(250) {
		t.Errorf("clad aluminium conducts %g of copper and warms by %g", r, clad.Rise(250))
	}
	short := l
	short.Metres, short.Clamps = 1.5, 2
	if math.Abs(short.Ohms()-l.Ohms()/2) > 1e-12 || short.Rise(250) != l.Rise(250) {
		t.Errorf("half as long with two clamps: %g", short.Ohms())
	}
}
