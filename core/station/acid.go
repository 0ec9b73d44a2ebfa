package station

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Acid is where the specific gravity of each cell is read.
const Acid = "acid"

// Hydrometer is the specific gravity of the acid, cell by cell.
const Hydrometer = "hydrometer"

// Levels is how high the acid stands, cell by cell.
const Levels = "levels"

// sgSigma is the standard deviation of one hydrometer reading: half a division
// of 0.005 and the hand. From memory.
const sgSigma = 0.004

// Spread between the highest and the lowest cell: 0.025 is watched, 0.050 means a
// failing cell. Published, BCI service texts, from memory. One reading may be off
// by half a division either way, so a cell is condemned beyond that.
const (
	spreadWatch = 0.025
	spreadFails = 0.050
	spreadError = 0.005
)

var levels = words.ListOf(
	words.Term{Code: "fill_mark", Word: "At the mark", Said: "level at the mark"},
	words.Term{Code: "covered", Word: "Plates covered", Said: "plates covered"},
	words.Term{Code: "plates_dry", Word: "Plates dry", Said: "plates dry"})

// cellLevels is how high it can stand in one cell.
var cellLevels = levels.With(words.Term{Code: "over", Word: "Over the mark", Said: "over the mark"})

func init() {
	register(Station{
		Code: Acid, Place: 50, Name: "Acid", Hint: "level and gravity, cell by cell", Minutes: 8,
		Fits:     func(b *bench.Bench) bool { return b.Case.Battery.Opens() },
		Cautions: always("acid"), Advise: adviseAcid, Gauges: acidGauges, Sum: sumAcid,
	}, Kind{
		Code: Hydrometer, Name: "Hydrometer", Hint: "specific gravity of each cell", Minutes: 8,
		Fields: []Field{
			{
				Name:   "cells_sg",
				Label:  "Specific gravity of each cell",
				Need:   true,
				Digits: 3,
				Shape:  document.List(3, 12, document.Number(1.000, 1.400, "")),
			},
			{Name: "level", Label: "Level", Words: levels, Unknown: "Not looked"},
			{Name: "acid_c", Label: "Acid", Shape: reading.TempShape(), Unsaid: true},
			{Name: "corrected", Label: "Tester corrects", Shape: document.Flag(), Said: "corrected by the tester: {value}"},
		},
		Judge: judgeHydrometer, Expect: expectHydrometer,
	}, Kind{
		Code: Levels, Name: "Levels", Hint: "how high the acid stands in each cell", Minutes: 3,
		Fields: []Field{{Name: "cells", Label: "Level of each cell", Shape: list(12), Need: true, Words: cellLevels}},
		Judge:  judgeLevels,
	})
}

// judgeLevels: bare plates forbid a charge or a load; one cell far lower than its
// neighbours has lost its acid somewhere.
func judgeLevels(in Before, r reading.Reading) bench.Fact {
	at := map[string][]words.Text{}
	cells := r.Words("cells")
	for i, level := range cells {
		at[level] = append(at[level], words.Say("{n}", "n", measure.Plain(float64(i+1), 0)))
	}
	f := bench.Finding{
		Code: "levels.even", Level: bench.OK, Readings: []int{in.Reading}, Rule: "acid.level", Source: bench.Practice,
		Text: words.Say(saysLevelsFine), Why: words.Say(whyLevels),
	}
	dry := at["plates_dry"]
	fact := bench.Fact{}
	if len(dry) > 0 {
		fact.Hazards = []bench.Hazard{{Code: bench.HazardDry, Name: words.Say("The plates are dry"), First: "water"}}
	} else {
		fact.Clears = []string{bench.HazardDry}
	}
	switch {
	case len(dry) > 0 && len(dry) < len(cells) && 2*len(dry) < len(cells):
		f.Code, f.Level, f.Text, f.Why = "levels.one_dry", bench.Act, words.Say(saysOneDry, "cells", dry), words.Say(whyOneDry)
	case len(dry) > 0:
		f.Code, f.Level, f.Text, f.Why = "levels.dry", bench.Act, words.Say(saysCellsDry, "cells", dry), words.Say(whyCellsDry)
	case len(at["over"]) > 0:
		f.Code, f.Level, f.Text, f.Why = "levels.over", bench.Note, words.Say(saysOverMark, "cells",
			at["over"]), words.Say(whyOverMark)
	case len(at["covered"]) > 0:
		f.Code, f.Level, f.Text = "levels.covered", bench.Note, words.Say(saysCovered, "cells", at["covered"])
	}
	fact.Findings = []bench.Finding{f}
	return fact
}

