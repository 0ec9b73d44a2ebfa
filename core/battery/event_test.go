package battery

import (
	"errors"
	"math"
	"strings"
	"testing"

	"grapnel/core/rating"
)

// An event is where it says, not at the end of a step.
func TestEventsAreExact(t *testing.T) {
	b := car(t, AGM)
	end, err := b.Run(
		b.Rested(100, 25),
		Duty{Source: Source{Amps: -10, Volts: unlimited}, Ambient: Ambient{Start: 25}, Seconds: 1e6,
			Events: []Event{{Name: "11 V", When: func(s Sample) float64 { return s.Volts - 11 }}}},
	)
	if err != nil || math.Abs(end.Volts-11) > 1e-3 || end.Event != "11 V" {
		t.Errorf("stopped at %.4f V (%v)", end.Volts, err)
	}
	// What cannot be reached is not: at 10 °C the cold shuts a part of the pores,
	// so a small drain stops above empty instead of stepping over the end.
	cold, err := b.Run(b.Rested(30, 10), Duty{Source: Source{Amps: -0.02}, Ambient: Ambient{Start: 10},
		Seconds: 60 * 86400, Events: []Event{{When: func(s Sample) float64 { return s.SOC - 1 }}}})
	if err != nil || cold.SOC < 3 || cold.Seconds < 60*86400 {
		t.Errorf("drained to %.2f %% in %.1f days (%v)", cold.SOC, cold.Seconds/86400, err)
	}
	now, err := b.Run(b.Rested(0, 25), Duty{Source: Source{Amps: -10}, Ambient: Ambient{Start: 25},
		Seconds: 10, Events: []Event{{Name: "half", When: func(s Sample) float64 { return s.SOC - 50 }}}})
	if err != nil || now.Seconds != 0 || now.Event != "half" {
		t.Errorf("what holds at the start ended after %g s (%v)", now.Seconds, err)
	}
}

// Several at once: each is found at its own moment, in their order, those that go
// on once; which one ended the run is said. By hand: at 6 A from 20 %, a 48 Ah
// battery gains 12.5 % an hour.
func TestEventsInOrder(t *testing.T) {
	b := car(t, Flooded)
	soc := func(at float64) func(Sample) float64 { return func(x Sample) float64 { return at - x.SOC } }
	var seen []Sample
	d := Duty{Source: Source{Amps: 6, Volts: 14.4}, Ambient: Ambient{Start: 20}, Seconds: 86400,
		Events: []Event{
			{Name: "third", When: soc(33), GoOn: true},
			{Name: "first", When: soc(15), GoOn: true},
			{Name: "fourth", When: soc(33.0001), GoOn: true},
			{Name: "end", When: soc(60)},
			{Name: "never", When: soc(61)},
			{Name: "second", When: soc(32), GoOn: true},
		},
		Visit: func(x Sample) error {
			if x.Event != "" {
				seen = append(seen, x)
			}
			return nil
		}}
	end, err := b.Run(b.Rested(20, 20), d)
	must(t, err)
	var names []string
	last := -1.0
	for _, x := range seen {
		names = append(names, x.Event)
		if x.Seconds < last {
			t.Errorf("%s at %g s after one at %g s", x.Event, x.Seconds, last)
		}
		last = x.Seconds
	}
	if got := strings.Join(names, " "); got != "first second third fourth end" || end.Event != "end" || end.Seconds != last {
		t.Errorf("%q, ended by %q at %g s", got, end.Event, end.Seconds)
	}
	near(t, "hours from 32 to 33 %", (seen[2].Seconds-seen[1].Seconds)/3600, 48*0.01/6, 0.004)
	near(t, "charge at the end", end.SOC, 60, 1e-3)
	// What is only noted changes nothing.
	d.Events, d.Visit = d.Events[3:4], nil
	if plain, err := b.Run(b.Rested(20, 20), d); err != nil || math.Abs(plain.Seconds-end.Seconds) > 1e-3*end.Seconds {
		t.Errorf("ended at %g s, at %g s while others are noted (%v)", plain.Seconds, end.Seconds, err)
	}
}

