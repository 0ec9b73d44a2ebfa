package charge

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/words"
)

// Rates a battery may be charged at.
const (
	RateLabel = "label" // what its label prints, where it prints one
	RateTenth = "tenth" // a tenth of its ampere-hours
	RateFast  = "fast"  // fast, with somebody beside it
)

var rates = words.ListOf(
	words.Term{Code: RateLabel, Word: "As the label says"},
	words.Term{Code: RateTenth, Word: "A tenth of its Ah"},
	words.Term{Code: RateFast, Word: "Fast, watched"})

// Rates gives the rates there are, with their words.
func Rates() words.List { return rates }

// RateAmps gives the amps of a rate for a battery of ah ampere-hours (20 h), to the
// amp from 10 A and to the half under it; printed is what the label says, 0 for
// nothing, and then a tenth is taken. Common practice, no source: at or under a tenth
// is kind, 48 Ah 4 to 5 A, 60 Ah up to 6 A.
func RateAmps(rate string, c battery.Chemistry, ah, printed float64) float64 {
	l := LimitsOf(c)
	amps := l.KindPart * ah
	switch {
	case rate == RateLabel && printed > 0:
		return printed
	case rate == RateFast:
		amps = l.FastPart / 2 * ah
	}
	step := 0.5
	if amps >= 10 {
		step = 1
	}
	return max(step, step*math.Floor(amps/step+1e-9))
}

// SmartAt is a smart charger of so many amps on the setting of a battery's build.
func SmartAt(amps float64) Charger { return Charger{Kind: Smart, AmpsMax: amps} }
