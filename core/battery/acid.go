package battery

import "math"

// Specific gravity here is always at 26.7 °C (80 °F) against water at the same
// temperature, as battery hydrometers are marked.

// hydrometerC is the temperature hydrometers are marked for, 80 °F.
const hydrometerC = 26.7

// sgBend is how much of the way from empty to full gravity follows the square
// of the charge instead of the charge: the BCI table's top quarter is a little
// wider than the others (0.040 against 0.035).
const sgBend = 0.069

// SpecificGravity gives the acid's specific gravity at 26.7 °C for a charge of
// soc percent. Within 0.003 of the BCI table (from memory) for a flooded
// battery, 1.120 empty to 1.265 full. Charge outside 0 to 100 is clamped.
func SpecificGravity(c Chemistry, soc float64) float64 {
	b := of(c)
	return b.gravity(clamp(soc, 0, 100) / 100)
}

// GravityDown gives the same below empty too: a drain that goes on thins the acid to
// water, and at about -85 percent there is none left.
func GravityDown(c Chemistry, soc float64) float64 {
	b := of(c)
	return b.gravity(min(soc, 100) / 100)
}

// gravity is the specific gravity at a charge of s, 0 to 1; pores can stand a
// little outside that range.
func (b *build) gravity(s float64) float64 {
	return clamp(b.sgEmpty+(b.sgFull-b.sgEmpty)*s*((1-sgBend)+sgBend*s), 1.005, 1.45)
}

// ChargeOfGravity gives the charge in percent of a battery whose acid has the
// specific gravity sg at 26.7 °C: the inverse of SpecificGravity, clamped to 0
// to 100.
func ChargeOfGravity(c Chemistry, sg float64) float64 {
	b := of(c)
	y := max(0, (sg-b.sgEmpty)/(b.sgFull-b.sgEmpty))
	return clamp(100*2*y/((1-sgBend)+math.Sqrt(sq(1-sgBend)+4*sgBend*y)), 0, 100)
}

// sgPerC is the change of a hydrometer's reading per °C: 0.004 for each 10 °F.
// Source: BCI service practice, from memory.
const sgPerC = 0.004 / (10 / 1.8)

// CorrectGravity brings a hydrometer reading taken in acid at acidC to 26.7 °C:
// 0.0007 is added for each °C the acid is warmer and taken off for each it is
// colder.
func CorrectGravity(sg, acidC float64) float64 {
	return sg + sgPerC*(acidC-hydrometerC)
}

// Mass fraction of sulphuric acid over gravity above water, a cubic through the
// density table of aqueous sulphuric acid brought to 26.7 °C. Source: Perry's
// and CRC handbooks, densities from memory; the cubic stays within 0.0003.
const (
	w1 = 1.55006
	w2 = -0.90981
	w3 = 0.51575
)

// AcidFraction gives the mass of sulphuric acid in each unit of mass of
// electrolyte, 0 to about 0.45, for sg from 1.000 to 1.350.
func AcidFraction(sg float64) float64 {
	x := sg - 1
	return x * (w1 + x*(w2+x*w3))
}

// molarMassKg is the molar mass of H2SO4 in kg/mol (CRC Handbook).
const molarMassKg = 0.098079

// Molality gives moles of sulphuric acid for each kilogram of water.
func Molality(sg float64) float64 {
	w := AcidFraction(sg)
	return w / (molarMassKg * (1 - w))
}

// freezing is the freezing point of sulphuric acid in °C over specific gravity.
// Source: CRC Handbook and Vinal, as widely reprinted in service texts; from
// memory, ±2 °C up to 1.200 and ±4 °C above. Beyond the eutectic near 1.29 the
// acid stays liquid to about -70 °C over the whole range of interest here.
var freezing = table{
	{1.000, 0}, {1.020, -1.2}, {1.050, -3.3}, {1.080, -5.8}, {1.100, -7.8}, {1.120, -10}, {1.140, -13}, {1.155, -16},
	{
		1.170,
		-19.5,
	}, {1.190, -25.5}, {1.200, -28}, {1.210, -31.5}, {1.225, -38}, {1.240, -46}, {1.250, -52}, {1.265, -58},
	{1.280, -66}, {1.290, -70}, {1.300, -70.6},
}

// FreezingPoint gives the temperature in °C at which acid of specific gravity
// sg (at 26.7 °C) begins to freeze, from water, 1.000, to 1.300; outside it
// holds the nearest end.
func FreezingPoint(sg float64) float64 { return freezing.at(sg) }

// GravityAtRest gives the specific gravity at 26.7 °C of the acid in a rested
// battery of a number of cells that shows volts at tempC, also where it stands
// under what the build calls empty: there the acid goes on thinning to water,
// 1.000. The inverse of the electromotive force, as far down as its formula goes.
func GravityAtRest(c Chemistry, cells, volts, tempC float64) float64 {
	b := of(c)
	want := volts/cells - emfPerC*(tempC-25) + mixedVolts
	if want >= b.emf(0)+mixedVolts {
		return b.gravity(ChargeAtRest(c, cells, volts, tempC) / 100)
	}
	lo, hi := thinnest, b.sgEmpty
	if want <= EMF(Molality(lo)) {
		return 1
	}
	for range 20 {
		mid := (lo + hi) / 2
		if EMF(Molality(mid)) < want {
			lo = mid
		} else {
			hi = mid
		}
	}
	return hi
}

// thinnest is the specific gravity of acid of 0.1 mol/kg, from where the formula
// of the electromotive force holds.
const thinnest = 1.0063

// EmptyGravity is the acid's specific gravity at 26.7 °C that a build calls
// empty.
func EmptyGravity(c Chemistry) float64 { return of(c).sgEmpty }

// FreezingError is ± °C of the published freezing points: 2 °C up to 1.200 and 4 °C
// above, from memory.
func FreezingError(sg float64) float64 {
	if sg <= 1.2 {
		return 2
	}
	return 4
}
