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

func init() {
	register(Station{
		Code: LoadTest, Place: 70, Name: "Load test", Hint: "volts at the end of the load", Minutes: 5,
		Cautions: []string{"load_tester"},
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
		Judge: judgeLoad, Advise: adviseLoad, Gauges: loadGauges, Expect: expectLoad,
	})
}

// loadApplied is how a load test is done in a world: amps, seconds and the ± part
// of the amps that nobody knows. False where the amps cannot be said.
func loadApplied(r reading.Reading, l rating.Label) (amps, seconds, spread float64, ok bool) {
	seconds, spread = rating.LoadSeconds, readAmps
	if r.Word("method") == Fixed10s {
		seconds = fixedSeconds
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

// judgeLoad says how a load test ended by its own limits.
func judgeLoad(in Before, r reading.Reading) bench.Fact {
	c := in.Case
	scale := c.Volts() / 12
	l := &bench.Load{
		Method:  r.Word("method"),
		Amps:    r.Or("amps", 0),
		Seconds: r.Or("seconds", 0),
		Volts:   r.Or("volts_end", 0),
	}
	l.LabelLoad, _ = rating.TestLoad(c.Battery.Rating.Label())
	switch l.Method {
	case Fixed10s:
		l.Limit = fixedFine * scale
		switch {
		case l.Volts >= fixedFine*scale:
			l.Result = bench.Held
		case l.Volts >= fixedBad*scale:
			l.Result = bench.Between
		default:
			l.Result = bench.Sagged
		}
	case Starter:
		l.Limit = c.Rules.StarterMinVolts * scale
		l.Result = heldIf(l.Volts >= l.Limit)
	default:
		temp, _ := c.TempC(ownTemp(r))
		l.Limit = loadLimit(c, c.Rules, temp)
		l.Result = heldIf(l.Volts >= l.Limit)
	}
	l.Light = light(l)
	l.Conclude = func(b *bench.Bench) []bench.Finding {
		return append([]bench.Finding{loadLine(c, r, l)}, loadWeakness(l, b)...)
	}
	return bench.Fact{Load: l, Test: loadStrength(in, r)}
}

// loadLine says how the load test ended, by which rule, and what the other schools
// would have said.
func loadLine(c reading.Case, r reading.Reading, l *bench.Load) bench.Finding {
	f := bench.Finding{Readings: []int{l.Reading}, Source: bench.Practice}
	f.Code, f.Level, f.Text = loadConclusion(l)
	switch l.Method {
	case Fixed10s:
		f.Rule = "load_test.fixed"
	case Starter:
		f.Rule = rules.StarterMin
		f.Other = otherSchools(c.Rules, rules.StarterMin, func(s rules.School) words.Text {
			return schoolSays(words.Say(schoolFigure, "name", s.Name, "figure", measure.Volts(s.Number, measure.Exact)),
				holdsOrFails(l.Volts >= s.Number*c.Volts()/12), false)
		})
	default:
		temp, assumed := c.TempC(ownTemp(r))
		f.Source, f.Rule, f.Why = bench.BCITables, rules.LoadTestLimit, limitFrom(c, temp)
		f.Other = otherLimits(c, temp, l.Volts)
		if assumed {
			f.Why = words.Say(whyAssumed, "why", f.Why)
		}
	}
	return f
}

func heldIf(ok bool) bench.Outcome {
	if ok {
		return bench.Held
	}
	return bench.Sagged
}

func holdsOrFails(ok bool) string {
	if ok {
		return schoolHolds
	}
	return schoolFails
}

func ownTemp(r reading.Reading) *float64 {
	if v, ok := r.Number("battery_c"); ok {
		return &v
	}
	return nil
}

// loadLimit gives the least volts at the end of the half-CCA load by a set of
// house rules.
func loadLimit(c reading.Case, house rules.Rules, tempC float64) float64 {
	if house.LoadTestLimit == rules.LimitFixed {
		return rating.LoadTestLimit(c.Volts(), 100)
	}
	return rating.LoadTestLimit(c.Volts(), tempC)
}

// limitFrom says how the house's limit was found.
func limitFrom(c reading.Case, tempC float64) words.Text {
	limit := loadLimit(c, c.Rules, tempC)
	if c.Rules.LoadTestLimit == rules.LimitFixed {
		return words.Say(limitFlat, "limit", measure.Volts(limit, 1))
	}
	from := words.Say(limitTabled, "temp", measure.Degrees(tempC), "limit", measure.Volts(limit, 2))
	if tempC < rating.ColdestTabledC {
		from = words.Say(limitTooCold, "from", from)
	}
	return from
}

func otherLimits(c reading.Case, tempC, volts float64) words.Text {
	ours := loadLimit(c, c.Rules, tempC)
	return otherSchools(c.Rules, rules.LoadTestLimit, func(s rules.School) words.Text {
		limit := loadLimit(c, c.Rules.Following(rules.LoadTestLimit, s), tempC)
		return schoolSays(words.Say(schoolAsks, "name", s.Name, "limit", measure.Volts(limit, 2)),
			holdsOrFails(volts >= limit), (volts >= limit) == (volts >= ours))
	})
}

// light reports whether holding the volts proves little: a light or short load is
// easy to hold.
func light(l *bench.Load) bool {
	return l.LabelLoad.Amps > 0 && l.Method != Starter && l.Amps > 0 && l.Amps < lightLoad*l.LabelLoad.Amps ||
		l.Method == HalfCCA && l.Seconds > 0 && l.Seconds < rating.LoadSeconds-shortBy
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
	case l.Result == bench.Held && l.Light:
		return "load_test.light", bench.Note, words.Say(saysLight, "at", at)
	case l.Result == bench.Held:
		return "load_test.held", bench.OK, words.Say(saysHeld, "at", at, "limit", limit)
	case l.Result == bench.Between:
		return "load_test.between", bench.Note, words.Say(saysBetween, "at", at)
	}
	return "load_test.failed", bench.Act, words.Say(saysFailed, "at", at, "limit", limit)
}

// loadWeakness adds what makes the test prove more or less than it seems to.
func loadWeakness(l *bench.Load, b *bench.Bench) []bench.Finding {
	var out []bench.Finding
	if l.Method != Starter && l.Amps > 0 && l.LabelLoad.Amps > 0 {
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
	if l.Result == bench.Sagged && len(b.Dirty) > 0 {
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

// loadStrength is the load test as a reading of strength.
func loadStrength(in Before, r reading.Reading) *bench.Test {
	amps, seconds, spread, ok := loadApplied(r, in.Case.Battery.Rating.Label())
	t := &bench.Test{Kind: LoadTest, Code: LoadTest, Rank: 1, What: "load test", BatteryC: ownTemp(r)}
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

// adviseLoad works out the load test as the battery is now. Amps follow the
// label, the limit follows the battery's temperature and the house rule.
func adviseLoad(b *bench.Bench) Advice {
	c := b.Case
	temp, assumed := c.TempC(nil)
	half := Way{Code: HalfCCA, Timer: &Timer{rating.LoadSeconds, "Load on", "Load off now", secondsBetween}}
	set := &Setting{Caption: "Set the load to", Unit: "A"}
	amps := FieldAdvice{Name: "amps", Hint: words.Say("as set")}
	if load, err := rating.TestLoad(c.Battery.Rating.Label()); err != nil {
		set.From = words.Say(setProblem)
	} else {
		set.Value, amps.Default = &load.Amps, &load.Amps
		set.From = words.Say(load.From)
		if load.Note != "" {
			set.Note = words.Say(load.Note)
		}
	}
	hint := hintFromSheet
	if assumed {
		hint = hintAssumed
	}
	own := FieldAdvice{Name: "battery_c", Hint: words.Say(hint, "temp", measure.Degrees(temp))}
	half.Set = set
	half.Fields = []FieldAdvice{amps, own, lasts(rating.LoadSeconds), {Name: "volts_end", Hint: limitFrom(c, temp)}}
	fixed := Way{Code: Fixed10s, Do: words.Say(doFixed), Timer: &Timer{fixedSeconds, "Load on", "Load off now", secondsBetween},
		Fields: []FieldAdvice{{Name: "amps", Hint: words.Say("printed on the tester")}, own, lasts(fixedSeconds)}}
	starter := Way{Code: Starter, Do: words.Say(doStarter), Timer: &Timer{starterSeconds, "Crank", "Stop cranking", secondsBetween},
		Fields: []FieldAdvice{{Name: "amps", Hidden: true}, own, lasts(starterSeconds)}}
	a := Advice{
		By:    "method",
		Ways:  []Way{half, fixed, starter},
		Level: bench.Act,
		Head:  words.Say(adviceNotFair),
		More:  words.Say(adviceKept),
	}
	least := c.Rules.LoadTestMinSOC
	switch soc := b.SOC(); {
	case !b.Hazard.IsZero():
		a.Level, a.Closed, a.Text = bench.Stopped, true, words.Say(adviceHazard, "hazard", b.Hazard)
	case b.Frozen:
		a.Text = words.Say(adviceFrozen)
	case soc == nil:
		a.Head, a.Text = words.Text{}, words.Say(adviceUnknown)
	case soc.Best < least:
		a.Text = words.Say(adviceLow, "charge", bench.SpellCharge(*soc), "least", measure.Percents(least))
	default:
		a.Level, a.Head, a.More, a.Text = bench.OK, words.Text{}, words.Text{}, words.Say(adviceFair,
			"charge", bench.SpellCharge(*soc))
	}
	return a
}

// lasts is how long a load is on, kept with the reading.
func lasts(seconds float64) FieldAdvice {
	return FieldAdvice{Name: "seconds", Default: &seconds, Hidden: true}
}

func loadGauges(b *bench.Bench) []bench.Gauge {
	c, l := b.Case, b.Load
	k := c.Volts() / 12
	temp, _ := c.TempC(lastOwnTemp(b))
	limit := loadLimit(c, c.Rules, temp)
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
		limit = l.Limit
		e := battery.MeterError(l.Volts)
		g.Band = &battery.Band{Low: l.Volts - e, Best: l.Volts, High: l.Volts + e}
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
		for _, s := range c.Rules.Others(rules.LoadTestLimit) {
			at := loadLimit(c, c.Rules.Following(rules.LoadTestLimit, s), temp)
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
	saysBetween       = "{at}: neither fine nor finished by this method."
	saysFailed        = "{at}, {limit} asked for: it fails."
	saysLoadDiffers   = "{amps} is {part} of the {asked} this label asks for."
	whyLoadDiffers    = "With less load, holding proves less and failing proves more; with more load, the reverse."
	saysTimeDiffers   = "Read at {seconds}; the test is read at the {asked}th second."
	whyTimeDiffers    = "The volts fall for as long as the load is on."
	saysDirty         = "The contacts were bad: the volts may have been lost there."
	whyDirty          = "Clean and tighten, then test again before condemning it."
	whyAssumed        = "{why} The battery's own temperature was not measured."

	limitFlat    = "{limit} at any temperature, by the house rule."
	limitTabled  = "At {temp} the published table asks for {limit}."
	limitTooCold = "{from} That is colder than the table goes: warm it and test again."

	schoolHolds = "it holds"
	schoolFails = "it fails"
	schoolAsks  = "{name} asks for {limit}"

	demandLoad = "{amps} for {seconds}, {charge}"

	setProblem    = "Enter the CCA, CA or Ah from the label: the load follows it."
	hintAssumed   = "{temp} assumed"
	hintFromSheet = "{temp} from the sheet"
	doFixed       = "Press, hold ten seconds, read the volts at the end. Enter the amps printed on the tester."
	doStarter     = "Disable fuel or spark as the maker says, crank, and read the lowest volts. Then two minutes’ " +
		"rest for the starter."

	adviceNotFair = "Not a fair test now."
	adviceKept    = "A reading taken all the same is kept, not judged."
	adviceHazard  = "{hazard}. Do not load it."
	adviceFrozen  = "It may be frozen. Do not load it until it is thawed and checked."
	adviceUnknown = "Take a rest voltage first: nobody knows how full it is."
	adviceLow     = "{Charge} charged. Charge it to {least} first: now it would sag for being flat."
	adviceFair    = "{Charge} charged: a fair test."

	notTested     = "not tested yet"
	notchHolds    = "holds from {limit}"
	notchNew      = "new {volts}"
	notchLabel    = "label {cca}"
	labelStrength = "cranks like {cca}, {pct} of the label"
	labelDisagree = "the testers contradict each other"
)
