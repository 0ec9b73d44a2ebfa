// Package register is the life of a battery: what every visit to the workshop said of
// its strength, brought to one scale and drawn as one line, what was done to it, and the
// first cold week in which it will no longer start its engine.
//
//	register.go  what a visit says, and the life it adds up to
//	trend.go     how a battery wears, as far as its tests tell
//	autumn.go    the cold against it: the first week that fails
//	pair.go      two batteries that carry one vehicle
//	testers.go   testers of the workshop against each other
package register

import (
	"cmp"
	"slices"
	"time"

	"grapnel/core/assess"
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/climate"
	"grapnel/core/engine"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/core/words"
)

// Visit is one job of a battery.
type Visit struct {
	Job    string
	Opened time.Time
	Closed *time.Time
	Case   reading.Case // with its readings in effect, timed
}

// Test is what a visit found of its strength: the cold cranking amps it would have if it
// were full, whatever charge and cold it was tested at.
type Test struct {
	At  time.Time    `json:"at"`
	Job string       `json:"job"`
	CCA battery.Band `json:"cca" doc:"SAE amps"`
	Pct battery.Band `json:"pct" doc:"percent of its label"`
}

// Event is something that happened to it.
type Event struct {
	Code string     `json:"code" enum:"made,fitted,job,charge,stood,ended"`
	At   time.Time  `json:"at"`
	Job  string     `json:"job,omitempty"`
	Text words.Text `json:"text"`
}

// Seen is what a visit says, once it has been judged; it does not change any more once
// the job was handed over, and may be kept.
type Seen struct {
	Verdict  assess.Verdict
	Headline words.Text
	Level    bench.Level
	Test     *Test
	Made     *battery.Battery // as its label promises; nil when unknown
	Engine   *engine.Engine
	Fuel     string
	Electric bool
	Evidence []Evidence
	Events   []Event
	visit    Visit
}

// Evidence is what one tester said in a visit, brought to the scale of the others.
type Evidence struct {
	Tester string
	CCA    float64
}

// longStood is from how many minutes on a rest is a time it stood. House judgement.
const longStood = 7 * 24 * 60

// See judges a visit.
func See(v Visit, labels bench.Labels) Seen {
	b := station.Put(v.Case, labels)
	a := assess.Concluded(b)
	out := Seen{Verdict: a.Verdict, Headline: a.Headline, Level: a.Level(), Fuel: v.Case.Vehicle.Fuel,
		Electric: v.Case.Vehicle.Electric(), visit: v}
	if made, ok := b.AsNew(); ok && b.SAE.Amps > 0 {
		out.Made = &made
	}
	s := b.Strength()
	for _, e := range s.Evidence {
		out.Evidence = append(out.Evidence, Evidence{v.Case.Readings[e.Reading].Instrument, e.CCA.Best})
	}
	if part, ok := b.Part(); ok {
		var at time.Time
		for _, e := range s.Evidence {
			if t := v.Case.Readings[e.Reading].At; t != nil && t.After(at) {
				at = *t
			}
		}
		if at.IsZero() {
			at = v.Opened
		}
		out.Test = &Test{At: at, Job: v.Job, CCA: *s.Joint, Pct: part}
	}
	if e, ok := b.Engine(); ok && e.Measured {
		out.Engine = &e
	}
	out.Events = append(out.Events, Event{"job", v.Opened, v.Job, a.Headline})
	for _, r := range v.Case.Readings {
		if r.At == nil {
			continue
		}
		switch minutes, _ := r.Number("minutes_since_charge"); {
		case r.Kind == station.Charged:
			out.Events = append(out.Events, Event{"charge", *r.At, v.Job, station.Tell(r).Text})
		case r.Kind == station.RestVoltage && minutes >= longStood:
			out.Events = append(out.Events, Event{"stood", *r.At, v.Job, station.Tell(r).Text})
		}
	}
	if v.Closed != nil && a.Verdict == assess.Replace {
		out.Events = append(out.Events, Event{"ended", *v.Closed, v.Job, words.Say(saysEnded)})
	}
	return out
}

// Life is a battery from when it was made.
type Life struct {
	Tests  []Test        `json:"tests" doc:"every visit that found its strength, the oldest first"`
	Line   []Point       `json:"line" doc:"percent of its label, month by month, as its tests tell"`
	Events []Event       `json:"events" doc:"the oldest first"`
	Now    *battery.Band `json:"now_pct,omitempty" doc:"percent of its label today; absent once it has ended, or where the label is not known"`
	Tested bool          `json:"tested" doc:"whether a test says so, or its age alone"`
	Ended  *time.Time    `json:"ended,omitempty"`
	Fails  *Failing      `json:"fails,omitempty" doc:"the first week too cold for it; absent where the cold is not known, it has ended, or no engine is turned"`
	Says   words.Text    `json:"says" doc:"that in a sentence"`
	Years  float64       `json:"years,omitempty" doc:"its age"`
}

