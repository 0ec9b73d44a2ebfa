package season

import (
	"grapnel/core/words"
)

// Risk is something that can go wrong with a way.
type Risk struct {
	Code string     `json:"code"`
	Text words.Text `json:"text"`
	cost float64
	days bool // grows with them
}

// What a way costs besides its minutes: what can go wrong, in the minutes of work that one
// would give to be rid of it. House judgement; it only orders ways that keep the battery
// equally well. What can happen on any day costs so much in three months.
var risks = map[string]Risk{
	"wakes":     {Text: words.Say(riskWakes), days: true, cost: 30},
	"forgets":   {Text: words.Say(riskForgets), cost: 20},
	"locked":    {Text: words.Say(riskLocked), cost: 120},
	"not_ready": {Text: words.Say(riskNotReady), cost: 240},
	"unplugged": {Text: words.Say(riskUnplugged), days: true, cost: 15},
	"missed":    {Text: words.Say(riskMissed), cost: 20},
	"short":     {Text: words.Say(riskShort), cost: 30},
	"snow":      {Text: words.Say(riskSnow), days: true, cost: 30},
	"lifted":    {Text: words.Say(riskLifted), cost: 15},
}

func (w *WayOfKeeping) risk(code string) Risk {
	r := risks[code]
	r.Code = code
	if r.days {
		r.cost *= float64(len(w.Days)) / 90
	}
	return r
}

// Minutes of work. House judgement.
const (
	clampMinutes  = 10.0 // a clamp off, or on
	switchMinutes = 1.0
	lookMinutes   = 5.0 // rest volts, a glance round
	plugMinutes   = 15.0
	nightMinutes  = 20.0 // on a charger in the evening, off in the morning
	panelMinutes  = 30.0
	shelfMinutes  = 30.0 // out and onto the shelf, or back
)

// add puts in what a way costs: minutes at first and last, and at each visit.
func (w *WayOfKeeping) add(setUp, back, visit float64, codes ...string) {
	for _, n := range w.Needs {
		if n.Visit {
			w.Visits++
		}
	}
	w.Minutes = setUp + back + visit*float64(w.Visits)
	for _, c := range codes {
		w.Risks = append(w.Risks, w.risk(c))
	}
}

// total is what a way costs, in minutes.
func (w *WayOfKeeping) total() float64 {
	sum := w.Minutes
	for _, r := range w.Risks {
		sum += r.cost
	}
	return sum
}
