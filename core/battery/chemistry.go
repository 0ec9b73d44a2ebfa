// Package battery holds what is true of a lead-acid battery itself: its
// chemistry, its acid and how its resting voltage follows its charge.
//
// Everything is a pure function of its arguments. Voltages are per battery
// unless a name says per cell, temperatures are °C, charge is a percentage of
// the present full charge from 0 to 100.
package battery

// Chemistry names how a lead-acid battery is built. The words are those of the
// grapnel.case/1 format.
type Chemistry string

// The builds a starting battery comes in.
const (
	Flooded       Chemistry = "flooded"        // removable caps or sealed lid, low-antimony or hybrid plates
	FloodedSealed Chemistry = "flooded_sealed" // calcium plates, "maintenance-free"
	EFB           Chemistry = "efb"            // enhanced flooded, for stop-start
	AGM           Chemistry = "agm"            // acid held in glass mat
	Gel           Chemistry = "gel"            // acid held in silica gel
)

// Chemistries lists every chemistry in the order a technician meets them.
var Chemistries = []Chemistry{Flooded, FloodedSealed, EFB, AGM, Gel}

// Liquid reports whether the acid is free to move, so that a hydrometer or an
// eye could read it and lost water matters at once.
func (c Chemistry) Liquid() bool {
	return c == Flooded || c == FloodedSealed || c == EFB
}

// Cells gives the number of cells in series in a battery of nominal volts: 2 V
// nominal each, so three in 6 V, four in 8 V, six in 12 V.
func Cells(nominalVolts float64) float64 { return nominalVolts / 2 }
