package jump

import (
	"math"
)

// Maker is what holds volts as far as its amps go: an alternator or a charger's boost.
// The zero Maker gives nothing.
type Maker struct {
	Volts float64
	Amps  float64
	Ohms  float64 // how its volts yield
}

// current is what it gives at volts, and how that answers to volts, in siemens: nothing
// backwards. Its two corners are round by cornerAmps.
func (m Maker) current(volts float64) (amps, steep float64) {
	if m.Amps <= 0 {
		return 0, 0
	}
	x := (m.Volts - volts) / m.Ohms
	rx := math.Sqrt(x*x + cornerAmps*cornerAmps)
	y := m.Amps - (x+rx)/2
	ry := math.Sqrt(y*y + cornerAmps*cornerAmps)
	return m.Amps - (y+ry)/2, -(1 + x/rx) / 2 * (1 + y/ry) / 2 / m.Ohms
}

const cornerAmps = 0.5

// behind is the maker behind some ohms; behind endless ones it gives nothing.
func (m Maker) behind(ohms float64) Maker {
	if math.IsInf(ohms, 1) {
		return Maker{}
	}
	m.Ohms += ohms
	return m
}

// regulated is how a regulator's volts yield: a tenth of a volt from nothing to all it
// gives. House judgement.
const regulated = 0.1

// Idle and raised are the revs of a donor's engine, turns a minute.
const (
	IdleRPM   = 750.0
	RaisedRPM = 2000.0
)

// AlternatorPart gives what part of its rated amps an alternator makes at the engine's
// revs: under half at idle, nine tenths at 2000, nearly all at 3000. Common practice, no
// source, ± 0.1.
func AlternatorPart(rpm float64) float64 { return max(0, 1-math.Exp(-(rpm-350)/700)) }

// Alternator gives an alternator of rated amps at the engine's revs, less what the vehicle
// itself takes, held to volts.
func Alternator(rated, rpm, own, volts float64) Maker {
	amps := rated*AlternatorPart(rpm) - own
	if amps <= 0 {
		return Maker{}
	}
	return Maker{Volts: volts, Amps: amps, Ohms: regulated * volts / 14 / rated}
}

// Boost gives a charger's boost: its amps, and the volts it is held to, of the flat
// battery's cells.
func Boost(amps, volts float64) Maker {
	return Maker{Volts: volts, Amps: amps, Ohms: regulated * volts / 14 / amps}
}

// boostVolts is what a boost holds to, volts a cell, where nothing is printed. Common
// practice, no source.
const boostVolts = 2.5

// packPart is what a pack gives for half a minute in the cold, as part of the peak amps
// printed on it: a peak is what flows for a moment into nothing. House judgement; makers
// print three to five times.
const packPart = 0.3

// PackCCA gives the cold cranking amps that a pack of so many printed peak amps stands for.
func PackCCA(peakAmps float64) float64 { return packPart * peakAmps }
