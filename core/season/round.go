package season

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Spot is one vehicle of a lot, as it stands today.
type Spot struct {
	ID        string
	Tag       string
	Name      string
	Row       string // it stands in
	Bay       int    // and where in it
	Arrived   string // a date
	Tested    bool   // since it arrived
	Promised  string // the day it is to drive; empty for none
	Chemistry battery.Chemistry
	Volts     float64
	Ah        float64
	CCA       float64
	SOC       battery.Band
	ChargeBy  string // the day before which it has to be charged
	StopOn    string // the day from which it may freeze, or does not start
	LookOn    string // the day its next look is due
}

// Spare is a charged battery that can stand in.
type Spare struct {
	Tag       string
	Chemistry battery.Chemistry
	Volts     float64
	Ah        float64
	CCA       float64
}

// Lot is what a round is made of.
type Lot struct {
	Today    string
	Spots    []Spot
	Spares   []Spare
	Chargers int // that can be taken to the lot in one evening
	// Minutes is how long a round may take; what does not go in is for the next.
	Minutes float64
}

// Doings of a stop.
const (
	DoTest   = "test"
	DoCharge = "charge"
	DoSwap   = "swap"
	DoLook   = "look"
)

// Stop is one vehicle on a round.
type Stop struct {
	ID    string     `json:"id"`
	Do    string     `json:"do"                  enum:"test,charge,swap,look"`
	Text  words.Text `json:"text"`
	Why   words.Text `json:"why"`
	Due   string     `json:"due"                                              doc:"the day by which it is to be done"`
	Night string     `json:"night,omitempty"                                  doc:"on which it hangs on a charger"`
	Late  int        `json:"late_days,omitempty"                              doc:"days by which that is too late"`
	Spare string     `json:"spare,omitempty"                                  doc:"tag of the battery that stands in"`
	Row   string     `json:"row"`
	Bay   int        `json:"bay"`

	spot    *Spot
	due     int // the day, counted from today
	charge  int // the last on which a charge is in time
	minutes float64
}

// Round is one walk over a lot.
type Round struct {
	Date    string  `json:"date"`
	Stops   []Stop  `json:"stops"         doc:"in the order they are walked"`
	Minutes float64 `json:"minutes"       doc:"of work and walking"`
	Later   []Stop  `json:"later"         doc:"due in these days too, but not in this round"`
	Nights  int     `json:"nights"        doc:"until all that waits for a charger is charged"`
	LateMax int     `json:"late_max_days" doc:"by how much the latest is too late"`
}

// Minutes of a stop and of the way. House judgement.
const (
	testStop, chargeStop, swapStop, lookStop = 10.0, 8.0, 15.0, 3.0
	bayMinutes, rowMinutes                   = 0.05, 0.5 // two metres and a half; across to the next row
)

// ahead is how many days a round looks ahead: this week.
const ahead = 7

// swapSlack is how much weaker than its own a spare may be. House judgement: it only has to
// start the vehicle and be brought back.
const swapSlack = 0.85

