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
	// Where a fit looks for the world's own thing besides its middle, and where that is so
	// small that the world is next to a sound one.
	tries []float64
	least float64
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

// HardUsual is the hard sulphate of a battery that nobody calls sulphated, in parts of its
// spread: half have less.
const HardUsual = 0.05

// hardSteep is how many times more or less one standard deviation makes of it, as a power
// of e.
const hardSteep = 1.5

// usually puts the things in that every world has.
func usually(s Setup, d Doubt, theta []float64) (Setup, float64) {
	s.State = shifted(s.State, s.Battery.Kinds, d.SOC*tailed(theta[inSOC])/100)
	for i := range s.Battery.Kinds {
		s.Battery.Groups[i].Capacity *= math.Exp(d.Capacity * theta[inCapacity])
	}
	s.Battery.Acceptance *= math.Exp(d.Acceptance * theta[inAcceptance])
	s.Battery.Gassing *= math.Exp(d.Gassing * theta[inGassing])
	s.Charger = s.Charger.scaled(math.Exp(d.Amps * theta[inAmps]))
	s.State.TempC += d.TempC * theta[inTemp]
	s.Room.Start += d.TempC * theta[inTemp]
	for i := range s.Battery.Kinds {
		s.State.Cells[i].Sulphate = min(1, s.State.Cells[i].Sulphate+HardUsual*d.Sulphate*math.Exp(hardSteep*theta[inHard]))
	}
	return s, offsetSpread * theta[inOffset] * float64(s.Battery.Cells()) / 6
}

// tailed is how far a charge lies off that lies theta standard deviations off: one that
// was misread, or read too soon, lies far out, and more often than errors of a meter do:
// about as if one in ten had three times the spread.
func tailed(theta float64) float64 { return 3*theta - 4*math.Tanh(theta/2) }

// worlds are what may be. The shares are house judgement: one battery in ten that a
// workshop hangs on a charger does not follow.
var worlds = []world{
	{code: Sound, prior: 0.90, n: plain, make: usually},
	{code: Shorted, prior: 0.03, n: plain + 2, tries: []float64{-1.5, 1, 1.6, 2, 2.3, 2.6}, least: 2.6, make: func(s Setup, d Doubt, theta []float64) (Setup, float64) {
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
	{code: Sulphated, prior: 0.04, n: plain + 1, tries: []float64{-2, 2}, least: -2, make: func(s Setup, d Doubt, theta []float64) (Setup, float64) {
		out, offset := usually(s, d, theta)
		hard := hardLeast + (1-hardLeast)/(1+math.Exp(-theta[plain]))
		for i := range out.Battery.Kinds {
			out.State.Cells[i].Sulphate = max(hard, out.State.Cells[i].Sulphate)
		}
		return out, offset
	}},
	{code: Off, prior: 0.02, n: plain, make: func(s Setup, d Doubt, theta []float64) (Setup, float64) {
		s.Charger = s.Charger.scaled(1e-6)
		return usually(s, d, theta)
	}},
	{code: Weak, prior: 0.01, n: plain + 1, tries: []float64{-2, 2}, least: 2, make: func(s Setup, d Doubt, theta []float64) (Setup, float64) {
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
