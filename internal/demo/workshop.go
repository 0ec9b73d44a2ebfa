// Package demo fills a database with the Thornwater Cooperative Garage, an
// invented workshop in a cold upland valley, as it stands on a winter morning.
// Every name and figure in it is made up; dates are relative to now.
package demo

import (
	"slices"
	"time"

	"grapnel/core/assess"
	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/station"
)

// Name is the demo workshop's.
const Name = "Thornwater Cooperative Garage"

// SignIn is a person of the demo workshop with the passphrase everybody may
// know.
type SignIn struct{ Name, Passphrase, Role string }

// SignIns gives the people of the demo workshop, the lead last.
func SignIns() []SignIn { return slices.Clone(people) }

var people = []SignIn{
	{"Ines", "clean before you test", "technician"},
	{"Jory", "rest before you read", "technician"},
	{"Marit", "charge before you judge", "lead"},
}

// unit is a battery in what it serves.
type unit struct {
	tag, vehicle, customer string
	class, fuel            string
	volts                  float64 // of the system; 0 is 12
	earth                  string
	arrangement            string
	chem                   battery.Chemistry
	cca                    float64
	standard               rating.Standard
	ah                     float64
	made                   int // months ago
}

// Chemistries, short enough for a row.
const (
	flooded = battery.Flooded
	calcium = battery.FloodedSealed
	efb     = battery.EFB
	agm     = battery.AGM
	gel     = battery.Gel
)

