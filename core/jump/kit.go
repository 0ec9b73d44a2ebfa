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
	Leads   []float64    `json:"leads_mm2"`
	Hazards []words.Term `json:"hazards"`
}

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
	Pair      bool    `json:"pair,omitempty" doc:"two such batteries, side by side, or in a row of a 24 V vehicle"`
	Volts     float64 `json:"system_volts"`
}

var (
	states = []FlatState{
		{"clicks", "It clicks, lamps dim", 18, 6},
		{"silent", "Nothing at all", 6, 4},
		{"slow", "It turns slowly", 35, 8},
	}
	sizes = []EngineSize{{0.4, "0.4 l"}, {1.2, "1.2 l"}, {1.6, "1.6 l"}, {2.2, "2.2 l"}, {3, "3 l"}, {6, "6 l"}}
)

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
		{Code: "pair", Word: "Two batteries", Kind: FromVehicle, Class: "van", Battery: cell(battery.AGM, 850, 95), Pair: true},
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
			Pair:    true,
			Volts:   24,
		},
	}
	for i := range all {
		if all[i].Volts == 0 {
			all[i].Volts = 12
		}
	}
	return all
}

// KitOf gives what a call picks from. The caller may keep it.
func KitOf() Kit {
	return Kit{
		States:  slices.Clone(states),
		Sizes:   slices.Clone(sizes),
		Sources: ready(),
		Leads:   slices.Clone(leadSizes[:]),
		Hazards: hazards.Terms(),
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
