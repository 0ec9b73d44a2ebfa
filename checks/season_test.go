package checks

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"os/exec"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/climate"
	"grapnel/core/rating"
	"grapnel/core/season"
	"grapnel/core/words"
)

// python runs a script of this folder on a job, with Debian's own interpreter.
func python(t testing.TB, script, module, pkg string, job, answer any) {
	t.Helper()
	need(t, "/usr/bin/python3", pkg)
	in, err := json.Marshal(job)
	must(t, err)
	cmd := exec.Command("/usr/bin/python3", script)
	var out, complaint bytes.Buffer
	cmd.Stdin, cmd.Stdout, cmd.Stderr = bytes.NewReader(in), &out, &complaint
	if err := cmd.Run(); err != nil {
		if bytes.Contains(complaint.Bytes(), []byte("No module named '"+module)) {
			need(t, module+" for /usr/bin/python3", pkg)
		}
		t.Fatalf("%v: %s", err, complaint.String())
	}
	must(t, json.Unmarshal(out.Bytes(), answer))
}

// Day lengths and the light above the air against an ephemeris: the hours of the sun's middle
// over a level horizon within two minutes, of which the
// ephemeris is counted in whole ones, and the light within 0.3 % of the year's most.
func TestSunAgainstEphemeris(t *testing.T) {
	var at [][2]float64
	for lat := -60.0; lat <= 60; lat += 20 {
		for _, day := range []int{1, 46, 80, 105, 172, 246, 290, 355} {
			at = append(at, [2]float64{lat, float64(day)})
		}
	}
	var got []struct{ Hours, KWh float64 }
	python(t, "sun.py", "ephem", "python3-ephem", map[string]any{"year": 2026, "at": at}, &got)
	for i, a := range at {
		lat, day := a[0], time.Date(2026, 1, int(a[1]), 0, 0, 0, 0, time.UTC)
		if h := season.DayHours(lat, day); math.Abs(h-got[i].Hours) > 2.0/60 {
			t.Errorf("%g° on %s: %.3f h, ephemeris %.3f", lat, day.Format("2 January"), h, got[i].Hours)
		}
		if kwh := season.AboveAir(lat, day); math.Abs(kwh-got[i].KWh) > 0.035 {
			t.Errorf("%g° on %s: %.3f kWh/m², ephemeris %.3f", lat, day.Format("2 January"), kwh, got[i].KWh)
		}
	}
}

// The charge of every day of a season against scipy with the same weather: within a
// twentieth of a percent.
func TestSeasonAgainstScipy(t *testing.T) {
	type job struct {
		Chemistry string    `json:"chemistry"`
		SOC       float64   `json:"soc"`
		Drain     float64   `json:"drain_ma"`
		Ah        float64   `json:"ah"`
		Clamped   bool      `json:"clamped"`
		Mean      []float64 `json:"mean_c"`
	}
	var jobs []job
	var days [][]season.Day
	for i, chem := range []battery.Chemistry{battery.Flooded, battery.FloodedSealed, battery.EFB, battery.AGM, battery.Gel} {
		for k, place := range []string{"upland", "hot", "continental"} {
			drain, soc := 3+float64(7*i+2*k), 100-float64(6*k)
			doc := fmt.Sprintf(
				`{"format":"grapnel.season_request/1","vehicle":{"class":"tractor"},"battery":{"chemistry":%q,"rating":{"cca":600,"ah_20h":70}},
				"start":{"soc_pct":%g,"health_pct":80},"from":"2026-10-01","to":"2027-04-01","place":{"climate":%q},"drain_ma":%g}`,
				chem,
				soc,
				place,
				drain,
			)
			r, err := season.Decode([]byte(doc))
			must(t, err)
			p, err := r.Make(battery.FromLabel, words.Voice{})
			must(t, err)
			b, _, err := battery.FromLabel(chem, 6, rating.Label{CCA: 600, Ah20h: 70})
			must(t, err)
			ah := b.Coulombs / 3600 * charge.CapacityOf(80) / 100
			o, _ := climate.Named(place)
			var mean []float64
			for day := time.Date(2026, 10, 1, 12, 0, 0, 0, time.UTC); day.Before(time.Date(2027, 4, 2, 0, 0, 0, 0, time.UTC)); day = day.AddDate(0, 0, 1) {
				mean = append(mean, o.Mean.At(day))
			}
			for _, w := range p.Ways {
				if w.Way == season.Connected || w.Way == season.Disconnected {
					jobs = append(jobs, job{string(chem), soc, drain, ah, w.Way == season.Connected, mean})
					days = append(days, w.Days)
				}
			}
		}
	}
	var got [][]float64
	python(t, "season.py", "scipy", "python3-scipy", jobs, &got)
	for i, j := range jobs {
		if len(got[i]) != len(days[i]) || len(days[i]) != 183 {
			t.Fatalf("%d days, scipy %d", len(days[i]), len(got[i]))
		}
		for day, d := range days[i] {
			if want := max(0, got[i][day]); math.Abs(d.SOC-want) > 0.05 {
				t.Fatalf(
					"%s, %g mA, clamped %v, %s: %.3f %%, scipy %.3f",
					j.Chemistry,
					j.Drain,
					j.Clamped,
					d.Date,
					d.SOC,
					want,
				)
			}
		}
	}
}