// The shop's batteries. The first ones have a job this morning.
var units = []unit{
	{"K-0142", "Parks mower 3", "Council parks", "mower", "petrol", 0, "", "", flooded, 300, "SAE", 28, 44},
	{"K-0117", "Courier motorcycle 2", "Valley Couriers", "motorcycle", "petrol", 0, "", "", agm, 180, "SAE", 10, 31},
	{"K-0098", "Ambulance 1, left of two", "District ambulance", "van", "diesel", 0, "", "parallel",
		agm, 850, "EN", 95, 38},
	{"K-0099", "Ambulance 1, right of two", "District ambulance", "van", "diesel", 0, "", "parallel",
		agm, 850, "EN", 95, 38},
	{"K-0121", "Bakers’ van", "Mill Lane bakers", "van", "petrol", 0, "", "", calcium, 600, "EN", 65, 62},
	{"K-0133", "Taxi hybrid", "Night taxi", "hybrid", "petrol", 0, "", "", agm, 325, "SAE", 45, 50},
	{"K-0105", "Rescue side-by-side", "Mountain rescue", "atv", "petrol", 0, "", "", agm, 385, "SAE", 30, 27},
	{"K-0111", "Parks tractor, 1950s", "Council parks", "tractor", "petrol", 6, "positive", "",
		flooded, 420, "SAE", 70, 33},
	{"K-0087", "Stored coupé", "Orchard House", "car", "petrol", 0, "", "", calcium, 540, "SAE", 60, 29},
	{"K-0126", "Delivery van, electric", "Valley Couriers", "electric", "none", 0, "", "", agm, 380, "SAE", 45, 20},
	{"K-0138", "Riding tractor", "Council parks", "mower", "petrol", 0, "", "", flooded, 300, "SAE", 28, 70},
	{"K-0129", "Rescue ATV", "Mountain rescue", "atv", "petrol", 0, "", "", agm, 270, "SAE", 14, 9},
	{"K-0090", "Ambulance 2, left of two", "District ambulance", "van", "diesel", 0, "", "parallel",
		agm, 850, "EN", 95, 14},
	{"K-0091", "Ambulance 2, right of two", "District ambulance", "van", "diesel", 0, "", "parallel",
		agm, 850, "EN", 95, 14},
	{"K-0140", "Parks mower 1", "Council parks", "mower", "petrol", 0, "", "", flooded, 300, "SAE", 28, 20},
	{"K-0141", "Parks mower 2", "Council parks", "mower", "petrol", 0, "", "", flooded, 300, "SAE", 28, 20},
	{"K-0143", "Parks mower 4", "Council parks", "mower", "petrol", 0, "", "", flooded, 230, "SAE", 22, 57},
	{"K-0144", "Parks mower 5", "Council parks", "mower", "petrol", 0, "", "", flooded, 230, "SAE", 22, 8},
	{"K-0116", "Courier motorcycle 1", "Valley Couriers", "motorcycle", "petrol", 0, "", "", agm, 180, "SAE", 10, 12},
	{"K-0118", "Courier motorcycle 3", "Valley Couriers", "motorcycle", "petrol", 0, "", "", agm, 180, "SAE", 10, 40},
	{"K-0119", "Courier motorcycle 4", "Valley Couriers", "motorcycle", "petrol", 0, "", "", gel, 180, "SAE", 11, 22},
	{"K-0122", "Bakers’ second van", "Mill Lane bakers", "van", "diesel", 0, "", "", efb, 720, "EN", 80, 16},
	{"K-0131", "Schoolteacher’s car", "M. at the school", "car", "petrol", 0, "", "", calcium, 440, "SAE", 45, 61},
	{"K-0132", "Vet’s car", "Upper valley vet", "car", "diesel", 0, "", "", agm, 760, "EN", 80, 25},
	{"K-0101", "Snow groomer", "Ski club", "tractor", "diesel", 0, "", "", flooded, 900, "SAE", 110, 34},
	{"K-0102", "Ski lift standby engine", "Ski club", "tractor", "diesel", 0, "", "", flooded, 720, "SAE", 88, 48},
	{"K-0107", "Lake boat", "Fishing club", "boat", "petrol", 0, "", "", flooded, 650, "SAE", 75, 39},
	{"K-0108", "Motorhome", "Orchard House", "motorhome", "diesel", 0, "", "", calcium, 800, "EN", 95, 52},
	{"K-0112", "1960s saloon, left of two 6 V", "Orchard House", "classic", "petrol", 12, "", "series",
		flooded, 420, "SAE", 70, 26},
	{"K-0113", "1960s saloon, right of two 6 V", "Orchard House", "classic", "petrol", 12, "", "series",
		flooded, 420, "SAE", 70, 26},
	{"K-0114", "Orchard tractor", "Hill orchard", "tractor", "diesel", 0, "", "", flooded, 720, "SAE", 88, 66},
	{"K-0120", "Post van", "Valley post", "van", "diesel", 0, "", "", efb, 720, "EN", 80, 30},
	{"K-0123", "Library van", "Council", "van", "diesel", 0, "", "", calcium, 720, "EN", 80, 45},
	{"K-0124", "Gritter", "Council roads", "tractor", "diesel", 0, "", "", flooded, 900, "SAE", 110, 18},
	{"K-0125", "Fire pump", "Volunteer fire", "tractor", "petrol", 0, "", "", agm, 385, "SAE", 30, 24},
	{"K-0127", "District nurse’s car", "District nurse", "car", "petrol", 0, "", "", efb, 540, "EN", 60, 63},
	{"K-0128", "Shop loan car", "", "car", "petrol", 0, "", "", calcium, 540, "SAE", 60, 36},
	{"K-0134", "Taxi hybrid, second", "Night taxi", "hybrid", "petrol", 0, "", "", agm, 325, "SAE", 45, 17},
	{"K-0135", "Forester’s pick-up", "Forestry", "van", "diesel", 0, "", "", calcium, 850, "EN", 95, 59},
	{"K-0136", "Quad, sheep farm", "Ridge farm", "atv", "petrol", 0, "", "", agm, 270, "SAE", 14, 41},
}

// taken is a reading some minutes before now.
type taken struct {
	ago int
	r   reading.Reading
}

// morning is a job under way.
type morning struct {
	tag       string
	opened    int // minutes ago
	note      string
	complaint []string
	ambientC  float64
	batteryC  float64
	readings  []taken
	rest      [2]int // started minutes ago, for minutes
	stay      string // what for; its voltage when left out
}

func num(v float64) *float64 { return &v }

