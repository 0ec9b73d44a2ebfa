package simulation

import (
	"errors"
	"fmt"
	"math"
	"os"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/internal/fatal"
)

func rows(t testing.TB, s Simulation) []Row {
	t.Helper()
	var out []Row
	if err := s.Run(func(r Row) error { out = append(out, r); return nil }); err != nil {
		t.Fatal(err)
	}
	return out
}

// The worked example: a crank, a quarter of an hour's drive, two hours parked,
// lamps left on until 11 V.
func TestProfileRuns(t *testing.T) {
	data, err := os.ReadFile("testdata/lamps.json")
	must(t, err)
	s, err := Decode(data)
	must(t, err)
	out := rows(t, s)
	last := Row{Seconds: -1}
	byStep := map[int]Row{}
	for _, r := range out {
		if r.Seconds < last.Seconds || r.Step < last.Step || r.Name != s.Profile[r.Step-1].Name {
			t.Fatalf("%+v after %+v", r, last)
		}
		last, byStep[r.Step] = r, r
	}
	// By hand: 3 s at 250 A take 0.208 Ah; the drive ends 903 s in, the park 7200
	// s later.
	if ah := byStep[1].State.AhIn; math.Abs(ah+250*3/3600.0) > 1e-6 {
		t.Errorf("the crank took %.4f Ah", -ah)
	}
	if byStep[2].Seconds != 903 || byStep[3].Seconds != 8103 || byStep[3].Amps != 0 {
		t.Errorf("drive ended at %g s, park at %g s with %g A", byStep[2].Seconds, byStep[3].Seconds, byStep[3].Amps)
	}
	if v := byStep[4].Volts; math.Abs(v-11) > 0.001 {
		t.Errorf("the lamps stopped at %.4f V", v)
	}
	if by := byStep[4].Event; by != "volts_below" {
		t.Errorf("the lamps were stopped by %q", by)
	}
	// A resistor: volts are amps times ohms.
	if r := byStep[4]; math.Abs(-r.Amps*1.3-r.Volts) > 1e-6 {
		t.Errorf("%.4f A through 1.3 Ω at %.4f V", r.Amps, r.Volts)
	}
	// Rows at the beginning and end of each step and at each whole step of time.
	if n := len(out); n != 4+4+3+1+int(math.Ceil((byStep[4].Seconds-8103)/3600)) {
		t.Errorf("%d rows", n)
	}
	// Where rows fall does not change where the battery goes.
	for i := range s.Profile {
		s.Profile[i].EverySeconds = 0
	}
	free := rows(t, s)
	if a, b := free[len(free)-1], last; math.Abs(a.Seconds/b.Seconds-1) > 2e-3 || math.Abs(a.SOC-b.SOC) > 0.1 {
		t.Errorf("with rows at fixed times it ends at %.1f s and %.2f %%, without at %.1f s and %.2f %%", b.Seconds,
			b.SOC, a.Seconds, a.SOC)
	}
}

const sound = `"battery":{"chemistry":"agm","rating":{"cca":540,"ah_20h":48}}`

// Each bad document is refused with the place and a way out.
func TestRefusals(t *testing.T) {
	for say, doc := range map[string]string{
		"profile[0].volts: is needed for a " +
			"charger": `{"format":"grapnel.simulation/1",` + sound + `,"profile":[{"amps":5,"seconds":9}]}`,
		"profile[0].amps: is needed beside " +
			"volts": `{"format":"grapnel.simulation/1",` + sound + `,"profile":[{"volts":5,"seconds":9}]}`,
		"profile[0].seconds: is missing": `{"format":"grapnel.simulation/1",` + sound + `,"profile":[{}]}`,
		"dead short":                     `{"format":"grapnel.simulation/1",` + sound + `,"profile":[{"ohms":0,"seconds":1}]}`,
		"unknown field":                  `{"format":"grapnel.simulation/1",` + sound + `,"profile":[{"seconds":1,"amp":3}]}`,
		"not a kind of fault":            `{"format":"grapnel.simulation/1","battery":{"chemistry":"gel","rating":{},"faults":[{"kind":"rust"}]},"profile":[{"seconds":1}]}`,
		"broken JSON at line 1":          `{"format":,}`,
		"grapnel.simulation/1 document":  ``,
		"outside 0 to 100 %":             `{"format":"grapnel.simulation/1",` + sound + `,"start":{"soc_pct":120},"profile":[{"seconds":1}]}`,
	} {
		_, err := Decode([]byte(doc))
		var problems document.Problems
		if !errors.As(err, &problems) || !strings.Contains(err.Error(), say) {
			t.Errorf("want %q, got %v", say, err)
		}
	}
	s, err := Decode(
		[]byte(`{"format":"grapnel.simulation/1","battery":{"chemistry":"gel","rating":{}},"profile":[{"seconds":1}]}`),
	)
	must(t, err)
	if err := s.Run(func(Row) error { return nil }); err == nil ||
		!strings.Contains(err.Error(), "battery.rating: the label has no figure") {
		t.Errorf("a label without figures: %v", err)
	}
	s, _ = Decode([]byte(`{"format":"grapnel.simulation/1",` + sound + `,"profile":[{"seconds":1}]}`))
	full := errors.New("disk full")
	if err := s.Run(func(Row) error { return full }); !errors.Is(err, full) {
		t.Errorf("an error of the writer came out as %v", err)
	}
}

