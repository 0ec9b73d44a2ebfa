package station

import (
	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Arrive is where vehicle, label and complaint are taken.
const Arrive = "arrive"

func init() {
	register(Station{
		Code: Arrive, Place: 10, Name: "Arrive", Hint: "vehicle, label, complaint", Minutes: 3, Sum: sumArrive,
	})
}

// sumArrive gives the complaint in a line.
func sumArrive(b *bench.Bench) (bench.Level, words.Text) {
	var all []words.Text
	for _, code := range b.Case.Complaint {
		all = append(all, words.Say(reading.Complaints().Word(code)))
	}
	if len(all) == 0 {
		return bench.Note, words.Say(noComplaint)
	}
	return bench.Note, words.Say("{complaint}", "complaint", all)
}

const noComplaint = "No complaint noted"
