package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"grapnel/core/jump"
)

// Every example of a jump request is planned; the request and its plan hold by the
// published schemas.
func TestPlanJump(t *testing.T) {
	files, err := filepath.Glob("../../core/jump/testdata/*.json")
	if err != nil || len(files) < 4 {
		t.Fatal(files, err)
	}
	compile := func(name string) *jsonschema.Schema {
		s, err := jsonschema.NewCompiler().Compile("../../docs/formats/" + name + ".schema.json")
		must(t, err)
		return s
	}
	asks, answers := compile("jump_request"), compile("jump_plan")
	allowed := 0
	for _, file := range files {
		code, out, errs := ask(t, "", "plan", "jump", file)
		if code != 0 {
			t.Fatalf("%s: exit %d: %s", file, code, errs)
		}
		raw, err := os.ReadFile(file)
		must(t, err)
		for _, c := range []struct {
			by   *jsonschema.Schema
			text string
		}{{asks, string(raw)}, {answers, out}} {
			doc, err := jsonschema.UnmarshalJSON(strings.NewReader(c.text))
			must(t, err)
			if err := c.by.Validate(doc); err != nil {
				t.Errorf("%s: %v", file, err)
			}
		}
		var p jump.Request
		must(t, json.Unmarshal(raw, &p))
		var plan struct {
			Allowed bool `json:"allowed"`
		}
		must(t, json.Unmarshal([]byte(out), &plan))
		if plan.Allowed {
			allowed++
		}
	}
	if allowed != len(files)-1 {
		t.Errorf("%d of %d are allowed: one of them is refused", allowed, len(files))
	}
	for in, say := range map[string]string{
		``: "the file is empty", `{"format":"grapnel.jump_request/2"}`: "format", `{"format":"grapnel.jump_request/1"}`: "flat: is missing and needed",
		`{"format":"grapnel.jump_request/1","flat":{"vehicle":{"class":"car"},"battery":{"chemistry":"agm","rating":{"cca":300}},"soc_pct":5,"colour":1},"source":{"kind":"pack","cca":300}}`: "flat.colour",
		`{"format":"grapnel.jump_request/1","flat":{"vehicle":{"class":"car"},"battery":{"chemistry":"agm","rating":{}},"soc_pct":5},"source":{"kind":"pack","cca":300}}`:                     "flat.battery.rating",
	} {
		if code, _, errs := ask(t, in, "plan", "jump", "-"); code != 2 || !strings.Contains(errs, say) {
			t.Errorf("%s: exit %d, %s", in, code, errs)
		}
	}
	names := schemaNames()
	if !slices.Contains(names, "jump_request") || !slices.Contains(names, "jump_plan") {
		t.Error(names)
	}
}
