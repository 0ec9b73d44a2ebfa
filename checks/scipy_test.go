// Package checks holds the model against programs that know nothing of it:
// scipy for its differential equations, ngspice for its circuit, GNU units for
// conversions. It has tests only.
package checks

import (
	"bytes"
	"encoding/json"
	"math"
	"os"
	"os/exec"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/internal/fatal"
)

// need gives the path of a reference program. Where it is not installed the
// test is skipped by name; in CI it has to be there.
func need(t testing.TB, program, pkg string) string {
	t.Helper()
	path, err := exec.LookPath(program)
	if err == nil {
		return path
	}
	if os.Getenv("CI") != "" {
		t.Fatalf("%s is not installed; scripts/setup %s installs it", program, pkg)
	}
	t.Skipf("NOT CHECKED: %s is not installed; `make test` or scripts/setup %s installs it", program, pkg)
	return ""
}

// job is one run for the reference program.
type job struct {
	Battery struct {
		Chemistry    string  `json:"chemistry"`
		Cells        int     `json:"cells"`
		Coulombs     float64 `json:"coulombs"`
		PoreShare    float64 `json:"pore_share"`
		Ohms         float64 `json:"ohms"`
		PlateAmps    float64 `json:"plate_amps"`
		HeatCapacity float64 `json:"heat_capacity"`
		Cooling      float64 `json:"cooling"`
	} `json:"battery"`
	State struct {
		TempC    float64 `json:"temp_c"`
		Pore     float64 `json:"pore"`
		Bulk     float64 `json:"bulk"`
		Polar    float64 `json:"polar"`
		Sulphate float64 `json:"sulphate"`
	} `json:"state"`
	Source struct {
		Amps  float64 `json:"amps"`
		Volts float64 `json:"volts"`
		Ohms  float64 `json:"ohms"`
	} `json:"source"`
	Ambient struct {
		Start   float64 `json:"start"`
		PerHour float64 `json:"per_hour"`
	} `json:"ambient"`
	Seconds []float64 `json:"seconds"`
	Method  string    `json:"method"`
	RTol    float64   `json:"rtol"`
	Repeat  int       `json:"repeat,omitempty"`
}

type answer struct {
	SecondsToSolve float64 `json:"seconds_to_solve"`
	At             []struct {
		Volts    float64 `json:"volts"`
		Amps     float64 `json:"amps"`
		SOC      float64 `json:"soc"`
		TempC    float64 `json:"temp_c"`
		AhIn     float64 `json:"ah_in"`
		Sulphate float64 `json:"sulphate"`
		Pore     float64 `json:"pore"`
	} `json:"at"`
}

// newJob writes a run down for the reference program.
func newJob(b battery.Battery, s battery.State, d battery.Duty, method string, rtol float64, seconds ...float64) job {
	var j job
	j.Battery.Chemistry, j.Battery.Cells = string(b.Chemistry), b.Cells()
	j.Battery.Coulombs, j.Battery.PoreShare, j.Battery.Ohms = b.Coulombs, b.PoreShare, b.Ohms
	j.Battery.PlateAmps, j.Battery.HeatCapacity, j.Battery.Cooling = b.PlateAmps, b.HeatCapacity, b.Cooling
	c := s.Cells[0]
	j.State.TempC, j.State.Pore, j.State.Bulk, j.State.Polar, j.State.Sulphate = s.TempC, c.Pore, c.Bulk, c.Polarisation, c.Sulphate
	j.Source.Amps, j.Source.Volts, j.Source.Ohms = d.Source.Amps, d.Source.Volts, d.Source.Ohms
	j.Ambient.Start, j.Ambient.PerHour = d.Ambient.Start, d.Ambient.PerHour
	j.Seconds, j.Method, j.RTol = seconds, method, rtol
	return j
}

// scipy runs a job. Debian's own interpreter is named, since another in the way
// would not have Debian's scipy.
func scipy(t testing.TB, j job) answer {
	t.Helper()
	need(t, "/usr/bin/python3", "python3-scipy")
	in, err := json.Marshal(j)
	must(t, err)
	cmd := exec.Command("/usr/bin/python3", "battery.py")
	var out, complaint bytes.Buffer
	cmd.Stdin, cmd.Stdout, cmd.Stderr = bytes.NewReader(in), &out, &complaint
	if err := cmd.Run(); err != nil {
		if bytes.Contains(complaint.Bytes(), []byte("No module named 'scipy'")) {
			need(t, "scipy for /usr/bin/python3", "python3-scipy")
		}
		t.Fatalf("%v: %s", err, complaint.String())
	}
	var a answer
	must(t, json.Unmarshal(out.Bytes(), &a))
	return a
}

