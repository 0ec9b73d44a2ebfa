package bench

import "grapnel/core/energy"

// Fed is what a typical week comes to for this battery.
type Fed struct {
	Reading int // that told of the week
	Week    energy.Week
	Account energy.Account
	// Charging and Drain were measured here; else what is usual was taken.
	Charging, Drain bool
}

// Underfed reports whether such weeks leave it with less charge, percent, than it needs
// for a fair test: it lives half charged.
func (f *Fed) Underfed(least float64) bool { return f.Account.Settles.Best < least }

// Fed gives what a typical week comes to, as it was told last; nil where nobody told of
// one, or the label does not say what battery it is.
func (b *Bench) Fed() *Fed {
	if b.feeds == nil {
		return nil
	}
	if b.fed == nil {
		b.fed = b.feeds(b)
	}
	return b.fed
}
