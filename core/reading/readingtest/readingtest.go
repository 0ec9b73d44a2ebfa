// Package readingtest gives the tests of core one battery and the readings they
// take of it most.
package readingtest

import (
	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/rules"
)

// Num gives a figure of a case, which may be missing, as one that is there.
func Num(v float64) *float64 { return &v }

// Car is a 650 CCA, 62 Ah flooded car battery at 21 °C with the given readings.
func Car(rs ...reading.Reading) reading.Case {
	return reading.Case{
		Format:  reading.CaseFormat,
		Vehicle: reading.Vehicle{Class: "car", SystemVolts: 12},
		Battery: reading.Battery{
			Chemistry: battery.Flooded,
			Rating:    reading.Rating{CCA: Num(650), Standard: rating.SAE, Ah20h: Num(62)},
		},
		Conditions: reading.Conditions{AmbientC: Num(21), BatteryC: Num(21)},
		Readings:   rs,
		Rules:      rules.Default(),
	}
}

// Rest is a rest voltage after a night.
func Rest(volts float64) reading.Reading {
	return reading.Of("rest_voltage", reading.Fields{"volts": volts, "minutes_since_charge": 600,
		"surface_charge": string(battery.Rested)})
}

// Load is a load test of the car battery with half its CCA for 15 s at 21 °C.
func Load(volts float64) reading.Reading {
	return reading.Of("load_test", reading.Fields{"method": "half_cca", "amps": 325, "seconds": 15,
		"volts_end": volts, "battery_c": 21})
}
