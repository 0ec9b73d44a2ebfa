package suspect

import (
	"encoding/json"
	"math"
	"slices"
	"testing"

	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/internal/effort"
)

// As many readings as a case may have, one against the other, and a charge between them
// or none: every figure stays one, all add up, and what is told is told of the latest.
func TestHundredsOfReadings(t *testing.T) {
	kinds := map[string]func(i int) reading.Reading{
		"load":     func(i int) reading.Reading { return load(6 + 5*float64(i%2)) },
		"rest":     func(i int) reading.Reading { return rest(11 + 1.9*float64(i%2)) },
		"crank":    func(i int) reading.Reading { return crank(6+5*float64(i%2), 100+400*float64(i%2), "normal") },
		"drain":    func(i int) reading.Reading { return drain(10 + 2000*float64(i%2)) },
		"drop":     func(i int) reading.Reading { return drop("live", 0.02+3*float64(i%2)) },
		"charging": func(i int) reading.Reading { return charging(12.6 + 3.4*float64(i%2)) },
		"look":     func(i int) reading.Reading { return looked([]string{"clean", "film_live"}[i%2]) },
		"charged": func(i int) reading.Reading {
			if i%2 == 0 {
				return full()
			}
			return load(6 + 5*float64(i/2%2))
		},
		"all": func(i int) reading.Reading {
			return []reading.Reading{rest(12.7), load(5), charging(16), drain(3000), looked("film_live"), full(), load(11), drop("live", 4)}[i%8]
		},
		"acid": func(i int) reading.Reading {
			return reading.Of(
				station.Hydrometer,
				reading.Fields{"cells_sg": []float64{1.26, 1.13 + 0.1*float64(i%2), 1.26, 1.26, 1.26, 1.26}},
			)
		},
	}
	for name, of := range kinds {
		n := effort.Of(160, 500, 500)
		t.Run(name, func(t *testing.T) {
			var rs []reading.Reading
			for i := range n {
				rs = append(rs, of(i))
			}
			op := opinionOf(told([]string{"slow_crank"}, rs...))
			sum := 0.0
			for _, s := range op.Suspects {
				sum += s.Probability
				for _, p := range []float64{s.Probability, s.Present} {
					if !(p >= 0 && p <= 1+1e-9) {
						t.Errorf("%s: %g", s.Fault, p)
					}
				}
				for _, r := range s.Reasons {
					if r.Reading >= 0 && r.Reading < n-2*mostWeighed || math.IsNaN(r.Weight) {
						t.Errorf("%s: reading %d weighs %g", s.Fault, r.Reading, r.Weight)
					}
				}
			}
			if len(op.Suspects) == 0 || math.Abs(sum-1) > 1e-9 {
				t.Errorf("%d suspects, together %g", len(op.Suspects), sum)
			}
			for _, test := range op.Tests {
				if math.IsNaN(test.Bits) || test.Bits < 0 {
					t.Errorf("%s tells %g bits", test.Code, test.Bits)
				}
			}
			if _, err := json.Marshal(op); err != nil {
				t.Error(err)
			}
		})
	}
}

// Readings beyond those kept apart count as much as those that are.
func TestCountedTogether(t *testing.T) {
	more := func(n int) float64 {
		rs := []reading.Reading{looked(), rest(12.62)}
		for range n {
			rs = append(
				rs,
				reading.Of(
					station.LoadTest,
					reading.Fields{"method": station.HalfCCA, "amps": 325, "seconds": 15, "volts_end": 9.75, "battery_c": 20},
				),
			)
		}
		m := modelOf(told([]string{"slow_crank"}, rs...))
		bel := m.weigh(allReadings)
		return logOdds(m.present(&bel, WornOut))
	}
	// Each load adds the same again, near enough, before and beyond: the first below,
	// the last above what is kept apart.
	st := modelOf(told([]string{"slow_crank"}, rest(12.62), load(9.75))).stretches[0]
	apart := stretch{tables: slices.Repeat(st.tables[1:], mostApart)}
	folded := stretch{}
	for range mostApart {
		folded.add(st.tables[1])
	}
	folded.add(st.tables[0])
	apart.tables = append(apart.tables, st.tables[0])
	a, b := apart.product(allReadings), folded.product(allReadings)
	if len(folded.tables) != mostApart || folded.tables[0].reading != nobodys {
		t.Fatalf("%d tables", len(folded.tables))
	}
	for p := range a.like {
		for h := range a.like[p] {
			for s, v := range a.like[p][h] {
				if by := b.like[p][h][s]; math.Abs(v-by) > 1e-9*max(v, 1e-30) {
					t.Fatalf("%d %d %d: %g apart, %g together", p, h, s, v, by)
				}
			}
		}
	}
	if few, many := more(2), more(mostApart+5); few >= many {
		t.Errorf("worn out by %.2f with 2 loads, %.2f with many", few, many)
	}
}
