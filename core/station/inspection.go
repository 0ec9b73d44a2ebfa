package station

import (
	"slices"

	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Inspection is what is seen before anything is measured.
const Inspection = "inspection"

var found = words.Plain("case_bulged", "case_cracked", "leaking", "loose_hold_down", "loose_clamp", "clamp_not_seated",
	"corrosion_live", "corrosion_earth", "cable_frayed", "strands_green", "earth_strap_bad", "belt_slack",
	"rotten_egg_smell", "plates_dry", "cover_missing", "vent_tube_off", "frozen", "wet_lid", "clean")

func init() {
	register(Station{
		Code: Inspection, Name: "Looked", Hint: "case, posts, clamps, cables, hold-down", Minutes: 3,
		Fields: []Field{{Name: "found", Label: "Found", Shape: list(30), Need: true, Words: found}},
		Judge:  judgeInspection,
	})
}

// Hazards in the case itself, with the words that finish "Stop. …".
var caseHazards = []struct{ found, words string }{
	{"frozen", "It is frozen"},
	{"case_bulged", "The case is bulged"},
	{"case_cracked", "The case is cracked"},
	{"leaking", "It is leaking"},
}

var contactFaults = []string{"corrosion_live", "corrosion_earth", "loose_clamp", "clamp_not_seated"}

func judgeInspection(in Before, r reading.Reading) bench.Fact {
	seen := r.Words("found")
	fact := bench.Fact{}
	for _, h := range caseHazards {
		if !slices.Contains(seen, h.found) {
			continue
		}
		fact.Hazard = words.Say(h.words)
		fact.Ice = fact.Ice || h.found == "frozen"
		fact.Findings = append(fact.Findings, bench.Finding{
			Code:     "inspection." + h.found,
			Level:    bench.Stopped,
			Readings: []int{in.Reading},
			Rule:     "safety.case",
			Source:   bench.Practice,
			Text:     words.Say(saysCaseHazard, "hazard", h.words),
			Why:      words.Say(whyCaseHazard),
		})
	}
	var faults []words.Text
	for _, f := range contactFaults {
		if slices.Contains(seen, f) {
			faults = append(faults, words.Say(found.Said(f)))
		}
	}
	if len(faults) > 0 {
		fact.Dirty = &bench.Finding{
			Code:     "contacts.clean_first",
			Level:    bench.Act,
			Readings: []int{in.Reading},
			Rule:     "contacts.clean_first",
			Source:   bench.Practice,
			Text:     words.Say(saysContacts, "faults", faults),
			Why:      words.Say(whyContacts),
		}
	}
	return fact
}

const (
	saysCaseHazard = "{hazard}. Do not charge, load or jump it: replace it."
	whyCaseHazard  = "Charging or cranking it can burst it or spray acid."
	saysContacts   = "Clean and tighten first: {faults}."
	whyContacts    = "A bad contact spoils every reading taken through it."
)
