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
	For  string     `json:"for" enum:"hands,rest,charge,done"`
	Word words.Text `json:"word" doc:"what to do, or what it does meanwhile"`
	At   *time.Time `json:"at,omitempty" doc:"when it next needs hands; absent when that is now"`
}

// Waits says what a job waits for: its running rest if there is one, else the
// first step of its assessment, or nothing once it is closed.
func Waits(a Assessment, restEnds *time.Time, closed bool, now time.Time) Wait {
	switch {
	case closed:
		return Wait{For: "done", Word: words.Say(waitDone)}
	case a.Verdict != Stop && restEnds != nil && restEnds.After(now):
		return Wait{For: "rest", Word: words.Say(waitRest), At: restEnds}
	case a.Verdict != Stop && restEnds != nil:
		return Wait{For: "hands", Word: words.Say(waitRestOver)}
	case a.Verdict != Stop && a.Hangs != nil && !a.Hangs.Check.IsZero() && a.Hangs.Check.After(now) && charges(a):
		return Wait{For: "charge", Word: a.Hangs.says(), At: &a.Hangs.Check}
	}
	if a.Verdict == Stop {
		return Wait{For: "hands", Word: a.Headline}
	}
	return Wait{For: "hands", Word: a.Next[0].Do}
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

// ChargeCall is what the clock calls when a battery on its charger is to be looked at,
// and the station where that is done.
func ChargeCall() (call, at string) { return waitLook, station.Charge }

// ChargeMoment is what the clock says of a look that is due at a time; true once the
// clock calls.
func ChargeMoment(due, now time.Time) (word string, over bool) {
	if due.After(now) {
		return momentCharging, false
	}
	return momentLook, true
}

// RestCall is what the clock calls when a rest is over, and the station where the
// work goes on then.
func RestCall() (call, at string) { return waitRestOver, station.RestVoltage }

// RestMoment is what the clock says of a rest that ends at a time; true once it is
// over and the clock calls.
func RestMoment(ends, now time.Time) (word string, over bool) {
	if ends.After(now) {
		return momentResting, false
	}
	return momentRested, true
}
