// Package clinic is a simulated workshop day after day: thousands of vehicles with
// known faults, measured by instruments that err and technicians with habits, judged by
// what Grapnel says and by simpler ways of working beside it. It measures whether the
// advice is right, and whether any of it is dangerous.
//
// It draws faults, figures and noise of its own, wider than the diagnosis assumes and
// some of them outside it, and runs the dynamic battery model. It shares nothing with
// what stations expect to read but package battery, so that it cannot agree with them
// by construction.
package clinic

import (
	"math"
	"math/rand/v2"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading/readingtest"
)

// Vehicle is one that comes in, as it really is.
type Vehicle struct {
	Class, Fuel string
	Volts       float64
	Earth       string
	Stops       bool // stop-start
	Chemistry   battery.Chemistry
	Label       rating.Label
	Caps        string
	Eye         bool
	Years       float64

	Faults    []string // of the open format, empty where nothing is wrong
	Odd       string   // what the diagnosis knows nothing of: stratified, intermittent, loose_plate
	Complaint []string

	battery  battery.Battery
	state    battery.State
	pct      float64 // true cold cranking, percent of the label
	loaded21 float64 // volts at which a perfect load test of it would end
	ambient  float64
	stray    float64 // how far it rests off the curve, volts
	bad      float64 // ohms of both clamps on the posts
	badSide  string
	live     float64 // ohms of the paths without the clamps
	earth    float64
	starter  float64 // amps it draws when the engine turns steadily, warm; 0 draws none
	surge    float64 // first surge against that
	alt      float64 // volts at 25 °C, 0 none
	drain    float64 // mA
	awakeFor float64 // minutes until all is asleep
	lame     bool    // the starter turns slowly on good volts
	inert    bool    // an immobiliser keeps the starter off
	noFire   bool
	seen     []string // what looking finds
	dry      bool
	ice      bool
	ran      bool // it came in running
	capacity float64
}

// has reports whether a fault is there.
func (v *Vehicle) has(f string) bool {
	for _, x := range v.Faults {
		if x == f {
			return true
		}
	}
	return false
}

type kind struct {
	class, fuel string
	volts       float64
	chem        battery.Chemistry
	label       rating.Label
	caps        string
	share       float64
}

var kinds = []kind{
	{"car", "petrol", 12, battery.Flooded, rating.Label{CCA: 540, Ah20h: 52}, "removable", 14},
	{"car", "petrol", 12, battery.FloodedSealed, rating.Label{CCA: 600, Ah20h: 60}, "sealed", 16},
	{"car", "diesel", 12, battery.FloodedSealed, rating.Label{CCA: 760, Ah20h: 74}, "sealed", 8},
	{"car", "petrol", 12, battery.EFB, rating.Label{CCA: 640, Ah20h: 65}, "sealed", 6},
	{"car", "diesel", 12, battery.AGM, rating.Label{CCA: 800, Ah20h: 80}, "sealed", 6},
	{"van", "diesel", 12, battery.Flooded, rating.Label{CCA: 850, Ah20h: 95}, "removable", 7},
	{"motorcycle", "petrol", 12, battery.AGM, rating.Label{CCA: 190, Ah20h: 12}, "sealed", 7},
	{"atv", "petrol", 12, battery.AGM, rating.Label{CCA: 270, Ah20h: 20}, "sealed", 5},
	{"mower", "petrol", 12, battery.Flooded, rating.Label{CCA: 300, Ah20h: 28}, "removable", 8},
	{"tractor", "diesel", 12, battery.Flooded, rating.Label{CCA: 900, Ah20h: 110}, "removable", 4},
	{"hybrid", "petrol", 12, battery.AGM, rating.Label{CCA: 325, Ah20h: 45}, "sealed", 5},
	{"electric", "none", 12, battery.AGM, rating.Label{CCA: 380, Ah20h: 50}, "sealed", 3},
	{"classic", "petrol", 6, battery.Flooded, rating.Label{CCA: 420, Ah20h: 77}, "removable", 3},
	{"boat", "petrol", 12, battery.FloodedSealed, rating.Label{CCA: 680, Ah20h: 75}, "sealed", 4},
	{"motorhome", "diesel", 12, battery.Gel, rating.Label{CCA: 500, Ah20h: 70}, "sealed", 3},
	{"motorhome", "diesel", 12, battery.AGMDeepCycle, rating.Label{CCA: 650, Ah20h: 90}, "sealed", 2},
}

