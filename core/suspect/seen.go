package suspect

import (
	"slices"

	"grapnel/core/reading"
	"grapnel/core/station"
)

// How likely it is that something is said or seen with each fault. What is not in a
// row has the row's base. Common practice, no source; docs/clinic.md measures what
// becomes of it.
type chances struct {
	base float64
	with [faultCount]float64
}

// of is how likely it is with a set of faults: each brings it by itself.
func (c *chances) of(s Set) float64 {
	not := 1 - c.base
	s.each(func(f Fault) {
		if p := c.with[f]; p > c.base {
			not *= (1 - p) / (1 - c.base)
		}
	})
	return 1 - not
}

// telling is a word and its chances.
type telling struct {
	word string
	chances
}

// said is the complaint.
var said = []telling{
	{"dead_silent", chances{0.02, [faultCount]float64{Discharged: 0.2, WornOut: 0.08, ShortedCell: 0.15, Open: 0.45, LowAcid: 0.1, Frozen: 0.5,
		DirtyContacts: 0.3, BadCable: 0.25, Undercharging: 0.1, Drain: 0.25, StarterDraw: 0.3, ShortTrips: 0.06, Immobiliser: 0.3}}},
	{"single_click", chances{0.015, [faultCount]float64{Discharged: 0.15, WornOut: 0.1, ShortedCell: 0.15, Open: 0.25, LowAcid: 0.1, Frozen: 0.2,
		DirtyContacts: 0.3, BadCable: 0.3, Undercharging: 0.08, Drain: 0.1, StarterDraw: 0.35}}},
	{"rapid_click", chances{0.015, [faultCount]float64{Discharged: 0.45, WornOut: 0.25, ShortedCell: 0.3, Open: 0.15, LowAcid: 0.2, Frozen: 0.1,
		DirtyContacts: 0.2, BadCable: 0.08, Undercharging: 0.25, Drain: 0.25, ShortTrips: 0.15}}},
	{"slow_crank", chances{0.04, [faultCount]float64{Discharged: 0.2, WornOut: 0.5, ShortedCell: 0.35, Open: 0.15, LowAcid: 0.4,
		DirtyContacts: 0.3, BadCable: 0.4, Undercharging: 0.25, Drain: 0.15, StarterDraw: 0.35, ShortTrips: 0.35}}},
	{"cranks_no_fire", chances{0.01, [faultCount]float64{Immobiliser: 0.6}}},
	{"dim_lights", chances{0.025, [faultCount]float64{Discharged: 0.3, WornOut: 0.15, ShortedCell: 0.2, Open: 0.15, DirtyContacts: 0.2,
		BadCable: 0.1, Undercharging: 0.35, Drain: 0.1}}},
	{"cold_only", chances{0.015, [faultCount]float64{WornOut: 0.35, Frozen: 0.3, LowAcid: 0.15, ShortTrips: 0.2, StarterDraw: 0.05, BadCable: 0.05}}},
	{"after_standing", chances{0.03, [faultCount]float64{Discharged: 0.3, WornOut: 0.3, ShortedCell: 0.3, Drain: 0.65, LowAcid: 0.1,
		ShortTrips: 0.1, Undercharging: 0.1}}},
	{"frequent_jumps", chances{0.02, [faultCount]float64{Discharged: 0.05, WornOut: 0.3, ShortedCell: 0.35, Undercharging: 0.45, Drain: 0.45,
		ShortTrips: 0.35, DirtyContacts: 0.06}}},
	{"lights_left_on", chances{0.012, [faultCount]float64{Discharged: 0.35}}},
	{"accessories_left_on", chances{0.012, [faultCount]float64{Discharged: 0.2}}},
	{"short_trips", chances{0.06, [faultCount]float64{ShortTrips: 0.75}}},
	{"warning_lights", chances{0.03, [faultCount]float64{Undercharging: 0.5, Overcharging: 0.25, Immobiliser: 0.4, Drain: 0.05}}},
}

