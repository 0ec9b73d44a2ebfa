package station

import (
	"slices"

	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Cleaned is what was cleaned.
const Cleaned = "cleaned"

var cleanedParts = words.Plain("posts", "clamps", "lid", "tray")

func init() {
	register(Station{
		Code: Cleaned, Name: "Cleaned", Hint: "posts, clamps, lid, tray", Minutes: 20,
		Fields: []Field{{Name: "what", Label: "Cleaned", Shape: list(10), Need: true, Words: cleanedParts}},
		Judge:  judgeCleaned,
	})
}

func judgeCleaned(in Before, r reading.Reading) bench.Fact {
	what := r.Words("what")
	var parts []words.Text
	for _, w := range what {
		parts = append(parts, words.Say(cleanedParts.Said(w)))
	}
	return bench.Fact{
		Cleans: slices.Contains(what, "posts") || slices.Contains(what, "clamps"),
		Findings: []bench.Finding{{
			Code:     "cleaned.done",
			Level:    bench.OK,
			Readings: []int{in.Reading},
			Source:   bench.Practice,
			Text:     words.Say(saysCleaned, "parts", parts),
			Why:      words.Say(whyCleaned),
		}},
	}
}

const (
	saysCleaned = "Cleaned: {parts}."
	whyCleaned  = "What was read before through dirty contacts is judged as of then."
)
