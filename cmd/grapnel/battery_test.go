package main

import (
	"encoding/csv"
	"encoding/json"
	"math"
	"strings"
	"testing"

	"grapnel/core/charge"
)

func figuresOf(t *testing.T, args ...string) batteryFigures {
	t.Helper()
	code, out, errs := ask(t, "", append([]string{"battery", "-json"}, args...)...)
	var f batteryFigures
	if err := json.Unmarshal([]byte(out), &f); err != nil || code != 0 {
		t.Fatalf("%v: exit %d, %v, %s", args, code, err, errs)
	}
	return f
}

// Half charged at -10 °C. Rest volts and gravity: BCI table, from memory, 12.24 V
// less 0.05 V for the cold, and 1.190; freezing near -27 °C.
func TestBatteryFigures(t *testing.T) {
	f := figuresOf(t, "-cca", "540", "-ah", "48", "-soc", "50", "-temp", "-10")
	for what, c := range map[string]struct{ got, want, tol float64 }{
		"rest volts": {f.RestVolts, 12.20, 0.03}, "gravity": {*f.SG, 1.190, 0.005}, "freezing": {f.FreezesC, -26, 2},
		"CCA": {f.CCANow, 540, 10}, "Ah left": {f.Ah, 14, 4}, "fast charge": {f.FastChargeAmps, 6, 3},
	} {
		if math.Abs(c.got-c.want) > c.tol {
			t.Errorf("%s: %.4g, want %g ± %g", what, c.got, c.want, c.tol)
		}
	}
	if f.DaysToHalf != nil || f.Frozen {
		t.Errorf("at half already, not frozen: %+v", f)
	}
	full := figuresOf(t, "-cca", "540", "-ah", "48", "-temp", "20")
	if full.CrankNow <= f.CrankNow || full.HalfCCAVolts <= f.HalfCCAVolts || full.DaysToHalf == nil ||
		math.Abs(*full.DaysToHalf-28) > 5 {
		t.Errorf("full and warm: %+v", full)
	}
	worn := figuresOf(t, "-cca", "540", "-ah", "48", "-health", "60", "-temp", "20")
	if math.Abs(worn.CCANow-0.6*540) > 5 || worn.Milliohms <= full.Milliohms {
		t.Errorf("at 60 %%: %.0f CCA, %.1f mΩ", worn.CCANow, worn.Milliohms)
	}
	if ice := figuresOf(t, "-cca", "540", "-soc", "5", "-temp", "-20"); !ice.Frozen {
		t.Errorf("nearly flat at -20 °C: %+v", ice)
	}
	if agm := figuresOf(t, "-cca", "540", "-chemistry", "agm", "-made", "C2"); agm.SG != nil || agm.Made != "2022-03" ||
		!agm.Nameplate.Ah20h.Estimated {
		t.Errorf("AGM: %+v", agm)
	}
	if f := figuresOf(t, "-cca", "540", "-group", "l3"); f.Group == nil || f.Group.Name != "48" ||
		f.Group.LengthMM != 278 || f.Group.PositiveOn != "right" {
		t.Errorf("L3: %+v", f.Group)
	}
	_, words, _ := ask(t, "", "battery", "-cca", "540", "-ah", "48", "-soc", "5", "-temp", "-20")
	for _, say := range []string{"540 CCA, 48 Ah, about 77 min", "it is ice", "270 A is more than it can give",
		"days to 50 % at 30 mA", "already there"} {
		if !strings.Contains(words, say) {
			t.Errorf("no %q in\n%s", say, words)
		}
	}
	if strings.Contains(words, "%!") {
		t.Errorf("a broken line in\n%s", words)
	}
}