// Of gives the life that visits add up to, in any order, as of now; lows is the cold of
// the place, nil where nobody has typed it.
func Of(visits []Seen, lows *climate.Months, now time.Time) Life {
	visits = slices.SortedStableFunc(slices.Values(visits), func(a, b Seen) int { return a.visit.Opened.Compare(b.visit.Opened) })
	out := Life{Tests: []Test{}, Line: []Point{}, Events: []Event{}}
	if len(visits) == 0 {
		out.Says = words.Say(saysNoVisit)
		return out
	}
	last := visits[len(visits)-1]
	label := last.visit.Case.Battery
	made, madeKnown := month(label.Made)
	fitted, fittedKnown := month(label.Fitted)
	if madeKnown {
		out.Events = append(out.Events, Event{Code: "made", At: made, Text: words.Say(saysMade)})
	}
	if fittedKnown {
		out.Events = append(out.Events, Event{Code: "fitted", At: fitted, Text: words.Say(saysFitted)})
	}
	for _, v := range visits {
		out.Events = append(out.Events, v.Events...)
		if v.Test != nil {
			out.Tests = append(out.Tests, *v.Test)
		}
		for _, e := range v.Events {
			if e.Code == "ended" {
				at := e.At
				out.Ended = &at
			}
		}
	}
	slices.SortStableFunc(out.Events, func(a, b Event) int { return a.At.Compare(b.At) })
	slices.SortStableFunc(out.Tests, func(a, b Test) int { return a.At.Compare(b.At) })
	// A battery that came back was not ended, whatever was said of it.
	if out.Ended != nil && last.visit.Opened.After(*out.Ended) {
		out.Ended = nil
	}
	out.Tested = len(out.Tests) > 0
	born, sure := made, true
	switch {
	case madeKnown:
	case fittedKnown:
		born = fitted
	default:
		born, sure = visits[0].visit.Opened.AddDate(-usualAgeYears, 0, 0), false
	}
	if sure {
		out.Years = max(0, now.Sub(born).Hours()/24/365.25)
	}
	t := trendOf(out.Tests, born, sure, now)
	out.Line = t.line(born, sure, now, out.Tests, out.Ended)
	if out.Ended != nil {
		out.Says = words.Say(saysLifeEnded)
		return out
	}
	at := t.at(now)
	band := at.band()
	out.Now = &band
	switch {
	case last.Made == nil:
		out.Now, out.Line, out.Says = nil, []Point{}, words.Say(saysNoLabel)
	case last.Electric || last.Fuel == "none":
		out.Says = words.Say(saysNoEngine)
	case lows == nil:
		out.Says = words.Say(saysNoLows)
	default:
		f := t.fails(engineOf(visits), *last.Made, *lows, now)
		out.Fails, out.Says = &f, f.says(out.Tested)
	}
	return out
}

// engineOf is the engine it turns: as it was measured last, or as its label is usual for.
func engineOf(visits []Seen) engine.Engine {
	for _, v := range slices.Backward(visits) {
		if v.Engine != nil {
			return *v.Engine
		}
	}
	last := visits[len(visits)-1]
	return engine.Of(last.Fuel, last.Made.CCA)
}

// usualAgeYears is how old a battery of unknown age is taken to be at its first visit.
// House judgement.
const usualAgeYears = 3

// month reads a date of a label.
func month(s string) (time.Time, bool) {
	t, err := time.Parse("2006-01", s)
	return t.AddDate(0, 0, 14), err == nil
}

// ByFailing puts lives in the order in which they fail: the soonest first, then those that
// come through by the least, those that have ended last.
func ByFailing(a, b Life) int {
	rank := func(l Life) int {
		switch {
		case l.Fails != nil && l.Fails.Week != nil:
			return 0
		case l.Ended != nil:
			return 2
		}
		return 1
	}
	switch r := cmp.Compare(rank(a), rank(b)); {
	case r != 0:
		return r
	case rank(a) == 0:
		return a.Fails.Week.Compare(*b.Fails.Week)
	case a.Fails != nil && b.Fails != nil:
		return cmp.Compare(a.Fails.Margin, b.Fails.Margin)
	}
	return 0
}

const (
	saysEnded     = "Replaced"
	saysMade      = "Made"
	saysFitted    = "Fitted"
	saysNoVisit   = "It has not been here yet."
	saysLifeEnded = "It has been replaced."
	saysNoLabel   = "Without its label nobody knows what it should give."
	saysNoEngine  = "It turns no engine: no cold fails it that way."
	saysNoLows    = "Type the coldest nights of your place once, and the week it fails in stands here."
)
