package battery

import (
	"errors"
	"fmt"
	"math"

	"grapnel/core/rating"
)

// Figure is one rating of a battery: read off the label, or worked out from
// the others with the part it may be off by.
type Figure struct {
	Value     float64 `json:"value"`
	Spread    float64 `json:"spread,omitempty"` // ± part, 0.2 is 20 %; 0 when printed
	Estimated bool    `json:"estimated,omitempty"`
	From      string  `json:"from,omitempty"` // how it was worked out
}

// Nameplate is a whole label: what was printed and what had to be estimated.
type Nameplate struct {
	CCA   Figure `json:"cca"`    // SAE amps
	RCMin Figure `json:"rc_min"` // minutes
	Ah20h Figure `json:"ah_20h"` // ampere-hours
	// Doubt says what in the label contradicts itself, empty when nothing does.
	Doubt string `json:"doubt,omitempty"`
}

// Limits of a label that can be a battery's: cranking amps for each
// ampere-hour, from a traction block to a racing pack.
const (
	leastAmpsPerAh = 2.0
	mostAmpsPerAh  = 40.0
)

// Spread of what ampere-hours and reserve capacity say of each other, ± part.
// Read off common labels, no source.
const capacitySpread = 0.15

// Complete fills in what a label leaves out. Cranking amps follow the
// ampere-hours by what is usual for the chemistry, ampere-hours and reserve
// capacity each other by Peukert's law:
//
//	RC·25 A = Ah (Ah/20 h / 25 A)^(n-1)
//
// Source: Peukert 1897, with an exponent read off common labels. It fails when
// the label has no figure at all.
func Complete(c Chemistry, l rating.Label) (Nameplate, error) {
	b := of(c)
	var p Nameplate
	sae, crank := l.ToSAE()
	ah := l.Ah20h
	switch {
	case ah > 0:
		p.Ah20h = Figure{Value: ah}
	case l.RCMin > 0:
		ah = math.Pow(l.RCMin/60*rating.ReserveAmps*math.Pow(20*rating.ReserveAmps, b.peukert-1), 1/b.peukert)
		p.Ah20h = Figure{ah, capacitySpread, true, fmt.Sprintf("from %g min of reserve capacity", l.RCMin)}
	case crank:
		ah = sae.Amps / b.ampsPerAh
		p.Ah20h = Figure{
			ah,
			b.ampsSpread,
			true,
			fmt.Sprintf("from %.0f CCA, %g A for each Ah is usual", sae.Amps, b.ampsPerAh),
		}
	default:
		return p, fmt.Errorf("the label has no figure: enter the CCA, CA, RC or Ah printed on it")
	}
	if l.RCMin > 0 {
		p.RCMin = Figure{Value: l.RCMin}
	} else {
		spread := capacitySpread + p.Ah20h.Spread
		p.RCMin = Figure{60 * ah / rating.ReserveAmps * math.Pow(ah/20/rating.ReserveAmps, b.peukert-1), spread, true,
			fmt.Sprintf("from %.0f Ah", ah)}
	}
	if crank {
		p.CCA = Figure{sae.Amps, sae.Spread, sae.From != "", sae.From}
	} else {
		p.CCA = Figure{ah * b.ampsPerAh, b.ampsSpread + p.Ah20h.Spread, true,
			fmt.Sprintf("from %.0f Ah, %g A for each Ah is usual", ah, b.ampsPerAh)}
	}
	switch part := p.RCMin.Value / 60 * rating.ReserveAmps / ah; {
	case p.CCA.Value < leastAmpsPerAh*ah || p.CCA.Value > mostAmpsPerAh*ah:
		p.Doubt = fmt.Sprintf("%.0f CCA and %.0f Ah are hardly one battery's", p.CCA.Value, ah)
	case rating.ReserveAmps > ah/20 && part > 1 || rating.ReserveAmps < ah/20 && part < 1:
		p.Doubt = fmt.Sprintf(
			"%.0f min of reserve capacity is %.0f Ah, which does not go with %.0f Ah at the 20 h rate",
			p.RCMin.Value,
			part*ah,
			ah,
		)
	}
	return p, nil
}

// Mass, heat and cooling of a battery. Sources: mass 0.27 kg/Ah of a 12 V
// battery, read off common labels; heat about 1 kJ/(kg K), Linden, from memory;
// the acid follows the shop by 6 to 8 hours, common practice, which is three
// time constants.
const (
	kgPerCellAh   = 0.045
	joulesPerKgK  = 1000.0
	coolingHours  = 2.3 // time constant of a 48 Ah 12 V battery
	coolingCellAh = 6 * 48.0
)

// FromLabel gives the battery of a chemistry and number of cells (1 to 12) that
// does, new and full, what its label says: its cranking amps by its own
// standard, its reserve capacity and its 20 h capacity. What the label leaves
// out is estimated; see Complete.
//
// Three parameters are found by running the tests themselves: the resistance by
// the cranking test, the capacity by the 20 h discharge, the part of it in the
// pores by the reserve capacity. Where a label contradicts itself the nearest
// battery is given, and Nameplate.Doubt says so.
func FromLabel(c Chemistry, cells int, l rating.Label) (Battery, Nameplate, error) {
	if cells < 1 || cells > 12 {
		return Battery{}, Nameplate{}, fmt.Errorf(
			"%d cells: a starting battery has 3 (6 V), 4 (8 V) or 6 (12 V)",
			cells,
		)
	}
	p, err := Complete(c, l)
	if err != nil {
		return Battery{}, p, err
	}
	ah, n := p.Ah20h.Value, float64(cells)
	mass := kgPerCellAh * ah * n
	b := Battery{
		Chemistry: c, Ah20h: ah, RCMin: p.RCMin.Value, CCA: p.CCA.Value, PlateAmps: p.CCA.Value,
		Coulombs: 3600 * ah, PoreShare: 0.5, Kinds: 1,
		HeatCapacity: mass * joulesPerKgK, Acceptance: 1, Gassing: 1,
	}
	b.Groups[0] = Group{Count: cells, Capacity: 1, Resistance: 1, Wet: 1}
	b.Cooling = b.HeatCapacity / (coolingHours * 3600 * math.Cbrt(ah*n/coolingCellAh))
	b.Ohms = 0.3 / p.CCA.Value // a start: 3.3 mΩ for six cells of 540 A
	test, amps := crankTest(l, p)
	for range 4 {
		before := b
		if err := errors.Join(b.fitCapacity(), b.fitResistance(test, amps)); err != nil {
			return Battery{}, p, err
		}
		if math.Abs(b.Ohms/before.Ohms-1) < fitPart && math.Abs(b.PoreShare/before.PoreShare-1) < fitPart {
			break
		}
	}
	if test.Standard != rating.SAE {
		if b.CCA, err = b.ColdCrankingAmps(); err != nil {
			return Battery{}, p, err
		}
	}
	if p.Doubt == "" {
		p.Doubt, err = b.missed(test, amps)
	}
	return b, p, err
}
