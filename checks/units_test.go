package checks

import (
	"fmt"
	"math"
	"os/exec"
	"strconv"
	"strings"
	"testing"

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
