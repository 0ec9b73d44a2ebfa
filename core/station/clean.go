package station

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Clean is where contacts and lid are made good before anything is measured
// through them.
const Clean = "clean"

// Kinds of reading taken where one cleans.
const (
	LidLeakage = "lid_leakage"
	Cleaned    = "cleaned"
	PutRight   = "put_right"
)

var cleanedParts = words.ListOf(
	words.Term{Code: "posts", Word: "Posts"}, words.Term{Code: "clamps", Word: "Clamps"},
	words.Term{Code: "lid", Word: "Lid"}, words.Term{Code: "tray", Word: "Tray"})

// mended is what can be put right, with the faults and hazards that ends.
var mended = []struct {
	code, word string
	ends       []string
}{
	{"watered", "Watered", []string{bench.HazardDry}},
	{"aired", "Aired and found why", []string{bench.HazardGas}},
	{"cooled", "Cooled down", []string{bench.HazardHot}},
	{"thawed", "Thawed and looked", []string{bench.HazardIce, bench.HazardFrozen}},
	{"tightened", "Clamps tightened", []string{}},
	{"hold_down", "Hold-down fixed", []string{"loose_hold_down"}},
	{"vent_tube", "Vent tube fitted", []string{"vent_tube_off"}},
	{"cover", "Cover fitted", []string{"cover_missing"}},
	{"vents", "Vents wiped", []string{"wet_vents"}},
	{"cable", "Cable or end replaced", []string{"strands_green", "cable_frayed", "clamp_eaten", "path_live", "path_earth", "joint"}},
	{"earth_strap", "Earth strap replaced", []string{"earth_strap_bad", "path_earth"}},
	{"belt", "Belt set", []string{"belt_slack", "undercharging"}},
	{"starter", "Starter mended", []string{"starter", "starter_silent"}},
	{"alternator", "Charging mended", []string{"undercharging", "overcharging"}},
	{"drain", "Drain found and stopped", []string{FaultDrain}},
}

// Volts from a post to the lid from which a film is bad, and from where it is
// worth noting. Common practice, no source.
const (
	lidBad  = 0.5
	lidNote = 0.1
)

func init() {
	var terms []words.Term
	for _, m := range mended {
		terms = append(terms, words.Term{Code: m.code, Word: m.word})
	}
	register(Station{
		Code: Clean, Place: 30, Name: "Clean", Hint: "lid and contacts, before volts are believed", Minutes: 15,
		Sum: sumClean, Gauges: lidGauges, Advise: adviseClean, Cautions: always("acid", "cleaning"),
	}, Kind{
		Code: LidLeakage, Name: "Lid leakage", Hint: "volts between a post and the lid", Minutes: 2,
		Fields: []Field{
			{Name: "volts", Label: "Post to lid, the highest", Shape: dropVolts(), Need: true, Big: true, Digits: 2, Example: "0.10"},
		},
		Judge: judgeLid,
	}, Kind{
		Code: Cleaned, Name: "Cleaned", Hint: "posts, clamps, lid, tray", Minutes: 20,
		Fields: []Field{{Name: "what", Label: "Cleaned", Shape: list(10), Need: true, Words: cleanedParts}},
		Judge:  judgeCleaned,
	}, Kind{
		Code: PutRight, Name: "Put right", Hint: "what was mended", Minutes: 10,
		Fields: []Field{
			{Name: "what", Label: "Put right", Shape: list(15), Need: true, Words: words.ListOf(terms...)},
			{Name: "battery_c", Label: "Battery now", Shape: reading.TempShape(), Said: "battery at {value}"},
		},
		Judge: judgePutRight,
	})
}

func judgeLid(in Before, r reading.Reading) bench.Fact {
	k := in.Case.Volts() / 12
	v := r.Or("volts", 0)
	f := bench.Finding{
		Code: "lid_leakage.clean", Level: bench.OK, Readings: []int{in.Reading}, Rule: "lid_leakage.limit",
		Source: bench.Practice, Text: words.Say(saysLidClean, "volts", measure.Volts(v, 2)), Why: words.Say(whyLid),
	}
	fact := bench.Fact{}
	switch {
	case v >= lidBad*k:
		f.Code, f.Level, f.Text = "lid_leakage.film", bench.Act, words.Say(saysLidBad, "volts", measure.Volts(v, 2))
		fact.Faults = []bench.Fault{{Code: "wet_lid", Name: words.Say(nameLid), Why: true}}
	case v >= lidNote*k:
		f.Code, f.Level, f.Text = "lid_leakage.some", bench.Note, words.Say(saysLidSome, "volts", measure.Volts(v, 2))
		fact.Mends = []string{"wet_lid"}
	default:
		fact.Mends = []string{"wet_lid"}
	}
	fact.Findings = []bench.Finding{f}
	return fact
}

