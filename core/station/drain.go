package station

import (
	"grapnel/core/document"
	"grapnel/core/reading"
)

// Drain is the current with everything off and asleep.
const Drain = "drain"

// drainPart is ± part of a clamp or range meter on a few milliamps, one standard
// deviation, and drainFloor what it cannot tell from nothing. From memory.
const (
	drainPart  = 0.05
	drainFloor = 1.0
)

func init() {
	register(Station{
		Code: Drain, Name: "Drain", Hint: "milliamps with everything asleep", Minutes: 15,
		Fields: []Field{
			{
				Name:    "milliamps",
				Label:   "Drain",
				Shape:   document.Number(0, 100000, "mA"),
				Need:    true,
				Big:     true,
				Example: "28",
			},
			{
				Name:  "minutes_asleep",
				Label: "Asleep for",
				Shape: document.Number(0, 100000, "min"),
				Said:  "asleep {value}",
			},
		},
		Expect: expectDrain,
	})
}

// expectDrain: what is drawn, and what leaks over the lid does not pass the meter.
func expectDrain(w World, _ reading.Reading) []Prediction {
	return []Prediction{
		{Field: "milliamps", Best: w.DrainMilliamps, Sigma: sigma(drainFloor, drainPart*w.DrainMilliamps)},
	}
}
