package season

import (
	"math"
	"time"

	"grapnel/core/measure"
	"grapnel/core/words"
)

// Need is something that has to be done, on or before a day.
type Need struct {
	Date  string     `json:"date"`
	Do    words.Text `json:"do"`
	Code  string     `json:"code"            enum:"put_away,charge,drive,look,wake"`
	Visit bool       `json:"visit"                                                  doc:"somebody has to come for it"`
	Volts float64    `json:"volts,omitempty"                                        doc:"of a look: it should show so many at least"`
}

func need(on, code string, visit bool, do words.Text) Need {
	return Need{Date: on, Do: do, Code: code, Visit: visit}
}

// visits counts the times somebody has to come between the first day and the last.
func (w *WayOfKeeping) visits() (n int) {
	for _, one := range w.Needs {
		if one.Visit {
			n++
		}
	}
	return n
}

// stored puts in what a battery needs that is put away: the first day, looks, and the day
// it is woken. The first look comes so many days after it was last seen.
func (p *planner) stored(w *WayOfKeeping, off, on words.Text, lookDays int, expects bool) {
	first := off
	if p.s.start < fullEnough {
		first = words.Say(doFullFirst, "off", off)
	}
	w.Needs = append(w.Needs, need(p.r.From, "put_away", false, first))
	last := 0
	if p.r.Way == w.Way {
		for _, l := range p.looks {
			last = l.day
		}
	}
	for day := last + lookDays; day < len(p.s.days)-lookDays/4; day += lookDays {
		on := p.s.days[day].at.Format(time.DateOnly)
		if w.ChargeBy != "" && on >= w.ChargeBy {
			break
		}
		do := need(on, "look", true, words.Say(doLook))
		if expects && w.low[day] > 0 {
			// To a hundredth under what the low end of its band would show.
			do.Volts = math.Floor(100*p.restVolts(w.low[day], p.s.days[day].mean)) / 100
			do.Do = words.Say(doLookVolts, "volts", measure.Volts(do.Volts, 2))
		}
		w.Needs = append(w.Needs, do)
	}
	if w.ChargeBy != "" && w.ChargeBy > p.r.From {
		w.Needs = append(w.Needs, need(w.ChargeBy, "charge", true, words.Say(doCharge)))
	}
	w.Needs = append(w.Needs, need(p.r.To, "wake", false, on))
}

// mostNeeds is how many of the same kind stand in a plan.
const mostNeeds = 120

// every puts in something that is done on some days.
func (p *planner) every(w *WayOfKeeping, code string, do words.Text, on func(day int) bool) {
	for day := 0; day < len(p.s.days)-1 && len(w.Needs) < mostNeeds; day++ {
		if on(day) {
			w.Needs = append(w.Needs, need(p.s.days[day].at.Format(time.DateOnly), code, true, do))
		}
	}
}

// says what becomes of the battery in a way.
func (w *WayOfKeeping) says() words.Text {
	switch {
	case w.FreezesOn != "":
		return words.Say(saysFreezes, "on", spoken(w.FreezesOn), "volts", measure.Volts(w.volts, 2))
	case w.FreezesFrom != "":
		return words.Say(saysMayFreeze, "on", spoken(w.FreezesFrom))
	case w.NoStartOn != "":
		return words.Say(saysNoStart, "on", spoken(w.NoStartOn))
	case w.Sign == "stop":
		return words.Say(saysFlat)
	case w.ChargeBy != "" && w.ChargeBy == w.Days[0].Date:
		return words.Say(saysChargeNow)
	case w.ChargeBy != "":
		return words.Say(saysChargeBy, "on", spoken(w.ChargeBy))
	}
	return words.Say(
		saysThrough,
		"spare",
		measure.Rise(math.Floor(w.MarginLow)),
		"soc",
		measure.Percents(w.SOCEnd.Best),
	)
}

// spoken is a date as people say it.
func spoken(on string) string { return date(on).Format("2 January") }

func looks(n int) string {
	switch n {
	case 0:
		return "no look"
	case 1:
		return "one look"
	}
	return words.Say("{n} looks", "n", n).String()
}
