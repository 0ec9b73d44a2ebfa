package assess

import (
	"testing"

	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/internal/effort"
)

// A school that is not asked because nothing lies between the two would have said
// the same: over a grid of cases, every other school's verdict is either told or is
// the house's own.
func TestOtherSchoolsAreAllHeard(t *testing.T) {
	told := 0
	all := []float64{12.0, 12.3, 12.42, 12.46, 12.5, 12.55, 12.6, 12.65}
	for _, volts := range effort.Of([]float64{12.46}, all, all) {
		for _, end := range []float64{8.4, 9.3, 9.5, 9.65, 9.9, 10.1, 10.2, 10.5} {
			for _, more := range [][]reading.Reading{nil, {conductance(480)}, {conductance(300)},
				{reading.Of(station.Drain, reading.Fields{"milliamps": 40, "minutes_asleep": 60})},
				{reading.Of(station.CableDrop, reading.Fields{"path": "live", "volts": 0.4, "amps": 150})},
				{reading.Of(station.LoadTest, reading.Fields{"method": station.Starter, "volts_end": 9.8})}} {
				c := car(append([]reading.Reading{rest(volts).With("minutes_since_charge", 120), load(end).With("battery_c", 5)}, more...)...)
				c.Complaint = []string{"slow_crank"}
				a := ByRules(c, readingtest.Labels)
				for _, id := range rules.Deciding() {
					for _, school := range c.Rules.Others(id) {
						other := c
						other.Rules = c.Rules.For("car").Following(id, school)
						want := ByRules(other, readingtest.Labels).Verdict
						got := a.Verdict
						for _, o := range a.Others {
							if o.Rule == id && o.School == school.Name {
								got = o.Verdict
								told++
							}
						}
						if got != want {
							t.Fatalf("%.2f V, %.2f V, %v: by %s it is %s, told %s", volts, end, more, school.Name, want, got)
						}
					}
				}
			}
		}
	}
	if told < effort.Of(10, 50, 50) {
		t.Errorf("only %d told", told)
	}
}

// With a hazard no school says otherwise.
func TestNoSchoolLiftsAHazard(t *testing.T) {
	if a := Assess(car(rest(12.5), load(9.5), inspected("leaking")), readingtest.Labels); len(a.Others) != 0 || a.Verdict.Level() != bench.Stopped {
		t.Errorf("%+v", a.Others)
	}
}
