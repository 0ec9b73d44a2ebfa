package station

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/rating"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// weighLoad says how a load test ended. Held is held by the school's own limit;
// sagged is under it with all that the reading may be off by, and what lies between
// is near: the meter, a temperature nobody measured, another load or time than was
// asked for, a charge that may have been too low.
func weighLoad(b *bench.Bench, l *bench.Load) {
	e := battery.MeterError(l.Volts)
	l.Band = battery.Band{Low: l.Volts - e, Best: l.Volts, High: l.Volts + e}
	made, known := b.AsNew()
	switch l.Method {
	case Fixed10s:
		weighFixed(b, l, made, known)
	case Starter:
		weighStarter(b, l, made, known)
	default:
		l.Limit = loadLimit(b, b.House, l.TempC)
		weighHalf(b, l, made, known)
	}
	if l.Mute.IsZero() && known && unlikely(b, l, made) {
		l.Result, l.Mute = bench.Silent, words.Say(muteUnlikely)
	}
}

// mostOfLabel is how much stronger than its label a battery is at most: new ones
// are up to a third over it; a size fitted larger than noted, a half. What shows
// more was not loaded. House judgement.
const mostOfLabel = 1.6

// leastFair is the charge, percent, under which no house calls a load test fair.
const leastFair = 50.0

// unlikely reports whether it showed more under its load than any battery of its
// label does.
func unlikely(b *bench.Bench, l *bench.Load, made battery.Battery) bool {
	amps, seconds := l.Amps, l.Seconds
	if amps <= 0 && l.Method == HalfCCA {
		amps = l.LabelLoad.Amps
	}
	if seconds <= 0 {
		seconds = rating.LoadSeconds
	}
	if amps <= 0 || l.Charge == nil {
		return false
	}
	open := made.LoadVolts(l.Charge.High, l.TempC, 0, 0)
	sag := open - made.LoadVolts(l.Charge.High, l.TempC, amps, seconds)
	return l.Band.Low > open-sag/mostOfLabel
}

// anywhereC is how much colder, °C, than assumed a battery may be where not even the
// shop's temperature was noted: a bay in winter. House judgement.
const anywhereC = 20.0

func weighHalf(b *bench.Bench, l *bench.Load, made battery.Battery, known bool) {
	e := l.Band.High - l.Volts
	doubts := []float64{e}
	unknown := battery.UnknownTempC
	if b.Case.Conditions.AmbientC == nil {
		unknown = anywhereC
	}
	temp := l.Limit - loadLimit(b, b.House, l.TempC-unknown)
	if l.TempAssumed {
		doubts = append(doubts, temp)
	}
	asked, amps, seconds := l.LabelLoad.Amps, l.Amps, l.Seconds
	if asked <= 0 {
		asked = amps
	}
	ampsSpread := readAmps
	if amps <= 0 {
		amps, ampsSpread = asked, assumedAmps
	}
	if seconds <= 0 {
		seconds = rating.LoadSeconds
	}
	l.Light = light(l)
	deficit, ampsDoubt := 0.0, 0.0
	if known && l.Charge != nil && amps > 0 {
		at := battery.Condition{SOC: battery.Band{Low: l.Charge.Best, Best: l.Charge.Best, High: l.Charge.Best}, TempC: l.TempC}
		worn, ok := b.Worn(l, made, at, battery.Discharge{Amps: amps, Seconds: seconds, Volts: l.Volts})
		if ok {
			end := func(soc, a, s float64) float64 { return worn.LoadVolts(soc, l.TempC, a, s) }
			here := end(l.Charge.Best, amps, seconds)
			if differs(amps, asked, loadPart) || math.Abs(seconds-rating.LoadSeconds) > shortBy {
				// What the load and the time that were asked for would have shown.
				shift := end(l.Charge.Best, asked, rating.LoadSeconds) - here
				l.Band.Best += shift
				doubts = append(doubts, extrapolated*shift, e*math.Abs(asked/amps-1))
			}
			ampsDoubt = math.Abs(here - end(l.Charge.Best, amps*(1+ampsSpread), seconds))
			doubts = append(doubts, ampsDoubt)
			// Charge explains as much as a full one would have shown more.
			if low := leastCharge(b, l); low < bench.SettledPct {
				deficit = max(0, end(bench.SettledPct, amps, seconds)-end(low, amps, seconds))
			}
		}
	}
	u := sigma(doubts...)
	l.Band.Low, l.Band.High = l.Band.Best-u, l.Band.Best+u+deficit
	if !differs(amps, asked, loadPart) && math.Abs(seconds-rating.LoadSeconds) <= shortBy {
		l.Band.Low, l.Band.Best = min(l.Band.Low, l.Volts-e), l.Volts
	}
	switch {
	case l.Charge == nil:
		l.Result = bench.Silent
		if l.Volts >= l.Limit {
			l.Result = bench.Held
		}
	case l.Band.Best >= l.Limit && l.Volts >= l.Limit:
		l.Result = bench.Held
	case l.Band.Best >= l.Limit && l.Band.Low >= l.Limit && l.TempC >= rating.ColdestTabledC:
		l.Result = bench.Held // under more than the asked load it showed less than the limit, and would hold the asked one
	case l.Volts >= l.Limit: // under less than the asked load, which it would not hold
		l.Result, l.Doubt = bench.Near, bench.DoubtLoad
	case l.Band.High >= l.Limit || !surely(b, l, made, known):
		l.Result = bench.Near
		if l.Doubt == "" {
			l.Doubt = doubtOf(b, l, temp, deficit, asked, amps, seconds, ampsDoubt)
		}
	default:
		l.Result = bench.Sagged
	}
}

