package season

import (
	"slices"
	"time"

	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Followed is a battery that stands in its way, as of today.
type Followed struct {
	Sign  string     `json:"sign"                enum:"holds,act,stop"`
	Says  words.Text `json:"says"                                      doc:"what to do next, and by when"`
	Name  string     `json:"way_name"`
	State State      `json:"state"`
	Next  *Need      `json:"next,omitempty"                            doc:"the next thing to be done; absent where nothing is"`
	Late  int        `json:"late_days,omitempty"                       doc:"days by which that was missed"`
	By    string     `json:"by,omitempty"                              doc:"the day by which it has to be charged"`
	Stop  string     `json:"stop_on,omitempty"                         doc:"the day from which it may freeze, or is too low to start"`
	Frost *Frost     `json:"frost,omitempty"                           doc:"a night that is forecast too cold for it"`
	Shape Shape      `json:"shape"`
	Needs []Need     `json:"-"` // all that is to be done from today on, a missed one first
}

// Frost is a forecast night that comes too near to the acid's freezing point.
type Frost struct {
	On    string     `json:"on"`
	LowC  float64    `json:"low_c"`
	Line  float64    `json:"line_c"  doc:"from where its acid may freeze"`
	Sure  bool       `json:"freezes" doc:"it is under that line, not only near it"`
	Says  words.Text `json:"says"`
	Spare float64    `json:"spare_c"`
}

// Shape is a season in a few figures, to be drawn small: of each so many days its freezing
// point and the coldest night.
type Shape struct {
	Freezes []float64 `json:"freezes_c"`
	Low     []float64 `json:"low_c"`
	Today   float64   `json:"today"     doc:"the part of the season that has gone, 0 to 1"`
	Ends    float64   `json:"ends"      doc:"where it freezes, 0 to 1; 1 where it does not"`
}

// shapeDays is how many days one figure of a shape stands for.
const shapeDays = 4

// Follow says how a battery stands in the way it is kept in, without the other ways.
func (r *Request) Follow(labels bench.Labels, v words.Voice) (Followed, error) {
	p, err := r.planner(labels)
	if err != nil {
		return Followed{}, err
	}
	w := p.way(r.Way)
	f := w.follow(p)
	words.Spoken(&f, v)
	return f, nil
}

// Unreckoned stands for a battery whose season could not be reckoned, and why.
func Unreckoned(err error) Followed {
	return Followed{
		Sign:  "act",
		Says:  words.Say(saysUnreckoned, "why", err.Error()),
		Shape: Shape{Freezes: []float64{}, Low: []float64{}, Ends: 1},
	}
}

const saysUnreckoned = "Its season cannot be reckoned: {why}."

// way makes one way.
func (p *planner) way(code string) WayOfKeeping {
	switch code {
	case Disconnected:
		return p.disconnected()
	case ChargeEvery:
		return p.chargeEvery()
	case DriveEvery:
		return p.driveEvery()
	case Maintained:
		return p.maintained()
	case BySun:
		if p.r.Solar != nil {
			return p.bySun()
		}
	case TakenIn:
		return p.takenIn()
	}
	return p.connected()
}

// follow says how it stands in a way today, and what is next.
func (w *WayOfKeeping) follow(p *planner) Followed {
	today := p.r.today()
	day := p.s.day(today)
	f := Followed{Sign: w.Sign, Name: w.Name, State: w.state(day), By: w.ChargeBy, Stop: w.FreezesFrom}
	if w.NoStartOn != "" && (f.Stop == "" || w.NoStartOn < f.Stop) {
		f.Stop = w.NoStartOn
	}
	f.Frost = w.frost(p, day)
	f.Needs = slices.DeleteFunc(slices.Clone(w.Needs), func(n Need) bool { return n.Code == "put_away" })
	f.next(w, today)
	f.Shape = w.shape(day)
	switch {
	case f.Frost != nil && f.Frost.Sure, f.Stop != "" && f.Stop <= today:
		f.Sign = "stop"
	case f.Sign == "stop" && !w.refused:
		f.Sign = "act" // it does not come through as it is, and there is time
	case f.Sign == "holds" && (f.Frost != nil || f.Late > 0):
		f.Sign = "act"
	}
	switch {
	case f.Frost != nil:
		f.Says = f.Frost.Says
	case f.Next != nil && f.Late > 0:
		f.Says = words.Say(
			saysMissed,
			"do",
			f.Next.Do.Small(),
			"late",
			f.Late,
			"days",
			pick(f.Late == 1, "day", "days"),
		)
	case f.Next != nil && f.Next.Date == today:
		f.Says = words.Say(saysToday, "do", f.Next.Do)
	case f.Next != nil:
		f.Says = words.Say(saysNext, "do", f.Next.Do, "on", date(f.Next.Date).Format("2 Jan"))
	default:
		f.Says = w.Says
	}
	return f
}

// Due gives the day on which it needs hands where that is today, tomorrow or past, and what
// is to be done; empty where it does not.
func (f Followed) Due(today string) (on string, do words.Text) {
	tomorrow := date(today).AddDate(0, 0, 1).Format(time.DateOnly)
	switch {
	case f.Frost != nil && f.Frost.On <= tomorrow:
		return today, words.Say(dueFrost)
	case f.Next != nil && f.Next.Date <= tomorrow:
		return f.Next.Date, f.Next.Do
	}
	return "", words.Text{}
}

// LotDue says how many of a lot need hands.
func LotDue(n int) words.Text { return words.Say(dueLot, "n", n) }

// next finds the next thing to be done: a missed one before the ones to come.
func (f *Followed) next(w *WayOfKeeping, today string) {
	for _, n := range w.Needs {
		if n.Code == "put_away" {
			continue
		}
		if f.Next == nil || n.Date < f.Next.Date {
			one := n
			f.Next = &one
		}
	}
	if f.Next != nil && f.Next.Date < today {
		f.Late = int(date(today).Sub(date(f.Next.Date)) / (24 * time.Hour))
	}
}

// frost finds the first forecast night from a day on that comes too near.
func (w *WayOfKeeping) frost(p *planner, day int) *Frost {
	margin := p.r.Rules.StoreMarginC
	var found *Frost
	for _, d := range w.Days[day:] {
		if !d.Known {
			continue
		}
		spare := hundredth(d.Low - d.Weak)
		if spare >= margin || found != nil && (found.Sure || spare > 0) {
			continue
		}
		f := Frost{On: d.Date, LowC: d.Low, Line: d.Weak, Sure: spare <= 0, Spare: spare}
		say := saysFrostNear
		if f.Sure {
			say = saysFrost
		}
		f.Says = words.Say(
			say,
			"low",
			measure.Degrees(d.Low),
			"on",
			date(d.Date).Format("2 January"),
			"line",
			measure.Degrees(d.Weak),
		)
		found = &f
	}
	return found
}

func (w *WayOfKeeping) shape(day int) Shape {
	s := Shape{Ends: 1, Today: float64(day) / float64(max(1, len(w.Days)-1))}
	for part := range slices.Chunk(w.Days, shapeDays) {
		low := part[0].Low
		for _, d := range part {
			low = min(low, d.Low)
		}
		s.Freezes, s.Low = append(s.Freezes, part[0].Weak), append(s.Low, low)
	}
	if w.FreezesFrom != "" {
		i := slices.IndexFunc(w.Days, func(d Day) bool { return d.Date == w.FreezesFrom })
		s.Ends = float64(i) / float64(max(1, len(w.Days)-1))
	}
	return s
}

const (
	dueFrost = "Frost: charge it or take it in"
	dueLot   = "{n} to see to"

	saysMissed    = "Missed by {late} {days}: {do}"
	saysToday     = "{do} today"
	saysNext      = "{do}, {on}"
	saysFrost     = "{low} is forecast for {on}: its acid may freeze at {line}. Charge it or take it in today."
	saysFrostNear = "{low} is forecast for {on}, near its line at {line}. Charge it before."
)
