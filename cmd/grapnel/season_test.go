package main

import (
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
)

// The example of a season is planned; request and plan hold by the published schemas.
func TestSeason(t *testing.T) {
	const file = "../../core/season/testdata/request.json"
	code, out, errs := ask(t, "", "plan", "season", file)
	if code != 0 {
		t.Fatalf("exit %d: %s", code, errs)
	}
	raw, err := os.ReadFile(file)
	must(t, err)
	whole := strings.Replace(string(raw), `"drain_ma": 8`, `"drain_ma": 8, "solar": {"watts": 10, "latitude_deg": 52},
		"maintainer": {"kind": "trickle", "amps": 2, "through_socket": true}, "way": "connected", "today": "2026-11-24",
		"looks": [{"date": "2026-11-20", "rest_volts": 12.3}]`, 1)
	whole = strings.Replace(whole, `"switch"`, `"switch", "solar"`, 1)
	code, second, errs := ask(t, whole, "plan", "season", "-")
	if code != 0 {
		t.Fatalf("exit %d: %s", code, errs)
	}
	for name, texts := range map[string][]string{"season_request": {string(raw), whole}, "season_plan": {out, second}} {
		s, err := jsonschema.NewCompiler().Compile("../../docs/formats/" + name + ".schema.json")
		must(t, err)
		for _, text := range texts {
			doc, err := jsonschema.UnmarshalJSON(strings.NewReader(text))
			must(t, err)
			if err := s.Validate(doc); err != nil {
				t.Errorf("%s: %v", name, err)
			}
		}
	}
	var got struct {
		Chosen string `json:"chosen"`
		Ways   []struct {
			Way  string `json:"way"`
			Days []struct {
				Date string `json:"date"`
			} `json:"days"`
		} `json:"ways"`
		Amps struct{ Min, Max float64 } `json:"maintainer_amps"`
	}
	must(t, json.Unmarshal([]byte(out), &got))
	if got.Chosen != "disconnected" || len(got.Ways) != 5 || len(got.Ways[0].Days) != 169 ||
		got.Ways[0].Days[168].Date != "2027-04-01" {
		t.Errorf("%s of %d ways, %d days", got.Chosen, len(got.Ways), len(got.Ways[0].Days))
	}
	if got.Amps.Max != 2.6 && got.Amps.Max != 2.7 || got.Amps.Min <= 0.008 {
		t.Errorf("maintainer of %+v", got.Amps)
	}
	for in, say := range map[string]string{
		``: "the file is empty", `{"format":"grapnel.season_request/2"}`: "format",
		strings.Replace(string(raw), "2027-04-01", "2026-04-01", 1): "to: 2026-04-01 is not after 2026-10-15",
	} {
		if code, _, errs := ask(t, in, "plan", "season", "-"); code != 2 || !strings.Contains(errs, say) {
			t.Errorf("exit %d, %s", code, errs)
		}
	}
}
