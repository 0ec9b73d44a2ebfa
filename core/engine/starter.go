package engine

import (
	"math"

	"grapnel/core/battery"
)

// Make is what settles how hard an engine is to turn, and how fast it has to.
type Make struct {
	Fuel      string  // petrol or diesel
	Litres    float64 // swept; 0 where nobody knows it
	Cylinders int     // 0 for what is usual for its litres
	Volts     float64 // of the system: 6, 12 or 24
	NoGlow    bool    // a diesel started without its glow plugs
}

// Starter is an engine with its starter motor: a motor of constant field behind its
// windings, whose current makes torque and whose speed makes volts against it.
//
//	V = k n + R I           at its terminals
//	Θ dn/dt = I − I27 N(T) (s + (1−s) n/n27)
//
// with n the crankshaft's speed, N how much stiffer the engine is than at 27 °C, and s
// the part of its drag that speed does not change. Torque is counted in the amps that
// make it.
type Starter struct {
	Amps float64 // I27: it draws, turning steadily at 27 °C
	RPM  float64 // n27: and turns so fast then
	Back float64 // k: volts for each turn a minute
	Ohms float64 // R: windings and brushes
	Spin float64 // Θ: amp-seconds for each turn a minute, of all that turns
	// Break is the part of the steady drag it takes to push it over its first
	// compression from rest: more, the fewer its cylinders.
	Break float64

	warm, cold float64 // speed at which it fires, at 20 and −20 °C
}

// Common practice, no source, where nothing else is said.
const (
	// A starter's terminals show 11 V of 12 while a sound battery turns a warm engine,
	// and a sixth of them is lost in its windings: at rest it draws 3 to 5 times as much.
	steadyVolts  = 11.0
	windingsPart = 0.173
	dryDrag      = 0.75 // s: oil films follow speed, rings and compression do not
	runUp        = 0.3  // s: the steady drag would take so long to bring it to a stop
)

// Speeds, turns a minute: what a sound starter turns a warm engine at, and what it has to
// reach at 20 and −20 °C. Sources: petrol 60 to 90, diesel with glow plugs 80 to 140 and
// without 100 to 200, automotive handbooks, from memory; small engines with magneto or
// coil, common practice, no source.
var (
	petrolSpeeds = [3]float64{230, 60, 90}
	smallSpeeds  = [3]float64{400, 150, 220}
	glowSpeeds   = [3]float64{220, 80, 140}
	bareSpeeds   = [3]float64{220, 100, 200}
)

// smallLitres is under what a petrol engine turns like a mower's. House judgement.
const smallLitres = 0.9

// Amps at 27 °C of 12 V: a small petrol engine draws 60 to 150 A while it turns, big ones
// and diesels several hundred. Common practice, no source.
const (
	petrolAmps, petrolPerLitre = 60.0, 38.0
	dieselAmps, dieselPerLitre = 90.0, 65.0
)

// sizeSpread is ± part by which engines of one size and fuel differ. House judgement.
const sizeSpread = 0.15

// BySize gives what an engine of a size draws at 27 °C; of no size, false.
func BySize(m Make) (Engine, bool) {
	if m.Litres <= 0 {
		return Engine{}, false
	}
	amps := petrolAmps + petrolPerLitre*m.Litres
	if m.Fuel == "diesel" {
		amps = dieselAmps + dieselPerLitre*m.Litres
	}
	amps *= 12 / m.Volts
	return Engine{Amps: battery.Band{Low: amps * (1 - sizeSpread), Best: amps, High: amps * (1 + sizeSpread)}}, true
}

// cylinders is the usual number for a size. Common practice, no source.
func cylinders(litres float64) int {
	for _, u := range []struct {
		upTo float64
		n    int
	}{{0.45, 1}, {smallLitres, 2}, {1.2, 3}, {2.6, 4}, {4, 6}} {
		if litres <= u.upTo {
			return u.n
		}
	}
	return 8
}

// ripple is the torque at the top of a compression against the mean. House judgement,
// after indicator diagrams: 1.5 for four cylinders, 2.6 for one.
func ripple(cylinders int) float64 { return 1 + 1.6/math.Pow(float64(cylinders), 0.8) }

// Starter gives the starter of an engine that draws so many amps at 27 °C.
func (m Make) Starter(amps float64) Starter {
	n := m.Cylinders
	if n == 0 {
		n = cylinders(m.Litres)
		if m.Litres == 0 {
			n = 4
		}
	}
	speeds := petrolSpeeds
	switch {
	case m.Fuel == "diesel" && m.NoGlow:
		speeds = bareSpeeds
	case m.Fuel == "diesel":
		speeds = glowSpeeds
	case m.Litres > 0 && m.Litres < smallLitres:
		speeds = smallSpeeds
	}
	volts := steadyVolts * m.Volts / 12
	uneven := math.Sqrt(ripple(n) / ripple(4)) // it slows at each compression
	return Starter{
		Amps: amps, RPM: speeds[0], Back: volts * (1 - windingsPart) / speeds[0], Ohms: windingsPart * volts / amps,
		Spin: amps * runUp / speeds[0], Break: dryDrag * ripple(n), warm: speeds[1] * uneven, cold: speeds[2] * uneven,
	}
}

// Fires gives the speed at which the engine fires with its oil at tempC, turns a minute.
func (s Starter) Fires(tempC float64) float64 {
	const from, to = 20.0, -20.0
	part := min(1.5, max(0, (from-tempC)/(from-to)))
	return s.warm + (s.cold-s.warm)*part
}

// Drag gives the amps that turn the engine steadily at a speed with its oil at tempC.
func (s Starter) Drag(rpm, tempC float64) float64 {
	return s.Amps * Need(tempC) * (dryDrag + (1-dryDrag)*rpm/s.RPM)
}

// Holds gives the volts at the starter's terminals under which it turns steadily at a speed.
func (s Starter) Holds(rpm, tempC float64) float64 { return s.Back*rpm + s.Ohms*s.Drag(rpm, tempC) }

// Stiffer gives the starter of the same make with an engine that drags by a factor more.
func (s Starter) Stiffer(factor float64) Starter {
	s.Amps *= factor
	return s
}

// Turn gives the speed after some seconds under volts, through ohms of cable and windings
// together, from a speed; the amps that flow then, and how they answer to volts, in
// siemens. One implicit step: however long, it overshoots nothing. Forward alone: what is
// turned faster than its volts lets its freewheel go.
func (s Starter) Turn(volts, ohms, rpm, tempC, seconds float64) (to, amps, siemens float64) {
	still, per := s.Drag(0, tempC), s.Drag(1, tempC)-s.Drag(0, tempC)
	if rpm == 0 && volts/ohms < s.Amps*Need(tempC)*s.Break {
		return 0, max(0, volts/ohms), 1 / ohms
	}
	heavy := s.Spin / seconds
	den := heavy + s.Back/ohms + per
	if to = (heavy*rpm + volts/ohms - still) / den; to <= 0 {
		return 0, max(0, volts/ohms), 1 / ohms
	}
	amps = (volts - s.Back*to) / ohms
	if amps <= 0 {
		return max(0, (heavy*rpm-still)/(heavy+per)), 0, 0
	}
	return to, amps, (1 - s.Back/(ohms*den)) / ohms
}