// shares are how often each fault brings a vehicle in here: the clinic's own, unlike
// those the diagnosis begins with.
var shares = []struct {
	fault string
	share float64
}{
	{"discharged", 16}, {"worn_out", 21}, {"shorted_cell", 5}, {"open_or_high_resistance", 4}, {"low_acid", 3}, {"frozen", 1.2},
	{"dirty_contacts", 10}, {"bad_cable", 7}, {"undercharging", 9}, {"overcharging", 3}, {"drain", 9}, {"starter_draw", 7},
	{"short_trip_habit", 6}, {"immobiliser_or_fuel", 5},
}

var doubles = [][2]string{
	{"worn_out", "undercharging"}, {"worn_out", "undercharging"}, {"worn_out", "drain"}, {"worn_out", "dirty_contacts"},
	{"worn_out", "starter_draw"}, {"worn_out", "short_trip_habit"}, {"dirty_contacts", "undercharging"}, {"dirty_contacts", "drain"},
	{"bad_cable", "worn_out"}, {"discharged", "dirty_contacts"}, {"drain", "undercharging"}, {"shorted_cell", "dirty_contacts"},
	{"low_acid", "overcharging"}, {"worn_out", "discharged"}, {"drain", "starter_draw"}, {"discharged", "bad_cable"},
}

func between(rng *rand.Rand, lo, hi float64) float64 { return lo + (hi-lo)*rng.Float64() }

func chance(rng *rand.Rand, p float64) bool { return rng.Float64() < p }

// Draw gives a vehicle.
func Draw(rng *rand.Rand) *Vehicle {
	k := pickKind(rng)
	v := &Vehicle{
		Class: k.class, Fuel: k.fuel, Volts: k.volts, Chemistry: k.chem, Label: k.label, Caps: k.caps,
		Eye: k.chem == battery.FloodedSealed && chance(rng, 0.4), Years: between(rng, 0.2, 8),
		Stops: k.chem == battery.EFB || k.class == "car" && k.chem == battery.AGM,
	}
	v.Earth = "negative"
	if k.class == "classic" && chance(rng, 0.5) {
		v.Earth = "positive"
	}
	v.ambient = 14 + 11*rng.NormFloat64()
	v.ambient = min(max(v.ambient, -24), 38)
	v.drawFaults(rng)
	v.drawBattery(rng)
	v.drawRest(rng)
	v.look(rng)
	v.complain(rng)
	return v
}

func pickKind(rng *rand.Rand) kind {
	sum := 0.0
	for _, k := range kinds {
		sum += k.share
	}
	x := rng.Float64() * sum
	for _, k := range kinds {
		if x -= k.share; x < 0 {
			return k
		}
	}
	return kinds[0]
}

// can reports whether such a vehicle can have a fault.
func (v *Vehicle) can(f string) bool {
	electric := v.Class == "hybrid" || v.Class == "electric"
	switch f {
	case "starter_draw":
		return !electric
	case "bad_cable":
		return !electric
	case "low_acid":
		return v.Chemistry.Liquid()
	case "immobiliser_or_fuel":
		return v.Class != "mower"
	}
	return true
}

func (v *Vehicle) drawFaults(rng *rand.Rand) {
	x := rng.Float64()
	switch {
	case x < 0.12:
	case x < 0.80:
		for {
			sum := 0.0
			for _, s := range shares {
				sum += s.share
			}
			y := rng.Float64() * sum
			f := shares[0].fault
			for _, s := range shares {
				if y -= s.share; y < 0 {
					f = s.fault
					break
				}
			}
			if v.can(f) {
				v.Faults = []string{f}
				break
			}
		}
	default:
		for {
			d := doubles[rng.IntN(len(doubles))]
			if v.can(d[0]) && v.can(d[1]) {
				v.Faults = d[:]
				break
			}
		}
	}
	if chance(rng, 0.04) {
		v.Odd = []string{"stratified", "intermittent", "loose_plate"}[rng.IntN(3)]
		if v.Odd == "stratified" && !v.Chemistry.Liquid() {
			v.Odd = "intermittent"
		}
	}
}

