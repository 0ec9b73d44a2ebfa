package charge

import (
	"math"

	"grapnel/core/battery"
)

// Instant is one moment of a charge.
type Instant struct {
	Minute   float64 `json:"minute"`
	Volts    float64 `json:"volts"`
	Amps     float64 `json:"amps"`
	SOCPct   float64 `json:"soc_pct"`
	BatteryC float64 `json:"battery_c"`
}

// Range is the least and the most a curve may show at one moment, nine times in ten.
type Range struct {
	Minute      float64 `json:"minute"`
	VoltsLow    float64 `json:"volts_low"`
	VoltsHigh   float64 `json:"volts_high"`
	AmpsLow     float64 `json:"amps_low"`
	AmpsHigh    float64 `json:"amps_high"`
	SOCPctLow   float64 `json:"soc_pct_low"`
	SOCPctHigh  float64 `json:"soc_pct_high"`
	BatteryCMin float64 `json:"battery_c_low"`
	BatteryCMax float64 `json:"battery_c_high"`
}

// Hours is when something happens, in hours from the start: nine times in ten between
// low and high.
type Hours struct {
	Low  float64  `json:"low"`
	Best float64  `json:"best"`
	High *float64 `json:"high,omitempty" doc:"absent where it may never come"`
}

// Forecast is what a charge will do. Moments are absent where they do not come within
// ten days.
type Forecast struct {
	Ready  *Hours  // it can be tested
	Full   *Hours  // it is full; FullPct
	Delay  Hours   // until it takes current at all
	Says   *Says   // the charger calls it full, before it is
	HotAt  *Hours  // too hot to go on
	Ah, Wh float64 // through the posts until full, or the end of the curve
	PeakC  float64
	Curve  []Instant
	Band   []Range
}

// Delayed reports whether it first takes next to nothing for so long that it is to be said.
func (f Forecast) Delayed() bool { return f.Delay.Best > leastDelay }

// leastDelay is the hours from which a wait for current is said. House judgement.
const leastDelay = 0.25

// Says is a charger that calls a battery full.
type Says struct {
	Hours  float64 `json:"hours"`
	SOCPct float64 `json:"soc_pct"`
}

// Doubt is how little is known of a battery on its charger: the spread, one standard
// deviation, of each thing that is not known. Factors are in parts: 0.3 is from 1/1.3 to
// 1.3.
type Doubt struct {
	SOC        float64 // points of charge
	Capacity   float64 // part
	Acceptance float64 // part
	Gassing    float64 // part
	Amps       float64 // part: what the charger really gives
	TempC      float64 // of battery and room
	Sulphate   float64 // hard sulphate, 0 to 1, to the worse side alone
}

// Usual is what nobody knows of a battery that was only read at rest. Acceptance and
// gassing: see the chemistries of package battery, whose figures are within half and
// within a factor of two; the others are house judgement.
func Usual() Doubt {
	return Doubt{SOC: 5, Capacity: 0.07, Acceptance: 0.2, Gassing: 0.5, Amps: 0.04, TempC: 1.5, Sulphate: 0.03}
}

// curvePoints is how many moments a curve has; beyond them a line joins.
const curvePoints = 96

// besideVolts is how far beyond the volts of all that were tried a band goes, V.
const besideVolts = 0.08

// nineInTen is how many standard deviations either side hold nine of ten.
const nineInTen = 1.645

// Tolerances of the steps: of the curve that is shown, and of those that only widen it.
const (
	shownTolerance = 3e-4
	bandTolerance  = 1e-2
)

// longest is how much of a charge that does not end is shown, hours.
const longest = 48.0

// maybe is a battery on its charger as it may be, with the volts by which its readings
// are off besides.
type maybe struct {
	Setup
	offset float64
}

// Forecast gives what the charge will do, with what d leaves open.
func (s Setup) Forecast(d Doubt) (Forecast, error) {
	return maybe{Setup: s}.forecast(s.others(d))
}

