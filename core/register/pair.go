package register

import (
	"math"

	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// PairSays is what two batteries that carry one vehicle are as a pair.
type PairSays struct {
	Level  bench.Level `json:"level" enum:"ok,note,act,stop"`
	Text   words.Text  `json:"text"`
	Differ float64     `json:"differ_pct" doc:"by how much their strengths differ, percent of the label"`
}

// From where a pair is no longer one, percent of the label, and from where it is watched;
// years by which they may differ in age. Common practice, no source: they are replaced
// together.
const (
	apartPct   = 15.0
	watchedPct = 8.0
	apartYears = 1.0
)

// Pair judges two batteries as the pair they are. They are tested apart; the weaker one
// is what the vehicle starts on, and drags the other down.
func Pair(a, b Life) PairSays {
	if a.Now == nil || b.Now == nil || !a.Tested || !b.Tested {
		return PairSays{bench.Note, words.Say(saysTestBoth), 0}
	}
	d := math.Abs(a.Now.Best - b.Now.Best)
	out := PairSays{bench.OK, words.Say(saysPair, "differ", measure.Percents(d)), d}
	years := math.Abs(a.Years - b.Years)
	switch {
	case d >= apartPct:
		out.Level, out.Text = bench.Act, words.Say(saysApart, "differ", measure.Percents(d))
	case d >= watchedPct:
		out.Level, out.Text = bench.Note, words.Say(saysWatched, "differ", measure.Percents(d))
	case a.Years > 0 && b.Years > 0 && years >= apartYears:
		out.Level, out.Text = bench.Note, words.Say(saysAges, "years", measure.Of(years, measure.None, 1))
	}
	return out
}

const (
	saysPair     = "A pair: they differ by {differ} of the label."
	saysWatched  = "They differ by {differ} of the label: test both again before the cold."
	saysApart    = "They differ by {differ} of the label: the weaker drags the other down. Replace both together."
	saysAges     = "As strong as each other, but {years} years apart: they will not wear alike."
	saysTestBoth = "Test both, each with its cable off: a pair is judged by its weaker one."
)