// Common practice, no source: a charge is over when the current has fallen to one
// percent of the ampere-hours. A battery that refuses is under that within a
// quarter of a minute, at five percent of charge; armed by a current that has
// flowed, the same event ends the charge hours later, and nearly full.
func TestEventsArm(t *testing.T) {
	b := car(t, Flooded)
	stood := after(t, b, b.Rested(5, 20), Source{}, 60*86400).State
	tail := Event{Name: "tail", When: func(x Sample) float64 { return x.Amps - 0.48 }}
	d := Duty{Source: Source{Amps: 5, Volts: 14.5}, Ambient: Ambient{Start: 20}, Seconds: 4 * 86400, Events: []Event{tail}}
	early, err := b.Run(stood, d)
	must(t, err)
	if early.Event != "tail" || early.SOC > 8 || early.Seconds > 120 {
		t.Fatalf("%q after %g s at %.1f %%", early.Event, early.Seconds, early.SOC)
	}
	d.Events[0].Arm = func(x Sample) float64 { return math.Max(60-x.Seconds, 0.96-x.Amps) }
	end, err := b.Run(stood, d)
	must(t, err)
	if end.Event != "tail" || end.SOC < 85 || math.Abs(end.Amps-0.48) > 1e-3 {
		t.Errorf("%q after %.1f h at %.1f %%, %.3f A", end.Event, end.Seconds/3600, end.SOC, end.Amps)
	}
	// What it waits for is found too: armed where the volts cross, met at once there.
	d = Duty{Source: Source{Amps: 6, Volts: 14.4}, Ambient: Ambient{Start: 20}, Seconds: 86400, Events: []Event{{
		Name: "both", When: func(x Sample) float64 { return 30 - x.SOC }, Arm: func(x Sample) float64 { return 13.9 - x.Volts }}}}
	end, err = b.Run(b.Rested(20, 20), d)
	must(t, err)
	near(t, "volts where it armed", end.Volts, 13.9, 1e-3)
	if end.Event != "both" || end.SOC < 31 {
		t.Errorf("%q at %.1f %%", end.Event, end.SOC)
	}
}

// What comes and goes within one long step is seen at its middle. A slow cycle of
// warmth would hide in steps of days.
func TestEventsWithinAStep(t *testing.T) {
	b := car(t, AGM)
	missed := 0
	for _, at := range []float64{0.4, 0.5, 0.6} {
		d := Duty{Ambient: Ambient{Start: 20}, Seconds: 86400, Events: []Event{{Name: "dip",
			When: func(x Sample) float64 { return math.Abs(x.Seconds-at*86400) - 0.3*86400 }}}}
		end, err := b.Run(b.Rested(80, 20), d)
		must(t, err)
		if end.Event != "dip" {
			missed++
		} else if want := (at - 0.3) * 86400; math.Abs(end.Seconds-want) > 1 {
			t.Errorf("found at %g s, it is at %g s", end.Seconds, want)
		}
	}
	if missed > 0 {
		t.Errorf("%d of 3 missed", missed)
	}
}

// A visitor ends a run with its own error, wherever it likes.
func TestVisitorsCancel(t *testing.T) {
	b := car(t, Flooded)
	enough := errors.New("enough")
	for _, from := range []float64{0, 100, 7200} {
		end, err := b.Run(b.Rested(20, 20), Duty{Source: Source{Amps: 10, Volts: 14.6}, Ambient: Ambient{Start: 20}, Seconds: 86400,
			Visit: func(x Sample) error {
				if x.Seconds >= from {
					return enough
				}
				return nil
			}})
		if !errors.Is(err, enough) || end.Seconds < from || end.Seconds > from+7200 {
			t.Errorf("from %g s: %v at %g s", from, err, end.Seconds)
		}
	}
	// At an event too, before the step it lies in ends.
	end, err := b.Run(b.Rested(20, 20), Duty{Source: Source{Amps: 10, Volts: 14.6}, Ambient: Ambient{Start: 20}, Seconds: 86400,
		Events: []Event{{Name: "half", GoOn: true, When: func(x Sample) float64 { return 50 - x.SOC }}},
		Visit: func(x Sample) error {
			if x.Event != "" {
				return enough
			}
			return nil
		}})
	if !errors.Is(err, enough) || math.Abs(end.SOC-50) > 1e-3 || end.Event != "half" {
		t.Errorf("%v at %.3f %%, %q", err, end.SOC, end.Event)
	}
	many := make([]Event, MostEvents+1)
	for i := range many {
		many[i].When = func(Sample) float64 { return 1 }
	}
	if _, err := b.Run(b.Rested(20, 20), Duty{Seconds: 1, Events: many}); err == nil || !strings.Contains(err.Error(), "at most 16") {
		t.Errorf("%d events: %v", len(many), err)
	}
	if _, err := b.Run(b.Rested(20, 20), Duty{Seconds: 1, Ambient: Ambient{Start: 20}, Events: many[:MostEvents]}); err != nil {
		t.Errorf("%d events: %v", MostEvents, err)
	}
}

