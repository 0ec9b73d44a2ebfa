package casefile

import (
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
)

// readingShape is one reading of any kind.
var readingShape = station.Shape()

// MostReadings is how many readings a case holds: far more than anybody takes of one
// battery, and few enough to be judged while one waits.
const MostReadings = 1000

// shape is the whole document, put together from what its parts say of
// themselves: vehicle and label, the stations, the house rules.
var shape = document.Object([]string{"format", "battery", "readings"}, map[string]document.Shape{
	"format":     document.Words(reading.CaseFormat),
	"vehicle":    reading.VehicleShape(),
	"battery":    reading.BatteryShape(),
	"conditions": reading.ConditionsShape(),
	"complaint":  reading.ComplaintShape(),
	"readings":   document.List(0, MostReadings, readingShape),
	"rules":      rules.Shape(false),
	"as_of": document.Shape{
		Kind: "time",
		Null: true,
	}.About(
		"RFC 3339, when it is judged; at its last reading when left out",
	),
})

// Shape describes the document.
func Shape() document.Shape { return shape }

// Schema gives the JSON Schema (2020-12) of grapnel.case/1.
func Schema() map[string]any { return document.Schema(reading.CaseFormat, shape) }
