// Package energy keeps the account of a typical week: what cranks, loads, a standing
// drain and the battery itself take out, what trips and chargers put back, and at what
// charge the two meet. A battery that settles low goes flat with nothing wrong in it.
//
// What a trip puts in is run through the battery model at several charges, in the cold
// it is driven in: a cold battery takes little, a full one less. Everything else is
// arithmetic.
package energy

import (
	"math"

	"grapnel/core/battery"
)

// Trip is one kind of trip.
type Trip struct {
	Times   float64 // a week
	Minutes float64 // each
	Idling  bool    // in traffic, the alternator turns slowly
}

// Vehicle is what turns, charges and drains the battery. Currents are of six cells or as
// the vehicle has them; amps.
type Vehicle struct {
	AlternatorVolts float64 // regulated, at the battery's temperature
	RoadAmps        float64 // what it gives warm, on the road
	IdleAmps        float64 // and at idle
	LoadAmps        float64 // lamps, fan, ignition while it runs
	CrankAmps       float64
	CrankSeconds    float64 // for each start
	DrainMilliamps  float64
	UsualMilliamps  float64 // what such a vehicle usually drains, to which it can be brought down
}

// Week is a typical week of one battery.
type Week struct {
	Battery battery.Battery // as it is, worn or not
	TempC   float64         // of its acid while it is charged, in this season
	Vehicle Vehicle
	Trips   []Trip
	// ChargerAmps are given a whole night, Nights times a week; MaintainerAmps whenever it
	// stands. 0 for none.
	ChargerAmps, Nights float64
	MaintainerAmps      float64
}

// Line is one line of the account.
type Line struct {
	Code string  // trips, idling, loads, cranks, drain, self_discharge, charger, maintainer
	Ah   float64 // a week, at the charge where it settles: in above 0, out below
	Trip int     // of trips, idling and loads: which of the week's trips, from 0
}

// Account is a week's account.
type Account struct {
	Lines []Line
	// Settles is the charge, percent, that weeks like this end at.
	Settles battery.Band
	// EmptyWeeks is after how many such weeks a full battery no longer starts its engine;
	// 0 where it always does.
	EmptyWeeks float64
}

// Sums gives all that comes in, and all that goes out, Ah a week, both above 0.
func (a Account) Sums() (in, out float64) {
	for _, l := range a.Lines {
		if l.Ah > 0 {
			in += l.Ah
		} else {
			out -= l.Ah
		}
	}
	return in, out
}

// hoursAWeek are those of which a battery stands or runs.
const hoursAWeek = 7 * 24.0

// nodes are the charges, percent, at which trips are run through the model; between them
// what they put in is taken in proportion.
var nodes = [...]float64{0, 15, 30, 45, 60, 70, 80, 88, 94, 98, 100}

// table is what a charging put in at each node, Ah.
type table [len(nodes)]float64

func (t *table) at(soc float64) float64 {
	i := 0
	for i < len(nodes)-2 && soc > nodes[i+1] {
		i++
	}
	return t[i] + (t[i+1]-t[i])*(soc-nodes[i])/(nodes[i+1]-nodes[i])
}

// stored gives what a source puts into the battery at each charge: charge kept, not
// what goes into gas.
func (w Week) stored(s battery.Source, hours float64) (t table) {
	ah := w.capacity()
	for i, soc := range nodes {
		last, err := w.Battery.Run(w.Battery.Rested(soc, w.TempC), battery.Duty{
			Source: s, Ambient: battery.Ambient{Start: w.TempC}, Seconds: hours * 3600, Tolerance: 2e-3})
		if err != nil {
			continue // it boils, or cannot be charged so: nothing is kept
		}
		t[i] = (last.SOC - soc) / 100 * ah
	}
	return t
}

// capacity is the battery's present full charge, Ah at the 20 h rate.
func (w Week) capacity() float64 { return w.Battery.Ah20h * w.Battery.Groups[0].Capacity }

// fed is a way of charging with what it puts in.
type fed struct {
	code  string
	times float64 // a week
	kept  table
	trip  int
}

// ledger is everything a week asks of the battery.
type ledger struct {
	ah   float64
	fed  []fed
	out  []Line                    // that does not hang on the charge
	self func(soc float64) float64 // Ah a week
	w    Week
}

// Spare is what an alternator has left for the battery.
func (v Vehicle) Spare(idling bool) float64 {
	amps := v.RoadAmps
	if idling {
		amps = v.IdleAmps
	}
	return amps - v.LoadAmps
}

