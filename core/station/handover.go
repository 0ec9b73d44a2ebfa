package station

import (
	"slices"

	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Handover is where it goes back: what was set again, what is left to its owner, and when
// it is looked at next.
const Handover = "handover"

// resets are what a vehicle forgets without its battery, in the order a tag names them.
var resets = words.ListOf(
	words.Term{Code: "clock", Word: "Clock"},
	words.Term{Code: "radio_code", Word: "Radio code"},
	words.Term{Code: "radio_presets", Word: "Radio presets"},
	words.Term{Code: "windows", Word: "Windows", Said: "windows, each held up and down"},
	words.Term{Code: "sunroof", Word: "Sunroof"},
	words.Term{Code: "seats", Word: "Seats, mirrors", Said: "seat and mirror memories"},
	words.Term{Code: "steering_angle", Word: "Steering angle"},
	words.Term{Code: "trip_computer", Word: "Trip computer"},
	words.Term{Code: "battery_monitor", Word: "Battery monitor", Said: "the new battery told to its monitor"},
	words.Term{Code: "idle", Word: "Idle learnt again", Said: "idle: warm some minutes, then a drive"},
	words.Term{Code: "readiness", Word: "Readiness monitors", Said: "readiness monitors: an emissions test fails until they have run"},
)

// Resets gives what a vehicle forgets without its battery.
func Resets() words.List { return resets }

func init() {
	register(Station{
		Code: Handover, Place: 140, Name: "Hand over", Hint: "papers, what is set again, the next date", Minutes: 5,
		Sum: sumHandover, Advise: adviseHandover,
	}, Kind{
		Code: Handover, Name: "Handed over", Hint: "what goes with it", Minutes: 3,
		Fields: []Field{
			{Name: "reset_done", Label: "Set again here", Shape: list(15), Words: resets, Said: "set again: {value}"},
			{Name: "reset_left", Label: "Left to its owner", Shape: list(15), Words: resets, Said: "its owner sets: {value}"},
			{Name: "next_check", Label: "Look at it again on", Shape: document.Shape{Kind: "date"}, Said: "next look {value}"},
			{Name: "told", Label: "Told at the counter", Shape: document.Text(300), Said: "“{value}”"},
		},
		Judge: judgeHandover,
	})
}

func judgeHandover(in Before, r reading.Reading) bench.Fact {
	var fact bench.Fact
	say := func(code string, level bench.Level, text words.Text, why string) {
		fact.Findings = append(fact.Findings, bench.Finding{Code: code, Level: level, Readings: []int{in.Reading},
			Rule: "handover", Source: bench.Practice, Text: text, Why: words.Say(why)})
	}
	if left := r.Words("reset_left"); len(left) > 0 {
		say("handover.reset_left", bench.Note, words.Say(saysLeft, "what", saidList(resets, left)), whyLeft)
	}
	if done := r.Words("reset_done"); len(done) > 0 {
		say("handover.reset_done", bench.OK, words.Say(saysSet, "what", saidList(resets, done)), whySet)
	}
	if on := r.Word("next_check"); on != "" {
		say("handover.next", bench.OK, words.Say(saysNextLook, "on", words.Date(on)), whyNextLook)
	}
	return fact
}

func saidList(of words.List, codes []string) []words.Text {
	out := make([]words.Text, len(codes))
	for i, c := range codes {
		out[i] = words.Say(of.Said(c))
	}
	return out
}

// LastHandover gives what was said when a case was handed over, the last time.
func LastHandover(c reading.Case) (reading.Reading, bool) {
	for _, r := range slices.Backward(c.Readings) {
		if r.Kind == Handover {
			return r, true
		}
	}
	return reading.Reading{}, false
}

func sumHandover(b *bench.Bench) (bench.Level, words.Text) {
	r, ok := LastHandover(b.Case)
	if !ok {
		return bench.Note, words.Text{}
	}
	return bench.OK, Tell(r).How
}

func adviseHandover(*bench.Bench) Advice {
	return Advice{Level: bench.OK, Ways: []Way{{Code: Handover, Word: "Hand over", Kind: Handover}}}
}

const (
	// WhyForgot and SetSafely stand on the tag for the mirror.
	WhyForgot = "The battery was off, and the vehicle forgot them."
	SetSafely = "As the maker’s handbook says. Standing, handbrake on, all fingers out of the windows."

	saysLeft     = "Its owner sets again: {what}."
	whyLeft      = "It forgot them while the battery was off. They stand on the tag for the mirror."
	saysSet      = "Set again here: {what}."
	whySet       = "It forgot them while the battery was off."
	saysNextLook = "It is looked at again on {on}."
	whyNextLook  = "A date on paper and in the calendar: nobody has to remember it."
)
