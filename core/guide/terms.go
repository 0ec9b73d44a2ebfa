package guide

import "slices"

// Meaning is a word of the trade with what it means, for who meets it the first time.
type Meaning struct {
	Term  string   `json:"term"`
	Means string   `json:"means"`
	Also  []string `json:"also,omitempty" doc:"other words for it"`
}

// terms explains the words the interface uses without explaining them on the
// spot. Common practice, no source, unless it says so.
var terms = []Meaning{
	{Term: "surface charge", Means: "A thin layer of charge left on the plates by driving or charging. It makes the volts " +
		"read high until it fades in rest, or is taken off with the lights or a short load."},
	{Term: "rest voltage", Also: []string{"rest volts"}, Means: "Volts across the posts with nothing on, after the " +
		"battery has been left alone. It tells how full the battery is, not how strong."},
	{Term: "eye school", Means: "Those who go by the eye in the lid: it turns green at about 65 % charge, and they load " +
		"test from there. Others ask for 75 %."},
	{Term: "flooded", Means: "Plates in liquid acid, the plain kind. Some have caps to top up with distilled water."},
	{Term: "AGM", Means: "The acid is held in glass mats. It takes and gives current faster, has no caps, and rests " +
		"higher than a flooded battery at the same charge."},
	{Term: "EFB", Means: "A flooded battery built for stop and start: it is tested and charged like a flooded one, and " +
		"replaced by its kind or better."},
	{Term: "gel", Means: "The acid is set to a jelly. It must not be charged as high as a flooded one."},
	{Term: "CCA", Means: "Cold cranking amps: the current a new, full battery gives for 30 s at −18 °C without falling " +
		"under 7.2 V (SAE J537, from memory). Other standards ask for other volts and seconds."},
	{Term: "cranking amps", Also: []string{"MCA"}, Means: "As CCA, but at 0 °C: a larger figure for the same battery."},
	{Term: "20 h capacity", Means: "Ampere-hours it gives over twenty hours, to 10.5 V. It says how long, not how hard."},
	{Term: "reserve", Means: "Minutes it gives 25 A before it falls to 10.5 V."},
	{Term: "load test", Means: "A heavy current for some seconds, and the volts at the end of it. It asks whether the " +
		"battery can still deliver, and is fair only when it is charged enough."},
	{Term: "half the CCA", Means: "The usual load: half the cold cranking amps for 15 s."},
	{Term: "by conductance", Also: []string{"conductance"}, Means: "Judged by a small alternating current instead of a " +
		"load. Those who go by it call 80 % of the label serviceable and under 60 % finished."},
	{Term: "hydrometer", Means: "A float that weighs the acid of each cell: the heavier, the fuller."},
	{Term: "positive earth", Also: []string{"earth +"}, Means: "The + post is bonded to the body, as on some old " +
		"vehicles: the − lead is the live one."},
	{Term: "parallel", Means: "Two batteries side by side, + to + and − to −: the same volts, twice the current. Each is " +
		"tested by itself, parted from the other."},
	{Term: "series", Means: "Two batteries in a row: the volts add up. Each is tested by itself."},
	{Term: "parasitic drain", Also: []string{"drain"}, Means: "Current that something takes while everything is " +
		"switched off."},
	{Term: "lid leakage", Means: "Volts between a post and the dirty lid: a damp film that lets current creep across."},
}

// Terms gives the words that can be explained. The caller may keep them.
func Terms() []Meaning {
	out := slices.Clone(terms)
	for i := range out {
		out[i].Also = slices.Clone(terms[i].Also)
	}
	return out
}
