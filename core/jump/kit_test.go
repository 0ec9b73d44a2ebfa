package jump

import (
	"testing"
)

// Everything a call picks from makes a plan: every state of every source at hand on a
// vehicle of its own volts, and nothing at hand goes across system volts.
func TestKitMakesPlans(t *testing.T) {
	k := KitOf()
	seen := map[string]bool{}
	for _, ready := range k.Sources {
		if seen[ready.Code] || ready.Word == "" || ready.Volts == 0 {
			t.Errorf("%+v", ready)
		}
		seen[ready.Code] = true
		for _, state := range k.States {
			r := decoded(t)
			r.Flat.SOCPct, r.Flat.SpreadPct, r.Flat.Vehicle.SystemVolts = state.SOCPct, state.SpreadPct, ready.Volts
			s := &r.Source
			s.Kind, s.PeakAmps, s.BoostAmps, s.Battery, s.Class, s.SystemVolts = ready.Kind, ready.PeakAmps, ready.BoostAmps, ready.Battery, ready.Class, ready.Volts
			s.Arrangement = ""
			if ready.Pair {
				s.Arrangement = map[bool]string{true: "series", false: "parallel"}[ready.Volts == 24]
			}
			if ready.Volts == 24 {
				r.Flat.Vehicle.Arrangement = "series"
			}
			r.complete()
			if p := planned(t, r); !p.Allowed || p.Reached.Best < 0 {
				t.Errorf("%s, %s: %+v", ready.Word, state.Word, p.Refusals)
			}
			for _, other := range []float64{6, 12, 24} {
				r.Flat.Vehicle.SystemVolts = other
				if other != ready.Volts && !refused(planned(t, r), "system_volts") {
					t.Errorf("%s on %g V", ready.Word, other)
				}
			}
		}
	}
	for _, code := range []string{"six", "truck", "pack", "boost"} {
		if !seen[code] {
			t.Errorf("no %s", code)
		}
	}
	k.States[0].SOCPct, k.Sources[0].Word, k.Leads[0] = 99, "x", 1
	if again := KitOf(); again.States[0].SOCPct == 99 || again.Sources[0].Word == "x" || again.Leads[0] == 1 {
		t.Error("the kit can be changed")
	}
}

// What the flat vehicle is taken to be, from both sides of each word.
func TestAbout(t *testing.T) {
	for soc, want := range map[string]string{
		"11": "2.2 l diesel, quite flat at 11 %, 0 °C", "12": "2.2 l diesel, nearly flat at 12 %, 0 °C", "29": "2.2 l diesel, nearly flat at 29 %, 0 °C",
		"30": "2.2 l diesel, half charged at 30 %, 0 °C", "59": "2.2 l diesel, half charged at 59 %, 0 °C", "60": "2.2 l diesel, well charged at 60 %, 0 °C",
	} {
		r := decoded(t, "flat.soc_pct", soc)
		if got := r.about().String(); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
	for _, c := range []struct {
		want  string
		edits []string
	}{
		{"quite flat at 6 %, 0 °C", []string{"flat.vehicle.fuel", `"none"`, "flat.engine", "{}", "flat.soc_pct", "6"}},
		{"diesel, nearly flat at 20 %, 0 °C", []string{"flat.engine", "{}"}},
	} {
		r := decoded(t, c.edits...)
		if got := r.about().String(); got != c.want {
			t.Errorf("%q, want %q", got, c.want)
		}
	}
}
