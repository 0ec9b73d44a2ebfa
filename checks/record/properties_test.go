package record

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/core/assess"
	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/effort"
)

// judgement is a case of the record and what is said of it by the rules.
type judgement struct {
	of   Document
	c    reading.Case
	said assess.Assessment
}

// judgements are those of all cases, or of every tenth, judged once for all properties.
var judgements = sync.OnceValues(func() ([]judgement, error) {
	docs := Documents()
	out := make([]judgement, len(docs))
	err := inParallel(len(docs), func(i int) error {
		c, err := decode(docs[i])
		if err == nil && i%step() == 0 {
			out[i] = judgement{docs[i], c, assess.ByRules(c, readingtest.Labels)}
		}
		return err
	})
	return out, err
})

// step is how far apart the cases are that are judged.
func step() int { return effort.Of(10, 1, 1) }

// each shows every judgement, or only every so many of them where more is tried with each.
func each(t *testing.T, every int, look func(t *testing.T, i int, c reading.Case, a assess.Assessment)) {
	t.Helper()
	all, err := judgements()
	if err != nil {
		t.Fatal(err)
	}
	for i := 0; i < len(all); i += step() * every {
		look(t, i, all[i].c, all[i].said)
		if t.Failed() {
			t.Logf("case %d: %s", i, all[i].of.Case)
			return
		}
	}
}

func tests(a assess.Assessment) []string {
	var out []string
	for _, s := range a.Next {
		out = append(out, s.Test)
	}
	return out
}

// With any hazard no charge, load or jump is next, whatever the verdict; and there
// are hazards of every kind among the cases.
func TestNothingStrainsAHazard(t *testing.T) {
	seen := map[string]int{}
	each(t, 1, func(t *testing.T, _ int, c reading.Case, a assess.Assessment) {
		b := station.Put(c, readingtest.Labels)
		for _, h := range b.Hazards {
			seen[h.Code]++
		}
		if !b.Hazardous() {
			return
		}
		for _, s := range tests(a) {
			if slices.Contains([]string{"charge", "load_test", "cable_drop", "conductance", "jump"}, s) {
				t.Errorf("%v stands, and %s is next", b.Hazards, s)
			}
		}
		if a.Verdict != assess.Stop && a.Verdict != assess.MoreReadings {
			t.Errorf("%v stands, and the verdict is %s", b.Hazards, a.Verdict)
		}
	})
	for _, code := range []string{bench.HazardBulged, bench.HazardCracked, bench.HazardLeaking, bench.HazardFrozen, bench.HazardEye, bench.HazardDry,
		bench.HazardGas, bench.HazardHot, bench.HazardIce} {
		if seen[code] == 0 && step() == 1 {
			t.Errorf("no case has the hazard %s", code)
		}
	}
}

// A reading made less certain never turns anything else into a replacement: how it
// rested or how long, the amps, the seconds, the temperature left out; the rating
// marked as nobody's; a meter nobody read twice.
func TestLessCertainNeverCondemns(t *testing.T) {
	vaguer := []struct {
		name string
		make func(c reading.Case, i int) (reading.Case, bool)
	}{
		{"temperature of the reading", func(c reading.Case, i int) (reading.Case, bool) {
			less, ok := without("battery_c")(c, i)
			if !ok {
				return c, false
			}
			// The sheet says the same: what was measured beside the test is only assumed.
			own, _ := c.Readings[i].Number("battery_c")
			sheet, assumed := c.TempC(nil)
			less.Conditions = reading.Conditions{AmbientC: &sheet}
			return less, !assumed && sheet >= own-2 && sheet <= own+2
		}}, {"amps", without("amps")}, {"seconds", without("seconds")}, {"how it rested", without("surface_charge")},
		{"how long since", without("minutes_since_charge")}, {"hours of the charge", without("hours")},
		{"sleep of the drain", without("minutes_asleep")}, {"temperature of the acid", without("acid_c")}, {"how it turned", without("turned")},
		{"the label", func(c reading.Case, _ int) (reading.Case, bool) {
			c.Battery.Rating.Typical = true
			return c, true
		}},
		{"the battery's temperature", func(c reading.Case, _ int) (reading.Case, bool) {
			if c.Conditions.BatteryC == nil || c.Conditions.AmbientC == nil {
				return c, false
			}
			// The shop is as warm as the battery was measured to be: only the certainty goes.
			c.Conditions.AmbientC, c.Conditions.BatteryC = c.Conditions.BatteryC, nil
			return c, true
		}},
	}
	tried, sampled := 0, effort.Of(1, 4, 1)
	each(t, sampled, func(t *testing.T, _ int, c reading.Case, a assess.Assessment) {
		if a.Verdict == assess.Replace {
			return
		}
		for _, v := range vaguer {
			for i := range max(1, len(c.Readings)) {
				less, ok := v.make(c, i)
				if !ok {
					continue
				}
				tried++
				if got := assess.ByRules(less, readingtest.Labels); got.Verdict == assess.Replace {
					t.Errorf("without %s (reading %d) %s becomes replace: %s", v.name, i, a.Verdict, got.Headline)
				}
			}
		}
	})
	if tried < 5000/step()/sampled {
		t.Errorf("only %d tried", tried)
	}
}