// drawBattery settles what is inside and how full it is.
func (v *Vehicle) drawBattery(rng *rand.Rand) {
	b, _, err := readingtest.Labels(v.Chemistry, int(v.Volts/2), v.Label)
	if err != nil {
		panic(err)
	}
	pct := 104 - 3.4*v.Years + 7*rng.NormFloat64()
	pct = min(max(pct, 67), 112)
	v.capacity = min(max(100-4*v.Years+8*rng.NormFloat64(), 55), 106)
	if v.has("worn_out") {
		v.Years = max(v.Years, between(rng, 1.5, 9))
		pct = between(rng, 22, 61)
		if chance(rng, 0.2) {
			pct = between(rng, 7, 22)
		}
		v.capacity = between(rng, 25, 95)
	}
	b = of(b.WithCapacity(v.capacity).Worn(pct))
	soc := between(rng, 72, 99)
	lower := func(lo, hi float64) { soc = min(soc, between(rng, lo, hi)) }
	for _, f := range v.Faults {
		switch f {
		case "discharged":
			lower(2, 48)
		case "drain":
			lower(4, 72)
		case "undercharging":
			lower(5, 68)
		case "short_trip_habit":
			lower(30, 74)
		case "worn_out":
			lower(40, 99)
		case "shorted_cell", "open_or_high_resistance", "low_acid":
			lower(50, 98)
		case "frozen":
			lower(2, 22)
			v.ambient = between(rng, -24, -13)
		case "dirty_contacts":
			lower(50, 97)
		}
	}
	if v.has("overcharging") {
		soc = max(soc, between(rng, 88, 100))
	}
	temp := v.ambient + between(rng, -1, 5)
	if v.has("open_or_high_resistance") {
		b.StrapOhms = between(rng, 3, 10.5) * v.Volts / 12 / (v.Label.CCA / 2)
	}
	if v.has("low_acid") {
		wet := between(rng, 0.35, 0.8)
		for i := range b.Kinds {
			b.Groups[i].Wet = wet
		}
		v.dry = wet < 0.6
	}
	state := func() battery.State { return b.Rested(soc, temp) }
	v.state = state()
	if v.has("shorted_cell") {
		ohms := 0.02
		low := 0.02
		if chance(rng, 0.4) {
			ohms = between(rng, 0.25, 2.5) // it only loses its charge
			low = between(rng, 0.05, 0.6) * soc / 100
		} else {
			ohms = between(rng, 0.004, 0.03)
		}
		b = b.WithCell(battery.Shorted(ohms))
		v.state = state()
		v.state.Cells[b.Kinds-1].Pore, v.state.Cells[b.Kinds-1].Bulk = low, low
	}
	if soc < 35 && chance(rng, 0.3) {
		for i := range b.Kinds {
			v.state.Cells[i].Sulphate = between(rng, 0.05, 0.4)
		}
	}
	v.battery = b
	if v.has("shorted_cell") {
		v.stand(240, 0) // it has been so for hours
	}
	v.pct = 100 * of(b.ColdCrankingAmps()) / v.Label.CCA
	// The published load test, done as it should be: full, 21 °C, half the label, 15 s.
	v.loaded21 = of(b.EndVolts(98, 21, v.Label.CCA/2, 15))
	sg := battery.SpecificGravity(v.Chemistry, soc)
	v.ice = battery.FreezingPoint(sg) > temp
	if v.has("frozen") && !v.ice {
		for i, f := range v.Faults {
			if f == "frozen" {
				v.Faults = slices.Clone(v.Faults)
				v.Faults[i] = "discharged"
			}
		}
	}
	v.stray = 0.016 * v.Volts / 12 * rng.NormFloat64()
	if f := v.Chemistry.RestFamily(); f > 0 {
		v.stray += f * between(rng, -1, 1) * v.Volts / 12
	}
}

