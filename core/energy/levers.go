package energy

import (
	"cmp"
	"slices"

	"grapnel/core/battery"
)

// Lever is one change to a week, and where the charge then settles.
type Lever struct {
	Code    string  // drive, night, drain, maintainer
	Settles float64 // percent
	Week    Week
}

// What the levers change: one more drive of so many minutes a week, a night on a charger
// at a tenth of the ampere-hours, a drain brought down to what is usual there, a maintainer.
// House judgement.
const (
	DriveMinutes   = 40.0
	chargerPart    = 0.10
	MaintainerAmps = 1.0
)

// Levers gives the single changes worth making, the one that helps most first.
func Levers(w Week) []Lever {
	now := w.ledger()
	from := now.settle()
	if from >= Enough {
		return nil
	}
	var out []Lever
	try := func(code string, changed Week) {
		l := changed.ledger()
		if at := l.settle(); at > from+leastHelp {
			out = append(out, Lever{code, at, changed})
		}
	}
	if w.Vehicle.AlternatorVolts > 0 {
		longer := w
		longer.Trips = append(slices.Clone(w.Trips), Trip{Times: 1, Minutes: DriveMinutes})
		try("drive", longer)
	}
	if w.Nights == 0 {
		night := w
		night.Nights, night.ChargerAmps = 1, NightAmps(w.Battery)
		try("night", night)
	}
	if w.Vehicle.DrainMilliamps > w.Vehicle.UsualMilliamps {
		less := w
		less.Vehicle.DrainMilliamps = w.Vehicle.UsualMilliamps
		try("drain", less)
	}
	if w.MaintainerAmps == 0 {
		kept := w
		kept.MaintainerAmps = MaintainerAmps
		try("maintainer", kept)
	}
	slices.SortStableFunc(out, func(a, b Lever) int { return cmp.Compare(b.Settles, a.Settles) })
	return out
}

// NightAmps is what a charger is set to for a night, a tenth of the ampere-hours.
func NightAmps(b battery.Battery) float64 { return chargerPart * b.Ah20h }

// Enough is the charge, percent, at which nothing need be changed. House judgement.
const Enough = 90

// leastHelp is how much a change must lift the charge to be worth saying, percent.
const leastHelp = 2