// Plan says who is seen to in this week's round, and in which order. Whoever has to be charged
// the soonest is charged first: with nights that are all alike that is never later, for the
// latest and in sum, than first come first served (Jackson 1955).
func (l Lot) Plan(v words.Voice) Round {
	today := date(l.Today)
	day := func(on string) int { return int(math.Round(date(on).Sub(today).Hours() / 24)) }
	out := Round{Date: l.Today, Stops: []Stop{}, Later: []Stop{}}
	var all, waits []*Stop
	for i := range l.Spots {
		s := &l.Spots[i]
		stop := &Stop{ID: s.ID, Row: s.Row, Bay: s.Bay, spot: s, due: math.MaxInt32}
		if !s.Tested {
			stop.Do, stop.due, stop.minutes = DoTest, max(0, day(cmp.Or(s.Arrived, l.Today)))+1, testStop
			stop.Text, stop.Why = words.Say(stopTest), words.Say(whyTest)
			if s.Promised != "" {
				stop.due = min(stop.due, day(s.Promised)-1)
			}
		}
		if due, why := s.chargeDue(day); due <= ahead {
			stop.charge = due
			waits = append(waits, stop)
			if stop.Do == "" || due < stop.due {
				stop.due, stop.Why = due, why
			}
			stop.Do, stop.minutes, stop.Text = DoCharge, chargeStop, words.Say(stopCharge)
		} else if stop.Do == "" && s.LookOn != "" && day(s.LookOn) <= ahead {
			stop.Do, stop.due, stop.minutes = DoLook, day(s.LookOn), lookStop
			stop.Text, stop.Why = words.Say(stopLook), words.Say(whyLook, "on", date(s.LookOn).Format("2 January"))
		}
		if stop.Do != "" {
			all = append(all, stop)
		}
	}
	slices.SortStableFunc(waits, func(a, b *Stop) int { return cmp.Or(cmp.Compare(a.charge, b.charge), soonest(a, b)) })
	l.hang(waits, today, &out)
	l.swap(waits)
	slices.SortStableFunc(all, soonest)
	for _, s := range all {
		s.Due = today.AddDate(0, 0, max(0, s.due)).Format(time.DateOnly)
		if s.due < 0 {
			s.Due = today.AddDate(0, 0, s.due).Format(time.DateOnly)
		}
		if s.Night != "" && s.Night != l.Today && s.Do == DoCharge {
			s.Text = words.Say(stopNight, "on", date(s.Night).Format("Monday 2 January")) // its night comes later
			out.Later = append(out.Later, *s)
			continue
		}
		out.Stops = append(out.Stops, *s)
	}
	l.walk(&out)
	words.Spoken(&out, v)
	return out
}

// soonest orders stops by the day they are due, and those of one day by how low they are.
func soonest(a, b *Stop) int {
	return cmp.Or(
		cmp.Compare(a.due, b.due),
		cmp.Compare(a.spot.SOC.Low, b.spot.SOC.Low),
		cmp.Compare(a.spot.Tag, b.spot.Tag),
	)
}

// chargeDue gives the last day on which a charge is in time, counted from today, and why.
func (s *Spot) chargeDue(day func(string) int) (int, words.Text) {
	due, why := math.MaxInt32, words.Text{}
	at := func(on string, before int, text string) {
		if on == "" {
			return
		}
		if d := day(on) - before; d < due {
			due, why = d, words.Say(text, "on", date(on).Format("2 January"), "soc", measure.Percents(s.SOC.Best))
		}
	}
	at(s.StopOn, 1, whyStop)
	at(s.ChargeBy, 0, whyLow)
	if s.SOC.Low < promisedSOC {
		at(s.Promised, 1, whyPromised)
	}
	return due, why
}

// promisedSOC is the charge, percent, under which nothing is handed over. House judgement:
// what starts a cold engine with plenty to spare.
const promisedSOC = 90.0

// hang gives each that waits its night, as many a night as there are chargers.
func (l Lot) hang(waits []*Stop, today time.Time, out *Round) {
	n := max(1, l.Chargers)
	for i, s := range waits {
		night := i / n
		s.Night = today.AddDate(0, 0, night).Format(time.DateOnly)
		s.Late = max(0, night-s.charge)
		out.Nights, out.LateMax = max(out.Nights, night+1), max(out.LateMax, s.Late)
	}
}

// swap puts the charged spares where a charge comes too late.
func (l Lot) swap(waits []*Stop) {
	used := map[string]bool{}
	for _, s := range waits {
		if s.Late == 0 {
			continue
		}
		best := -1
		for i, spare := range l.Spares {
			if !used[spare.Tag] && spare.stands(s.spot) && (best < 0 || spare.CCA < l.Spares[best].CCA) {
				best = i
			}
		}
		if best < 0 {
			continue
		}
		spare := l.Spares[best]
		used[spare.Tag] = true
		s.Do, s.Spare, s.Night, s.Late, s.minutes = DoSwap, spare.Tag, "", 0, swapStop
		s.Text = words.Say(stopSwap, "tag", spare.Tag)
	}
}

// stands reports whether a spare can stand in for a vehicle's own.
func (b Spare) stands(s *Spot) bool {
	return b.Volts == s.Volts && charge.LimitsOf(b.Chemistry) == charge.LimitsOf(s.Chemistry) &&
		b.CCA >= swapSlack*s.CCA && b.Ah >= swapSlack*s.Ah
}

