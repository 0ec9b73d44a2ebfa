package charge

import "math"

// Pick is what the forecast says a look will show, and figures near it, worth a tap.
type Pick struct {
	Said  float64   `json:"said" doc:"what the forecast says for now"`
	Picks []float64 `json:"picks" doc:"figures near it; the forecast's own among them"`
}

// mostPicks is how many figures stand to choose from: as many as a glove can hit.
const mostPicks = 5

// At is the moment of a curve at a minute, between its points on a line; the first or
// the last beyond them. The curve has points.
func (f Forecast) At(minute float64) Instant {
	c := f.Curve
	i := 0
	for i < len(c)-1 && c[i+1].Minute < minute {
		i++
	}
	if i == len(c)-1 || minute <= c[i].Minute {
		return c[i]
	}
	a, b := c[i], c[i+1]
	x := 0.0
	if b.Minute > a.Minute {
		x = min(1, (minute-a.Minute)/(b.Minute-a.Minute))
	}
	mix := func(p, q float64) float64 { return p + x*(q-p) }
	return Instant{minute, mix(a.Volts, b.Volts), mix(a.Amps, b.Amps), mix(a.SOCPct, b.SOCPct), mix(a.BatteryC, b.BatteryC)}
}

// SOCAt is the least and the most charge, percent, nine times in ten, at a minute of the
// band; the band has rows.
func (f Forecast) SOCAt(minute float64) (low, high float64) {
	i := 0
	for i < len(f.Band)-1 && f.Band[i+1].Minute <= minute {
		i++
	}
	return f.Band[i].SOCPctLow, f.Band[i].SOCPctHigh
}

// Picks gives what a look some minutes after it was hung on is expected to show: volts a
// tenth apart, amps by about a twentieth.
func (f Forecast) Picks(minute float64) (volts, amps Pick) {
	now := f.At(minute)
	return picksOf(now.Volts, 0.1), picksOf(now.Amps, ampStep(now.Amps))
}

// ampStep is a step of amps that tells one look from another: a twentieth, in tenths,
// halves or whole amps.
func ampStep(amps float64) float64 {
	step := 0.1
	for _, s := range []float64{0.2, 0.5, 1, 2, 5, 10} {
		if 12*s <= amps+1e-9 {
			step = s
		}
	}
	return step
}

// picksOf gives figures around one, of which none is below nothing.
func picksOf(said, step float64) Pick {
	middle := math.Round(said / step)
	from := max(0, middle-mostPicks/2)
	p := Pick{Said: fine(middle*step, 2)}
	for i := range mostPicks {
		p.Picks = append(p.Picks, fine((from+float64(i))*step, 2))
	}
	return p
}
