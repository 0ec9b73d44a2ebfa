package station

import (
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// JumpResult is whether it started on another battery.
const JumpResult = "jump_result"

// jumpKind is taken where it is cranked.
func jumpKind() Kind {
	return Kind{
		Code: JumpResult, Name: "Jump start", Hint: "whether it started on another battery", Minutes: 10,
		Fields: []Field{
			{Name: "started", Label: "It started", Shape: document.Flag(), Need: true, Said: "started: {value}"},
		},
		Judge: judgeJump,
	}
}

// judgeJump: an engine that starts on a good battery clears its starter.
func judgeJump(in Before, r reading.Reading) bench.Fact {
	started, _ := r.Flag("started")
	f := bench.Finding{
		Code: "jump.started", Level: bench.Note, Readings: []int{in.Reading}, Rule: "jump.result", Source: bench.Practice,
		Text: words.Say(saysJumped), Why: words.Say(whyJumped),
	}
	if !started {
		f.Code, f.Text, f.Why = "jump.failed", words.Say(saysNotJumped), words.Say(whyNotJumped)
	}
	return bench.Fact{Ran: started, Findings: []bench.Finding{f}}
}

const (
	saysJumped    = "It started on another battery: the starter is cleared."
	whyJumped     = "Flat, weak or badly connected: those are left. The engine has run since, so read the volts anew, rested."
	saysNotJumped = "It did not start on another battery."
	whyNotJumped  = "Thin or badly seated leads fail often, a second try some minutes later may work. Else cables, starter or engine."
)
