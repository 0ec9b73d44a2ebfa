package station

import (
	"grapnel/core/battery"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Hydrometer is the specific gravity of the acid, cell by cell.
const Hydrometer = "hydrometer"

// sgSigma is the standard deviation of one hydrometer reading: half a division
// of 0.005 and the hand. From memory.
const sgSigma = 0.004

func init() {
	register(Station{
		Code: Hydrometer, Name: "Hydrometer", Hint: "specific gravity of each cell", Minutes: 8,
		Fields: []Field{
			{
				Name:   "cells_sg",
				Label:  "Specific gravity of each cell",
				Need:   true,
				Digits: 3,
				Shape:  document.List(3, 12, document.Number(1.000, 1.400, "")),
			},
			{Name: "acid_c", Label: "Acid", Shape: reading.TempShape()},
			{Name: "level", Label: "Level", Words: words.Plain("covered", "fill_mark", "plates_dry")},
		},
		Expect: expectHydrometer,
	})
}

// expectHydrometer: the gravity of a cell at the charge, as it reads at the
// acid's own temperature. Only of acid that can be drawn.
func expectHydrometer(w World, _ reading.Reading) []Prediction {
	if w.Battery.Chemistry != battery.Flooded {
		return nil
	}
	at267 := battery.SpecificGravity(w.Battery.Chemistry, w.SOC)
	// CorrectGravity adds to a reading what its warmth takes away.
	read := at267 - (battery.CorrectGravity(at267, w.BatteryC) - at267)
	return []Prediction{{Field: "cells_sg", Best: read, Sigma: sgSigma}}
}
