package bench

import "slices"

// takeFaults keeps what was found outside the battery until it is put right; a
// later reading of the same kind of fault takes the place of the earlier.
func (b *Bench) takeFaults(f *Fact) {
	b.Faults = slices.DeleteFunc(b.Faults, func(old Fault) bool {
		ends := slices.Contains(f.Mends, old.Code)
		b.whyMended = b.whyMended || ends && old.Why && f.Hands
		return ends
	})
	if f.Settles != "" && b.speaks(f.Reading) {
		b.settled = append(b.settled, f.Settles)
	}
	for _, fault := range f.Faults {
		fault.Reading = f.Reading
		b.Faults = append(slices.DeleteFunc(b.Faults, func(old Fault) bool { return old.Code == fault.Code }), fault)
	}
}

// Elsewhere gives the first fault outside the battery that explains a complaint;
// false when none is known.
func (b *Bench) Elsewhere() (Fault, bool) {
	for _, vague := range []bool{false, true} {
		for _, f := range b.Faults {
			if f.Explains && f.Vague == vague {
				return f, true
			}
		}
	}
	return Fault{}, false
}

// AllElsewhere gives every fault outside the battery that explains a complaint, those
// that only point the way last.
func (b *Bench) AllElsewhere() []Fault {
	var out, vague []Fault
	for _, f := range b.Faults {
		switch {
		case !f.Explains:
		case f.Vague:
			vague = append(vague, f)
		default:
			out = append(out, f)
		}
	}
	return append(out, vague...)
}

// Fault gives the fault of a code; false when none stands.
func (b *Bench) Fault(code string) (Fault, bool) {
	for _, f := range b.Faults {
		if f.Code == code {
			return f, true
		}
	}
	return Fault{}, false
}

// Chores are what must be put right in passing before it goes.
func (b *Bench) Chores() []Fault {
	var out []Fault
	for _, f := range b.Faults {
		if !f.Explains {
			out = append(out, f)
		}
	}
	return out
}

// reasons are complaints that answer why a battery went flat.
var reasons = []string{"lights_left_on", "accessories_left_on"}

// WhyKnown reports whether it is known why it went flat: the customer said so, or
// a fault was found that takes its charge, be it mended since.
func (b *Bench) WhyKnown() bool {
	return b.whyMended || slices.ContainsFunc(b.Case.Complaint, func(w string) bool { return slices.Contains(reasons, w) }) ||
		slices.ContainsFunc(b.Faults, func(f Fault) bool { return f.Why })
}

// Settled reports whether a station's question was answered: it charges or does
// not, something drains it or not, the cables carry or do not.
func (b *Bench) Settled(station string) bool { return slices.Contains(b.settled, station) }

// Measured reports whether a kind of reading was taken.
func (b *Bench) Measured(kind string) bool {
	for _, r := range b.Case.Readings {
		if r.Kind == kind {
			return true
		}
	}
	return false
}
