package suspect

import (
	"math"
	"slices"

	"grapnel/core/bench"
)

// How often each fault is what brings a vehicle in, in parts of all that come with a
// complaint. Common practice, no source; docs/clinic.md measures what becomes of it.
var usual = [faultCount]float64{
	None: 0.06, Discharged: 0.17, WornOut: 0.22, ShortedCell: 0.045, Open: 0.03, LowAcid: 0.015, Frozen: 0.0005,
	DirtyContacts: 0.09, BadCable: 0.05, Undercharging: 0.08, Overcharging: 0.02, Drain: 0.08, StarterDraw: 0.055,
	ShortTrips: 0.07, Immobiliser: 0.045,
}

// symptoms are complaints of something that does not work; the others tell a story.
var symptoms = []string{"dead_silent", "single_click", "rapid_click", "slow_crank", "cranks_no_fire", "dim_lights", "cold_only",
	"after_standing", "frequent_jumps", "warning_lights", "lights_left_on", "accessories_left_on"}

// soundUncalled is how often nothing is wrong with one that comes without a symptom,
// against all faults together. Common practice, no source.
const soundUncalled = 0.35

// Two faults together come as often as by chance, times so much; some cause each
// other. House judgement.
const twice = 0.9

var causes = map[Set]float64{
	SetOf(WornOut, Undercharging):  4,
	SetOf(WornOut, ShortTrips):     2.5,
	SetOf(WornOut, Drain):          2.5,
	SetOf(WornOut, Discharged):     2,
	SetOf(WornOut, DirtyContacts):  1.5,
	SetOf(LowAcid, Overcharging):   12,
	SetOf(WornOut, Overcharging):   2,
	SetOf(DirtyContacts, BadCable): 1.5,
}

// hypothesis is a set of faults and how likely it is before anything is read.
type hypothesis struct {
	set   Set
	prior float64
}

// hypotheses are all sets of faults that can be in a case, with their priors, which
// sum to 1.
func hypotheses(b *bench.Bench) []hypothesis {
	single := usual
	c := b.Case
	v := c.Vehicle
	scale := func(f Fault, by float64) { single[f] *= by }
	months, known := b.Months()
	switch {
	case slices.Contains(c.Complaint, "recent_battery"):
		scale(WornOut, 0.15)
		scale(DirtyContacts, 1.5)
		scale(Drain, 1.8)
		scale(Undercharging, 1.8)
	case known:
		// Three to five years are usual, less in heat; six and more happens.
		scale(WornOut, clamp(math.Exp((float64(months)/12-4)/2), 0.15, 4))
	}
	if slices.Contains(c.Complaint, "recent_alternator") {
		scale(Undercharging, 0.5)
	}
	if slices.Contains(c.Complaint, "aftermarket_fitted") {
		scale(Drain, 3)
	}
	temp, _ := c.TempC(nil)
	if c.Conditions.AmbientC != nil {
		temp = min(temp, *c.Conditions.AmbientC)
	}
	if temp < 0 {
		scale(WornOut, 1.3)
	}
	if temp < -8 {
		scale(Frozen, 40)
	}
	switch v.Class {
	case "mower", "atv", "motorcycle", "classic", "boat", "motorhome", "tractor":
		scale(Discharged, 1.6) // they stand for months
		scale(WornOut, 1.2)
		scale(Immobiliser, 0.5)
	}
	if v.Electric() {
		scale(StarterDraw, 0)
		scale(BadCable, 0.4)
		scale(Immobiliser, 0.6)
		scale(Drain, 1.5)
	}
	if v.Fuel == "none" {
		scale(StarterDraw, 0)
	}
	if !c.Battery.Chemistry.Liquid() {
		scale(LowAcid, 0.2)
		scale(Frozen, 0.5)
	}
	if !slices.ContainsFunc(c.Complaint, func(w string) bool { return slices.Contains(symptoms, w) }) {
		sum := 0.0
		for f := None + 1; f < faultCount; f++ {
			sum += single[f]
		}
		single[None] = soundUncalled / (1 - soundUncalled) * sum
	}
	out := make([]hypothesis, 0, 90)
	for f := None; f < faultCount; f++ {
		if single[f] > 0 {
			out = append(out, hypothesis{SetOf(f), single[f]})
		}
	}
	for f := None + 1; f < faultCount; f++ {
		for g := f + 1; g < faultCount; g++ {
			if p := single[f] * single[g]; p > 0 && together(f, g) {
				by := twice
				if k, ok := causes[SetOf(f, g)]; ok {
					by = k
				}
				out = append(out, hypothesis{SetOf(f, g), p * by})
			}
		}
	}
	sum := 0.0
	for i := range out {
		out[i].prior *= complaintLikelihood(c.Complaint, out[i].set)
		sum += out[i].prior
	}
	for i := range out {
		out[i].prior /= sum
	}
	return out
}

func clamp(v, lo, hi float64) float64 { return min(max(v, lo), hi) }
