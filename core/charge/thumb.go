package charge

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// RuleOfThumb gives the hours to charge a flat battery by the rule of the trade:
// reserve capacity in minutes over average charge amps. RC 75 at 25 A is 3 h, at 10 A
// 7.5 h. Common practice, no source; it gives back RC ampere-hours, more than came out.
func RuleOfThumb(rcMin, amps float64) float64 { return rcMin / amps }

// average is the amps the charger is taken to give by the rule: what it is spoken of
// by, or of a taper charger the mean of the first hour.
func (s Setup) average(curve []Instant) float64 {
	if s.Charger.Kind != Taper {
		return s.Charger.nominal(s.Battery)
	}
	sum, minutes := 0.0, 0.0
	for i := 1; i < len(curve) && curve[i-1].Minute < 60; i++ {
		dt := min(curve[i].Minute, 60) - curve[i-1].Minute
		sum += dt * (curve[i].Amps + curve[i-1].Amps) / 2
		minutes += dt
	}
	if minutes == 0 {
		return s.Charger.nominal(s.Battery)
	}
	return sum / minutes
}

// Thumb gives the hours by the rule of thumb for a forecast of this charge, and says why
// the model does not agree.
func (s Setup) Thumb(f Forecast) (hours float64, why words.Text) {
	hours = RuleOfThumb(s.Battery.RCMin, s.average(f.Curve))
	return hours, s.difference(f, hours)
}

// thumbNear is how near the rule comes to the model to be left without a reason, part.
const thumbNear = 0.1

// difference says why the rule of thumb and the model do not agree, the weightiest
// reasons first.
func (s Setup) difference(f Forecast, thumb float64) words.Text {
	hours := measure.Of(thumb, measure.Hour, 1)
	if f.Full == nil {
		return words.Say(thumbNever, "thumb", hours)
	}
	full := f.Full.Best
	if math.Abs(full/thumb-1) < thumbNear {
		return words.Say(thumbAgrees, "thumb", hours, "model", measure.Of(full, measure.Hour, 1))
	}
	var why []words.Text
	soc := s.Battery.SOC(s.State)
	if full > thumb {
		if f.Delay.Best > 0.2*(full-thumb) {
			why = append(why, words.Say(becauseRefuses))
		}
		if s.State.TempC < ColdC {
			why = append(why, words.Say(becauseCold))
		}
		if held := heldPart(f.Curve, s.average(f.Curve)); held > 0.25 || len(why) == 0 {
			because := becauseHeld
			if s.Charger.Kind == Taper {
				because = becauseTapers
			}
			why = append(why, words.Say(because))
		}
	} else {
		if soc >= 10 {
			why = append(why, words.Say(becauseNotFlat, "soc", measure.Percents(soc)))
		}
		if s.capacity() < 0.9 {
			why = append(why, words.Say(becauseWorn))
		}
		why = append(why, words.Say(becauseTooMuch))
	}
	if len(why) > 2 {
		why = why[:2]
	}
	return words.Say(thumbDiffers, "thumb", hours, "model", measure.Of(full, measure.Hour, 1), "why", words.Join(", and ", why))
}

// heldPart is the part of the time in which the battery takes less than four fifths of
// what the charger is said to give.
func heldPart(curve []Instant, amps float64) float64 {
	n := 0
	for _, p := range curve {
		if p.Amps < 0.8*amps {
			n++
		}
	}
	return float64(n) / float64(max(1, len(curve)))
}

// capacity is the part of its capacity the battery still has.
func (s Setup) capacity() float64 {
	return s.Battery.Groups[0].Capacity
}

// ice reports whether what it holds may be frozen, and the temperature at which it
// freezes, °C.
func ice(c battery.Chemistry, soc, tempC float64) (bool, float64) {
	at := battery.FreezingPoint(battery.SpecificGravity(c, soc))
	return tempC <= at, at
}

const (
	thumbAgrees    = "The rule of thumb says {thumb}, the model {model}."
	thumbDiffers   = "The rule of thumb says {thumb}, the model {model}: {why}."
	thumbNever     = "The rule of thumb says {thumb}; on this charger it never fills."
	becauseRefuses = "it first takes no current"
	becauseCold    = "it is cold"
	becauseHeld    = "the last of the charge goes in slowly, whatever the charger"
	becauseTapers  = "the charger tapers"
	becauseNotFlat = "it begins at {soc}, not flat"
	becauseWorn    = "it holds less than it did when new"
	becauseTooMuch = "the rule gives back more than came out"
)
