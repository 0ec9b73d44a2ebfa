package assess

import "time"

// Wait is what a job waits for: hands now, or a time.
type Wait struct {
	For  string     `json:"for" enum:"hands,rest,done"`
	Word string     `json:"word" doc:"what to do, or what it does meanwhile"`
	At   *time.Time `json:"at,omitempty" doc:"when it next needs hands; absent when that is now"`
}

// Waits says what a job waits for: its running rest if there is one, else the
// first step of its assessment, or nothing once it is closed.
func Waits(a Assessment, restEnds *time.Time, closed bool, now time.Time) Wait {
	switch {
	case closed:
		return Wait{For: "done", Word: "Handed over"}
	case a.Verdict != Stop && restEnds != nil && restEnds.After(now):
		return Wait{For: "rest", Word: "Resting, then take the volts", At: restEnds}
	case a.Verdict != Stop && restEnds != nil:
		return Wait{For: "hands", Word: "Rest over: take the volts"}
	case len(a.Next) == 0:
		return Wait{For: "hands", Word: a.Headline}
	}
	return Wait{For: "hands", Word: a.Next[0].Do}
}