func rested(v, minutes float64) reading.Reading {
	return reading.Of(station.RestVoltage,
		reading.Fields{"volts": v, "minutes_since_charge": minutes, "surface_charge": string(battery.Rested)})
}

func loaded(amps, v, c float64) reading.Reading {
	return reading.Of(station.LoadTest,
		reading.Fields{"method": station.HalfCCA, "amps": amps, "seconds": 15, "volts_end": v, "battery_c": c})
}

func full(hours, amps float64) reading.Reading {
	return reading.Of(station.Charged, reading.Fields{"hours": hours, "amps_end": amps, "ended": "full"})
}

func looked(found ...string) reading.Reading {
	return reading.Of(station.Inspection, reading.Fields{"found": found})
}

func lid(v float64) reading.Reading {
	return reading.Of(station.LidLeakage, reading.Fields{"volts": v})
}

func cleaned(what ...string) reading.Reading {
	return reading.Of(station.Cleaned, reading.Fields{"what": what})
}

func fixedUp(what ...string) reading.Reading {
	return reading.Of(station.PutRight, reading.Fields{"what": what})
}

func acid(cells ...float64) reading.Reading {
	return reading.Of(station.Hydrometer, reading.Fields{"cells_sg": cells, "acid_c": 9, "level": "covered"})
}

func running(v float64, speed, loads string) reading.Reading {
	return reading.Of(station.Charging, reading.Fields{"volts": v, "speed": speed, "loads": loads})
}

func drawn(ma, asleep float64) reading.Reading {
	return reading.Of(station.Drain, reading.Fields{"milliamps": ma, "minutes_asleep": asleep})
}

// week is a baker's: short stops and one long round.
func week(trips, minutes, long float64) reading.Reading {
	return reading.Of(station.Week, reading.Fields{"trips": trips, "minutes": minutes, "long_minutes": long,
		"traffic": "road", "loads": "some", "season": "winter"})
}

func unrested(v, minutes float64) reading.Reading {
	return rested(v, minutes).With("surface_charge", string(battery.NotRemoved))
}

