package battery

import (
	"errors"

	"grapnel/core/rating"
)

// unlimited is a floor for a load's volts that no discharge reaches.
const unlimited = -1000

// EndVolts gives the volts at the posts at the end of a discharge of amps for
// seconds, begun at rest at soc percent with the acid and its surroundings at
// tempC. It falls without limit, below zero too, where the battery cannot give
// that current. The errors are those of Run.
func (b Battery) EndVolts(soc, tempC, amps, seconds float64) (float64, error) {
	end, err := b.Run(
		b.Rested(soc, tempC),
		Duty{
			Source:    Source{Amps: -amps, Volts: unlimited},
			Ambient:   Ambient{Start: tempC},
			Seconds:   seconds,
			Tolerance: quick,
		},
	)
	return end.Volts, err
}

// quick is a tolerance for the runs inside a search: a few millivolts.
const quick = 5e-3

// CrankingAmps gives the steady current that takes the battery to endVolts at
// the end of so many seconds, begun at rest at soc percent and tempC: its
// cranking current; none where it rests no higher. With -18 °C, 30 s and 7.2 V it
// is the CCA of SAE J537. The errors are those of Run.
func (b Battery) CrankingAmps(soc, tempC, seconds, endVolts float64) (float64, error) {
	open, err := b.EndVolts(soc, tempC, 0, 0)
	if err != nil || open <= endVolts {
		return 0, err
	}
	top := 1.5 * (open - endVolts) / b.Resistance(soc, tempC)
	amps := falling(0, top, open-endVolts, 1e-3, func(amps float64) float64 {
		v, failed := b.EndVolts(soc, tempC, amps, seconds)
		if failed != nil {
			if !errors.Is(failed, ErrBoils) { // what boils it is more than it can give
				err = failed
			}
			return -open
		}
		return v - endVolts
	})
	return amps, err
}

// ColdCrankingAmps gives what SAE J537 would rate the battery at as it is: full,
// 30 s at -18 °C to 7.2 V on 12 V.
func (b Battery) ColdCrankingAmps() (float64, error) {
	return b.CrankingAmps(100, rating.SAETest().TempC, rating.SAETest().Seconds, b.volts12(rating.SAETest().EndVolts))
}

// CA gives the cranking amps at 0 °C of the battery as it is, full.
func (b Battery) CA() (float64, error) {
	return b.CrankingAmps(100, rating.CATest().TempC, rating.CATest().Seconds, b.volts12(rating.CATest().EndVolts))
}

// ChargeToCrank gives the least charge in percent at which the battery still
// gives amps for 30 s to 7.2 V (on 12 V) at tempC; false where it never does.
func (b Battery) ChargeToCrank(tempC, amps float64) (soc float64, ever bool) {
	end := b.volts12(rating.SAETest().EndVolts)
	short := func(soc float64) float64 { return end - b.steadyVolts(soc, tempC, amps, 30) }
	if short(100) > 0 {
		return 0, false
	}
	first := short(0)
	if first <= 0 {
		return 0, true
	}
	return falling(0, 100, first, 0.01, short), true
}

// volts12 scales a figure printed for 12 V to the battery's own cells.
func (b Battery) volts12(v float64) float64 { return v * float64(b.Cells()) / 6 }
