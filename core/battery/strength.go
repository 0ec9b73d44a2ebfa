package battery

import (
	"errors"
	"fmt"
	"math"

	"grapnel/core/rating"
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

// What is worn away can be conductance, plate area, a strap or the evenness of
// the plates, and a reading does not tell which: beside wear that is resistance
// alone, so much of the wear may be wrong, mostly to the stronger side: 9.6 V at
// half the CCA is crossed at 51 % of the label by resistance, and between 50 and
// 62 % over all ways (TestWaysOfAgeing).
const (
	wearStronger = 0.22
	wearWeaker   = 0.03
)

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
	k := b.wearing()
	end := func(worn, soc, tempC, amps float64) float64 { return k.volts(worn, soc, tempC, amps, d.Seconds) }
	find := func(volts float64) float64 { return k.wornFor(at, d, volts) }
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
	// Volts fall in proportion to the wear, near enough for the ends of a band.
	var least, most float64
	perWear := (end(1, at.SOC.Best, at.TempC, d.Amps) - here) / (worn - 1)
	if math.Abs(worn-1) > 0.05 && worn > leastWorn && worn < mostWorn && perWear > 0 {
		least = clamp(worn-root(stronger)/perWear, leastWorn, mostWorn)
		most = clamp(worn+root(weaker)/perWear, leastWorn, mostWorn)
	} else {
		least, most = find(d.Volts+root(stronger)), find(d.Volts-root(weaker))
	}
	s := b.strength(least, worn, most)
	s.Amps, s.Seconds = d.Amps, d.Seconds
	return s, nil
}

// wornFor is the resistance against new at which a discharge ends at some volts.
func (k *wearing) wornFor(at Condition, d Discharge, volts float64) float64 {
	end := func(worn float64) float64 { return k.volts(worn, at.SOC.Best, at.TempC, d.Amps, d.Seconds) }
	// Searched over the logarithm, since wear is a matter of factors; what a new one
	// shows says on which side, and about how far.
	fresh := end(1)
	lo, flo, hi := 0.0, fresh-volts, math.Log(2)
	if fresh <= volts {
		first := end(leastWorn)
		if first <= volts {
			return leastWorn
		}
		lo, flo, hi = math.Log(leastWorn), first-volts, 0
	} else if open := k.volts(1, at.SOC.Best, at.TempC, 0, 0); open > fresh {
		hi = math.Log(max(1.05, (open-volts)/(open-fresh)))
	}
	x := falling(lo, hi, flo, 4e-3, func(x float64) float64 { return end(math.Exp(min(x, 6))) - volts })
	return clamp(math.Exp(x), leastWorn, mostWorn)
}

// root adds independent doubts.
func root(v []float64) float64 {
	sum := 0.0
	for _, x := range v {
		sum += x * x
	}
	return math.Sqrt(sum)
}

// LeastConductanceSOC is the charge, percent, under which a conductance figure
// is a hint and no reading: testers take the charge out themselves, badly when it
// is low. Common practice, no source.
const LeastConductanceSOC = 60.0

// mostOfLabel caps what a conductance figure can say: no battery cranks much more
// than its maker promises and has printed less. House judgement.
const mostOfLabel = 1.15

// StrengthFromConductance reads a conductance tester's figure: found amps, by
// the standard the tester was told, against the label's amps by the same
// standard. Most testers take the charge out themselves, so the figure as read
// stands in the middle; one that does not reads low by what the model says charge
// alone does, and the band reaches up to there. It fails under
// LeastConductanceSOC.
func (b Battery) StrengthFromConductance(at Condition, found, label float64) (Strength, error) {
	if !(found > 0 && label > 0) {
		return Strength{}, errors.New(
			"the found amps and the label's amps by the same standard are needed, both above 0",
		)
	}
	if at.SOC.Best < LeastConductanceSOC {
		return Strength{}, fmt.Errorf("under %g %% charge the figure says little: charge it and test again", LeastConductanceSOC)
	}
	asRead := clamp(label/found, 1/mostOfLabel, mostWorn) // resistance now against new and full
	const repeat = 0.05                                   // ± part between two readings by the same tester; from memory
	uncorrected := asRead * b.Resistance(100, 25) / b.Resistance(at.SOC.Low, 25)
	return b.strength(max(uncorrected*(1-repeat), 1/mostOfLabel), asRead, asRead*(1+repeat)), nil
}

// wear sets the resistance of every cell against new, its capacity kept.
func (b *Battery) wear(worn float64) {
	for i := range b.Kinds {
		b.Groups[i].Resistance = worn
	}
}

// wearing is a battery whose wear is sought: its circuit when new, and as it is worn
// just now.
type wearing struct {
	fresh, now circuit
	worn       float64
}

