package season

import (
	"math"
	"slices"
	"time"

	"grapnel/core/battery"
)

// through runs a way and says what becomes of the battery in it.
func (p *planner) through(code string, k keeping) WayOfKeeping {
	return p.judged(code, k, p.belief)
}

func (p *planner) judged(code string, k keeping, b belief) WayOfKeeping {
	low, best, high := p.s.band(&k, b)
	w := WayOfKeeping{
		Way:       code,
		keeping:   k,
		Name:      waysOf.Word(code),
		Risks:     []Risk{},
		Needs:     []Need{},
		Margin:    math.Inf(1),
		MarginLow: math.Inf(1),
	}
	n := len(best.soc)
	w.Days, w.low = make([]Day, n), make([]float64, n)
	w.SOCMin = battery.Band{Low: 100, Best: 100, High: 100}
	margin, least := p.r.Rules.StoreMarginC, p.r.Rules.StoreMinSOC
	since := k.since()
	first := func(to *string, holds bool, on string) {
		if holds && *to == "" {
			*to = on
		}
	}
	for i, day := range p.s.days {
		on := day.at.Format(time.DateOnly)
		lo, hi := min(low.after[i], best.after[i]), max(high.after[i], best.after[i])
		air, mean := day.low, day.mean
		if k.tempC != nil {
			air, mean = *k.tempC, *k.tempC
		}
		d := Day{
			Date:    on,
			SOC:     shown(best.after[i]),
			SOCLow:  shown(lo),
			SOCHigh: shown(hi),
			Freezes: hundredth(p.s.freezes(best.after[i])),
			Weak: hundredth(
				p.s.freezes(lo),
			),
			Strong: hundredth(p.s.freezes(hi)),
			Low:    hundredth(air),
			Known:  day.known && k.tempC == nil,
		}
		w.Days[i], w.low[i] = d, lo
		w.SOCMin = battery.Band{
			Low:  min(w.SOCMin.Low, d.SOCLow),
			Best: min(w.SOCMin.Best, d.SOC),
			High: min(w.SOCMin.High, d.SOCHigh),
		}
		w.Margin = min(w.Margin, hundredth(d.Low-d.Freezes))
		if spare := hundredth(d.Low - d.Weak); spare < w.MarginLow {
			w.MarginLow, w.MarginOn = spare, on
		}
		w.SOCEnd = battery.Band{Low: d.SOCLow, Best: d.SOC, High: d.SOCHigh}
		if i < since {
			continue // it has been put right meanwhile
		}
		if d.Low <= d.Freezes && w.FreezesOn == "" {
			w.FreezesOn = on
			w.volts = p.restVolts(best.after[i], mean)
		}
		first(&w.FreezesFrom, d.Low <= d.Weak, on)
		first(&w.NoStartOn, best.after[i] < p.starts.at(mean), on)
		first(&w.NoStartFrom, lo < p.starts.at(air), on)
		first(&w.ChargeBy, d.Low-d.Weak < margin || lo < least, on)
	}
	switch {
	case w.FreezesFrom != "" || w.NoStartOn != "" || w.SOCMin.Low <= 0:
		w.Sign = "stop"
	case w.ChargeBy != "":
		w.Sign = "act"
	default:
		w.Sign = "holds"
	}
	w.Says = w.says()
	return w
}

// shown is a charge as it is told: nothing under empty, to a hundredth.
func shown(soc float64) float64 { return hundredth(max(0, soc)) }

func hundredth(v float64) float64 { return math.Round(100*v) / 100 }

// restVolts is what it shows at rest at a charge, also under empty.
func (p *planner) restVolts(soc, tempC float64) float64 {
	if soc >= 0 {
		return battery.RestVolts(p.s.chem, p.s.cells, soc, tempC)
	}
	return battery.RestVoltsOf(p.s.chem, p.s.cells, battery.GravityDown(p.s.chem, soc), tempC)
}

// rank orders ways: those that keep it first, and of those that keep it alike the one with
// the least work and what can go wrong.
func rank(ways []WayOfKeeping) {
	sign := map[string]int{"holds": 0, "act": 1, "stop": 2}
	slices.SortStableFunc(ways, func(a, b WayOfKeeping) int {
		if d := sign[a.Sign] - sign[b.Sign]; d != 0 {
			return d
		}
		if a.Sign == "stop" { // of those that do not keep it, the one that keeps it longest
			if x, y := a.lasts(), b.lasts(); x != y {
				if x > y {
					return -1
				}
				return 1
			}
		}
		switch x, y := a.total(), b.total(); {
		case x < y:
			return -1
		case x > y:
			return 1
		}
		return 0
	})
}

// lasts is the day until which it is sure to be kept; the far future where none is.
func (w *WayOfKeeping) lasts() string {
	last := "9999"
	for _, on := range []string{w.FreezesFrom, w.NoStartOn} {
		if on != "" {
			last = min(last, on)
		}
	}
	return last
}
