package station

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// LoadTest is volts at the end of a load.
const LoadTest = "load_test"

// Load test methods.
const (
	HalfCCA  = "half_cca"
	Fixed10s = "fixed_10s"
	Starter  = "starter"
)

var loadMethods = words.ListOf(
	words.Term{Code: HalfCCA, Word: "Half the CCA", Said: "Half the CCA"},
	words.Term{Code: Fixed10s, Word: "Fixed load", Said: "Fixed load"},
	words.Term{Code: Starter, Word: "The starter", Said: "The starter"})

// Seconds each load is on. Half the CCA: SAE J537 practice, from memory; the
// others common practice, no source: a starter dislikes more than 10 to 15 s at a
// time and wants two minutes between.
const (
	fixedSeconds   = 10
	starterSeconds = 15
	secondsBetween = 120
)

// Figures of the other ways to load a battery, 12 V. Common practice, no source.
const (
	fixedFine = 10.0  // fixed load, 10 s: fine from here
	fixedBad  = 9.0   // and finished below here
	lightLoad = 0.8   // of the load of the label; less proves little by holding
	shortBy   = 1.5   // seconds off its time that still count
	sameVolts = 0.005 // limits closer than a meter tells are one
	loadPart  = 0.05  // ± part of the load of the label that still is that load
)

// Spread of what a reading's amps are, ± part: read off the tester, or not read
// at all and taken to be what the label asks for.
const (
	readAmps    = 0.03
	assumedAmps = 0.10
)

func loadKind() Kind {
	return Kind{
		Code: LoadTest, Name: "Load test", Hint: "volts at the end of the load", Minutes: 5,
		Fields: []Field{
			{Name: "method", Label: "Load with", Need: true, Words: loadMethods, Default: HalfCCA},
			{
				Name:    "volts_end",
				Label:   "Volts at the end",
				Shape:   postVolts(),
				Need:    true,
				Big:     true,
				Digits:  2,
				Example: "9.85",
				Posts:   true,
			},
			{Name: "amps", Label: "Load that was on", Shape: document.Number(1, 3000, "A")},
			{Name: "seconds", Label: "Seconds", Shape: document.Number(1, 60, "s")},
			{Name: "battery_c", Label: "Battery", Shape: reading.TempShape(), Unsaid: true},
		},
		Judge: judgeLoad, Expect: expectLoad,
	}
}

// loadApplied is how a load test is done in a world: amps, seconds and the ± part
// of the amps that nobody knows. False where the amps cannot be said.
func loadApplied(r reading.Reading, l rating.Label) (amps, seconds, spread float64, ok bool) {
	seconds, spread = rating.LoadSeconds, readAmps
	switch r.Word("method") {
	case Fixed10s:
		seconds = fixedSeconds
	case Starter:
		seconds = starterSeconds
	}
	if s, ok := r.Number("seconds"); ok {
		seconds = s
	}
	if a, ok := r.Number("amps"); ok {
		return a, seconds, spread, true
	}
	if r.Word("method") != HalfCCA {
		return 0, 0, 0, false // a starter's volts without its amps say nothing of the battery alone
	}
	byLabel, err := rating.TestLoad(l)
	return byLabel.Amps, seconds, assumedAmps, err == nil
}

// expectLoad: the model's volts at the end of the load, less what the clamps lose.
func expectLoad(w World, how reading.Reading) []Prediction {
	label := rating.Label{CCA: w.Battery.CCA, Ah20h: w.Battery.Ah20h}
	if how.Word("method") == Starter && w.StarterAmps > 0 {
		if _, ok := how.Number("amps"); !ok {
			how = how.With("amps", w.StarterAmps)
		}
	}
	amps, seconds, spread, ok := loadApplied(how, label)
	if !ok {
		return nil
	}
	v, u := w.endVolts(amps, seconds, spread)
	return []Prediction{{Field: "volts_end", Best: v, Sigma: sigma(meterSigma(v), u)}}
}

// judgeLoad keeps a load test as it was taken; what it says is weighed once charge
// and label are known.
func judgeLoad(in Before, r reading.Reading) bench.Fact {
	c := in.Case
	l := &bench.Load{
		Method:  r.Word("method"),
		Amps:    r.Or("amps", 0),
		Seconds: r.Or("seconds", 0),
		Volts:   r.Or("volts_end", 0),
		Weigh:   weighLoad,
	}
	l.TempC, l.TempAssumed = c.TempC(ownTemp(r))
	l.LabelLoad, _ = rating.TestLoad(c.Battery.Rating.Label())
	l.Conclude = func(b *bench.Bench, l *bench.Load) []bench.Finding {
		return append([]bench.Finding{loadLine(b, l)}, loadWeakness(l, b)...)
	}
	fact := bench.Fact{Load: l, Test: loadStrength(in, r)}
	if t := ownTemp(r); t != nil {
		fact.Warm = t
	}
	return fact
}

