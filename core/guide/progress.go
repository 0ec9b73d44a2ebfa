package guide

import (
	"slices"
	"time"
)

// Event is one thing that was done with a guide: what it opened and closed is kept with it,
// so that it holds whatever becomes of the guide.
type Event struct {
	Kind   string // one of those below
	Step   string // empty where a part was put right by hand
	Choice string
	Off    []string
	Back   []string
	By     string
	At     time.Time
}

// Kinds of event.
const (
	Ticked   = "ticked"
	Unticked = "unticked"
	Skipped  = "skipped"
	PutBack  = "put_back" // a part, by hand
	TookOff  = "took_off" // a part, by hand
)

// Progress is how far a guide has come.
type Progress struct {
	Done map[string]Event // by step; skipped ones too
	Now  string           // the first step that is not done; empty when all are
}

// Open gives the parts that are off, or aids that are on, after some events, in the order
// they were opened.
func Open(events []Event) []string {
	var open []string
	for _, e := range events {
		switch e.Kind {
		case Ticked, PutBack, TookOff:
			open = opened(open, e.Off, e.Back)
		case Unticked: // as if it had not been
			open = opened(open, e.Back, e.Off)
		}
	}
	return open
}

// After gives how far the guide has come after some events.
func (g Guide) After(events []Event) Progress {
	p := Progress{Done: map[string]Event{}}
	for _, e := range events {
		switch e.Kind {
		case Ticked, Skipped:
			p.Done[e.Step] = e
		case Unticked:
			delete(p.Done, e.Step)
		}
	}
	for _, s := range g.Steps {
		if _, done := p.Done[s.Code]; !done {
			p.Now = s.Code
			break
		}
	}
	return p
}

// Step gives the step of a code.
func (g Guide) Step(code string) (Task, bool) {
	i := slices.IndexFunc(g.Steps, func(s Task) bool { return s.Code == code })
	if i < 0 {
		return Task{}, false
	}
	return g.Steps[i], true
}

// Before gives the steps that have to be done before one of a guide: without them it would
// hurt somebody or the battery. One that was skipped was not done.
func (g Guide) Before(step Task, p Progress) []Task {
	var out []Task
	for _, code := range step.After {
		if e, done := p.Done[code]; !done || e.Kind == Skipped {
			if s, ok := g.Step(code); ok {
				out = append(out, s)
			}
		}
	}
	return out
}

// Needing gives the done steps that would not have been safe without one.
func (g Guide) Needing(step Task, p Progress) []Task {
	var out []Task
	for _, s := range g.Steps {
		if e, done := p.Done[s.Code]; done && e.Kind == Ticked && slices.Contains(s.After, step.Code) {
			out = append(out, s)
		}
	}
	return out
}
