package clinic

import (
	"math/rand/v2"
	"runtime"
	"slices"
	"sync"
)

// Result is one vehicle and what became of it.
type Result struct {
	Seed    uint64
	Vehicle *Vehicle
	Outcome Outcome
	Right   []string // verdicts that would have been right for it as it came in
	Sound   bool     // nobody would replace it
	Bad     bool     // nobody would give it back
	Others  []Other  // by the other ways of working, as they stand in Ways
}

// Other is what another way of working made of the same vehicle.
type Other struct {
	Verdict    string
	Work, Wait float64 // minutes
}

// Run draws and works n vehicles; the same seed gives the same clinic.
func Run(n int, seed uint64) []Result {
	out := make([]Result, n)
	var wg sync.WaitGroup
	next := make(chan int)
	for range runtime.GOMAXPROCS(0) {
		wg.Go(func() {
			for i := range next {
				out[i] = One(seed<<32 | uint64(i))
			}
		})
	}
	for i := range n {
		next <- i
	}
	close(next)
	wg.Wait()
	return out
}

// One draws and works one vehicle.
func One(seed uint64) Result {
	rng := rand.New(rand.NewPCG(seed, 20261124))
	v := Draw(rng)
	r := Result{Seed: seed, Vehicle: v, Right: v.Right(), Sound: v.Sound(), Bad: v.Bad()}
	r.Outcome = Follow(v.again(), rng)
	for _, w := range Ways {
		r.Others = append(r.Others, Work(w, v.again(), rng))
	}
	return r
}

// again is the vehicle as it came in.
func (v *Vehicle) again() *Vehicle {
	out := *v
	out.seen = slices.Clone(v.seen)
	return &out
}

// RightVerdict reports whether the work came to an end that is right for it.
func (r Result) RightVerdict() bool {
	return slices.Contains(r.Right, r.Outcome.Verdict) && !r.Outcome.Stuck
}

// RightSuspect reports whether the first suspect is one of its faults, or none where it
// has none.
func (r Result) RightSuspect() bool {
	suspects := r.Outcome.Last.Suspects
	return len(suspects) > 0 && r.Vehicle.Has(suspects[0].Fault)
}

// RightRemedy reports whether the first suspect asks for what one of the faults does:
// a bad joint inside and worn plates are both replaced, a starter that gets nothing is
// looked into from the key on, whichever end it is, and a path is stepped along.
func (r Result) RightRemedy() bool {
	suspects := r.Outcome.Last.Suspects
	if len(suspects) == 0 || r.RightSuspect() {
		return len(suspects) > 0
	}
	for _, alike := range [][]string{{"worn_out", "open_or_high_resistance", "shorted_cell", "frozen"}, {"starter_draw", "immobiliser_or_fuel"},
		{"dirty_contacts", "bad_cable"}} {
		if slices.Contains(alike, suspects[0].Fault) && slices.ContainsFunc(alike, r.Vehicle.has) {
			return true
		}
	}
	return false
}

// Has reports whether a vehicle has a fault; "none" is where it has none.
func (v *Vehicle) Has(fault string) bool {
	return v.has(fault) || fault == "none" && len(v.Faults) == 0
}

// passes and condemns are what a verdict comes to.
func passes(verdict string) bool {
	return slices.Contains([]string{"good", "good_after_charge", "look_elsewhere"}, verdict)
}

func condemns(verdict string) bool { return verdict == "replace" || verdict == "stop" }
