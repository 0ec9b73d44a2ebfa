package battery

import "grapnel/core/rating"

// emptyCellVolts ends the capacity tests: 10.5 V on 12 V (SAE J537, EN 50342-1).
const emptyCellVolts = rating.EmptyVolts / 6

// DischargeHours gives how long a battery full and rested at tempC, in
// surroundings of the same temperature, holds 10.5 V (on 12 V) under a steady
// current of amps, at most the given hours. The errors are those of Run.
func (b Battery) DischargeHours(amps, tempC, hours float64) (float64, error) {
	end := emptyCellVolts * float64(b.Cells())
	last, err := b.Run(b.Rested(100, tempC), Duty{
		Source: Source{
			Amps:  -amps,
			Volts: unlimited,
		}, Ambient: Ambient{Start: tempC}, Seconds: hours * 3600, Tolerance: quick,
		Events: []Event{{Name: "empty", When: func(s Sample) float64 { return s.Volts - end }}},
	})
	return last.Seconds / 3600, err
}

// Capacity gives the ampere-hours a full battery delivers at a steady current of
// amps and tempC down to 10.5 V (on 12 V).
func (b Battery) Capacity(amps, tempC float64) (float64, error) {
	hours, err := b.DischargeHours(amps, tempC, 3*b.Ah20h/max(amps, 1e-6))
	return amps * hours, err
}

// ReserveMinutes gives the reserve capacity: minutes at 25 A and 26.7 °C down to
// 10.5 V (SAE J537).
func (b Battery) ReserveMinutes() (float64, error) {
	hours, err := b.DischargeHours(rating.ReserveAmps, rating.ReserveC, 3*b.Ah20h/rating.ReserveAmps)
	return 60 * hours, err
}