// Every fault of the vocabulary changes the battery, and age does.
func TestFaultsReachTheModel(t *testing.T) {
	run := func(extra string) Row {
		s, err := Decode(
			[]byte(
				`{"format":"grapnel.simulation/1","battery":{"chemistry":"flooded","rating":{"cca":540,"ah_20h":48}` + extra +
					`},"start":{"soc_pct":80},"profile":[{"seconds":86400},{"amps":-200,"seconds":10}]}`,
			),
		)
		must(t, err)
		out := rows(t, s)
		return out[len(out)-1]
	}
	good := run("")
	for _, extra := range []string{
		`,"health_pct":60`, `,"capacity_pct":20`, `,"faults":[{"kind":"shorted_cell","ohms":0.01}]`, `,"faults":[{"kind":"dry_cell","wet_pct":30}]`,
		`,"faults":[{"kind":"weak_cell","capacity_pct":10}]`, `,"faults":[{"kind":"wet_lid","milliamps":300}]`, `,"faults":[{"kind":"bad_strap","ohms":0.01}]`,
	} {
		if bad := run(extra); bad.Volts > good.Volts-0.01 {
			t.Errorf("%s: %.3f V under load, sound %.3f", extra, bad.Volts, good.Volts)
		}
	}
}

// Each fault is the one its kind names, and sulphate is there from the start.
func TestFaultsAreWhatTheyAreCalled(t *testing.T) {
	of := func(f Fault) battery.Battery {
		cca := 540.0
		s := Simulation{Battery: Battery{Chemistry: battery.Flooded, Volts: 12, Rating: reading.Rating{CCA: &cca}, HealthPct: 100,
			CapacityPct: 100, Faults: []Fault{f}}}
		b, err := s.battery()
		if err != nil || f.Kind != "wet_lid" && f.Kind != "bad_strap" && (b.Cells() != 6 || b.Kinds != 2) {
			t.Fatalf("%s: %d cells of %d kinds, %v", f.Kind, b.Cells(), b.Kinds, err)
		}
		return b
	}
	for name, c := range map[string][2]float64{
		"dry":     {of(Fault{Kind: "dry_cell", WetPct: 30}).Groups[1].Wet, 0.3},
		"weak":    {of(Fault{Kind: "weak_cell", CapacityPct: 10}).Groups[1].Capacity, 0.1},
		"shorted": {of(Fault{Kind: "shorted_cell", Ohms: 0.01}).Groups[1].ShortSiemens, 100},
		"lid":     {of(Fault{Kind: "wet_lid", Milliamps: 126}).LidSiemens, 0.01}, // 126 mA at 12.6 V
		"strap":   {of(Fault{Kind: "bad_strap", Ohms: 0.02}).StrapOhms, 0.02},
	} {
		if math.Abs(c[0]-c[1]) > 1e-12 {
			t.Errorf("%s: %g, want %g", name, c[0], c[1])
		}
	}
}

