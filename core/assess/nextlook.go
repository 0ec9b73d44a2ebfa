package assess

import (
	"time"

	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/core/words"
)

// NextLook is when a battery that goes is looked at again, and why then.
type NextLook struct {
	On  string     `json:"on" doc:"a day, 2027-01-15"`
	Do  words.Text `json:"do"`
	Why words.Text `json:"why"`
}

// How long until the next look. House judgement, but for the yearly one, which is common
// practice, no source.
const (
	lookWeek      = 7 // days: a flat one without a reason comes back within days
	lookMonth     = 30
	lookHalfYear  = 182
	lookYear      = 365
	coldMonth     = time.October // a test before the cold stands at its beginning
	coldEnds      = time.April
	leastAhead    = 21 // days: a look before the cold that is nearer is the one just done
	watchedMonths = 36 // of age: watched from year three on. Common practice, no source
)

// LookAgain proposes when a battery that goes back today is looked at next; false where
// it does not go back: it is replaced, stopped or not judged yet.
func LookAgain(c reading.Case, a Assessment, now time.Time) (NextLook, bool) {
	c.AsOf = &now
	b := station.Put(c, nil)
	in := func(days int) string { return now.AddDate(0, 0, days).Format(time.DateOnly) }
	switch {
	case b.Replaced != "":
		return NextLook{}, false
	case a.Verdict == Weak && now.Month() < coldMonth && now.Month() >= coldEnds && daysTo(now, beforeCold(now)) >= leastAhead:
		return NextLook{beforeCold(now).Format(time.DateOnly), words.Say(lookTest), words.Say(lookWeakCold)}, true
	case a.Verdict == Weak:
		return NextLook{in(lookMonth), words.Say(lookTest), words.Say(lookWeakNow)}, true
	case a.Verdict != Good && a.Verdict != LookElsewhere && a.Verdict != GoodAfterCharge:
		return NextLook{}, false
	case flatNoWhy(b):
		return NextLook{in(lookWeek), words.Say(lookVolts), words.Say(lookNoWhy)}, true
	}
	if months, known := b.Months(); !known || months < watchedMonths {
		return NextLook{in(lookYear), words.Say(lookTest), words.Say(lookYoung)}, true
	}
	cold := beforeCold(now)
	if n := daysTo(now, cold); n < leastAhead || n > lookYear-leastAhead {
		return NextLook{in(lookHalfYear), words.Say(lookTest), words.Say(lookAgeing)}, true
	}
	return NextLook{cold.Format(time.DateOnly), words.Say(lookTest), words.Say(lookBeforeCold)}, true
}

// beforeCold is the next beginning of the cold.
func beforeCold(now time.Time) time.Time {
	at := time.Date(now.Year(), coldMonth, 1, 0, 0, 0, 0, time.UTC)
	if !at.After(now) {
		at = at.AddDate(1, 0, 0)
	}
	return at
}

func daysTo(now, then time.Time) int { return int(then.Sub(now).Hours() / 24) }

const (
	lookTest  = "Test it again"
	lookVolts = "Read its rest volts"

	lookWeakCold   = "It is weak, and the cold finds it out: before the frost."
	lookWeakNow    = "It is weak, and the cold is here: within the month."
	lookNoWhy      = "It was found flat and nobody knows why: what is not found comes back within days."
	lookYoung      = "Once a year."
	lookAgeing     = "From its third year on it is watched: twice a year."
	lookBeforeCold = "From its third year on it is watched: before the frost."
)
