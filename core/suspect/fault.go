package suspect

import (
	"math/bits"

	"grapnel/core/words"
)

// Fault is one thing that can be wrong, a hypothesis of the open format.
type Fault uint8

// The faults. None is a battery and a vehicle with nothing wrong.
const (
	None Fault = iota
	Discharged
	WornOut
	ShortedCell
	Open
	LowAcid
	Frozen
	DirtyContacts
	BadCable
	Undercharging
	Overcharging
	Drain
	StarterDraw
	ShortTrips
	Immobiliser
	faultCount
)

// faultWords are the faults by their codes: as a technician says them, and as the
// end of "splits … from …".
var faultWords = words.ListOf(
	words.Term{Code: "none", Word: "Nothing wrong", Said: "nothing wrong"},
	words.Term{Code: "discharged", Word: "Only flat", Said: "only flat"},
	words.Term{Code: "worn_out", Word: "Worn out", Said: "worn out"},
	words.Term{Code: "shorted_cell", Word: "Shorted cell", Said: "a shorted cell"},
	words.Term{Code: "open_or_high_resistance", Word: "Bad joint inside", Said: "a bad joint inside"},
	words.Term{Code: "low_acid", Word: "Low acid", Said: "low acid"},
	words.Term{Code: "frozen", Word: "Frozen", Said: "frozen"},
	words.Term{Code: "dirty_contacts", Word: "Bad contacts", Said: "bad contacts"},
	words.Term{Code: "bad_cable", Word: "Bad cable", Said: "a bad cable"},
	words.Term{Code: "undercharging", Word: "Undercharged", Said: "undercharging"},
	words.Term{Code: "overcharging", Word: "Overcharged", Said: "overcharging"},
	words.Term{Code: "drain", Word: "A drain", Said: "a drain"},
	words.Term{Code: "starter_draw", Word: "Starter", Said: "the starter"},
	words.Term{Code: "short_trip_habit", Word: "Short trips", Said: "short trips"},
	words.Term{Code: "immobiliser_or_fuel", Word: "Immobiliser or fuel", Said: "immobiliser or fuel"},
)

// Faults gives the vocabulary of faults.
func Faults() words.List { return faultWords }

// Code is the fault's word in the open format.
func (f Fault) Code() string { return faultWords.Codes()[f] }

// FaultOf gives the fault of a code; false where there is none.
func FaultOf(code string) (Fault, bool) {
	for i, c := range faultWords.Codes() {
		if c == code {
			return Fault(i), true
		}
	}
	return None, false
}

// Set is the faults that are there together: none, one or two.
type Set uint16

// SetOf gives the set of some faults.
func SetOf(fs ...Fault) Set {
	var s Set
	for _, f := range fs {
		if f != None {
			s |= 1 << f
		}
	}
	return s
}

// Has reports whether a fault is there; None is where nothing is.
func (s Set) Has(f Fault) bool {
	if f == None {
		return s == 0
	}
	return s&(1<<f) != 0
}

// Any reports whether one of some faults is there.
func (s Set) Any(of Set) bool { return s&of != 0 }

// Faults gives the faults of the set; None alone where there are none.
func (s Set) Faults() []Fault {
	out := make([]Fault, 0, 2)
	s.each(func(f Fault) { out = append(out, f) })
	return out
}

// each calls for each fault of the set, None where there are none.
func (s Set) each(do func(Fault)) {
	if s == 0 {
		do(None)
		return
	}
	for x := s; x != 0; x &= x - 1 {
		do(Fault(bits.TrailingZeros16(uint16(x))))
	}
}

// inside are the faults of the battery itself, of which it has one at most.
var inside = SetOf(WornOut, ShortedCell, Open, LowAcid, Frozen)

// Inside reports whether a fault is of the battery itself.
func (f Fault) Inside() bool { return f != None && inside.Has(f) }

// flattens are causes of a low charge: with one of them, that it is flat is no fault
// of its own.
var flattens = SetOf(Undercharging, Drain, ShortTrips, Frozen, ShortedCell)

// together reports whether two faults make sense as a pair.
func together(a, b Fault) bool {
	pair := SetOf(a, b)
	switch {
	case a == None || b == None || a == b:
		return false
	case inside.Has(a) && inside.Has(b):
		return false
	case pair.Has(Discharged) && pair.Any(flattens):
		return false
	case pair.Has(Undercharging) && pair.Any(SetOf(Overcharging, ShortTrips)):
		return false
	case pair.Has(Frozen) && pair.Has(Overcharging):
		return false
	}
	return true
}
