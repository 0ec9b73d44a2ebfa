package battery

// sgAtCharge is the specific gravity at 26.7 °C of a flooded battery whose full
// charge is 1.265. Source: BCI service tables, from memory, ±0.005.
var sgAtCharge = table{{0, 1.120}, {25, 1.155}, {50, 1.190}, {75, 1.225}, {100, 1.265}}

// freezingAtSG is the freezing point of sulphuric acid in °C over specific
// gravity at 26.7 °C. Source: CRC Handbook and BCI service tables, from memory,
// ±2 °C up to 1.20 and ±4 °C above.
var freezingAtSG = table{{1.000, 0}, {1.120, -10}, {1.155, -16}, {1.190, -27}, {1.225, -37}, {1.265, -57}}

// SpecificGravity gives the acid's specific gravity at 26.7 °C for a charge of
// soc percent (0 to 100, clamped), for a battery that is full at 1.265.
func SpecificGravity(soc float64) float64 {
	return sgAtCharge.at(clamp(soc, 0, 100))
}

// FreezingPoint gives the temperature in °C at which acid of specific gravity
// sg (at 26.7 °C) begins to freeze. Valid from water, 1.000, to full charge,
// 1.265; outside it holds the nearest end, and acid stronger than 1.265 is not
// a starting battery's worry.
func FreezingPoint(sg float64) float64 {
	return freezingAtSG.at(clamp(sg, 1.000, 1.265))
}
