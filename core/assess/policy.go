package assess

import (
	"math"
	"slices"

	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// ruling is one row of the policy: when it decides, and what then.
type ruling struct {
	when    condition
	verdict Verdict
	say     saying
	next    []stepper
	names   func(*bench.Bench) []any         // what the sentences name
	tells   func(*bench.Bench) bench.Finding // what it adds to the ledger
}

// policy decides, the first row that holds: hazards, then what must be known
// before strength may be judged, then strength. Nothing below a row is looked at
// when the row holds.
var policy = []ruling{
	on(hazard, Stop, stopWork, replace(whyUnsafe)).naming("hazard", theHazard),
	on(mayBeIce, MoreReadings, thawFirst, thaw),

	on(all(chargeUnknown, dirty), MoreReadings, cleanThenRest, clean(whyDirtyRest), restVolts(whyRestFirst)),
	on(all(chargeUnknown, wasCharged), MoreReadings, restAfterCharge, letRest, restVolts(whyRestFirst)),
	on(all(chargeUnknown, loaded), MoreReadings, restForLoad, restVolts(whyRestFirst)),
	on(chargeUnknown, MoreReadings, restFirst, restVolts(whyRestFirst)),
	on(tooHigh, MoreReadings, restAgain, letRest, restVolts(whyRestAgain)),

	on(all(low, restUnsaid, maybeEnough), MoreReadings, sayRest, restSaid, letRest).naming("charge", spelled),

	on(all(low, lowAfterFull), Replace, notHolding, replace(whyBeyond)).telling(tellNotHolding),
	on(low, ChargeAndRetest, chargeFirst, chargeToTest, loadTest).naming("fullness", fullness),

	on(none(loaded), MoreReadings, loadNow, loadTest),
	on(none(fair), MoreReadings, loadOnceMore, loadTest),
	on(all(held, light), MoreReadings, loadFully, loadTest),

	on(all(undecided, dirty), MoreReadings, contradiction, clean(whyMisleads), loadTest).naming("settle", settle),
	on(all(undecided, notSettled), MoreReadings, contradiction, chargeFull, loadTest).naming("settle", settle),
	on(undecided, MoreReadings, contradiction, loadTest).naming("settle", settle),

	on(all(held, notFullEnough), GoodAfterCharge, soundNotFull, chargeFull,
		handOver(whyOnceFull)).telling(tellChargeFirst),
	on(all(held, cameInSound), LookElsewhere, lookElsewhere, cables, charging),
	on(held, Good, sound, handOver(whyNothingMore)),

	on(dirty, MoreReadings, cleanAndTest, clean(whyLooksWeak), loadTest),
	on(between, MoreReadings, loadAtHalf, loadTest),
	on(narrowMiss, ChargeAndRetest, fullThenTest, chargeFull, loadTest).telling(tellNarrow),
	on(always, Replace, tooWeak, replace(whyBeyond)),
}

func on(when condition, v Verdict, say saying, next ...stepper) ruling {
	return ruling{when: when, verdict: v, say: say, next: next}
}

func (r ruling) naming(name string, value func(*bench.Bench) words.Text) ruling {
	r.names = func(b *bench.Bench) []any { return []any{name, value(b)} }
	return r
}

func (r ruling) telling(f func(*bench.Bench) bench.Finding) ruling {
	r.tells = f
	return r
}

// decide gives verdict, headline and next steps by the first row of the policy
// that holds.
func decide(b *bench.Bench) Assessment {
	for _, r := range policy {
		if !r.when(b) {
			continue
		}
		var names []any
		if r.names != nil {
			names = r.names(b)
		}
		a := Assessment{
			Verdict: r.verdict, Headline: words.Say(r.say.headline, names...), Because: words.Say(r.say.because,
				names...), Next: []Step{},
		}
		if r.tells != nil {
			b.Tell(r.tells(b))
		}
		for _, step := range r.next {
			a.Next = append(a.Next, step(b))
		}
		return a
	}
	panic("the policy's last row holds always")
}

type condition = func(*bench.Bench) bool

func all(cs ...condition) condition {
	return func(b *bench.Bench) bool {
		for _, c := range cs {
			if !c(b) {
				return false
			}
		}
		return true
	}
}

func none(c condition) condition { return func(b *bench.Bench) bool { return !c(b) } }

func always(*bench.Bench) bool { return true }

// NarrowVolts, of 12, is a miss small enough to be charge, meter or time. House
// judgement.
const NarrowVolts = 0.3

// crankComplaints are those that a weak or flat battery would explain; when the
// battery was found sound and charged, something else must.
var crankComplaints = []string{
	"dead_silent",
	"single_click",
	"rapid_click",
	"slow_crank",
	"cranks_no_fire",
	"dim_lights",
	"frequent_jumps",
}

// What holds, as the policy asks it. From low on, the charge is known; from held
// on, there is a fair load test.
func hazard(b *bench.Bench) bool        { return !b.Hazard.IsZero() }
func mayBeIce(b *bench.Bench) bool      { return b.Frozen }
func chargeUnknown(b *bench.Bench) bool { return b.Charge == nil }
func dirty(b *bench.Bench) bool         { return len(b.Dirty) > 0 }
func wasCharged(b *bench.Bench) bool    { return b.Charged >= 0 }
func loaded(b *bench.Bench) bool        { return b.Load != nil }
func tooHigh(b *bench.Bench) bool       { return b.Charge.TooHigh }
func low(b *bench.Bench) bool           { return soc(b) < b.Case.Rules.LoadTestMinSOC }
func restUnsaid(b *bench.Bench) bool    { return b.Charge.Unsaid }
func maybeEnough(b *bench.Bench) bool {
	return b.Charge.RestCharge.Charge.High >= b.Case.Rules.LoadTestMinSOC
}
func fair(b *bench.Bench) bool          { return b.Load.Fair }
func held(b *bench.Bench) bool          { return b.Load.Result == bench.Held }
func light(b *bench.Bench) bool         { return b.Load.Light }
func between(b *bench.Bench) bool       { return b.Load.Result == bench.Between }
func undecided(b *bench.Bench) bool     { return b.Undecided() }
func notSettled(b *bench.Bench) bool    { return soc(b) < bench.SettledPct }
func notFullEnough(b *bench.Bench) bool { return soc(b) < b.Case.Rules.ReturnMinSOC }

// lowAfterFull reports whether the battery was charged full since, has rested
// long enough for its volts to be believed, and is surely low again.
func lowAfterFull(b *bench.Bench) bool {
	return b.Full >= 0 && b.Charge.Settled && // a charge leaves no older rest voltage
		b.Charge.RestCharge.Charge.High < b.Case.Rules.LoadTestMinSOC
}

// cameInSound reports whether a battery nobody had to charge was found sound
// while the engine would not turn.
func cameInSound(b *bench.Bench) bool {
	return b.Charged < 0 &&
		slices.ContainsFunc(b.Case.Complaint, func(w string) bool { return slices.Contains(crankComplaints, w) })
}

// narrowMiss reports whether a failure is too small to condemn a battery whose
// charge may really have been under the house minimum.
func narrowMiss(b *bench.Bench) bool {
	l := b.Load
	return l.Charge.Low < b.Case.Rules.LoadTestMinSOC && l.Volts > l.Limit-NarrowVolts*b.Case.Volts()/12
}

func soc(b *bench.Bench) float64 { return b.Charge.RestCharge.Charge.Best }

// What the sentences name.

func theHazard(b *bench.Bench) words.Text { return b.Hazard }

func settle(b *bench.Bench) words.Text { return b.Settle() }

func spelled(b *bench.Bench) words.Text { return bench.SpellCharge(b.Charge.RestCharge.Charge) }

// fullness says a charge in words.
func fullness(b *bench.Bench) words.Text {
	switch soc := soc(b); {
	case soc < 8:
		return words.Say(fullnessFlat)
	case soc < 35:
		return words.Say(fullnessNearly)
	case soc < 60:
		return words.Say(fullnessHalf)
	}
	return words.Say(fullnessPart)
}

// What a verdict adds to the ledger.

func tellNotHolding(b *bench.Bench) bench.Finding {
	return bench.Finding{
		Code:     "rest_voltage.low_after_full_charge",
		Level:    bench.Act,
		Readings: []int{b.Full, b.Charge.Reading},
		Rule:     "charge.holds",
		Source:   bench.Practice,
		Text:     words.Say(saysNotHolding),
		Why:      words.Say(whyNotHolding),
	}
}

func tellChargeFirst(b *bench.Bench) bench.Finding {
	house := b.Case.Rules
	var others []words.Text
	for _, s := range house.Others(rules.ReturnMinSOC) {
		if soc(b) >= s.Number {
			others = append(others, words.Say(schoolHandBack, "name", s.Name, "figure", percent(s.Number)))
		}
	}
	return bench.Finding{
		Code:     "return.charge_first",
		Level:    bench.Act,
		Readings: []int{b.Charge.Reading},
		Rule:     rules.ReturnMinSOC,
		Source:   bench.Practice,
		Text:     words.Say(saysChargeFirst, "least", percent(house.ReturnMinSOC)),
		Why:      words.Say(whyChargeFirst),
		Other:    words.Join("; ", others),
	}
}

func tellNarrow(b *bench.Bench) bench.Finding {
	return bench.Finding{
		Code:     "load_test.narrow",
		Level:    bench.Act,
		Readings: []int{b.Load.Reading},
		Rule:     "load_test.narrow",
		Source:   bench.Judgement,
		Text: words.Say(saysNarrow, "missed", measure.Volts(b.Load.Limit-b.Load.Volts, 2),
			"least", percent(b.Case.Rules.LoadTestMinSOC)),
		Why: words.Say(whyNarrow),
	}
}

func percent(v float64) measure.Quantity { return measure.Percents(v) }

// chargeMinutes estimates the time to reach a charge at a tenth of the battery's
// ampere-hours, the kind rate, with 15 % lost. Common practice, no source. The
// size of the battery cancels out.
func chargeMinutes(from, to float64) float64 {
	const rate, efficiency = 0.10, 0.85
	hours := max(0, to-from) / 100 / rate / efficiency
	return 15 * math.Ceil(hours*4)
}
