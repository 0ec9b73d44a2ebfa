package assess

import (
	"cmp"
	"time"

	"grapnel/core/bench"
	"grapnel/core/station"
	"grapnel/core/words"
)

// Wait is what a job waits for: hands now, or a time.
type Wait struct {
	For  string     `json:"for" enum:"hands,rest,warm,parts,jump,charge,done"`
	Word words.Text `json:"word" doc:"what to do, or what it does meanwhile"`
	At   *time.Time `json:"at,omitempty" doc:"when it next needs hands; absent when that is now"`
}

// What a battery is left alone for. Each ends at a time that somebody said.
const (
	StayRest  = "rest"  // until its voltage can be believed
	StayWarm  = "warm"  // until it is warm enough
	StayParts = "parts" // until something has come that is waited for
	StayJump  = "jump"  // charged through jump leads until a try
)

// Stay is a time for which a battery is left alone.
type Stay struct {
	Kind     string
	From, To time.Time
}

// stayWords is what is said of each while it lasts, and once it is over; and what the
// clock says.
var stayWords = map[string]struct{ during, over, ends, ended, at string }{
	StayRest:  {waitRest, waitRestOver, momentResting, momentRested, station.RestVoltage},
	StayWarm:  {waitWarm, waitWarmOver, momentWarming, momentWarm, station.RestVoltage},
	StayParts: {waitParts, waitPartsOver, momentParts, momentPartsDue, station.Decide},
	StayJump:  {waitJump, waitJumpOver, momentJump, momentJumpDue, station.Crank},
}

// Waits says what a job waits for: what it is left alone for if it is, else its next look
// on a charger or the first step of its assessment; nothing once it is closed. said is
// what somebody said of its moments.
func Waits(a Assessment, stay *Stay, said map[string]Said, closed bool, now time.Time) Wait {
	if closed {
		return Wait{For: "done", Word: words.Say(waitDone)}
	}
	if a.Verdict == Stop {
		return Wait{For: "hands", Word: a.Headline}
	}
	if stay != nil {
		switch ends, done := stay.ends(said); {
		case done:
		case ends.After(now):
			return Wait{For: stay.Kind, Word: words.Say(stayWords[stay.Kind].during), At: &ends}
		default:
			return Wait{For: "hands", Word: words.Say(stayWords[stay.Kind].over)}
		}
	}
	if h := a.Hangs; h != nil && !h.Check.IsZero() && (charges(a) || h.keeps()) {
		if due := h.due(said); due.After(now) {
			return Wait{For: "charge", Word: h.says(), At: &due}
		}
		return Wait{For: "hands", Word: words.Say(waitLook)}
	}
	return Wait{For: "hands", Word: a.Next[0].Do}
}

// OffNow is what a battery waits for that has to come off its charger, in place of its
// next look.
func OffNow(w Wait, f Foretold) Wait {
	if f.Off && w.For == "charge" {
		return Wait{For: "hands", Word: words.Say(waitOff)}
	}
	return w
}

// Waiting is a job in the order of the floor.
type Waiting struct {
	Wait     Wait
	Level    bench.Level // how its verdict weighs
	Resting  bool        // a rest was begun and not ended, over or not
	OpenedAt time.Time
}

// ByWait puts first what needs hands now, then what will, soonest first. Of those
// that need hands now a hazard comes first, then a rest that is over, since its
// volts are wanted before anybody switches something on, then the longest open.
func ByWait(a, b Waiting) int {
	switch {
	case a.Wait.At == nil && b.Wait.At != nil:
		return -1
	case a.Wait.At != nil && b.Wait.At == nil:
		return 1
	case a.Wait.At != nil:
		return a.Wait.At.Compare(*b.Wait.At)
	}
	return cmp.Or(cmp.Compare(urgency(b), urgency(a)), a.OpenedAt.Compare(b.OpenedAt))
}

func urgency(w Waiting) int {
	switch {
	case w.Level == bench.Stopped:
		return 2
	case w.Resting:
		return 1
	}
	return 0
}

// charges reports whether a look at its charger is what comes next.
func charges(a Assessment) bool { return len(a.Next) > 0 && a.Next[0].Test == "charge_check" }
