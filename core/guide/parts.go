package guide

import (
	"slices"

	"grapnel/core/words"
)

// Part is something that comes off a vehicle or its battery and has to be put back, or that
// is put on to help and has to come off again.
type Part struct {
	Code string `json:"code"`
	Word string `json:"word"`
	// Aid: it is not the vehicle's; it is on while it is open
	Aid bool `json:"aid,omitempty"`
}

// Parts by their codes.
const (
	Earthed   = "earthed"
	Live      = "live"
	Link      = "link" // between two in series
	Battery   = "battery"
	Panel     = "panel" // what the battery is reached through
	Cover     = "cover" // over the live post
	Caps      = "caps"  // of the cells
	Washers   = "washers"
	HoldDown  = "hold_down"
	Strap     = "strap"
	Sleeve    = "sleeve"
	VentTube  = "vent_tube"
	Elbow     = "elbow"
	Plug      = "plug" // of the vent that is not used
	Sensor    = "sensor"
	Module    = "module"
	KeepAlive = "keep_alive"
	Hood      = "hood" // over the loose live clamp while a keep-alive feeds it
)

// parts are everything a guide takes off or puts on, as they are said on the shelf of what
// is open.
var parts = []Part{
	{Code: Panel, Word: "panel"}, {Code: Cover, Word: "post cover"}, {Code: Earthed, Word: "earthed cable"}, {Code: Live,
		Word: "live cable"},
	{Code: Link, Word: "link"}, {Code: Washers, Word: "felt washers"}, {Code: HoldDown, Word: "hold-down"}, {Code: Strap,
		Word: "strap"},
	{Code: Sleeve, Word: "heat sleeve"}, {Code: VentTube, Word: "vent tube"}, {Code: Elbow,
		Word: "vent elbow"}, {Code: Plug, Word: "vent plug"},
	{Code: Sensor, Word: "sensor plug"}, {Code: Module, Word: "module"}, {Code: Battery, Word: "battery"}, {Code: Caps,
		Word: "cell caps"},
	{Code: KeepAlive, Word: "keep-alive on", Aid: true}, {Code: Hood, Word: "hood on", Aid: true},
}

// Parts gives everything that can be open. The caller may keep it.
func Parts() []Part { return slices.Clone(parts) }

// PartOf gives the part of a code.
func PartOf(code string) (Part, bool) {
	i := slices.IndexFunc(parts, func(p Part) bool { return p.Code == code })
	if i < 0 {
		return Part{}, false
	}
	return parts[i], true
}

// fittings are the parts that are on some vehicles and not on others: somebody looks, and
// says.
var fittings = words.ListOf(
	words.Term{Code: Panel, Word: "Cover or panel over it"}, words.Term{Code: Cover, Word: "Cap on the live post"},
	words.Term{Code: Sensor, Word: "Sensor on the earthed clamp"}, words.Term{Code: Washers, Word: "Felt washers"},
	words.Term{Code: Strap, Word: "Strap"}, words.Term{Code: Sleeve, Word: "Heat sleeve"},
	words.Term{Code: VentTube, Word: "Vent tube"}, words.Term{Code: Elbow, Word: "Vent elbow"}, words.Term{Code: Plug,
		Word: "Plug in the other vent"},
	words.Term{Code: Module, Word: "Module under the tray"},
)

// Fittings gives what somebody looks for before anything comes off.
func Fittings() words.List { return fittings }
