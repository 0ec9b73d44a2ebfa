package reading

// shape describes one place in a document: what may stand there. It is the one
// list of field names, ranges and vocabularies; the decoder walks it and the
// published JSON Schema is written from it.
type shape struct {
	kind     string // object, list, number, integer, text, flag, month, time
	unit     string
	min, max float64  // of a number, or of a list's length when max > 0
	words    []string // the only texts allowed
	fields   map[string]shape
	need     []string // fields that must stand in an object
	item     *shape
	null     bool // null counts as left out
	doc      string
}

func number(min, max float64, unit string) shape {
	return shape{kind: "number", min: min, max: max, unit: unit, null: true}
}
func words(w ...string) shape { return shape{kind: "text", words: w} }
func text(most float64) shape { return shape{kind: "text", max: most} }
func list(min, max float64, of shape) shape {
	return shape{kind: "list", min: min, max: max, item: &of}
}
func flag() shape { return shape{kind: "flag"} }

func object(need []string, fields map[string]shape) shape {
	return shape{kind: "object", need: need, fields: fields}
}

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
	battTemp  = number(-50, 70, "°C")
	anyVolts  = number(-maxPostVolts, maxPostVolts, "V")
	dropVolts = number(-maxDropVolts, maxDropVolts, "V")
	standard  = words("SAE", "EN", "DIN", "IEC", "JIS")
)

// kinds gives, for each kind of reading, the fields it carries besides at, by
// and instrument. Order of need is the order errors are reported in.
var kinds = map[string]shape{
	Inspection: object([]string{"found"}, map[string]shape{"found": list(1, 30, words(
		"case_bulged", "case_cracked", "leaking", "loose_hold_down", "loose_clamp", "clamp_not_seated",
		"corrosion_live", "corrosion_earth", "cable_frayed", "strands_green", "earth_strap_bad", "belt_slack",
		"rotten_egg_smell", "plates_dry", "cover_missing", "vent_tube_off", "frozen", "wet_lid", "clean"))}),
	LidLeakage: object([]string{"volts"}, map[string]shape{"volts": dropVolts}),
	RestVoltage: object([]string{"volts"}, map[string]shape{
		"volts": anyVolts, "minutes_since_charge": number(0, 5256000, "min"),
		"surface_charge": words("rested", "headlights_2min", "high_beam_5min", "load_15s", "none")}),
	Hydrometer: object([]string{"cells_sg"}, map[string]shape{
		"cells_sg": list(3, 12, number(1.000, 1.400, "")), "acid_c": battTemp,
		"level": words("covered", "fill_mark", "plates_dry")}),
	Eye: object([]string{"colour"}, map[string]shape{"colour": words("green", "dark", "clear", "yellow")}),
	LoadTest: object([]string{"method", "volts_end"}, map[string]shape{
		"method": words(HalfCCA, Fixed10s, Starter), "amps": number(1, 3000, "A"),
		"seconds": number(1, 60, "s"), "volts_end": anyVolts, "battery_c": battTemp}),
	Conductance: object([]string{"cca"}, map[string]shape{"cca": number(0, 3000, "A"), "standard": standard}),
	Crank: object([]string{"volts_min"}, map[string]shape{
		"volts_min": anyVolts, "seconds": number(0, 60, "s"), "amps": number(0, 3000, "A"), "turned": words("normal", "slow", "no")}),
	CableDrop:  object([]string{"path", "volts"}, map[string]shape{"path": words("live", "earth"), "volts": dropVolts, "amps": number(0, 3000, "A")}),
	Charging:   object([]string{"volts"}, map[string]shape{"volts": anyVolts, "speed": words("idle", "raised"), "loads": words("off", "on")}),
	Drain:      object([]string{"milliamps"}, map[string]shape{"milliamps": number(0, 100000, "mA"), "minutes_asleep": number(0, 100000, "min")}),
	JumpResult: object([]string{"started"}, map[string]shape{"started": flag()}),
	Charged: object([]string{"ended"}, map[string]shape{
		"hours": number(0, 500, "h"), "amps_end": number(0, 500, "A"), "ended": words("full", "stopped", "refused", "hot")}),
	Cleaned: object([]string{"what"}, map[string]shape{"what": list(1, 10, words("posts", "clamps", "lid", "tray"))}),
}

// common are the fields any reading may carry.
var common = map[string]shape{
	"at":         {kind: "time", doc: "RFC 3339, when it was taken"},
	"by":         text(80),
	"instrument": text(80),
}

// caseShape is the whole document apart from readings, whose shape depends on
// their kind.
var caseShape = object([]string{"format", "battery", "readings"}, map[string]shape{
	"format": words(CaseFormat),
	"vehicle": object([]string{"class"}, map[string]shape{
		"class": words(Classes...), "name": text(80), "fuel": words("petrol", "diesel", "none"),
		"system_volts": {kind: "number", words: []string{"6", "8", "12", "24"}, unit: "V"},
		"earth":        words("negative", "positive"), "stop_start": flag(), "high_voltage": flag(),
		"made_year":   {kind: "integer", min: 1900, max: 2100, null: true},
		"arrangement": words("single", "parallel", "series")}),
	"battery": object([]string{"chemistry"}, map[string]shape{
		"tag": text(40), "chemistry": words("flooded", "flooded_sealed", "efb", "agm", "gel"),
		"caps": words("removable", "sealed"), "eye": flag(), "terminals": words("top", "side", "stud"),
		"rating": object(nil, map[string]shape{
			"cca": number(5, 3000, "A"), "standard": standard, "rc_min": number(1, 1000, "min"),
			"ah_20h": number(1, 600, "Ah"), "ca": number(5, 4000, "A"), "typical": flag()}),
		"made": {kind: "month", null: true}, "fitted": {kind: "month", null: true}}),
	"conditions": object(nil, map[string]shape{"ambient_c": number(-50, 60, "°C"), "battery_c": battTemp}),
	"complaint":  list(0, 20, words(Complaints...)),
	"readings":   {kind: "list", min: 0, max: 500, item: &shape{kind: "reading"}},
	"rules": object(nil, map[string]shape{
		"load_test_min_soc_pct": number(50, 100, "%"), "load_test_limit": words("temperature_table", "fixed"),
		"starter_test_min_volts": number(9, 10.5, "V"), "rest_minutes": number(10, 1440, "min"),
		"return_min_soc_pct": number(75, 100, "%")}),
})
