package season

import (
	"math"

	"grapnel/core/battery"
)

// seen is what a look found.
type seen struct {
	day     int
	soc     float64 // percent
	spread  float64 // one standard deviation
	known   bool    // the charge was read
	charged bool    // full after it
	drove   float64 // minutes
}

// lookedSpread is ± percent of a charge that was said as such.
const lookedSpread = 5.0

// leastSpread is the least standard deviation, percent, of a charge read at rest: meters and
// batteries of one kind differ by that.
const leastSpread = 1.5

// seenOf reads the looks.
func (r *Request) seenOf(s *standing) []seen {
	var out []seen
	from := date(r.From)
	for _, l := range r.Looks {
		day := int(date(l.Date).Sub(from).Hours() / 24)
		one := seen{day: day, charged: l.Charged, drove: l.DriveMin}
		switch {
		case l.RestVolts != nil:
			rest := battery.Rest{Volts: *l.RestVolts, TempC: s.days[day].mean, TempAssumed: l.BatteryC == nil,
				Surface: battery.Rested, MinutesSinceCharge: 24 * 60 * 30}
			if l.BatteryC != nil {
				rest.TempC = *l.BatteryC
			}
			c := battery.ChargeFromRest(s.chem, s.cells, rest).Charge
			one.soc, one.known = c.Best, true
			one.spread = max(leastSpread, (c.High-c.Low)/2/sure)
		case l.SOCPct != nil:
			one.soc, one.spread, one.known = *l.SOCPct, lookedSpread/sure, true
		}
		out = append(out, one)
	}
	return out
}

// belief is what is thought of the doubted things: the likeliest, and how they vary together.
type belief struct {
	at doubted
	var3
}

type var3 [3][3]float64

// prior is what is thought before any look.
func (r *Request) prior() belief {
	spread := usualSpread
	if r.Start.SpreadPct != nil {
		spread = *r.Start.SpreadPct
	}
	drain := typicalFactor
	if r.DrainMA != nil {
		drain = measuredFactor
	}
	var b belief
	sds := doubted{spread / sure, math.Log(selfFactor) / sure, math.Log(drain) / sure}
	for i, sd := range sds {
		b.var3[i][i] = sd * sd
	}
	return b
}

// learn puts what was seen into what is thought: the likeliest start and losses given
// both, found by Gauss and Newton's steps from what was thought before. What a look says is
// held against what the battery would have shown on that day, kept in way k.
func (s *standing) learn(b belief, k *keeping, looks []seen) belief {
	known := false
	for _, l := range looks {
		known = known || l.known
	}
	if !known {
		return b
	}
	out := b
	for range lookSteps {
		p := s.run(k, out.at, 0)
		// Around the present guess the charge of a look moves with the doubts; each look
		// narrows them in turn, starting from what was thought before all.
		at, v := b.at, b.var3
		full := false
		for _, l := range looks {
			if l.known {
				g := p.moves(l.day, full)
				would := p.soc[l.day]
				for i := range g {
					would += g[i] * (at[i] - out.at[i])
				}
				at, v = narrowed(at, v, g, l.soc-would, l.spread*l.spread)
			}
			full = full || l.charged
		}
		out = belief{at, v}
		for _, i := range []int{ofSelf, ofDrain} {
			out.at[i] = max(-furthest, min(furthest, out.at[i]))
		}
	}
	return out
}

// lookSteps is how many steps are taken: the fourth changes nothing that shows.
const lookSteps = 4

// furthest is how far a factor is believed to lie off at all, as its logarithm: thirty
// times. A lamp left on is more than that of a mower's drain, and then it is no drain.
var furthest = math.Log(30)

// narrowed is one step of a Kalman filter: a figure that g moves was seen to be off by so
// much, with such a variance.
func narrowed(at doubted, v var3, g [3]float64, off, noise float64) (doubted, var3) {
	var vg [3]float64
	sum := noise
	for i := range 3 {
		for j := range 3 {
			vg[i] += v[i][j] * g[j]
		}
		sum += g[i] * vg[i]
	}
	out := v
	for i := range 3 {
		at[i] += vg[i] / sum * off
		for j := range 3 {
			out[i][j] -= vg[i] * vg[j] / sum
		}
	}
	return at, out
}

// end gives the doubted things as they are at an end of the band of a charge that g moves:
// −1 the low, 1 the high one.
func (b belief) end(g [3]float64, side float64) doubted {
	var vg [3]float64
	sum := 0.0
	for i := range 3 {
		for j := range 3 {
			vg[i] += b.var3[i][j] * g[j]
		}
		sum += g[i] * vg[i]
	}
	out := b.at
	if sum <= 0 {
		return out
	}
	for i := range 3 {
		out[i] += side * sure * vg[i] / math.Sqrt(sum)
	}
	return out
}

// band runs a way of keeping it at both ends and the middle of what is thought.
func (s *standing) band(k *keeping, b belief) (low, best, high path) {
	best = s.run(k, b.at, 0)
	// The ends are those of the day that tells most: the last, or the one on which it has
	// come to half, after which all ends run into the ground.
	ref := len(best.soc) - 1
	for i, soc := range best.soc {
		if soc < 50 && i > 0 {
			ref = i
			break
		}
		if best.self[i]+best.drain[i] > best.self[ref]+best.drain[ref] {
			ref = i
		}
	}
	g := best.moves(ref, false)
	return s.run(k, b.end(g, -1), -1), best, s.run(k, b.end(g, 1), 1)
}
