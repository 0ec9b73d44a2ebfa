package battery

import "math"

// Aged gives the battery with capacity percent of its capacity left and its
// resistance raised by a factor: two separate ways to grow old, since
// shedding and sulphation take capacity while corrosion raises resistance.
// Capacity is held within 1 to 150, resistance within 0.3 to 50. It ages every
// cell alike, so a battery is aged before it is given a faulty cell.
func (b Battery) Aged(capacity, resistance float64) Battery {
	for i := range b.Kinds {
		b.Groups[i].Capacity = clamp(capacity, 1, 150) / 100
		b.Groups[i].Resistance = clamp(resistance, 0.3, 50)
	}
	return b
}

// WithCapacity gives the battery with percent of its capacity left, 1 to 150, and
// its resistance as it was.
func (b Battery) WithCapacity(percent float64) Battery {
	return b.Aged(percent, b.Groups[0].Resistance)
}

// Worn gives the battery with its resistance raised until its cold cranking is
// so many percent of what it was when new, 2 to 200. Capacity stays. The errors are
// those of Run.
func (b Battery) Worn(percent float64) (Battery, error) {
	want := b.CCA * clamp(percent, 2, 200) / 100
	if percent == 100 {
		return b, nil
	}
	capacity := 100 * b.Groups[0].Capacity
	var err error
	over := func(x float64) float64 {
		cca, failed := b.Aged(capacity, math.Exp(x)).ColdCrankingAmps()
		if failed != nil {
			err = failed
		}
		return cca - want
	}
	lo := math.Log(leastWorn)
	worn := b.Aged(capacity, math.Exp(falling(lo, math.Log(2), over(lo), 0.2, over)))
	return worn, err
}
