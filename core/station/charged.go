package station

import (
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Charged is a charge that was given.
const Charged = "charged"

// Ended is how a charge ended.
var ended = words.ListOf(words.Term{Code: "full", Word: "To full"}, words.Term{Code: "stopped", Word: "Stopped early"},
	words.Term{Code: "refused", Word: "It refused"}, words.Term{Code: "hot", Word: "It got hot"})

func init() {
	register(Station{
		Code: Charged, Name: "Charged", Hint: "how the charge ended", Minutes: 1,
		Fields: []Field{
			{Name: "ended", Label: "How the charge ended", Need: true, Words: ended},
			{Name: "hours", Label: "Hours", Shape: document.Number(0, 500, "h")},
			{
				Name:  "amps_end",
				Label: "Amps at the end",
				Shape: document.Number(0, 500, "A"),
				Said:  "{value} at the end",
			},
		},
		Judge: judgeCharged,
	})
}

// judgeCharged starts a new chapter: what the rest voltage said is history.
func judgeCharged(in Before, r reading.Reading) bench.Fact {
	how := r.Word("ended")
	level, text := bench.OK, ""
	switch how {
	case "full":
		text = saysFull
	case "stopped":
		text = saysStopped
	case "refused":
		level, text = bench.Act, saysRefused
	case "hot":
		level, text = bench.Act, saysHot
	}
	return bench.Fact{
		Charged: &bench.Charged{Ended: how},
		Findings: []bench.Finding{{
			Code:     "charged." + how,
			Level:    level,
			Readings: []int{in.Reading},
			Source:   bench.Practice,
			Text:     words.Say(text),
			Why:      words.Say(whyHistory),
		}},
	}
}

const (
	saysFull    = "Charged to full."
	saysStopped = "Charging was stopped before the end."
	saysRefused = "It refused the charge."
	saysHot     = "Charging was stopped because it got hot."
	whyHistory  = "Readings from before are judged as of then."
)
