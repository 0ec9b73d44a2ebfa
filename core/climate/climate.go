// Package climate is how warm a place is and how cold its nights are: by month, as it
// usually is, and by day where somebody knows.
package climate

import (
	"fmt"
	"time"

	"grapnel/core/document"
)

// Months are a temperature of each month from January, °C.
type Months [12]float64

// The lowest and highest temperature of a month that can be typed, °C.
const Lowest, Highest = -60.0, 45.0

// Check says what is wrong with them, which are called so; nil where nothing is.
func (m Months) Check(called string) error {
	for i, c := range m {
		if !(c >= Lowest && c <= Highest) {
			return fmt.Errorf(
				"the %s of %s is %g °C: it must be between %g and %g °C",
				called,
				time.Month(i+1),
				c,
				Lowest,
				Highest,
			)
		}
	}
	return nil
}

// At is the temperature about a day: that of its month in the middle, in equal steps to
// the next.
func (m Months) At(day time.Time) float64 {
	mid := time.Date(day.Year(), day.Month(), 15, 12, 0, 0, 0, time.UTC)
	this := int(day.Month()) - 1
	next, from, to := (this+1)%12, mid, mid.AddDate(0, 1, 0)
	if day.Before(mid) {
		this, next, from, to = (this+11)%12, this, mid.AddDate(0, -1, 0), mid
	}
	part := day.Sub(from).Hours() / to.Sub(from).Hours()
	return m[this] + part*(m[next]-m[this])
}

// Of is the climate of a place: how warm its months are, and the coldest usual night of
// each.
type Of struct {
	Mean Months `json:"monthly_mean_c"`
	Low  Months `json:"monthly_low_c"`
}

// Check says what is wrong with it; nil where nothing is.
func (o Of) Check() error {
	if err := o.Mean.Check("mean"); err != nil {
		return err
	}
	if err := o.Low.Check("coldest night"); err != nil {
		return err
	}
	for i := range o.Mean {
		if o.Low[i] > o.Mean[i] {
			return fmt.Errorf("the coldest night of %s, %g °C, is warmer than its mean, %g °C: check which is which",
				time.Month(i+1), o.Low[i], o.Mean[i])
		}
	}
	return nil
}

// usualGap is how much warmer than its coldest night a month usually is, °C. House
// judgement: 10 in a mild place, 14 in a cold one.
const usualGap = 12.0

// FromLows gives the climate of a place of which only the coldest nights are known.
func FromLows(low Months) Of {
	out := Of{Low: low}
	for i, c := range low {
		out.Mean[i] = min(Highest, c+usualGap)
	}
	return out
}

// Weather is that of one day, as it was or as it is forecast.
type Weather struct {
	Date  string   `json:"date"`
	LowC  float64  `json:"low_c"`
	MeanC *float64 `json:"mean_c,omitempty"`
}

// Preset is a climate that nobody has to type. All of them are invented, after the usual
// run of such places.
type Preset struct {
	Code string `json:"code"`
	Name string `json:"name"`
	Of
}

var presets = []Preset{
	{"upland", "Cold upland valley", Of{
		Months{-4, -3, 1, 5, 10, 13, 15, 15, 11, 6, 1, -3}, Months{-19, -18, -12, -6, -2, 2, 5, 4, 0, -5, -11, -17}}},
	{"inland", "Inland plain", Of{
		Months{-2, 0, 4, 8, 13, 17, 19, 18, 14, 9, 4, 0}, Months{-14, -11, -6, -1, 3, 7, 10, 9, 5, 0, -5, -11}}},
	{"coast", "Mild coast", Of{
		Months{5, 5, 7, 9, 12, 15, 17, 17, 15, 11, 8, 6}, Months{-4, -4, -2, 0, 3, 7, 9, 9, 6, 2, -1, -3}}},
	{"continental", "Deep continental winter", Of{
		Months{
			-14,
			-12,
			-4,
			5,
			12,
			17,
			20,
			18,
			12,
			5,
			-4,
			-11,
		}, Months{-34, -32, -24, -9, -1, 5, 9, 7, 0, -9, -22, -31}}},
	{"hot", "Hot and dry", Of{
		Months{12, 14, 18, 22, 28, 33, 35, 34, 30, 24, 17, 12}, Months{0, 2, 5, 9, 14, 20, 24, 23, 18, 11, 4, 1}}},
}

// Presets gives the climates that ship; the caller may keep the list.
func Presets() []Preset { return append([]Preset(nil), presets...) }

// Named gives a climate that ships.
func Named(code string) (Of, bool) {
	for _, p := range presets {
		if p.Code == code {
			return p.Of, true
		}
	}
	return Of{}, false
}

// A day that is said may lie so far back or ahead.
const oldestDays, furthestDays = 800, 60

// CheckDays says what is wrong with days that were typed or imported on a day, by their place
// among them; nil where nothing is.
func CheckDays(days []Weather, today time.Time) error {
	var wrong document.Problems
	seen := map[string]bool{}
	for i, d := range days {
		at := fmt.Sprintf("days[%d]", i)
		add := func(field, format string, args ...any) {
			wrong = append(wrong, document.Problem{Path: at + field, Message: fmt.Sprintf(format, args...)})
		}
		on, err := time.Parse(time.DateOnly, d.Date)
		switch {
		case err != nil:
			add(".date", "%s is no date: write 2026-12-01", document.Quote(d.Date))
		case seen[d.Date]:
			add(".date", "%s stands there twice", d.Date)
		case on.Before(today.AddDate(0, 0, -oldestDays)) || on.After(today.AddDate(0, 0, furthestDays)):
			add(".date", "%s is too far from today: %d days back to %d ahead", d.Date, oldestDays, furthestDays)
		case !(d.LowC >= Lowest && d.LowC <= Highest):
			add(".low_c", "%g is outside %g to %g °C", d.LowC, Lowest, Highest)
		case d.MeanC != nil && !(*d.MeanC >= d.LowC && *d.MeanC <= Highest):
			add(".mean_c", "%g °C has to be between its coldest night, %g °C, and %g °C", *d.MeanC, d.LowC, Highest)
		}
		seen[d.Date] = true
	}
	if len(wrong) > 0 {
		return wrong.Few()
	}
	return nil
}

// WeatherShape describes a day in any document.
func WeatherShape() document.Shape {
	return document.Object([]string{"date", "low_c"}, map[string]document.Shape{"date": {Kind: "date"},
		"low_c": document.Number(Lowest, Highest, "°C"), "mean_c": document.Number(Lowest, Highest, "°C")})
}
