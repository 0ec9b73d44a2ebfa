package suspect

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/station"
)

// restBits is what a rest voltage would tell.
func (m *model) restBits(bel *belief, counted []int, now *stretch) float64 {
	r := reading.Of(station.RestVoltage, reading.Fields{"minutes_since_charge": 600, "surface_charge": "rested"})
	n := m.c.Volts() / 2
	temp, _ := m.c.TempC(nil)
	sc := scaleOf(battery.RestVolts(m.chem, n-1, 0, temp), battery.RestVolts(m.chem, n, 100, temp)+0.05*n/6)
	var o outcomes
	var would [ways][charges][2]float64
	for _, k := range counted {
		w := m.joint(bel, k, now, allReadings)
		sums := map[remedy][]float64{}
		var keys []remedy
		for h := range ways {
			for s, p := range w[h] {
				if p < 1e-3 {
					continue
				}
				if would[h][s][1] == 0 {
					e := station.Expect(m.world(h, chargeAt(s), r), r)[0]
					would[h][s] = [2]float64{e.Best, root(e.Sigma, m.stepVolts)}
				}
				rem := m.remedyOf(m.hyps[k].set, h)
				if sums[rem] == nil {
					sums[rem] = make([]float64, stepsRead)
					keys = append(keys, rem)
				}
				var one [stepsRead]float64
				sc.spread(would[h][s][0], would[h][s][1], one[:])
				for x := range one {
					sums[rem][x] += p * one[x]
				}
			}
		}
		for _, rem := range keys {
			o.add(rem, bel.post[k], sums[rem])
		}
	}
	return o.bits()
}

// stoodApart reports whether it was read after a night's rest at this charge.
func (m *model) stoodApart(now *stretch) bool {
	for i := range now.tables {
		t := &now.tables[i]
		if t.reading == nobodys {
			continue
		}
		r := m.c.Readings[t.reading]
		if r.Kind == station.RestVoltage && now.rested(r) >= 360 {
			return true
		}
	}
	return false
}

// apartBits is what a night apart would tell: by how much its volts are behind those of
// a battery that holds.
func (m *model) apartBits(bel *belief, counted []int) float64 {
	r := reading.Of(station.RestVoltage, nil)
	holds := station.Expect(m.world(2, 95, r), r)[0]
	sigma := root(holds.Sigma, m.stepVolts)
	sc := scaleOf(-0.5, 0.1)
	var o outcomes
	for _, k := range counted {
		for h, p := range bel.ways[k] {
			if p < 1e-3 {
				continue
			}
			behind := 0.0
			if m.healths[h].lowCell > 0 {
				behind = station.Expect(m.world(h, 95, r), r)[0].Best - holds.Best
			}
			var one [stepsRead]float64
			sc.spread(behind, sigma, one[:])
			o.add(m.remedyOf(m.hyps[k].set, h), bel.post[k]*p, one[:])
		}
	}
	return o.bits()
}

// eyeBits is what the eye's colour would tell.
func (m *model) eyeBits(bel *belief, counted []int, now *stretch) float64 {
	r := reading.Of(station.Eye, nil)
	var o outcomes
	var green [charges]float64
	for s := range green {
		p := station.Expect(m.world(0, chargeAt(s), r), r)
		if len(p) == 0 {
			return 0
		}
		green[s] = (1-2*eyeMisread)*p[0].Words["green"] + eyeMisread
	}
	for _, k := range counted {
		clear := levelLow.of(m.hyps[k].set)
		for h, row := range m.joint(bel, k, now, allReadings) {
			for s, p := range row {
				if p >= 1e-3 {
					o.add(m.remedyOf(m.hyps[k].set, h), bel.post[k]*p, []float64{(1 - clear) * green[s], (1 - clear) * (1 - green[s]), clear})
				}
			}
		}
	}
	return o.bits()
}

// acidBits is what the gravities would tell beyond the charge: how far the lowest cell
// is behind.
func (m *model) acidBits(bel *belief, counted []int) float64 {
	sc := scaleOf(0, 0.12)
	var o outcomes
	for _, k := range counted {
		for h, p := range bel.ways[k] {
			if p < 1e-3 {
				continue
			}
			behind, wide := evenCells, 1.3*evenSpread
			switch hp := &m.healths[h]; {
			case hp.dead > 0:
				behind, wide = 0.1, 0.03
			case hp.lowCell > 0:
				behind, wide = 0.0014*hp.lowCell, 0.02
			}
			var one [stepsRead]float64
			sc.spread(behind, wide, one[:])
			o.add(m.remedyOf(m.hyps[k].set, h), bel.post[k]*p, one[:])
		}
	}
	return o.bits()
}

