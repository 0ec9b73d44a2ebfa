package station

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// Drain is the current with everything off and asleep.
const Drain = "drain"

// FaultDrain is a drain over what the house allows, until it is stopped.
const FaultDrain = "drain"

// drainPart is ± part of a clamp or range meter on a few milliamps, one standard
// deviation, and drainFloor what it cannot tell from nothing. From memory.
const (
	drainPart  = 0.05
	drainFloor = 1.0
)

// asleepMinutes is how long modules may take before the current is a standing one.
// Common practice, no source: minutes to an hour.
const asleepMinutes = 20

func init() {
	register(Station{
		Code: Drain, Place: 100, Name: "Drain", Hint: "milliamps with everything asleep", Minutes: 25,
		Cautions: always("ammeter"), Advise: adviseDrain, Gauges: drainGauges, Sum: sumDrain,
		Chief: asleep,
	}, Kind{
		Code: Drain, Name: "Drain", Hint: "milliamps with everything asleep", Minutes: 6, Waits: 25,
		Fields: []Field{
			{
				Name:    "milliamps",
				Label:   "Drain",
				Shape:   document.Number(0, 100000, "mA"),
				Need:    true,
				Big:     true,
				Example: "28",
			},
			{
				Name:  "minutes_asleep",
				Label: "Asleep for",
				Shape: document.Number(0, 100000, "min"),
				Said:  "asleep {value}", Unknown: "Not known",
				Picks: []Pick{{0, "Just off"}, {10, "10 min"}, {30, "30 min"}, {60, "1 h"}},
			},
			{Name: "fuse", Label: "Fuse that was out", Shape: document.Text(40), Said: "without fuse {value}"},
		},
		Judge: judgeDrain, Expect: expectDrain,
	})
}

func judgeDrain(in Before, r reading.Reading) bench.Fact {
	c := in.Case
	ma := r.Or("milliamps", 0)
	most := c.Rules.For(c.Vehicle.Class).DrainMax
	here := []int{in.Reading}
	if fuse := r.Word("fuse"); fuse != "" {
		return fuseFact(in, ma, fuse)
	}
	minutes, timed := r.Number("minutes_asleep")
	spread := 2 * sigma(drainFloor, drainPart*ma)
	f := bench.Finding{
		Code: "drain.fine", Level: bench.OK, Readings: here, Rule: rules.DrainMax, Source: bench.Practice,
		Text: words.Say(saysDrainFine, "drain", milliamps(ma)), Why: words.Say(whyDrain, "most", milliamps(most)),
		Other: otherSchools(c.Rules.For(c.Vehicle.Class), rules.DrainMax, func(s rules.School) words.Text {
			return schoolSays(words.Say(schoolFigure, "name", s.Name, "figure", milliamps(s.Number)), withinOrOver(ma <= s.Number),
				(ma <= s.Number) == (ma <= most))
		}),
	}
	fact := bench.Fact{Mends: []string{FaultDrain}}
	switch {
	case ma <= most:
	case !timed || minutes < asleepMinutes:
		f.Code, f.Level, f.Text = "drain.awake", bench.Note, words.Say(saysAwake, "drain", milliamps(ma))
		fact.Mends = nil
	case ma-spread <= most:
		f.Code, f.Level, f.Text = "drain.near", bench.Note, words.Say(saysDrainNear, "drain", milliamps(ma))
	default:
		f.Code, f.Level, f.Text = "drain.over", bench.Act, words.Say(saysDrain, "drain", milliamps(ma))
		fact.Faults = []bench.Fault{{Code: FaultDrain, Name: words.Say(nameDrain), Explains: true, Why: true}}
	}
	if f.Code != "drain.awake" {
		fact.Settles = Drain
	}
	fact.Findings = []bench.Finding{f}
	fact.Late = func(b *bench.Bench) []bench.Finding { return drainDays(b, in.Reading, ma) }
	return fact
}

// asleep reports whether a reading is of the whole drain, no fuse out.
func asleep(r reading.Reading) bool { return r.Kind == Drain && r.Word("fuse") == "" }

// fuseFact is one step of the search for the branch: what flows without a fuse.
func fuseFact(in Before, ma float64, fuse string) bench.Fact {
	before, found := 0.0, false
	for i := in.Reading - 1; i >= 0; i-- {
		if r := in.Case.Readings[i]; asleep(r) {
			before, found = r.Or("milliamps", 0), true
			break
		}
	}
	f := bench.Finding{
		Code: "drain.fuse", Level: bench.Note, Readings: []int{in.Reading}, Rule: "drain.branch", Source: bench.Practice,
		Text: words.Say(saysFuse, "fuse", fuse, "drain", milliamps(ma)), Why: words.Say(whyFuse),
	}
	fact := bench.Fact{}
	if found && before-ma > 2*sigma(drainFloor, drainPart*before) {
		f.Code, f.Level = "drain.branch", bench.Act
		f.Text = words.Say(saysBranch, "fuse", fuse, "part", milliamps(before-ma), "all", milliamps(before))
		if most := in.Case.Rules.For(in.Case.Vehicle.Class).DrainMax; before > most {
			fact.Faults = []bench.Fault{{Code: FaultDrain, Name: words.Say(nameBranch, "fuse", fuse), Explains: true, Why: true, Found: true}}
		}
	}
	fact.Findings = []bench.Finding{f}
	return fact
}

