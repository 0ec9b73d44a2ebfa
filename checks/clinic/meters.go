package clinic

import (
	"math"
	"math/rand/v2"

	"grapnel/core/battery"
	"grapnel/core/reading/readingtest"
)

// cranked is what really happens while it is cranked.
type cranked struct {
	lowest, steady float64 // volts at the posts
	amps           float64
	live, earth    float64 // volts lost over the paths, clamps included
	turned         string
}

// clampOhms is what both clamps lose, and how it is shared between the sides.
func (v *Vehicle) clampOhms() (live, earth float64) {
	switch v.badSide {
	case "live":
		return v.bad, 0
	case "earth":
		return 0, v.bad
	}
	return v.bad / 2, v.bad / 2
}

// need is what an engine takes to be turned, against warm.
func (v *Vehicle) need() float64 {
	switch {
	case v.ambient > 27:
		return 1
	case v.ambient > 0:
		return 1.5 - 0.5*v.ambient/27
	}
	return 1.5 - 0.6*v.ambient/18
}

// crank cranks it for some seconds.
func (v *Vehicle) crank(rng *rand.Rand, seconds float64) cranked {
	k := v.Volts / 12
	clampLive, clampEarth := v.clampOhms()
	outside := v.live + v.earth + clampLive + clampEarth
	if v.Odd == "intermittent" && chance(rng, 0.4) {
		outside += 2 * k / max(v.starter, 20)
	}
	inside := v.battery
	if v.Odd == "loose_plate" && chance(rng, 0.3) {
		inside.StrapOhms += 3 * k / (v.Label.CCA / 2)
	}
	rest := v.volts(v.state)
	if v.starter == 0 || v.inert {
		return cranked{lowest: rest, steady: rest, turned: "no"}
	}
	running := v.starter * v.need()
	// At a standstill only the windings hold the current back.
	stall := 10.8 * k / (v.surge * running)
	first, err := inside.Run(v.state, battery.Duty{Source: battery.Source{Amps: math.Inf(-1), Ohms: stall + outside},
		Ambient: battery.Ambient{Start: v.ambient}, Seconds: 0.25, Tolerance: 5e-3})
	if err != nil {
		return cranked{lowest: 2, steady: 2, turned: "no"}
	}
	steady, err := inside.Run(first.State, battery.Duty{Source: battery.Source{Amps: -running, Volts: 1.5 * k},
		Ambient: battery.Ambient{Start: v.ambient}, Seconds: seconds, Tolerance: 5e-3})
	if err != nil {
		return cranked{lowest: first.Volts, steady: first.Volts, turned: "no"}
	}
	amps := -steady.Amps
	out := cranked{lowest: min(first.Volts, steady.Volts) + v.stray, steady: steady.Volts + v.stray, amps: amps,
		live: amps * (v.live + clampLive), earth: amps * (v.earth + clampEarth)}
	at := steady.Volts - amps*outside
	switch {
	case amps < 0.93*running || at < 6.6*k:
		out.turned = "no"
		// It stands still at what little gets through.
		out.amps = min(-first.Amps, amps*1.3)
		out.live, out.earth = out.amps*(v.live+clampLive), out.amps*(v.earth+clampEarth)
	case at < 8.9*k:
		out.turned = "slow"
	default:
		out.turned = "normal"
	}
	if v.lame && out.turned == "normal" {
		out.turned = "slow"
	}
	v.state = steady.State
	return out
}

// volts is what stands across the posts at rest in a state.
func (v *Vehicle) volts(s battery.State) float64 {
	now, err := v.battery.Run(s, battery.Duty{Ambient: battery.Ambient{Start: s.TempC}, Seconds: 1, Tolerance: 5e-3})
	if err != nil {
		return 0
	}
	return now.Volts + v.stray
}

// stand lets time pass with a current out of the battery.
func (v *Vehicle) stand(minutes, amps float64) {
	s, err := v.battery.Run(v.state, battery.Duty{Source: battery.Source{Amps: -amps, Volts: 0},
		Ambient: battery.Ambient{Start: v.ambient}, Seconds: 60 * minutes, Tolerance: 5e-3})
	if err == nil {
		v.state = s.State
	}
}

// bench is the shop's instruments, each with its own error.
type bench struct {
	offset, gain float64 // voltmeter
	pile         float64 // the load tester's amps against what it shows
	pileLead     float64 // ohms its two-wire leads add
	tester       float64 // conductance
	clamp        float64 // amps meter
	milli        float64
	hydrometer   float64
}

func newBench(rng *rand.Rand) bench {
	b := bench{
		offset: 0.008 * rng.NormFloat64(), gain: 0.0015 * rng.NormFloat64(), pile: 0.035 * rng.NormFloat64(),
		tester: 0.04 * rng.NormFloat64(), clamp: 0.03 * rng.NormFloat64(), milli: 0.05 * rng.NormFloat64(),
		hydrometer: 0.002 * rng.NormFloat64(),
	}
	if chance(rng, 0.12) {
		b.pileLead = between(rng, 0.0001, 0.0006)
	}
	return b
}

