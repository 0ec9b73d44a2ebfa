package station

import (
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// CableDrop is the volts lost over the cables of one side while cranking.
const CableDrop = "cable_drop"

func init() {
	register(Station{
		Code: CableDrop, Name: "Cable drop", Hint: "volts lost over a cable while it cranks", Minutes: 10,
		Fields: []Field{
			{
				Name:  "path",
				Label: "Path",
				Need:  true,
				Words: words.ListOf(words.Term{Code: "live", Word: "Live side"},
					words.Term{Code: "earth", Word: "Earthed side"}),
			},
			{Name: "volts", Label: "Volts lost", Shape: dropVolts(), Need: true, Big: true, Digits: 2, Example: "0.20"},
			{Name: "amps", Label: "Starter draw", Shape: document.Number(0, 3000, "A"), Said: "at {value}"},
		},
		Expect: expectDrop,
	})
}

// expectDrop: Ohm's law over the path at the starter's steady draw.
func expectDrop(w World, how reading.Reading) []Prediction {
	ohms := w.LiveOhms
	if how.Word("path") == "earth" {
		ohms = w.EarthOhms
	}
	v := ohms * how.Or("amps", w.StarterAmps)
	return []Prediction{{Field: "volts", Best: v, Sigma: sigma(meterSigma(v), readAmps*v)}}
}
