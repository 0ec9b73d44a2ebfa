package station

import (
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// RestVoltage is a voltage across the posts of a battery with nothing on.
const RestVoltage = "rest_voltage"

// AboveFull is how far over the fullest rest voltage, in volts of 12, a reading
// is no resting battery's: the alternator, a charger or fresh surface charge.
// House judgement.
const AboveFull = 0.25

func init() {
	register(Station{
		Code: RestVoltage, Place: 40, Name: "Rest volts", Hint: "across the posts, everything off", Minutes: 2,
		Aids: []Aid{RestClock}, Gauges: restGauges, Sum: sumRest, Advise: adviseRest,
	}, Kind{
		Code: RestVoltage, Name: "Rest volts", Hint: "across the posts, everything off", Minutes: 2, EndsRest: true,
		Fields: []Field{
			{
				Name:    "volts",
				Label:   "Meter reads",
				Shape:   postVolts(),
				Need:    true,
				Big:     true,
				Digits:  2,
				Example: "12.40",
				Posts:   true,
			},
			{
				Name:    "surface_charge",
				Label:   "Surface charge",
				Words:   battery.SurfaceWords(),
				Unknown: "Not known",
				Hint:    "Until it is said, the reading may be high, and the band is wide.",
			},
			{Name: "minutes_since_charge", Label: "Last charged or driven", Shape: document.Number(0, 5256000, "min"),
				Said: "last charged or driven: {value}", Unknown: "Not known",
				Picks: []Pick{
					{0, "Just now"},
					{30, "30 min"},
					{60, "1 h"},
					{180, "3 h"},
					{600, "Overnight"},
					{2880, "Days"},
				}},
			{Name: "disconnected", Label: "A cable was off meanwhile", Shape: document.Flag(), Said: "cable off: {value}"},
		},
		Judge: judgeRest, Expect: expectRest,
	})
}

// adviseRest asks whether a cable was off only where that bears: after a charge.
func adviseRest(b *bench.Bench) Advice {
	way := Way{Code: RestVoltage, Word: "Rest volts", Kind: RestVoltage}
	if !b.WasCharged() {
		way.Fields = []FieldAdvice{{Name: "disconnected", Hidden: true}}
	}
	return Advice{Level: bench.OK, Ways: []Way{way}}
}

// expectRest: the electromotive force at this charge and temperature, and what
// surface charge still adds. Batteries of a kind differ.
func expectRest(w World, _ reading.Reading) []Prediction {
	n := float64(w.Battery.Cells() - w.DeadCells)
	v := battery.RestVolts(w.Battery.Chemistry, n, w.SOC, w.BatteryC) + w.SurfaceVolts + w.Strays*n/6
	if w.LowCellPct > 0 {
		v += battery.RestVolts(w.Battery.Chemistry, 1, max(0, w.SOC-w.LowCellPct), w.BatteryC) -
			battery.RestVolts(w.Battery.Chemistry, 1, w.SOC, w.BatteryC)
	}
	return []Prediction{{Field: "volts", Best: v, Sigma: sigma(meterSigma(v), w.Battery.Chemistry.RestSpread()*n/6)}}
}

// judgeRest turns one rest voltage into charge, and says how far to trust it.
func judgeRest(in Before, r reading.Reading) bench.Fact {
	c := in.Case
	c.Rules = c.Rules.For(c.Vehicle.Class)
	at := readRest(in, r)
	fact := bench.Fact{Charge: &at, Findings: make([]bench.Finding, 0, 3)}
	here := []int{in.Reading}
	if at.Nothing {
		fact.Findings = append(fact.Findings, bench.Finding{
			Code: "rest_voltage.nothing", Level: bench.Act, Readings: here, Rule: "rest_voltage.nothing", Source: bench.Practice,
			Text: words.Say(saysNothing, "volts", measure.Volts(at.Volts, 2)), Why: words.Say(whyNothing),
		})
		return fact
	}
	if at.TooHigh {
		fact.Findings = append(fact.Findings, bench.Finding{
			Code:     "rest_voltage.above_rest",
			Level:    bench.Act,
			Readings: here,
			Rule:     rules.RestTime,
			Source:   bench.Practice,
			Text:     words.Say(saysAboveRest, "volts", measure.Volts(at.Volts, 2)),
			Why:      words.Say(whyAboveRest),
			Other:    otherRest(c.Rules),
		})
		return fact
	}
	fact.Findings = append(fact.Findings, chargeLine(c, r, at))
	if !at.Settled {
		fact.Findings = append(fact.Findings, bench.Finding{
			Code:     "rest_voltage.surface_charge",
			Level:    bench.Note,
			Readings: here,
			Rule:     rules.RestTime,
			Source:   bench.Practice,
			Text:     words.Say(saysSurface, "surface", measure.Volts(at.SurfaceVolts, 2)),
			Why:      words.Say(whySurface, "rest", measure.Minutes(c.Rules.RestMinutes)),
			Other:    otherRest(c.Rules),
		})
	}
	if c.Volts() == 12 && at.Volts >= bench.FiveCellsFrom && at.Volts <= bench.FiveCellsTo {
		fact.Findings = append(fact.Findings, bench.Finding{
			Code:     "rest_voltage.five_cells",
			Level:    bench.Note,
			Readings: here,
			Rule:     "rest_voltage.five_cells",
			Source:   bench.Practice,
			Text:     words.Say(saysFiveCells),
			Why:      words.Say(whyFiveCells),
		})
	}
	fact.Findings = append(fact.Findings, fairness(c.Rules, at))
	return fact
}

// chargeLine says how full the volts make the battery, and how far to trust it.
func chargeLine(c reading.Case, r reading.Reading, at bench.Charge) bench.Finding {
	chem := c.Battery.Chemistry
	f := bench.Finding{
		Code:     "rest_voltage.charge",
		Level:    bench.OK,
		Readings: []int{at.Reading},
		Rule:     "rest_voltage.curve",
		Source:   curveSource(chem),
		Text: words.Say(saysCharge, "volts", measure.Volts(at.Volts, 2), "how", howRested(r), "temp", measure.Degrees(at.TempC),
			"charge", bench.SpellCharge(at.RestCharge.Charge)),
		Why: words.Say(whyCharge, "chemistry", battery.ChemistryWords().Said(string(chem)),
			"nominal", measure.Volts(c.Volts(), measure.Exact), "error", measure.Volts(at.ErrorVolts, 2),
			"surface", surfaceLeft(at.SurfaceVolts)),
	}
	if at.RestCharge.Charge.Best < c.Rules.LoadTestMinSOC {
		f.Level = bench.Act
	}
	return f
}

func readRest(in Before, r reading.Reading) bench.Charge {
	c := in.Case
	c.Rules = c.Rules.For(c.Vehicle.Class)
	temp, assumed := c.TempC(nil)
	minutes := r.Or("minutes_since_charge", -1)
	volts := r.Or("volts", 0)
	surface := battery.SurfaceCharge(r.Word("surface_charge"))
	cells := battery.Cells(c.Volts())
	chem := c.Battery.Chemistry
	rest := battery.Rest{Volts: volts, TempC: temp, TempAssumed: assumed, Surface: surface, MinutesSinceCharge: minutes}
	rc := battery.ChargeFromRest(chem, cells, rest)
	apart, _ := r.Flag("disconnected")
	top := battery.RestVolts(chem, cells, 100, temp) + (AboveFull)*cells/6
	long := minutes >= c.Rules.RestMinutes || minutes < 0 && surface == battery.Rested
	return bench.Charge{
		RestCharge: rc,
		Rest:       rest,
		Apart:      apart,
		Reading:    in.Reading,
		Volts:      volts,
		TempC:      temp,
		TooHigh:    volts > top,
		Nothing:    volts < nothingVolts*cells/6 && !readNothing(in),
		Settled:    surface.Removed() || long,
		Unsaid:     minutes < 0 && surface == "",
	}
}

// nothingVolts, of 12, is less than a battery shows that is merely flat: next to
// nothing through both probes is no contact, a blown link or a blown meter lead as
// often as a battery long dead. Common practice, no source.
const nothingVolts = 1.0

// readNothing reports whether the reading before this one found nothing either.
func readNothing(in Before) bool {
	for i := in.Reading - 1; i >= 0; i-- {
		if r := in.Case.Readings[i]; r.Kind == RestVoltage {
			return r.Or("volts", 0) < nothingVolts*in.Case.Volts()/12
		}
	}
	return false
}

// fairness says whether the charge allows a fair load test, by the house rule,
// and what the other schools would have said.
func fairness(house rules.Rules, at bench.Charge) bench.Finding {
	least := measure.Percents(house.LoadTestMinSOC)
	f := bench.Finding{
		Rule:     rules.LoadTestMinSOC,
		Readings: []int{at.Reading},
		Source:   bench.BCITables,
		Why:      words.Say(whyFair),
	}
	enough := func(least float64) bool { return at.RestCharge.Charge.Best >= least }
	if enough(house.LoadTestMinSOC) {
		f.Code, f.Level, f.Text = "rest_voltage.enough_to_test", bench.OK, words.Say(saysEnough, "least", least)
	} else {
		f.Code, f.Level, f.Text = "rest_voltage.low_to_test", bench.Act, words.Say(saysLow, "least", least)
	}
	f.Other = otherSchools(house, rules.LoadTestMinSOC, func(s rules.School) words.Text {
		answer := schoolChargeFirst
		if enough(s.Number) {
			answer = schoolTestNow
		}
		return schoolSays(words.Say(schoolFigure, "name", s.Name, "figure", measure.Percents(s.Number)), answer,
			enough(s.Number) == enough(house.LoadTestMinSOC))
	})
	return f
}

func otherRest(house rules.Rules) words.Text {
	return otherSchools(house, rules.RestTime, func(s rules.School) words.Text {
		return words.Say(schoolRest, "name", s.Name, "rest", measure.Minutes(s.Number))
	})
}

func curveSource(c battery.Chemistry) string {
	if c == battery.Flooded {
		return "Electromotive force of the acid (Bode) at the gravities of the BCI table, from memory"
	}
	return "Electromotive force of the acid (Bode), from memory; how strong the acid of this build is, common " +
		"practice, no source"
}

func surfaceLeft(volts float64) words.Text {
	if volts < 0.005 {
		return words.Say(surfaceNone)
	}
	return words.Say(surfaceUpTo, "volts", measure.Volts(volts, 2))
}

// howRested says what was done before the reading.
func howRested(r reading.Reading) words.Text {
	minutes, timed := r.Number("minutes_since_charge")
	since := measure.Minutes(minutes)
	surface := battery.SurfaceCharge(r.Word("surface_charge"))
	way := battery.SurfaceWords().Said(string(surface))
	switch {
	case surface == battery.Rested && timed:
		return words.Say(howRestedFor, "rested", way, "since", since)
	case surface.Removed() && timed:
		return words.Say(howTreated, "way", way, "since", since)
	case surface.Removed(), surface == battery.Rested:
		return words.Say(way)
	case timed:
		return words.Say(howAfter, "since", since)
	}
	return words.Say(howUntreated)
}

func restGauges(b *bench.Bench) []bench.Gauge {
	c := b.Case
	k := c.Volts() / 12
	temp, _ := c.TempC(nil)
	chem, cells := c.Battery.Chemistry, battery.Cells(c.Volts())
	volts := func(soc float64) float64 { return battery.RestVolts(chem, cells, soc, temp) }
	least := b.House.LoadTestMinSOC
	v := bench.Gauge{
		Quantity: "rest_volts",
		Name:     "Rest voltage",
		Unit:     "V",
		Digits:   2,
		Min:      11.6 * k,
		Max:      13.2 * k,
		Step:     0.1 * k,
		Level:    bench.Note,
		Label:    words.Say(notRead),
		Shown:    true,
	}
	v.Notches = append(v.Notches, bench.Notch{
		At:   volts(least),
		Word: words.Say(notchTestFrom, "volts", measure.Plain(volts(least), 2)),
	})
	charge := bench.Gauge{
		Quantity: "charge",
		Name:     "Charge",
		Unit:     "%",
		Min:      0,
		Max:      100,
		Step:     5,
		Level:    bench.Note,
		Label:    words.Say(notKnown),
		Shown:    true,
		Notches:  []bench.Notch{{At: least, Word: words.Say(notchFairFrom, "least", measure.Percents(least))}},
	}
	for _, s := range b.House.Others(rules.LoadTestMinSOC) {
		v.Notches = append(v.Notches, bench.Notch{At: volts(s.Number), Word: words.Say(s.Name), Ghost: true})
		charge.Notches = append(charge.Notches, bench.Notch{At: s.Number, Ghost: true,
			Word: words.Say("{name} {figure}", "name", s.Name, "figure", measure.Percents(s.Number))})
	}
	v.Notches = append(v.Notches,
		bench.Notch{At: volts(100), Word: words.Say(notchFull, "volts", measure.Plain(volts(100), 2))})
	at := b.Charge
	if at == nil {
		return []bench.Gauge{charge, v}
	}
	level := bench.OK
	if !at.Known() || at.RestCharge.Charge.Best < least {
		level = bench.Act
	}
	v.Band = &battery.Band{
		Low:  at.Volts - at.ErrorVolts - at.SurfaceVolts,
		Best: at.Volts,
		High: at.Volts + at.ErrorVolts,
	}
	v.Level, v.Label = level, words.Say("{volts}", "volts", measure.Volts(at.Volts, 2))
	charge.Level = level
	if !at.Known() {
		charge.Label = words.Say(tooHigh)
		if at.Nothing {
			charge.Label = words.Say(noVolts)
		}
		return []bench.Gauge{charge, v}
	}
	band := at.RestCharge.Charge.Rounded()
	charge.Band = &band
	charge.Label = words.Say(labelCharge, "best", measure.Percents(band.Best), "low", measure.Plain(band.Low, 0),
		"high", measure.Plain(band.High, 0))
	return []bench.Gauge{charge, v}
}

// sumRest gives the last volts read and what they come to.
func sumRest(b *bench.Bench) (bench.Level, words.Text) {
	g := restGauges(b)[0]
	line := words.Text{}
	for _, r := range b.Case.Readings {
		if r.Kind == RestVoltage {
			line = words.Say(sumCharge, "volts", measure.Volts(r.Or("volts", 0), 2), "label", g.Label)
		}
	}
	return g.Level, line
}

// Words of the station.
const (
	saysNothing   = "{volts}: as good as nothing."
	whyNothing    = "Probes on bright metal of the posts, leads and fuse of the meter whole? If it still reads nothing it is long dead, or a cell or link is open."
	saysAboveRest = "{volts} is more than any rested battery shows."
	whyAboveRest  = "Surface charge is still on, or something is charging it."
	saysCharge    = "{volts} {how} at {temp} is {charge} charged."
	whyCharge     = "{Chemistry}, {nominal}. Meter, curve and temperature: ± {error}. Surface charge: {surface}."
	saysSurface   = "Surface charge may still add {surface}, so the low end runs low."
	whySurface    = "The house rests a battery {rest}, or takes the surface charge off with the lights or a short load."
	saysFiveCells = "About 10.5 V is what five good cells make: one may be shorted."
	whyFiveCells  = "Six cells of about 2.1 V make 12.6 V. Charge it; if it comes back here it is finished."
	saysEnough    = "{least} or more: a load test is fair."
	saysLow       = "Under {least}: a load test now would blame a flat battery."
	whyFair       = "A flat battery sags under load however good it is."

	schoolChargeFirst = "charge it first"
	schoolTestNow     = "test it now"
	schoolRest        = "{name}: rest it {rest}"

	surfaceNone = "none left"
	surfaceUpTo = "up to {volts}"

	howRestedFor = "{rested} {since}"
	howTreated   = "{way} {since} after charging or driving"
	howAfter     = "{since} after charging or driving"
	howUntreated = "with its surface charge"

	notRead       = "not read yet"
	notKnown      = "not known yet"
	noVolts       = "as good as nothing read"
	tooHigh       = "too high to be a rest voltage"
	notchTestFrom = "test from {volts}"
	notchFairFrom = "fair test from {least}"
	notchFull     = "full {volts}"
	labelCharge   = "{best} charged, {low} to {high}"
	sumCharge     = "{volts}, {label}"
)