// leastCharge is the least charge the test can have been taken at, percent.
func leastCharge(b *bench.Bench, l *bench.Load) float64 {
	if b.FilledBefore(l.Reading) {
		return max(l.Charge.Low, bench.LeastOfFull)
	}
	return l.Charge.Low
}

// extrapolated is the part of what was worked out for another load or time that
// may be wrong. House judgement.
const extrapolated = 0.3

func differs(a, b, part float64) bool { return b > 0 && math.Abs(a/b-1) > part }

// surely reports whether nothing but the battery explains a miss that is larger
// than all doubts together, and notes what does where something does.
func surely(b *bench.Bench, l *bench.Load, made battery.Battery, known bool) bool {
	switch {
	case !b.LabelRead():
		l.Doubt = bench.DoubtLabel
		return false
	case l.Amps <= 0 || l.Seconds <= 0: // a load nobody noted condemns nothing
		l.Doubt = bench.DoubtLoad
		return false
	case l.TempC < rating.ColdestTabledC:
		l.Doubt = bench.DoubtCold
		return false
	case !known:
		l.Doubt = bench.DoubtLabel
		return false
	}
	// A limit that a new battery of this label would miss in this cold condemns none.
	if l.Method == HalfCCA && l.LabelLoad.Amps > 0 {
		fresh := made.LoadVolts(l.Charge.Best, l.TempC, l.LabelLoad.Amps, rating.LoadSeconds)
		if fresh < l.Limit+battery.MeterError(l.Limit) {
			l.Doubt = bench.DoubtCold
			return false
		}
		// The table asks more of the label the colder and the emptier it is: one that
		// the model has at more than weak is charged or warmed before it is condemned.
		if l.Charge.Best >= leastFair && l.Volts >= made.LoadVoltsAt(b.House.WeakBelow, l.Charge.Best, l.TempC, l.Amps, l.Seconds) {
			if l.Doubt = bench.DoubtCold; l.Charge.Best < bench.SettledPct {
				l.Doubt = bench.DoubtCharge
			}
			return false
		}
	}
	return true
}

