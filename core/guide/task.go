package guide

import (
	"slices"

	"grapnel/core/reading"
	"grapnel/core/words"
)

// Guide is a procedure made for one scene: what is asked before, and the steps in order.
type Guide struct {
	What     string     `json:"what" enum:"clean,water,replace,store,wake"`
	Site     Site       `json:"site" doc:"as it was said, and as is usual where it was not"`
	Asks     []Ask      `json:"asks"`
	Refusal  words.Text `json:"refusal,omitzero" doc:"why nothing is done now, and what is first; there are no steps then"`
	Instead  string     `json:"instead,omitempty" enum:"clean,water,replace" doc:"the guide that is first, where one is"`
	Drawn    Drawn      `json:"drawn"`
	Steps    []Task     `json:"steps"`
	Begins   []string   `json:"begins" doc:"parts that are off before its first step, since it was put away"`
	Hazards  []string   `json:"hazards" doc:"codes of what stops it"`
	Warnings []string   `json:"warnings" doc:"codes of cautions that hold all through"`
}

// Drawn is what every picture of a guide has in common.
type Drawn struct {
	Class     string `json:"class"`
	Terminals string `json:"terminals" enum:"top,side,stud"`
	Positive  string `json:"positive" enum:"left,right" doc:"where the + stands"`
	Live      string `json:"live" enum:"+,−" doc:"which post is live"`
	Place     string `json:"place" enum:"front,boot,seat,side,box"`
	Panel     string `json:"panel" doc:"what it is reached through, as it is called"`
	Cells     int    `json:"cells"`
	Opens     bool   `json:"opens" doc:"its caps come off"`
	Pair      string `json:"pair,omitempty" enum:"parallel,series" doc:"two stand together"`
}

// Phases of a guide.
const (
	Safe  = "safe"
	Off   = "off"
	Work  = "work"
	On    = "on"
	Prove = "prove"
)

var phases = words.ListOf(words.Term{Code: Safe, Word: "Make safe"}, words.Term{Code: Off, Word: "Take off"},
	words.Term{Code: Work, Word: "Work"},
	words.Term{Code: On, Word: "Put back"}, words.Term{Code: Prove, Word: "Prove"})

// Phases gives the phases in order.
func Phases() words.List { return phases }

// Task is one step: one thing to do.
type Task struct {
	Code     string     `json:"code"`
	Phase    string     `json:"phase" enum:"safe,off,work,on,prove"`
	Do       words.Text `json:"do"`
	Why      words.Text `json:"why"`
	Look     words.Text `json:"look,omitzero" doc:"what to look at"`
	Later    words.Text `json:"later,omitzero" doc:"what not to forget later"`
	Cautions []string   `json:"cautions,omitempty" doc:"codes; the gravest first"`
	Draw     Draw       `json:"draw"`
	Off      []string   `json:"off,omitempty" doc:"parts it takes off, or aids it puts on"`
	Back     []string   `json:"back,omitempty" doc:"parts it puts back, or aids it takes off"`
	After    []string   `json:"after,omitempty" doc:"steps without which this one would hurt"`
	Enter    []string   `json:"enter,omitempty" doc:"kinds of reading that are taken here"`
	Choices  []Choice   `json:"choices,omitempty" doc:"what was found; one of them"`
	Charge   bool       `json:"charge,omitempty" doc:"it is charged here, and that takes hours"`

	records *reading.Reading
}

// Draw is what a step's picture shows besides what has been done before.
type Draw struct {
	View string   `json:"view" enum:"battery,bench,pair,hands,vehicle,supply,cable,tray,cells,compare,vents,dash,old,waste,standing,switch"`
	Act  string   `json:"act,omitempty" enum:"off,on,wipe,scrape,soda,dip,rinse,brush,spray,grease,lift,lower,fill,mark,tighten,turn,measure,look,tie,open,close,move,charge"`
	On   string   `json:"on,omitempty" doc:"the part it is done to"`
	Gone []string `json:"gone" doc:"parts that are off before it"`
	Aids []string `json:"aids" doc:"aids that are on before it"`
}

