package rating

import (
	"fmt"

	"grapnel/core/measure"
)

// LoadSeconds is how long the half-CCA load stays on: the volts are read at
// the end of it. Source: SAE J537 practice, BCI service texts, from memory.
const LoadSeconds = 15

// Load is what to set on the load tester.
type Load struct {
	Amps float64
	From string // how it was worked out, in a technician's words
	Note string // what makes it approximate; empty when it is not
}

// TestLoad gives the load for the 15 s test: half the SAE CCA, or three times
// the 20 h ampere-hours where the label has no cranking figure. Both are common
// practice printed in BCI service texts, from memory. The amps are rounded to
// 5 A, finer than any carbon pile can be set.
func TestLoad(l Label) (Load, error) {
	if sae, ok := l.ToSAE(); ok {
		load := Load{Amps: round5(sae.Amps / 2), From: fmt.Sprintf("half of %.0f CCA", sae.Amps)}
		if sae.From != "" {
			load.Note = sae.From
		}
		return load, nil
	}
	if l.Ah20h > 0 {
		return Load{Amps: round5(3 * l.Ah20h), From: fmt.Sprintf("3 × %g Ah, no cranking figure on the label", l.Ah20h),
			Note: "worked out from ampere-hours, which say little about cranking"}, nil
	}
	return Load{}, fmt.Errorf("no load can be worked out: enter the CCA, CA or Ah from the label")
}

func round5(a float64) float64 { return max(5, 5*float64(int(a/5+0.5))) }

// limits are the least volts of a 12 V battery at the end of the load, over the
// temperature of its acid. Printed in °F: 70, 60, 50, 40, 30, 20, 10, 0.
// Source: BCI load test table, from memory, ±0.05 V.
var limits = []struct{ f, volts float64 }{
	{0, 8.5}, {10, 8.7}, {20, 8.9}, {30, 9.1}, {40, 9.3}, {50, 9.4}, {60, 9.5}, {70, 9.6},
}

// LoadTestLimit gives the least volts a battery of nominalVolts may show at the
// end of the half-CCA load with its acid at tempC: 9.6 V on 12 V at 21 °C and
// warmer, falling in the cold, in proportion on 6 and 8 V. Between rows it is
// interpolated; below the coldest row, -18 °C, that row holds and a test proves
// little.
func LoadTestLimit(nominalVolts, tempC float64) float64 {
	f := measure.Fahrenheit(tempC)
	v := limits[0].volts
	if last := limits[len(limits)-1]; f >= last.f {
		v = last.volts
	} else {
		for i := 1; i < len(limits); i++ {
			a, b := limits[i-1], limits[i]
			if f >= a.f && f < b.f {
				v = a.volts + (f-a.f)*(b.volts-a.volts)/(b.f-a.f)
			}
		}
	}
	return v * nominalVolts / 12
}

// ColdestTabledC is the lowest acid temperature the published limits cover: 0 °F,
// printed as −18 °C beside it.
const ColdestTabledC = -18.0
