package assess

import (
	"slices"

	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/words"
)

// ruling is one row of the policy: when it decides, and what then.
type ruling struct {
	when    condition
	verdict Verdict
	say     saying
	next    []stepper
	names   []naming                         // what the sentences name
	tells   func(*bench.Bench) bench.Finding // what it adds to the ledger
}

// naming is a name in a sentence and what stands for it.
type naming struct {
	name  string
	value func(*bench.Bench) words.Text
}

// policy decides, the first row that holds: hazards, then what must be known
// before strength may be judged, then strength, then what else is wrong. Nothing
// below a row is looked at when the row holds.
var policy = []ruling{
	on(replaced, Replace, isReplaced, handItOver).naming("with", replacedWith),
	on(stopped, Stop, stopWork, stopFirst).naming("hazard", theHazard),
	on(heldBy(bench.HazardGas), MoreReadings, airFirst, do("air"), look),
	on(heldBy(bench.HazardHot), MoreReadings, coolFirst, do("cool"), look),
	on(heldBy(bench.HazardIce), MoreReadings, thawFirst, do("thaw"), look),
	on(heldBy(bench.HazardDry), MoreReadings, waterFirst, do("water")),

	on(nothingRead, MoreReadings, probesFirst, restVolts(whyNothingRead)),
	on(all(chargeUnknown, dirty), MoreReadings, cleanThenRest, clean(whyDirtyRest), restVolts(whyRestFirst)),
	on(all(chargeUnknown, refusedTwice), Replace, takesNothing, replace(whyBeyond)),
	on(all(chargeUnknown, hotTwice), Replace, heatsUp, replace(whyBeyond)),
	on(all(chargeUnknown, refused), ChargeAndRetest, refusedOnce, restVolts(whyRestFirst), chargeAgain),
	on(all(chargeUnknown, wasCharged), MoreReadings, restAfterCharge, letRest, restVolts(whyRestFirst)),
	on(all(chargeUnknown, loaded, fair, held), MoreReadings, heldThenRan, restVolts(whyNowFull)),
	on(all(chargeUnknown, loaded), MoreReadings, restForLoad, restVolts(whyRestFirst)),
	on(chargeUnknown, MoreReadings, restFirst, restVolts(whyRestFirst)),
	on(tooHigh, MoreReadings, restAgain, letRest, restVolts(whyRestAgain)),

	on(all(low, restUnsaid, maybeEnough), MoreReadings, sayRest, restSaid, letRest).naming("charge", spelled),

	on(all(low, dirty, some(refused, tookNone)), ChargeAndRetest, cleanThenCharge, clean(whyNoContact), chargeToTest),
	on(all(low, holding(bench.Shorted)), Replace, cellShorted, replaces(whyBeyond)).telling(tellShorted),
	on(all(low, refusedTwice), Replace, takesNothing, replaces(whyBeyond)),
	on(all(low, hotTwice), Replace, heatsUp, replaces(whyBeyond)),
	on(all(low, holding(bench.Leaks)), Replace, notHolding, replaces(whyBeyond)).telling(tellNotHolding),
	on(all(low, holding(bench.TimeLost)), MoreReadings, sayHowLong, howLong),
	on(all(low, holding(bench.Connected)), ChargeAndRetest, cableOff, chargeFull, restApart, drainTest),
	on(all(low, holding(bench.Drained)), ChargeAndRetest, drained, drainTest, chargeToTest),
	on(all(low, tookNoneTwice), Replace, takesNothing, replaces(whyBeyond)),
	on(all(low, tookNone), ChargeAndRetest, tookNothing, chargeSlowly, restVolts(whyRestAgain)),
	on(all(low, fiveCells), ChargeAndRetest, chargeWatched, chargeWatching, restVolts(whyRestAgain)),
	on(all(low, acidDenies), MoreReadings, voltsAgainstAcid, restVolts(whyAcidDenies), acidAgain),
	on(low, ChargeAndRetest, chargeFirst, chargeToTest, strengthTest).naming("fullness", fullness),
	on(all(tookNone, none(settledRest)), MoreReadings, restTookNone, letRest, restVolts(whyRestAgain)),

	on(all(failingCell, cellAfterFull), Replace, cellFails, replaces(whyBeyond)),
	on(all(darkAgainstVolts, none(filled)), ChargeAndRetest, darkThenFull, chargeFull, do("eye")),

	on(all(judgedBy(rules.ByConductance), none(loaded)), MoreReadings, testerNow, strengthTest).unless(conducted),
	on(all(none(loaded), none(byConductance), wasTested), MoreReadings, testAgain, strengthTest).naming("past", past),
	on(all(none(loaded), none(byConductance)), MoreReadings, loadNow, strengthTest),
	on(all(loaded, none(fair)), MoreReadings, loadOnceMore, strengthTest),
	on(all(loaded, silent), MoreReadings, judgesNothing, strengthTest).naming("mute", mute),
	on(all(loaded, held, light), MoreReadings, loadFully, strengthTest),

	on(all(undecided, dirty), MoreReadings, contradiction, clean(whyMisleads), strengthTest).naming("settle", settle),
	on(all(undecided, notSettled), MoreReadings, contradiction, chargeFull, strengthTest).naming("settle", settle),
	on(undecided, MoreReadings, contradiction, strengthTest).naming("settle", settle),

	on(all(missed, dirty), MoreReadings, cleanAndTest, clean(whyLooksWeak), strengthTest),
	on(all(near, doubt(bench.DoubtLabel)), MoreReadings, labelFirst, readLabel, strengthTest),
	on(all(near, doubt(bench.DoubtTemp)), MoreReadings, tempFirst, takeTemp, strengthTest),
	on(all(near, doubt(bench.DoubtCold)), ChargeAndRetest, warmFirst, do("warm"), strengthTest),
	on(all(near, doubt(bench.DoubtCharge), none(fullAsCan)), ChargeAndRetest, fullThenTest, chargeFull,
		strengthTest).telling(tellNarrow),
	on(all(near, doubt(bench.DoubtLoad)), MoreReadings, loadAsAsked, strengthTest),
	on(all(near, none(fullEnough)), ChargeAndRetest, fullThenTest, chargeFull, strengthTest).telling(tellNarrow),
	on(near, Weak, justMisses, sayWeak).naming("fails", failsBelow).naming("policy", weakPolicy).naming("owner", ownerOfWeak),

	on(all(sagged, heldBefore), MoreReadings, heldThenSagged, strengthTest),
	on(all(sagged, collapsed, none(failedAgain)), MoreReadings, collapsedOnce, strengthTest),
	on(sagged, Replace, tooWeak, replaces(whyBeyond)),
	on(all(byConductance, finished, none(fullEnough)), ChargeAndRetest, fullThenTester, chargeFull, strengthTest),
	on(all(byConductance, finished, none(labelRead)), MoreReadings, labelFirst, readLabel, strengthTest),
	on(all(byConductance, finished), Replace, finishedBy, replaces(whyBeyond)),

	on(all(failingCell, none(fullEnough)), ChargeAndRetest, cellThenFull, chargeFull, acid),
	on(failingCell, Weak, oneCellWeak, sayWeak).naming("fails", failsBelow).naming("policy", weakPolicy).naming("owner",
		ownerOfWeak),
	on(darkAgainstVolts, Weak, darkStays, sayWeak).naming("fails", failsBelow).naming("policy", weakPolicy).naming("owner",
		ownerOfWeak),
	on(all(weak, none(labelRead)), MoreReadings, labelForWeak, readLabel, strengthTest),
	on(all(weak, none(fullEnough)), Weak, weakNotFull, chargeFull, sayWeak).naming("fails", failsBelow).naming("policy",
		weakPolicy).naming("owner", ownerOfWeak),
	on(weak, Weak, passesWeak, sayWeak).naming("fails", failsBelow).naming("policy", weakPolicy).naming("owner", ownerOfWeak),

	on(none(fullEnough), GoodAfterCharge, soundNotFull, chargeFull, handOverOnceFull).telling(tellChargeFirst),
	on(elsewhere, LookElsewhere, foundElsewhere, mendAll, handOver).naming("fault", theFault).naming("told", toldFault),
	on(all(flatNoWhy, none(whyLooked)), Good, soundButWhy, charging, drainTest, handOver).telling(tellNoWhy),
	on(all(flatNoWhy, underfed), Good, soundUnderfed, handOver).naming("settles", settles),
	on(all(flatNoWhy, shortTrips), Good, soundShortTrips, week, handOver).telling(tellShortTrips),
	on(flatNoWhy, Good, soundNoWhy, week, handOver).telling(tellNoWhy),
	on(all(cameInSound, none(looksDone)), LookElsewhere, lookElsewhere, lookAround, handOver),
	on(cameInSound, LookElsewhere, nothingFound, handOver),
	on(always, Good, sound, handOver),
}