// drawRest settles what is outside the battery.
func (v *Vehicle) drawRest(rng *rand.Rand) {
	part := between(rng, 0.19, 0.33)
	if v.Fuel == "diesel" {
		part = between(rng, 0.26, 0.42)
	}
	v.starter = part * v.Label.CCA
	if v.Volts < 10 {
		v.starter *= between(rng, 1, 1.5)
	}
	v.surge = between(rng, 2.3, 4.6)
	k := v.Volts / 12
	usual := v.starter
	drop := func(volts float64) float64 { return volts * k / usual }
	v.live, v.earth = drop(between(rng, 0.06, 0.24)), drop(between(rng, 0.05, 0.22))
	v.alt = 14.25 + 0.2*rng.NormFloat64()
	v.drain = min(math.Exp(math.Log(14)+0.5*rng.NormFloat64()), 44)
	v.awakeFor = between(rng, 2, 25)
	switch v.Class {
	case "mower", "classic", "tractor", "boat", "atv", "motorcycle":
		v.drain, v.awakeFor = between(rng, 0, 12), 1
	}
	for _, f := range v.Faults {
		switch f {
		case "dirty_contacts":
			v.bad = drop(max(0.5, math.Exp(math.Log(0.9)+0.7*rng.NormFloat64())))
			v.badSide = []string{"live", "earth", "both"}[rng.IntN(3)]
		case "bad_cable":
			more := drop(max(0.5, math.Exp(math.Log(1.15)+0.5*rng.NormFloat64())))
			if chance(rng, 0.5) {
				v.live += more
			} else {
				v.earth += more
			}
		case "undercharging":
			v.alt = 0
			if chance(rng, 0.55) {
				v.alt = between(rng, 12.7, 13.3)
			}
		case "overcharging":
			v.alt = between(rng, 15.1, 16.8)
		case "drain":
			v.drain = min(max(math.Exp(math.Log(280)+0.8*rng.NormFloat64()), 80), 5000)
		case "starter_draw":
			switch x := rng.Float64(); {
			case x < 0.6:
				v.starter *= between(rng, 1.6, 2.6)
			case x < 0.85:
				v.starter = 0
			default:
				v.starter *= between(rng, 0.3, 0.5)
			}
			v.lame = v.starter > 0 && chance(rng, 0.85)
		case "immobiliser_or_fuel":
			v.inert = chance(rng, 0.35)
			v.noFire = !v.inert
		}
	}
	if v.bad == 0 {
		v.bad = drop(between(rng, 0, 0.02))
	}
	v.ran = chance(rng, 0.35) && v.alt > 13 && !v.inert && !v.noFire && v.starter > 0 && !v.ice && v.battery.SOC(v.state) > 55 && v.pct > 40
	if v.ran {
		// Half an hour's drive leaves surface charge.
		s, err := v.battery.Run(v.state, battery.Duty{
			Source: battery.Source{Amps: 0.5 * v.Label.Ah20h, Volts: v.alt * k}, Ambient: battery.Ambient{Start: v.ambient},
			Seconds: between(rng, 600, 2400), Tolerance: 5e-3})
		if err == nil {
			v.state = s.State
		}
	}
}

// look settles what there is to be seen.
func (v *Vehicle) look(rng *rand.Rand) {
	see := func(p float64, what ...string) {
		if chance(rng, p) {
			v.seen = append(v.seen, what[rng.IntN(len(what))])
		}
	}
	if v.has("dirty_contacts") {
		switch v.badSide {
		case "live":
			see(0.75, "corrosion_live", "film_live", "loose_clamp", "clamp_not_seated")
		case "earth":
			see(0.75, "corrosion_earth", "film_earth", "loose_clamp", "clamp_eaten")
		default:
			see(0.8, "corrosion_live", "loose_clamp", "film_live")
			see(0.5, "corrosion_earth", "film_earth")
		}
	} else {
		see(0.07, "film_live", "corrosion_live", "film_earth") // looks bad, and is not
	}
	if v.has("bad_cable") {
		see(0.35, "strands_green", "cable_frayed", "earth_strap_bad")
	}
	if v.has("undercharging") {
		see(0.2, "belt_slack")
	}
	if v.has("overcharging") {
		see(0.25, "wet_vents", "tray_acid", "rotten_egg_smell")
	}
	if v.dry {
		see(0.5, "plates_dry")
	}
	if v.ice {
		see(0.7, "frozen", "case_bulged")
	}
	see(0.1, "wet_lid", "loose_hold_down", "cover_missing")
	see(0.006, "case_cracked", "leaking")
}