// drainDays says how long this battery stands it, at this temperature.
func drainDays(b *bench.Bench, reading int, ma float64) []bench.Finding {
	made, ok := b.AsNew()
	if !ok {
		return nil
	}
	temp, _ := b.Case.TempC(nil)
	from := 100.0
	if soc := b.SOC(); soc != nil && soc.Best > 50 {
		from = soc.Best
	}
	capacity := made.Ah20h
	half := battery.DaysUnder(made.Chemistry, capacity, from, 50, ma, temp)
	start := min(from, b.ChargeToStart(made, temp))
	no := half + battery.DaysUnder(made.Chemistry, capacity, 50, start, ma, temp)
	if start > 50 {
		no = battery.DaysUnder(made.Chemistry, capacity, from, start, ma, temp)
	}
	return []bench.Finding{{
		Code: "drain.days", Level: bench.Note, Readings: []int{reading}, Rule: "drain.days", Source: bench.ModelSource,
		Text: words.Say(saysDays, "half", days(half), "no", days(no), "from", measure.Percents(from)),
		Why:  words.Say(whyDays, "ah", measure.Of(capacity, measure.AmpHour, 0), "temp", measure.Degrees(temp)),
	}}
}

func days(d float64) measure.Quantity { return measure.Minutes(math.Round(d) * 24 * 60) }

func milliamps(ma float64) measure.Quantity { return measure.Of(ma, measure.Milliamp, 0) }

func withinOrOver(ok bool) string {
	if ok {
		return schoolWithin
	}
	return schoolOver
}

func adviseDrain(b *bench.Bench) Advice {
	a := Advice{Level: bench.OK, Ways: []Way{
		{Code: "asleep", Word: "All asleep", Kind: Drain, Do: words.Say(doDrain),
			Asleep: asleepMinutes, Fields: []FieldAdvice{{Name: "fuse", Hidden: true}}},
		{Code: "fuse", Word: "Fuse by fuse", Kind: Drain, Do: words.Say(doFuse),
			Fields: []FieldAdvice{{Name: "minutes_asleep", Hidden: true}, {Name: "fuse", Need: true}}},
	}}
	if _, over := b.Fault(FaultDrain); over {
		a.Ways[0], a.Ways[1] = a.Ways[1], a.Ways[0]
	}
	return a
}

func drainGauges(b *bench.Bench) []bench.Gauge {
	most := b.House.DrainMax
	g := bench.Gauge{
		Quantity: "drain", Name: "Drain", Unit: "mA", Min: 0, Max: 4 * most, Step: most / 2, Level: bench.Note,
		Label: words.Say(notRead), Shown: true,
		Notches: []bench.Notch{{At: most, Word: words.Say(notchDrain, "most", measure.Plain(most, 0))}},
	}
	for _, s := range b.House.Others(rules.DrainMax) {
		g.Notches = append(g.Notches, bench.Notch{At: s.Number, Word: words.Say(s.Name), Ghost: true})
	}
	for i, r := range b.Case.Readings {
		if !asleep(r) {
			continue
		}
		ma := r.Or("milliamps", 0)
		e := 2 * sigma(drainFloor, drainPart*ma)
		for g.Max < ma {
			g.Max *= 2
			g.Step *= 2
		}
		g.Band = &battery.Band{Low: max(0, ma-e), Best: ma, High: ma + e}
		g.Label, g.Level = words.Say("{drain}", "drain", milliamps(ma)), judgeDrain(Before{b.Case, i}, r).Findings[0].Level
	}
	return []bench.Gauge{g}
}

func sumDrain(b *bench.Bench) (bench.Level, words.Text) {
	g := drainGauges(b)[0]
	if g.Band == nil {
		return bench.Note, words.Text{}
	}
	return g.Level, g.Label
}

const (
	saysDrainFine = "{drain} with everything off: nothing unusual."
	saysAwake     = "{drain}, and perhaps not asleep yet: wait twenty minutes and more, doors shut, key away, and read again."
	saysDrainNear = "{drain}: at the limit, as well as a meter tells."
	saysDrain     = "{drain} asleep: too much. Find the branch."
	whyDrain      = "The house allows {most} on this class of vehicle. Modules take minutes to an hour to sleep."
	nameDrain     = "Find what drains it"
	nameBranch    = "Mend what hangs on fuse {fuse}"
	saysFuse      = "Without fuse {fuse}: {drain}. It is not there."
	saysBranch    = "Fuse {fuse} carries {part} of the {all}: the drain is in its branch."
	whyFuse       = "Pull one fuse at a time and put it back, or read the drop over each. A module that wakes starts the wait anew."
	saysDays      = "At that it is at half charge in {half}, and no longer starts in {no}, from {from}."
	whyDays       = "{ah} at {temp}, self-discharge counted in."
	schoolWithin  = "within"
	schoolOver    = "too much"
	notchDrain    = "up to {most}"
	doDrain       = "Ammeter in the earthed cable, highest range first, step down. Never crank or switch loads on through it."
	doFuse        = "One fuse out at a time: what flows without it."
)

// expectDrain: what is drawn, and what leaks over the lid does not pass the meter.
func expectDrain(w World, _ reading.Reading) []Prediction {
	return []Prediction{
		{Field: "milliamps", Best: w.DrainMilliamps, Sigma: sigma(drainFloor, drainPart*w.DrainMilliamps)},
	}
}