func on(when condition, v Verdict, say saying, next ...stepper) ruling {
	return ruling{when: when, verdict: v, say: say, next: next}
}

func (r ruling) naming(name string, value func(*bench.Bench) words.Text) ruling {
	r.names = append(slices.Clone(r.names), naming{name, value})
	return r
}

func (r ruling) telling(f func(*bench.Bench) bench.Finding) ruling {
	r.tells = f
	return r
}

func (r ruling) unless(c condition) ruling {
	r.when = all(r.when, none(c))
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
		for _, n := range r.names {
			names = append(names, n.name, n.value(b))
		}
		a := Assessment{
			Verdict: r.verdict, Headline: words.Say(r.say.headline, names...), Because: words.Say(r.say.because,
				names...), Next: []Step{},
		}
		customer := r.say.customer
		if customer == "" {
			customer = told[r.verdict]
		}
		a.Customer = words.Say(customer, names...)
		if r.tells != nil {
			b.Tell(r.tells(b))
		}
		for _, step := range r.next {
			for _, s := range step(b) {
				// One step is done once, where it comes first; each fault is mended by itself.
				if s.Test == "mend" || !slices.ContainsFunc(a.Next, func(n Step) bool { return n.Test == s.Test }) {
					a.Next = append(a.Next, s)
				}
			}
		}
		a.Next = whileItRuns(b, lookFirst(b, a.Next))
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

func some(cs ...condition) condition {
	return func(b *bench.Bench) bool {
		return slices.ContainsFunc(cs, func(c condition) bool { return c(b) })
	}
}

func none(c condition) condition { return func(b *bench.Bench) bool { return !c(b) } }

func always(*bench.Bench) bool { return true }

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
	"after_standing",
	"cold_only",
	"warning_lights",
}

