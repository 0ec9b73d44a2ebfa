// Package guide holds what Grapnel tells a technician to do and to mind: what
// is usual for each class of vehicle, the words for each side of the battery, and
// the cautions that stand at each step.
package guide

import (
	"slices"
	"time"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
)

// ClassDefault is what is usual for one class of vehicle, so that a new job
// needs few taps. The rating is typical and marked so until somebody has read
// the label. All of it is common practice, no source.
type ClassDefault struct {
	Class   string          `json:"class"`
	Word    string          `json:"word"`
	Fuels   []string        `json:"fuels" doc:"the usual one first"`
	Vehicle reading.Vehicle `json:"vehicle"`
	Battery reading.Battery `json:"battery"`
	Labels  []Size          `json:"labels" doc:"label sizes met in this class, the usual one first"`
}

// Size is a label as met in a class.
type Size struct {
	CCA   float64 `json:"cca"`
	Ah20h float64 `json:"ah_20h"`
	RCMin float64 `json:"rc_min,omitempty"`
}

func class(name string, fuels []string, volts float64, chem battery.Chemistry, sizes ...Size) ClassDefault {
	terminals := "top"
	if name == "motorcycle" || name == "atv" || name == "mower" {
		terminals = "stud"
	}
	first := sizes[0]
	r := reading.Rating{CCA: &first.CCA, Standard: rating.SAE, Ah20h: &first.Ah20h, Typical: true}
	if first.RCMin > 0 {
		r.RCMin = &first.RCMin
	}
	return ClassDefault{
		Class: name, Word: reading.Classes().Word(name), Fuels: slices.Clone(fuels), Labels: sizes,
		Vehicle: reading.Vehicle{
			Class:       name,
			Fuel:        fuels[0],
			SystemVolts: volts,
			Earth:       "negative",
			Arrangement: "single",
			HighVoltage: reading.Vehicle{Class: name}.Electric(),
		},
		Battery: reading.Battery{Chemistry: chem, Caps: chem.Caps(), Terminals: terminals, Rating: r},
	}
}

var (
	petrolDiesel = []string{"petrol", "diesel"}
	dieselPetrol = []string{"diesel", "petrol"}
	petrol       = []string{"petrol"}
)

// Defaults gives every class, the most common in a workshop first. The caller may
// keep it.
func Defaults() []ClassDefault {
	return []ClassDefault{
		class("car", petrolDiesel, 12, battery.FloodedSealed, Size{540, 60, 100}, Size{440, 45, 75},
			Size{650, 70, 120}, Size{760, 80, 140}),
		class("van", dieselPetrol, 12, battery.FloodedSealed, Size{720, 80, 140}, Size{850, 95, 170},
			Size{600, 65, 110}),
		class("motorcycle", petrol, 12, battery.AGM, Size{180, 10, 0}, Size{120, 7, 0}, Size{270, 14, 0}),
		class("mower", petrol, 12, battery.Flooded, Size{300, 28, 35}, Size{230, 22, 28}, Size{350, 32, 40}),
		class("atv", petrolDiesel, 12, battery.AGM, Size{270, 14, 0}, Size{385, 30, 0}, Size{210, 12, 0}),
		class("tractor", dieselPetrol, 12, battery.Flooded, Size{720, 88, 150}, Size{900, 110, 190}),
		class("hybrid", petrol, 12, battery.AGM, Size{325, 45, 60}, Size{295, 35, 45}),
		class("electric", []string{"none"}, 12, battery.AGM, Size{380, 45, 70}, Size{680, 60, 110}),
		class("classic", petrol, 6, battery.Flooded, Size{640, 100, 180}, Size{420, 70, 120}),
		class("boat", dieselPetrol, 12, battery.Flooded, Size{800, 100, 180}, Size{650, 75, 120}),
		class("motorhome", dieselPetrol, 12, battery.FloodedSealed, Size{800, 95, 170}, Size{900, 110, 190}),
	}
}

// AmbientHours is how long a temperature entered for one job is a fair first
// guess for the next. House judgement.
const AmbientHours = 6

// AmbientGuess gives the ambient temperature entered with the last job opened as
// a first guess for the next one; nil when that is too long ago or none was
// entered.
func AmbientGuess(lastOpened, now time.Time, ambientC *float64) *float64 {
	if now.Sub(lastOpened) >= AmbientHours*time.Hour {
		return nil
	}
	return ambientC
}
