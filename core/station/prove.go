package station

import (
	"slices"

	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Prove is where it is shown that the complaint is gone.
const Prove = "prove"

// Proven is the reading of the last try: stopped and started again, with what it came for
// tried once more.
const Proven = "proof"

// How it started again, and what became of the complaint.
const (
	AtOnce   = "at_once"
	Slowly   = "slowly"
	Refused  = "no"
	Gone     = "gone"
	Still    = "still"
	NotTried = "not_tried"
)

var (
	restarts = words.ListOf(
		words.Term{Code: AtOnce, Word: "At once", Said: "starts at once"},
		words.Term{Code: Slowly, Word: "Slowly", Said: "starts slowly"},
		words.Term{Code: Refused, Word: "Not at all", Said: "does not start"})
	warnings = words.ListOf(
		words.Term{Code: "none", Word: "None", Said: "no warning lights"},
		words.Term{Code: "on", Word: "Some stay on", Said: "warning lights on"})
	gone = words.ListOf(
		words.Term{Code: Gone, Word: "Gone", Said: "what it came for is gone"},
		words.Term{Code: Still, Word: "Still there", Said: "what it came for is still there"},
		words.Term{Code: NotTried, Word: "Could not be tried", Said: "what it came for could not be tried"})
)

func init() {
	register(Station{
		Code: Prove, Place: 130, Name: "Prove it", Hint: "stop, start again, try what it came for", Minutes: 10,
		Sum: sumProof, Advise: adviseProof, Cautions: proofCautions,
	}, Kind{
		Code: Proven, Name: "Proof", Hint: "stopped, and started again", Minutes: 5,
		Fields: []Field{
			{Name: "restart", Label: "Stopped, then started again", Need: true, Words: restarts},
			{Name: "warning_lights", Label: "Warning lights", Words: warnings},
			{Name: "complaint", Label: "What it came for, tried again", Words: gone},
		},
		Judge: judgeProof,
	})
}

// judgeProof says what the try showed. A battery is judged by its tests: a start adds
// nothing to those, and takes nothing from them.
func judgeProof(in Before, r reading.Reading) bench.Fact {
	var fact bench.Fact
	say := func(code string, level bench.Level, text, why string) {
		fact.Findings = append(fact.Findings, bench.Finding{
			Code: code, Level: level, Readings: []int{in.Reading}, Rule: "proof.restart", Source: bench.Practice,
			Text: words.Say(text), Why: words.Say(why),
		})
	}
	switch r.Word("restart") {
	case AtOnce:
		say("proof.started", bench.OK, saysStarted, whyStarted)
	case Slowly:
		say("proof.slow", bench.Act, saysStartsSlowly, whyStartsSlowly)
	case Refused:
		say("proof.no_start", bench.Act, saysNoStart, whyNoStart)
	}
	if r.Word("warning_lights") == "on" {
		say("proof.lights", bench.Act, saysLights, whyLights)
	}
	switch r.Word("complaint") {
	case Gone:
		say("proof.gone", bench.OK, saysGone, whyGone)
	case Still:
		say("proof.still", bench.Act, saysStill, whyStill)
	case NotTried:
		say("proof.not_tried", bench.Note, saysNotTried, whyNotTried)
	}
	return fact
}

// sumProof is the last try in a line.
func sumProof(b *bench.Bench) (bench.Level, words.Text) {
	for _, r := range slices.Backward(b.Case.Readings) {
		if r.Kind != Proven {
			continue
		}
		level := bench.OK
		for _, f := range judgeProof(Before{Case: b.Case}, r).Findings {
			if f.Level == bench.Act {
				level = bench.Act
			}
		}
		return level, Tell(r).How
	}
	return bench.Note, words.Text{}
}

// adviseProof leaves out what this vehicle cannot be asked.
func adviseProof(b *bench.Bench) Advice {
	way := Way{Code: Proven, Word: "Proof", Kind: Proven, Do: words.Say(doProof)}
	hint := hintRestart
	if b.Case.Vehicle.Electric() {
		way.Do, hint = words.Say(doProofReady), hintReady
	}
	way.Fields = append(way.Fields, FieldAdvice{Name: "restart", Hint: words.Say(hint)})
	if !Warns(b.Case.Vehicle) {
		way.Fields = append(way.Fields, FieldAdvice{Name: "warning_lights", Hidden: true})
	}
	if len(b.Case.Complaint) == 0 {
		way.Fields = append(way.Fields, FieldAdvice{Name: "complaint", Hidden: true})
	} else {
		way.Fields = append(way.Fields, FieldAdvice{Name: "complaint", Need: true,
			Hint: words.Say(hintComplaint, "complaint", Complained(b.Case.Complaint))})
	}
	a := Advice{Level: bench.OK, Ways: []Way{way}}
	unsafe(b, &a)
	return a
}

// Warns reports whether a vehicle has warning lights worth a look. Common practice, no source.
func Warns(v reading.Vehicle) bool {
	return !slices.Contains([]string{"mower", "tractor", "classic"}, v.Class)
}

func proofCautions(b *bench.Bench) []string {
	if b.Case.Vehicle.Electric() {
		return []string{"high_voltage"}
	}
	return []string{"running_engine", "cranking"}
}

const (
	doProof       = "Stop the engine, wait a minute, start it again where help is near. Then try what it came for."
	doProofReady  = "Switch it off, lock it, wait two minutes, wake it again. Then try what it came for."
	hintRestart   = "without a pack, a booster or a charger on it"
	hintReady     = "its ready lamp comes on"
	hintComplaint = "it came for: {complaint}"

	saysStarted      = "Stopped and started again: it starts at once."
	whyStarted       = "A start on its own, after the work, is what was asked for."
	saysStartsSlowly = "Stopped and started again: it starts slowly."
	whyStartsSlowly  = "Charge, contacts and starter: something still takes volts. Read the volts while it cranks."
	saysNoStart      = "Stopped, it does not start again."
	whyNoStart       = "It is not mended. It goes nowhere before the reason is found."
	saysLights       = "Warning lights stay on."
	whyLights        = "Charging, brakes and steering watch the volts too. Read what is stored before it goes."
	saysGone         = "What it came for was tried again, and is gone."
	whyGone          = "It was tried the way it was complained of."
	saysStill        = "What it came for is still there."
	whyStill         = "The battery was part of it at most. Look at what else explains it."
	saysNotTried     = "What it came for could not be tried here."
	whyNotTried      = "Some show only in the cold, or after a night. Say so when it is handed over."
)
