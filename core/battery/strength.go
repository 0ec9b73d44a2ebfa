package battery

import (
	"errors"
	"math"
)

// Strength is what one reading says of a battery's cranking, brought to the one
// figure that all testers can be compared by: the cold cranking amps (SAE) it
// would have if it were full.
type Strength struct {
	Resistance Band // against new, 1 is new
	CCA        Band // SAE amps
	// What the reading really asked of the battery.
	Amps    float64 // 0 for a conductance figure
	Seconds float64
}

// Condition is what is known of a battery while it is tested.
type Condition struct {
	SOC   Band    // percent
	TempC float64 // of the acid
	// TempSpread is ± °C, 0 when it was measured.
	TempSpread float64
}

// Discharge is a reading of volts at the end of a steady load: a carbon pile, a
// fixed resistor or the starter.
type Discharge struct {
	Amps    float64 // above 0
	Seconds float64 // 0.1 to 120
	Volts   float64 // at its end
	// AmpsSpread is ± part of the current; a pile is set by hand, a starter's
	// draw is read off a clamp.
	AmpsSpread float64
}

// Range within which a battery's resistance is sought, against new.
const (
	leastWorn = 0.4
	mostWorn  = 40.0
)

// modelSpread is ± part by which two batteries of one label and one resistance
// differ in cranking: how their resistance is made up of metal, acid and plates.
// Read off the spread of R(25 °C) against CCA of common batteries, no source.
const modelSpread = 0.10

// StrengthFromLoad finds the resistance at which the model ends the load at the
// volts that were read, and what that battery would be rated at. The band takes
// in the meter, the load, the charge, the temperature and the model's own
// spread; charge matters most, since a flat battery sags like a worn one.
func (b Battery) StrengthFromLoad(at Condition, d Discharge) (Strength, error) {
	switch {
	case !(d.Amps > 0 && d.Amps <= 5000):
		return Strength{}, errors.New("the load's amps are needed: above 0, at most 5000")
	case !(d.Seconds >= 0.1 && d.Seconds <= 120):
		return Strength{}, errors.New("the load's seconds are needed: from 0.1 to 120")
	case !(d.Volts >= -50 && d.Volts <= 50):
		return Strength{}, errors.New("the volts at the end of the load are needed: from -50 to 50")
	}
	end := func(worn, soc, tempC, amps float64) float64 {
		return b.Aged(100*b.Groups[0].Capacity, worn).EndVolts(soc, tempC, amps, d.Seconds)
	}
	find := func(volts float64) float64 {
		// Searched over the logarithm, since wear is a matter of factors.
		first := end(leastWorn, at.SOC.Best, at.TempC, d.Amps)
		if first <= volts {
			return leastWorn
		}
		lo := math.Log(leastWorn)
		x := falling(lo, math.Log(2), first-volts, 2e-3, func(x float64) float64 {
			return end(math.Exp(min(x, 6)), at.SOC.Best, at.TempC, d.Amps) - volts
		})
		return clamp(math.Exp(x), leastWorn, mostWorn)
	}
	worn := find(d.Volts)
	// What each doubt is worth in volts, at the battery found.
	here := end(worn, at.SOC.Best, at.TempC, d.Amps)
	up := func(v float64) float64 { return max(0, v-here) }
	down := func(v float64) float64 { return max(0, here-v) }
	meter := MeterError(d.Volts)
	weaker, stronger := []float64{meter}, []float64{meter}
	take := func(v float64) {
		// A doubt under which the battery would show more means that, showing what
		// it does, it may be weaker; and the reverse.
		weaker, stronger = append(weaker, up(v)), append(stronger, down(v))
	}
	take(end(worn, at.SOC.High, at.TempC, d.Amps))
	take(end(worn, at.SOC.Low, at.TempC, d.Amps))
	if at.TempSpread > 0 {
		take(end(worn, at.SOC.Best, at.TempC+at.TempSpread, d.Amps))
		take(end(worn, at.SOC.Best, at.TempC-at.TempSpread, d.Amps))
	}
	if d.AmpsSpread > 0 {
		take(end(worn, at.SOC.Best, at.TempC, d.Amps*(1-d.AmpsSpread)))
		take(end(worn, at.SOC.Best, at.TempC, d.Amps*(1+d.AmpsSpread)))
	}
	s := b.strength(find(d.Volts+root(stronger)), worn, find(d.Volts-root(weaker)))
	s.Amps, s.Seconds = d.Amps, d.Seconds
	return s, nil
}

// root adds independent doubts.
func root(v []float64) float64 {
	sum := 0.0
	for _, x := range v {
		sum += x * x
	}
	return math.Sqrt(sum)
}

// StrengthFromConductance reads a conductance tester's figure: found amps, by
// the standard the tester was told, against the label's amps by the same
// standard. The tester judges by the battery's resistance now, at its charge;
// the model takes out what the charge alone does. Whether the tester has done
// that already is not known, so the band reaches to where it has.
func (b Battery) StrengthFromConductance(at Condition, found, label float64) (Strength, error) {
	if !(found > 0 && label > 0) {
		return Strength{}, errors.New(
			"the found amps and the label's amps by the same standard are needed, both above 0",
		)
	}
	full := b.Resistance(100, 25)
	asRead := label / found // resistance now against new and full, as the tester sees it
	own := func(soc float64) float64 { return clamp(asRead*full/b.Resistance(soc, 25), leastWorn, mostWorn) }
	corrected := clamp(asRead, leastWorn, mostWorn)
	const repeat = 0.05 // ± part between two readings by the same tester; from memory
	return b.strength(own(at.SOC.Low)*(1-repeat), own(at.SOC.Best), max(corrected, own(at.SOC.High))*(1+repeat)), nil
}

// strength rates batteries of three resistances, least worn first.
func (b Battery) strength(least, best, most float64) Strength {
	rate := func(worn float64) float64 { return b.Aged(100, worn).ColdCrankingAmps() }
	weak, mid, strong := rate(most)*(1-modelSpread), rate(best), rate(least)*(1+modelSpread)
	// A label that no battery could keep can turn the three round.
	cca := Band{min(weak, mid, strong), mid, max(weak, mid, strong)}
	return Strength{
		Resistance: Band{least, best, most},
		CCA:        cca,
	}
}

// Agreement is what two readings of one battery's strength come to together.
type Agreement struct {
	Agree bool
	// Both is where both can be true; where they cannot, the gap between them.
	Both Band
}

// Compare puts two readings side by side. They agree when one battery can have
// given both; the best joint figure then leans to the narrower band.
func Compare(a, b Strength) Agreement {
	low, high := max(a.CCA.Low, b.CCA.Low), min(a.CCA.High, b.CCA.High)
	if low > high {
		return Agreement{Both: Band{high, (low + high) / 2, low}}
	}
	wa, wb := 1/sq(max(a.CCA.High-a.CCA.Low, 1e-3)), 1/sq(max(b.CCA.High-b.CCA.Low, 1e-3))
	return Agreement{Agree: true, Both: Band{low, clamp((wa*a.CCA.Best+wb*b.CCA.Best)/(wa+wb), low, high), high}}
}