func (w Week) ledger() ledger {
	l := ledger{ah: w.capacity(), w: w}
	starts, running := 0.0, 0.0
	for i, t := range w.Trips {
		if t.Times <= 0 || t.Minutes <= 0 {
			continue
		}
		starts += t.Times
		hours := t.Minutes / 60
		running += t.Times * hours
		spare := w.Vehicle.Spare(t.Idling)
		switch {
		case spare > 0 && w.Vehicle.AlternatorVolts > 0:
			code := "trips"
			if t.Idling {
				code = "idling"
			}
			l.fed = append(l.fed, fed{code, t.Times, w.stored(battery.Source{Amps: spare, Volts: w.Vehicle.AlternatorVolts}, hours), i})
		default:
			// What the alternator does not give comes out of the battery.
			short := w.Vehicle.LoadAmps
			if w.Vehicle.AlternatorVolts > 0 {
				short = -spare
			}
			l.out = append(l.out, Line{"loads", -t.Times * hours * short, i})
		}
	}
	if v := w.Vehicle; v.CrankAmps > 0 && starts > 0 {
		l.out = append(l.out, Line{Code: "cranks", Ah: -starts * v.CrankAmps * v.CrankSeconds / 3600})
	}
	standing := math.Max(0, hoursAWeek-running)
	if ma := w.Vehicle.DrainMilliamps; ma > 0 {
		l.out = append(l.out, Line{Code: "drain", Ah: -ma / 1000 * standing})
	}
	l.self = func(soc float64) float64 {
		return battery.SelfDischarge(w.Battery.Chemistry, soc, w.TempC) / 100 * l.ah * 7 / 30
	}
	if w.ChargerAmps > 0 && w.Nights > 0 {
		l.fed = append(l.fed, fed{code: "charger", times: w.Nights,
			kept: w.stored(battery.Source{Amps: w.ChargerAmps, Volts: chargerVolts * w.cells6()}, nightHours)})
	}
	return l
}

// What a charger on a night gives, volts of 12, and how long a night is.
const (
	chargerVolts = 14.5
	nightHours   = 10.0
)

func (w Week) cells6() float64 { return float64(w.Battery.Cells()) / 6 }

// net is what a week changes at a charge, Ah.
func (l *ledger) net(soc float64) float64 {
	sum := -l.self(soc)
	for _, o := range l.out {
		sum += o.Ah
	}
	for i := range l.fed {
		sum += l.fed[i].times * l.fed[i].kept.at(soc)
	}
	if m := l.w.MaintainerAmps; m > 0 {
		sum += m * hoursAWeek * maintains(soc)
	}
	return sum
}

// maintains is the part of a maintainer's current that is kept at a charge: it tapers
// off over the last tenth.
func maintains(soc float64) float64 { return math.Min(1, math.Max(0, (100-soc)/10)) }

// settle gives the charge at which in and out meet: what is put in falls as it fills, so
// there is one. A week that takes more than it gives at any charge ends at 0, one that
// gives more at 100.
func (l *ledger) settle() float64 {
	if l.net(100) >= 0 {
		return 100
	}
	if l.net(0) <= 0 {
		return 0
	}
	lo, hi := 0.0, 100.0
	for range 40 {
		if mid := (lo + hi) / 2; l.net(mid) > 0 {
			lo = mid
		} else {
			hi = mid
		}
	}
	return lo
}

// Of gives a week's account. The band takes in what nobody knows of such a week: a fifth
// of what trips put in, and of what stands on it.
func Of(w Week) Account {
	l := w.ledger()
	at := l.settle()
	out := Account{Settles: battery.Band{Low: l.scaled(1-unsure, 1+unsure).settle(), Best: at, High: l.scaled(1+unsure, 1-unsure).settle()}}
	for i := range l.fed {
		out.Lines = append(out.Lines, Line{l.fed[i].code, l.fed[i].times * l.fed[i].kept.at(at), l.fed[i].trip})
	}
	if m := w.MaintainerAmps; m > 0 {
		out.Lines = append(out.Lines, Line{Code: "maintainer", Ah: m * hoursAWeek * maintains(at)})
	}
	out.Lines = append(out.Lines, l.out...)
	out.Lines = append(out.Lines, Line{Code: "self_discharge", Ah: -l.self(at)})
	if leaves := w.startsFrom(); at < leaves {
		out.EmptyWeeks = l.weeksTo(leaves)
	}
	return out
}

// unsure is how far what goes in and out of a typical week may be off, each. House
// judgement.
const unsure = 0.2

// scaled is the account with what goes in and what goes out otherwise by a factor.
func (l *ledger) scaled(in, out float64) *ledger {
	s := *l
	s.fed, s.out = make([]fed, len(l.fed)), make([]Line, len(l.out))
	for i, f := range l.fed {
		f.times *= in
		s.fed[i] = f
	}
	for i, o := range l.out {
		o.Ah *= out
		s.out[i] = o
	}
	return &s
}

// startsFrom is the least charge, percent, at which it turns the engine in this cold.
func (w Week) startsFrom() float64 {
	if w.Vehicle.CrankAmps <= 0 {
		return 20
	}
	least, ever := w.Battery.ChargeToCrank(w.TempC, w.Vehicle.CrankAmps)
	if !ever {
		return 95
	}
	return min(95, least)
}

// weeksTo is after how many such weeks a full battery is down to a charge; at most two
// years.
func (l *ledger) weeksTo(soc float64) float64 {
	const step, most = 0.25, 104.0
	at := 100.0
	for week := 0.0; week < most; week += step {
		if at <= soc {
			return week
		}
		at += step * 100 * l.net(at) / l.ah
	}
	return most
}