// walk keeps of the stops what a round has time for, the soonest due first, and puts them
// in the order one walks: row by row, there and back.
func (l Lot) walk(out *Round) {
	limit := l.Minutes
	if limit <= 0 {
		limit = math.Inf(1)
	}
	spent := 0.0
	var now []Stop
	for _, s := range out.Stops {
		if cost := s.minutes + rowMinutes; spent+cost <= limit || len(now) == 0 {
			now, spent = append(now, s), spent+cost
			continue
		}
		out.Later = append(out.Later, s)
	}
	out.Stops = walked(now)
	out.Minutes = math.Round(minutesOf(out.Stops))
	if out.Stops == nil {
		out.Stops = []Stop{}
	}
}

// walked orders stops row by row, each from the end that makes the whole way the shortest.
func walked(stops []Stop) []Stop {
	out := slices.Clone(stops)
	slices.SortStableFunc(out, func(a, b Stop) int { return cmp.Or(natural(a.Row, b.Row), cmp.Compare(a.Bay, b.Bay)) })
	type row struct {
		from, to int
		back     [2]bool // walked backwards before, where this one is walked forwards or backwards
	}
	var rows []row
	cost := [2]float64{} // of the way so far, the last row forwards or backwards
	for from := 0; from < len(out); {
		to := from
		for to < len(out) && out[to].Row == out[from].Row {
			to++
		}
		r := row{from: from, to: to}
		var next [2]float64
		for way := range 2 {
			enter := out[from].Bay
			if way == 1 {
				enter = out[to-1].Bay
			}
			next[way] = math.Inf(1)
			for before := range 2 {
				sum := cost[before]
				if n := len(rows); n > 0 {
					leave := out[rows[n-1].to-1].Bay
					if before == 1 {
						leave = out[rows[n-1].from].Bay
					}
					sum += math.Abs(float64(enter - leave))
				}
				if sum < next[way] {
					next[way], r.back[way] = sum, before == 1
				}
			}
		}
		cost = next
		rows, from = append(rows, r), to
	}
	back := cost[1] < cost[0]
	for i := len(rows) - 1; i >= 0; i-- {
		r, way := rows[i], 0
		if back {
			slices.Reverse(out[r.from:r.to])
			way = 1
		}
		back = r.back[way]
	}
	return out
}

// minutesOf gives the minutes of stops walked in their order.
func minutesOf(stops []Stop) float64 {
	var rows []string
	for _, s := range stops {
		rows = append(rows, s.Row)
	}
	slices.SortFunc(rows, natural)
	rows = slices.Compact(rows)
	place := map[string]int{}
	for i, r := range rows {
		place[r] = i
	}
	sum := 0.0
	for i, s := range stops {
		sum += s.minutes
		if i > 0 {
			last := stops[i-1]
			sum += bayMinutes*math.Abs(
				float64(s.Bay-last.Bay),
			) + rowMinutes*math.Abs(
				float64(place[s.Row]-place[last.Row]),
			)
		}
	}
	return sum
}

// natural orders names as people do: A2 before A10.
func natural(a, b string) int {
	split := func(s string) (string, int) {
		i := len(s)
		for i > 0 && s[i-1] >= '0' && s[i-1] <= '9' {
			i--
		}
		n, _ := strconv.Atoi(s[i:])
		return strings.ToLower(s[:i]), n
	}
	x, n := split(a)
	y, m := split(b)
	return cmp.Or(cmp.Compare(x, y), cmp.Compare(n, m), cmp.Compare(a, b))
}

const (
	stopTest   = "Test on arrival: rest volts"
	stopCharge = "Onto a charger tonight"
	stopNight  = "Onto a charger on {on}"
	stopSwap   = "Put {tag} in, take its own along"
	stopLook   = "Rest volts"

	whyTest     = "New here, and nobody has tested it."
	whyLook     = "Its look is due on {on}."
	whyStop     = "It may freeze, or not start, from {on}."
	whyLow      = "Too low from {on}: {soc} now."
	whyPromised = "Promised for {on}, and {soc} now."
)