// untold is how often a customer does not say what there was to say; of what everybody is
// asked, seldom.
const untold, denied = 0.5, 0.2

var asked = []string{"short_trips", "lights_left_on", "accessories_left_on", "cranks_no_fire"}

// complaintLikelihood is how likely what the customer said, and did not say, is with a
// set of faults.
func complaintLikelihood(words []string, s Set) float64 {
	return likelihoodOf(said, words, s, func(word string) float64 {
		if slices.Contains(asked, word) {
			return denied
		}
		return untold
	})
}

// likelihoodOf is how likely it is that of a row of things these were told and the others
// not; kept is how often what there is to tell is not told.
func likelihoodOf(rows []telling, told []string, s Set, kept func(word string) float64) float64 {
	p := 1.0
	for i := range rows {
		c := &rows[i]
		if slices.Contains(told, c.word) {
			p *= c.of(s)
		} else {
			p *= 1 - (1-kept(c.word))*c.of(s)
		}
	}
	return p
}

// seen is what looking finds.
var seen = []telling{
	{"case_bulged", chances{0.003, [faultCount]float64{Frozen: 0.5, Overcharging: 0.08, ShortedCell: 0.03}}},
	{"case_cracked", chances{0.003, [faultCount]float64{Frozen: 0.2}}},
	{"frozen", chances{0.001, [faultCount]float64{Frozen: 0.75}}},
	{"plates_dry", chances{0.004, [faultCount]float64{LowAcid: 0.6, Overcharging: 0.15}}},
	{"rotten_egg_smell", chances{0.004, [faultCount]float64{Overcharging: 0.25, ShortedCell: 0.1}}},
	{"wet_vents", chances{0.04, [faultCount]float64{Overcharging: 0.3}}},
	{"tray_acid", chances{0.03, [faultCount]float64{Overcharging: 0.15}}},
	{"wet_lid", chances{0.1, [faultCount]float64{Drain: 0.14}}},
	{"corrosion_live", chances{0.05, [faultCount]float64{DirtyContacts: 0.45, Overcharging: 0.25}}},
	{"corrosion_earth", chances{0.05, [faultCount]float64{DirtyContacts: 0.35, Undercharging: 0.15}}},
	{"film_live", chances{0.04, [faultCount]float64{DirtyContacts: 0.25}}},
	{"film_earth", chances{0.04, [faultCount]float64{DirtyContacts: 0.2}}},
	{"loose_clamp", chances{0.005, [faultCount]float64{DirtyContacts: 0.3}}},
	{"clamp_not_seated", chances{0.005, [faultCount]float64{DirtyContacts: 0.15}}},
	{"clamp_eaten", chances{0.005, [faultCount]float64{DirtyContacts: 0.12, BadCable: 0.05}}},
	{"strands_green", chances{0.004, [faultCount]float64{BadCable: 0.3}}},
	{"cable_frayed", chances{0.02, [faultCount]float64{BadCable: 0.15}}},
	{"earth_strap_bad", chances{0.003, [faultCount]float64{BadCable: 0.18}}},
	{"belt_slack", chances{0.008, [faultCount]float64{Undercharging: 0.25}}},
}

// unseen is how often what is there is not seen or not noted.
const unseen = 0.3

func seenLikelihood(found []string, s Set) float64 {
	return likelihoodOf(seen, found, s, func(string) float64 { return unseen })
}

// levelLow is acid found under the mark when it was to be drawn.
var levelLow = chances{0.03, [faultCount]float64{LowAcid: 0.85, Overcharging: 0.35}}

// everShort is a week of short drives and little else, as it is told.
var everShort = chances{0.25, [faultCount]float64{ShortTrips: 0.85}}

