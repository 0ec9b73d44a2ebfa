package main

import (
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
)

// The example of a fit request is ranked; request and answer hold by the published schemas.
func TestFit(t *testing.T) {
	const file = "../../core/fit/testdata/request.json"
	code, out, errs := ask(t, "", "fit", file)
	if code != 0 {
		t.Fatalf("exit %d: %s", code, errs)
	}
	raw, err := os.ReadFile(file)
	must(t, err)
	for name, text := range map[string]string{"fit_request": string(raw), "fit": out} {
		s, err := jsonschema.NewCompiler().Compile("../../docs/formats/" + name + ".schema.json")
		must(t, err)
		doc, err := jsonschema.UnmarshalJSON(strings.NewReader(text))
		must(t, err)
		if err := s.Validate(doc); err != nil {
			t.Errorf("%s: %v", name, err)
		}
	}
	var got struct {
		Ranked []struct {
			Tag  string `json:"tag"`
			Fits bool   `json:"fits"`
		} `json:"ranked"`
	}
	must(t, json.Unmarshal([]byte(out), &got))
	// The EFB that has stood longest; a second like it; the AGM, which is stronger; the
	// sealed one with the next size and the wrong build last.
	for i, want := range []string{"S-04", "S-01", "S-03", "S-02"} {
		if got.Ranked[i].Tag != want || got.Ranked[i].Fits != (want != "S-02") {
			t.Errorf("place %d: %+v, want %s", i, got.Ranked[i], want)
		}
	}
	for in, say := range map[string]string{
		``: "the file is empty", `{"format":"grapnel.fit_request/2"}`: "format", `{"format":"grapnel.fit_request/1"}`: "stock: is missing and needed",
		`{"format":"grapnel.fit_request/1","vehicle":{"class":"car"},"today":"2026-11-24","stock":[{"tag":"a","chemistry":"agm","made":"26-03"}]}`: "stock[0].made",
	} {
		if code, _, errs := ask(t, in, "fit", "-"); code != 2 || !strings.Contains(errs, say) {
			t.Errorf("%s: exit %d, %s", in, code, errs)
		}
	}
}
