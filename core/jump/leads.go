package jump

// Leads are the jump leads: two, alike.
type Leads struct {
	MM2    float64 // of metal in each
	Metres float64 // each
	Metal  string  // Copper or Clad
	// ClampOhms is of one clamp where it bites, and how many there are: four between two
	// vehicles, two where the other ends are fixed.
	ClampOhms float64
	Clamps    float64
}

// What leads are made of.
const (
	Copper = "copper"
	Clad   = "clad_aluminium" // thin copper over aluminium: light, thick, and poor
)

// Resistance of stranded flexible conductors, Ω·mm²/m at 20 °C. Source: the most that IEC
// 60228 allows class 5, from memory: 1.21 Ω/km at 16 mm², 0.780 at 25, 0.554 at 35;
// copper-clad aluminium has about 63 % of copper's conductance, ASTM B566, from memory.
const (
	copperOhms = 0.0194
	cladOhms   = copperOhms / 0.63
)

// Heat that a metre of conductor takes for each mm² and °C, J. Sources: copper 3.45,
// aluminium 2.42 J/(cm³ K), CRC Handbook, from memory; a tenth of the clad one is copper.
const (
	copperHeat = 3.45
	cladHeat   = 0.9*2.42 + 0.1*3.45
)

// resistance is of its metal.
func (l Leads) resistance() float64 {
	if l.Metal == Clad {
		return cladOhms
	}
	return copperOhms
}

// Each gives the ohms of one lead without its clamps.
func (l Leads) Each() float64 { return l.resistance() * l.Metres / l.MM2 }

// Bites gives the ohms of all clamps together.
func (l Leads) Bites() float64 { return l.Clamps * l.ClampOhms }

// Ohms gives what stands between the source and the flat battery, there and back.
func (l Leads) Ohms() float64 { return 2*l.Each() + l.Bites() }

// Rise gives how many °C the metal of the leads warms in ten seconds of amps, before it
// gives any heat away: ρ J²/c.
func (l Leads) Rise(amps float64) float64 {
	heat := copperHeat
	if l.Metal == Clad {
		heat = cladHeat
	}
	density := amps / l.MM2
	return l.resistance() * density * density / heat * 10
}