// seldomFilled reports whether a week has short drives alone, and few hours of them.
// Common practice, no source: a start and a night's drain take a quarter of an hour to
// put back.
func seldomFilled(r reading.Reading) bool {
	minutes, long := r.Or("minutes", 0), r.Or("long_minutes", 0)
	return minutes < 20 && long < 30 && r.Or("trips", 0)*minutes+long < 150
}

// jumped is how likely it is that an engine starts on a good battery.
var jumped = [faultCount]float64{
	None: 0.92, Discharged: 0.93, WornOut: 0.9, ShortedCell: 0.75, Open: 0.7, LowAcid: 0.85, Frozen: 0.6, DirtyContacts: 0.45,
	BadCable: 0.4, Undercharging: 0.93, Overcharging: 0.9, Drain: 0.93, StarterDraw: 0.25, ShortTrips: 0.93, Immobiliser: 0.12,
}

// Charges that end otherwise than full.
var (
	refuses = chances{0.015, [faultCount]float64{WornOut: 0.1, Open: 0.3, DirtyContacts: 0.06, ShortedCell: 0.04, Discharged: 0.05, Frozen: 0.5, LowAcid: 0.1}}
	heats   = chances{0.008, [faultCount]float64{ShortedCell: 0.3, WornOut: 0.03, LowAcid: 0.06}}
)

// How an engine turns, normally, slowly or not at all, where the volts at the posts are
// good meanwhile: only what stands between the posts and the crankshaft can hold it up.
// On poor volts everything turns slowly.
const goodVolts, poorVolts = 9.8, 8.0 // of 12

var turns = [...]struct {
	with             Set
	normal, slow, no float64
}{
	{SetOf(StarterDraw), 0.15, 0.5, 0.35},
	{SetOf(Immobiliser), 0.6, 0.02, 0.38},
	{SetOf(BadCable), 0.4, 0.4, 0.2},
	{SetOf(DirtyContacts), 0.5, 0.3, 0.2},
}

func turnedLikelihood(how string, volts float64, s Set) float64 {
	normal, slow, no := 0.95, 0.04, 0.01
	held := false
	for _, t := range turns {
		if s.Any(t.with) {
			normal, slow, no, held = t.normal, t.slow, t.no, true
			break
		}
	}
	if !held {
		switch {
		case volts < poorVolts:
			normal, slow, no = 0.15, 0.6, 0.25
		case volts < goodVolts:
			normal, slow, no = 0.6, 0.35, 0.05
		}
	}
	switch how {
	case "normal":
		return normal
	case "slow":
		return slow
	}
	return no
}

// wordLikelihood is what a reading without a meter says of a set of faults; 1 where it
// says nothing.
func wordLikelihood(c reading.Case, r reading.Reading, s Set) float64 {
	switch r.Kind {
	case station.Inspection:
		return seenLikelihood(r.Words("found"), s)
	case station.Hydrometer:
		switch r.Word("level") {
		case "plates_dry":
			return levelLow.of(s)
		case "fill_mark":
			return 1 - levelLow.of(s)
		}
	case station.Eye:
		// Clear: the acid has sunk under the eye.
		switch r.Word("colour") {
		case "clear", "yellow":
			return levelLow.of(s)
		}
		return 1 - levelLow.of(s)
	case station.JumpResult:
		if started, ok := r.Flag("started"); ok {
			p := 1.0
			s.each(func(f Fault) { p = min(p, jumped[f]) })
			if !started {
				p = 1 - p
			}
			return p
		}
	case station.Charged:
		switch r.Word("ended") {
		case "refused":
			return refuses.of(s)
		case "hot":
			return heats.of(s)
		}
		return (1 - refuses.of(s)) * (1 - heats.of(s))
	case station.Week:
		p := everShort.of(s)
		if !seldomFilled(r) {
			p = 1 - p
		}
		return p
	case station.Crank:
		if how := r.Word("turned"); how != "" {
			return turnedLikelihood(how, r.Or("volts_min", 0)*12/c.Volts(), s)
		}
	}
	return 1
}
