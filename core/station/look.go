package station

import (
	"slices"
	"strings"

	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Look is what is seen before anything is measured.
const Look = "look"

// Kinds of reading taken where one looks.
const (
	Inspection = "inspection"
	Override   = "override" // a lead lifts a hazard that stops the work, with a reason
)

// Found is the vocabulary of what can be seen, in the order it is looked for.
var found = words.ListOf(
	words.Term{Code: "case_bulged", Word: "Case bulged"},
	words.Term{Code: "case_cracked", Word: "Case cracked"},
	words.Term{Code: "leaking", Word: "Leaks at a seam, post or crack", Said: "leaking"},
	words.Term{Code: "frozen", Word: "Frozen"},
	words.Term{Code: "plates_dry", Word: "Plates dry"},
	words.Term{Code: "rotten_egg_smell", Word: "Smells of rotten eggs", Said: "smell of rotten eggs"},
	words.Term{Code: "wet_vents", Word: "A little wet at the vents", Said: "wet at the vents"},
	words.Term{Code: "wet_lid", Word: "Lid wet or dirty", Said: "wet lid"},
	words.Term{Code: "corrosion_live", Word: "Crust, live clamp", Said: "crust on the live clamp"},
	words.Term{Code: "corrosion_earth", Word: "Crust, earthed clamp", Said: "crust on the earthed clamp"},
	words.Term{Code: "film_live", Word: "Dull film, live clamp", Said: "dull film on the live clamp"},
	words.Term{Code: "film_earth", Word: "Dull film, earthed clamp", Said: "dull film on the earthed clamp"},
	words.Term{Code: "loose_clamp", Word: "A clamp turns by hand", Said: "loose clamp"},
	words.Term{Code: "clamp_not_seated", Word: "A clamp not fully down", Said: "clamp not fully down"},
	words.Term{Code: "clamp_eaten", Word: "A clamp eaten thin", Said: "clamp eaten thin"},
	words.Term{Code: "strands_green", Word: "Green in the strands", Said: "green strands"},
	words.Term{Code: "cable_frayed", Word: "Cable frayed", Said: "frayed cable"},
	words.Term{Code: "earth_strap_bad", Word: "Earth strap bad", Said: "bad earth strap"},
	words.Term{Code: "belt_slack", Word: "Belt slack or worn", Said: "slack belt"},
	words.Term{Code: "loose_hold_down", Word: "Hold-down loose", Said: "loose hold-down"},
	words.Term{Code: "vent_tube_off", Word: "Vent tube off", Said: "vent tube off"},
	words.Term{Code: "cover_missing", Word: "Cover missing", Said: "cover missing"},
	words.Term{Code: "tray_acid", Word: "Acid on the tray", Said: "acid on the tray"},
	words.Term{Code: "clean", Word: "Nothing wrong", Said: "nothing wrong"},
)

// Asked is the one question of every job before any charge or load, in its four
// parts.
var asked = words.ListOf(
	words.Term{Code: "whole", Word: "Whole", Against: []string{"case_bulged", "case_cracked"}},
	words.Term{Code: "dry", Word: "Dry", Against: []string{"leaking"}},
	words.Term{Code: "not_frozen", Word: "Not frozen", Against: []string{"frozen"}},
	words.Term{Code: "no_smell", Word: "No smell", Against: []string{"rotten_egg_smell"}})

// hazardsSeen are the hazards that looking finds, with the words that finish
// "Stop. …".
var hazardsSeen = []struct {
	found, name, text, why, first string
	stops                         bool
}{
	{"frozen", "It is frozen", saysFrozenSeen, whyFrozenSeen, "thaw", true},
	{"case_bulged", "The case is bulged", saysCaseHazard, whyBulged, "replace", true},
	{"case_cracked", "The case is cracked", saysCaseHazard, whyCaseHazard, "replace", true},
	{"leaking", "It is leaking", saysCaseHazard, whyCaseHazard, "replace", true},
	{"rotten_egg_smell", "It smells of rotten eggs", saysSmell, whySmell, "air", false},
	{"plates_dry", "The plates are dry", saysDry, whyDry, "water", false},
}

// HazardsThatStop are the codes a lead can override.
func HazardsThatStop() []string {
	out := []string{bench.HazardEye, bench.HazardDry}
	for _, h := range hazardsSeen {
		if h.stops {
			out = append(out, h.found)
		}
	}
	return out
}

var contactFaults = []string{"corrosion_live", "corrosion_earth", "film_live", "film_earth", "loose_clamp",
	"clamp_not_seated", "clamp_eaten"}

// faultsSeen are things outside the battery that looking finds: as an order, with
// the reason, and whether they explain a complaint or why it went flat.
var faultsSeen = []struct {
	found, name, why string
	explains, flat   bool
}{
	{"strands_green", "Replace the cable: green in its strands", whyGreen, true, false},
	{"earth_strap_bad", "Replace the strap from engine to body", whyStrap, true, false},
	{"belt_slack", "Set or replace the belt", whyBelt, true, true},
	{"clamp_eaten", "Replace the cable end", whyEaten, false, false},
	{"cable_frayed", "Make the frayed cable safe", whyFrayed, false, false},
	{"loose_hold_down", "Fix the hold-down", whyHoldDown, false, false},
	{"vent_tube_off", "Fit the vent tube", whyVent, false, false},
	{"cover_missing", "Fit the cover", whyCover, false, false},
	{"wet_vents", "Wipe the vents and watch them", whyWetVents, false, false},
	{"wet_lid", "Clean the lid", whyWetLid, false, false},
	{"tray_acid", "Clean the tray, and find where the acid came from", whyTray, false, false},
}

func init() {
	hazards := []words.Term{{Code: bench.HazardEye, Word: "Eye clear"}}
	for _, h := range hazardsSeen {
		if h.stops || h.found == bench.HazardDry {
			hazards = append(hazards, words.Term{Code: h.found, Word: found.Word(h.found)})
		}
	}
	register(Station{
		Code: Look, Place: 20, Name: "Look", Hint: "case, posts, clamps, cables, hold-down", Minutes: 3,
		Sum: sumLook, Advise: adviseLook,
		Cautions: func(b *bench.Bench) []string {
			if _, stopped := b.Stopped(); stopped {
				return []string{"leak"}
			}
			return []string{"acid"}
		},
	}, Kind{
		Code: Inspection, Name: "Looked", Hint: "case, posts, clamps, cables, hold-down", Minutes: 2,
		Fields: []Field{
			{Name: "found", Label: "Found", Shape: list(30), Need: true, Words: found},
			{Name: "checked", Label: "Whole, dry, not frozen, no smell", Shape: list(4), Words: asked, Unsaid: true},
		},
		Judge: judgeInspection,
	}, Kind{
		Code: Override, Name: "Stop lifted", Hint: "a lead goes on in spite of a hazard", Minutes: 1,
		Fields: []Field{
			{Name: "hazard", Label: "Hazard", Shape: list(6), Need: true, Words: words.ListOf(hazards...)},
			{Name: "reason", Label: "Reason", Shape: document.Text(300), Need: true, Said: "“{value}”"},
		},
		Judge: judgeOverride,
	})
}

func judgeInspection(in Before, r reading.Reading) bench.Fact {
	seen, checked := r.Words("found"), r.Words("checked")
	here := []int{in.Reading}
	fact := bench.Fact{}
	has := func(code string) bool { return slices.Contains(seen, code) }
	fine := func(code string) bool { return slices.Contains(checked, code) || has("clean") }
	for _, h := range hazardsSeen {
		if !has(h.found) {
			continue
		}
		hazard := bench.Hazard{Code: h.found, Name: words.Say(h.name), First: h.first, Stops: h.stops}
		if h.found == bench.HazardDry && !in.Case.Battery.Opens() {
			hazard.Stops, hazard.First = true, "replace" // nobody can water it
		}
		fact.Hazards = append(fact.Hazards, hazard)
		level := bench.Act
		if hazard.Stops {
			level = bench.Stopped
		}
		fact.Findings = append(fact.Findings, bench.Finding{
			Code: "inspection." + h.found, Level: level, Readings: here, Rule: "safety.case", Source: bench.Practice,
			Text: words.Say(h.text, "hazard", h.name), Why: words.Say(h.why),
		})
	}
	// What is seen to be over is over; a crack does not heal.
	if fine("no_smell") && !has(bench.HazardGas) {
		fact.Clears = append(fact.Clears, bench.HazardGas)
	}
	if fine("not_frozen") && !has(bench.HazardFrozen) {
		fact.Clears = append(fact.Clears, bench.HazardFrozen)
	}
	answered := 0
	for _, code := range asked.Codes() {
		if fine(code) {
			answered++
		}
	}
	// Who notes what he found has looked; a question answered in part has not.
	fact.Looked = answered == len(asked.Codes()) || len(checked) == 0 || len(fact.Hazards) > 0
	var faults []words.Text
	for _, f := range contactFaults {
		if has(f) {
			faults = append(faults, words.Say(found.Said(f)))
		}
	}
	if len(faults) > 0 {
		fact.Dirty = &bench.Finding{
			Code:     "contacts.clean_first",
			Level:    bench.Act,
			Readings: here,
			Rule:     "contacts.clean_first",
			Source:   bench.Practice,
			Text:     words.Say(saysContacts, "faults", faults),
			Why:      words.Say(whyContacts),
		}
	}
	for _, f := range faultsSeen {
		if !has(f.found) {
			continue
		}
		fact.Faults = append(fact.Faults, bench.Fault{Code: f.found, Name: words.Say(f.name), Explains: f.explains, Why: f.flat})
		level := bench.Note
		if f.explains {
			level = bench.Act
		}
		fact.Findings = append(fact.Findings, bench.Finding{
			Code: "inspection." + f.found, Level: level, Readings: here, Rule: "look." + f.found, Source: bench.Practice,
			Text: words.Say("{name}.", "name", f.name), Why: words.Say(f.why),
		})
	}
	if live, earthed := has("corrosion_live"), has("corrosion_earth"); live || earthed {
		// It is the post that tells, and which one is live is the vehicle's affair.
		hint := saysCrustPlus
		side := "live"
		if earthed {
			side = "earthed"
		}
		switch {
		case live && earthed:
			hint = saysCrustBoth
		case live == (in.Case.Vehicle.Earth == "positive"):
			hint = saysCrustMinus
		}
		fact.Findings = append(fact.Findings, bench.Finding{
			Code: "inspection.crust", Level: bench.Note, Readings: here, Rule: "look.crust", Source: bench.Practice,
			Text: words.Say(hint, "side", side), Why: words.Say(whyCrust),
		})
	}
	return fact
}

func judgeOverride(in Before, r reading.Reading) bench.Fact {
	var names []words.Text
	codes := r.Words("hazard")
	for _, code := range codes {
		names = append(names, words.Say(found.Said(code)))
	}
	return bench.Fact{
		Lifts: codes,
		Findings: []bench.Finding{{
			Code: "safety.override", Level: bench.Act, Readings: []int{in.Reading}, Rule: "safety.override", Source: bench.Judged,
			Text: words.Say(saysOverride, "hazards", names, "reason", r.Word("reason")), Why: words.Say(whyOverride),
		}},
	}
}

// adviseLook asks the question of every job, and offers a lead to lift a stop.
func adviseLook(b *bench.Bench) Advice {
	a := Advice{Level: bench.OK, Ways: []Way{{Code: Inspection, Word: "Look", Kind: Inspection}}}
	if h, ok := b.Stopped(); ok {
		a.Level, a.Text = bench.Stopped, words.Say(adviceStopped, "hazard", h.Name)
		var codes []string
		for _, h := range b.Hazards {
			if h.Stops {
				codes = append(codes, h.Code)
			}
		}
		a.Ways = append(a.Ways, Way{Code: Override, Word: "Lift the stop", Kind: Override, Do: words.Say(doOverride),
			Fields: []FieldAdvice{{Name: "hazard", Word: strings.Join(codes, " ")}}})
	} else if !b.Looked {
		a.Text = words.Say(adviceAsk)
	}
	return a
}

// sumLook gives what was found in a line.
func sumLook(b *bench.Bench) (bench.Level, words.Text) {
	var all []words.Text
	level := bench.OK
	for i := len(b.Case.Readings) - 1; i >= 0; i-- {
		r := b.Case.Readings[i]
		if r.Kind != Inspection {
			continue
		}
		for _, f := range r.Words("found") {
			if f != "clean" {
				all = append(all, words.Say(found.Said(f)))
			}
		}
		break
	}
	switch _, stopped := b.Stopped(); {
	case stopped:
		level = bench.Stopped
	case len(all) > 0:
		level = bench.Act
	}
	if len(all) == 0 {
		if !b.Looked {
			return level, words.Text{}
		}
		return level, words.Say(sumFine)
	}
	return level, words.Say("{all}", "all", all)
}

const (
	saysCaseHazard = "{hazard}. Do not charge, load or jump it: replace it."
	whyCaseHazard  = "Charging or cranking it can burst it or spray acid. Soda and gloves first; lift it in a tray."
	whyBulged      = "It has been frozen or cooked: charging or cranking it can burst it."
	saysFrozenSeen = "It is frozen. Do not charge, load or jump it: let it thaw, then look for a split or bulged case."
	whyFrozenSeen  = "Ice can hold a split case together until it melts, and a frozen cell can burst on charge."
	saysSmell      = "It smells of rotten eggs: it gasses. Air the place, let it cool, and find out why before anything else."
	whySmell       = "The gas burns and poisons: overcharged, overheated or a cell shorted. No sparks, no clamps."
	saysDry        = "The plates are dry: distilled water to just over the plates before anything else."
	whyDry         = "Bare plates heat and spark under gas when charged, loaded or jumped. Fill to the mark after charging."
	saysContacts   = "Clean and tighten first: {faults}."
	whyContacts    = "A bad contact spoils every reading taken through it."
	whyGreen       = "Corrosion has gone up the strands: the cable is finished. Replace it, do not splice it."
	whyStrap       = "The starter's current comes back through it; a bad one looks like a weak battery."
	whyBelt        = "A slipping belt does not charge."
	whyEaten       = "A thin clamp cannot be tightened. Bolt-on ends are for the roadside."
	whyFrayed      = "Bare copper on the body is a short circuit through the whole battery."
	whyHoldDown    = "Shaking sheds the plates, and a loose battery can reach metal."
	whyVent        = "Its gas and acid mist must be led away."
	whyCover       = "A spanner across open posts welds."
	whyWetVents    = "Tipping or overcharging. At the vents only it is not a scrapped battery; at a seam, post or crack it is."
	whyWetLid      = "A film of dirt and acid carries current from post to post: a drain of milliamps, for ever."
	whyTray        = "Tipping, overcharge or a cracked case."
	saysCrustPlus  = "Crust at the {side} clamp, the + post: perhaps overcharged. Look at the charging volts."
	saysCrustMinus = "Crust at the {side} clamp, the − post: perhaps undercharged. Look at the charging volts."
	saysCrustBoth  = "Crust at both clamps. Look at the charging volts."
	whyCrust       = "Weak evidence, and used as such."
	saysOverride   = "A lead goes on in spite of: {hazards}. Reason: {reason}"
	whyOverride    = "The hazard stays on record. Everything that follows is that lead's decision."

	adviceStopped = "{hazard}. Nothing is charged, loaded or jumped. Only a lead can lift this, with a reason."
	adviceAsk     = "One question before any charge or load: whole, dry, not frozen, no smell?"
	doOverride    = "For a lead: say why it is safe to go on. It stays on record with your name."
	sumFine       = "nothing wrong"
)