// standComplaints point at what flattens it while it stands, and chargeComplaints
// at the charging.
var (
	standComplaints  = []string{"after_standing", "frequent_jumps"}
	chargeComplaints = []string{"warning_lights", "dim_lights"}
)

func complains(b *bench.Bench, of []string) bool {
	return slices.ContainsFunc(b.Case.Complaint, func(w string) bool { return slices.Contains(of, w) })
}

// What holds, as the policy asks it. From low on, the charge is known; from fair
// on, there is a strength test.
func replaced(b *bench.Bench) bool { return b.Replaced != "" }

func replacedWith(b *bench.Bench) words.Text { return words.Say(b.Replaced) }

func stopped(b *bench.Bench) bool {
	_, ok := b.Stopped()
	return ok
}

func heldBy(code string) condition {
	return func(b *bench.Bench) bool {
		h, ok := b.Held()
		return ok && h.Code == code
	}
}

func chargeUnknown(b *bench.Bench) bool { return b.SOC() == nil && !tooHigh(b) }
func dirty(b *bench.Bench) bool         { return len(b.Dirty) > 0 }
func wasCharged(b *bench.Bench) bool    { return b.WasCharged() }
func loaded(b *bench.Bench) bool        { return b.Load != nil }
func wasTested(b *bench.Bench) bool     { return b.Past != nil }
func nothingRead(b *bench.Bench) bool   { return b.Charge != nil && b.Charge.Nothing }
func tooHigh(b *bench.Bench) bool       { return b.Charge != nil && b.Charge.TooHigh }
func low(b *bench.Bench) bool           { return soc(b) < b.House.LoadTestMinSOC }
func restUnsaid(b *bench.Bench) bool    { return b.Charge != nil && b.Charge.Unsaid }
func maybeEnough(b *bench.Bench) bool   { return b.SOC().High >= b.House.LoadTestMinSOC }

