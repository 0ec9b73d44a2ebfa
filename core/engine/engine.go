// Package engine holds what turning an engine asks of a battery, and how cold a
// battery may get before it no longer turns it.
package engine

import (
	"math"

	"grapnel/core/battery"
)

// What an engine needs to be turned, against 27 °C, and what a battery still
// cranks then. Published, widely printed in service texts, from memory: the
// engine needs about 155 % at 0 °C and 210 % at −18 °C.
const (
	warmC, chillC, coldC  = 27.0, 0.0, -18.0
	chillNeed, coldNeed   = 1.55, 2.10
	modelCold, modelChill = 0.48, 0.68 // of the cranking amps at 27 °C, the model's own
)

// What a battery cranks at 0 °C for each amp at −18 °C: service texts print 65 and
// 40 % of the 27 °C figure, which is 1.63; labels say CCA is 0.8 of CA, which is
// 1.25. The two contradict each other; the model lies between, and every forecast
// of a cold start carries the two as its spread.
const (
	byLabels = 1.25
	byTexts  = 1.63
)

// Need gives what an engine needs at tempC against what it needs at 27 °C: 1 when
// warm, rising as the oil thickens.
func Need(tempC float64) float64 {
	switch {
	case tempC >= warmC:
		return 1
	case tempC >= chillC:
		return chillNeed + (1-chillNeed)*tempC/warmC
	}
	return chillNeed + (coldNeed-chillNeed)*tempC/coldC
}

// Engine is the current a starter draws to turn an engine steadily at 27 °C,
// amps.
type Engine struct {
	Amps battery.Band
	// Measured: from a crank of this very engine, not from its class.
	Measured bool
}

// Part of the label's cranking amps that a warm engine of its size takes. A label
// is chosen so that a new battery turns the engine in the worst cold with plenty
// to spare. Common practice, no source.
var (
	petrolPart = battery.Band{Low: 0.18, Best: 0.25, High: 0.33}
	dieselPart = battery.Band{Low: 0.26, Best: 0.34, High: 0.42}
)

// Of gives the engine a label of so many cranking amps (SAE) is usual for.
func Of(fuel string, cca float64) Engine {
	part := petrolPart
	if fuel == "diesel" {
		part = dieselPart
	}
	return Engine{Amps: battery.Band{Low: part.Low * cca, Best: part.Best * cca, High: part.High * cca}}
}

// clampPart is ± part of what a clamp meter shows of a starter's current.
const clampPart = 0.10

// Cranked gives the engine that drew amps steadily at tempC.
func Cranked(amps, tempC float64) Engine {
	at27 := amps / Need(tempC)
	return Engine{battery.Band{Low: at27 * (1 - clampPart), Best: at27, High: at27 * (1 + clampPart)}, true}
}

// cranks gives the amps of a battery rated at one amp when it is at tempC, by how
// much more it cranks at 0 than at −18 °C. Between and beyond it changes by equal
// parts for each degree; grows is the logarithm of that part.
func cranks(tempC, ratio, grows float64) float64 {
	if tempC <= chillC {
		return math.Exp(grows * (tempC - coldC))
	}
	const up = 1 / modelChill // from 0 to 27 °C
	return ratio * math.Pow(up, min(tempC, warmC)/warmC)
}

// Range within which a temperature is looked for, °C.
const lowestC, highestC = -45.0, 30.0

// FailsBelow gives the temperature from which a battery of cranking amps cca (SAE,
// full) no longer turns the engine: best, and where it lies at the earliest (high)
// and the latest (low). −45 °C stands for never in any cold, 30 °C for always.
func (e Engine) FailsBelow(cca battery.Band) battery.Band {
	at := func(amps, cca, ratio float64) float64 {
		lo, hi := lowestC, highestC
		grows := math.Log(ratio) / (chillC - coldC)
		for range 13 { // to a hundredth of a degree
			mid := (lo + hi) / 2
			if cca*cranks(mid, ratio, grows) < amps*Need(mid) {
				lo = mid
			} else {
				hi = mid
			}
		}
		return hi
	}
	model := modelChill / modelCold
	ends := []float64{
		at(e.Amps.Low, cca.High, byLabels), at(e.Amps.Low, cca.High, byTexts),
		at(e.Amps.High, cca.Low, byLabels), at(e.Amps.High, cca.Low, byTexts),
	}
	best := at(e.Amps.Best, cca.Best, model)
	out := battery.Band{Low: best, Best: best, High: best}
	for _, t := range ends {
		out.Low, out.High = min(out.Low, t), max(out.High, t)
	}
	return out
}
