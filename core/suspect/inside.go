package suspect

import (
	"time"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/reading"
)

// health is one way the battery can be inside.
type health struct {
	battery battery.Battery
	pct     float64 // of its label's cranking, as far as wear goes
	dead    int
	lowCell float64 // charge by which its worst cell is behind after standing, percent
	loose   float64 // part of what it differs from a sound one by that nobody can foretell
}

// The kinds of health, by their places in the list.
const (
	wears  = 16 // degrees of wear, from better than new to nothing left
	deads  = 2
	leakys = 2
	straps = 3
	dries  = 2
	ways   = wears + deads + leakys + straps + dries
)

var wearPct = [wears]float64{112, 104, 97, 91, 85, 79, 73, 67, 61, 55, 48, 41, 33, 25, 16, 8}

const (
	firstDead  = wears
	firstLeaky = firstDead + deads
	firstStrap = firstLeaky + leakys
	firstDry   = firstStrap + straps
)

// healths gives all ways a battery of this label can be.
func healths(made battery.Battery) [ways]health {
	var out [ways]health
	for i, pct := range wearPct {
		out[i] = health{battery: made.WornTo(pct), pct: pct}
	}
	usual := made.WornTo(88)
	for i, pct := range [deads]float64{88, 55} {
		out[firstDead+i] = health{battery: made.WornTo(pct), pct: pct, dead: 1, loose: 0.15}
	}
	for i, low := range [leakys]float64{35, 75} {
		out[firstLeaky+i] = health{battery: usual, pct: 88, lowCell: low, loose: 0.15}
	}
	for i, volts := range [straps]float64{1.5, 4, 9} {
		b := usual
		b.StrapOhms = volts * float64(b.Cells()) / 6 / (made.CCA / 2)
		out[firstStrap+i] = health{battery: b, pct: 88, loose: 0.3}
	}
	for i, wet := range [dries]float64{0.75, 0.4} {
		b := usual
		for g := range b.Kinds {
			b.Groups[g].Wet = wet
		}
		out[firstDry+i] = health{battery: b, pct: 88 * wet, loose: 0.15}
	}
	return out
}

// healthOf gives how likely each way is with a set of faults, in a battery of so many
// years.
func healthOf(s Set, years float64) [ways]float64 {
	var out [ways]float64
	switch {
	case s.Has(WornOut):
		for i, pct := range wearPct {
			if pct < soundPct {
				out[i] = bell((pct - 42) / 16)
			}
		}
	case s.Has(ShortedCell):
		out[firstDead], out[firstDead+1], out[firstLeaky], out[firstLeaky+1] = 0.35, 0.15, 0.25, 0.25
	case s.Has(Open):
		out[firstStrap], out[firstStrap+1], out[firstStrap+2] = 0.3, 0.4, 0.3
	case s.Has(LowAcid):
		out[firstDry], out[firstDry+1] = 0.6, 0.4
	default:
		mean := clamp(100-3.2*years, 78, 100)
		for i, pct := range wearPct {
			if pct > soundPct {
				out[i] = bell((pct - mean) / 10)
			}
		}
	}
	sum := 0.0
	for _, p := range out {
		sum += p
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

// soundPct parts what is worn out from what is not, percent of the label. The
// conductance school has 60; a battery at 63 is neither. Common practice, no source.
const soundPct = 63

// charges are the degrees of charge the battery is thought of at, percent.
const charges = 21

func chargeAt(i int) float64 { return 5 * float64(i) }

// Distributions of charge: as it comes in with each fault, and after what was done.
const (
	afterFull = int(faultCount) + iota
	afterFullWorn
	afterFullFinished
	afterPart
	afterStanding
	chargeKinds
)

// charged are mean and spread of each. Common practice, no source.
var charged = [chargeKinds][2]float64{
	None: {85, 12}, Discharged: {22, 20}, WornOut: {70, 24}, ShortedCell: {68, 26}, Open: {80, 16}, LowAcid: {72, 22}, Frozen: {15, 15},
	DirtyContacts: {76, 20}, BadCable: {80, 16}, Undercharging: {36, 26}, Overcharging: {92, 9}, Drain: {34, 26}, StarterDraw: {72, 19},
	ShortTrips: {52, 19}, Immobiliser: {70, 22},
	afterFull: {97, 5}, afterFullWorn: {91, 12}, afterFullFinished: {80, 20}, afterPart: {68, 25}, afterStanding: {62, 28},
}

var chargedLike = func() (out [chargeKinds][charges]float64) {
	for k, g := range charged {
		sum := 0.0
		for i := range out[k] {
			out[k][i] = bell((chargeAt(i)-g[0])/g[1]) + 0.01
			sum += out[k][i]
		}
		for i := range out[k] {
			out[k][i] /= sum
		}
	}
	return out
}()

// comesIn is the distribution of charge with a set of faults: of the one that leaves
// least.
func comesIn(s Set) int {
	least := None
	s.each(func(f Fault) {
		if least == None || charged[f][0] < charged[least][0] {
			least = f
		}
	})
	return int(least)
}

// stretch is a time within which the battery's charge stays what it is: from coming
// in, or from a charge, a run or days of standing, to the next.
type stretch struct {
	begins string     // "", or how the charge that begins it ended, "ran", "stood"
	tooFew bool       // it ended full before it can have filled it
	since  *time.Time // when it began, where that is known
	hours  float64    // it has stood since, as far as a rest voltage says
	tables []table

	products []*product
}

// rested is how long it had stood at a rest voltage, minutes; negative where nobody
// knows.
func (st *stretch) rested(r reading.Reading) float64 {
	if minutes, ok := r.Number("minutes_since_charge"); ok {
		return minutes
	}
	if st.since != nil && r.At != nil {
		return r.At.Sub(*st.since).Minutes()
	}
	return -1
}

// kind is the distribution of charge in a stretch, with a way to be inside and a set of
// faults.
func (st *stretch) kind(h int, hp *health, s Set) int {
	switch st.begins {
	case bench.EndedFull:
		switch {
		case st.tooFew:
			return afterPart
		case s.Has(Drain) && st.hours > 24:
			return afterStanding
		case h < wears && hp.pct < 30:
			return afterFullFinished
		case h < wears && hp.pct < soundPct:
			return afterFullWorn
		}
		return afterFull
	case bench.EndedStopped, bench.EndedHot:
		return afterPart
	}
	return comesIn(s)
}

// Contacts between the posts and what is clamped on them, ohms for a battery of 500
// CCA: clean, and degrees of bad.
const contacts = 6

var contactOhms = [contacts]float64{0.00015, 0.0008, 0.002, 0.005, 0.012, 0.03}

func contactsOf(s Set) [contacts]float64 {
	if s.Has(DirtyContacts) {
		return [contacts]float64{0.1, 0.2, 0.25, 0.2, 0.15, 0.1}
	}
	return [contacts]float64{1, 0, 0, 0, 0, 0}
}
