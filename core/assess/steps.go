package assess

import (
	"slices"

	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/words"
)

// act is something that can be done next: its words as an order, its station, the
// cautions that stand at it, and its minutes where no station says them. Strains:
// it charges, loads, cranks or jumps the battery, and is never next while a hazard
// stands.
type act struct {
	do       string
	station  string
	minutes  float64
	cautions []string
	strains  bool
}

// acts by the test a step names, placed on the sheet. Minutes: common practice,
// no source.
var acts = placed(map[string]act{
	"look": {do: doLook, station: station.Look, minutes: 1},
	"air":  {do: doAir, station: station.Clean, minutes: 60, cautions: []string{"hydrogen"}},
	"cool": {do: doCool, station: station.Clean, minutes: 240},
	"thaw": {do: doThaw, station: station.Clean, minutes: 480,
		cautions: []string{"frozen"}}, // it follows the shop by 6 to 8 hours
	"warm":         {do: doWarm, station: station.Strength, minutes: 480},
	"water":        {do: doWater, station: station.Clean, minutes: 10, cautions: []string{"acid"}},
	"say_rest":     {do: doSayRest, station: station.RestVoltage, minutes: 1},
	"say_time":     {do: doSayTime, station: station.RestVoltage, minutes: 1},
	"rest_voltage": {do: doRestVolts, station: station.RestVoltage},
	"rest":         {do: doRest, station: station.RestVoltage},
	"rest_apart":   {do: doRestApart, station: station.RestVoltage, minutes: 720},
	"acid":         {do: doAcid, station: station.Acid},
	"eye":          {do: doEye, station: station.Eye},
	"charge":       {do: doCharge, station: station.Charge, cautions: []string{"hydrogen", "acid"}, strains: true},
	"charge_check": {do: doChargeCheck, station: station.Charge, cautions: []string{"hydrogen", "charging"}},
	"load_test":    {do: doLoadTest, station: station.Strength, cautions: []string{"load_tester"}, strains: true},
	"conductance":  {do: doConductance, station: station.Strength, minutes: 3},
	"read_label":   {do: doReadLabel, station: station.Arrive, minutes: 2},
	"temperature":  {do: doTemperature, station: station.Arrive, minutes: 2},
	"cable_drop":   {do: doCables, station: station.Crank, cautions: []string{"cranking"}, strains: true},
	"charging":     {do: doCharging, station: station.Charging, cautions: []string{"running_engine"}},
	"drain":        {do: doDrain, station: station.Drain},
	"why_flat":     {do: doWeek, station: station.WhyFlat},
	"clean":        {do: doClean, station: station.Clean, minutes: 20, cautions: []string{"acid"}},
	"put_right":    {do: doPutRight, station: station.Clean, minutes: 10},
	"mend":         {do: doMend, station: station.Clean, minutes: 30},
	"tell":         {do: doTell, station: station.Decide, minutes: 3},
	"replace": {
		do:       doReplace,
		station:  station.Decide,
		minutes:  30,
		cautions: []string{"lifting", "acid", "recycle"},
	},
	"replace_both": {
		do:       doReplaceBoth,
		station:  station.Decide,
		minutes:  45,
		cautions: []string{"lifting", "acid", "recycle"},
	},
	"hand_over": {do: doHandOver, station: station.Handover, minutes: 5},
})

// placed gives each act the minutes of its station where it has none of its own.
func placed(all map[string]act) map[string]act {
	for test, a := range all {
		s, _ := station.Of(a.station)
		if a.minutes == 0 {
			a.minutes = s.Minutes
		}
		all[test] = a
	}
	return all
}

// step is a test as a step.
func step(test, why string) Step {
	a := acts[test]
	return Step{Test: test, Do: words.Say(a.do), Minutes: a.minutes, Why: words.Say(why), Station: a.station}
}

// stepper gives the steps of one move of a verdict.
type stepper = func(*bench.Bench) []Step

func one(test, why string) stepper {
	return func(*bench.Bench) []Step { return []Step{step(test, why)} }
}

func do(test string) stepper       { return one(test, doWhy[test]) }
func replace(why string) stepper   { return one("replace", why) }
func clean(why string) stepper     { return one("clean", why) }
func restVolts(why string) stepper { return one("rest_voltage", why) }

// doWhy says why a thing is done where there is but one reason.
var doWhy = map[string]string{
	"air": whyAir, "cool": whyCool, "thaw": whyThaw, "warm": whyWarm, "water": whyWater, "eye": whyEye,
}

// replaces is one battery, or both of two in parallel, and what else was found:
// else the new one goes the way of the old.
func replaces(why string) stepper {
	return func(b *bench.Bench) []Step {
		first := step("replace", why)
		if b.Case.Vehicle.Arrangement == "parallel" {
			first = step("replace_both", whyBoth)
		}
		return append([]Step{first}, mendAll(b)...)
	}
}

// stopFirst is what a hazard that stops the work asks for.
func stopFirst(b *bench.Bench) []Step {
	h, _ := b.Stopped()
	if h.First == "thaw" {
		return []Step{step("thaw", whyThaw), step("look", whyLookAgain)}
	}
	return []Step{step("replace", whyUnsafe)}
}