// forecast gives what the charge will do, with what others it may be instead, in pairs:
// each thing that is not known more, and less; nil for as it is.
func (s maybe) forecast(others [][2]*maybe) (Forecast, error) {
	all := make([]battery.Sample, 0, 256)
	best, err := s.run(shownTolerance, func(x battery.Sample) { all = append(all, x) })
	if err != nil {
		return Forecast{}, err
	}
	end := best.end.Seconds
	switch {
	case !math.IsInf(best.full, 1):
		end = min(end, max(best.full*longAfter, shortest))
	case math.IsInf(best.hot, 1):
		end = min(end, longest*3600)
	}
	out := Forecast{Ah: best.ah, Wh: best.wh, PeakC: best.peakC}
	curve := &track{step: end / curvePoints, offset: s.offset}
	for _, x := range all {
		curve.see(x)
	}
	curve.close()
	out.Curve = curve.points()
	if best.says < best.full && best.saysSOC < NearlyPct {
		out.Says = &Says{Hours: best.says / 3600, SOCPct: best.saysSOC}
	}
	return out, band(&out, best, curve, others)
}

// track reads a run at even moments.
type track struct {
	step   float64
	offset float64
	at     int
	was    battery.Sample
	rows   [curvePoints + 1][4]float64 // volts, amps, charge, temperature
}

func (t *track) figures(x battery.Sample) [4]float64 {
	return [4]float64{x.Volts + t.offset, x.Amps, x.SOC, x.State.TempC}
}

func (t *track) see(x battery.Sample) {
	now := t.figures(x)
	for t.at <= curvePoints && float64(t.at)*t.step <= x.Seconds*(1+1e-12) {
		part := 1.0
		if gap := x.Seconds - t.was.Seconds; gap > 0 && t.at > 0 {
			part = (float64(t.at)*t.step - t.was.Seconds) / gap
		}
		before := t.figures(t.was)
		for i := range now {
			t.rows[t.at][i] = before[i] + part*(now[i]-before[i])
		}
		t.at++
	}
	t.was = x
}

// close goes on with the last figures where a run ended early.
func (t *track) close() {
	for ; t.at <= curvePoints; t.at++ {
		t.rows[t.at] = t.figures(t.was)
	}
}

func (t *track) points() []Instant {
	out := make([]Instant, curvePoints+1)
	for i, r := range t.rows {
		out[i] = Instant{Minute: t.minute(i), Volts: r[0], Amps: r[1], SOCPct: r[2], BatteryC: r[3]}
	}
	return out
}

func (t *track) minute(i int) float64 { return float64(i) * t.step / 60 }

// spread gathers how far other batteries lie from the best guess, each thing that is
// not known by itself, in quadrature.
type spread struct{ up, down float64 }

func (s *spread) add(a, b float64) {
	up, down := max(a, b, 0), max(-a, -b, 0)
	s.up += up * up
	s.down += down * down
}

func (s *spread) ends(best float64) (low, high float64) {
	return best - nineInTen*math.Sqrt(s.down), best + nineInTen*math.Sqrt(s.up)
}