func car(t testing.TB, c battery.Chemistry) battery.Battery {
	t.Helper()
	b, _, err := battery.FromLabel(c, 6, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
	must(t, err)
	return b
}

// runs are the stretches both are put through: a day's charge, a crank, a
// month's storage, and what lies between.
func runs(t testing.TB) []struct {
	name    string
	b       battery.Battery
	s       battery.State
	d       battery.Duty
	seconds []float64
} {
	const hour, day = 3600.0, 86400.0
	type run = struct {
		name    string
		b       battery.Battery
		s       battery.State
		d       battery.Duty
		seconds []float64
	}
	flooded, agm := car(t, battery.Flooded), car(t, battery.AGM)
	long := flooded.Rested(3, 20)
	long.Cells[0].Sulphate = 0.8
	fresh := flooded.Rested(80, 20)
	fresh.Cells[0].Pore, fresh.Cells[0].Polarisation = 0.95, 0.15
	return []run{
		{"a day's charge", flooded, flooded.Rested(20, 20),
			battery.Duty{Source: battery.Source{Amps: 10, Volts: 14.6}, Ambient: battery.Ambient{Start: 20}},
			[]float64{hour, 3 * hour, 3.5 * hour, 5 * hour, 8 * hour, day}},
		{"a day's charge, AGM, warming", agm, agm.Rested(35, 5),
			battery.Duty{Source: battery.Source{Amps: 25, Volts: 14.7, Ohms: 0.01}, Ambient: battery.Ambient{Start: 5, PerHour: 1}},
			[]float64{hour, 2 * hour, 6 * hour, day}},
		{"a crank", flooded, flooded.Rested(100, -18),
			battery.Duty{Source: battery.Source{Amps: -540, Volts: -1000}, Ambient: battery.Ambient{Start: -18}},
			[]float64{0.2, 1, 10, 30}},
		{"half the CCA", agm, agm.Rested(80, 21),
			battery.Duty{Source: battery.Source{Amps: -270, Volts: -1000}, Ambient: battery.Ambient{Start: 21}},
			[]float64{1, 15}},
		{"a month's storage", flooded, flooded.Rested(90, 15),
			battery.Duty{Source: battery.Source{Amps: -0.02}, Ambient: battery.Ambient{Start: 15}},
			[]float64{day, 10 * day, 30 * day}},
		{"rest after charge", flooded, fresh,
			battery.Duty{Ambient: battery.Ambient{Start: 20}}, []float64{60, 600, hour, 8 * hour}},
		{"long flat on the charger", flooded, long,
			battery.Duty{Source: battery.Source{Amps: 5, Volts: 16}, Ambient: battery.Ambient{Start: 20}},
			[]float64{hour, 4 * hour, 12 * hour}},
		{"flat under its lamps", flooded, flooded.Rested(100, 10),
			battery.Duty{Source: battery.Source{Amps: math.Inf(-1), Ohms: 1.4}, Ambient: battery.Ambient{Start: 10}},
			[]float64{hour, 4 * hour, 7 * hour}},
	}
}

// Source: scipy's Radau integrator at a relative tolerance of 1e-10, on the same
// equations written out separately in battery.py. The stepper at its default
// tolerance stays within 0.1 %: of volts, of charge, of the ampere-hours passed
// and, where the source is held by its volts, of 0.1 % of the amps it can give.
func TestStepperAgainstScipy(t *testing.T) {
	for _, r := range runs(t) {
		t.Run(r.name, func(t *testing.T) {
			j := newJob(r.b, r.s, r.d, "Radau", 1e-10, r.seconds...)
			if math.IsInf(j.Source.Amps, 0) {
				j.Source.Amps = math.Copysign(1e9, j.Source.Amps)
			}
			ref := scipy(t, j)
			for i, at := range r.seconds {
				d := r.d
				d.Seconds = at
				got, err := r.b.Run(r.s, d)
				must(t, err)
				want := ref.At[i]
				for _, c := range []struct {
					what            string
					got, want, size float64
				}{
					{"volts", got.Volts, want.Volts, math.Abs(want.Volts)},
					{"amps", got.Amps, want.Amps, max(math.Abs(want.Amps), 0.1*min(math.Abs(r.d.Source.Amps), 50))},
					{"charge", got.SOC, want.SOC, 100},
					{"temperature", got.State.TempC, want.TempC, 30},
					{"ampere-hours", got.State.AhIn, want.AhIn, math.Abs(want.AhIn)},
					{"sulphate", got.State.Cells[0].Sulphate, want.Sulphate, 1},
					{"pores", got.State.Cells[0].Pore, want.Pore, 1},
				} {
					if math.Abs(c.got-c.want) > 1e-3*c.size+1e-9 {
						t.Errorf("after %g s: %s %.6g, scipy %.6g", at, c.what, c.got, c.want)
					}
				}
			}
		})
	}
}

// The day's charge by LSODA, bound directly (odeint) and through scipy's common
// interface (solve_ivp), at the stepper's own tolerance; solve-ns is the solver
// alone, the best of twenty, without the start of the interpreter.
func BenchmarkDayChargeLSODA(b *testing.B) {
	r := runs(b)[0]
	for name, method := range map[string]string{"odeint": "odeint", "solve_ivp": "LSODA"} {
		b.Run(name, func(b *testing.B) {
			j := newJob(r.b, r.s, r.d, method, battery.DefaultTolerance, 86400)
			j.Repeat = 20
			best := math.Inf(1)
			for b.Loop() {
				best = min(best, scipy(b, j).SecondsToSolve)
			}
			b.ReportMetric(best*1e9, "solve-ns")
		})
	}
}

// The stepper on the same run.
func BenchmarkDayChargeStepper(b *testing.B) {
	r := runs(b)[0]
	d := r.d
	d.Seconds = 86400
	b.ReportAllocs()
	for b.Loop() {
		if _, err := r.b.Run(r.s, d); err != nil {
			b.Fatal(err)
		}
	}
}

var must = fatal.On