// expectHydrometer: the gravity of a cell at the charge, as it reads at the
// acid's own temperature. Only of acid that can be drawn.
func expectHydrometer(w World, how reading.Reading) []Prediction {
	if w.Battery.Chemistry != battery.Flooded {
		return nil
	}
	at267 := battery.SpecificGravity(w.Battery.Chemistry, w.SOC)
	read := at267
	if corrected, _ := how.Flag("corrected"); !corrected {
		// CorrectGravity adds to a reading what its warmth takes away.
		read = at267 - (battery.CorrectGravity(at267, w.BatteryC) - at267)
	}
	return []Prediction{{Field: "cells_sg", Best: read, Sigma: sgSigma}}
}

func judgeHydrometer(in Before, r reading.Reading) bench.Fact {
	c := in.Case
	here := []int{in.Reading}
	fact := bench.Fact{}
	level := r.Word("level")
	switch level {
	case "plates_dry":
		// Nothing can be drawn from under bare plates: there is no reading.
		fact.Hazards = []bench.Hazard{{Code: bench.HazardDry, Name: words.Say("The plates are dry"), First: "water"}}
		fact.Findings = []bench.Finding{{
			Code: "hydrometer.plates_dry", Level: bench.Act, Readings: here, Rule: "acid.level", Source: bench.Practice,
			Text: words.Say(saysDry), Why: words.Say(whyDryRead),
		}}
		return fact
	case "covered", "fill_mark":
		fact.Clears = []string{bench.HazardDry}
	}
	if !c.Battery.Chemistry.Liquid() {
		fact.Findings = []bench.Finding{{
			Code: "hydrometer.no_acid", Level: bench.Note, Readings: here, Rule: "acid.gravity", Source: bench.Practice,
			Text: words.Say(saysNoAcid, "chemistry", battery.ChemistryWords().Said(string(c.Battery.Chemistry))),
			Why:  words.Say(whyNoAcid),
		}}
		return fact
	}
	own, has := r.Number("acid_c")
	temp, assumed := own, !has
	if !has {
		temp, assumed = c.TempC(nil)
	} else {
		fact.Warm = &own
	}
	corrected, _ := r.Flag("corrected")
	a := &bench.Acid{Level: level, Mixed: true}
	for _, sg := range r.Numbers("cells_sg") {
		if !corrected {
			sg = battery.CorrectGravity(sg, temp)
		}
		a.Cells = append(a.Cells, sg)
	}
	sum := 0.0
	for i, sg := range a.Cells {
		sum += sg
		if sg < a.Cells[a.Lowest] {
			a.Lowest = i
		}
	}
	mean := sum / float64(len(a.Cells))
	a.Spread = slices.Max(a.Cells) - a.Cells[a.Lowest]
	a.Mixed = mixed(in)
	err := spreadError
	if assumed && !corrected {
		err += gravityPerC * battery.UnknownTempC
	}
	chem := c.Battery.Chemistry
	a.Charge = battery.Band{
		Low:  battery.ChargeOfGravity(chem, mean-err),
		Best: battery.ChargeOfGravity(chem, mean),
		High: battery.ChargeOfGravity(chem, mean+err),
	}
	fact.Acid = a
	f := bench.Finding{
		Code: "hydrometer.charge", Level: bench.OK, Readings: here, Rule: "acid.gravity", Source: bench.BCITables,
		Text: words.Say(saysGravity, "mean", measure.Plain(mean, 3), "charge", bench.SpellCharge(a.Charge)),
		Why:  words.Say(whyGravity, "temp", measure.Degrees(temp), "to", measure.Degrees(26.7)),
	}
	if corrected {
		f.Why = words.Say(whyCorrected)
	}
	if a.Charge.Best < c.Rules.LoadTestMinSOC {
		f.Level = bench.Act
	}
	fact.Findings = append(fact.Findings, f)
	if !a.Mixed {
		fact.Findings = append(fact.Findings, bench.Finding{
			Code: "hydrometer.unmixed", Level: bench.Note, Readings: here, Rule: "acid.mixed", Source: bench.Practice,
			Text: words.Say(saysUnmixed), Why: words.Say(whyUnmixed),
		})
	}
	s := bench.Finding{
		Code: "hydrometer.even", Level: bench.OK, Readings: here, Rule: "acid.spread", Source: bench.BCITables,
		Text: words.Say(saysEven, "spread", measure.Plain(a.Spread, 3)), Why: words.Say(whySpread),
	}
	cell := measure.Plain(float64(a.Lowest+1), 0)
	switch {
	case a.Spread >= spreadFails-1e-9:
		s.Code, s.Level = "hydrometer.failing_cell", bench.Act
		s.Text = words.Say(saysFailingCell, "cell", cell, "spread", measure.Plain(a.Spread, 3))
	case a.Spread >= spreadWatch-1e-9:
		s.Code, s.Level = "hydrometer.watch_cell", bench.Note
		s.Text = words.Say(saysWatchCell, "cell", cell, "spread", measure.Plain(a.Spread, 3))
	}
	fact.Findings = append(fact.Findings, s)
	if cells := battery.Cells(c.Volts()); float64(len(a.Cells)) < cells {
		fact.Findings = append(fact.Findings, bench.Finding{
			Code: "hydrometer.part", Level: bench.Note, Readings: here, Rule: "acid.spread", Source: bench.Practice,
			Text: words.Say(saysSomeCells, "read", measure.Plain(float64(len(a.Cells)), 0), "cells", measure.Plain(cells, 0)),
			Why:  words.Say(whySomeCells),
		})
	}
	return fact
}