func fiveCells(b *bench.Bench) bool {
	return b.Charge != nil && b.Case.Volts() == 12 && b.Charge.Volts >= bench.FiveCellsFrom && b.Charge.Volts <= bench.FiveCellsTo
}

func refused(b *bench.Bench) bool {
	n, _ := b.Refusals()
	return n > 0
}

func refusedTwice(b *bench.Bench) bool {
	n, _ := b.Refusals()
	return n >= 2
}

func hotTwice(b *bench.Bench) bool {
	_, n := b.Refusals()
	return n >= 2
}

// tookNone reports whether its last charge ended full too soon to have filled it.
func tookNone(b *bench.Bench) bool {
	n := len(b.Charges)
	return n > 0 && b.TooSoon(b.Charges[n-1])
}

// tookNoneTwice reports whether that was so of the two last, one after the other.
func tookNoneTwice(b *bench.Bench) bool {
	n := len(b.Charges)
	return n > 1 && b.TooSoon(b.Charges[n-1]) && b.TooSoon(b.Charges[n-2])
}

// settledRest reports whether the volts were taken off a battery rested as the house
// asks.
func settledRest(b *bench.Bench) bool { return b.Charge != nil && b.Charge.Settled }

// acidDenies reports whether the acid says far more than volts that were read but
// once: something was on, or the probes had no contact.
func acidDenies(b *bench.Bench) bool {
	volts, acid, ok := b.Apart()
	return ok && acid.Low-volts.High > apartPct && !b.RestTwice()
}

// apartPct is how far apart volts and acid are before one of them was misread,
// percent beyond both their bands. House judgement.
const apartPct = 15.0

func holding(h bench.Holding) condition {
	return func(b *bench.Bench) bool { return b.Holding() == h }
}

func fair(b *bench.Bench) bool       { return b.Load.Fair }
func silent(b *bench.Bench) bool     { return b.Load.Result == bench.Silent }
func held(b *bench.Bench) bool       { return b.Load.Result == bench.Held }
func light(b *bench.Bench) bool      { return b.Load.Light }
func near(b *bench.Bench) bool       { return loaded(b) && b.Load.Result == bench.Near }
func sagged(b *bench.Bench) bool     { return loaded(b) && b.Load.Result == bench.Sagged }
func missed(b *bench.Bench) bool     { return near(b) || sagged(b) || all(byConductance, finished)(b) }
func heldBefore(b *bench.Bench) bool { return b.HeldBefore }

// collapsed reports whether next to nothing was left under the load: a clamp that
// lost its hold reads the same as a broken strap.
func collapsed(b *bench.Bench) bool { return b.Load.Volts < collapsedVolts*b.Case.Volts()/12 }

// collapsedVolts is less than any battery keeps that can still drive its load. House
// judgement.
const collapsedVolts = 4.0

func failedAgain(b *bench.Bench) bool { return b.Fails > 1 }
func undecided(b *bench.Bench) bool   { return b.Undecided() }
func notSettled(b *bench.Bench) bool  { return soc(b) < bench.SettledPct && !b.AsFullAsItGets() }
func fullEnough(b *bench.Bench) bool  { return soc(b) >= b.House.ReturnMinSOC || b.AsFullAsItGets() }
func fullAsCan(b *bench.Bench) bool   { return b.AsFullAsItGets() }
func labelRead(b *bench.Bench) bool   { return b.LabelRead() }

