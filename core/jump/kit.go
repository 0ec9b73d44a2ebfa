package jump

import (
	"slices"
	"strconv"

	"grapnel/core/battery"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Kit is what a call from the roadside picks from, so that it takes few taps. All of it is
// common practice, no source.
type Kit struct {
	States  []FlatState  `json:"states" doc:"how flat it is, by what it does, the usual one first"`
	Sizes   []EngineSize `json:"sizes" doc:"engines, smallest first"`
	Sources []Ready      `json:"sources" doc:"what is at hand, the usual one first"`
	Dials   []Dial       `json:"dials" doc:"what is turned by steps: leads and revs"`
	Hazards []words.Term `json:"hazards" doc:"what can be seen or smelt"`
	Clamps  []Bite       `json:"clamps"`
	Charges []Charged    `json:"charges" doc:"how full what gives is"`
	Temps   []float64    `json:"temps_c"`
	Drives  []float64    `json:"drives_min"`
	Boot    []string     `json:"boot_classes" doc:"classes whose battery mostly stands in the boot, with a post in front"`
	Usual   Usual        `json:"usual"`
}

// Usual is what is taken until something else is said.
type Usual struct {
	BatteryC       float64 `json:"battery_c"`
	SOCPct         float64 `json:"soc_pct"         doc:"of what gives"`
	ClampMilliohms float64 `json:"clamp_milliohms"`
	DriveMinutes   float64 `json:"drive_minutes"`
	RPM            float64 `json:"rpm"             doc:"of the donor's engine"`
}

// Bite is how well clamps bite.
type Bite struct {
	Milliohms float64 `json:"milliohms"`
	Word      string  `json:"word"`
}

// Charged is how full a source is, as people say it.
type Charged struct {
	SOCPct float64 `json:"soc_pct"`
	Word   string  `json:"word"`
}

// Dial is something turned up and down through its values.
type Dial struct {
	Code   string    `json:"code"   enum:"mm2,metres,rpm"`
	Name   string    `json:"name"`
	Unit   string    `json:"unit"`
	Digits int       `json:"digits"`
	Values []float64 `json:"values" doc:"smallest first"`
}

// more gives the next value over one, less the next under it; false at the end.
func (s Dial) more(than float64) (float64, bool) {
	for _, v := range s.Values {
		if v > than+alike {
			return v, true
		}
	}
	return 0, false
}

func (s Dial) less(than float64) (float64, bool) {
	for _, v := range slices.Backward(s.Values) {
		if v < than-alike {
			return v, true
		}
	}
	return 0, false
}

// alike is how close two values are that are one.
const alike = 1e-9

// FlatState is how flat a battery is, told by what it does when the key is turned.
type FlatState struct {
	Code      string  `json:"code"`
	Word      string  `json:"word"`
	SOCPct    float64 `json:"soc_pct"`
	SpreadPct float64 `json:"soc_spread_pct"`
}

// EngineSize is an engine as people say it.
type EngineSize struct {
	Litres float64 `json:"litres"`
	Word   string  `json:"word"`
}

// Ready is a source as it is likely at hand.
type Ready struct {
	Code      string  `json:"code"`
	Word      string  `json:"word"`
	Kind      string  `json:"kind" enum:"vehicle,pack,charger"`
	PeakAmps  float64 `json:"peak_amps,omitempty"`
	BoostAmps float64 `json:"boost_amps,omitempty"`
	Battery   *Cell   `json:"battery,omitempty"`
	Class     string  `json:"class,omitempty"`
	Pairing   string  `json:"arrangement,omitempty" enum:"parallel,series" doc:"of two such batteries"`
	Volts     float64 `json:"system_volts"`
	MM2       float64 `json:"mm2"                   doc:"of the leads it usually comes with, of copper in each"`
	Metres    float64 `json:"metres"                doc:"of each of them"`
}

var (
	states = []FlatState{
		{"clicks", "It clicks, lamps dim", 18, 6},
		{"silent", "Nothing at all", 6, 4},
		{"slow", "It turns slowly", 35, 8},
	}
	sizes = []EngineSize{{0.4, "0.4 l"}, {1.2, "1.2 l"}, {1.6, "1.6 l"}, {2.2, "2.2 l"}, {3, "3 l"}, {6, "6 l"}}

	leadSteps  = Dial{"mm2", "lead copper", "mm²", 0, append([]float64{6}, leadSizes[:]...)}
	metreSteps = Dial{"metres", "lead length", "m", 1, []float64{0.6, 1, 1.5, 1.8, 2, 2.5, 3, 3.5, 4, 5, 6, 8}}
	revSteps   = Dial{"rpm", "donor revs", "rpm", 0, []float64{IdleRPM, 1500, RaisedRPM, 2500}}
)

// turned gives what is turned by steps. The caller may keep it.
func turned() []Dial {
	all := []Dial{leadSteps, metreSteps, revSteps}
	for i := range all {
		all[i].Values = slices.Clone(all[i].Values)
	}
	return all
}

// ready are the sources at hand.
func ready() []Ready {
	cell := func(c battery.Chemistry, cca, ah float64) *Cell {
		return &Cell{Chemistry: c, Rating: reading.Rating{CCA: &cca, Ah20h: &ah}}
	}
	all := []Ready{
		{Code: "pack", Word: "Pack, 600 A peak", Kind: FromPack, PeakAmps: 600},
		{Code: "big_pack", Word: "Pack, 1500 A peak", Kind: FromPack, PeakAmps: 1500},
		{Code: "car", Word: "A car", Kind: FromVehicle, Class: "car", Battery: cell(battery.FloodedSealed, 540, 60)},
		{Code: "van", Word: "A van", Kind: FromVehicle, Class: "van", Battery: cell(battery.AGM, 760, 80)},
		{Code: "pair", Word: "Two batteries", Kind: FromVehicle, Class: "van", Battery: cell(battery.AGM, 850, 95),
			Pairing: "parallel"},
		{Code: "boost", Word: "Charger, boost", Kind: FromCharger, BoostAmps: 120},
		{
			Code:    "six",
			Word:    "A 6 V vehicle",
			Kind:    FromVehicle,
			Class:   "classic",
			Battery: cell(battery.Flooded, 640, 100),
			Volts:   6,
		},
		{
			Code:    "truck",
			Word:    "A 24 V vehicle",
			Kind:    FromVehicle,
			Class:   "van",
			Battery: cell(battery.Flooded, 900, 110),
			Pairing: "series",
			Volts:   24,
		},
	}
	for i := range all {
		if all[i].Volts == 0 {
			all[i].Volts = 12
		}
		all[i].MM2, all[i].Metres = usualLeads(all[i].Kind)
	}
	return all
}

// KitOf gives what a call picks from. The caller may keep it.
func KitOf() Kit {
	return Kit{
		States:  slices.Clone(states),
		Sizes:   slices.Clone(sizes),
		Sources: ready(),
		Dials:   turned(),
		Hazards: slices.DeleteFunc(hazards.Terms(), func(h words.Term) bool { return h.Code == "may_be_frozen" }),
		Clamps:  []Bite{{usualClamp, "Clamps bite"}, {poorClamp, "Poor clamps"}},
		Charges: []Charged{{usualSOC, "It is full"}, {60, "Part charged"}},
		Temps:   []float64{-20, -10, -5, 0, 5, 15, 25},
		Drives:  []float64{5, usualDrive, 30, 60},
		Boot:    []string{"hybrid"},
		Usual:   Usual{BatteryC: 5, SOCPct: usualSOC, ClampMilliohms: usualClamp, DriveMinutes: usualDrive, RPM: IdleRPM},
	}
}

// about says what the flat vehicle is taken to be.
func (r *Request) about() words.Text {
	f := r.Flat
	state := "well charged"
	switch {
	case f.SOCPct < 12:
		state = "quite flat"
	case f.SOCPct < 30:
		state = "nearly flat"
	case f.SOCPct < 60:
		state = "half charged"
	}
	engine := f.Vehicle.Fuel
	if f.Engine.Litres > 0 {
		engine = strconv.FormatFloat(f.Engine.Litres, 'f', -1, 64) + " l " + engine
	}
	if engine == "" || engine == "none" {
		return words.Say(aboutPlain, "state", state, "soc", measure.Percents(f.SOCPct), "temp", measure.Degrees(f.BatteryC))
	}
	return words.Say(
		aboutEngine,
		"engine",
		engine,
		"state",
		state,
		"soc",
		measure.Percents(f.SOCPct),
		"temp",
		measure.Degrees(f.BatteryC),
	)
}

const (
	aboutEngine = "{engine}, {state} at {soc}, {temp}"
	aboutPlain  = "{state} at {soc}, {temp}"
)
