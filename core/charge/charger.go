package charge

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/words"
)

// Kind is how a charger ends, or does not end, a charge.
type Kind string

// The kinds of charger.
const (
	Smart      Kind = "smart"      // full amps to its absorption volts, then float
	Taper      Kind = "taper"      // a transformer: less and less as the volts rise, for ever
	Manual     Kind = "manual"     // the amps it is switched to, until somebody switches it off
	Maintainer Kind = "maintainer" // a small smart one, meant to be left on
	Trickle    Kind = "trickle"    // a small steady current, without judgement
)

var kinds = words.ListOf(
	words.Term{Code: string(Smart), Word: "Smart, several stages"},
	words.Term{Code: string(Taper), Word: "Taper, falls off"},
	words.Term{Code: string(Manual), Word: "Manual, rate switch"},
	words.Term{Code: string(Maintainer), Word: "Maintainer"},
	words.Term{Code: string(Trickle), Word: "Trickle, left on"})

// Kinds gives every kind of charger with its word.
func Kinds() words.List { return kinds }

// Settings of a charger that has a switch for the battery's build.
const (
	Ordinary       = "ordinary"
	LowMaintenance = "low_maintenance" // lower volts: sealed calcium, EFB, AGM, gel
)

var settings = words.ListOf(
	words.Term{Code: Ordinary, Word: "Ordinary"},
	words.Term{Code: LowMaintenance, Word: "Low maintenance"})

// Charger is one charger as it is set. Volts are of the whole battery. Which of the
// figures it needs hangs on its kind: those of package charge's document.
type Charger struct {
	Kind       Kind    `json:"kind"`
	AmpsMax    float64 `json:"amps_max,omitempty"`         // smart, maintainer: the most it gives
	Absorption float64 `json:"volts_absorption,omitempty"` // smart, maintainer: by the build when left out
	Float      float64 `json:"volts_float,omitempty"`      // smart, maintainer: by the build when left out
	Amps       float64 `json:"amps,omitempty"`             // manual, trickle: what it is switched to
	AmpsStart  float64 `json:"amps_start,omitempty"`       // taper: into a flat battery
	VoltsOpen  float64 `json:"volts_open,omitempty"`       // taper: with nothing connected; manual, trickle: the most it reaches
	VoltsSet   float64 `json:"volts_set,omitempty"`        // taper, instead: its volts behind ohms
	Ohms       float64 `json:"ohms,omitempty"`             // taper, instead
	Setting    string  `json:"setting,omitempty"`          // of its switch, where it has one
	VoltsLow   float64 `json:"volts_low,omitempty"`        // what the low maintenance setting holds it to
	StartsFrom float64 `json:"starts_from_volts,omitempty"`
}

// Volts of a charger nobody has told, for six cells. Common practice, no source: a
// transformer without a regulator reaches about 17 V.
const (
	crudeOpen  = 17.0
	startsFrom = 8.0 // under which polarity protection keeps a smart charger from starting
	flatVolts  = 2.0 // V a cell under a taper charger's starting amps
)

// stage is one way a charger behaves, until it turns to the next.
type stage struct {
	source battery.Source
	// tail is the current under which it goes on to the next stage, 0 for never.
	tail float64
}

// stages gives how the charger goes about a battery: in order, the last for ever.
func (c Charger) stages(b battery.Battery) []stage {
	k := float64(b.Cells()) / 6
	l := LimitsOf(b.Chemistry)
	or := func(v, usual float64) float64 {
		if v > 0 {
			return v
		}
		return usual
	}
	low := c.Setting == LowMaintenance && c.VoltsLow > 0
	switch c.Kind {
	case Taper:
		s := battery.Source{Amps: math.Inf(1), Volts: c.VoltsSet, Ohms: c.Ohms}
		if c.VoltsSet == 0 {
			s.Volts = or(c.VoltsOpen, crudeOpen*k)
			s.Ohms = max(0.001, (s.Volts-flatVolts*float64(b.Cells()))/c.AmpsStart)
		}
		if low {
			s.Volts = c.VoltsLow
		}
		// Into less than a flat battery a transformer gives little more than its start.
		s.Amps = c.mostAmps(b)
		return []stage{{source: s}}
	case Manual, Trickle:
		s := battery.Source{Amps: c.Amps, Volts: or(c.VoltsOpen, crudeOpen*k)}
		if low {
			s.Volts = c.VoltsLow
		}
		return []stage{{source: s}}
	}
	absorb := or(c.Absorption, l.AbsorptionUsual*k)
	if low {
		absorb = c.VoltsLow
	}
	float := min(absorb, or(c.Float, l.FloatUsual*k))
	return []stage{
		{source: battery.Source{Amps: c.AmpsMax, Volts: absorb}, tail: tailPart * b.Ah20h},
		{source: battery.Source{Amps: c.AmpsMax, Volts: float}},
	}
}

// tailPart is the current, in parts of the ampere-hours, that ends a charge. Common
// practice, no source: about 1 %.
const tailPart = 0.01

// taperOver is by how much a taper charger's most exceeds its printed start, into a
// battery far under flat.
const taperOver = 1.2

// mostAmps is the most the charger can give.
func (c Charger) mostAmps(b battery.Battery) float64 {
	switch c.Kind {
	case Taper:
		if c.VoltsSet > 0 {
			return max(0, c.VoltsSet-flatVolts*float64(b.Cells())) / max(c.Ohms, 0.001) * taperOver
		}
		return c.AmpsStart * taperOver
	case Manual, Trickle:
		return c.Amps
	}
	return c.AmpsMax
}

// nominal is the amps the charger is spoken of by.
func (c Charger) nominal(b battery.Battery) float64 {
	if c.Kind == Taper {
		return c.mostAmps(b) / taperOver
	}
	return c.mostAmps(b)
}

// starts gives the volts a battery must show for the charger to begin, 0 for any.
func (c Charger) starts(b battery.Battery) float64 {
	if c.StartsFrom > 0 {
		return c.StartsFrom
	}
	if c.Kind == Smart || c.Kind == Maintainer {
		return startsFrom * float64(b.Cells()) / 6
	}
	return 0
}

// Stops reports whether the charger ends the charge itself.
func (c Charger) Stops() bool { return c.Kind == Smart || c.Kind == Maintainer }
