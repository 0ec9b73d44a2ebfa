package battery

import (
	"fmt"
	"math"

	"grapnel/core/rating"
)

// kineticPart gives, by the kinetic battery model, the part of both wells that a steady discharge to the end of the
// pores, lasting t hours, can draw, with exchange k per hour and pore share c.
// Source: Manwell and McGowan, Solar Energy 50 (1993).
func kineticPart(k, c, t float64) float64 {
	e := math.Exp(-k * t)
	return k * c * t / (1 - e + c*(k*t-1+e))
}

// Limits of the pore share.
const (
	leastPores = 0.04
	mostPores  = 0.97
)

// fitCapacity settles the capacity and the pore share so that the 20 h and the
// reserve capacity discharges come out as on the label. The closed form of the
// two wells gives the first guess and each correction its direction; the runs
// themselves, which see volts and heat too, have the last word.
func (b *Battery) fitCapacity() error {
	k := of(b.Chemistry).exchangePerHour
	rc := b.RCMin / 60
	want := rc * rating.ReserveAmps / b.Ah20h
	bias := 1.0
	for range 3 {
		lo, hi := leastPores, mostPores
		for range 40 {
			mid := (lo + hi) / 2
			if kineticPart(k, mid, rc)/kineticPart(k, mid, 20) < want*bias {
				lo = mid
			} else {
				hi = mid
			}
		}
		b.PoreShare = (lo + hi) / 2
		label := 3600 * b.Ah20h
		hours, err := b.DischargeHours(b.Ah20h/20, rating.CapacityC, 60)
		if err != nil {
			return err
		}
		b.Coulombs = clamp(b.Coulombs*20/max(1, hours), label/2, 3*label)
		minutes, err := b.ReserveMinutes()
		if err != nil {
			return err
		}
		got := rating.ReserveAmps * minutes / 60 / b.Ah20h
		if got <= 0 {
			return nil
		}
		if math.Abs(got/want-1) < fitPart {
			break
		}
		bias *= want / got
	}
	return nil
}

// fitPart is how near a fit has to come before it stops: a tenth of what the
// label is checked to.
const fitPart = 0.003

// fitResistance settles the resistance so that the cranking test ends at its
// volts. At a given current the volts inside do not depend on the resistance
// but for the heat it makes, so one run gives it and the next repeats it.
func (b *Battery) fitResistance(test rating.Test, amps float64) error {
	n := float64(b.Cells())
	end := b.volts12(test.EndVolts)
	for range 2 {
		last, err := b.Run(b.Rested(100, test.TempC), Duty{
			Source: Source{
				Amps:  -amps,
				Volts: unlimited,
			}, Ambient: Ambient{Start: test.TempC}, Seconds: test.Seconds, Tolerance: quick})
		if err != nil {
			return err
		}
		c := last.State.Cells[0]
		factor := ohmsFactor(c.Pore, c.Sulphate, acidFactor(last.State.TempC))
		inside := last.Volts + n*b.Ohms*factor*amps
		least := leastOhms / b.PlateAmps
		b.Ohms = max(least, (inside-end)/(n*factor*amps))
	}
	return nil
}

// leastOhms bounds a cell's resistance from below, V per amp of CCA, for labels
// that promise more than plates can give.
const leastOhms = 0.05

// crankTest gives the test a label's cranking figure was made by, and its amps.
// A figure that had to be estimated is taken as SAE. So are CA: the trade holds CCA
// to be 0.8 of them, while the model's own batteries come to about 0.7, and a
// technician who reads 675 CA expects 540 CCA.
func crankTest(l rating.Label, p Nameplate) (rating.Test, float64) {
	if t, err := rating.TestOf(l.Standard); err == nil && l.CCA > 0 {
		return t, l.CCA
	}
	return rating.SAETest(), p.CCA.Value
}

// missed says which of the label's promises the fitted battery does not keep
// within 3 %, or nothing.
func (b Battery) missed(test rating.Test, amps float64) (string, error) {
	n := float64(b.Cells())
	end := b.volts12(test.EndVolts)
	// 3 % of the current is 3 % of the volts lost inside.
	lost := 0.03 * (n*OpenCircuit(b.Chemistry, 100, test.TempC) - end)
	got, err := b.EndVolts(100, test.TempC, amps, test.Seconds)
	switch {
	case err != nil:
		return "", err
	case got < end-lost:
		return fmt.Sprintf(
			"%.0f A for %g s is more than plates of %.0f Ah can give in the cold",
			amps,
			test.Seconds,
			b.Ah20h,
		), nil
	case got > end+lost:
		return fmt.Sprintf("%.0f A is so little for %.0f Ah that the cold test says nothing", amps, b.Ah20h), nil
	}
	if got, err = b.ReserveMinutes(); err != nil {
		return "", err
	}
	if math.Abs(got/b.RCMin-1) > 0.03 {
		return fmt.Sprintf(
			"%.0f min of reserve capacity does not go with %.0f CCA and %.0f Ah: %.0f min would",
			b.RCMin,
			b.CCA,
			b.Ah20h,
			got,
		), nil
	}
	return "", nil
}