func look(*bench.Bench) []Step      { return []Step{step("look", whyLookAgain)} }
func restSaid(*bench.Bench) []Step  { return []Step{step("say_rest", whySayRest)} }
func howLong(*bench.Bench) []Step   { return []Step{step("say_time", whySayTime)} }
func restApart(*bench.Bench) []Step { return []Step{step("rest_apart", whyApart)} }
func acid(*bench.Bench) []Step      { return []Step{step("acid", whyAcid)} }
func acidAgain(*bench.Bench) []Step { return []Step{step("acid", whyAcidAgain)} }
func readLabel(*bench.Bench) []Step { return []Step{step("read_label", whyReadLabel)} }
func takeTemp(*bench.Bench) []Step  { return []Step{step("temperature", whyTemperature)} }

// charging, drainTest and cables are asked for until they are answered.
func charging(b *bench.Bench) []Step {
	return unanswered(b, station.Charging, step("charging", whyCharging))
}

func drainTest(b *bench.Bench) []Step {
	if f, ok := b.Fault(station.FaultDrain); ok {
		return []Step{mending(f)}
	}
	return unanswered(b, station.Drain, step("drain", whyDrain))
}

// week is asked for where nothing measured says why it went flat: perhaps it is never
// filled.
func week(b *bench.Bench) []Step {
	if _, known := b.AsNew(); !known || b.Fed() != nil || b.Case.Vehicle.Electric() {
		return nil
	}
	return []Step{step("why_flat", whyWeek)}
}

// cables are measured while cranking, where there is a starter.
func cables(b *bench.Bench) []Step {
	if b.Case.Vehicle.Electric() {
		return nil
	}
	return unanswered(b, station.Crank, step("cable_drop", whyCables))
}

// lookAround is what is measured where the battery is not the fault, the likeliest
// first.
func lookAround(b *bench.Bench) []Step {
	order := []stepper{cables, charging}
	switch {
	case complains(b, standComplaints):
		order = []stepper{drainTest, charging}
	case complains(b, chargeComplaints):
		order = []stepper{charging, cables}
	}
	var out []Step
	if len(b.Dirty) > 0 {
		out = append(out, step("clean", whyLooksWeak))
	}
	for _, s := range order {
		out = append(out, s(b)...)
	}
	return out
}

func unanswered(b *bench.Bench, at string, s Step) []Step {
	if b.Settled(at) {
		return nil
	}
	return []Step{s}
}

// mendAll are the faults outside the battery, each as an order.
func mendAll(b *bench.Bench) []Step {
	var out []Step
	for _, f := range b.AllElsewhere() {
		out = append(out, mending(f))
	}
	return out
}

// mending is what is to be done about a fault: a drain is looked for at its
// station until its branch is found.
func mending(f bench.Fault) Step {
	s := step("mend", whyMend)
	if f.Code == station.FaultDrain && !f.Found {
		s = step("drain", whyMend)
	}
	s.Do = f.Name
	return s
}

// sayWeak is what the house does about a weak battery that starts its engine.
func sayWeak(b *bench.Bench) []Step {
	s := step("tell", policyWhy[b.House.WeakPolicy])
	s.Do = words.Say(policyDo[b.House.WeakPolicy])
	return append(append(mendAll(b), chores(b)...), s)
}

// halfAnswered are questions somebody put and nobody has an answer to yet: charging
// volts of an idling engine, a drain read before all was asleep.
func halfAnswered(b *bench.Bench) []Step {
	var out []Step
	for _, q := range [][2]string{{station.Charging, whyOnlyIdle}, {station.Drain, whyAwake}} {
		if b.Measured(q[0]) && !b.Settled(q[0]) {
			out = append(out, step(q[0], q[1]))
		}
	}
	return out
}

// handItOver is the end of one that is out of its vehicle for good.
func handItOver(*bench.Bench) []Step { return []Step{step("hand_over", whyReplacedGoes)} }

// handOver is the end, with what has to be put right in passing before it.
func handOver(b *bench.Bench) []Step {
	why := whyNothingMore
	switch {
	case flatNoWhy(b) && underfed(b):
		why = whyFeed
	case flatNoWhy(b):
		why = whyWarn
	case elsewhere(b) || cameInSound(b):
		why = whyBatteryHolds
	}
	return append(append(halfAnswered(b), chores(b)...), step("hand_over", why))
}

func handOverOnceFull(b *bench.Bench) []Step {
	return append(append(append(mendAll(b), halfAnswered(b)...), chores(b)...), step("hand_over", whyOnceFull))
}

// chores are what has to be put right in passing: contacts, and what looking found.
func chores(b *bench.Bench) []Step {
	var out []Step
	if len(b.Dirty) > 0 {
		out = append(out, step("clean", whyDirtyGoes))
	}
	all := b.Chores()
	if len(all) == 0 {
		return out
	}
	var names []words.Text
	for _, f := range all {
		names = append(names, f.Name)
	}
	s := step("put_right", whyPutRight)
	s.Why = words.Join(". ", names)
	return append(out, s)
}

