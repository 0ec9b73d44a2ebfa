package charge

import (
	"fmt"
	"math"

	"grapnel/core/battery"
	"grapnel/core/document"
)

// Unit is a charger of a shop, as its plate and its switches have it. Volts are of the
// whole battery; 0 where nobody noted them, and then they are those of the build.
type Unit struct {
	Name       string    `json:"name" minLength:"1" maxLength:"20" doc:"what the shop calls it"`
	Where      string    `json:"where,omitempty" maxLength:"60" doc:"where it hangs"`
	Kind       Kind      `json:"kind" enum:"smart,taper,manual,maintainer,trickle"`
	Amps       float64   `json:"amps" minimum:"0.05" maximum:"500" doc:"the most it gives; of a taper charger into a flat battery"`
	Rates      []float64 `json:"rates,omitempty" maxItems:"12" doc:"amps its switch can be set to; left out where it has none"`
	Volts      float64   `json:"volts,omitempty" maximum:"40" doc:"what it holds a battery to; of a taper or a manual charger the most it reaches"`
	VoltsFloat float64   `json:"volts_float,omitempty" maximum:"40" doc:"what it keeps a full battery at"`
	VoltsLow   float64   `json:"volts_low,omitempty" maximum:"40" doc:"what its low maintenance setting holds a battery to; left out where it has none"`
	StartsFrom float64   `json:"starts_from_volts,omitempty" maximum:"15" doc:"volts a battery must show for it to begin"`
}

// Least figures of a unit that are no slip: volts of a 6 V battery, amps.
const (
	leastUnitVolts = 5.0
	leastUnitAmps  = 0.05
	mostUnitAmps   = 500.0
)

// Check says what of a charger does not go together, at its fields.
func (u Unit) Check() document.Problems {
	var wrong document.Problems
	say := func(field, format string, args ...any) {
		wrong = append(wrong, document.Problem{Path: field, Message: fmt.Sprintf(format, args...)})
	}
	if u.Name == "" {
		say("name", "is needed: what the shop calls it, such as 3")
	}
	for _, f := range []struct {
		field string
		volts float64
	}{{"volts", u.Volts}, {"volts_float", u.VoltsFloat}, {"volts_low", u.VoltsLow}} {
		if f.volts != 0 && f.volts < leastUnitVolts {
			say(f.field, "is %g V: give the volts of the whole battery, or leave it out", f.volts)
		}
	}
	for i, a := range u.Rates {
		switch {
		case a < leastUnitAmps || a > mostUnitAmps:
			say(fmt.Sprintf("rates[%d]", i), "is %g A: give amps from %g to %g", a, leastUnitAmps, mostUnitAmps)
		case a > u.Amps:
			say(fmt.Sprintf("rates[%d]", i), "is %g A, more than the %g A it gives at most", a, u.Amps)
		}
	}
	if u.VoltsFloat > 0 && u.Volts > 0 && u.VoltsFloat > u.Volts {
		say("volts_float", "is %g V, over the %g V it charges at", u.VoltsFloat, u.Volts)
	}
	if u.VoltsLow > 0 && u.Volts > 0 && u.VoltsLow > u.Volts {
		say("volts_low", "is %g V, over the %g V of its ordinary setting", u.VoltsLow, u.Volts)
	}
	return wrong
}

// At is the amps it is set to for a battery that is to be charged at want: the greatest
// its switch has that are not more, or the least it has; the amps it gives where it has
// no switch. A want of 0, where nobody knows the battery's size, is for the most it gives.
func (u Unit) At(want float64) float64 {
	if len(u.Rates) == 0 {
		return u.Amps
	}
	if want <= 0 {
		want = u.Amps
	}
	best, least := 0.0, math.Inf(1)
	for _, a := range u.Rates {
		if a <= want*(1+overKind) {
			best = max(best, a)
		}
		least = min(least, a)
	}
	if best == 0 {
		return least
	}
	return best
}

// Set is the charger with its switches as they belong for a build of so many cells: at so
// many amps, on its low maintenance setting for what must not be charged on the ordinary
// one. On that setting a taper charger gives less from the start, too.
func (u Unit) Set(c battery.Chemistry, cells int, amps float64) Charger {
	volts := u.Volts
	if c != battery.Flooded && u.VoltsLow > 0 {
		volts = u.VoltsLow
		if u.Kind == Taper {
			flat, open := flatVolts*float64(cells), u.Volts
			if open == 0 {
				open = crudeOpen * float64(cells) / 6
			}
			if open > flat && volts > flat {
				amps *= (volts - flat) / (open - flat)
			}
		}
	}
	out := Noted(u.Kind, math.Round(100*amps)/100, volts)
	out.Float, out.StartsFrom = u.VoltsFloat, u.StartsFrom
	return out
}

// Noted is a charger as it is noted when a battery is hung on it: its kind, its amps, and
// the volts it holds or reaches, 0 for those of the build.
func Noted(kind Kind, amps, volts float64) Charger {
	switch kind {
	case Taper:
		return Charger{Kind: kind, AmpsStart: amps, VoltsOpen: volts}
	case Manual, Trickle:
		return Charger{Kind: kind, Amps: amps, VoltsOpen: volts}
	}
	return Charger{Kind: kind, AmpsMax: amps, Absorption: volts}
}

// Held gives what Noted makes it of.
func (c Charger) Held() (amps, volts float64) {
	switch c.Kind {
	case Taper:
		return c.AmpsStart, c.VoltsOpen
	case Manual, Trickle:
		return c.Amps, c.VoltsOpen
	}
	return c.AmpsMax, c.Absorption
}

// Why a charger is not proposed for a battery.
const (
	UnfitVolts   = "wrong_volts"       // it is for another system
	UnfitBig     = "charger_too_big"   // more than fast
	UnfitSmall   = "charger_too_small" // it keeps a battery full, it hardly fills it
	UnfitHigh    = "volts_too_high"    // more than its build stands
	UnfitNotHeld = "not_held"          // a sealed build, and nothing holds it to its volts
	UnfitTrickle = "trickle"           // it never stops
)

// Unfit says why this charger is not proposed for this battery; empty where it is.
// Somebody may hang it there all the same: Warnings says what to mind.
func (s Setup) Unfit() string {
	l, ah, amps := LimitsOf(s.Battery.Chemistry), s.Battery.Ah20h, s.Charger.nominal(s.Battery)
	cells := float64(s.Battery.Cells())
	high := s.highest()
	over := high > l.AbsorptionHigh*cells/6+voltsSlack
	switch {
	case high > wrongSystem*cells:
		return UnfitVolts
	case amps > l.FastPart*ah*(1+1e-9):
		return UnfitBig
	case amps < tooSmallPart*ah:
		return UnfitSmall
	case s.Charger.Kind == Trickle:
		return UnfitTrickle
	case over && s.Charger.Stops():
		return UnfitHigh
	case over && !s.Battery.Chemistry.Liquid():
		return UnfitNotHeld
	}
	return ""
}