func without(field string) func(reading.Case, int) (reading.Case, bool) {
	return func(c reading.Case, i int) (reading.Case, bool) {
		if i >= len(c.Readings) {
			return c, false
		}
		r := c.Readings[i]
		_, number := r.Number(field)
		if !number && r.Word(field) == "" {
			return c, false
		}
		c.Readings = slices.Clone(c.Readings)
		c.Readings[i] = r.With(field, nil)
		return c, true
	}
}

// An old reading changes nothing: every reading of the case is of today, and one of
// a month ago stands before them.
func TestOldReadingsChangeNothing(t *testing.T) {
	today := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	old := today.AddDate(0, -1, 0)
	rng := rand.New(rand.NewPCG(4, 9))
	history := []reading.Reading{
		reading.Of(station.RestVoltage, reading.Fields{"volts": 12.1, "surface_charge": "rested", "minutes_since_charge": 600}),
		reading.Of(station.RestVoltage, reading.Fields{"volts": 12.7, "surface_charge": "rested", "minutes_since_charge": 600}),
		reading.Of(station.LoadTest, reading.Fields{"method": "half_cca", "volts_end": 8.0}),
		reading.Of(station.LoadTest, reading.Fields{"method": "half_cca", "volts_end": 10.4}),
		reading.Of(station.Conductance, reading.Fields{"cca": 200}),
	}
	each(t, effort.Of(1, 3, 1), func(t *testing.T, _ int, c reading.Case, _ assess.Assessment) {
		c.Readings = slices.Clone(c.Readings)
		for i := range c.Readings {
			c.Readings[i].At = &today
		}
		before := assess.ByRules(c, readingtest.Labels)
		past := history[rng.IntN(len(history))]
		if v, ok := past.Number("volts"); ok {
			past = past.With("volts", v*c.Volts()/12)
		}
		if v, ok := past.Number("volts_end"); ok {
			past = past.With("volts_end", v*c.Volts()/12)
		}
		past.At = &old
		c.AsOf = &today
		c.Readings = append([]reading.Reading{past}, c.Readings...)
		after := assess.ByRules(c, readingtest.Labels)
		if before.Verdict != after.Verdict && !foundFlatThen(before, after) {
			t.Errorf("with a %s of a month ago %s becomes %s", past.Kind, before.Verdict, after.Verdict)
		}
	})
}

// foundFlatThen is the one thing an old low voltage may still say: that it came in
// flat, so that a complaint has its reason.
func foundFlatThen(before, after assess.Assessment) bool {
	return before.Verdict == assess.LookElsewhere && after.Verdict == assess.Good
}

// The unit a reader has changes no figure and no verdict.
func TestUnitsChangeNothing(t *testing.T) {
	each(t, 1, func(t *testing.T, i int, c reading.Case, a assess.Assessment) {
		if i%5 != 0 {
			return
		}
		f := assess.Judge(c, assess.As{Voice: words.Voice{Temperature: words.Fahrenheit}, Labels: readingtest.Labels, ByRules: true}).Assessment
		if f.Verdict != a.Verdict || !slices.Equal(tests(f), tests(a)) || len(f.Findings) != len(a.Findings) {
			t.Errorf("°F says %s, °C %s", f.Verdict, a.Verdict)
		}
		if measure.Fahrenheit(0) != 32 {
			t.Error("°F is not °F")
		}
	})
}

