package season

import (
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// WayOfKeeping is one way of keeping it, run through the season.
type WayOfKeeping struct {
	Way  string     `json:"way"  enum:"connected,disconnected,charge_every,drive_every,maintainer,solar,indoors"`
	Name string     `json:"name"`
	Sign string     `json:"sign" enum:"holds,act,stop"`
	Says words.Text `json:"says"                                                                                 doc:"what becomes of it"`
	Cost words.Text `json:"cost"                                                                                 doc:"what it takes"`

	SOCEnd battery.Band `json:"soc_pct_end"`
	SOCMin battery.Band `json:"soc_pct_min"`
	// The margin is between the coldest night and the freezing point of its acid.
	Margin      float64 `json:"freeze_margin_min_c"     doc:"least degrees between a night and its freezing point, at the best estimate"`
	MarginLow   float64 `json:"freeze_margin_low_c"     doc:"the same at the low end of its band"`
	MarginOn    string  `json:"freeze_margin_on"        doc:"the night of that"`
	FreezesOn   string  `json:"freezes_on,omitempty"    doc:"absent when never, at the best estimate"`
	FreezesFrom string  `json:"freezes_from,omitempty"  doc:"the same at the low end of its band"`
	NoStartOn   string  `json:"no_start_on,omitempty"   doc:"from when it does not turn its engine on a mean day, or wake; absent when never"`
	NoStartFrom string  `json:"no_start_from,omitempty" doc:"the same at the low end of its band, on a cold morning"`
	ChargeBy    string  `json:"charge_by,omitempty"     doc:"the day before which it has to be charged by the house rules; absent when never"`

	EveryDays int     `json:"every_days,omitempty"    doc:"between charges or drives"`
	DriveMin  float64 `json:"drive_minutes,omitempty" doc:"how long each drive has to be"`
	Amps      float64 `json:"amps,omitempty"          doc:"of the maintainer"`
	Watts     float64 `json:"watts_needed,omitempty"  doc:"of the panel that would do in the darkest month; absent where none would"`

	Minutes float64 `json:"work_minutes" doc:"of work until it is back"`
	Visits  int     `json:"visits"       doc:"times somebody has to come, besides the first and the last"`
	Risks   []Risk  `json:"risks"        doc:"what can go wrong"`

	Needs []Need `json:"needs"`
	Days  []Day  `json:"days"`

	volts   float64 // at rest on the day it freezes
	low     []float64
	refused bool // it must not be kept so at all
	keeping
}

// Day is one day of a way, in the morning.
type Day struct {
	Date    string  `json:"date"`
	SOC     float64 `json:"soc_pct"`
	SOCLow  float64 `json:"soc_low_pct"     doc:"the low end of its band"`
	SOCHigh float64 `json:"soc_high_pct"`
	Freezes float64 `json:"freezes_c"       doc:"its acid, at the best estimate"`
	Weak    float64 `json:"freezes_low_c"   doc:"at the low end of its band: the warmest that may be"`
	Strong  float64 `json:"freezes_high_c"`
	Low     float64 `json:"low_c"           doc:"the coldest night where it stands"`
	Known   bool    `json:"known,omitempty" doc:"that night was seen or is forecast"`
}

// Days between looks. Powersports batteries off the vehicle every three months; the others
// every two; what hangs on something that can be unplugged, or is snowed in, every month.
// Common practice, no source.
const (
	powersportsDays = 90
	otherDays       = 60
	monthDays       = 30
)

// powersports are the classes looked after as powersports.
var powersports = []string{"motorcycle", "atv", "mower", "boat"}

// Days between charges at most. Common practice, no source: 30 for a car or a lot, three
// months for powersports, two to three weeks for an electric car.
const electricDays = 21

func (p *planner) most() int {
	switch {
	case p.r.Vehicle.Electric():
		return electricDays
	case slices.Contains(powersports, p.r.Vehicle.Class):
		return powersportsDays
	}
	return monthDays
}

func (p *planner) lookDays() int {
	if slices.Contains(powersports, p.r.Vehicle.Class) {
		return powersportsDays
	}
	return otherDays
}

// Days and minutes that are tried, the least work first.
var (
	chargeDays   = []int{90, 60, 45, 30, 21, 14, 10, 7}
	driveDays    = []int{30, 21, 14, 7}
	driveMinutes = []float64{20, 30, 45, 60, 90}
)

// longDrive is the longest drive that is asked for where none is enough, minutes.
const longDrive = 120.0

// ways gives every way that is at hand, and leaving it connected or not in any case.
func (p *planner) ways() []WayOfKeeping {
	out := []WayOfKeeping{p.connected(), p.disconnected()}
	r := p.r
	if r.hand(Mains) {
		out = append(out, p.chargeEvery())
	}
	if p.drivable() {
		out = append(out, p.driveEvery())
	}
	if r.hand(Mains) || r.hand(LiveSocket) {
		out = append(out, p.maintained())
	}
	if r.hand(Panel) && r.Solar != nil {
		out = append(out, p.bySun())
	}
	if r.hand(Indoors) {
		out = append(out, p.takenIn())
	}
	return out
}

func (p *planner) connected() WayOfKeeping {
	w := p.through(Connected, keeping{clamped: true, looks: p.keptLooks(Connected)})
	w.Cost = words.Say(costConnected)
	if w.ChargeBy != "" {
		w.Needs = append(w.Needs, need(w.ChargeBy, "charge", true, words.Say(doCharge)))
	}
	w.add(0, 0, nightMinutes, "wakes")
	return w
}

func (p *planner) disconnected() WayOfKeeping {
	w := p.through(Disconnected, keeping{looks: p.keptLooks(Disconnected)})
	minutes, off, on := clampMinutes, doClampOff, doClampOn
	if p.r.hand(Switch) {
		w.Name, minutes, off, on = nameSwitch, switchMinutes, doSwitchOff, doSwitchOn
	}
	p.stored(&w, words.Say(off), words.Say(on), p.lookDays(), true)
	if p.r.hand(Switch) {
		w.Cost = words.Say(costSwitch, "looks", looks(w.visits()))
	} else {
		w.Cost = words.Say(costDisconnected, "looks", looks(w.visits()))
	}
	w.add(minutes, minutes, lookMinutes, p.offRisks()...)
	return w
}

// offRisks are what can go wrong with a vehicle without its battery.
func (p *planner) offRisks() (out []string) {
	if p.r.Vehicle.Electric() {
		out = append(out, "locked")
	}
	if p.forgets() {
		out = append(out, "forgets")
	}
	if p.r.Ready {
		out = append(out, "not_ready")
	}
	return out
}

func (p *planner) chargeEvery() WayOfKeeping {
	from := p.next(ChargeEvery, func(l seen) bool { return l.charged })
	k := func(every int) keeping {
		first := from(every)
		if p.s.start < fullEnough && first == every {
			first = 0
		}
		return keeping{
			clamped: true,
			looks:   p.keptLooks(ChargeEvery),
			full:    func(day int) bool { return turn(day, first, every) },
		}
	}
	every := 7
	for _, n := range chargeDays {
		if n <= p.most() && p.holds(k(n), p.past(ChargeEvery)) {
			every = n
			break
		}
	}
	w := p.through(ChargeEvery, k(every))
	w.EveryDays, w.Name = every, words.Say(nameCharge, "days", every).String()
	p.every(&w, "charge", words.Say(doNight), func(day int) bool { return w.full(day) })
	w.Cost = words.Say(costCharge, "days", every, "times", w.visits())
	w.add(0, 0, nightMinutes, "missed")
	return w
}

// turn reports whether something done first on a day, and then every so many, is done on
// another.
func turn(day, first, every int) bool { return day >= first && (day-first)%every == 0 }

// next gives from when on something is done that is done every so many days: so many after
// it was last seen done, and where that is past, today.
func (p *planner) next(way string, done func(seen) bool) func(every int) int {
	last := 0
	for _, l := range p.keptLooks(way) {
		if done(l) {
			last = l.day
		}
	}
	today := p.past(way)
	return func(every int) int { return max(last+every, today) }
}

// past is the number of days that a way has been kept in.
func (p *planner) past(way string) int {
	if p.r.Way != way {
		return 0
	}
	return p.s.day(p.r.today())
}

// fullEnough is the charge from which nobody charges before a season. House judgement.
const fullEnough = 95.0

// holds reports whether a way keeps it by the house rules at the low end of its band, after
// a day.
func (p *planner) holds(k keeping, after int) bool {
	low, _, _ := p.s.band(&k, p.belief)
	for i, soc := range low.soc {
		if i > after && (soc < p.r.Rules.StoreMinSOC || p.s.days[i].low-p.s.freezes(soc) < p.r.Rules.StoreMarginC) {
			return false
		}
	}
	return true
}

func (p *planner) driveEvery() WayOfKeeping {
	coldest, _ := p.s.span()
	d := drivesOf(p.b, p.r.Vehicle.Class, coldest, p.r.systemVolts())
	from := p.next(DriveEvery, func(l seen) bool { return l.drove > 0 || l.charged })
	k := func(every int, minutes float64) keeping {
		first := from(every)
		return keeping{clamped: true, looks: p.keptLooks(DriveEvery), drive: d.to,
			gives: func(day int, soc, _ float64) float64 {
				if !turn(day, first, every) {
					return 0
				}
				return d.to(soc, minutes) - soc
			}}
	}
	every, minutes := driveDays[len(driveDays)-1], longDrive
try:
	for _, n := range driveDays {
		if n > p.most() || !p.holds(k(n, driveMinutes[len(driveMinutes)-1]), p.past(DriveEvery)) {
			continue
		}
		for _, m := range driveMinutes {
			if p.holds(k(n, m), p.past(DriveEvery)) {
				every, minutes = n, m
				break try
			}
		}
	}
	w := p.through(DriveEvery, k(every, minutes))
	w.EveryDays, w.DriveMin = every, minutes
	w.Name = words.Say(nameDrive, "days", every).String()
	first := from(every)
	p.every(
		&w,
		"drive",
		words.Say(doDrive, "minutes", measure.Minutes(minutes)),
		func(day int) bool { return turn(day, first, every) },
	)
	w.Cost = words.Say(costDrive, "minutes", measure.Minutes(minutes), "days", every, "times", w.visits())
	w.add(0, 0, minutes, "missed", "short")
	return w
}

// roads are the classes that go on the road.
var roads = []string{"car", "van", "motorcycle", "hybrid", "electric", "classic", "motorhome"}

func (p *planner) drivable() bool {
	if p.r.MayDrive != nil {
		return *p.r.MayDrive
	}
	return slices.Contains(roads, p.r.Vehicle.Class)
}

// A maintainer gets back nine tenths of what it gives. Common practice, no source.
const kept = 0.9

// floats is the low end of the charge of what floats, percent: some maintainers stop, and
// begin again when a fifth is lost. Common practice, no source.
const floats = 80.0

func (p *planner) maintained() WayOfKeeping {
	a := p.amps
	size := a.Usual
	if m := p.r.Maintainer; m != nil {
		size = m.Amps
	}
	charging := true
	k := keeping{
		clamped: true,
		hides:   true,
		looks:   p.keptLooks(Maintained),
		gives: func(day int, soc, luck float64) float64 {
			if luck < 0 { // of those that stop when it is full, and begin again
				charging = day == 0 || soc < floats || charging && soc < 100
				if !charging {
					return 0
				}
			}
			return size * 24 * kept / p.s.ah * 100
		},
	}
	w := p.through(Maintained, k)
	w.Amps = size
	p.stored(
		&w,
		words.Say(doPlug, "amps", measure.Of(size, measure.Amp, measure.Exact)),
		words.Say(doUnplug),
		monthDays,
		false,
	)
	w.Name = words.Say(nameMaintainer, "amps", measure.Of(size, measure.Amp, measure.Exact)).String()
	w.Cost = words.Say(
		costMaintainer,
		"until",
		spoken(p.r.To),
		"least",
		measure.Plain(a.Min, 2),
		"most",
		measure.Of(a.Max, measure.Amp, 1),
	)
	if a.Min >= a.Max {
		w.refused, w.Sign, w.Says = true, "stop", words.Say(
			saysNoSize,
			"least",
			measure.Of(a.Min, measure.Amp, 2),
			"most",
			measure.Of(a.Max, measure.Amp, 1),
		)
	}
	if m := p.r.Maintainer; m != nil {
		if held := p.s.holds(*m, a); !held.OK {
			for _, l := range held.Lines {
				if !l.OK {
					w.refused, w.Sign, w.Says = true, "stop", l.Text
					break
				}
			}
		}
	}
	w.add(plugMinutes, plugMinutes/3, lookMinutes, "unplugged")
	return w
}

func (p *planner) bySun() WayOfKeeping {
	sun := *p.r.Solar
	nominal := p.r.volts() / 12
	ah := make([]float64, len(p.s.days)) // of each day, were the air clear
	for i, d := range p.s.days {
		ah[i] = panelAh(sun.Watts, sun.LatitudeDeg, d.at, 1) / nominal
	}
	most := p.amps.Max * 24
	k := keeping{
		clamped: true,
		hides:   true,
		looks:   p.keptLooks(BySun),
		gives: func(day int, soc, luck float64) float64 {
			clear := clearness.best
			if luck < 0 {
				clear = clearness.low
			} else if luck > 0 {
				clear = clearness.high
			}
			return min(most, clear*ah[day]) * kept / p.s.ah * 100
		},
	}
	w := p.through(BySun, k)
	coldest, _ := p.s.span()
	self, drain := p.s.loses(100, coldest, true, p.at)
	w.Watts = WattsFor(spareAmps*(self+drain)/100*p.s.ah*nominal/kept, sun.LatitudeDeg)
	watts := measure.Of(sun.Watts, watt, measure.Exact)
	w.Name = words.Say(nameSolar, "watts", watts).String()
	if math.IsInf(w.Watts, 1) {
		w.Watts = 0
		w.Cost = words.Say(costNoSun, "latitude", measure.Plain(sun.LatitudeDeg, 0))
	} else {
		w.Watts = math.Ceil(w.Watts)
		w.Cost = words.Say(costSolar, "watts", watts, "needed", measure.Of(w.Watts, watt, 0))
	}
	p.stored(&w, words.Say(doPanel), words.Say(doPanelOff), monthDays, true)
	w.add(panelMinutes, panelMinutes/3, lookMinutes, "snow")
	return w
}

const watt = measure.Unit("W")

func (p *planner) takenIn() WayOfKeeping {
	room := p.r.room()
	w := p.through(TakenIn, keeping{tempC: &room, looks: p.keptLooks(TakenIn)})
	p.stored(&w, words.Say(doTakeIn), words.Say(doTakeOut), p.lookDays(), true)
	w.Cost = words.Say(costTakenIn, "temp", measure.Degrees(room), "looks", looks(w.visits()))
	w.add(shelfMinutes, shelfMinutes, lookMinutes, append(p.offRisks(), "lifted")...)
	return w
}

// keptLooks are the looks at it, in the way it is kept; another way begins anew.
func (p *planner) keptLooks(way string) []seen {
	if p.r.Way == way || p.r.Way == "" {
		return p.looks
	}
	return nil
}

// systemVolts is of the whole vehicle.
func (r *Request) systemVolts() float64 {
	if r.Vehicle.SystemVolts == 0 {
		return 12
	}
	return r.Vehicle.SystemVolts
}
