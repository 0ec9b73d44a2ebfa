package station

import (
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Decide is where the verdict stands, and what to do about it.
const Decide = "decide"

// Replaced is the reading that another battery stands in its place now.
const Replaced = "replaced"

// oldGoes is where an old battery goes. Lead and acid are recycled by law.
var oldGoes = words.ListOf(
	words.Term{Code: "returned", Word: "Core returned"}, words.Term{Code: "recycler", Word: "Kept for the recycler"},
	words.Term{Code: "owner", Word: "Owner keeps it"})

func init() {
	register(Station{
		Code: Decide, Place: 120, Name: "Decide", Hint: "what is true, and what to do", Minutes: 5,
	}, Kind{
		Code: Replaced, Name: "Replaced", Hint: "another battery stands in its place", Minutes: 5,
		Fields: []Field{
			{Name: "with", Label: "Tag of the new one", Shape: document.Text(40), Need: true, Said: "with {value}"},
			{Name: "old", Label: "The old one", Shape: document.Text(20), Words: oldGoes},
			{Name: "reason", Label: "Reason", Shape: document.Text(300), Said: "“{value}”"},
		},
		Judge: judgeReplaced,
	})
}

func judgeReplaced(in Before, r reading.Reading) bench.Fact {
	with := r.Word("with")
	f := bench.Finding{
		Code: "replaced.done", Level: bench.OK, Readings: []int{in.Reading}, Rule: "old.recycled", Source: bench.Practice,
		Text: words.Say(saysReplaced, "with", with), Why: words.Say(whyReplaced),
	}
	switch r.Word("old") {
	case "returned":
		f.Text = words.Say(saysReplacedCore, "with", with)
	case "owner":
		f.Text = words.Say(saysReplacedOwner, "with", with)
	}
	return bench.Fact{Replaced: with, Findings: []bench.Finding{f}}
}

const (
	saysReplaced      = "{with} stands in its place. This one goes to a licensed recycler."
	saysReplacedCore  = "{with} stands in its place. The core of this one is returned."
	saysReplacedOwner = "{with} stands in its place. The owner keeps this one, and is told that lead and acid are recycled by law."
	whyReplaced       = "Lead and acid go to a licensed recycler by law: posts taped, upright, labelled."
)
