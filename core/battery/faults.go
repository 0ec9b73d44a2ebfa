package battery

// WithCell gives the battery with one of its cells made different by a fault.
// The cell is a new group, so its state is its own. Once every group is used the
// last one takes the fault.
func (b Battery) WithCell(fault func(*Group)) Battery {
	if b.Kinds < MaxGroups && b.Groups[0].Count > 1 {
		b.Groups[b.Kinds] = b.Groups[0]
		b.Groups[b.Kinds].Count = 1
		b.Groups[0].Count--
		b.Kinds++
	}
	fault(&b.Groups[b.Kinds-1])
	return b
}

// Shorted makes a cell with ohms of short circuit between its plates: a few
// milliohms for a dead cell, an ohm for one that only loses its charge.
func Shorted(ohms float64) func(*Group) {
	return func(g *Group) { g.ShortSiemens = 1 / max(ohms, 1e-4) }
}

// Dry makes a cell with only a part of its plates under acid, 0.02 to 1.
func Dry(wet float64) func(*Group) {
	return func(g *Group) { g.Wet = clamp(wet, 0.02, 1) }
}

// Weak makes a cell with capacity percent of its own capacity left.
func Weak(capacity float64) func(*Group) {
	return func(g *Group) { g.Capacity = clamp(capacity, 1, 150) / 100 }
}

// Leaking gives the battery with a lid that leaks so many milliamps at 12.6 V.
func (b Battery) Leaking(milliamps float64) Battery {
	b.LidSiemens = max(0, milliamps) / 1000 / 12.6
	return b
}