// gravityPerC is what a degree is worth on a hydrometer: BCI, from memory.
const gravityPerC = 0.0007

// mixed reports whether the acid had the time to mix: watered or charged last, it
// stands weak on top until it is gassed or rocked.
func mixed(in Before) bool {
	for i := in.Reading - 1; i >= 0; i-- {
		switch r := in.Case.Readings[i]; {
		case r.Kind == PutRight && slices.Contains(r.Words("what"), "watered"):
			return false
		case r.Kind == Charged:
			return r.Word("ended") == bench.EndedFull // gassing at the end mixes it
		}
	}
	return true
}

func adviseAcid(b *bench.Bench) Advice {
	temp, assumed := b.Case.TempC(nil)
	hint := hintFromSheet
	if assumed {
		hint = hintAssumed
	}
	a := Advice{Level: bench.OK, Ways: []Way{{
		Code: Hydrometer, Word: "Hydrometer", Kind: Hydrometer, Do: words.Say(doAcid),
		Fields: []FieldAdvice{
			{Name: "acid_c", Hint: words.Say(hint, "temp", measure.Degrees(temp))},
			{Name: "cells_sg", Count: int(battery.Cells(b.Case.Volts())), Apart: spreadWatch},
		},
	}}}
	return a
}

// acidGauges shows the cells' mean as charge, and each cell.
func acidGauges(b *bench.Bench) []bench.Gauge {
	g := bench.Gauge{
		Quantity: "gravity", Name: "Specific gravity", Unit: "", Digits: 3, Min: 1.08, Max: 1.30, Step: 0.02,
		Level: bench.Note, Label: words.Say(notRead), Shown: true,
	}
	chem := b.Case.Battery.Chemistry
	least := battery.SpecificGravity(chem, b.House.LoadTestMinSOC)
	g.Notches = []bench.Notch{
		{At: least, Word: words.Say(notchTestFrom, "volts", measure.Plain(least, 3))},
		{At: battery.SpecificGravity(chem, 100), Word: words.Say(notchFull, "volts",
			measure.Plain(battery.SpecificGravity(chem, 100), 3))},
	}
	a := b.Acid
	if a == nil {
		return []bench.Gauge{g}
	}
	low, high := a.Cells[a.Lowest], slices.Max(a.Cells)
	mean := 0.0
	for _, sg := range a.Cells {
		mean += sg / float64(len(a.Cells))
	}
	g.Band = &battery.Band{Low: low, Best: mean, High: high}
	label := labelGravity
	if high-low < 0.0005 {
		label = "{low}"
	}
	g.Label, g.Level = words.Say(label, "low", measure.Plain(low, 3), "high", measure.Plain(high, 3)), bench.OK
	if a.Spread >= spreadFails-1e-9 || mean < least {
		g.Level = bench.Act
	}
	return []bench.Gauge{g}
}

