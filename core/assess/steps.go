package assess

import (
	"slices"

	"grapnel/core/bench"
	"grapnel/core/station"
	"grapnel/core/words"
)

// act is something that can be done next: its words as an order, its station, the
// cautions that stand at it, and its minutes where no station says them.
type act struct {
	do       string
	station  string
	minutes  float64
	cautions []string
}

// acts by the test a step names, placed on the sheet. Minutes: common practice,
// no source.
var acts = placed(map[string]act{
	"say_rest":     {do: doSayRest, station: station.RestVoltage, minutes: 1},
	"rest_voltage": {do: doRestVolts, station: station.RestVoltage},
	"load_test":    {do: doLoadTest, station: station.LoadTest, cautions: []string{"hydrogen", "load_tester"}},
	"rest":         {do: doRest, station: station.RestVoltage},
	"charge":       {do: doCharge, station: station.Decide, cautions: []string{"hydrogen", "acid"}},
	"clean":        {do: doClean, station: station.Cleaned, cautions: []string{"acid"}},
	"replace": {
		do:       doReplace,
		station:  station.Decide,
		minutes:  30,
		cautions: []string{"lifting", "acid", "recycle"},
	},
	"hand_over":  {do: doHandOver, station: station.Decide, minutes: 5},
	"thaw":       {do: doThaw, station: station.Decide, minutes: 480}, // a battery follows the shop by 6 to 8 hours
	"cable_drop": {do: doCables, station: station.CableDrop},
	"charging":   {do: doCharging, station: station.Charging},
})

// placed gives each act the minutes of its station where it has none of its own,
// and its place on the sheet: what is done at a station without one is decided
// about at the end.
func placed(all map[string]act) map[string]act {
	for test, a := range all {
		s, _ := station.Of(a.station)
		if a.minutes == 0 {
			a.minutes = s.Minutes
		}
		if s.Place == 0 {
			a.station = station.Decide
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

type stepper = func(*bench.Bench) Step

func one(test, why string) stepper {
	return func(*bench.Bench) Step { return step(test, why) }
}

func replace(why string) stepper   { return one("replace", why) }
func clean(why string) stepper     { return one("clean", why) }
func restVolts(why string) stepper { return one("rest_voltage", why) }
func handOver(why string) stepper  { return one("hand_over", why) }

func restSaid(*bench.Bench) Step { return step("say_rest", whySayRest) }
func thaw(*bench.Bench) Step     { return step("thaw", whyThaw) }
func cables(*bench.Bench) Step   { return step("cable_drop", whyCables) }
func charging(*bench.Bench) Step { return step("charging", whyCharging) }

func letRest(b *bench.Bench) Step {
	s := step("rest", whyRest)
	s.Minutes = b.Case.Rules.RestMinutes
	return s
}

func loadTest(b *bench.Bench) Step {
	why := whyLoad
	if l := b.Case.Battery.Rating.Label(); l.CCA == 0 && l.CA == 0 && l.Ah20h == 0 {
		why = whyLabelFirst
	}
	return step("load_test", why)
}

func chargeToTest(b *bench.Bench) Step { return charge(b, b.Case.Rules.LoadTestMinSOC) }
func chargeFull(b *bench.Bench) Step   { return charge(b, 100) }

func charge(b *bench.Bench, to float64) Step {
	s := step("charge", whyChargeRate)
	s.Minutes = chargeMinutes(soc(b), to)
	return s
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
	if b.Frozen {
		add("frozen")
	}
	for _, n := range a.Next {
		add(acts[n.Test].cautions...)
	}
	return out
}