func doubt(of string) condition {
	return func(b *bench.Bench) bool { return b.Load.Doubt == of }
}

func judgedBy(method string) condition {
	return func(b *bench.Bench) bool { return b.House.StrengthMethod == method }
}

// conducted reports whether there is a conductance figure that is a reading.
func conducted(b *bench.Bench) bool { return b.Conducted() }

// byConductance reports whether strength is judged by a conductance figure: the
// house goes by it, and no load says otherwise.
func byConductance(b *bench.Bench) bool {
	return b.House.StrengthMethod == rules.ByConductance && b.Conducted() && b.Load == nil
}

// finished reports whether a strength is surely under what the trade calls
// finished.
func finished(b *bench.Bench) bool {
	part, ok := b.Part()
	return ok && part.Best < bench.FinishedPct
}

// weak reports whether it passes, yet is far under its label. What testers that do
// not contradict each other say apart is not put together.
func weak(b *bench.Bench) bool {
	part, ok := b.Part()
	return ok && part.Best < b.House.WeakBelow
}

func failingCell(b *bench.Bench) bool {
	return b.Acid != nil && b.Acid.Mixed && b.Acid.Spread >= cellFailing-1e-9
}

// A cell that stays this much under the others after a full charge is failing;
// half a division of the hydrometer is left to it. Published, BCI service texts,
// from memory.
const (
	cellFailing = 0.050
	cellError   = 0.005
)

func cellAfterFull(b *bench.Bench) bool {
	return b.Full != nil && b.Acid.Spread >= cellFailing+cellError-1e-9
}

// darkAgainstVolts reports whether the eye says less than the volts do, beyond what
// either may be off by.
func darkAgainstVolts(b *bench.Bench) bool {
	s := b.SOC()
	return b.Eye == "dark" && s != nil && s.Low > eyePct+eyeSpread
}

const eyePct, eyeSpread = 65.0, 8.0

func elsewhere(b *bench.Bench) bool {
	_, ok := b.Elsewhere()
	return ok
}

// flatNoWhy reports whether it was found flat and nobody knows why yet.
func flatNoWhy(b *bench.Bench) bool { return b.Flat != nil && !b.WhyKnown() }

// shortTrips reports whether all it does is short trips.
func shortTrips(b *bench.Bench) bool { return slices.Contains(b.Case.Complaint, "short_trips") }

// underfed reports whether a usual week, as it was told, leaves it half charged: nothing
// more need be wrong.
func underfed(b *bench.Bench) bool {
	f := b.Fed()
	return f != nil && f.Underfed(b.House.LoadTestMinSOC)
}

// settles is the charge at which such weeks leave it.
func settles(b *bench.Bench) words.Text {
	return words.Say("{settles}", "settles", percent(b.Fed().Account.Settles.Best))
}

// filled reports whether it was charged full since it came in.
func filled(b *bench.Bench) bool { return b.Full != nil }

// whyLooked reports whether what usually flattens a battery was looked for.
func whyLooked(b *bench.Bench) bool { return b.Settled(station.Charging) && b.Settled(station.Drain) }

// cameInSound reports whether a battery nobody had to charge was found sound
// while the engine would not turn.
func cameInSound(b *bench.Bench) bool {
	return !b.WasCharged() && b.Flat == nil && complains(b, crankComplaints)
}

// looksDone reports whether all that the complaint asks for was measured.
func looksDone(b *bench.Bench) bool { return len(lookAround(b)) == 0 }

func soc(b *bench.Bench) float64 { return b.SOC().Best }

// What the sentences name.

func theHazard(b *bench.Bench) words.Text {
	h, _ := b.Stopped()
	return h.Name
}

func theFault(b *bench.Bench) words.Text {
	f, _ := b.Elsewhere()
	return f.Name
}