func (b Battery) wearing() wearing {
	b.wear(1)
	k := b.circuit()
	return wearing{k, k, 1}
}

// volts are those at the end of a steady load, once it is so worn.
func (k *wearing) volts(worn, soc, tempC, amps, seconds float64) float64 {
	if worn != k.worn {
		for i := range k.now.n {
			k.now.cell[i].ohms, k.now.cell[i].plate = k.fresh.cell[i].ohms*worn, k.fresh.cell[i].plate/worn
		}
		k.worn = worn
	}
	return k.now.steadyVolts(clamp(soc/100, 0, 1), tempC, amps, seconds)
}

// How far, as part of the fall from rest to the end of a cranking test, a first guess
// of the amps may be off for one step to correct it; and how steep that fall is there
// against a straight one. Read off the model.
const nearEnough, steepness = 0.02, 0.9

// strength rates batteries of three resistances, least worn first.
func (b Battery) strength(least, best, most float64) Strength {
	test := rating.SAETest()
	end := b.volts12(test.EndVolts)
	for i := range b.Kinds {
		b.Groups[i].Capacity = 1
	}
	k := b.wearing()
	open := k.volts(1, 100, test.TempC, 0, 0)
	rate := func(worn float64) float64 {
		// About as many amps as the resistance leaves; then two corrections.
		at := b.CCA / worn
		lo, over := 0.3*at, k.volts(worn, 100, test.TempC, 0.3*at, test.Seconds)-end
		if over <= 0 { // a label that no battery could keep
			lo, over = 0, open-end
		}
		return falling(lo, at, over, 0.01, func(amps float64) float64 {
			return k.volts(worn, 100, test.TempC, amps, test.Seconds) - end
		})
	}
	if open <= end {
		return Strength{Resistance: Band{least, best, most}}
	}
	wear := func(cca float64) float64 { return max(0, b.CCA-cca) }
	mid := rate(best)
	// Amps fall about as 1/(worn + rest), through the label's own and those just found:
	// from there one step is enough for the ends of a band.
	rest := (b.CCA - mid*best) / (mid - b.CCA)
	near := func(worn float64) float64 {
		guess := mid * (best + rest) / (worn + rest)
		if worn == best {
			return mid
		}
		if math.Abs(best-1) < 0.1 || !(guess > 0 && guess < 10*b.CCA) {
			return rate(worn)
		}
		left := k.volts(worn, 100, test.TempC, guess, test.Seconds) - end
		if math.Abs(left) > nearEnough*(open-end) {
			return rate(worn)
		}
		return guess * (1 + left/(steepness*(open-end)))
	}
	weak, strong := near(most), near(least)
	weak = max(0, weak-modelSpread*weak-wearWeaker*wear(weak)) // one that is all but dead gives no less than nothing
	strong += modelSpread*strong + wearStronger*wear(strong)
	// A label that no battery could keep can turn the three round.
	return Strength{
		Resistance: Band{least, best, most},
		CCA:        Band{min(weak, mid, strong), mid, max(weak, mid, strong)},
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

// WornAt gives this battery with the wear at which it would end a discharge at the
// volts that were read; false where no wear does.
func (b Battery) WornAt(at Condition, d Discharge) (Battery, bool) {
	if !(d.Amps > 0 && d.Seconds > 0) {
		return b, false
	}
	k := b.wearing()
	b.wear(k.wornFor(at, d, d.Volts))
	return b, true
}

// LoadVolts gives the volts at the end of a steady load of some seconds: EndVolts in
// one pass, good to some hundredths of a volt from 40 % charge on.
func (b Battery) LoadVolts(soc, tempC, amps, seconds float64) float64 {
	return b.steadyVolts(soc, tempC, amps, seconds)
}

// LoadVoltsAt gives LoadVolts of this battery worn to a part of its cranking,
// percent.
func (b Battery) LoadVoltsAt(pct, soc, tempC, amps, seconds float64) float64 {
	return b.WornTo(pct).LoadVolts(soc, tempC, amps, seconds)
}

// WornTo gives what Worn gives, 2 to 200 percent of its cranking, by the closed
// solution instead of runs: to half a percent and a hundred times as fast, for those
// who want a row of them.
func (b Battery) WornTo(pct float64) Battery {
	want := b.CCA * clamp(pct, 2, 200) / 100
	test := rating.SAETest()
	end := b.volts12(test.EndVolts)
	k := b.wearing()
	over := func(x float64) float64 { return k.volts(math.Exp(x), 100, test.TempC, want, test.Seconds) - end }
	lo, hi := 0.0, math.Log(100/min(pct, 95))
	if pct > 100 {
		lo, hi = math.Log(leastWorn), 0
	}
	b.wear(math.Exp(falling(lo, hi, over(lo), 5e-3, over)))
	return b
}
