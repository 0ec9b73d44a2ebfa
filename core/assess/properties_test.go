package assess

import (
	"encoding/json"
	"math/rand/v2"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/casefile"
	"grapnel/core/reading/readingtest"
	"grapnel/internal/effort"
)

// A 6 V or 8 V battery is a 12 V one with fewer cells: readings in proportion
// give the same verdict, away from the edges where the meter's own digit counts.
func TestVoltageScalesWithCells(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	for range effort.Of(100, 1000, 3000) {
		r, l := 11.6+1.2*rng.Float64(), 6+5*rng.Float64()
		twelve := ByRules(car(rest(r), load(l)), readingtest.Labels)
		for _, volts := range []float64{6, 8} {
			k := volts / 12
			c := car(rest(r*k), load(l*k))
			c.Vehicle.SystemVolts = volts
			got := ByRules(c, readingtest.Labels)
			if got.Verdict != twelve.Verdict && got.Verdict != ChargeAndRetest && twelve.Verdict != ChargeAndRetest {
				t.Fatalf("%.2f V then %.2f V: 12 V says %s, %g V says %s", r, l, twelve.Verdict, volts, got.Verdict)
			}
			if d := got.SOC.Best - twelve.SOC.Best; d < -1 || d > 1 {
				t.Fatalf("%.2f V: 12 V is %.0f %%, %g V is %.0f %%", r, twelve.SOC.Best, volts, got.SOC.Best)
			}
		}
	}
}

// More charge never turns a fair test into an unfair one, and colder never
// turns a battery that holds into one that fails.
func TestFairnessAndColdAreMonotonic(t *testing.T) {
	for _, chem := range battery.Chemistries() {
		fair := false
		for v := 11.5; v < 12.85; v += effort.Of(0.05, 0.01, 0.01) {
			c := car(rest(v))
			c.Battery.Chemistry = chem
			now := loadAdvice(c).Level == bench.OK
			if fair && !now {
				t.Fatalf("%s: fair below %.2f V and not at it", chem, v)
			}
			fair = now
		}
		if !fair {
			t.Errorf("%s: never fair", chem)
		}
	}
	for end := 8.0; end < 10.2; end += effort.Of(0.2, 0.05, 0.05) {
		failed := false
		for temp := -25.0; temp <= 40; temp++ {
			c := car(rest(12.65), load(end))
			c.Readings[1] = c.Readings[1].With("battery_c", temp)
			held := false
			for _, f := range ByRules(c, readingtest.Labels).Findings {
				held = held || f.Code == "load_test.held"
			}
			if failed && held {
				t.Fatalf("%.2f V fails in the cold and holds at %g °C", end, temp)
			}
			failed = !held
		}
	}
}

// A correction of one reading changes nothing else: judging is a function of
// the case alone, and the same case gives the same document, byte for byte.
func TestSameCaseSameDocument(t *testing.T) {
	c := car(rest(12.1), load(8), charged("full"), rest(12.6), load(9.9))
	a, err := json.Marshal(Assess(c, readingtest.Labels))
	if err != nil {
		t.Fatal(err)
	}
	for range 20 {
		b, err := json.Marshal(Assess(c, readingtest.Labels))
		if err != nil || string(a) != string(b) {
			t.Fatal("two judgements of one case differ")
		}
	}
	c.Readings[3] = c.Readings[3].With("volts", 12.61)
	if b, _ := json.Marshal(Assess(c, readingtest.Labels)); string(a) == string(b) {
		t.Error("another reading gives the same document")
	}
}

// Whatever the decoder accepts can be assessed.
func FuzzAssess(f *testing.F) {
	f.Add(
		[]byte(
			`{"format":"grapnel.case/1","battery":{"chemistry":"agm"},"readings":[{"kind":"rest_voltage","volts":0}]}`,
		),
	)
	f.Add(
		[]byte(
			`{"format":"grapnel.case/1","battery":{"chemistry":"gel","rating":{"ca":9,"cca":null}},"conditions":{"ambient_c":-50},"readings":[{"kind":"load_test","method":"starter","volts_end":0}]}`,
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		c, err := casefile.Decode(data)
		if err != nil {
			return
		}
		a := Assess(c, readingtest.Labels)
		if a.Headline.IsZero() || len(a.Next) == 0 {
			t.Errorf("no headline or nothing to do: %+v", a)
		}
		for _, g := range gauges(c) {
			if g.Label.IsZero() {
				t.Errorf("%+v", g)
			}
		}
	})
}
