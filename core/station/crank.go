package station

import (
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Crank is the lowest volts while the engine is cranked.
const Crank = "crank"

// A starter's lowest volts come with its first surge, which a clamp reading the
// steady draw does not show: about 1.6 times as much, within half either way.
// From memory; published starter traces show 1.5 to 3 times.
const (
	surge        = 1.6
	surgeSpread  = 0.5
	surgeSeconds = 1
)

func init() {
	register(Station{
		Code: Crank, Name: "Crank", Hint: "lowest volts while it cranks", Minutes: 5,
		Fields: []Field{
			{
				Name:    "volts_min",
				Label:   "Lowest volts",
				Shape:   postVolts(),
				Need:    true,
				Big:     true,
				Digits:  2,
				Example: "10.20",
				Posts:   true,
			},
			{Name: "seconds", Label: "Cranked for", Shape: document.Number(0, 60, "s")},
			{Name: "amps", Label: "Starter draw", Shape: document.Number(0, 3000, "A")},
			{
				Name:  "turned",
				Label: "It turned",
				Words: words.ListOf(words.Term{Code: "normal", Word: "Normally"},
					words.Term{Code: "slow", Word: "Slowly"}, words.Term{Code: "no", Word: "Not at all"}),
			},
		},
		Judge: judgeCrank, Expect: expectCrank,
	})
}

// expectCrank: the volts at the posts under the starter's first surge, and the
// draw a clamp shows when it turns steadily.
func expectCrank(w World, _ reading.Reading) []Prediction {
	if w.StarterAmps <= 0 {
		return nil
	}
	v, u := w.endVolts(surge*w.StarterAmps, surgeSeconds, surgeSpread)
	return []Prediction{{Field: "volts_min", Best: v, Sigma: sigma(meterSigma(v), u)},
		{Field: "amps", Best: w.StarterAmps, Sigma: readAmps * w.StarterAmps}}
}

// judgeCrank keeps the crank as a reading of strength where its amps are known;
// no verdict rests on it alone.
func judgeCrank(in Before, r reading.Reading) bench.Fact {
	steady := r.Or("amps", 0)
	t := &bench.Test{Kind: Crank, Code: Crank, Rank: 3, What: "crank"}
	t.Measure = func(b battery.Battery, at battery.Condition) (battery.Strength, bool) {
		if steady <= 0 {
			return battery.Strength{}, false
		}
		s, err := b.StrengthFromLoad(at, battery.Discharge{
			Amps:       surge * steady,
			Seconds:    surgeSeconds,
			Volts:      r.Or("volts_min", 0),
			AmpsSpread: surgeSpread,
		})
		return s, err == nil
	}
	t.Demand = func(charge words.Text) words.Text {
		return words.Say(demandCrank, "surge", measure.Amps(surge*steady), "steady", measure.Amps(steady),
			"charge", charge)
	}
	return bench.Fact{Test: t, Unjudged: true}
}

const demandCrank = "About {surge} at the first surge, for {steady} steady; {charge}"