// jobs of this morning, at every stage the workshop knows.
var mornings = []morning{
	{"K-0142", 95, "turns slowly since the frost", []string{"slow_crank", "cold_only"}, 6, 6,
		[]taken{{60, rested(12.24, 720)}}, [2]int{}, ""},
	{"K-0117", 200, "dead after a week away", []string{"dead_silent", "after_standing"}, 15, 14,
		[]taken{{190, rested(11.62, 5000)}, {38, full(2.4, 0.1)}}, [2]int{38, 60}, ""},
	{"K-0098", 150, "one side always low", []string{"slow_crank"}, 15, 11,
		[]taken{{130, rested(12.72, 600)}}, [2]int{}, ""},
	{"K-0099", 148, "one side always low", []string{"slow_crank"}, 15, 11, nil, [2]int{52, 60}, ""},
	{"K-0121", 170, "third jump start this week", []string{"frequent_jumps", "short_trips"}, 14, 14,
		[]taken{{165, rested(12.70, 600)}, {120, loaded(320, 8.15, 14)}}, [2]int{}, ""},
	{"K-0133", 70, "will not wake up in the morning", []string{"dead_silent"}, 15, 13,
		[]taken{{62, rested(11.20, 500)}}, [2]int{}, ""},
	{"K-0105", 55, "rescue check before the weekend", nil, 15, 15,
		[]taken{{50, unrested(12.95, 20)}}, [2]int{18, 60}, ""},
	{"K-0111", 42, "turns slowly, lights dim", []string{"slow_crank", "dim_lights"}, 15, 12,
		[]taken{{36, rested(6.30, 1440)}}, [2]int{}, ""},
	{"K-0087", 30, "before it comes out of store", nil, 4, 4,
		[]taken{{28, rested(12.70, 20000)}, {22, loaded(270, 10.05, 4)}}, [2]int{}, ""},
	{"K-0126", 25, "clicks and locks itself", []string{"rapid_click"}, 15, 9, nil, [2]int{}, ""},
	{"K-0138", 240, "stood in the open shed all week", []string{"dead_silent", "after_standing"}, -8, -8,
		[]taken{{232, rested(11.80, 9000)}}, [2]int{}, ""},
	{"K-0129", 18, "yearly check", nil, 15, 15,
		[]taken{{15, rested(12.92, 900)}, {9, loaded(135, 10.4, 15)}}, [2]int{}, ""},
	{"K-0102", 260, "slow since the frost", []string{"slow_crank"}, 9, 9,
		[]taken{{255, looked("corrosion_earth", "loose_hold_down")}, {250, lid(0.62)}, {232, cleaned("posts", "clamps", "lid")},
			{228, lid(0.03)}, {225, rested(12.31, 900)}, {218, acid(1.20, 1.205, 1.20, 1.195, 1.20, 1.20)}, {66, full(2.5, 0.9)},
			{64, fixedUp("hold_down")}, {6, rested(12.62, 60)}, {3, loaded(360, 10.2, 9)}}, [2]int{}, ""},
	{"K-0132", 300, "dead again after a fortnight", []string{"after_standing", "recent_battery"}, 15, 15,
		[]taken{{296, looked("clean")}, {290, rested(11.9, 2000)}, {70, full(3.6, 0.8)}, {40, rested(12.88, 1500)},
			{34, loaded(405, 10.7, 15)},
			{20, running(14.2, "raised", "on")}}, [2]int{}, ""},
	{"K-0122", 275, "slow on cold Mondays", []string{"slow_crank", "cold_only"}, 8, 8,
		[]taken{{270, looked("clean")}, {262, rested(12.21, 900)}, {80, full(3, 0.9)}, {45, rested(12.75, 600)},
			{38, loaded(360, 10.5, 8)},
			{30, running(14.4, "raised", "on")}, {12, drawn(60, 40)}, {8, week(4, 12, 55)}}, [2]int{}, ""},
	{"K-0131", 12, "clicks in the morning", []string{"rapid_click", "short_trips"}, 15, 8,
		[]taken{{10, looked("case_bulged", "corrosion_live")}}, [2]int{}, ""},
	{tag: "K-0135", opened: 110, note: "weak since autumn", complaint: []string{"slow_crank"}, ambientC: 12, batteryC: 12,
		readings: []taken{{100, looked("clean")}, {95, rested(12.68, 700)}, {88, loaded(380, 7.9, 12)}}, rest: [2]int{40,
			22 * 60}, stay: assess.StayParts},
	{tag: "K-0118", opened: 85, note: "weak after a week off", complaint: []string{"slow_crank"}, ambientC: 15, batteryC: 14,
		readings: []taken{{82, looked("clean")}, {78, rested(12.35, 600)}}},
	{tag: "K-0107", opened: 105, note: "up for the winter", ambientC: 12, batteryC: 8,
		readings: []taken{{100, looked("clean")}, {97, rested(12.02, 20000)}}},
	{tag: "K-0101", opened: 130, note: "slow in the frost", complaint: []string{"slow_crank", "cold_only"}, ambientC: 18,
		batteryC: -6,
		readings: []taken{{126, looked("clean")}}, rest: [2]int{120, 290}, stay: assess.StayWarm},
	{tag: "K-0114", opened: 78, note: "slow, and white crust on the clamps", complaint: []string{"slow_crank"},
		ambientC: 12, batteryC: 10,
		readings: []taken{{74, looked("corrosion_live", "wet_lid")}, {70, lid(0.55)}, {66, rested(12.42, 900)}}},
	{tag: "K-0127", opened: 64, note: "engine no longer stops at the lights",
		complaint: []string{"slow_crank", "cold_only"}, ambientC: 12, batteryC: 12,
		readings: []taken{{60, looked("clean")}, {55, rested(12.66, 800)}, {48, loaded(286, 8.4, 12)},
			{40, loaded(286, 8.3, 12)}}},
}

// ago is a time some minutes before now.
func ago(now time.Time, minutes int) time.Time { return now.Add(-time.Duration(minutes) * time.Minute) }
