package charge

import (
	"math"

	"grapnel/core/battery"
)

// What may be the matter with a battery on its charger, and with its charger.
const (
	Sound     = "sound"
	Shorted   = "shorted_cell" // volts stall, and it gets warm
	Sulphated = "sulphated"    // volts high at once, no current
	Off       = "off"          // a lead off, or the socket switched off
	Weak      = "weak_charger" // far fewer amps than it should give
)

// world is one way things may be: how likely before anything was read, and what it
// makes of a setup for things that lie theta standard deviations from what is thought
// of them. It gives the volts by which the readings are off besides.
type world struct {
	code  string
	prior float64
	n     int
	make  func(s Setup, d Doubt, theta []float64) (Setup, float64)
}

// Things that are not known in every world, in their order.
const (
	inSOC = iota
	inCapacity
	inAcceptance
	inGassing
	inAmps
	inTemp
	inOffset
	inHard
	plain // how many there are
)

// offsetSpread is by how much the volts under charge of one battery differ from the
// model's, one standard deviation, of six cells: the law of charge is good to 0.15 V.
const offsetSpread = 0.08

// hardUsual is the hard sulphate of a battery that nobody calls sulphated, in parts of its
// spread.
const hardUsual, hardSteep = 0.05, 1.5

// usually puts the things in that every world has.
func usually(s Setup, d Doubt, theta []float64) (Setup, float64) {
	s.State = shifted(s.State, s.Battery.Kinds, d.SOC*theta[inSOC]/100)
	for i := range s.Battery.Kinds {
		s.Battery.Groups[i].Capacity *= math.Exp(d.Capacity * theta[inCapacity])
	}
	s.Battery.Acceptance *= math.Exp(d.Acceptance * theta[inAcceptance])
	s.Battery.Gassing *= math.Exp(d.Gassing * theta[inGassing])
	s.Charger = s.Charger.scaled(math.Exp(d.Amps * theta[inAmps]))
	s.State.TempC += d.TempC * theta[inTemp]
	s.Room.Start += d.TempC * theta[inTemp]
	for i := range s.Battery.Kinds {
		s.State.Cells[i].Sulphate = min(1, s.State.Cells[i].Sulphate+hardUsual*d.Sulphate*math.Exp(hardSteep*theta[inHard]))
	}
	return s, offsetSpread * theta[inOffset] * float64(s.Battery.Cells()) / 6
}

// worlds are what may be. The shares are house judgement: one battery in ten that a
// workshop hangs on a charger does not follow.
var worlds = []world{
	{Sound, 0.90, plain, usually},
	{Shorted, 0.03, plain + 2, func(s Setup, d Doubt, theta []float64) (Setup, float64) {
		s.Battery = s.Battery.WithCell(battery.Shorted(math.Exp(shortLog + shortSpread*theta[plain])))
		last := s.Battery.Kinds - 1
		s.State.Cells[last] = s.State.Cells[0]
		out, offset := usually(s, d, theta)
		// What is left in the shorted cell: a third, more or less.
		in := 1 / (1 + math.Exp(0.7-theta[plain+1]))
		out.State.Cells[last].Pore *= in
		out.State.Cells[last].Bulk *= in
		return out, offset
	}},
	{Sulphated, 0.04, plain + 1, func(s Setup, d Doubt, theta []float64) (Setup, float64) {
		out, offset := usually(s, d, theta)
		hard := hardLeast + (1-hardLeast)/(1+math.Exp(-theta[plain]))
		for i := range out.Battery.Kinds {
			out.State.Cells[i].Sulphate = max(hard, out.State.Cells[i].Sulphate)
		}
		return out, offset
	}},
	{Off, 0.02, plain, func(s Setup, d Doubt, theta []float64) (Setup, float64) {
		s.Charger = s.Charger.scaled(1e-6)
		return usually(s, d, theta)
	}},
	{Weak, 0.01, plain + 1, func(s Setup, d Doubt, theta []float64) (Setup, float64) {
		s.Charger = s.Charger.scaled(math.Exp(weakLog + weakSpread*theta[plain]))
		return usually(s, d, theta)
	}},
}

// How bad the faults usually are: ohms of a short, the least hard sulphate of a battery
// that refuses, the part that a weak charger gives. House judgement.
var shortLog, weakLog = math.Log(0.015), math.Log(0.3)

const (
	shortSpread = 1.2
	hardLeast   = 0.2
	weakSpread  = 0.35
)
