package station

import (
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Arrive is where vehicle, label and complaint are taken, and who brings it is
// asked what matters for the complaint.
const Arrive = "arrive"

// Interview is what whoever brings it answers.
const Interview = "interview"

var (
	dashWords = words.ListOf(
		words.Term{Code: "bright", Word: "Stay bright", Said: "dash lights stay bright"},
		words.Term{Code: "dims", Word: "Dim when cranked", Said: "dash lights dim when cranked"},
		words.Term{Code: "dark", Word: "Dark", Said: "dash lights dark"})
	cameWords = words.ListOf(
		words.Term{Code: "suddenly", Word: "All at once", Said: "came all at once"},
		words.Term{Code: "by_degrees", Word: "By degrees", Said: "came by degrees"})
	usedWords = words.ListOf(
		words.Term{Code: "daily", Word: "Daily, long", Said: "driven daily"},
		words.Term{Code: "short", Word: "Short trips", Said: "short trips"},
		words.Term{Code: "weekly", Word: "Weekly", Said: "driven weekly"},
		words.Term{Code: "stored", Word: "Stored", Said: "stored"})
)

func init() {
	register(Station{
		Code: Arrive, Place: 10, Name: "Arrive", Hint: "vehicle, label, complaint", Minutes: 3,
		Sum: sumArrive, Advise: adviseArrive,
	}, Kind{
		Code: Interview, Name: "Asked", Hint: "what whoever brings it answers", Minutes: 2,
		Fields: []Field{
			{Name: "dash", Label: "Dash lights while it is tried", Words: dashWords, Unknown: "Not known"},
			{Name: "came", Label: "How it came on", Words: cameWords, Unknown: "Not known"},
			{Name: "used", Label: "How it is used", Words: usedWords, Unknown: "Not known"},
			{Name: "stood_hours", Label: "Stood for", Shape: document.Number(0, 50000, "h"), Said: "stood {value}"},
			{Name: "stood_c", Label: "In the cold of", Shape: document.Number(-50, 60, "°C"), Said: "at {value}"},
		},
		Judge: judgeInterview,
	})
}

// adviseArrive asks what matters for this complaint, and leaves the rest out.
func adviseArrive(b *bench.Bench) Advice {
	asks := map[string]bool{"used": true}
	for _, w := range b.Case.Complaint {
		switch w {
		case "dead_silent", "single_click", "rapid_click", "dim_lights":
			asks["dash"], asks["stood_hours"] = true, true
		case "slow_crank", "frequent_jumps":
			asks["came"], asks["stood_c"] = true, true
		case "cold_only":
			asks["stood_c"], asks["came"] = true, true
		case "after_standing":
			asks["stood_hours"], asks["stood_c"] = true, true
		case "warning_lights", "cranks_no_fire":
			asks["came"] = true
		}
	}
	way := Way{Code: Interview, Word: "Ask", Kind: Interview}
	k, _ := KindOf(Interview)
	for _, f := range k.Fields {
		if !asks[f.Name] {
			way.Fields = append(way.Fields, FieldAdvice{Name: f.Name, Hidden: true})
		}
	}
	return Advice{Level: bench.OK, Ways: []Way{way}}
}

// judgeInterview keeps what was said, and draws from it what every technician
// would.
func judgeInterview(in Before, r reading.Reading) bench.Fact {
	var fact bench.Fact
	note := func(code string, text, why string) {
		fact.Findings = append(fact.Findings, bench.Finding{
			Code: code, Level: bench.Note, Readings: []int{in.Reading}, Source: bench.Practice,
			Text: words.Say(text), Why: words.Say(why),
		})
	}
	switch r.Word("dash") {
	case "bright":
		note("interview.bright", saysBright, whyBright)
	case "dims":
		note("interview.dims", saysDims, whyDims)
	case "dark":
		note("interview.dark", saysDark0, whyDark0)
	}
	switch r.Word("came") {
	case "suddenly":
		note("interview.suddenly", saysSuddenly, whySuddenly)
	case "by_degrees":
		note("interview.by_degrees", saysByDegrees, whyByDegrees)
	}
	switch r.Word("used") {
	case "short":
		note("interview.short_trips", saysShort, whyShort)
	case "stored":
		note("interview.stored", saysStored, whyStored)
	}
	return fact
}

// sumArrive gives the complaint in a line.
func sumArrive(b *bench.Bench) (bench.Level, words.Text) {
	if len(b.Case.Complaint) == 0 {
		return bench.Note, words.Say(noComplaint)
	}
	return bench.Note, inARow(b.Case.Complaint, reading.Complaints().Word)
}

// Complained says what a vehicle came for inside a sentence: its complaints in a row.
func Complained(codes []string) words.Text { return inARow(codes, reading.Complaints().Said) }

func inARow(codes []string, say func(string) string) words.Text {
	var all []words.Text
	for _, code := range codes {
		all = append(all, words.Say(say(code)))
	}
	return words.Join(", ", all)
}

const (
	noComplaint = "No complaint noted"

	saysBright    = "The dash stays bright: current is there, and does not reach or turn the starter."
	whyBright     = "A flat battery dims its lights. Key, immobiliser, relay, solenoid and starter come first."
	saysDims      = "The dash dims when it is cranked: the starter draws, and the volts fall."
	whyDims       = "Flat, weak, or lost in a bad contact: volts at the posts and at the clamps tell them apart."
	saysDark0     = "The dash is dark: nothing at all arrives."
	whyDark0      = "Flat to the ground, or a clamp, a main fuse or the earth open."
	saysSuddenly  = "It came all at once: a broken joint, a cell, something left on."
	whySuddenly   = "Age comes by degrees."
	saysByDegrees = "It came by degrees: age, short trips or undercharging."
	whyByDegrees  = "What breaks comes all at once."
	saysShort     = "Short trips: they may never put back what a start takes."
	whyShort      = "A charger now and then, or longer drives, or it comes back flat."
	saysStored    = "It is stored for long: standing drain and self-discharge."
	whyStored     = "Standing low hardens sulphate within weeks."
)
