package assess

import (
	"fmt"
	"math"
	"slices"
)

// decision is what a story comes to.
type decision struct {
	verdict  Verdict
	headline string
	because  string
	next     []Step
}

// Minutes of work or waiting for each step. Common practice, no source.
const (
	minutesRestVolts = 2
	minutesLoadTest  = 5
	minutesClean     = 20
	minutesReplace   = 30
	minutesCables    = 10
	minutesHandOver  = 5
	minutesThaw      = 480 // a battery follows the shop by 6 to 8 hours
)

// crankComplaints are those that a weak or flat battery would explain; when the
// battery was found sound and charged, something else must.
var crankComplaints = []string{"dead_silent", "single_click", "rapid_click", "slow_crank", "cranks_no_fire", "dim_lights", "frequent_jumps"}

// decide weighs the story, hazards first, then what must be known before
// strength may be judged, then strength.
func (s *story) decide() decision {
	least := s.c.Rules.LoadTestMinSOC
	switch {
	case s.hazard != "":
		return decision{Stop, "Stop. " + s.hazard + ".", "Do not charge, load test or jump start it. Replace it.",
			[]Step{{Test: "replace", Minutes: minutesReplace, Why: "It is not safe to work on."}}}
	case s.frozen:
		return decision{MoreReadings, "It may be frozen. Thaw it first.", "A frozen battery can burst when it is charged or cranked.",
			[]Step{{Test: "thaw", Minutes: minutesThaw, Why: "Then look for a split or bulged case before anything else."}}}
	case s.rest == nil:
		return s.needRest()
	case s.rest.tooHigh:
		return decision{MoreReadings, "Rest it, then read again.", "No rested battery reads this high.",
			[]Step{{Test: "rest", Minutes: s.c.Rules.RestMinutes, Why: "Surface charge must fade first."}, {Test: "rest_voltage", Minutes: minutesRestVolts, Why: "Gives its charge."}}}
	case s.rest.Charge.Best < least:
		return s.low()
	case s.load == nil:
		return decision{MoreReadings, "Charged enough. Load test it.", "The voltage says how full it is, not how strong.", []Step{s.loadStep()}}
	case !s.load.fair:
		return decision{MoreReadings, "Charged now. Load test it again.", "The last load test was taken while it was too flat.", []Step{s.loadStep()}}
	case s.load.result == held && s.load.light:
		return decision{MoreReadings, "Load test it at full load.", "Holding a light or short load proves little.", []Step{s.loadStep()}}
	case s.undecided():
		return s.unsettled()
	case s.load.result == held:
		return s.sound()
	}
	return s.weak()
}

// needRest is for a battery whose charge nobody knows yet.
func (s *story) needRest() decision {
	step := Step{Test: "rest_voltage", Minutes: minutesRestVolts, Why: "Gives its charge; nothing else can be judged before."}
	if len(s.dirty) > 0 {
		return decision{MoreReadings, "Clean the contacts, then take the rest voltage.", "A bad contact spoils every reading taken through it.",
			[]Step{{Test: "clean", Minutes: minutesClean, Why: "Readings through a bad contact cannot be trusted."}, step}}
	}
	if s.charged >= 0 {
		return decision{MoreReadings, "Rest it, then take the volts.", "Straight off the charger every battery looks full.",
			[]Step{{Test: "rest", Minutes: s.c.Rules.RestMinutes, Why: "Surface charge must fade first."}, step}}
	}
	if s.load != nil {
		return decision{MoreReadings, "Take the rest voltage.", "The load test counts once it is known how full the battery is.", []Step{step}}
	}
	return decision{MoreReadings, "Take the rest voltage first.", "A flat battery is not a bad battery: find out how full it is.", []Step{step}}
}

// low is for a battery under the house minimum for a fair test.
func (s *story) low() decision {
	soc := s.rest.Charge
	if s.chargedFull >= 0 && s.rest.i > s.chargedFull && s.rest.settled && soc.High < s.c.Rules.LoadTestMinSOC {
		s.add(Finding{Code: "rest_voltage.low_after_full_charge", Level: Act, Readings: []int{s.chargedFull, s.rest.i},
			Rule: "charge.holds", Source: practice, Text: "Charged to full and still low: it no longer holds a charge.",
			Why: "A sound battery rests near its full voltage after a full charge."})
		return decision{Replace, "Replace it: it will not hold a charge.", "It was charged to full and rests low again.",
			[]Step{{Test: "replace", Minutes: minutesReplace, Why: "Charging cannot bring it back."}}}
	}
	because := fmt.Sprintf("%s: too low to judge its strength fairly.", fullness(soc.Best))
	return decision{ChargeAndRetest, "Charge it, then test again.", because,
		[]Step{s.chargeStep(s.c.Rules.LoadTestMinSOC), s.loadStep()}}
}

