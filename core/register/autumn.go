package register

import (
	"math"
	"time"

	"grapnel/core/battery"
	"grapnel/core/climate"
	"grapnel/core/engine"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Failing is the first week of the coming year that is too cold for it, kept charged.
type Failing struct {
	Week   *time.Time `json:"week,omitempty" doc:"its Monday; absent where none of the coming year is cold enough"`
	From   *time.Time `json:"from,omitempty" doc:"the first week in which it may fail"`
	Until  *time.Time `json:"until,omitempty" doc:"the week by which it surely has; absent where it may get through"`
	LowC   float64    `json:"low_c,omitempty" doc:"the coldest night of that week"`
	Below  float64    `json:"below_c" doc:"from which cold on it fails, today"`
	Margin float64    `json:"margin_c" doc:"by how much that lies under the coldest night of the year to come"`
}

// weeks is how far ahead is looked.
const weeks = 52

// monday is that of the week a time falls into, where its clock stands.
func monday(t time.Time) time.Time {
	day := time.Date(t.Year(), t.Month(), t.Day(), 0, 0, 0, 0, time.UTC)
	return day.AddDate(0, 0, -(int(day.Weekday())+6)%7)
}

// close is how near to the cold it fails at, °C, a night must be for the battery itself to
// be asked whether it cranks: the table of package engine is within a degree or two of it.
const close = 2.5

// cranks reports whether a battery of so much of its label turns the engine in a cold
// night, fully charged.
func cranks(made battery.Battery, pct float64, e engine.Engine, lowC float64) bool {
	end := 1.2 * float64(made.Cells())
	amps, err := made.WornTo(min(200, max(2, pct))).CrankingAmps(100, lowC, 30, end)
	return err == nil && amps >= e.Amps.Best*engine.Need(lowC)
}

// fails looks for the first week whose coldest night is under what it starts at.
func (t trend) fails(e engine.Engine, made battery.Battery, lows climate.Months, now time.Time) Failing {
	label := made.CCA
	out := Failing{Margin: 1e9}
	first := func(to **time.Time, week time.Time) bool {
		if *to != nil {
			return false
		}
		at := week
		*to = &at
		return true
	}
	start := monday(now)
	for i := range weeks {
		week := start.AddDate(0, 0, 7*i)
		mid := week.AddDate(0, 0, 3)
		low := lows.At(mid)
		band := t.at(mid).band()
		cca := battery.Band{Low: band.Low * label / 100, Best: band.Best * label / 100, High: band.High * label / 100}
		below := e.FailsBelow(cca)
		if i == 0 {
			out.Below = below.Best
		}
		out.Margin = min(out.Margin, low-below.Best)
		fails := below.Best >= low
		if out.Week == nil && math.Abs(below.Best-low) < close {
			fails = !cranks(made, band.Best, e, low)
		}
		if below.High >= low || fails {
			first(&out.From, week)
		}
		if fails && first(&out.Week, week) {
			out.LowC = low
		}
		if below.Low >= low && out.Week != nil {
			first(&out.Until, week)
		}
	}
	return out
}

func (f Failing) says(tested bool) words.Text {
	by := words.Say(byTests)
	if !tested {
		by = words.Say(byAge)
	}
	switch {
	case f.Week == nil && f.From == nil:
		return words.Say(saysSafe, "by", by)
	case f.Week == nil:
		return words.Say(saysPerhaps, "by", by, "from", day(*f.From))
	}
	return words.Say(saysFails, "by", by, "week", day(*f.Week), "low", measure.Degrees(f.LowC))
}

func day(t time.Time) string { return t.Format("2 January") }

const (
	byTests     = "By its tests"
	byAge       = "By its age alone, untested"
	saysSafe    = "{by}, no week of the coming year is too cold for it."
	saysPerhaps = "{by}, it gets through the coming year; at the earliest it fails in the week of {from}."
	saysFails   = "{by}, it first fails in the week of {week}, at {low}."
)
