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

func conductanceKind() Kind {
	return Kind{
		Code: Conductance, Name: "Conductance", Hint: "cranking amps found by an electronic tester", Minutes: 3,
		Fields: []Field{
			{Name: "cca", Label: "Found", Shape: document.Number(0, 3000, "A"), Need: true, Big: true, Example: "480"},
			{Name: "standard", Label: "Standard it was told", Words: rating.StandardWords()},
		},
		Judge: judgeConductance, Expect: expectConductance,
	}
}

// expectConductance: the label's amps by as much as the battery's resistance now,
// contacts included, exceeds that of a new one, the charge taken out by the tester
// as well as testers do: the less charge, the worse.
func expectConductance(w World, _ reading.Reading) []Prediction {
	asNew := w.Battery.Aged(100, 1).Resistance(100, 25)
	full := w.Battery.Resistance(100, 25)
	found := w.Battery.CCA * asNew / (full + w.PostOhms)
	missed := 1 - (full+w.PostOhms)/(w.Battery.Resistance(w.SOC, 25)+w.PostOhms) // what charge alone would take off
	return []Prediction{{Field: "cca", Best: found, Sigma: sigma(testerRepeat*found, missed*found/2)}}
}

// standardOf is the standard a tester is told for this label.
func standardOf(c reading.Case) rating.Standard {
	if s := c.Battery.Rating.Standard; s != "" {
		return s
	}
	return rating.SAE
}

// judgeConductance keeps the figure as a reading of strength: as much as the house
// goes by it.
func judgeConductance(in Before, r reading.Reading) bench.Fact {
	found, given := r.Or("cca", 0), r.Word("standard")
	label := in.Case.Battery.Rating
	sae, ok := label.Label().ToSAE()
	t := &bench.Test{Kind: Conductance, Code: Conductance, Rank: 2, What: "conductance"}
	amps := inSAE(found, given, label.Standard)
	if ok && sae.Amps > 0 && found > 0 {
		t.Own = 100 * amps / sae.Amps
	}
	unlikely := t.Own > 100*mostOfLabel
	if unlikely {
		t.Own = 0
	}
	t.Measure = func(b battery.Battery, at battery.Condition) (battery.Strength, bool) {
		if unlikely {
			return battery.Strength{}, false
		}
		s, err := b.StrengthFromConductance(at, amps, sae.Amps)
		return s, err == nil
	}
	t.Demand = func(charge words.Text) words.Text {
		return words.Say(demandConductance, "amps", measure.Amps(found), "charge", charge)
	}
	return bench.Fact{Test: t, Late: func(b *bench.Bench) []bench.Finding {
		f := bench.Finding{
			Code: "conductance.hint", Level: bench.Note, Readings: []int{in.Reading}, Rule: "strength.conductance",
			Source: bench.Practice,
		}
		switch soc := b.ChargeOf(t); {
		case unlikely:
			f.Code, f.Text, f.Why = "conductance.unlikely", words.Say(saysUnlikely, "amps", measure.Amps(found)), words.Say(whyUnlikely)
		case t.Own == 0:
			f.Text, f.Why = words.Say(saysNoRating), words.Say(whyNoRating)
		case soc == nil:
			f.Text, f.Why = words.Say(saysHintUnknown, "pct", measure.Percents(t.Own)), words.Say(whyHint)
		case soc.Best < battery.LeastConductanceSOC:
			f.Text = words.Say(saysHint, "pct", measure.Percents(t.Own), "charge", bench.SpellCharge(*soc))
			f.Why = words.Say(whyHint)
		default:
			return nil
		}
		return []bench.Finding{f}
	}}
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

const (
	demandConductance = "No load: {amps} found, {charge}"
	saysUnlikely      = "{amps} found: more than any battery of this label has. It is not counted."
	whyUnlikely       = "The tester was told another figure or standard, or the label is another's."
	saysNoRating      = "A conductance figure without a rating to compare it with says nothing."
	whyNoRating       = "Give the tester the label’s figure and standard."
	saysHint          = "{pct} of the label by conductance, at {charge} charged: a hint, not a verdict."
	saysHintUnknown   = "{pct} of the label by conductance, at a charge nobody knows: a hint, not a verdict."
	whyHint           = "Testers take the charge out themselves, badly when it is low. Charge it and test again."
)