// independent are kinds that say nothing of one another, so that their order is
// nobody's business.
var independent = []string{station.LidLeakage, station.Charging, station.CableDrop, station.Eye, station.Hydrometer, station.Drain}

// Two neighbours that say nothing of one another may change places.
func TestOrderOfIndependentReadings(t *testing.T) {
	swapped := 0
	each(t, 1, func(t *testing.T, _ int, c reading.Case, a assess.Assessment) {
		for i := 0; i+1 < len(c.Readings); i++ {
			x, y := c.Readings[i], c.Readings[i+1]
			if x.Kind == y.Kind || !slices.Contains(independent, x.Kind) ||
				!slices.Contains(append([]string{station.RestVoltage, station.LoadTest, station.Conductance}, independent...), y.Kind) {
				continue
			}
			if x.Kind == station.Hydrometer && y.Kind != station.RestVoltage && y.Kind != station.Charging {
				continue // the acid says how full it was at a test
			}
			swapped++
			other := c
			other.Readings = slices.Clone(c.Readings)
			other.Readings[i], other.Readings[i+1] = y, x
			if got := assess.ByRules(other, readingtest.Labels); got.Verdict != a.Verdict {
				t.Errorf("%s and %s the other way round: %s, was %s", x.Kind, y.Kind, got.Verdict, a.Verdict)
			}
		}
	})
	if step() == 1 && swapped < 30 {
		t.Errorf("only %d swapped", swapped)
	}
}

// Nothing is ever both sound and weak: where the verdict is weak it is far under
// its label or just misses, and where it is good it is neither; and no headline says
// the two in one breath.
func TestNeverSoundAndWeak(t *testing.T) {
	weak, good := 0, 0
	each(t, 1, func(t *testing.T, _ int, c reading.Case, a assess.Assessment) {
		under := a.CCAEst != nil && a.CCAEst.OfRatingPct < c.Rules.For(c.Vehicle.Class).WeakBelow-1
		switch a.Verdict {
		case assess.Good, assess.GoodAfterCharge, assess.LookElsewhere:
			good++
			if under {
				t.Errorf("%s at %.0f %% of its label", a.Verdict, a.CCAEst.OfRatingPct)
			}
		case assess.Weak:
			weak++
		}
		if a.FailsBelow != nil && a.Verdict != assess.Weak {
			t.Errorf("%s fails below %g °C", a.Verdict, *a.FailsBelow)
		}
	})
	if step() == 1 && (weak < 10 || good < 80) {
		t.Errorf("%d weak, %d good", weak, good)
	}
}

// Whatever is judged can be written down and read again, and says something.
func TestEveryVerdictIsWhole(t *testing.T) {
	each(t, 1, func(t *testing.T, _ int, _ reading.Case, a assess.Assessment) {
		if a.Headline.IsZero() || a.Because.IsZero() || a.Customer.IsZero() || len(a.Next) == 0 {
			t.Errorf("%s: %q, %q, %q, next %v", a.Verdict, a.Headline, a.Because, a.Customer, tests(a))
		}
		raw, err := json.Marshal(a)
		if err != nil || slices.Contains(raw, '{'-0) && len(raw) < 50 {
			t.Errorf("%v: %s", err, raw)
		}
		// The customer is told one sentence, finished.
		if s := a.Customer.String(); !strings.HasSuffix(s, ".") || strings.Contains(s, ". ") || strings.Contains(s, ": .") || len(s) > 180 {
			t.Errorf("the customer is told: %s", s)
		}
		for _, text := range []words.Text{a.Headline, a.Because, a.Customer} {
			if s := text.String(); slices.ContainsFunc([]rune(s), func(r rune) bool { return r == '{' || r == '}' }) {
				t.Errorf("a place is not filled: %s", s)
			}
		}
	})
}
