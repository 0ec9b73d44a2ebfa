package battery

import (
	"math"
	"math/rand/v2"
	"testing"

	"grapnel/core/rating"
	"grapnel/internal/effort"
	"grapnel/internal/fatal"
)

// The closed solution of a steady load is the run in steps: within 0.1 V (0.25 V where it is about to collapse) over
// cranks of all labels and ages from 40 % charge on, at −30 to 40 °C, and within
// 10 mV in 24 of 25. Where the run collapses, so does it.
func TestSteadyVolts(t *testing.T) {
	rng := rand.New(rand.NewPCG(9, 1))
	var off []float64
	for _, c := range Chemistries() {
		for _, l := range []rating.Label{{CCA: 540, Ah20h: 60}, {CCA: 180, Ah20h: 10}, {CCA: 850, Ah20h: 95, RCMin: 170}} {
			b, _, err := FromLabel(c, 6, l)
			if err != nil {
				t.Fatal(err)
			}
			for range effort.Of(100, 400, 400) {
				soc, temp := 40+60*rng.Float64(), -30+70*rng.Float64()
				amps, seconds := l.CCA*(0.05+0.7*rng.Float64()), 0.5+29*rng.Float64()
				aged := b.Aged(40+60*rng.Float64(), 0.6+4*rng.Float64())
				run, fast := fatal.Of(aged.EndVolts(soc, temp, amps, seconds)), aged.steadyVolts(soc, temp, amps, seconds)
				if run < 8 {
					if fast > 8.2 {
						t.Errorf("%s %+v at %.0f %%, %.0f °C, %.0f A for %.0f s: run %.2f, steady %.2f", c, l, soc, temp, amps, seconds, run, fast)
					}
					continue
				}
				d := math.Abs(run - fast)
				off = append(off, d)
				if d > 0.1 && run > 8.5 || d > 0.25 {
					t.Errorf("%s %+v at %.0f %%, %.0f °C, %.0f A for %.0f s: run %.3f, steady %.3f", c, l, soc, temp, amps, seconds, run, fast)
				}
			}
		}
	}
	far := 0
	for _, d := range off {
		if d > 0.01 {
			far++
		}
	}
	t.Logf("%d compared, %d off by more than 10 mV", len(off), far)
	if far > len(off)/25 {
		t.Errorf("%d of %d are off by more than 10 mV", far, len(off))
	}
}

func BenchmarkSteadyVolts(b *testing.B) {
	made, _, err := FromLabel(Flooded, 6, rating.Label{CCA: 540, Ah20h: 60})
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		made.steadyVolts(80, 10, 270, 15)
	}
}