func letRest(b *bench.Bench) []Step {
	s := step("rest", whyRest)
	s.Minutes = b.House.RestMinutes
	return []Step{s}
}

// strengthTest is the test of the house's school.
func strengthTest(b *bench.Bench) []Step {
	l := b.Case.Battery.Rating.Label()
	bare := l.CCA == 0 && l.CA == 0
	if b.House.StrengthMethod == rules.ByConductance && b.Load == nil {
		if bare {
			return []Step{step("conductance", whyLabelFirst)}
		}
		return []Step{step("conductance", whyLoad)}
	}
	why := whyLoad
	if bare && l.Ah20h == 0 {
		why = whyLabelFirst
	}
	return []Step{step("load_test", why)}
}

func chargeToTest(b *bench.Bench) []Step { return chargeAtRate(b, b.House.LoadTestMinSOC) }
func chargeFull(b *bench.Bench) []Step   { return chargeAtRate(b, 100) }
func chargeSlowly(b *bench.Bench) []Step { return chargeAt(b, rules.RateTenth, 100, whyChargeSlowly) }
func chargeAgain(b *bench.Bench) []Step  { return chargeAt(b, rules.RateTenth, 100, whyChargeAgain) }
func chargeWatching(b *bench.Bench) []Step {
	return chargeAt(b, rules.RateTenth, b.House.LoadTestMinSOC, whyChargeWatched)
}

func chargeAt(b *bench.Bench, rate string, to float64, why string) []Step {
	if b.Hung != nil {
		return []Step{step("charge_check", whyOnCharger)}
	}
	s := step("charge", why)
	s.Minutes = b.ChargeMinutes(rate, to)
	return []Step{s}
}

// rateSaid is each rate in words.
var rateSaid = map[string]string{rules.RateTenth: saysTenth, rules.RateLabel: saysLabel, rules.RateFast: saysFast}

// chargeAtRate charges it as the house does.
func chargeAtRate(b *bench.Bench, to float64) []Step {
	rate := b.HouseRate()
	out := chargeAt(b, rate, to, whyChargeRate)
	if amps := b.ChargeAmps(rate); amps > 0 && b.Hung == nil {
		temp, _ := b.Case.TempC(nil)
		out[0].Why = words.Say(whyChargeAmps, "amps", measure.Of(amps, measure.Amp, measure.Exact), "temp", measure.Degrees(temp),
			"rate", words.Say(rateSaid[rate]))
	}
	return out
}

// lookFirst puts the one question of every job and good contacts before anything
// that strains the battery, and keeps what strains it away where a hazard stands.
func lookFirst(b *bench.Bench, next []Step) []Step {
	if b.Hazardous() {
		return slices.DeleteFunc(next, func(s Step) bool { return acts[s.Test].strains })
	}
	first := slices.IndexFunc(next, func(s Step) bool { return acts[s.Test].strains })
	if first >= 0 && len(b.Dirty) > 0 && !slices.ContainsFunc(next, func(s Step) bool { return s.Test == "clean" }) {
		next = slices.Insert(next, first, step("clean", whyNoContact))
	}
	strains := first >= 0
	if !strains || b.Looked || slices.ContainsFunc(next, func(s Step) bool { return s.Test == "look" }) {
		return next
	}
	at := slices.IndexFunc(next, func(s Step) bool { return acts[s.Test].strains })
	return slices.Insert(next, at, step("look", whyLookFirst))
}

// whileItRuns puts the charging volts first where a jump start is the last that was told:
// the engine runs, and what feeds it is seen at once.
func whileItRuns(b *bench.Bench, next []Step) []Step {
	all := b.Case.Readings
	if len(all) == 0 || b.Hazardous() || b.Case.Vehicle.Electric() {
		return next
	}
	last := all[len(all)-1]
	if started, _ := last.Flag("started"); last.Kind != station.JumpResult || !started {
		return next
	}
	next = slices.DeleteFunc(slices.Clone(next), func(s Step) bool { return s.Test == "charging" })
	return slices.Insert(next, 0, step("charging", whyRunning))
}

// cautions lists what can hurt somebody at the steps ahead, by the names that
// package guide explains.
func cautions(b *bench.Bench, a Assessment) []string {
	out := []string{}
	add := func(codes ...string) {
		for _, c := range codes {
			if !slices.Contains(out, c) {
				out = append(out, c)
			}
		}
	}
	if b.Case.Vehicle.Electric() {
		add("high_voltage")
	}
	for _, h := range b.Hazards {
		if h.Code == bench.HazardIce || h.Code == bench.HazardFrozen {
			add("frozen")
		}
		if h.Code == bench.HazardCracked || h.Code == bench.HazardLeaking {
			add("leak")
		}
	}
	for _, n := range a.Next {
		add(acts[n.Test].cautions...)
		if n.Test == "charge" && !b.Case.Battery.Chemistry.Liquid() {
			add("charging_sealed")
		}
		if b.Case.Vehicle.Electric() && (n.Test == "load_test" || n.Test == "replace") {
			add("isolate")
		}
	}
	return out
}