// doubtOf names what a near miss hangs on most: the first that can be settled.
func doubtOf(b *bench.Bench, l *bench.Load, temp, deficit, asked, amps, seconds, ampsDoubt float64) string {
	switch {
	case !b.LabelRead():
		return bench.DoubtLabel
	case l.TempAssumed && temp > 0.02:
		return bench.DoubtTemp
	case deficit > 0.01:
		return bench.DoubtCharge
	case differs(amps, asked, loadPart), math.Abs(seconds-rating.LoadSeconds) > shortBy, l.Amps <= 0 && ampsDoubt > 0.05:
		return bench.DoubtLoad
	}
	return bench.DoubtMeter
}

// weighFixed judges a fixed load by what batteries of this label would show under
// it: a new one, and one at 60 %. Its flat volts ignore the battery's size.
func weighFixed(b *bench.Bench, l *bench.Load, made battery.Battery, known bool) {
	switch {
	case l.Amps <= 0:
		l.Mute = words.Say(muteAmps)
		return
	case !known || b.SAE.Amps <= 0:
		l.Mute = words.Say(muteLabel)
		return
	}
	weighByPart(b, l, made, fixedSeconds)
}

// weighStarter judges the starter as the load: without its amps it says only that
// this engine turned on that much.
func weighStarter(b *bench.Bench, l *bench.Load, made battery.Battery, known bool) {
	l.Limit = b.House.StarterMinVolts * b.Case.Volts() / 12
	e := l.Band.High - l.Volts
	held := l.Volts >= l.Limit
	switch {
	case b.Case.Vehicle.Electric():
		l.Mute = words.Say(muteElectric)
	case l.Amps > 0 && known && b.SAE.Amps > 0:
		limit := l.Limit
		weighByPart(b, l, made, starterSeconds)
		// Its own limit stands beside what the model says of the battery.
		if l.Limit = limit; l.Result == bench.Sagged && held {
			l.Result = bench.Near
			l.Doubt = bench.DoubtLoad
		}
	case held:
		l.Result, l.Light = bench.Held, b.House.StrengthMethod != rules.ByStarter || l.TempAssumed
	case l.Volts+e >= l.Limit:
		l.Result, l.Doubt = bench.Near, bench.DoubtMeter
	default:
		// A big cold engine pulls more than half the CCA: never alone a reason to replace.
		l.Result, l.Doubt = bench.Near, bench.DoubtLoad
	}
}

// weighByPart judges a load by the part of the label that a battery must have left
// to show it.
func weighByPart(b *bench.Bench, l *bench.Load, made battery.Battery, seconds float64) {
	if l.Seconds > 0 {
		seconds = l.Seconds
	}
	if l.Charge == nil {
		l.Mute = words.Say(muteCharge)
		return
	}
	at := battery.Condition{SOC: *l.Charge, TempC: l.TempC}
	if l.TempAssumed {
		at.TempSpread = battery.UnknownTempC
	}
	s, err := made.StrengthFromLoad(at, battery.Discharge{Amps: l.Amps, Seconds: seconds, Volts: l.Volts, AmpsSpread: readAmps})
	if err != nil {
		l.Mute = words.Say(muteLabel)
		return
	}
	finished := b.SAE.Amps * bench.FinishedPct / 100
	l.Limit = made.LoadVoltsAt(bench.FinishedPct, l.Charge.Best, l.TempC, l.Amps, seconds)
	switch {
	case s.CCA.Best >= finished:
		l.Result = bench.Held
	case s.CCA.High >= finished:
		l.Result, l.Doubt = bench.Near, bench.DoubtLoad
	case !surely(b, l, made, true):
		l.Result = bench.Near
	default:
		l.Result = bench.Sagged
	}
}

// loadLimit gives the least volts at the end of the half-CCA load by a set of
// house rules.
func loadLimit(b *bench.Bench, house rules.Rules, tempC float64) float64 {
	if house.LoadTestLimit == rules.LimitFixed {
		return rating.LoadTestLimit(b.Case.Volts(), 100)
	}
	return rating.LoadTestLimit(b.Case.Volts(), tempC)
}
