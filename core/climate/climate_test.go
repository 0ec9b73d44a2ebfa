package climate

import (
	"math"
	"strings"
	"testing"
	"time"
)

var upland = Months{-14, -12, -8, -3, 1, 4, 6, 6, 2, -3, -8, -12}

// By hand: a month's own low in its middle, half way between on the first of most.
func TestMonths(t *testing.T) {
	for day, want := range map[time.Time]float64{
		time.Date(2026, 1, 15, 12, 0, 0, 0, time.UTC):  -14,
		time.Date(2026, 6, 15, 12, 0, 0, 0, time.UTC):  4,
		time.Date(2026, 11, 30, 12, 0, 0, 0, time.UTC): -10,
		time.Date(2026, 12, 31, 0, 0, 0, 0, time.UTC):  -13,
		time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC):    -13.06,
	} {
		if got := upland.At(day); math.Abs(got-want) > 0.05 {
			t.Errorf("%s: %.2f °C, by hand %.2f", day.Format("2 January"), got, want)
		}
	}
	for c, fine := range map[float64]bool{-60.1: false, -60: true, 45: true, 45.1: false, math.NaN(): false} {
		l := upland
		l[4] = c
		err := l.Check("mean")
		if (err == nil) != fine || err != nil && !strings.Contains(err.Error(), "May") {
			t.Errorf("%g °C: %v", c, err)
		}
	}
}

// A place whose coldest night is warmer than its mean was typed the wrong way round.
func TestCheck(t *testing.T) {
	for _, p := range Presets() {
		if err := p.Check(); err != nil {
			t.Errorf("%s: %v", p.Code, err)
		}
		o := p.Of
		o.Low[3] = o.Mean[3]
		if err := o.Check(); err != nil {
			t.Errorf("%s, a month without a colder night: %v", p.Code, err)
		}
		o.Low[3] = o.Mean[3] + 0.1
		if err := o.Check(); err == nil || !strings.Contains(err.Error(), "April") {
			t.Errorf("%s: %v", p.Code, err)
		}
		o = p.Of
		o.Low[11], o.Mean[11] = -70, -60
		if err := o.Check(); err == nil || !strings.Contains(err.Error(), "coldest night of December") {
			t.Errorf("%s: %v", p.Code, err)
		}
	}
	if o := FromLows(upland); o.Check() != nil || o.Mean[0] != -2 {
		t.Errorf("of lows alone: %+v", o)
	}
	if _, ok := Named("nowhere"); ok {
		t.Error("nowhere is named")
	}
	if o, ok := Named("coast"); !ok || o.Low[0] != -4 {
		t.Errorf("coast: %+v", o)
	}
}
