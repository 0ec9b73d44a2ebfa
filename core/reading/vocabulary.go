package reading

import (
	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/words"
)

var (
	classes = words.ListOf(
		words.Term{Code: "car", Word: "Car"},
		words.Term{Code: "van", Word: "Van"},
		words.Term{Code: "motorcycle", Word: "Motorcycle"},
		words.Term{Code: "atv", Word: "ATV, side-by-side"},
		words.Term{Code: "mower", Word: "Mower"},
		words.Term{Code: "tractor", Word: "Tractor"},
		words.Term{Code: "hybrid", Word: "Hybrid, 12 V"},
		words.Term{Code: "electric", Word: "Electric, 12 V"},
		words.Term{Code: "classic", Word: "Classic"},
		words.Term{Code: "boat", Word: "Boat"},
		words.Term{Code: "motorhome", Word: "Motorhome"},
	)

	// In the order they are asked for.
	complaints = words.ListOf(
		words.Term{Code: "dead_silent", Word: "Nothing at all"},
		words.Term{Code: "single_click", Word: "One click"},
		words.Term{Code: "rapid_click", Word: "Rapid clicking"},
		words.Term{Code: "slow_crank", Word: "Turns slowly"},
		words.Term{Code: "cranks_no_fire", Word: "Turns, won’t fire"},
		words.Term{Code: "dim_lights", Word: "Dim lights"},
		words.Term{Code: "cold_only", Word: "Only in the cold"},
		words.Term{Code: "after_standing", Word: "After standing"},
		words.Term{Code: "frequent_jumps", Word: "Jumped often"},
		words.Term{Code: "lights_left_on", Word: "Lights left on"},
		words.Term{Code: "accessories_left_on", Word: "Accessories left on"},
		words.Term{Code: "short_trips", Word: "Short trips only"},
		words.Term{Code: "aftermarket_fitted", Word: "Something fitted"},
		words.Term{Code: "recent_battery", Word: "New battery lately"},
		words.Term{Code: "recent_alternator", Word: "New alternator lately"},
		words.Term{Code: "warning_lights", Word: "Warning lights"},
	)

	fuels = words.ListOf(
		words.Term{Code: "petrol", Word: "Petrol"},
		words.Term{Code: "diesel", Word: "Diesel"},
		words.Term{Code: "none", Word: "None"},
	)
	// Nominal volts a vehicle can have.
	systemVolts = words.ListOf(
		words.Term{Code: "6", Word: "6 V"},
		words.Term{Code: "8", Word: "8 V"},
		words.Term{Code: "12", Word: "12 V"},
		words.Term{Code: "24", Word: "24 V"},
	)
	earths = words.ListOf(
		words.Term{Code: "negative", Word: "Negative earth"},
		words.Term{Code: "positive", Word: "Positive earth"},
	)
	arrangements = words.ListOf(
		words.Term{Code: "single", Word: "One battery"},
		words.Term{Code: "parallel", Word: "One of two in parallel"},
		words.Term{Code: "series", Word: "One of two in series"},
	)
	caps = words.ListOf(
		words.Term{Code: "removable", Word: "Caps come off"},
		words.Term{Code: "sealed", Word: "Sealed"},
	)
	terminals = words.ListOf(
		words.Term{Code: "top", Word: "Top posts"},
		words.Term{Code: "side", Word: "Side"},
		words.Term{Code: "stud", Word: "Studs"},
	)
)

// Vocabularies gives every vocabulary of vehicle and battery by its field.
func Vocabularies() map[string]words.List {
	return map[string]words.List{
		"class":        classes,
		"complaint":    complaints,
		"fuel":         fuels,
		"system_volts": systemVolts,
		"earth":        earths,
		"arrangement":  arrangements,
		"caps":         caps,
		"terminals":    terminals,
		"chemistry":    battery.ChemistryWords(),
		"standard":     rating.StandardWords(),
	}
}

// Classes gives the vocabulary of vehicle.class.
func Classes() words.List { return classes }

// Complaints gives the vocabulary of a case's complaint, in the order it is asked
// for.
func Complaints() words.List { return complaints }
