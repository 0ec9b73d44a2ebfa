package jump

import (
	"slices"
	"testing"

	"grapnel/core/words"
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
			s.Arrangement = ready.Pairing
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
	k.States[0].SOCPct, k.Sources[0].Word, k.Dials[0].Values[0] = 99, "x", 1
	if again := KitOf(); again.States[0].SOCPct == 99 || again.Sources[0].Word == "x" || again.Dials[0].Values[0] == 1 {
		t.Error("the kit can be changed")
	}
}

// A step goes to the next value of its list from one of the list and from one between two,
// and nowhere from its ends.
func TestSteps(t *testing.T) {
	for _, c := range []struct{ at, less, more float64 }{
		{5, 4, 6}, {5.5, 5, 6}, {0.6, 0, 1}, {0.3, 0, 0.6}, {8, 6, 0}, {9, 8, 0},
	} {
		less, down := metreSteps.less(c.at)
		more, up := metreSteps.more(c.at)
		if less != c.less || more != c.more || down != (c.less > 0) || up != (c.more > 0) {
			t.Errorf("at %g: %g and %g, want %g and %g", c.at, less, more, c.less, c.more)
		}
	}
	for _, s := range KitOf().Dials {
		if !slices.IsSorted(s.Values) || s.Name == "" || s.Unit == "" {
			t.Errorf("%+v", s)
		}
	}
}

// What a plan says of a step is of the very value that a press goes to.
func TestTurnsAreSteps(t *testing.T) {
	for _, c := range []struct {
		code, at string
		want     float64 // 0 for none
	}{
		{"mm2", "6", 10}, {"mm2", "50", 70}, {"mm2", "70", 0},
		{"metres", "5", 4}, {"metres", "1", 0.6}, {"metres", "0.6", 0},
		{"rpm", "750", 1500}, {"rpm", "2000", 2500}, {"rpm", "2500", 2000},
	} {
		edits := []string{"leads." + c.code, c.at}
		if c.code == "rpm" {
			edits = []string{"source.running", "true", "source.rpm", c.at}
		}
		got := 0.0
		for _, turn := range planned(t, decoded(t, edits...)).Turns {
			if turn.Code == c.code {
				got = turn.Value
			}
		}
		if got != c.want {
			t.Errorf("%s from %s: to %g, want %g", c.code, c.at, got, c.want)
		}
	}
}

// Until something is said, a call is what a request is that leaves it out, and the usual
// ones can be picked.
func TestKitUsual(t *testing.T) {
	k := KitOf()
	r := decoded(t, "leads", "{}")
	if u := k.Usual; u.SOCPct != r.Source.SOCPct || u.RPM != r.Source.RPM || u.ClampMilliohms != *r.Leads.ClampMilliohms || u.DriveMinutes != r.DriveMinutes {
		t.Errorf("%+v, a request takes %+v", u, r)
	}
	if !slices.Contains(k.Temps, k.Usual.BatteryC) || !slices.Contains(k.Drives, k.Usual.DriveMinutes) ||
		k.Clamps[0].Milliohms != k.Usual.ClampMilliohms || k.Charges[0].SOCPct != k.Usual.SOCPct {
		t.Errorf("%+v: not to be picked", k.Usual)
	}
	if !slices.ContainsFunc(k.Hazards, func(h words.Term) bool { return h.Code == "hot" }) ||
		slices.ContainsFunc(k.Hazards, func(h words.Term) bool { return h.Code == "may_be_frozen" }) {
		t.Error("what is seen is picked, what is worked out is not")
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
