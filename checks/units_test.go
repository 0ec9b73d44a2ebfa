package checks

import (
	"fmt"
	"math"
	"os/exec"
	"strconv"
	"strings"
	"testing"

	"grapnel/core/guide"
	"grapnel/core/jump"
	"grapnel/core/measure"
	"grapnel/core/rating"
)

// units asks GNU units for a conversion.
func units(t *testing.T, from, to string) float64 {
	t.Helper()
	out, err := exec.Command(need(t, "units", "units"), "-t", "-d", "12", from, to).Output()
	if err != nil {
		t.Fatalf("units %q %q: %v", from, to, err)
	}
	v, err := strconv.ParseFloat(strings.TrimSpace(string(out)), 64)
	must(t, err)
	return v
}

// Source: GNU units 2.22 (Debian).
func TestConversionsAgainstUnits(t *testing.T) {
	same := func(what string, got, want float64) {
		t.Helper()
		if math.Abs(got-want) > 1e-9*(1+math.Abs(want)) {
			t.Errorf("%s: %.12g, units %.12g", what, got, want)
		}
	}
	for _, c := range []float64{-40, -18, 0, 26.7, 52} {
		same("°F", measure.Fahrenheit(c), units(t, fmt.Sprintf("tempC(%g)", c), "tempF"))
		f := measure.Fahrenheit(c)
		same("°C", measure.Celsius(f), units(t, fmt.Sprintf("tempF(%g)", f), "tempC"))
	}
	same("in·lb", measure.InchPounds(10.5), units(t, "10.5 N m", "in lbf"))
	same("ft·lb", measure.FootPounds(15), units(t, "15 N m", "ft lbf"))
	// How tight a terminal is made: 10 to 11 N·m are 89 to 100 in·lb, about 15 N·m 11 ft·lb.
	// Common practice, no source.
	top, _ := guide.Torque("top")
	if low, high := units(t, "89 in lbf", "N m"), units(t, "100 in lbf",
		"N m"); math.Abs(top.Low.Value-low) > 0.1 || math.Abs(top.High.Value-high) > 0.1 {
		t.Errorf("top posts: %g to %g N·m, in·lb by units %.2f to %.2f", top.Low.Value, top.High.Value, low, high)
	}
	side, _ := guide.Torque("side")
	if at := units(t, "11 ft lbf", "N m"); at < side.Low.Value || at > side.High.Value {
		t.Errorf("side terminals: %g to %g N·m, 11 ft·lb by units %.2f", side.Low.Value, side.High.Value, at)
	}
	for _, gauge := range []int{-3, -1, 0, 1, 2, 4, 6, 8, 10, 14, 18, 22, 36} {
		d := units(t, fmt.Sprintf("wiregauge(%d)", gauge), "mm")
		same("wire area", measure.WireArea(gauge), math.Pi/4*d*d)
	}
	// The rows of the load test table are printed in °F.
	for f, volts := range map[float64]float64{70: 9.6, 50: 9.4, 30: 9.1, 0: 8.5} {
		same("load test limit", rating.LoadTestLimit(12, units(t, fmt.Sprintf("tempF(%g)", f), "tempC")), volts)
	}
	// A minute of reserve capacity is 25 A.
	same("75 min of reserve", 75*rating.ReserveAmps/60, units(t, "75 min * 25 A", "A hour"))
}

// Source: GNU units 2.22 (Debian): annealed copper of the international standard conducts
// 58 S·m/mm². A stranded lead of the same area is never better, and at most an eighth worse
// (lay and tin; IEC 60228 class 5, from memory). What warms it is its own resistance: by
// units, the power of amps over the heat that its metal takes.
func TestLeadsAgainstUnits(t *testing.T) {
	for _, mm2 := range []float64{6, 10, 16, 25, 35, 50, 70} {
		for _, metres := range []float64{1, 2.5, 6} {
			l := jump.Leads{MM2: mm2, Metres: metres, Metal: jump.Copper, ClampOhms: 0.0015, Clamps: 4}
			solid := units(t, fmt.Sprintf("%g m / (58 siemens m/mm^2 * %g mm^2)", metres, mm2), "ohm")
			if part := l.Each() / solid; part < 1 || part > 1.13 {
				t.Errorf("%g m of %g mm²: %.3f of solid copper", metres, mm2, part)
			}
			all := units(t, fmt.Sprintf("2 * %.12g ohm + 4 * 1.5 milliohm", l.Each()), "ohm")
			if math.Abs(l.Ohms()-all) > 1e-9 {
				t.Errorf("there and back %g Ω, units %g", l.Ohms(), all)
			}
			rise := units(t, fmt.Sprintf("(250 A)^2 * %.12g ohm * 10 s / (3.45 J/cm^3/K * %g m * %g mm^2)", l.Each(),
				metres, mm2), "K")
			if math.Abs(l.Rise(250)/rise-1) > 1e-6 {
				t.Errorf("it warms by %g °C, units %g", l.Rise(250), rise)
			}
		}
	}
}
