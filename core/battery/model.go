package battery

import "math"

// Battery is the parameters of one battery: what its label, its chemistry, its
// age and its faults settle. FromLabel makes one; the state it is in at a
// moment is a State.
type Battery struct {
	Chemistry Chemistry
	Ah20h     float64 // ampere-hours at the 20 hour rate when new
	RCMin     float64 // reserve capacity in minutes when new
	CCA       float64 // cold cranking amps by SAE J537 when new
	PlateAmps float64 // plate area, as the cranking amps it is usual for

	// Of one healthy cell, at 25 °C.
	Coulombs  float64 // charge of both wells between empty and full
	PoreShare float64 // c: the part of it in the pores of the plates, 0 to 1
	Ohms      float64 // R0: grids, straps and acid, fully charged

	HeatCapacity float64 // J/K of the whole battery
	Cooling      float64 // W/K to its surroundings

	// How this battery differs from others of its chemistry, 1 for as they usually are.
	Acceptance float64 // what it takes on charge, 0.2 to 5
	Gassing    float64 // what it makes of gas at a voltage, 0.1 to 10

	LidSiemens float64 // leak between the posts over a dirty lid, 0 for none
	StrapOhms  float64 // a bad weld or strap inside, 0 for none

	Groups [MaxGroups]Group // cells that are alike, in Kinds groups
	Kinds  int
}

// MaxGroups is how many kinds of cell one battery can have: each of six may
// differ.
const MaxGroups = 6

// Group is some cells in series that are alike.
type Group struct {
	Count        int
	Capacity     float64 // part of the capacity left by age, 1 when new
	Resistance   float64 // resistance against new, 1 when new
	Wet          float64 // part of the plates under acid, 1 when full
	ShortSiemens float64 // short inside the cell, 0 for none
}

// Cells gives the number of cells in series.
func (b Battery) Cells() int {
	n := 0
	for _, g := range b.Groups[:b.Kinds] {
		n += g.Count
	}
	return n
}

// State is what changes in a battery: the circuit's state variables.
type State struct {
	TempC float64
	Cells [MaxGroups]Cell // one for each group of alike cells

	AhIn      float64 // ampere-hours through the posts, charge counted positive
	WhIn      float64 // watt-hours through the posts
	JoulesOut float64 // heat given to the surroundings
}

// Cell is the state of one cell.
type Cell struct {
	Pore         float64 // h1: charge in the pores, 1 when full; a little above 1 on charge
	Bulk         float64 // h2: charge in the bulk of the acid
	Polarisation float64 // u: volts across the plates' surface, positive on charge
	Sulphate     float64 // z: hard sulphate, 0 none to 1 all the surface
	GasAh        float64 // ampere-hours gone into gas instead of charge
}

// Rested gives the state of a battery that has stood until nothing moves, at
// soc percent and tempC.
func (b Battery) Rested(soc, tempC float64) State {
	s := State{TempC: tempC}
	for i := range b.Kinds {
		s.Cells[i] = Cell{Pore: soc / 100, Bulk: soc / 100}
	}
	return s
}

// SOC gives the charge in percent of the weakest cell: the one that ends a
// discharge.
func (b Battery) SOC(s State) float64 {
	least := math.Inf(1)
	for i := range b.Kinds {
		least = min(least, b.charge(s.Cells[i]))
	}
	return 100 * least
}

// charge is a cell's state of charge, both wells together.
func (b Battery) charge(c Cell) float64 { return b.PoreShare*c.Pore + (1-b.PoreShare)*c.Bulk }
