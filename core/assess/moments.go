package assess

import (
	"cmp"
	"slices"
	"time"

	"grapnel/core/station"
)

// Kinds of moment besides the ends of what a battery is left alone for.
const (
	MomentCheck = "check" // it is to be looked at on its charger
	MomentReady = "ready" // it can be tested
	MomentFull  = "full"
)

// Moment is a time at which a battery needs hands.
type Moment struct {
	Kind    string
	At      time.Time
	Over    bool   // the time has come
	Word    string // what the clock says of it now
	Call    string // what it calls when the time comes
	Station string // of the sheet, where the work goes on then
	Snoozed bool
	Holds   bool // what was said of it holds
}

// Said is what somebody said of a moment: that it is done, or to call again later. It
// holds for the wait, or the charge, during which it was said, and of a look at a charge
// until the next look.
type Said struct {
	At    time.Time
	Done  bool
	Until time.Time // zero where it was not put off
}

// holds reports whether something was said at a time or since.
func holds(s Said, since time.Time) bool { return !s.At.IsZero() && !s.At.Before(since) }

// ends is when it is over, put off or not, and whether somebody said that it is done.
func (s Stay) ends(said map[string]Said) (at time.Time, done bool) {
	one := said[s.Kind]
	if !holds(one, s.From) {
		return s.To, false
	}
	return latest(s.To, one.Until), one.Done
}

// due is when it is to be looked at, put off or not.
func (h *Hanging) due(said map[string]Said) time.Time {
	one := said[MomentCheck]
	if !holds(one, h.Last) {
		return h.Check
	}
	if one.Done {
		return latest(h.Check, one.At.Add(span(h.every())))
	}
	return latest(h.Check, one.Until)
}

func latest(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// Foretold is what a charge under way is foretold to do; nothing where nothing is.
type Foretold struct {
	Ready, Full *time.Time
	Off         bool // it has to come off now
}

// Foretold gives what of a charge matters to the clock.
func (o *OnCharge) Foretold() Foretold {
	if o == nil {
		return Foretold{}
	}
	return Foretold{o.Ready, o.Full, o.Follows.Sign == "stop"}
}

// Moments gives the moments at which a battery needs hands, the soonest first: the end of
// what it is left alone for, or of its charge the next look and, as far as they are
// foretold, when it can be tested and when it is full. What must not be worked on has
// none. Once it is full nobody is sent to look at it, and once somebody has looked after
// it could be tested, that is no news. What hangs on a maintainer is only looked at; what
// has to come off waits for nothing.
func Moments(a Assessment, stay *Stay, f Foretold, said map[string]Said, now time.Time) []Moment {
	if a.Verdict == Stop {
		return nil
	}
	var out []Moment
	if stay != nil {
		if at, done := stay.ends(said); !done {
			w := stayWords[stay.Kind]
			m := moment(stay.Kind, at, now, w.ends, w.ended, w.over, w.at, at.After(stay.To))
			m.Holds = holds(said[stay.Kind], stay.From)
			out = append(out, m)
		}
		return out
	}
	h := a.Hangs
	if h == nil || h.Check.IsZero() {
		return nil
	}
	ready, full := f.Ready, f.Full
	if h.keeps() {
		ready, full = nil, nil
	}
	if f.Off {
		at := h.due(said)
		if at.Equal(h.Check) {
			at = h.Last // since somebody saw it
		}
		m := moment(MomentCheck, at, now, momentOff, momentOff, waitOff, station.Charge, at.After(h.Check))
		m.Holds = holds(said[MomentCheck], h.Last)
		return append(out, m)
	}
	foretold := func(kind string, at *time.Time, word, over, call string) {
		if at == nil {
			return
		}
		when := *at
		one := said[kind]
		if holds(one, h.Since) {
			if one.Done {
				return
			}
			when = latest(when, one.Until)
		}
		m := moment(kind, when, now, word, over, call, station.Charge, when.After(*at))
		m.Holds = holds(one, h.Since)
		out = append(out, m)
	}
	isFull := full != nil && !full.After(now)
	if ready != nil && h.Last.After(*ready) {
		ready = nil
	}
	// Whoever comes to test it looks at it too.
	called := ready != nil && !ready.After(now) && !(said[MomentReady].Done && holds(said[MomentReady], h.Since))
	if due := h.due(said); !isFull && !called {
		m := moment(MomentCheck, due, now, momentCharging, momentLook, waitLook, station.Charge, due.After(h.Check))
		m.Holds = holds(said[MomentCheck], h.Last)
		out = append(out, m)
	}
	if !isFull {
		foretold(MomentReady, ready, momentReady, momentIsReady, waitReady)
	}
	foretold(MomentFull, full, momentFull, momentIsFull, waitFull)
	slices.SortStableFunc(out, func(a, b Moment) int { return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.Kind, b.Kind)) })
	return out
}

func moment(kind string, at, now time.Time, word, over, call, where string, snoozed bool) Moment {
	m := Moment{Kind: kind, At: at, Word: word, Call: call, Station: where, Snoozed: snoozed}
	if !at.After(now) {
		m.Over, m.Word = true, over
	}
	return m
}
