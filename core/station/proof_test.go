package station

import (
	"testing"

	"grapnel/core/bench"
	"grapnel/core/reading"
	. "grapnel/core/reading/readingtest"
)

// What was read before the cleaning stands beside what was read after it, and nothing read
// before counts as after.
func TestProof(t *testing.T) {
	lid := func(v float64) reading.Reading { return reading.Of(LidLeakage, reading.Fields{"volts": v}) }
	drop := func(v float64) reading.Reading {
		return reading.Of(CableDrop, reading.Fields{"path": "live", "volts": v, "amps": 140.0})
	}
	rest := func(v float64) reading.Reading {
		return reading.Of(RestVoltage, reading.Fields{"volts": v, "surface_charge": "rested", "minutes_since_charge": 600.0})
	}
	cleaned := reading.Of(Cleaned, reading.Fields{"what": []string{"posts", "lid"}})
	find := func(all []bench.Gauge, quantity string) *bench.Gauge {
		for i := range all {
			if all[i].Quantity == quantity {
				return &all[i]
			}
		}
		return nil
	}
	for _, c := range []struct {
		name     string
		readings []reading.Reading
		quantity string
		was, now float64 // −1 for none
		level    bench.Level
		label    string
	}{
		{"before", []reading.Reading{lid(0.8)}, "lid_volts", -1, 0.8, bench.Act, "0.80 V from post to lid"},
		{"cleaned, not read", []reading.Reading{lid(0.8), cleaned}, "lid_volts", 0.8, -1, bench.Note, "0.80 V before"},
		{"better", []reading.Reading{lid(0.8), cleaned, lid(0.05)}, "lid_volts", 0.8, 0.05, bench.OK, "0.80 before, 0.05 V now"},
		{"still bad", []reading.Reading{lid(0.8), cleaned, lid(0.5)}, "lid_volts", 0.8, 0.5, bench.Act,
			"0.80 before, 0.50 V now"},
		{"cleaned twice", []reading.Reading{lid(0.8), cleaned, lid(0.5), cleaned, lid(0.02)}, "lid_volts", 0.8, 0.02,
			bench.OK, "0.80 before, 0.02 V now"},
		{"cleaned twice, not read", []reading.Reading{lid(0.8), cleaned, lid(0.5), cleaned}, "lid_volts", 0.8, -1,
			bench.Note, "0.80 V before"},
		{"only after", []reading.Reading{cleaned, lid(0.05)}, "lid_volts", -1, 0.05, bench.OK, "0.05 V from post to lid"},
		{"drop", []reading.Reading{drop(1.4), cleaned, drop(0.2)}, "drop_live", 1.4, 0.2, bench.OK, "1.40 before, 0.20 V now"},
		{"rest", []reading.Reading{rest(12.31), cleaned, rest(12.58)}, "rest_volts", 12.31, 12.58, bench.OK,
			"12.31 before, 12.58 V now"},
	} {
		got := find(Proof(Car(c.readings...), Labels), c.quantity)
		if got == nil {
			t.Errorf("%s: no %s", c.name, c.quantity)
			continue
		}
		if (got.Was != nil) != (c.was >= 0) || got.Was != nil && got.Was.Best != c.was {
			t.Errorf("%s: was %+v, want %g", c.name, got.Was, c.was)
		}
		if (got.Band != nil) != (c.now >= 0) || got.Band != nil && got.Band.Best != c.now {
			t.Errorf("%s: now %+v, want %g", c.name, got.Band, c.now)
		}
		if got.Level != c.level || got.Label.String() != c.label || got.Title == "" {
			t.Errorf("%s: %s %q %q, want %s %q", c.name, got.Level, got.Label, got.Title, c.level, c.label)
		}
	}
	if got := Proof(Car(drop(1.4), cleaned, drop(0.2)), Labels); got[0].Max < 1.4 {
		t.Errorf("a stick to %g V has no room for what it was", got[0].Max)
	}
	if got := Proof(Car(rest(12.5), drop(0.3), lid(0.2)), Labels); len(got) != 3 || got[0].Quantity != "lid_volts" {
		t.Errorf("%d gauges: %+v", len(got), got)
	}
	if got := Proof(Car(), Labels); got == nil || len(got) > 0 {
		t.Errorf("nothing read: %+v", got)
	}
}
