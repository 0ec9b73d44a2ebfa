package battery

import "math"

// EMF gives the electromotive force in volts of one lead-acid cell at 25 °C
// whose acid has molality m (mol/kg of water), from 0.1 to 10:
//
//	E = 1.9228 + 0.147519 lg m + 0.063552 lg²m + 0.073772 lg³m + 0.033612 lg⁴m
//
// Source: Bode, Lead-Acid Batteries (1977), from memory; good to about 2 mV.
func EMF(m float64) float64 {
	l := math.Log(m) * math.Log10E
	return 1.9228 + l*(0.147519+l*(0.063552+l*(0.073772+l*0.033612)))
}

// emfPerC is how a cell's electromotive force rises with temperature, V/°C,
// near the strengths of battery acid. Source: Vinal, Storage Batteries, from
// memory, +0.2 to +0.3 mV/°C.
const emfPerC = 0.00023

// mixedVolts is how far a resting cell stands under its electromotive force:
// both plates discharge themselves a little, so each shows a mixed potential.
// Fitted to the BCI rest table, which it then follows within 0.015 V of six
// cells.
const mixedVolts = 0.002

// emf is the volts of a cell at 25 °C with its acid as it is at charge s.
func (b *build) emf(s float64) float64 {
	return EMF(Molality(b.gravity(s))) - mixedVolts
}

// OpenCircuit gives the volts of one cell of chemistry c, fully rested at soc
// percent (clamped to 0 to 100) and tempC. Tolerance: 5 mV flooded, 10 mV the
// others, whose makers' acid differs.
func OpenCircuit(c Chemistry, soc, tempC float64) float64 {
	return curveOf(c).volts(clamp(soc, 0, 100)/100) + emfPerC*(tempC-25)
}

// RestVolts gives the volts of a fully rested battery of a number of cells.
func RestVolts(c Chemistry, cells, soc, tempC float64) float64 {
	return cells * OpenCircuit(c, soc, tempC)
}

// ChargeAtRest gives the charge in percent of a fully rested battery that shows
// volts. It is the inverse of RestVolts, clamped to 0 to 100.
func ChargeAtRest(c Chemistry, cells, volts, tempC float64) float64 {
	k := curveOf(c)
	want := volts/cells - emfPerC*(tempC-25)
	if want <= k.empty {
		return 0
	}
	if want >= k.full {
		return 100
	}
	// The curve is smooth, rising and nearly straight: Newton closes in at once.
	s := (want - k.empty) / (k.full - k.empty)
	for range 20 {
		v, slope := k.at(s)
		step := (want - v) / slope
		s = clamp(s+step, 0, 1)
		if math.Abs(step) < 1e-5 {
			break // the next step would be its square
		}
	}
	return 100 * s
}

// RestVoltsOf gives the volts of a fully rested battery of a number of cells whose acid
// has the specific gravity sg at 26.7 °C, also under what its build calls empty.
func RestVoltsOf(c Chemistry, cells, sg, tempC float64) float64 {
	sg = max(sg, thinnest)
	if b := of(c); sg > b.sgEmpty {
		return RestVolts(c, cells, ChargeOfGravity(c, sg), tempC)
	}
	return cells * (EMF(Molality(sg)) - mixedVolts + emfPerC*(tempC-25))
}
