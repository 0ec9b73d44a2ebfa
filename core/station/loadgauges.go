package station

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

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
