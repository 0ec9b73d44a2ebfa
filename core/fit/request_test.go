package fit

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"

	"grapnel/core/document"
	"grapnel/core/reading/readingtest"
	"grapnel/core/words"
)

func TestExampleIsTheRequest(t *testing.T) {
	data, err := os.ReadFile("testdata/request.json")
	if err != nil {
		t.Fatal(err)
	}
	r, err := Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	out, err := json.Marshal(r.Rank(readingtest.Labels, words.Voice{}))
	if err != nil {
		t.Fatal(err)
	}
	if wrong := checkResult(t, out); wrong != nil {
		t.Error(wrong)
	}
	for _, want := range []string{`"tag":"S-04","about":"EFB, 680 A SAE, 65 Ah, L2","fits":true`, `wears out in months`,
		`36 mm too long`, `"charge_first":true`} {
		if !strings.Contains(string(out), want) {
			t.Errorf("%s is not in the answer:\n%s", want, out)
		}
	}
}

// checkResult compares an answer with its published shape.
func checkResult(t *testing.T, out []byte) error {
	t.Helper()
	tree, err := document.Parse(out, Format)
	if err != nil {
		return err
	}
	if wrong := document.Check(tree, resultShape); len(wrong) > 0 {
		return wrong
	}
	return nil
}

func TestBadRequests(t *testing.T) {
	ok := `{"format":"grapnel.fit_request/1","vehicle":{"class":"car"},"today":"2026-11-24","stock":[%s]}`
	tests := []struct{ doc, path, says string }{
		{`{"format":"grapnel.fit_request/1","vehicle":{"class":"car"},"today":"2026-02-30","stock":[]}`, "today", "not a date"},
		{`{"format":"grapnel.fit_request/1","vehicle":{"class":"car"},"today":"24.11.2026","stock":[]}`, "today", "2026-01-31"},
		{fmt.Sprintf(ok, `{"chemistry":"agm"}`), "stock[0].tag", "missing"},
		{fmt.Sprintf(ok, `{"tag":" ","chemistry":"agm"}`), "stock[0].tag", "empty"},
		{fmt.Sprintf(ok, `{"tag":"a","chemistry":"agm"},{"tag":"A","chemistry":"agm"}`), "stock[1].tag",
			"stands at stock[0] already"},
		{fmt.Sprintf(ok, `{"tag":"a","chemistry":"agm","size_mm":[240,175]}`), "stock[0].size_mm", "3 to 3"},
		{fmt.Sprintf(ok, `{"tag":"a","chemistry":"agm","size_mm":[240,175,3]}`), "stock[0].size_mm[2]", "40 to 800"},
		{fmt.Sprintf(ok, `{"tag":"a","chemistry":"lithium"}`), "stock[0].chemistry", "unknown"},
		{fmt.Sprintf(ok, `{"tag":"a","chemistry":"agm","colour":"red"}`), "stock[0].colour", "unknown field"},
	}
	for _, c := range tests {
		_, err := Decode([]byte(c.doc))
		if err == nil || !strings.Contains(err.Error(), c.path) || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s\n%v; want %s: %s", c.doc, err, c.path, c.says)
		}
	}
}

// Whatever is asked within its ranges gets an answer of the published shape.
func TestOddRequestsAnswer(t *testing.T) {
	for _, doc := range []string{
		`{"tag":"a","chemistry":"gel","volts":8}`,
		`{"tag":"a","chemistry":"gel","rating":{"cca":3000,"ah_20h":1}}`,
		`{"tag":"a","chemistry":"agm_deep_cycle","rating":{"rc_min":1},"tested":{"rest_volts":0}}`,
		`{"tag":"a","chemistry":"agm","rating":{"ca":5},"tested":{"rest_volts":20,"cca":5},"made":"1901-01"}`,
		`{"tag":"a","chemistry":"flooded","rating":{"cca":5,"standard":"DIN"},"group":"nonsense"}`,
	} {
		for _, v := range []string{`"class":"car"`,
			`"class":"tractor","system_volts":24,"arrangement":"series","fuel":"diesel"`, `"class":"electric"`} {
			r := ask(t, v, `"cca":3000,"rc_min":1000,"ah_20h":600`,
				`,"coldest_c":-60,"engine":{"litres":30,"draw_amps":3000}`, doc)
			out, err := json.Marshal(r.Rank(readingtest.Labels, words.Voice{}))
			if err != nil {
				t.Fatal(err)
			}
			if wrong := checkResult(t, out); wrong != nil {
				t.Errorf("%s: %v", doc, wrong)
			}
		}
	}
}
