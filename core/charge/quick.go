package charge

import (
	"grapnel/core/battery"
)

// mostQuick is how far ahead Reach looks, hours.
const mostQuick = 96.0

// Reach gives the hours in which a smart charger of so many amps, on the setting for
// its build, takes a battery rested at from percent to another charge, both at tempC:
// a forecast's best guess, without band and curve, in a twentieth of its time. More
// than FullPct counts as full. It is mostQuick where it takes longer.
func Reach(b battery.Battery, from, to, tempC, amps float64) (float64, error) {
	return SmartAt(amps).Reach(b, from, to, tempC)
}

// Reach is the same on any charger. What boils before it gets there takes mostQuick.
func (c Charger) Reach(b battery.Battery, from, to, tempC float64) (float64, error) {
	to = min(to, FullPct)
	if from >= to {
		return 0, nil
	}
	end, err := b.Run(b.Rested(from, tempC), battery.Duty{
		Source: c.stages(b)[0].source, Ambient: battery.Ambient{Start: tempC}, Seconds: mostQuick * 3600, Tolerance: bandTolerance,
		Events: []battery.Event{{Name: evReady, When: func(x battery.Sample) float64 { return to - x.SOC }}},
	})
	if boils(err) {
		return mostQuick, nil
	}
	return end.Seconds / 3600, err
}

// MostHours is what Reach gives for a charge that does not get there.
const MostHours = mostQuick