func sumAcid(b *bench.Bench) (bench.Level, words.Text) {
	g := acidGauges(b)[0]
	if b.Acid == nil {
		return bench.Note, words.Say(sumTaken)
	}
	return g.Level, g.Label
}

const (
	saysLevelsFine = "The acid stands at the mark in every cell."
	saysCovered    = "Plates covered, below the mark in cell {cells}: water to the mark once it is charged."
	saysCellsDry   = "Plates bare in cell {cells}: distilled water to just over them before anything else."
	whyCellsDry    = "All cells losing alike is overcharging, heat or years without water: look at the charging volts."
	saysOneDry     = "Plates bare in cell {cells} alone: water to just over them, and look whether the case is cracked there."
	whyOneDry      = "Charging takes water from all cells alike. One that is low by itself has lost it through the case, or is failing."
	saysOverMark   = "Over the mark in cell {cells}: it will run over when it is charged."
	whyOverMark    = "Take nothing out: acid would go with it. Wipe the lid after the charge, and fill less."
	whyLevels      = "Bare plates heat and spark; acid over the mark runs over the lid when it gasses."

	saysNoAcid      = "A {chemistry} battery has no acid to draw: this says nothing of it."
	whyNoAcid       = "Its acid is held fast. Never open a sealed cap."
	whyDryRead      = "Too little acid over the plates to draw is no reading: water to just over them, charge, then read."
	saysGravity     = "The cells stand at {mean} on average: {charge} charged."
	whyGravity      = "Corrected from {temp} to {to}, as hydrometers are marked."
	whyCorrected    = "The tester has its own temperature scale: it is not corrected twice."
	saysSomeCells   = "{read} of {cells} cells read."
	whySomeCells    = "A bad cell among those not read is not seen."
	saysUnmixed     = "Watered or charged lately: weak acid may lie on top."
	whyUnmixed      = "Heavy acid sinks. Rock it gently or let it gas before the figure is believed."
	saysEven        = "{spread} between the cells: even."
	saysWatchCell   = "Cell {cell} is low, {spread} between the cells: watch it."
	saysFailingCell = "Cell {cell} is low, {spread} between the cells: it is failing."
	whySpread       = "All alike is healthy at any level: 0.025 apart is watched, 0.050 is a failing cell."
	labelGravity    = "{low} to {high}"
	doAcid          = "Draw enough to float it, eye at the level, back into the same cell. Start at the + post."
	sumTaken        = "read before it was charged"
)

// CellLevels gives how high the acid can stand in one cell.
func CellLevels() words.List { return cellLevels }
