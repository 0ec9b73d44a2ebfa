package clinic

import "math"

// Score is what came of a clinic, in percent unless said otherwise.
type Score struct {
	Vehicles           int
	Right, Suspect     float64
	Remedy             float64 // first suspects that ask for the right thing to do
	Dangerous, Stuck   int     // vehicles
	Condemned, Passed  float64 // of the sound, of the bad
	SoundOnes, BadOnes int
	ToVerdict, ToGo    float64 // minutes of work
	Waiting            float64 // hours
	Bins               [10]Bin // of how likely a fault was called, by tenths
	Eighty             Bin     // called 75 to 85 %
	ByFault            map[string]*FaultScore
	Ways               []WayScore
}

// Bin is how often something was called so likely, and how often it was so.
type Bin struct{ Called, True int }

// Percent is how often it was so.
func (b Bin) Percent() float64 { return part(b.True, b.Called) }

// FaultScore is what became of the vehicles with one fault, or two.
type FaultScore struct {
	Vehicles, Right, Suspect int
	First                    map[string]int // first suspects
}

// WayScore is what another way of working made of the same vehicles.
type WayScore struct {
	Name                     string
	Right, Condemned, Passed float64
	Work, Waiting            float64 // minutes, hours
}

func part(a, of int) float64 { return 100 * float64(a) / math.Max(1, float64(of)) }

// Of scores a clinic.
func Of(results []Result) Score {
	s := Score{Vehicles: len(results), ByFault: map[string]*FaultScore{}, Ways: make([]WayScore, len(Ways))}
	right, suspect, remedy, condemned, passed := 0, 0, 0, 0, 0
	type tally struct{ right, condemned, passed int }
	ways := make([]tally, len(Ways))
	n := math.Max(1, float64(len(results)))
	for _, r := range results {
		f := s.fault(r)
		f.Vehicles++
		if r.RightVerdict() {
			right++
			f.Right++
		}
		if r.RightSuspect() {
			suspect++
			f.Suspect++
		}
		if r.RightRemedy() {
			remedy++
		}
		if all := r.Outcome.Last.Suspects; len(all) > 0 {
			f.First[all[0].Fault]++
		}
		if len(r.Outcome.Danger) > 0 {
			s.Dangerous++
		}
		if r.Outcome.Stuck {
			s.Stuck++
		}
		if r.Sound {
			s.SoundOnes++
			if condemns(r.Outcome.Verdict) {
				condemned++
			}
		}
		if r.Bad {
			s.BadOnes++
			if passes(r.Outcome.Verdict) {
				passed++
			}
		}
		s.ToVerdict += r.Outcome.Verdicted / n
		s.ToGo += r.Outcome.Work / n
		s.Waiting += r.Outcome.Wait / 60 / n
		for i, o := range r.Others {
			w, t := &s.Ways[i], &ways[i]
			w.Work, w.Waiting = w.Work+o.Work/n, w.Waiting+o.Wait/60/n
			for _, ok := range r.Right {
				if ok == o.Verdict {
					t.right++
					break
				}
			}
			if r.Sound && condemns(o.Verdict) {
				t.condemned++
			}
			if r.Bad && passes(o.Verdict) {
				t.passed++
			}
		}
		s.calibrate(r)
	}
	s.Right, s.Suspect, s.Remedy = part(right, s.Vehicles), part(suspect, s.Vehicles), part(remedy, s.Vehicles)
	s.Condemned, s.Passed = part(condemned, s.SoundOnes), part(passed, s.BadOnes)
	for i := range s.Ways {
		w, t := &s.Ways[i], ways[i]
		w.Name, w.Right = Ways[i].Name, part(t.right, s.Vehicles)
		w.Condemned, w.Passed = part(t.condemned, s.SoundOnes), part(t.passed, s.BadOnes)
	}
	return s
}

func (s *Score) fault(r Result) *FaultScore {
	key := faultsOf(r.Vehicle)
	if s.ByFault[key] == nil {
		s.ByFault[key] = &FaultScore{First: map[string]int{}}
	}
	return s.ByFault[key]
}

// faultsOf names the faults of a vehicle.
func faultsOf(v *Vehicle) string {
	switch len(v.Faults) {
	case 0:
		return "none"
	case 1:
		return v.Faults[0]
	}
	return v.Faults[0] + " + " + v.Faults[1]
}

// calibrate counts what was called how likely at the end of the work, and was so.
func (s *Score) calibrate(r Result) {
	for _, x := range r.Outcome.Last.Suspects {
		is := 0
		if r.Vehicle.Has(x.Fault) {
			is = 1
		}
		bin := &s.Bins[min(int(x.Present*10), 9)]
		bin.Called++
		bin.True += is
		if x.Present >= 0.75 && x.Present <= 0.85 {
			s.Eighty.Called++
			s.Eighty.True += is
		}
	}
}

// Share is the minutes to a verdict against those of every station in its order, percent.
func (s Score) Share() float64 { return 100 * s.ToVerdict / math.Max(1, s.Ways[len(s.Ways)-1].Work) }
