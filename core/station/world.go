package station

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/reading"
)

// World is what is really there while something is measured: the battery and the
// state it is in, its contacts and cables, and what hangs on them. Stations say
// what a meter would show in it.
type World struct {
	Battery      battery.Battery
	SOC          float64 // percent
	BatteryC     float64 // of the acid
	SurfaceVolts float64 // what surface charge still adds across the posts, volts
	DeadCells    int     // cells that are shorted and give nothing
	LowCellPct   float64 // charge by which the worst cell is behind the others, percent
	Strays       float64 // how far this battery rests off the curve of its build, volts of six cells

	PostOhms  float64 // between the posts and whatever is clamped on them, both together
	LiveOhms  float64 // live post to starter, joints included
	EarthOhms float64 // engine block to earthed post, joints included

	StarterAmps    float64 // while the engine turns steadily on good volts
	AlternatorV    float64 // regulated at 25 °C, raised engine, for six cells; 0 when it gives nothing
	DrainMilliamps float64 // with everything off and asleep
}

// Prediction is what would be read in one field: a figure with its spread, or
// words with how likely each is.
type Prediction struct {
	Field string
	// Best and Sigma, one standard deviation: instrument, hand and battery together.
	Best, Sigma float64
	Amps        float64 // that flow through the posts while it is read, which bad contacts lose volts by
	Words       map[string]float64
}

// meterSigma is the standard deviation of a voltage: the limit of error of the
// meter, taken as even, which is √3 times its deviation.
func meterSigma(volts float64) float64 { return battery.MeterError(volts) / math.Sqrt(3) }

// sigma adds independent spreads.
func sigma(parts ...float64) float64 {
	sum := 0.0
	for _, p := range parts {
		sum += p * p
	}
	return math.Sqrt(sum)
}

// endVolts is what stands across the clamps on the posts at the end of a load in
// this world, and how much it changes over a part of the amps.
func (w World) endVolts(amps, seconds, ampsSpread float64) (volts, spread float64) {
	live := w.live()
	at := func(a float64) float64 {
		return max(0, live.LoadVolts(w.SOC, w.BatteryC, a, seconds)-a*w.PostOhms)
	}
	volts = at(amps)
	if ampsSpread > 0 {
		spread = math.Abs(at(amps*(1-ampsSpread))-at(amps*(1+ampsSpread))) / 2
	}
	// Far down no tester holds its current, and how far it falls is anybody's guess.
	return volts, sigma(spread, collapsing*max(0, 0.5*float64(2*w.Battery.Cells())-volts))
}

// collapsing is how much of what is missing to half the nominal volts nobody can
// foretell. House judgement.
const collapsing = 0.3

// live is the battery without its dead cells.
func (w World) live() battery.Battery {
	b := w.Battery
	b.Groups[0].Count = max(1, b.Groups[0].Count-w.DeadCells)
	return b
}

// Expect gives what a kind of reading would show in a world; how says the way it is
// taken. Nothing where no meter shows anything, or nothing can be foretold.
func Expect(w World, how reading.Reading) []Prediction {
	k := findKind(how.Kind)
	if k == nil || k.Expect == nil {
		return nil
	}
	return k.Expect(w, how)
}
