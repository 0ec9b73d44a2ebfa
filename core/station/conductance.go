package station

import (
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Conductance is the figure of a conductance or other electronic tester.
const Conductance = "conductance"

// testerRepeat is ± part between two readings by one electronic tester, one
// standard deviation. From memory.
const testerRepeat = 0.03

func init() {
	register(Station{
		Code: Conductance, Name: "Conductance", Hint: "cranking amps found by an electronic tester", Minutes: 3,
		Fields: []Field{
			{Name: "cca", Label: "Found", Shape: document.Number(0, 3000, "A"), Need: true, Big: true, Example: "480"},
			{Name: "standard", Label: "Standard", Words: rating.StandardWords()},
		},
		Judge: judgeConductance, Expect: expectConductance,
	})
}

// expectConductance: the label's amps by as much as the battery's resistance now,
// contacts included, exceeds that of a new and full one.
func expectConductance(w World, _ reading.Reading) []Prediction {
	asNew := w.Battery.Aged(100, 1).Resistance(100, 25)
	now := w.Battery.Resistance(w.SOC, 25) + w.PostOhms
	found := w.Battery.CCA * asNew / now
	return []Prediction{{Field: "cca", Best: found, Sigma: testerRepeat * found}}
}

// judgeConductance keeps the figure as a reading of strength; no verdict rests on
// it alone.
func judgeConductance(in Before, r reading.Reading) bench.Fact {
	found, given := r.Or("cca", 0), r.Word("standard")
	label := in.Case.Battery.Rating
	t := &bench.Test{Kind: Conductance, Code: Conductance, Rank: 2, What: "conductance"}
	t.Measure = func(b battery.Battery, at battery.Condition) (battery.Strength, bool) {
		sae, _ := label.Label().ToSAE()
		s, err := b.StrengthFromConductance(at, inSAE(found, given, label.Standard), sae.Amps)
		return s, err == nil
	}
	t.Demand = func(charge words.Text) words.Text {
		return words.Say(demandConductance, "amps", measure.Amps(found), "charge", charge)
	}
	return bench.Fact{Test: t, Unjudged: true}
}

// inSAE is a found figure in SAE amps. A tester whose standard nobody noted was
// told the label's.
func inSAE(found float64, given string, label rating.Standard) float64 {
	standard := rating.Standard(given)
	if standard == "" {
		standard = label
	}
	amps, _, err := rating.Convert(found, standard, rating.SAE)
	if err != nil {
		return found
	}
	return amps
}

const demandConductance = "No load: {amps} found, {charge}"
