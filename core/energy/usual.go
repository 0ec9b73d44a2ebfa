package energy

// Usual is what a class of vehicle usually makes and uses, where nobody measured it.
type Usual struct {
	RoadAmps, IdleAmps float64    // what its alternator gives warm
	LoadAmps           [3]float64 // with little on, lamps and fan, everything
	DrainMilliamps     float64    // with everything asleep
}

// Loads are the places in Usual.LoadAmps.
const (
	LittleOn = iota
	SomeOn
	MuchOn
)

// UsualOf gives what is usual for a class of vehicle; that of a car for one that is not
// known. Common practice, no source: a coil on a mower gives 3 to 15 A, a dynamo next to
// nothing at idle, modern alternators half of what they give on the road.
func UsualOf(class string) Usual {
	if u, ok := usual[class]; ok {
		return u
	}
	return usual["car"]
}

var usual = map[string]Usual{
	"car":        {90, 45, [3]float64{10, 22, 45}, 25},
	"van":        {110, 55, [3]float64{12, 25, 50}, 25},
	"motorcycle": {22, 9, [3]float64{6, 8, 12}, 3},
	"atv":        {18, 8, [3]float64{5, 7, 12}, 3},
	"mower":      {12, 6, [3]float64{1.5, 2, 3}, 1},
	"tractor":    {45, 25, [3]float64{5, 10, 20}, 5},
	"hybrid":     {100, 100, [3]float64{10, 20, 40}, 25},
	"classic":    {22, 6, [3]float64{4, 11, 16}, 1},
	"boat":       {60, 25, [3]float64{6, 12, 25}, 10},
	"motorhome":  {110, 55, [3]float64{12, 25, 50}, 40},
}

// UsualVolts is what an alternator is regulated to at 25 °C, volts of 12. Common practice,
// no source.
const UsualVolts = 14.2

// VoltsPerC is how the charging voltage falls as the battery warms: 18 to 24 mV for each
// °C on 12 V. Published, from memory.
const VoltsPerC = -0.021

// Regulated is what an alternator gives at tempC that is regulated to so many volts of 12
// at 25 °C, on a system of nominal volts.
func Regulated(at25, tempC, nominal float64) float64 {
	return (at25 + VoltsPerC*(tempC-25)) * nominal / 12
}