// A step ends at the first of its ends, whichever that is.
func TestStepsEnd(t *testing.T) {
	for step, end := range map[string]func(Row) float64{
		`"amps":-10,"until_soc_below":70`:                          func(r Row) float64 { return r.SOC - 70 },
		`"amps":10,"volts":15,"until_soc_above":85`:                func(r Row) float64 { return r.SOC - 85 },
		`"ohms":1,"until_amps_below":11.4`:                         func(r Row) float64 { return r.Amps + 11.4 },
		`"amps":10,"volts":15,"until_volts_above":13`:              func(r Row) float64 { return r.Volts - 13 },
		`"amps":-10,"until_volts_below":11.9,"until_soc_below":1`:  func(r Row) float64 { return r.Volts - 11.9 },
		`"amps":-10,"until_volts_below":11,"until_soc_below":79.5`: func(r Row) float64 { return r.SOC - 79.5 },
	} {
		s, err := Decode([]byte(`{"format":"grapnel.simulation/1",` + sound +
			`,"start":{"soc_pct":80,"sulphate_pct":5},"profile":[{"seconds":90000,` + step + `}]}`))
		must(t, err)
		out := rows(t, s)
		if last := out[len(out)-1]; math.Abs(end(last)) > 0.01 || last.Seconds < 1 || last.Seconds >= 90000 {
			t.Errorf("%s ended after %.0f s at %.3f V, %.3f A, %.2f %%", step, last.Seconds, last.Volts, last.Amps, last.SOC)
		}
		if got := out[0].State.Cells[0].Sulphate; math.Abs(got-0.05) > 0.01 {
			t.Errorf("%s begins with sulphate of %g", step, got)
		}
	}
}

// Common practice, no source: a battery flat for long takes next to nothing for
// hours. "Until the amps fall below" ends its charge when it is nearly full, not in
// its first minute, with rows at fixed times or without; a full one is left at once.
func TestSmallCurrentEndsACharge(t *testing.T) {
	run := func(soc, sulphate, every float64) (Row, int) {
		s, err := Decode([]byte(fmt.Sprintf(`{"format":"grapnel.simulation/1",`+sound+`,"start":{"soc_pct":%g,"sulphate_pct":%g},
			"profile":[{"amps":5,"volts":14.5,"seconds":360000,"until_amps_below":0.48,"every_seconds":%g}]}`, soc, sulphate, every)))
		must(t, err)
		out := rows(t, s)
		return out[len(out)-1], len(out)
	}
	for _, every := range []float64{0, 30, 900} {
		if end, _ := run(5, 80, every); end.Event != "amps_below" || end.SOC < 90 || end.Seconds < 5*3600 {
			t.Errorf("rows every %g s: %q after %.0f s at %.1f %%", every, end.Event, end.Seconds, end.SOC)
		}
		if end, n := run(99, 0, every); end.Event != "amps_below" || end.Seconds > 600 && every == 0 || n > 30 {
			t.Errorf("full, rows every %g s: %q after %.0f s, %d rows", every, end.Event, end.Seconds, n)
		}
	}
}

// A shorted battery left on a big charger boils; the run says so instead of going
// on.
func TestRunawayIsSaid(t *testing.T) {
	s, err := Decode(
		[]byte(
			`{"format":"grapnel.simulation/1","battery":{"chemistry":"flooded","rating":{"cca":540,"ah_20h":48},"faults":[{"kind":"shorted_cell","ohms":0.01}]},
		"profile":[{"amps":100,"volts":16,"seconds":86400}]}`,
		),
	)
	must(t, err)
	err = s.Run(func(Row) error { return nil })
	if !errors.Is(err, battery.ErrBoils) || !strings.Contains(err.Error(), "profile[0]") {
		t.Errorf("%v", err)
	}
}

// Whatever the decoder accepts runs, or says why not.
func FuzzSimulation(f *testing.F) {
	f.Add(
		[]byte(
			`{"format":"grapnel.simulation/1",` + sound + `,"profile":[{"amps":-5,"seconds":9,"until_soc_below":3}]}`,
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		s, err := Decode(data)
		if err != nil || len(s.Profile) > 5 {
			return
		}
		n := 0
		err = s.Run(func(r Row) error {
			if math.IsNaN(r.Volts + r.Amps + r.SOC) {
				t.Fatalf("%+v", r)
			}
			if n++; n > 5000 {
				return errors.New("enough")
			}
			return nil
		})
		if err != nil && err.Error() == "" {
			t.Error("an error without words")
		}
	})
}

var must = fatal.On
