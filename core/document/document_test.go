package document

import (
	"encoding/json"
	"errors"
	"strings"
	"testing"
)

// order is a document with every kind of place.
var order = Object([]string{"format", "lines"}, map[string]Shape{
	"format": Words("order/1"), "paid": Flag(), "note": Text(5), "made": {Kind: "month"}, "due": {Kind: "date"}, "at": {Kind: "time"},
	"tier": {Kind: "number", Words: []string{"1", "2"}, Unit: "x"}, "count": {Kind: "integer", Min: 0, Max: 9},
	"lines": List(1, 2, Shape{Kind: "variant", By: "kind", What: "line", Common: map[string]Shape{"by": Text(9)},
		Variants: map[string]Shape{
			"weight": Object([]string{"kg"}, map[string]Shape{"kg": Number(0, 10, "kg")}),
			"word":   Object(nil, map[string]Shape{"text": Text(3)}),
		}}),
})

// Each thing wrong is found where it is, all at once, with a way out.
func TestDecodeFindsEverything(t *testing.T) {
	for doc, says := range map[string][]string{
		`{"format":"order/1","lines":[{"kind":"weight","kg":3,"by":"me"}],"paid":true,"note":"écrou","made":"2022-03","due":"2024-02-29","at":"2026-01-31T09:41:00Z","tier":2,"count":4}`: nil,
		`{"format":"order/2","lines":[]}`: {`format: "order/2" is unknown; use one of order/1`, "lines: has 0 entries"},
		`{"format":"order/1","lines":[{"kind":"weight"},{"kind":"length"}]}`: {"lines[0].kg: is missing",
			"lines[1].kind"},
		`{"format":"order/1","lines":[{"kind":"weight","kg":11,"text":"x"}]}`: {"outside 0 to 10 kg",
			"lines[0].text: unknown field. Known here: by, kg, kind"},
		`{"format":"order/1","lines":[{"kind":"word"},{"kind":"word"},{"kind":"word"}]}`:       {"lines: has 3 entries; 1 to 2 are"},
		`{"format":"order/1","lines":[3],"paid":1,"note":"too long","made":"22-3","at":"now"}`: {"lines[0]: 3 is not a line", "not true or false", "longer than 5", "not a month", "not a time"},
		`{"format":"order/1","lines":[{"kind":"word"}],"due":"2026-02-29"}`:                    {"not a date"},
		`{"format":"order/1","lines":[{"kind":"word"}],"due":"1850-01-01"}`:                    {"not a date"},
		`{"format":"order/1","lines":[{"kind":"word"}],"due":"2026-1-31"}`:                     {"write year, month and day"},
		`{"format":"order/1","lines":[{"kind":"word"}],"tier":3,"count":1.5}`: {"3 is not one of 1, 2 x",
			"1.5 is not a whole number"},
		`{"format":"order/1","lines":[{"kind":"weight","kg":"3"}]}`:   {"Write it without quotes"},
		`{"format":"order/1","lines":[{"kind":"weight","kg":1e999}]}`: {"too large"},
		"{\n \"format\": }":   {"line 2"},
		`{"format":"order/1"`: {"cut off"},
		`{} {}`:               {"more follows"},
		"":                    {"a order/1 document was expected"},
		"\xff":                {"UTF-8"},
		`[1]`:                 {"is not an object"},
	} {
		var into map[string]any
		err := Decode([]byte(doc), "order/1", order, &into)
		var problems Problems
		if (err == nil) != (says == nil) || err != nil && !errors.As(err, &problems) {
			t.Errorf("%s: %v", doc, err)
			continue
		}
		for _, say := range says {
			if !strings.Contains(err.Error(), say) {
				t.Errorf("%s: want %q in\n%v", doc, say, err)
			}
		}
	}
}

// A value in an error is an excerpt, however long it was.
func TestQuoteIsShort(t *testing.T) {
	if got := Quote(strings.Repeat("é", 1000)); len([]rune(got)) != 58 || !strings.HasSuffix(got, "…") {
		t.Errorf("%d letters: %s", len([]rune(got)), got)
	}
	if got := Quote("short"); got != `"short"` {
		t.Errorf("%s", got)
	}
}

// The schema names every field, and what is allowed in it.
func TestSchema(t *testing.T) {
	raw, err := json.Marshal(Schema("order/1", order))
	if err != nil {
		t.Fatal(err)
	}
	for _, part := range []string{`"title":"order/1"`, `"maximum":10`, `"required":["kind","kg"]`,
		`"additionalProperties":false`, `"enum":["weight"]`, `"format":"date-time"`} {
		if !strings.Contains(string(raw), part) {
			t.Errorf("no %s in %s", part, raw)
		}
	}
}