// unsettled is for a battery whose testers cannot both be right: neither is
// outvoted, and nothing is condemned or handed back on it.
func (s *story) unsettled() decision {
	d := decision{verdict: MoreReadings, headline: "The testers contradict each other. Test it again.", because: "No one battery gives these readings. " + s.settle()}
	switch {
	case len(s.dirty) > 0:
		d.next = append(d.next, Step{Test: "clean", Minutes: minutesClean, Why: "A bad contact misleads one tester and not the other."})
	case s.rest.Charge.Best < settledPct:
		d.next = append(d.next, s.chargeStep(100))
	}
	d.next = append(d.next, s.loadStep())
	return d
}

// sound is for a battery that held a fair load.
func (s *story) sound() decision {
	back := s.c.Rules.ReturnMinSOC
	if s.rest.Charge.Best < back {
		other := ""
		if o, ok := s.c.Rules.Other("return.min_soc"); ok && s.rest.Charge.Best >= o.Number {
			other = fmt.Sprintf("%s (%.0f %%): hand it back as it is", o.Name, o.Number)
		}
		s.add(Finding{Code: "return.charge_first", Level: Act, Readings: []int{s.rest.i}, Rule: "return.min_soc", Source: practice, Other: other,
			Text: fmt.Sprintf("Under %.0f %%: charge it before it goes back.", back), Why: "A part charged battery comes back in three days."})
		return decision{GoodAfterCharge, "Sound. Charge it before it goes back.", "Strong under load, only not full.",
			[]Step{s.chargeStep(100), {Test: "hand_over", Minutes: minutesHandOver, Why: "Sound once it is full."}}}
	}
	if s.charged < 0 && slices.ContainsFunc(s.c.Complaint, func(w string) bool { return slices.Contains(crankComplaints, w) }) {
		return decision{LookElsewhere, "The battery is sound. Look elsewhere.", "It came in charged and holds its load, so the complaint has another cause.",
			[]Step{{Test: "cable_drop", Minutes: minutesCables, Why: "Bad cables and clamps turn an engine slowly too."}, {Test: "charging", Minutes: minutesHandOver, Why: "Shows whether the alternator keeps up."}}}
	}
	return decision{Good, "Sound and charged. Back to work.", "It holds its load with charge to spare.",
		[]Step{{Test: "hand_over", Minutes: minutesHandOver, Why: "Nothing more to find in the battery."}}}
}

// weak is for a battery that was charged enough and did not hold.
func (s *story) weak() decision {
	l := s.load
	switch {
	case len(s.dirty) > 0:
		return decision{MoreReadings, "Clean the contacts and test again.", "The volts may have been lost in a bad contact.",
			[]Step{{Test: "clean", Minutes: minutesClean, Why: "A bad contact looks like a weak battery."}, s.loadStep()}}
	case l.result == between:
		return decision{MoreReadings, "Load test it at half its CCA.", "The fixed load left it between fine and finished.", []Step{s.loadStep()}}
	case s.narrowMiss(l):
		s.add(Finding{Code: "load_test.narrow", Level: Act, Readings: []int{l.i}, Rule: "load_test.narrow", Source: ownRanking,
			Text: fmt.Sprintf("It missed by %.2f V, and it may have been under %.0f %%.", l.limit-l.volts, s.c.Rules.LoadTestMinSOC),
			Why:  "A miss this small can be charge alone. Full, it has no excuse."})
		return decision{ChargeAndRetest, "Charge it full, then test again.", "A narrow miss on a battery that may be low is no verdict.",
			[]Step{s.chargeStep(100), s.loadStep()}}
	}
	return decision{Replace, "Replace it: charged, and still too weak.", "It was charged enough for a fair test and did not hold its load.",
		[]Step{{Test: "replace", Minutes: minutesReplace, Why: "Charging cannot bring it back."}}}
}

func (s *story) loadStep() Step {
	why := "Shows whether it can still deliver."
	if s.c.Battery.Rating.Label().CCA == 0 && s.c.Battery.Rating.Label().CA == 0 && s.c.Battery.Rating.Label().Ah20h == 0 {
		why = "Enter the CCA, CA or Ah from the label first: the load follows it."
	}
	return Step{Test: "load_test", Minutes: minutesLoadTest, Why: why}
}

// chargeStep estimates the time to reach a charge at a tenth of the battery's
// ampere-hours, the kind rate, with 15 % lost. Common practice, no source. The
// size of the battery cancels out.
func (s *story) chargeStep(to float64) Step {
	const rate, efficiency = 0.10, 0.85
	hours := max(0, to-s.rest.Charge.Best) / 100 / rate / efficiency
	return Step{Test: "charge", Minutes: 15 * math.Ceil(hours*4), Why: "At a tenth of its ampere-hours. Cold or long flat batteries take longer."}
}

// fullness says a charge in words.
func fullness(soc float64) string {
	switch {
	case soc < 8:
		return "Flat"
	case soc < 35:
		return "Nearly flat"
	case soc < 60:
		return "About half charged"
	}
	return "Part charged"
}