// loadBits is what a strength test would tell, at the charge of a stretch; through
// clean contacts once they were cleaned.
func (m *model) loadBits(bel *belief, counted []int, st *stretch, code string, cleaned bool) float64 {
	field, r := "volts_end", reading.Of(code, reading.Fields{"method": station.HalfCCA, "amps": m.made.CCA / 2, "seconds": 15})
	if code == station.Conductance {
		field, r = "cca", reading.Of(code, reading.Fields{"standard": "SAE"})
	}
	mean, sd := m.chargeNow(bel, counted, st)
	var would [ways]expected
	lo, hi := math.Inf(1), math.Inf(-1)
	for h := range ways {
		e, _ := m.once(h, mean, r, field, 0)
		would[h] = e
		lo, hi = min(lo, e.best[0]-e.sigma[0]), max(hi, e.best[0]+e.sigma[0])
	}
	// What its charge may still be off by.
	up, _ := m.once(2, min(100, mean+sd), r, field, 0)
	down, _ := m.once(2, max(0, mean-sd), r, field, 0)
	off := math.Abs(up.best[0]-down.best[0]) / 2
	sc := scaleOf(lo, hi)
	var o outcomes
	for _, k := range counted {
		for h, p := range bel.ways[k] {
			if p < 1e-3 {
				continue
			}
			rem := m.remedyOf(m.hyps[k].set, h)
			sigma := root(would[h].sigma[0], off)
			if h < wears {
				sigma = root(sigma, 0.15*math.Abs(would[min(h+1, wears-1)].best[0]-would[max(h-1, 0)].best[0]))
			}
			var sum, one [stepsRead]float64
			for d, pd := range bel.dirt[k] {
				if cleaned && d > 0 {
					continue
				}
				if cleaned {
					pd = 1
				}
				if pd < 1e-3 {
					continue
				}
				b, s := m.throughContacts(code, would[h].best[0], sigma, would[h].amps, d)
				sc.spread(b, s, one[:])
				for x := range one {
					sum[x] += pd * one[x]
				}
			}
			o.add(rem, bel.post[k]*p, sum[:])
		}
	}
	return o.bits()
}

// once is what would be read at one charge.
func (m *model) once(h int, soc float64, r reading.Reading, field string, starter float64) (e expected, ok bool) {
	w := m.world(h, soc, r)
	w.StarterAmps = starter
	for _, p := range station.Expect(w, r) {
		if p.Field == field {
			e.best[0], e.sigma[0], e.amps = p.Best, root(p.Sigma, m.guess*p.Best), p.Amps
			if r.Kind == station.LoadTest {
				e.sigma[0] = root(e.sigma[0], byHand*m.c.Volts()/12)
			}
			return e, true
		}
	}
	return e, false
}

// chargeNow is mean and spread of the charge in a stretch, percent.
func (m *model) chargeNow(bel *belief, counted []int, st *stretch) (mean, sd float64) {
	sum, square, all := 0.0, 0.0, 0.0
	for _, k := range counted {
		w := m.joint(bel, k, st, allReadings)
		for h := range w {
			for s, p := range w[h] {
				c := chargeAt(s)
				sum, square, all = sum+bel.post[k]*p*c, square+bel.post[k]*p*c*c, all+bel.post[k]*p
			}
		}
	}
	if all <= 0 {
		return 80, 15
	}
	mean = sum / all
	return mean, math.Sqrt(max(0, square/all-mean*mean))
}

// crankBits is what volts, amps and drops while cranking would tell of starter and
// cables: independent figures, so their bits are added.
func (m *model) crankBits(bel *belief, counted []int) float64 {
	r := reading.Of(station.Crank, nil)
	all := m.partBits(bel, counted, &m.parts.starter, "amps", r, classOf(0, StarterDraw, Immobiliser))
	w := station.World{Battery: m.healths[2].battery, SOC: 80, BatteryC: 20, StarterAmps: m.parts.amps}
	for _, path := range []struct {
		field string
		part  *part
		class func(cableWay) int
	}{{"drop_live_volts", &m.parts.live, func(w cableWay) int { return w.live }},
		{"drop_earth_volts", &m.parts.earth, func(w cableWay) int { return w.earth }}} {
		byClass, n := path.part.outcomes(w, r, path.field)
		var o outcomes
		one := make([]float64, n)
		for _, k := range counted {
			for x := range one {
				one[x] = 0
			}
			for _, way := range cableWays(m.hyps[k].set) {
				c := path.class(way)
				if c == third && !m.dirtyNow {
					c = sound
				}
				for x := range one {
					one[x] += way.share * byClass[c][x]
				}
			}
			m.addAll(&o, bel, k, one)
		}
		all += o.bits()
	}
	return all
}

// partBits is what a figure of a part would tell.
func (m *model) partBits(bel *belief, counted []int, p *part, field string, r reading.Reading, class func(Set) int) float64 {
	w := station.World{Battery: m.healths[2].battery, SOC: 85, BatteryC: 20, StarterAmps: m.parts.amps}
	byClass, _ := p.outcomes(w, r, field)
	var o outcomes
	for _, k := range counted {
		m.addAll(&o, bel, k, byClass[class(m.hyps[k].set)])
	}
	return o.bits()
}

// addAll counts an outcome that does not hang on the battery's health.
func (m *model) addAll(o *outcomes, bel *belief, k int, like []float64) {
	for h, p := range bel.ways[k] {
		if p >= 1e-3 {
			o.add(m.remedyOf(m.hyps[k].set, h), bel.post[k]*p, like)
		}
	}
}

// outcomes gives how likely each of the part's values is to be read with each class:
// the outcomes are its own values, since they are as fine as can be told.
func (p part) outcomes(w station.World, r reading.Reading, field string) (byClass [][]float64, n int) {
	best, sigma := p.expect(w, r, field)
	n = len(p.values)
	byClass = make([][]float64, len(p.classes))
	for c := range byClass {
		byClass[c] = make([]float64, n)
	}
	var row = make([]float64, n)
	for x := range p.values {
		sum := 0.0
		for y := range row {
			row[y] = bell((best[y]-best[x])/sigma[x]) + 1e-6
			sum += row[y]
		}
		for c, weights := range p.classes {
			for y := range row {
				byClass[c][y] += weights[x] * row[y] / sum
			}
		}
	}
	return byClass, n
}
