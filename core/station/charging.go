package station

import (
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Charging is the volts at the battery with the engine running.
const Charging = "charging"

// The charging voltage falls as the battery warms: 18 to 24 mV for each °C on
// 12 V. Published, from memory; two alternators of one kind differ by some
// tenths.
const (
	chargingPerC   = -0.021
	chargingSpread = 0.10
)

func init() {
	register(Station{
		Code: Charging, Name: "Charging", Hint: "volts with the engine running", Minutes: 5,
		Fields: []Field{
			{
				Name:    "volts",
				Label:   "Volts",
				Shape:   document.Number(-maxPostVolts, maxPostVolts, "V"),
				Need:    true,
				Big:     true,
				Digits:  2,
				Example: "14.30",
				Posts:   true,
			},
			{
				Name:  "speed",
				Label: "Engine",
				Words: words.ListOf(words.Term{Code: "idle", Word: "Idling", Said: "at idle"},
					words.Term{Code: "raised", Word: "Raised", Said: "raised"}),
			},
			{
				Name:  "loads",
				Label: "Loads",
				Words: words.ListOf(words.Term{Code: "off", Word: "Off"}, words.Term{Code: "on", Word: "On"}),
				Said:  "loads {value}",
			},
		},
		Expect: expectCharging,
	})
}

// expectCharging: the regulated voltage at this temperature, or the battery's own
// where the alternator gives nothing.
func expectCharging(w World, _ reading.Reading) []Prediction {
	n := float64(w.Battery.Cells()) / 6
	if w.AlternatorV <= 0 {
		return expectRest(w, reading.Reading{})
	}
	v := n * (w.AlternatorV + chargingPerC*(w.BatteryC-25))
	return []Prediction{{Field: "volts", Best: v, Sigma: sigma(meterSigma(v), n*chargingSpread)}}
}
