package charge

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/words"
)

// Check is one look at a charging battery: what its charger and a meter show, and what
// a hand feels. What was not looked at is left out.
type Check struct {
	Minutes float64  // since it was hung on
	Volts   *float64 // at the posts
	Amps    *float64
	TempC   *float64 // of the case, by a thermometer
	Warmth  string   // to the hand: cold, warm, hot
}

// How warm a case feels to a hand laid on it.
const (
	Cold = "cold"
	Warm = "warm"
	Hot  = "hot" // a hand cannot stay on it
)

var warmths = words.ListOf(
	words.Term{Code: Cold, Word: "Cold"},
	words.Term{Code: Warm, Word: "Warm"},
	words.Term{Code: Hot, Word: "Hot"})

// Warmths gives the words for how warm a case feels.
func Warmths() words.List { return warmths }

// Where a hand feels warm, and where it draws back, °C, and how sharply. Common
// practice, no source: a hand stays on 45 °C and not on 52.
const (
	warmFromC  = 30.0
	hotFromC   = 48.0
	handSpread = 3.0
)

// Errors of a look, one standard deviation: a meter at the posts, a charger's ammeter,
// a thermometer on the case. Common practice, no source.
const (
	voltsSpread  = 0.03
	ampsSpread   = 0.10
	ampsPart     = 0.04
	thermoSpread = 2.0
)

// gaps gives how far what is foretold lies from what was read, in standard deviations
// of the reading.
func (c Check) gaps(out []float64, x battery.Sample, offset float64) []float64 {
	if c.Volts != nil {
		out = append(out, (x.Volts+offset-*c.Volts)/voltsSpread)
	}
	if c.Amps != nil {
		out = append(out, (x.Amps-*c.Amps)/math.Hypot(ampsSpread, ampsPart**c.Amps))
	}
	if c.TempC != nil {
		out = append(out, (x.State.TempC-*c.TempC)/thermoSpread)
	}
	t := x.State.TempC
	switch c.Warmth {
	case Cold:
		out = append(out, max(0, t-warmFromC)/handSpread)
	case Warm:
		out = append(out, (max(0, t-hotFromC)-max(0, warmFromC-t))/handSpread)
	case Hot:
		out = append(out, min(0, t-hotFromC)/handSpread)
	}
	return out
}

// minded takes from checks what they show of the charger's own mind: chargers leave
// absorption by rules of their own, and a forecast that insists on another one would
// accuse the battery.
func (s Setup) minded(checks []Check) Setup {
	if !s.Charger.Stops() {
		return s.reached(checks)
	}
	stages := s.Charger.stages(s.Battery)
	absorb, float := stages[0].source.Volts, stages[1].source.Volts
	if absorb-float < 2*floatNear {
		return s
	}
	small := min(floatPart*s.Battery.Ah20h, s.Charger.nominal(s.Battery)/2)
	last := 0.0
	for _, c := range checks {
		now := 60 * c.Minutes
		if c.Volts != nil {
			switch {
			case *c.Volts > (absorb+float)/2:
				s.Held, s.Floats = now, 0
			case s.Floats == 0 && math.Abs(*c.Volts-float) < floatNear && c.Amps != nil && *c.Amps < small:
				s.Floats = max(1, (last+now)/2)
			}
		}
		last = now
	}
	return s
}

// reached takes from checks the most volts an unregulated charger reaches, which is seldom
// what its plate says: those at which it gives far less than its amps, with every cell
// over what a charge usually needs.
func (s Setup) reached(checks []Check) Setup {
	if s.Charger.Kind == Taper {
		return s
	}
	most := 0.0
	for _, c := range checks {
		if c.Volts != nil && c.Amps != nil && *c.Volts > highCell*float64(s.Battery.Cells()) && *c.Amps < s.Charger.nominal(s.Battery)/2 {
			most = max(most, *c.Volts)
		}
	}
	switch {
	case most == 0:
	case s.Charger.Setting == LowMaintenance && s.Charger.VoltsLow > 0:
		s.Charger.VoltsLow = most
	default:
		s.Charger.VoltsOpen = most
	}
	return s
}

// highCell is the volts of a cell that takes no more: above what a full one gasses at.
// House judgement.
const highCell = 2.6

// How near to its float volts a charger floats, and the most it gives then, in parts of
// the ampere-hours. Common practice, no source.
const (
	floatNear = 0.2
	floatPart = 0.04
)

// at carries a battery through its charge to each of some moments, in seconds, in
// order. What comes after an acid that boils is as it was then.
func (s Setup) at(seconds []float64, tol float64) ([]battery.Sample, error) {
	b := s.Battery
	out := make([]battery.Sample, 0, len(seconds))
	if len(seconds) == 0 {
		return out, nil
	}
	state, gone := s.State, 0.0
	end := seconds[len(seconds)-1]
	marks := make([]float64, 0, len(seconds))
	for _, g := range s.Charger.stages(b) {
		marks = marks[:0]
		for _, t := range seconds[len(out):] {
			marks = append(marks, t-gone)
		}
		var events []battery.Event
		if g.tail > 0 {
			events = []battery.Event{s.leaves(g, gone)}
		}
		last, err := b.Run(state, battery.Duty{
			Source: g.source, Ambient: battery.Ambient{Start: s.Room.Start + s.Room.PerHour*gone/3600, PerHour: s.Room.PerHour},
			Seconds: max(0, end-gone), Tolerance: tol, Events: events, Marks: marks,
			Visit: func(x battery.Sample) error {
				for len(out) < len(seconds) && x.Event == "" && x.Seconds+gone >= seconds[len(out)]-1e-6 {
					x.Seconds = seconds[len(out)]
					out = append(out, x)
				}
				return nil
			}})
		if err != nil && !boils(err) {
			return nil, err
		}
		gone += last.Seconds
		state = last.State
		if last.Event != evTail || err != nil {
			for len(out) < len(seconds) {
				out = append(out, last)
			}
			break
		}
	}
	return out, nil
}