// A failure is an error, never a figure that could be taken for one.
func TestFailuresAreErrors(t *testing.T) {
	b := car(t, Flooded)
	for what, err := range map[string]error{
		"end volts": second(b.EndVolts(100, 300, 270, 15)), "cranking amps": second(b.CrankingAmps(100, math.NaN(), 30, 7.2)),
		"days": second(b.DaysTo(b.Rested(100, 20), 50, 30, 200, 100)), "hours": second(b.DischargeHours(5, -200, 60)),
		"capacity": second(b.Capacity(5, math.Inf(1))), "reserve": second(Battery{Ah20h: 48}.ReserveMinutes()),
		"CCA": second(Battery{}.ColdCrankingAmps()), "CA": second(Battery{}.CA()), "worn": second(Battery{CCA: 100}.Worn(50)),
		"outlook": second(b.Outlook(50, 400, 30)),
	} {
		if err == nil {
			t.Errorf("%s: no error", what)
		}
	}
	if never, err := b.DaysTo(b.Rested(100, 20), 50, 0, -30, 400); err != nil || !math.IsInf(never, 1) {
		t.Errorf("%g days to half in deep cold without a drain (%v)", never, err)
	}
}

func second[T any](_ T, err error) error { return err }

// Source: charging curves of flooded 12 V batteries at 25 °C, published widely, from
// memory, ±0.15 V: half charged 13.1 V at C/10, 12.9 at C/20 and 12.8 at C/40; at
// C/10 13.6 to 13.7 V at three quarters, and above 14.5 V at nine tenths, ending
// about 16 V, where all of it gasses.
func TestVoltsUnderCharge(t *testing.T) {
	b := fromLabel(t, Flooded, rating.Label{CCA: 600, RCMin: 100, Ah20h: 60})
	volts := func(amps, soc float64) float64 {
		end, err := b.Run(b.Rested(15, 25), Duty{Source: Source{Amps: amps, Volts: 20}, Ambient: Ambient{Start: 25}, Seconds: 80 * 3600,
			Events: []Event{{Name: "there", When: func(x Sample) float64 { return soc - x.SOC }}}})
		must(t, err)
		if end.Event == "" {
			t.Fatalf("%g A never gets it to %g %%", amps, soc)
		}
		return end.Volts
	}
	for _, c := range []struct{ amps, soc, lo, hi float64 }{
		{6, 50, 13.1 - 0.15, 13.1 + 0.15}, {3, 50, 12.9 - 0.15, 12.9 + 0.15}, {1.5, 50, 12.8 - 0.15, 12.8 + 0.15},
		{6, 75, 13.6 - 0.15, 13.7 + 0.15}, {6, 90, 14.5, 15.3}, {6, 98, 15.5, 16.5},
	} {
		if v := volts(c.amps, c.soc); v < c.lo || v > c.hi {
			t.Errorf("%g A at %g %%: %.2f V, published %.2f to %.2f", c.amps, c.soc, v, c.lo, c.hi)
		}
	}
	// More current and more charge always show more volts.
	for _, chemistry := range Chemistries() {
		b = fromLabel(t, chemistry, rating.Label{CCA: 600, RCMin: 100, Ah20h: 60})
		for _, amps := range []float64{1.5, 3, 6, 12} {
			last := 0.0
			for _, soc := range []float64{25, 40, 50, 60, 75, 85, 90, 95} {
				v := volts(amps, soc)
				if v <= last || amps < 12 && volts(2*amps, soc) <= v {
					t.Errorf("%s, %g A at %g %%: %.2f V, %.2f before, %.2f at twice the amps", chemistry, amps, soc, v, last, volts(2*amps, soc))
				}
				last = v
			}
		}
	}
}