// toldFault is the fault as the customer is told of it.
func toldFault(b *bench.Bench) words.Text {
	f, _ := b.Elsewhere()
	return words.Say(faultTold[f.Code])
}

func settle(b *bench.Bench) words.Text { return b.Settle() }

func mute(b *bench.Bench) words.Text { return b.Load.Mute }

func past(b *bench.Bench) words.Text { return words.Say(pastWords[b.PastWhy]) }

func spelled(b *bench.Bench) words.Text { return bench.SpellCharge(*b.SOC()) }

// failsBelow says from which cold it no longer turns its engine, where that can be
// said.
func failsBelow(b *bench.Bench) words.Text {
	t, ok := b.FailsBelow()
	switch {
	case !ok:
		return words.Say(failsUnknown)
	case t.Best <= coldestSaid:
		return words.Say(failsNowhere)
	}
	return words.Say(failsFrom, "temp", measure.Degrees(t.Best))
}

// coldestSaid is the cold beyond which nobody asks, °C. House judgement.
const coldestSaid = -35.0

// ownerOfWeak is what who owns a weak battery is told of the cold, and of what to do.
func ownerOfWeak(b *bench.Bench) words.Text {
	does := words.Say(policyOwner[b.House.WeakPolicy])
	if t, ok := b.FailsBelow(); ok && t.Best > coldestSaid {
		return words.Say(ownerInCold, "temp", measure.Degrees(t.Best), "does", does)
	}
	return words.Say(ownerAnyCold, "does", does)
}

func weakPolicy(b *bench.Bench) words.Text { return words.Say(policyWords[b.House.WeakPolicy]) }

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
		Readings: []int{b.Full.Reading, b.Charge.Reading},
		Rule:     "charge.holds",
		Source:   bench.Practice,
		Text:     words.Say(saysNotHolding),
		Why:      words.Say(whyNotHolding),
	}
}

func tellShorted(b *bench.Bench) bench.Finding {
	return bench.Finding{
		Code: "rest_voltage.shorted_cell", Level: bench.Act, Readings: []int{b.Full.Reading, b.Charge.Reading},
		Rule: "rest_voltage.five_cells", Source: bench.Practice, Text: words.Say(saysShorted), Why: words.Say(whyShorted),
	}
}

func tellChargeFirst(b *bench.Bench) bench.Finding {
	house := b.House
	var others []words.Text
	for _, s := range house.Others(rules.ReturnMinSOC) {
		if soc(b) >= s.Number {
			others = append(others, words.Say(schoolHandBack, "name", s.Name, "figure", percent(s.Number)))
		}
	}
	return bench.Finding{
		Code:     "return.charge_first",
		Level:    bench.Act,
		Readings: chargeReading(b),
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
		Text: words.Say(saysNarrow, "missed", measure.Volts(max(0, b.Load.Limit-b.Load.Volts), 2),
			"charge", bench.SpellCharge(*b.Load.Charge)),
		Why: words.Say(whyNarrow),
	}
}

func tellNoWhy(b *bench.Bench) bench.Finding {
	return bench.Finding{
		Code: "why.unknown", Level: bench.Act, Readings: []int{b.Flat.Reading}, Rule: "why.flat", Source: bench.Practice,
		Text: words.Say(saysNoWhy, "charge", bench.SpellCharge(b.Flat.RestCharge.Charge)), Why: words.Say(whyNoWhy),
	}
}

func tellShortTrips(b *bench.Bench) bench.Finding {
	return bench.Finding{
		Code: "why.short_trips", Level: bench.Act, Readings: []int{b.Flat.Reading}, Rule: "why.flat", Source: bench.Practice,
		Text: words.Say(saysShortTrips, "charge", bench.SpellCharge(b.Flat.RestCharge.Charge)), Why: words.Say(whyShortTrips),
	}
}

func chargeReading(b *bench.Bench) []int {
	if b.Charge == nil {
		return []int{b.Acid.Reading}
	}
	return []int{b.Charge.Reading}
}

func percent(v float64) measure.Quantity { return measure.Percents(v) }