// Choice is one answer to what a step found.
type Choice struct {
	Code string     `json:"code"`
	Word string     `json:"word"`
	Says words.Text `json:"says,omitzero" doc:"what follows from it"`

	records *reading.Reading
}

// Records gives the reading that a ticked step puts into the log, with what was chosen;
// false where it puts in none.
func (s Task) Records(choice string) (reading.Reading, bool) {
	r := s.records
	for _, c := range s.Choices {
		if c.Code == choice {
			r = c.records
		}
	}
	if r == nil {
		return reading.Reading{}, false
	}
	return *r, true
}

// Make makes the guide of a scene.
func Make(what string, s Scene) Guide {
	s.usual(what)
	live := "+"
	if s.Vehicle.Earth == "positive" {
		live = "−"
	}
	cells := int(s.volts() / 2)
	if s.series() {
		cells /= 2
	}
	g := Guide{What: what, Site: s.Site, Asks: s.asks(what), Steps: []Task{}, Begins: []string{}, Hazards: []string{}, Warnings: []string{},
		Drawn: Drawn{Class: s.Vehicle.Class, Terminals: s.terminals(), Positive: s.Site.Positive, Live: live, Place: s.Site.Place,
			Panel: panelWords[s.Site.Place], Cells: cells, Opens: s.Battery.Opens()}}
	if s.parallel() || s.series() {
		g.Drawn.Pair = s.Vehicle.Arrangement
	}
	if s.Vehicle.Electric() {
		g.Warnings = append(g.Warnings, "high_voltage")
	}
	if why, by := s.refuse(what); len(by) > 0 {
		g.Refusal, g.Hazards, g.Instead = why, by, instead(what, by[0])
		return g
	}
	b := &builder{Scene: s}
	switch what {
	case Cleaning:
		b.clean()
	case Watering:
		b.water()
	case Replacing:
		b.replace()
	case Storing:
		b.store()
	case Waking:
		if left := s.left(); left != nil {
			g.Begins = left
		}
		b.begins = g.Begins
		b.wake()
	}
	g.Steps = b.finished()
	return g
}

// builder puts steps one after the other.
type builder struct {
	Scene
	phase  string
	begins []string // parts that are off before the first step
	steps  []Task
}

func (b *builder) add(s Task) { s.Phase = b.phase; b.steps = append(b.steps, s) }

// has reports whether a fitting is on the vehicle.
func (b *builder) has(part string) bool { return slices.Contains(b.Site.On, part) }

// of gives those of some fittings that are on the vehicle.
func (b *builder) of(some ...string) []string {
	var out []string
	for _, p := range some {
		if p == HoldDown || b.has(p) {
			out = append(out, p)
		}
	}
	return out
}

// finished gives the steps with what is off before each, and without an order to steps that
// are not among them.
func (b *builder) finished() []Task {
	open := slices.Clone(b.begins)
	codes := map[string]bool{}
	for i := range b.steps {
		s := &b.steps[i]
		s.Draw.Gone, s.Draw.Aids = []string{}, []string{}
		for _, p := range open {
			if part, _ := PartOf(p); part.Aid {
				s.Draw.Aids = append(s.Draw.Aids, p)
			} else {
				s.Draw.Gone = append(s.Draw.Gone, p)
			}
		}
		open = opened(open, s.Off, s.Back)
		s.After = slices.DeleteFunc(s.After, func(c string) bool { return !codes[c] })
		codes[s.Code] = true
	}
	return b.steps
}

// opened gives what is open after some of it was put back and more was opened.
func opened(open, off, back []string) []string {
	out := slices.Clone(open)
	out = slices.DeleteFunc(out, func(p string) bool { return slices.Contains(back, p) })
	for _, p := range off {
		if !slices.Contains(out, p) {
			out = append(out, p)
		}
	}
	return out
}
