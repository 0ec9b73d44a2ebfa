// Package suspect has in mind what a careful senior technician has while measuring:
// which faults are still possible, how likely each, what speaks for and against, and
// which test tells most for the minutes it costs.
//
// A fault, or two together, is a hypothesis (prior.go), and says how likely each world
// is: what is inside the battery, its charge and its contacts (inside.go), and the parts
// outside it (parts.go). What a reading would show in a world is its station's to
// say (station.Expect); what is seen and said has its chances in seen.go. All readings
// are weighed together, each in the world as it was then (read.go, tables.go, outside.go,
// weigh.go):
//
//	P(fault | readings) ∝ P(fault) · Σ over worlds  P(world | fault) · Π P(reading | world)
//
// The sum is over a grid of worlds, never over random draws, so that the same case
// always gives the same answer. The next best test (next.go) is the one of which the
// most information about what to do (remedy.go) is expected, per minute of work
// (outcomes.go, worth.go).
//
// Probabilities here never condemn a battery: package assess decides by hazards, house
// rules and limits.
package suspect

import (
	"cmp"
	"slices"

	"grapnel/core/bench"
	"grapnel/core/words"
)

// Suspect is one fault as it is suspected.
type Suspect struct {
	Fault string `json:"fault"`
	// Probability is its share of all that may be: shares sum to 1, and two faults that
	// are there together share alike.
	Probability float64 `json:"probability"`
	// Present is how likely the fault is there, alone or beside another.
	Present float64      `json:"present"`
	Name    string       `json:"name"` // as a technician says it
	Word    words.Text   `json:"word"` // how likely that is, in a word
	For     []words.Text `json:"for"`
	Against []words.Text `json:"against"`
	Moves   words.Text   `json:"moves,omitzero"` // what would move it
	// Reasons are what speaks for it and against it with its weight, the complaint first.
	Reasons []Reason `json:"reasons,omitempty"`
}

// Reason is one thing that speaks for a fault, or against it.
type Reason struct {
	Text words.Text `json:"text"`
	// Weight is the logarithm (base 2) of how many times likelier it makes the fault.
	Weight  float64 `json:"weight"`
	Reading int     `json:"reading"` // its position in the case, −1 of the complaint
}

// Opinion is all that is suspected of a case, likeliest first, and the tests worth
// doing next, best first.
type Opinion struct {
	Suspects []Suspect
	Tests    []Test
	present  [faultCount]float64
}

// Present is how likely a fault is there, alone or beside another.
func (o Opinion) Present(f Fault) float64 { return o.present[f] }

// Of gives the opinion on what lies on a bench.
func Of(b *bench.Bench) Opinion {
	m := newModel(b)
	bel := m.weigh(allReadings)
	out := Opinion{Tests: m.tests(&bel)}
	for f := None; f < faultCount; f++ {
		out.present[f] = m.present(&bel, f)
	}
	out.Suspects = m.suspects(&bel, out.present, out.Tests)
	return out
}

// leastTold is how likely a fault must be to be told.
const leastTold = 0.01

// Words of likelihood, from so likely on. House judgement.
var likelihood = []struct {
	from float64
	word string
}{{0.9, "almost surely"}, {0.6, "likely"}, {0.25, "possible"}, {0.06, "less likely"}, {0, "hardly"}}

func wordOf(p float64) string {
	for _, l := range likelihood {
		if p >= l.from {
			return l.word
		}
	}
	return ""
}

func (m *model) suspects(bel *belief, present [faultCount]float64, tests []Test) []Suspect {
	var share [faultCount]float64
	for k, h := range m.hyps {
		all := h.set.Faults()
		for _, f := range all {
			share[f] += bel.post[k] / float64(len(all))
		}
	}
	var order []Fault
	told := 0.0
	for f := None; f < faultCount; f++ {
		if present[f] >= leastTold {
			order = append(order, f)
			told += share[f]
		}
	}
	slices.SortStableFunc(order, func(a, b Fault) int { return cmp.Compare(present[b], present[a]) })
	weights := m.weights(bel, order)
	out := make([]Suspect, 0, len(order))
	for i, f := range order {
		s := Suspect{
			Fault: f.Code(), Name: faultWords.Word(f.Code()), Probability: share[f] / told, Present: present[f], Word: words.Say(wordOf(present[f])),
			For: []words.Text{}, Against: []words.Text{},
		}
		if i < mostReasoned {
			s.Reasons = m.reasons(f, weights[i])
			for _, r := range s.Reasons {
				if r.Weight > 0 {
					s.For = append(s.For, r.Text)
				} else {
					s.Against = append(s.Against, r.Text)
				}
			}
			if s.Moves = moves(f, tests); m.mended.Has(f) && f != None {
				s.Moves = words.Say(saysMended)
			}
		}
		out = append(out, s)
	}
	return out
}

// mostReasoned is how many suspects are given reasons: nobody reads more.
const mostReasoned = 6
