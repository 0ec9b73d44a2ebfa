package guide

// Word pairs a format word with the words people use for it.
type Word struct {
	Code string `json:"code"`
	Word string `json:"word"`
}

// Complaints gives the complaint chips in the order they are asked for.
var Complaints = []Word{
	{"dead_silent", "Nothing at all"}, {"single_click", "One click"}, {"rapid_click", "Rapid clicking"},
	{"slow_crank", "Turns slowly"}, {"cranks_no_fire", "Turns, won’t fire"}, {"dim_lights", "Dim lights"},
	{"cold_only", "Only in the cold"}, {"after_standing", "After standing"}, {"frequent_jumps", "Jumped often"},
	{"lights_left_on", "Lights left on"}, {"accessories_left_on", "Accessories left on"}, {"short_trips", "Short trips only"},
	{"aftermarket_fitted", "Something fitted"}, {"recent_battery", "New battery lately"},
	{"recent_alternator", "New alternator lately"}, {"warning_lights", "Warning lights"},
}

// Build is a chemistry as a label or a technician says it, with the caps it
// usually has.
type Build struct {
	Word
	Caps string `json:"caps" enum:"removable,sealed"`
}

// Chemistries gives the battery builds. Caps: common practice, no source.
var Chemistries = []Build{
	{Word{"flooded", "Flooded, caps"}, "removable"}, {Word{"flooded_sealed", "Sealed calcium"}, "sealed"},
	{Word{"efb", "EFB"}, "sealed"}, {Word{"agm", "AGM"}, "sealed"}, {Word{"gel", "Gel"}, "sealed"},
	{Word{"agm_deep_cycle", "Deep-cycle AGM"}, "sealed"},
}

// Surfaces gives the ways of dealing with surface charge.
var Surfaces = []Word{
	{"rested", "Rested"}, {"headlights_2min", "Lights 2 min"}, {"high_beam_5min", "High beam 5 min"},
	{"load_15s", "15 s load"}, {"none", "Not removed"},
}

// Say gives the words for a code from a list, or the code itself.
func Say(list []Word, code string) string {
	for _, w := range list {
		if w.Code == code {
			return w.Word
		}
	}
	return code
}

// Side is one post of the battery: which side of the circuit it is on and which
// lead goes there. Rules speak of live and earthed; the colour follows the post.
type Side struct {
	Post string `json:"post" enum:"+,−"`
	Lead string `json:"lead" enum:"red,black"`
	Role string `json:"role" enum:"live,earthed"`
}

// Posts gives the positive and the negative post of a vehicle earthed on the
// given side ("positive", or else negative).
func Posts(earth string) (plus, minus Side) {
	plus, minus = Side{"+", "red", "live"}, Side{"−", "black", "earthed"}
	if earth == "positive" {
		plus.Role, minus.Role = "earthed", "live"
	}
	return plus, minus
}