func TestBatteryRefuses(t *testing.T) {
	for say, args := range map[string][]string{
		"the label has no figure":                   nil,
		"-soc is 150: it must be from 0 to 100 %":   {"-cca", "540", "-soc", "150"},
		"-temp is NaN":                              {"-cca", "540", "-temp", "NaN"},
		"a battery is 6, 8 or 12 V":                 {"-cca", "540", "-volts", "7"},
		`"steam" is not known: use flooded`:         {"-cca", "540", "-chemistry", "steam"},
		"unknown cranking standard":                 {"-cca", "540", "-standard", "ABC"},
		"grapnel battery -h lists the flags":        {"-cca", "many"},
		`-group "99Z" is not in the table`:          {"-cca", "540", "-group", "99Z"},
		`"540" is not a flag`:                       {"540"},
		"-made \"C2x!\" is no date code known here": {"-cca", "540", "-made", "C2x!"},
	} {
		if code, out, errs := ask(t, "", append([]string{"battery"}, args...)...); code != 2 || out != "" ||
			!strings.Contains(errs, say) {
			t.Errorf("%v: exit %d, %q, %q, want %q", args, code, out, errs, say)
		}
	}
	if code, out, _ := ask(t, "", "battery", "-h"); code != 0 || !strings.Contains(out, "-cca") {
		t.Errorf("help: exit %d, %q", code, out)
	}
}

func TestSimWritesCSV(t *testing.T) {
	code, out, errs := ask(t, "", "sim", "../../core/simulation/testdata/lamps.json")
	lines, err := csv.NewReader(strings.NewReader(out)).ReadAll()
	if err != nil || code != 0 {
		t.Fatalf("exit %d, %v, %s", code, err, errs)
	}
	if strings.Join(lines[0], ",") != strings.Join(columns, ",") || len(lines) != 15 || lines[1][1] != "crank" || lines[14][14] != "volts_below" {
		t.Errorf("%d lines, first %v, then %v", len(lines), lines[0], lines[1])
	}
	for in, say := range map[string]string{
		`{`: "broken JSON", `{"format":"grapnel.simulation/1","battery":{"chemistry":"gel","rating":{}},"profile":[{"seconds":1}]}`: "battery.rating",
	} {
		if code, _, errs := ask(t, in, "sim", "-"); code != 2 || !strings.Contains(errs, say) {
			t.Errorf("%s: exit %d, %q", in, code, errs)
		}
	}
	if code, _, errs := ask(t, "", "sim"); code != 2 || !strings.Contains(errs, "one FILE") {
		t.Errorf("no file: exit %d, %q", code, errs)
	}
}

func TestPlanCharge(t *testing.T) {
	code, out, errs := ask(t, "", "plan", "charge", "../../core/charge/testdata/request.json")
	var plan struct {
		Format string             `json:"format"`
		Full   float64            `json:"hours_to_full"`
		Curve  []map[string]any   `json:"curve"`
		Steps  []map[string]any   `json:"connect"`
		Band   map[string]float64 `json:"full"`
	}
	if err := json.Unmarshal([]byte(out), &plan); err != nil || code != 0 {
		t.Fatalf("exit %d, %v, %s", code, err, errs)
	}
	if plan.Format != charge.PlanFormat || plan.Full < 4 || plan.Full > 9 || len(plan.Curve) < 50 || len(plan.Steps) != 5 || plan.Band["low"] >= plan.Full {
		t.Errorf("%+v", plan)
	}
	for in, say := range map[string]string{
		`{`: "broken JSON", `{"format":"grapnel.charge_request/1"}`: "battery: is missing and needed",
		`{"format":"grapnel.charge_request/1","battery":{"chemistry":"gel","rating":{}},"start":{"soc_pct":1},"charger":{"kind":"trickle","amps":1}}`: "battery.rating",
	} {
		if code, _, errs := ask(t, in, "plan", "charge", "-"); code != 2 || !strings.Contains(errs, say) {
			t.Errorf("%s: exit %d, %q", in, code, errs)
		}
	}
	for _, args := range [][]string{{"plan"}, {"plan", "jam"}, {"plan", "charge"}, {"plan", "charge", "/nowhere"}} {
		if code, _, errs := ask(t, "", args...); code != 2 || errs == "" {
			t.Errorf("%v: exit %d, %q", args, code, errs)
		}
	}
}
