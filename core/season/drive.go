package season

import (
	"grapnel/core/battery"
	"grapnel/core/energy"
)

// drives is what a drive puts into a battery: minutes on the road from its lowest charge to
// each, kept as they were found.
type drives struct{ minutes, soc []float64 }

// On the road, percent: from where a drive is followed, and to where it is worth driving. A
// car that is driven settles there; the last tenth takes a night. By the model.
const driveFrom, driveTo = 15.0, 90.0

// longestDrive is how many minutes a drive is followed.
const longestDrive = 8 * 60.0

// drivesOf follows one long drive at a temperature.
func drivesOf(b battery.Battery, class string, tempC, nominal float64) drives {
	u := energy.UsualOf(class)
	var d drives
	amps := max(1, (u.RoadAmps-u.LoadAmps[energy.LittleOn])*12/nominal)
	// An error ends the drive early: what was seen until then stands.
	_, _ = b.Run(b.Rested(driveFrom, tempC), battery.Duty{
		Source:  battery.Source{Amps: amps, Volts: energy.Regulated(energy.UsualVolts, tempC, nominal)},
		Ambient: battery.Ambient{Start: tempC}, Seconds: longestDrive * 60, Tolerance: 5e-3,
		Events: []battery.Event{{Name: "full", When: func(x battery.Sample) float64 { return driveTo + 2 - x.SOC }}},
		Visit: func(x battery.Sample) error {
			if n := len(d.soc); n == 0 || x.SOC > d.soc[n-1] {
				d.minutes, d.soc = append(d.minutes, x.Seconds/60), append(d.soc, x.SOC)
			}
			return nil
		}})
	return d
}

// to gives the charge after a drive of so many minutes from a charge, percent; it is never
// less than before.
func (d drives) to(soc, minutes float64) float64 {
	if len(d.soc) < 2 {
		return soc
	}
	at := between(d.soc, d.minutes, soc) + minutes
	return max(soc, min(driveTo, between(d.minutes, d.soc, at)))
}

// between reads y at x off a rising x.
func between(xs, ys []float64, x float64) float64 {
	if x <= xs[0] {
		return ys[0]
	}
	for i := 1; i < len(xs); i++ {
		if x <= xs[i] {
			return ys[i-1] + (ys[i]-ys[i-1])*(x-xs[i-1])/(xs[i]-xs[i-1])
		}
	}
	return ys[len(ys)-1]
}
