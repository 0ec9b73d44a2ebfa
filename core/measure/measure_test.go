package measure

import (
	"math"
	"testing"
)

// Definitions: water freezes at 32 °F and boils at 212 °F. Torques as printed on
// battery trays: 89 in·lb is 10 N·m, 11 ft·lb is 15 N·m (arithmetic).
func TestConversions(t *testing.T) {
	for _, c := range []struct{ got, want, tol float64 }{
		{Fahrenheit(0), 32, 0}, {Fahrenheit(100), 212, 0}, {Celsius(80), 26.67, 0.01}, {Celsius(-40), -40, 0},
		{InchPounds(10), 88.5, 0.05}, {FootPounds(15), 11.06, 0.01},
	} {
		if math.Abs(c.got-c.want) > c.tol {
			t.Errorf("got %g, want %g", c.got, c.want)
		}
	}
	for x := -60.0; x < 120; x += 7 {
		if math.Abs(Celsius(Fahrenheit(x))-x) > 1e-12 {
			t.Errorf("%g °C does not come back", x)
		}
	}
}

// Source: ASTM B258 as printed in wire tables: 4/0 107.2 mm², 1/0 53.5, 4 21.15,
// 10 5.26, 18 0.823.
func TestWireTable(t *testing.T) {
	for gauge, mm2 := range map[int]float64{-3: 107.2, 0: 53.5, 4: 21.15, 10: 5.26, 18: 0.823} {
		if got := WireArea(gauge); math.Abs(got/mm2-1) > 0.002 {
			t.Errorf("gauge %d: %.3f mm², table %.3f", gauge, got, mm2)
		}
	}
	for gauge := -5; gauge <= 40; gauge++ {
		if got := WireGauge(WireArea(gauge) * 1.05); got != gauge {
			t.Errorf("gauge %d came back as %d", gauge, got)
		}
	}
}
