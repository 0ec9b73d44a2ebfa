package battery

import "math"

// Constants of nature.
const (
	gasConstant = 8.314462618 // J/(mol K), CODATA
	faraday     = 96485.33212 // C/mol, CODATA
	zeroC       = 273.15
)

// arrhenius is the Arrhenius factor of stepEnergy, 1 at 25 °C: exp(E·(1/298.15 K − 1/T)/R).
// The other laws are whole powers of it, so that one exponential serves them all:
//
//	acid's resistance       w⁻³   14.4 kJ/mol
//	movement of the acid    w⁴    19.2 kJ/mol
//	the plates' reaction    w⁸    38.4 kJ/mol
//	charge acceptance       w⁸    38.4 kJ/mol
//	self-discharge          w¹¹   52.8 kJ/mol, which doubles for each 10 °C near 20 °C
func arrhenius(tempC float64) float64 {
	return math.Exp(stepEnergy / gasConstant * (1/298.15 - 1/(tempC+zeroC)))
}

// Energy of activation, J/mol, in steps. Sources: acid from conductivity tables
// (CRC, Vinal), movement from diffusion in sulphuric acid (Newman and Tiedemann),
// both from memory, ±15 %; the plates' reaction lies among published values of 30
// to 60 kJ/mol and is chosen so that cranking falls in the cold as service texts
// print; acceptance is common practice, no source, 50 A at 27 °C against under
// 5 A at -18 °C; self-discharge doubles for each 10 °C (Linden, from memory).
const stepEnergy = 4800.0

func acidFactor(tempC float64) float64 { return math.Pow(arrhenius(tempC), -3) }

// Resistance of a cell: metal does not care about cold and charge, acid does.
const (
	metalShare   = 0.30 // of R0 when full at 25 °C, from memory, 0.2 to 0.4
	emptyRise    = 1.4  // the acid's part more when empty; published bridges read about double, from memory
	sulphateOhms = 2.0  // hard sulphate can treble the resistance
)

// ohmsFactor is the resistance of a cell against the same cell full, free of hard
// sulphate and at 25 °C: s is the charge in its pores, z the sulphate, acid the law
// of the acid's resistance.
func ohmsFactor(s, z, acid float64) float64 {
	return (metalShare + (1-metalShare)*acid*(1+emptyRise*hollow(s))) * (1 + sulphateOhms*z)
}

// Resistance gives the ohms of the whole battery between its posts for a signal
// that is small and quick, at soc percent and tempC: what a bridge or a
// conductance tester reads. Of the plates it sees little, since their capacitance
// carries the signal past them. Valid from -40 to 60 °C.
func (b Battery) Resistance(soc, tempC float64) float64 {
	k := b.circuit()
	at := k.laws(tempC)
	r := b.StrapOhms
	for i := range k.n {
		g := &k.cell[i]
		crossing := 2 * g.plate * at.taken / at.vt // conductance of the reaction at rest
		past := probePerCCA * g.plate / exchangePerCCA
		r += g.count * (g.ohms*ohmsFactor(soc/100, 0, at.acid) + 1/(crossing+past))
	}
	return r
}

// probePerCCA is the conductance of the plates' double layer to a tester's signal
// of 10 to 100 Hz, S for each amp of CCA. Fitted to what such testers read on
// common batteries, about 5 mΩ at 540 CCA; from memory, ±30 %.
const probePerCCA = 6.0

// hollow is how much of the acid's part discharge adds: little at first, since
// the acid thins and sulphate covers the plates towards the end.
func hollow(s float64) float64 {
	e := above(1 - s)
	return e * math.Sqrt(e)
}

// surfaceVolts is 2RT/F, the scale of the plates' polarisation, in volts.
func surfaceVolts(tempC float64) float64 { return 2 * gasConstant * (tempC + zeroC) / faraday }