func (b bench) voltage(rng *rand.Rand, v float64) float64 {
	return math.Round(100*((1+b.gain)*v+b.offset+0.004*rng.NormFloat64()))/100 + 0
}

// loaded is the volts at the end of a load as the pile shows them. The clamps sit on
// the posts, through what dirt there is.
func (v *Vehicle) loaded(rng *rand.Rand, b bench, amps, seconds float64, post float64) (shown float64) {
	inside := v.battery
	if v.Odd == "loose_plate" && chance(rng, 0.4) {
		inside.StrapOhms += 3 * v.Volts / 12 / (v.Label.CCA / 2)
	}
	real := amps * (1 + b.pile)
	end, err := inside.Run(v.state, battery.Duty{Source: battery.Source{Amps: -real, Volts: 0.5},
		Ambient: battery.Ambient{Start: v.ambient}, Seconds: seconds, Tolerance: 5e-3})
	if err != nil {
		return 0
	}
	v.state = end.State
	return b.voltage(rng, max(0, end.Volts+v.stray+end.Amps*(post+b.pileLead)))
}

// conducted is a conductance tester's figure by its own way: the sag of a small pulse,
// against what its tables have for such a battery, corrected for charge by the volts it
// sees, badly when they are low.
func (v *Vehicle) conducted(rng *rand.Rand, b bench, post float64) float64 {
	made, _, _ := readingtest.Labels(v.Chemistry, int(v.Volts/2), v.Label)
	amps := 0.05 * v.Label.CCA
	sag := func(x battery.Battery, s battery.State, ohms float64) float64 {
		open, _ := x.Run(s, battery.Duty{Ambient: battery.Ambient{Start: s.TempC}, Seconds: 0.05, Tolerance: 5e-3})
		end, err := x.Run(s, battery.Duty{Source: battery.Source{Amps: -amps, Volts: 0.1}, Ambient: battery.Ambient{Start: s.TempC},
			Seconds: 0.02, Tolerance: 1e-3})
		if err != nil {
			return 1
		}
		return open.Volts - end.Volts + amps*ohms
	}
	full := sag(made, made.Rested(100, v.state.TempC), 0)
	now := sag(v.battery, v.state, post)
	seen := battery.ChargeAtRest(v.Chemistry, v.Volts/2, v.volts(v.state), v.state.TempC)
	at := sag(made, made.Rested(min(max(seen, 5), 100), v.state.TempC), 0)
	corrected := full * (1 + 0.6*(at/full-1)) // it takes out most of what charge does
	return math.Round(v.Label.CCA * corrected / now * (1 + b.tester + 0.02*rng.NormFloat64()))
}

// gravities are what a hydrometer shows of each cell.
func (v *Vehicle) gravities(rng *rand.Rand, b bench) []float64 {
	var out []float64
	for g := range v.battery.Kinds {
		c := v.state.Cells[g]
		soc := 100 * (v.battery.PoreShare*c.Pore + (1-v.battery.PoreShare)*c.Bulk)
		for range v.battery.Groups[g].Count {
			sg := battery.SpecificGravity(v.Chemistry, soc) + 0.002*rng.NormFloat64()
			if v.Odd == "stratified" {
				sg -= 0.03
			}
			shown := sg - 0.0007*(v.state.TempC-26.7) + b.hydrometer + 0.0025*rng.NormFloat64()
			out = append(out, math.Round(shown*200)/200)
		}
	}
	return out
}

// fill charges it: hours on a charger of a tenth of its ampere-hours, and how it ended.
func (v *Vehicle) fill() (hours float64, ended string) {
	k := v.Volts / 12
	amps, volts := 0.1*v.Label.Ah20h, 14.6*k
	tail := 0.015 * v.Label.Ah20h
	d := battery.Duty{
		Source: battery.Source{Amps: amps, Volts: volts}, Ambient: battery.Ambient{Start: max(v.ambient, 12)}, Seconds: 24 * 3600, Tolerance: 3e-3,
		Events: []battery.Event{
			{Name: "hot", When: func(s battery.Sample) float64 { return 52 - s.State.TempC }},
			{Name: "tail", When: func(s battery.Sample) float64 { return s.Amps - tail },
				Arm: func(s battery.Sample) float64 { return 3600 - s.Seconds }},
		}}
	end, err := v.battery.Run(v.state, d)
	if err == nil && end.Event == "tail" {
		// The charger waits half an hour before it calls it full.
		gone := end.Seconds
		d.Events, d.Seconds = d.Events[:1], 1800
		end, err = v.battery.Run(end.State, d)
		end.Seconds += gone
	}
	if err != nil {
		return 1, "hot"
	}
	hot := end.Event == "hot"
	if end.State.AhIn-v.state.AhIn < 0.3 && v.battery.SOC(v.state) < 60 && end.Seconds < 3*3600 {
		v.state = end.State
		return end.Seconds / 3600, "refused"
	}
	v.state = end.State
	switch {
	case hot:
		return end.Seconds / 3600, "hot"
	case end.Seconds >= 24*3600-1 && end.Amps > 0.04*v.Label.Ah20h:
		return 24, "stopped"
	}
	return end.Seconds / 3600, "full"
}
