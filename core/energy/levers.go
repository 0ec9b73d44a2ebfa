package energy

import (
	"cmp"
	"slices"
)

// Lever is one change to a week, and where the charge then settles.
type Lever struct {
	Code    string  // drive, night, drain, maintainer
	Settles float64 // percent
	Week    Week
}

// What the levers change: one more drive of so many minutes a week, a night on a charger
// at a tenth of the ampere-hours, a drain brought down to what is usual, a maintainer.
// House judgement.
const (
	driveMinutes   = 40.0
	chargerPart    = 0.10
	usualDrain     = 25.0 // mA
	maintainerAmps = 1.0
)

// Levers gives the single changes worth making, the one that helps most first.
func Levers(w Week) []Lever {
	now := w.ledger()
	from := now.settle()
	if from >= enough {
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
		longer.Trips = append(slices.Clone(w.Trips), Trip{Times: 1, Minutes: driveMinutes})
		try("drive", longer)
	}
	if w.Nights == 0 {
		night := w
		night.Nights, night.ChargerAmps = 1, chargerPart*w.Battery.Ah20h
		try("night", night)
	}
	if w.Vehicle.DrainMilliamps > usualDrain {
		less := w
		less.Vehicle.DrainMilliamps = usualDrain
		try("drain", less)
	}
	if w.MaintainerAmps == 0 {
		kept := w
		kept.MaintainerAmps = maintainerAmps
		try("maintainer", kept)
	}
	slices.SortStableFunc(out, func(a, b Lever) int { return cmp.Compare(b.Settles, a.Settles) })
	return out
}

// enough is the charge, percent, at which nothing need be changed. House judgement.
const enough = 90

// leastHelp is how much a change must lift the charge to be worth saying, percent.
const leastHelp = 2
