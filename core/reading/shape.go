package reading

import "grapnel/core/document"

// Complaints lists the words of a case's complaint.
var Complaints = []string{
	"dead_silent", "single_click", "rapid_click", "slow_crank", "cranks_no_fire", "dim_lights", "cold_only",
	"after_standing", "frequent_jumps", "lights_left_on", "accessories_left_on", "short_trips",
	"aftermarket_fitted", "recent_battery", "recent_alternator", "warning_lights",
}

// Classes lists the words of vehicle.class.
var Classes = []string{"car", "van", "motorcycle", "atv", "mower", "tractor", "hybrid", "electric", "classic", "boat", "motorhome"}

// A slipped decimal point must reach the check against the battery's own volts,
// which can say what was probably meant; only nonsense is stopped here.
const (
	maxPostVolts = 1000
	maxDropVolts = 33.6
)

var (
	battTemp  = document.Number(-50, 70, "°C")
	anyVolts  = document.Number(-maxPostVolts, maxPostVolts, "V")
	dropVolts = document.Number(-maxDropVolts, maxDropVolts, "V")
	standard  = document.Words("SAE", "EN", "DIN", "IEC", "JIS")
)

// kinds gives, for each kind of reading, the fields it carries besides at, by
// and instrument. Order of need is the order errors are reported in.
var kinds = map[string]document.Shape{
	Inspection: document.Object([]string{"found"}, map[string]document.Shape{"found": document.List(1, 30, document.Words(
		"case_bulged", "case_cracked", "leaking", "loose_hold_down", "loose_clamp", "clamp_not_seated",
		"corrosion_live", "corrosion_earth", "cable_frayed", "strands_green", "earth_strap_bad", "belt_slack",
		"rotten_egg_smell", "plates_dry", "cover_missing", "vent_tube_off", "frozen", "wet_lid", "clean"))}),
	LidLeakage: document.Object([]string{"volts"}, map[string]document.Shape{"volts": dropVolts}),
	RestVoltage: document.Object([]string{"volts"}, map[string]document.Shape{
		"volts": anyVolts, "minutes_since_charge": document.Number(0, 5256000, "min"),
		"surface_charge": document.Words("rested", "headlights_2min", "high_beam_5min", "load_15s", "none")}),
	Hydrometer: document.Object([]string{"cells_sg"}, map[string]document.Shape{
		"cells_sg": document.List(3, 12, document.Number(1.000, 1.400, "")), "acid_c": battTemp,
		"level": document.Words("covered", "fill_mark", "plates_dry")}),
	Eye: document.Object([]string{"colour"}, map[string]document.Shape{"colour": document.Words("green", "dark", "clear", "yellow")}),
	LoadTest: document.Object([]string{"method", "volts_end"}, map[string]document.Shape{
		"method": document.Words(HalfCCA, Fixed10s, Starter), "amps": document.Number(1, 3000, "A"),
		"seconds": document.Number(1, 60, "s"), "volts_end": anyVolts, "battery_c": battTemp}),
	Conductance: document.Object([]string{"cca"}, map[string]document.Shape{"cca": document.Number(0, 3000, "A"), "standard": standard}),
	Crank: document.Object([]string{"volts_min"}, map[string]document.Shape{
		"volts_min": anyVolts, "seconds": document.Number(0, 60, "s"), "amps": document.Number(0, 3000, "A"), "turned": document.Words("normal", "slow", "no")}),
	CableDrop:  document.Object([]string{"path", "volts"}, map[string]document.Shape{"path": document.Words("live", "earth"), "volts": dropVolts, "amps": document.Number(0, 3000, "A")}),
	Charging:   document.Object([]string{"volts"}, map[string]document.Shape{"volts": anyVolts, "speed": document.Words("idle", "raised"), "loads": document.Words("off", "on")}),
	Drain:      document.Object([]string{"milliamps"}, map[string]document.Shape{"milliamps": document.Number(0, 100000, "mA"), "minutes_asleep": document.Number(0, 100000, "min")}),
	JumpResult: document.Object([]string{"started"}, map[string]document.Shape{"started": document.Flag()}),
	Charged: document.Object([]string{"ended"}, map[string]document.Shape{
		"hours": document.Number(0, 500, "h"), "amps_end": document.Number(0, 500, "A"), "ended": document.Words("full", "stopped", "refused", "hot")}),
	Cleaned: document.Object([]string{"what"}, map[string]document.Shape{"what": document.List(1, 10, document.Words("posts", "clamps", "lid", "tray"))}),
}

// common are the fields any reading may carry.
var common = map[string]document.Shape{
	"at":         {Kind: "time", Doc: "RFC 3339, when it was taken"},
	"by":         document.Text(80),
	"instrument": document.Text(80),
}

// readingShape is one reading, whose fields depend on its kind.
var readingShape = document.Shape{Kind: "variant", By: "kind", What: "reading", Variants: kinds, Common: common}

// ChemistryShape and RatingShape are a battery's build and its label, as every
// document writes them.
var (
	ChemistryShape = document.Words("flooded", "flooded_sealed", "efb", "agm", "gel", "agm_deep_cycle")
	RatingShape    = document.Object(nil, map[string]document.Shape{
		"cca": document.Number(5, 3000, "A"), "standard": standard, "rc_min": document.Number(1, 1000, "min"),
		"ah_20h": document.Number(1, 600, "Ah"), "ca": document.Number(5, 4000, "A"), "typical": document.Flag()})
)

// caseShape is the whole document.
var caseShape = document.Object([]string{"format", "battery", "readings"}, map[string]document.Shape{
	"format": document.Words(CaseFormat),
	"vehicle": document.Object([]string{"class"}, map[string]document.Shape{
		"class": document.Words(Classes...), "name": document.Text(80), "fuel": document.Words("petrol", "diesel", "none"),
		"system_volts": {Kind: "number", Words: []string{"6", "8", "12", "24"}, Unit: "V"},
		"earth":        document.Words("negative", "positive"), "stop_start": document.Flag(), "high_voltage": document.Flag(),
		"made_year":   {Kind: "integer", Min: 1900, Max: 2100, Null: true},
		"arrangement": document.Words("single", "parallel", "series")}),
	"battery": document.Object([]string{"chemistry"}, map[string]document.Shape{
		"tag": document.Text(40), "chemistry": ChemistryShape,
		"caps": document.Words("removable", "sealed"), "eye": document.Flag(), "terminals": document.Words("top", "side", "stud"),
		"rating": RatingShape,
		"made":   {Kind: "month", Null: true}, "fitted": {Kind: "month", Null: true}}),
	"conditions": document.Object(nil, map[string]document.Shape{"ambient_c": document.Number(-50, 60, "°C"), "battery_c": battTemp}),
	"complaint":  document.List(0, 20, document.Words(Complaints...)),
	"readings":   document.List(0, 500, readingShape),
	"rules": document.Object(nil, map[string]document.Shape{
		"load_test_min_soc_pct": document.Number(50, 100, "%"), "load_test_limit": document.Words("temperature_table", "fixed"),
		"starter_test_min_volts": document.Number(9, 10.5, "V"), "rest_minutes": document.Number(10, 1440, "min"),
		"return_min_soc_pct": document.Number(75, 100, "%")}),
})
