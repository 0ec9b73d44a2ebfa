package station

import (
	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/rules"
	"grapnel/core/words"
)

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
