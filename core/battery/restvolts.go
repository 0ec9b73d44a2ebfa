package battery

// restCurve is the resting voltage of a six-cell battery over its charge.
type restCurve struct {
	volts  table   // charge % to volts of six cells at curveC
	spread float64 // how far batteries of this kind differ from it, ± volts of six cells
}

// curveC is the temperature the resting tables are printed for, 80 °F.
const curveC = 26.7

// restCurves holds one curve per chemistry.
//
// Flooded: BCI rest-voltage table, from memory, ±0.03 V. The others: common
// practice, no source: calcium and EFB about 12.7 to 12.8 full; AGM and gel 12.8
// to 13.0 full and 12.5 to 12.6 somewhere between half and three quarters,
// depending on the maker, so their spread is wide.
var restCurves = map[Chemistry]restCurve{
	Flooded:       {table{{0, 11.89}, {25, 12.06}, {50, 12.24}, {75, 12.45}, {100, 12.65}}, 0.03},
	FloodedSealed: {calciumRest, 0.05},
	EFB:           {calciumRest, 0.05},
	AGM:           {table{{0, 11.90}, {25, 12.18}, {50, 12.45}, {75, 12.66}, {100, 12.90}}, 0.06},
	Gel:           {table{{0, 11.90}, {25, 12.15}, {50, 12.42}, {75, 12.65}, {100, 12.90}}, 0.06},
}

var calciumRest = table{{0, 11.95}, {25, 12.12}, {50, 12.31}, {75, 12.53}, {100, 12.75}}

// emfPerCellPerC is how a cell's electromotive force rises with temperature,
// V/°C, near the acid strengths of a charged battery. Source: Vinal, Storage
// Batteries, from memory, +0.2 to +0.3 mV/°C.
const emfPerCellPerC = 0.00023

// RestVolts gives the voltage of a fully rested battery of the given number of
// cells at soc percent (clamped to 0 to 100) and tempC. An unknown chemistry is
// read as flooded.
func RestVolts(c Chemistry, cells, soc, tempC float64) float64 {
	six := curveOf(c).volts.at(clamp(soc, 0, 100))
	return cells * (six/6 + emfPerCellPerC*(tempC-curveC))
}

// ChargeAtRest gives the charge in percent of a fully rested battery that shows
// volts. It is the inverse of RestVolts, clamped to 0 to 100.
func ChargeAtRest(c Chemistry, cells, volts, tempC float64) float64 {
	six := 6 * (volts/cells - emfPerCellPerC*(tempC-curveC))
	return clamp(curveOf(c).volts.swapped().at(six), 0, 100)
}

func curveOf(c Chemistry) restCurve {
	if r, ok := restCurves[c]; ok {
		return r
	}
	return restCurves[Flooded]
}