func ownTemp(r reading.Reading) *float64 {
	if v, ok := r.Number("battery_c"); ok {
		return &v
	}
	return nil
}

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
			if l.Charge.Low < bench.SettledPct {
				deficit = max(0, end(bench.SettledPct, amps, seconds)-end(l.Charge.Low, amps, seconds))
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

// loadLine says how the load test ended, by which rule, and what the other schools
// would have said.
func loadLine(b *bench.Bench, l *bench.Load) bench.Finding {
	f := bench.Finding{Readings: []int{l.Reading}, Source: bench.Practice}
	f.Code, f.Level, f.Text = loadConclusion(l)
	if !l.Mute.IsZero() {
		f.Why = l.Mute
	}
	switch l.Method {
	case Fixed10s:
		f.Rule = "load_test.fixed"
		f.Other = words.Say(schoolFlat, "says", flatSays(l.Volts*12/b.Case.Volts()))
		if l.Limit > 0 && f.Why.IsZero() {
			f.Source = bench.ModelSource
			f.Why = words.Say(whyFixed, "amps", measure.Amps(l.Amps), "limit", measure.Volts(l.Limit, 2), "part", measure.Percents(bench.FinishedPct))
		}
	case Starter:
		f.Rule = rules.StarterMin
		if f.Why.IsZero() {
			f.Why = words.Say(whyStarter)
		}
		f.Other = otherSchools(b.House, rules.StarterMin, func(s rules.School) words.Text {
			return schoolSays(words.Say(schoolFigure, "name", s.Name, "figure", measure.Volts(s.Number, measure.Exact)),
				holdsOrFails(l.Volts >= s.Number*b.Case.Volts()/12), false)
		})
	default:
		f.Source, f.Rule, f.Why = bench.BCITables, rules.LoadTestLimit, limitFrom(b, l.TempC)
		f.Other = otherLimits(b, l)
		if l.TempAssumed {
			f.Why = words.Say(whyAssumed, "why", f.Why)
		}
	}
	if l.Result == bench.Near && l.Doubt != "" && l.Fair {
		f.Why = words.Say("{doubt} {why}", "doubt", words.Say(doubtWords[l.Doubt]), "why", f.Why)
	}
	return f
}

func holdsOrFails(ok bool) string {
	if ok {
		return schoolHolds
	}
	return schoolFails
}

// flatSays is what those say of a fixed load who go by its flat volts, of 12.
func flatSays(volts float64) words.Text {
	switch {
	case volts >= fixedFine:
		return words.Say(flatFine)
	case volts < fixedBad:
		return words.Say(flatBad)
	}
	return words.Say(flatBetween)
}

// loadLimit gives the least volts at the end of the half-CCA load by a set of
// house rules.
func loadLimit(b *bench.Bench, house rules.Rules, tempC float64) float64 {
	if house.LoadTestLimit == rules.LimitFixed {
		return rating.LoadTestLimit(b.Case.Volts(), 100)
	}
	return rating.LoadTestLimit(b.Case.Volts(), tempC)
}

// limitFrom says how the house's limit was found.
func limitFrom(b *bench.Bench, tempC float64) words.Text {
	limit := loadLimit(b, b.House, tempC)
	if b.House.LoadTestLimit == rules.LimitFixed {
		return words.Say(limitFlat, "limit", measure.Volts(limit, 1))
	}
	from := words.Say(limitTabled, "temp", measure.Degrees(tempC), "limit", measure.Volts(limit, 2))
	if tempC < rating.ColdestTabledC {
		from = words.Say(limitTooCold, "from", from)
	}
	return from
}

func otherLimits(b *bench.Bench, l *bench.Load) words.Text {
	return otherSchools(b.House, rules.LoadTestLimit, func(s rules.School) words.Text {
		limit := loadLimit(b, b.House.Following(rules.LoadTestLimit, s), l.TempC)
		return schoolSays(words.Say(schoolAsks, "name", s.Name, "limit", measure.Volts(limit, 2)),
			holdsOrFails(l.Volts >= limit), (l.Volts >= limit) == (l.Volts >= l.Limit))
	})
}

// light reports whether holding the volts proves little: a light or short load is
// easy to hold.
func light(l *bench.Load) bool {
	return l.LabelLoad.Amps > 0 && l.Amps > 0 && l.Amps < lightLoad*l.LabelLoad.Amps ||
		l.Seconds > 0 && l.Seconds < rating.LoadSeconds-shortBy
}

func loadConclusion(l *bench.Load) (code string, level bench.Level, text words.Text) {
	at := words.Say(saysEnd, "volts", measure.Volts(l.Volts, 2))
	if l.Amps > 0 {
		at = words.Say(saysEndOf, "volts", measure.Volts(l.Volts, 2), "amps", measure.Amps(l.Amps))
	}
	limit := measure.Volts(l.Limit, 2)
	switch {
	case l.Charge == nil:
		return "load_test.charge_unknown", bench.Act, words.Say(saysChargeUnknown, "at", at)
	case !l.Fair && l.Result == bench.Held:
		return "load_test.held_while_low", bench.Note, words.Say(saysHeldLow, "at", at)
	case !l.Fair:
		return "load_test.not_fair", bench.Act, words.Say(saysNotFair, "at", at)
	case l.Result == bench.Silent:
		return "load_test.silent", bench.Note, words.Say(saysSilent, "at", at)
	case l.Result == bench.Held && l.Light && l.Method == Starter:
		return "load_test.turned", bench.Note, words.Say(saysTurned, "at", at)
	case l.Result == bench.Held && l.Light:
		return "load_test.light", bench.Note, words.Say(saysLight, "at", at)
	case l.Result == bench.Held && l.Method == Fixed10s:
		return "load_test.held", bench.OK, words.Say(saysHeldFixed, "at", at)
	case l.Result == bench.Held:
		return "load_test.held", bench.OK, words.Say(saysHeld, "at", at, "limit", limit)
	case l.Result == bench.Near:
		return "load_test.near", bench.Note, words.Say(saysNear, "at", at, "limit", limit)
	}
	return "load_test.failed", bench.Act, words.Say(saysFailed, "at", at, "limit", limit)
}

// loadWeakness adds what makes the test prove more or less than it seems to.
func loadWeakness(l *bench.Load, b *bench.Bench) []bench.Finding {
	var out []bench.Finding
	if l.Method == HalfCCA && l.Amps > 0 && l.LabelLoad.Amps > 0 {
		if part := l.Amps / l.LabelLoad.Amps; part < 1-loadPart || part > 1+loadPart {
			out = append(out, bench.Finding{
				Code:     "load_test.load_differs",
				Level:    bench.Note,
				Readings: []int{l.Reading},
				Rule:     "load_test.half_cca",
				Source:   bench.BCITables,
				Text: words.Say(saysLoadDiffers, "amps", measure.Amps(l.Amps), "part", measure.Percents(100*part),
					"asked", measure.Amps(l.LabelLoad.Amps)),
				Why: words.Say(whyLoadDiffers),
			})
		}
	}
	if l.Method == HalfCCA && l.Seconds > 0 &&
		(l.Seconds < rating.LoadSeconds-shortBy || l.Seconds > rating.LoadSeconds+shortBy) {
		out = append(out, bench.Finding{
			Code:     "load_test.time_differs",
			Level:    bench.Note,
			Readings: []int{l.Reading},
			Rule:     "load_test.seconds",
			Source:   "SAE J537 practice, from memory",
			Text:     words.Say(saysTimeDiffers, "seconds", measure.Seconds(l.Seconds), "asked", rating.LoadSeconds),
			Why:      words.Say(whyTimeDiffers),
		})
	}
	if l.Result != bench.Held && len(b.Dirty) > 0 {
		out = append(out, bench.Finding{
			Code:     "load_test.dirty_contacts",
			Level:    bench.Act,
			Readings: append([]int{l.Reading}, b.Dirty...),
			Rule:     "contacts.clean_first",
			Source:   bench.Practice,
			Text:     words.Say(saysDirty),
			Why:      words.Say(whyDirty),
		})
	}
	return out
}

// doubtWords says what a near miss hangs on.
var doubtWords = map[string]string{
	bench.DoubtLabel:  "Nobody has read a label that it could be held against.",
	bench.DoubtTemp:   "Its own temperature is not known, and the limit follows it.",
	bench.DoubtCold:   "In this cold one with most of its label left might miss it too, or the table ends.",
	bench.DoubtCharge: "It may have been under the charge a fair test needs.",
	bench.DoubtLoad:   "Another load or time than the test asks for explains as much.",
	bench.DoubtMeter:  "The meter may be off by as much.",
}

// loadStrength is the load test as a reading of strength.
func loadStrength(in Before, r reading.Reading) *bench.Test {
	amps, seconds, spread, ok := loadApplied(r, in.Case.Battery.Rating.Label())
	t := &bench.Test{Kind: LoadTest, Code: LoadTest, Rank: 1, What: "load test", BatteryC: ownTemp(r)}
	if r.Word("method") == Starter && in.Case.Vehicle.Electric() {
		ok = false
	}
	t.Measure = func(b battery.Battery, at battery.Condition) (battery.Strength, bool) {
		if !ok {
			return battery.Strength{}, false
		}
		s, err := b.StrengthFromLoad(at,
			battery.Discharge{Amps: amps, Seconds: seconds, Volts: r.Or("volts_end", 0), AmpsSpread: spread})
		return s, err == nil
	}
	t.Demand = func(charge words.Text) words.Text {
		return words.Say(demandLoad, "amps", measure.Amps(amps), "seconds", measure.Seconds(seconds),
			"charge", charge)
	}
	return t
}

func loadGauges(b *bench.Bench) []bench.Gauge {
	c, l := b.Case, b.Load
	k := c.Volts() / 12
	temp, _ := c.TempC(lastOwnTemp(b))
	limit := loadLimit(b, b.House, temp)
	g := bench.Gauge{
		Quantity: "load_volts",
		Name:     "Volts under load",
		Unit:     "V",
		Digits:   2,
		Min:      7 * k,
		Max:      12 * k,
		Step:     0.5 * k,
		Level:    bench.Note,
		Label:    words.Say(notTested),
		Shown:    true,
	}
	if l != nil {
		if l.Limit > 0 {
			limit = l.Limit
		}
		e := battery.MeterError(l.Volts)
		g.Band = &battery.Band{Low: min(l.Band.Low, l.Volts-e), Best: l.Volts, High: max(l.Band.High, l.Volts+e)}
		g.Label = words.Say(saysEnd, "volts", measure.Volts(l.Volts, 2))
		_, g.Level, _ = loadConclusion(l)
	}
	g.Notches = append(g.Notches,
		bench.Notch{At: limit, Word: words.Say(notchHolds, "limit", measure.Plain(limit, 2))})
	if fresh, ok := newVolts(b); ok {
		g.Notches = append(g.Notches,
			bench.Notch{At: fresh, Word: words.Say(notchNew, "volts", measure.Plain(fresh, 1))})
	}
	if l == nil || l.Method == HalfCCA {
		for _, s := range b.House.Others(rules.LoadTestLimit) {
			at := loadLimit(b, b.House.Following(rules.LoadTestLimit, s), temp)
			if math.Abs(at-limit) >= sameVolts {
				g.Notches = append(g.Notches, bench.Notch{At: at, Word: words.Say(s.Name), Ghost: true})
			}
		}
	}
	return []bench.Gauge{g, strengthGauge(b)}
}

// lastOwnTemp is the temperature taken with the last load test, nil when none was.
func lastOwnTemp(b *bench.Bench) *float64 {
	if b.Load == nil {
		return nil
	}
	return ownTemp(b.Case.Readings[b.Load.Reading])
}

// newVolts is where a new battery of this label would end the last load test, or
// the one the label asks for, full and at the battery's temperature. False where
// neither can be said.
func newVolts(b *bench.Bench) (float64, bool) {
	made, ok := b.AsNew()
	byLabel, err := rating.TestLoad(b.Case.Battery.Rating.Label())
	if !ok || err != nil {
		return 0, false
	}
	how := reading.Of(LoadTest, reading.Fields{"method": HalfCCA, "amps": byLabel.Amps, "seconds": rating.LoadSeconds})
	if l := b.Load; l != nil {
		if l.Method == Starter && l.Amps == 0 {
			return 0, false
		}
		if l.Amps > 0 {
			how = how.With("amps", l.Amps)
		}
		if l.Seconds > 0 {
			how = how.With("seconds", l.Seconds)
		}
	}
	temp, _ := b.Case.TempC(lastOwnTemp(b))
	return expectLoad(World{Battery: made, SOC: 100, BatteryC: temp}, how)[0].Best, true
}

// strengthGauge is the cranking strength against the label.
func strengthGauge(b *bench.Bench) bench.Gauge {
	s := b.Strength()
	g := bench.Gauge{
		Quantity: "cranking",
		Name:     "Cranking strength",
		Title:    "Strength, charge and temperature taken out",
		Unit:     "CCA",
		Max:      800,
		Step:     100,
		Level:    bench.Note,
		Label:    words.Say(notKnown),
		Notches:  []bench.Notch{},
	}
	if s.Label <= 0 {
		return g
	}
	g.Step = scaleStep(1.25 * s.Label)
	for g.Max = g.Step; g.Max < 1.2*s.Label; g.Max += g.Step {
	}
	for _, pct := range []float64{bench.FinishedPct, bench.ServiceablePct} {
		g.Notches = append(g.Notches, bench.Notch{
			At:    s.Label * pct / 100,
			Word:  words.Say("{pct}", "pct", measure.Percents(pct)),
			Ghost: true,
		})
	}
	g.Notches = append(g.Notches,
		bench.Notch{At: s.Label, Word: words.Say(notchLabel, "cca", measure.Plain(s.Label, 0))})
	switch {
	case s.Joint != nil:
		band := s.Joint.Rounded()
		pct := OfLabelPct(band.Best, s.Label)
		g.Band, g.Shown = &band, true
		g.Label = words.Say(labelStrength, "cca", bench.CCA(band.Best), "pct", measure.Percents(pct))
		if pct >= bench.ServiceablePct {
			g.Level = bench.OK
		}
	case s.Contradicted():
		g.Label, g.Level, g.Shown = words.Say(labelDisagree), bench.Act, true
	}
	return g
}

// OfLabelPct is amps in whole percent of a label.
func OfLabelPct(amps, label float64) float64 { return float64(int(100*amps/label + 0.5)) }

// scaleStep gives a round step that divides a scale into about eight.
func scaleStep(most float64) float64 {
	for _, step := range []float64{5, 10, 20, 25, 50, 100, 200} {
		if most/step <= 9 {
			return step
		}
	}
	return 500
}

// Words of the station.
const (
	saysEnd           = "{volts} at the end"
	saysEndOf         = "{volts} at the end of {amps}"
	saysChargeUnknown = "{at}: kept, but nobody knows how full it was. Take a rest voltage."
	saysHeldLow       = "{at}: a good sign, though it was too flat for a fair test."
	saysNotFair       = "{at}: kept, but not a fair test. It was too flat to judge."
	saysLight         = "{at}: it held, but the load was too small or too short to prove much."
	saysHeld          = "{at}, {limit} asked for: it holds."
	saysNear          = "{at}, {limit} asked for: a miss, and too small or too doubtful to condemn it."
	saysSilent        = "{at}: kept, and it judges nothing."
	saysTurned        = "{at}: it turned the engine. How strong it is, this does not say."
	saysHeldFixed     = "{at}: what a battery of this label shows while it has 60 % and more. It holds."
	saysFailed        = "{at}, {limit} asked for: it fails."
	saysLoadDiffers   = "{amps} is {part} of the {asked} this label asks for."
	whyLoadDiffers    = "With less load, holding proves less and failing proves more; with more load, the reverse."
	saysTimeDiffers   = "Read at {seconds}; the test is read at the {asked}th second."
	whyTimeDiffers    = "The volts fall for as long as the load is on."
	saysDirty         = "The contacts were bad: the volts may have been lost there."
	whyDirty          = "Clean and tighten, then test again before condemning it."
	whyAssumed        = "{why} The battery's own temperature was not measured."

	whyFixed     = "Of this label, one at {part} would end {amps} at {limit}. A fixed load is light for a big battery, so it says less."
	whyStarter   = "The starter’s draw differs with engine and cold: a low figure sends to a half-CCA test, never alone to the scrap."
	muteAmps     = "Its amps were not noted: the same volts are fine on a small battery and finished on a large one."
	muteLabel    = "No cranking figure on the label: what it should show nobody can say."
	muteElectric = "A hybrid or electric car has no 12 V starter: this says nothing of the battery."
	muteUnlikely = "No battery of this label shows that much under its load: the load was not on, its amps were misread, or the label is another's."
	muteCharge   = "Nobody knows how full it was."

	limitFlat    = "{limit} at any temperature, by the house rule."
	limitTabled  = "At {temp} the published table asks for {limit}."
	limitTooCold = "{from} That is colder than the table goes: warm it and test again."

	schoolHolds = "it holds"
	schoolFails = "it fails"
	schoolAsks  = "{name} asks for {limit}"
	schoolFlat  = "flat volts, whatever its size: {says}"
	flatFine    = "fine"
	flatBetween = "in between"
	flatBad     = "replace it"

	demandLoad = "{amps} for {seconds}, {charge}"

	notTested     = "not tested yet"
	notchHolds    = "holds from {limit}"
	notchNew      = "new {volts}"
	notchLabel    = "label {cca}"
	labelStrength = "cranks like {cca}, {pct} of the label"
	labelDisagree = "the testers contradict each other"
)
