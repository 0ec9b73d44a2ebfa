package station

import (
	"math"

	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Eye is the colour of the built-in hydrometer.
const Eye = "eye"

// An eye turns green at about 65 % charge, give or take; its one cell is not the
// others. Common practice, no source.
const (
	eyeGreenPct  = 65.0
	eyeSpreadPct = 8.0
)

var colours = words.ListOf(
	words.Term{Code: "green", Word: "Green"},
	words.Term{Code: "dark", Word: "Dark"},
	words.Term{Code: "clear", Word: "Clear"},
	words.Term{Code: "yellow", Word: "Light yellow", Said: "yellow"},
)

func init() {
	register(Station{
		Code: Eye, Place: 55, Name: "Eye", Hint: "colour of the built-in hydrometer", Minutes: 1,
		Fits: func(b *bench.Bench) bool { return b.Case.Battery.Eye }, Advise: adviseEye, Sum: sumEye,
	}, Kind{
		Code: Eye, Name: "Eye", Hint: "colour of the built-in hydrometer", Minutes: 1,
		Fields: []Field{{Name: "colour", Label: "Colour", Need: true, Words: colours}},
		Judge:  judgeEye, Expect: expectEye,
	})
}

func adviseEye(*bench.Bench) Advice {
	return Advice{Level: bench.OK, Ways: []Way{{Code: Eye, Word: "Eye", Kind: Eye, Do: words.Say(doEye)}}}
}

func sumEye(b *bench.Bench) (bench.Level, words.Text) {
	for i := len(b.Case.Readings) - 1; i >= 0; i-- {
		if r := b.Case.Readings[i]; r.Kind == Eye {
			colour := r.Word("colour")
			level := map[string]bench.Level{"green": bench.OK, "dark": bench.Act}[colour]
			if level == "" {
				level = bench.Stopped
			}
			return level, words.Say(colour)
		}
	}
	return bench.Note, words.Text{}
}

// expectEye: green above the charge at which the ball floats, dark below it,
// clear where the acid has sunk under the eye.
func expectEye(w World, _ reading.Reading) []Prediction {
	if !w.Battery.Chemistry.Liquid() {
		return nil
	}
	if wet := w.Battery.Groups[0].Wet; wet < 1 {
		return []Prediction{{Field: "colour", Words: map[string]float64{"clear": 1}}}
	}
	green := 1 / (1 + math.Exp(-1.7*(w.SOC-eyeGreenPct)/eyeSpreadPct)) // a logistic curve close to the normal one
	return []Prediction{{Field: "colour", Words: map[string]float64{"green": green, "dark": 1 - green}}}
}

func judgeEye(in Before, r reading.Reading) bench.Fact {
	f := bench.Finding{
		Readings: []int{in.Reading},
		Rule:     "eye.colour",
		Why:      words.Say(whyOneCell),
		Source:   bench.Practice,
	}
	switch colour := r.Word("colour"); colour {
	case "clear", "yellow":
		f.Code, f.Level, f.Rule = "eye.clear", bench.Stopped, "safety.eye"
		f.Text, f.Why = words.Say(saysClear, "colour", colour), words.Say(whyClear)
		return bench.Fact{Findings: []bench.Finding{f}, Hazards: []bench.Hazard{{
			Code: bench.HazardEye, Name: words.Say(hazardEye, "colour", colour), First: "replace", Stops: true,
		}}}
	case "dark":
		f.Code, f.Level, f.Text = "eye.dark", bench.Act, words.Say(saysDark)
	default:
		f.Code, f.Level, f.Text = "eye.green", bench.OK, words.Say(saysGreen)
	}
	return bench.Fact{Findings: []bench.Finding{f}, Eye: r.Word("colour"), Clears: []string{bench.HazardEye}}
}

const (
	hazardEye = "The eye is {colour}"
	saysClear = "The eye is {colour}: acid below the eye. Do not charge, load or jump it: replace it."
	whyClear  = "Low acid leaves gas space over bare plates; a spark inside can burst it. Shade the case and rock " +
		"it gently if unsure."
	saysDark   = "The eye is dark: under about 65 %."
	saysGreen  = "The eye is green: about 65 % or more."
	doEye      = "Wipe it, tap or rock gently, and shade the case from light at the side: light through it makes a dark eye look clear."
	whyOneCell = "It shows one cell only."
)
