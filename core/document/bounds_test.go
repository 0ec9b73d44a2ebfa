package document

import (
	"encoding/json"
	"fmt"
	"runtime"
	"strings"
	"testing"
)

// Both sides of what may be nested, of how many fields an object may have, and of how
// many values a size may hold.
func TestBounds(t *testing.T) {
	nested := func(n int) string { return strings.Repeat(`[`, n) + strings.Repeat(`]`, n) }
	fields := func(n int) string {
		var b strings.Builder
		for i := range n {
			fmt.Fprintf(&b, `,"field %d":"and a text that takes its place"`, i)
		}
		return "{" + b.String()[1:] + "}"
	}
	zeros := func(n int) string { return "[0" + strings.Repeat(",0", n-1) + "]" }
	// A zero costs 56 and pays 32 with its comma; what is free is 262,144 less the list.
	last := (costAnyway + 16 - listCost) / (scalarCost - 2*costPerByte)
	for _, c := range []struct{ name, good, bad, says string }{
		{"depth", nested(mostDepth), nested(mostDepth + 1), "nested more than 32 deep"},
		{"members", fields(mostMembers), fields(mostMembers + 1), "more than 300 fields"},
		{"values", zeros(last), zeros(last + 1), "too many values"},
		{"quoted", `["` + strings.Repeat("[{", 100) + `\"` + strings.Repeat(",", 99999) + `"]`, `["` + `\\"` + nested(32) + `]`, "line 1, column 37"},
		{"closed more than opened", `]]]]` + nested(mostDepth), `]` + nested(mostDepth+1), "nested"},
	} {
		if err := Bounded([]byte(c.good)); err != nil {
			t.Errorf("%s: %v", c.name, err)
		}
		if err := Bounded([]byte(c.bad)); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v, want %q", c.name, err, c.says)
		}
	}
}

// Whatever is let through takes no more memory than the bound says, read into maps.
func TestBoundHolds(t *testing.T) {
	for name, one := range map[string]string{"zeros": `0`, "lists": `[]`, "objects": `{}`, "one field": `{"a":0}`, "texts": `"a"`,
		"a reading": `{"kind":"rest_voltage","volts":12.45,"surface_charge":"rested"}`, "many fields": `{"a":0,"b":0,"c":0,"d":0,"e":0,"f":0,"g":0,"h":0,"i":0}`} {
		size := 900 << 10
		data := []byte("[" + strings.TrimSuffix(strings.Repeat(one+",", size/(len(one)+1)), ",") + "]")
		for Bounded(data) != nil { // as many as pass
			size = size * 2 / 3
			data = []byte(
				"[" + strings.TrimSuffix(strings.Repeat(one+",", size/(len(one)+1)), ",") + "]" + strings.Repeat(" ", 1000),
			)
		}
		var before, after runtime.MemStats
		runtime.GC()
		runtime.ReadMemStats(&before)
		tree, err := Parse(data, "order/1")
		runtime.GC()
		runtime.ReadMemStats(&after)
		if grown, most := int(after.HeapAlloc)-int(before.HeapAlloc), costPerByte*len(data)+costAnyway; err != nil ||
			grown > most {
			t.Errorf("%s: %d bytes became %d, bound %d (%v)", name, len(data), grown, most, err)
		}
		runtime.KeepAlive(tree)
	}
}

// However much is wrong, the first twenty are told, each in a few words, and that
// there is more; a list beyond its limit is not walked.
func TestProblemsAreFew(t *testing.T) {
	wrong := func(n int) string {
		return `{"format":"order/1","lines":[{"kind":"word"}]` + strings.Repeat(`,"`+strings.Repeat("é", 500)+`%d":1`, n) + `}`
	}
	for n, told := range map[int]int{1: 1, Most: Most, Most + 1: Most + 1, 250: Most + 1} {
		names := make([]any, n)
		for i := range names {
			names[i] = i
		}
		err := Decode(fmt.Appendf(nil, wrong(n), names...), "order/1", order, &struct{}{})
		found, _ := err.(Problems)
		if len(found) != told || strings.Contains(err.Error(), "and more") != (n > Most) || len(err.Error()) > 8000 {
			t.Errorf("%d wrong: %d told, %d bytes: %.200s", n, len(found), len(err.Error()), err)
		}
	}
	long := `{"format":"order/1","lines":[` + strings.Repeat(`3,`, 500) + `3]}`
	if err := Decode([]byte(long), "order/1", order, &struct{}{}); err.Error() != "lines: has 501 entries; 1 to 2 are allowed" {
		t.Errorf("a long list: %v", err)
	}
}

// An excerpt of any value is short, and right as far as it goes.
func TestExcerpts(t *testing.T) {
	digits := strings.Repeat("7", 5000)
	for want, v := range map[string]any{
		`"` + strings.Repeat("a", 56) + "…": strings.Repeat("a", 1<<20), `[[],"b"]`: []any{[]any{}, "b"},
		`"` + strings.Repeat("7", 56) + "…": json.Number(digits), "12.50": json.Number("12.50"),
		`{"a":{"b":[[]]}}`: map[string]any{"a": map[string]any{"b": []any{[]any{1}}}}, "true": true, "null": nil,
	} {
		if got := Quote(v); got != want {
			t.Errorf("%.80v: %s, want %s", v, got, want)
		}
	}
	for text, want := range map[string]string{strings.Repeat("é", 60): strings.Repeat("é", 60), strings.Repeat("é", 61): strings.Repeat("é", 57) + "…", "": ""} {
		if got := Excerpt(text); got != want {
			t.Errorf("%s: %s", text, got)
		}
	}
}
