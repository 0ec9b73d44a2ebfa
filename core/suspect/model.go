package suspect

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/guide"
	"grapnel/core/rating"
	"grapnel/core/reading"
)

// model is one case as the suspects see it: the hypotheses, the battery's ways to be,
// the parts outside it, and how likely each reading is in each world.
type model struct {
	b       *bench.Bench
	c       reading.Case
	chem    battery.Chemistry
	made    battery.Battery
	years   float64
	hyps    []hypothesis
	healths [ways]health
	inside  [][ways]float64 // of each hypothesis
	parts   parts

	ice          [charges]float64 // how likely it came in frozen, at each charge
	stepVolts    float64          // of half a degree of charge
	ohms         float64          // of a full battery of this label
	contactScale float64
	guess        float64 // part of a strength reading nobody can foretell, where the label is not known

	stretches []stretch
	words     [][]float64 // of each reading, by hypothesis: what it says without a meter, logarithms
	outside   []about     // what was read of the parts
	dirtyNow  bool        // contacts are as they came in
	mended    Set         // what was put right in this job
	loads     map[loaded]*[ways]expected
	known     []*insides // what the battery's readings say, without each
	less      []*belief  // what would be believed without each reading
}

// newModel works out how likely every reading is everywhere.
func newModel(b *bench.Bench) *model {
	m := &model{b: b, c: b.Case, chem: b.Case.Battery.Chemistry, contactScale: 1, dirtyNow: true, loads: map[loaded]*[ways]expected{}}
	made, ok := b.AsNew()
	if !ok {
		made, m.guess = usualBattery(b), guessed
	}
	m.made = made
	m.years = 3.5
	if months, known := b.Months(); known {
		m.years = float64(months) / 12
	}
	if slices.Contains(m.c.Complaint, "recent_battery") {
		m.years = min(m.years, 1)
	}
	m.hyps = hypotheses(b)
	m.healths = healths(made)
	m.inside = make([][ways]float64, len(m.hyps))
	for i, h := range m.hyps {
		m.inside[i] = healthOf(h.set, m.years)
	}
	temp, _ := m.c.TempC(nil)
	m.parts = partsOf(b, made, temp)
	n := battery.Cells(m.c.Volts())
	m.stepVolts = 0.4 * (battery.RestVolts(m.chem, n, 60, temp) - battery.RestVolts(m.chem, n, 55, temp))
	m.ohms = made.Resistance(100, 25)
	m.icy()
	m.contactScale = clamp(500/max(made.CCA, 1), 0.3, 5)
	m.read()
	return m
}

// icy settles at which charges it came in frozen: where the acid freezes above what the
// battery was at.
func (m *model) icy() {
	temp, assumed := m.c.TempC(nil)
	spread := 2.0
	if assumed {
		spread = 5
	}
	if m.c.Conditions.AmbientC == nil && m.c.Conditions.BatteryC == nil {
		return
	}
	for s := range m.ice {
		freezes := battery.FreezingPoint(battery.SpecificGravity(m.chem, chargeAt(s)))
		m.ice[s] = under((freezes - temp) / spread)
	}
}

// guessed is how far a strength reading may be off where nobody knows the label, part
// of what is read. House judgement.
const guessed = 0.12

// usualBattery is what a vehicle of the class usually has, where there is no label.
func usualBattery(b *bench.Bench) battery.Battery {
	for _, usual := range guide.Defaults() {
		if usual.Class == b.Case.Vehicle.Class {
			if made, ok := b.Of(usual.Battery.Rating.Label()); ok {
				return made
			}
		}
	}
	made, _, _ := battery.FromLabel(battery.Flooded, 6, rating.Label{CCA: 540, Ah20h: 60})
	return made
}