// band runs the charge again with each thing that is not known a little more and a
// little less.
func band(out *Forecast, best course, curve *track, others [][2]*maybe) error {
	var rows [curvePoints + 1][4]spread
	// What volts any of them shows at all, and at least from a moment on: a charger that
	// goes to float sooner or later shows one volt or the other, and none beyond.
	var least [curvePoints + 1]float64
	most := 0.0
	for i, r := range curve.rows {
		least[i], most = r[0], max(most, r[0])
	}
	moments := []struct {
		of   func(course) float64
		all  spread
		into **Hours
	}{
		{of: func(c course) float64 { return c.ready }, into: &out.Ready},
		{of: func(c course) float64 { return c.full }, into: &out.Full},
		{of: func(c course) float64 { return c.hot }, into: &out.HotAt},
		{of: func(c course) float64 { return c.accepts }},
	}
	for _, w := range others {
		var ends [2]course
		var tracks [2]*track
		for i, other := range w {
			if other == nil {
				ends[i], tracks[i] = best, curve
				continue
			}
			t := &track{step: curve.step, offset: other.offset}
			c, err := other.run(bandTolerance, t.see)
			if err != nil {
				return err
			}
			t.close()
			ends[i], tracks[i] = c, t
		}
		for i := range rows {
			least[i] = min(least[i], tracks[0].rows[i][0], tracks[1].rows[i][0])
			most = max(most, tracks[0].rows[i][0], tracks[1].rows[i][0])
			for j := range rows[i] {
				rows[i][j].add(tracks[0].rows[i][j]-curve.rows[i][j], tracks[1].rows[i][j]-curve.rows[i][j])
			}
		}
		for i := range moments {
			m := &moments[i]
			if at := m.of(best); !math.IsInf(at, 1) {
				m.all.add(m.of(ends[0])-at, m.of(ends[1])-at)
			}
		}
	}
	for i := curvePoints - 1; i >= 0; i-- {
		least[i] = min(least[i], least[i+1])
	}
	out.Band = make([]Range, curvePoints+1)
	for i := range rows {
		r := Range{Minute: curve.minute(i)}
		r.VoltsLow, r.VoltsHigh = rows[i][0].ends(curve.rows[i][0])
		r.VoltsLow, r.VoltsHigh = max(r.VoltsLow, least[i]-besideVolts), min(r.VoltsHigh, most+besideVolts)
		r.AmpsLow, r.AmpsHigh = rows[i][1].ends(curve.rows[i][1])
		r.AmpsLow = max(0, r.AmpsLow)
		r.SOCPctLow, r.SOCPctHigh = rows[i][2].ends(curve.rows[i][2])
		r.SOCPctLow, r.SOCPctHigh = max(0, r.SOCPctLow), min(100, r.SOCPctHigh)
		r.BatteryCMin, r.BatteryCMax = rows[i][3].ends(curve.rows[i][3])
		out.Band[i] = r
	}
	for i := range moments {
		m := &moments[i]
		at := m.of(best)
		if math.IsInf(at, 1) {
			continue
		}
		low, high := m.all.ends(at)
		h := Hours{Low: max(0, low) / 3600, Best: at / 3600}
		if !math.IsInf(high, 1) {
			high /= 3600
			h.High = &high
		}
		if m.into == nil {
			out.Delay = h
		} else {
			*m.into = &h
		}
	}
	return nil
}

// others are the batteries and chargers it might be instead.
func (s Setup) others(d Doubt) [][2]*maybe {
	var out [][2]*maybe
	both := func(spread float64, change func(*Setup, float64)) {
		if spread <= 0 {
			return
		}
		more, less := s, s
		change(&more, spread)
		change(&less, -spread)
		out = append(out, [2]*maybe{{Setup: more}, {Setup: less}})
	}
	both(d.SOC, func(o *Setup, by float64) { o.State = shifted(s.State, s.Battery.Kinds, by/100) })
	both(d.Capacity, func(o *Setup, by float64) {
		for i := range o.Battery.Kinds {
			o.Battery.Groups[i].Capacity *= factor(by)
		}
	})
	both(d.Acceptance, func(o *Setup, by float64) { o.Battery.Acceptance *= factor(by) })
	both(d.Gassing, func(o *Setup, by float64) { o.Battery.Gassing *= factor(by) })
	both(d.Amps, func(o *Setup, by float64) { o.Charger = s.Charger.scaled(factor(by)) })
	both(d.TempC, func(o *Setup, by float64) { o.State.TempC += by; o.Room.Start += by })
	if d.Sulphate > 0 {
		worse := s
		for i := range worse.Battery.Kinds {
			worse.State.Cells[i].Sulphate = min(1, worse.State.Cells[i].Sulphate+d.Sulphate)
		}
		out = append(out, [2]*maybe{{Setup: worse}, nil})
	}
	return out
}

// factor is 1 + by, or as much less.
func factor(by float64) float64 {
	if by < 0 {
		return 1 / (1 - by)
	}
	return 1 + by
}

// shifted moves the charge of every cell.
func shifted(s battery.State, kinds int, by float64) battery.State {
	for i := range kinds {
		c := &s.Cells[i]
		by := clamp(c.Bulk+by, 0, 1) - c.Bulk
		c.Pore += by
		c.Bulk += by
	}
	return s
}

// scaled is the charger with another current.
func (c Charger) scaled(by float64) Charger {
	c.AmpsMax *= by
	c.Amps *= by
	c.AmpsStart *= by
	c.Ohms /= by
	return c
}

func clamp(v, lo, hi float64) float64 { return min(max(v, lo), hi) }