func judgeCleaned(in Before, r reading.Reading) bench.Fact {
	what := r.Words("what")
	var parts []words.Text
	fact := bench.Fact{Hands: true, Cleans: slices.Contains(what, "posts") || slices.Contains(what, "clamps")}
	for _, w := range what {
		parts = append(parts, words.Say(cleanedParts.Said(w)))
		switch w {
		case "lid":
			fact.Mends = append(fact.Mends, "wet_lid", "wet_vents")
		case "tray":
			fact.Mends = append(fact.Mends, "tray_acid")
		case "clamps", "posts":
			fact.Mends = append(fact.Mends, "joint")
		}
	}
	fact.Findings = []bench.Finding{{
		Code:     "cleaned.done",
		Level:    bench.OK,
		Readings: []int{in.Reading},
		Rule:     "contacts.clean_first",
		Source:   bench.Practice,
		Text:     words.Say(saysCleaned, "parts", parts),
		Why:      words.Say(whyCleaned),
	}}
	return fact
}

func judgePutRight(in Before, r reading.Reading) bench.Fact {
	fact := bench.Fact{Hands: true}
	var done []words.Text
	for _, w := range r.Words("what") {
		for _, m := range mended {
			if m.code != w {
				continue
			}
			done = append(done, words.Say(lower(m.word)))
			if w != "watered" || in.Case.Battery.Opens() { // nobody can water a sealed one
				fact.Clears = append(fact.Clears, m.ends...)
			}
			fact.Mends = append(fact.Mends, m.ends...)
			fact.Cleans = fact.Cleans || w == "tightened" || w == "cable"
			fact.Thawed = fact.Thawed || w == "thawed"
		}
	}
	if t, ok := r.Number("battery_c"); ok {
		fact.Warm = &t
	}
	fact.Findings = []bench.Finding{{
		Code: "put_right.done", Level: bench.OK, Readings: []int{in.Reading}, Source: bench.Practice,
		Text: words.Say(saysPutRight, "done", done), Why: words.Say(whyCleaned),
	}}
	return fact
}

func adviseClean(b *bench.Bench) Advice {
	a := Advice{Level: bench.OK, Ways: []Way{
		{Code: LidLeakage, Word: "Lid test", Kind: LidLeakage, Do: words.Say(doLid),
			Fields: []FieldAdvice{{Name: "volts", Hint: words.Say(hintLid)}}},
		{Code: Cleaned, Word: "Cleaned", Kind: Cleaned, Do: words.Say(doClean)},
		{Code: PutRight, Word: "Put right", Kind: PutRight},
	}}
	usual := 0
	if _, ok := b.Elsewhere(); ok {
		usual = 2
	}
	if len(b.Dirty) > 0 {
		usual, a.Level, a.Text = 1, bench.Act, words.Say(adviceDirty)
	}
	if h, ok := b.Held(); ok {
		usual, a.Level, a.Text = 2, bench.Act, words.Say(adviceFirst, "hazard", h.Name)
	}
	a.Ways[0], a.Ways[usual] = a.Ways[usual], a.Ways[0]
	return a
}

// lidGauges shows the leak with its limit, once it was read.
func lidGauges(b *bench.Bench) []bench.Gauge {
	k := b.Case.Volts() / 12
	g := bench.Gauge{
		Quantity: "lid_volts", Name: "Lid leakage", Unit: "V", Digits: 2, Max: 1 * k, Step: 0.1 * k, Level: bench.Note,
		Label:   words.Say(notRead),
		Notches: []bench.Notch{{At: lidBad * k, Word: words.Say(notchLid, "volts", measure.Plain(lidBad*k, 2))}},
	}
	for _, r := range b.Case.Readings {
		if r.Kind != LidLeakage {
			continue
		}
		v := r.Or("volts", 0)
		e := battery.MeterError(v)
		g.Band, g.Shown = &battery.Band{Low: max(0, v-e), Best: v, High: v + e}, true
		g.Label, g.Level = words.Say(labelLid, "volts", measure.Volts(v, 2)), bench.OK
		if v >= lidBad*k {
			g.Level = bench.Act
		}
	}
	return []bench.Gauge{g}
}

// sumClean gives the last thing done or found here.
func sumClean(b *bench.Bench) (bench.Level, words.Text) {
	level, line := bench.OK, words.Text{}
	for _, r := range b.Case.Readings {
		switch r.Kind {
		case LidLeakage:
			g := lidGauges(b)[0]
			level, line = g.Level, g.Label
		case Cleaned, PutRight:
			level, line = bench.OK, Tell(r).Text
		}
	}
	if len(b.Dirty) > 0 {
		level = bench.Act
	}
	return level, line
}

const (
	saysLidClean = "{volts} from post to lid: the lid is clean."
	saysLidSome  = "{volts} from post to lid: a little film, worth a wipe."
	saysLidBad   = "{volts} from post to lid: a bad film. Clean it and test again."
	whyLid       = "Dirt and acid carry current between the posts: near nothing when clean, half a volt and more is bad."
	nameLid      = "Clean the lid: it leaks"
	saysCleaned  = "Cleaned: {parts}."
	whyCleaned   = "What was read before through dirty contacts is judged as of then."
	saysPutRight = "Put right: {done}."
	doLid        = "One probe on a post, the other moved over the lid and the cap seams. Note the highest."
	hintLid      = "near 0 when clean"
	doClean      = "Wipe the lid before any cap is opened. Bright metal all round, no soda into the cells."
	adviceDirty  = "A contact is bad: clean and tighten it, then measure."
	adviceFirst  = "{hazard}: put that right first."
	notchLid     = "bad from {volts}"
	labelLid     = "{volts} from post to lid"
)