// complain gives what the customer says: from how it behaves when it is cranked, and
// from its story.
func (v *Vehicle) complain(rng *rand.Rand) {
	say := func(p float64, what string) {
		if chance(rng, p) {
			v.Complaint = append(v.Complaint, what)
		}
	}
	if v.Fuel == "none" || v.Class == "hybrid" {
		if v.battery.SOC(v.state) < 35 || v.pct < 35 {
			say(0.5, "dead_silent")
			say(0.4, "warning_lights")
		}
	} else {
		before := v.state
		c := v.crank(rng, 3)
		v.state = before // that was yesterday
		k := v.Volts / 12
		switch {
		case c.turned == "no" && c.lowest < 7.5*k:
			if chance(rng, 0.6) {
				say(1, "rapid_click")
			} else {
				say(1, "single_click")
			}
			say(0.3, "dim_lights")
		case c.turned == "no":
			if chance(rng, 0.5) {
				say(1, "dead_silent")
			} else {
				say(1, "single_click")
			}
		case c.turned == "slow":
			say(0.9, "slow_crank")
			if v.ambient < 3 {
				say(0.4, "cold_only")
			}
		}
	}
	if v.noFire {
		say(0.85, "cranks_no_fire")
		say(0.2, "warning_lights")
	}
	if v.inert {
		say(0.55, "warning_lights") // the lock's own lamp
	}
	for _, f := range v.Faults {
		switch f {
		case "discharged":
			switch x := rng.Float64(); {
			case x < 0.4:
				say(1, "lights_left_on")
			case x < 0.6:
				say(1, "accessories_left_on")
			case x < 0.85:
				say(1, "after_standing")
			}
		case "drain":
			say(0.6, "after_standing")
			say(0.4, "frequent_jumps")
			say(0.15, "aftermarket_fitted")
		case "undercharging":
			say(0.5, "warning_lights")
			say(0.25, "dim_lights")
			say(0.3, "frequent_jumps")
		case "overcharging":
			say(0.2, "warning_lights")
		case "short_trip_habit":
			say(0.85, "short_trips")
			say(0.3, "frequent_jumps")
		case "worn_out", "shorted_cell":
			say(0.25, "after_standing")
			say(0.2, "frequent_jumps")
		}
	}
	if len(v.Complaint) == 0 && len(v.Faults) > 0 && chance(rng, 0.75) {
		// It behaved at the gate, and not at home.
		for _, f := range v.Faults {
			if w := atHome[f]; w != nil {
				say(1, w[rng.IntN(len(w))])
			}
		}
	}
	if v.Years < 0.8 {
		say(0.5, "recent_battery")
	}
	if len(v.Faults) == 0 {
		say(0.15, "slow_crank") // so they think
		say(0.08, "dim_lights")
	}
	say(0.05, "short_trips")
	say(0.03, []string{"dim_lights", "warning_lights", "after_standing", "aftermarket_fitted", "cold_only"}[rng.IntN(5)])
	seen := map[string]bool{}
	once := v.Complaint[:0]
	for _, c := range v.Complaint {
		if !seen[c] {
			once, seen[c] = append(once, c), true
		}
	}
	v.Complaint = once
}

// atHome is what a customer has seen of a fault that does not show when it comes in.
var atHome = map[string][]string{
	"worn_out": {"slow_crank", "slow_crank", "cold_only", "after_standing"}, "shorted_cell": {"after_standing", "frequent_jumps"},
	"open_or_high_resistance": {"dead_silent", "single_click"}, "low_acid": {"slow_crank"}, "dirty_contacts": {"slow_crank", "single_click", "dim_lights"},
	"bad_cable": {"slow_crank", "single_click"}, "starter_draw": {"slow_crank", "single_click"}, "undercharging": {"warning_lights", "dim_lights"},
	"overcharging": {"warning_lights"}, "drain": {"after_standing"}, "short_trip_habit": {"short_trips"}, "discharged": {"after_standing", "lights_left_on"},
}

// of gives a figure of a battery that cannot fail.
func of[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}
