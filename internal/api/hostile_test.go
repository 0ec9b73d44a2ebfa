package api

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/document"
	"grapnel/internal/effort"
	"grapnel/internal/localdb/dbtest"
)

// raced says that the race detector is on, under which everything takes several times the
// memory and time: what is measured is then measured elsewhere.
var raced = false

// hostile bodies, each made to cost more than it weighs.
func hostile() map[string]string {
	size := effort.Of(100_000, 300_000, 900_000)
	if raced {
		size /= 10
	}
	many := func(n int, one func(i int) string) string {
		var b strings.Builder
		for i := 0; b.Len() < size && i < n; i++ {
			if i > 0 {
				b.WriteByte(',')
			}
			b.WriteString(one(i))
		}
		return b.String()
	}
	const no = 1 << 30
	field := func(i int) string { return fmt.Sprintf(`"k%06d":0`, i) }
	wrong := func(i int) string { return `{"kind":"rest_voltage","wolts":1,"colour":7}` }
	doc := `{"format":"grapnel.case/1","battery":{"chemistry":"flooded","rating":{"cca":300}},"vehicle":{"class":"car"},"readings":[`
	return map[string]string{
		"unknown fields": "{" + many(no, field) + "}",
		"200 long fields": "{" + many(
			no,
			func(i int) string { return fmt.Sprintf(`"%04d%s":0`, i, strings.Repeat("k", 4000)) },
		) + "}",
		"fields in a field": `{"battery":{` + many(
			no,
			field,
		) + `},"vehicle":{"a":1},"reading":{"a":1},"rules":{"a":1},"lows":{"a":1}}`,
		"299 in each": `{"battery":{` + many(
			299,
			field,
		) + `},"vehicle":{` + many(
			299,
			field,
		) + `},"reading":{` + many(
			299,
			field,
		) + `},"rules":{` + many(
			299,
			field,
		) + `}}`,
		"nested lists":   strings.Repeat("[", size/2) + strings.Repeat("]", size/2),
		"nested objects": strings.Repeat(`{"reading":`, size/12) + "0" + strings.Repeat("}", size/12),
		"numbers":        "[" + many(no, func(int) string { return "0" }) + "]",
		"numbers in a list": `{"complaint":[` + many(
			no,
			func(int) string { return "0" },
		) + `],"lows":[` + many(
			9999,
			func(int) string { return "0" },
		) + `]}`,
		"empty objects":       `{"readings":[` + many(no, func(int) string { return "{}" }) + `]}`,
		"texts":               `{"complaint":[` + many(no, func(int) string { return `""` }) + `]}`,
		"a long text":         `{"name":"` + strings.Repeat("x", size) + `","tag":"` + strings.Repeat("y", 1000) + `"}`,
		"a long number":       `{"version":` + strings.Repeat("9", size) + `}`,
		"a long id":           `{"id":"` + strings.Repeat("0", size) + `"}`,
		"an open text":        `{"name":"` + strings.Repeat("\\\"", size/2),
		"escapes":             `{"note":"` + strings.Repeat(`\u0000`, size/6) + `"}`,
		"half a character":    `{"note":"` + strings.Repeat("\xc3", size) + `"}`,
		"blank":               strings.Repeat(" ", size),
		"wrong readings":      doc + many(no, wrong) + "]}",
		"499 wrong readings":  doc + many(499, wrong) + "]}",
		"readings of no kind": doc + many(no, func(int) string { return `{"kind":"x"}` }) + "]}",
		"swapped leads":       doc + many(no, func(int) string { return `{"kind":"rest_voltage","volts":-12}` }) + "]}",
	}
}

// No request may cost more than a small multiple of its size: for every operation that
// takes a body, with hostile bodies of many makes, the answer is short, and neither
// memory nor time runs away.
func TestHostileBodies(t *testing.T) {
	quiet(t)
	shop := newBench(t, dbtest.Server(), func(c *Config) { c.SignInsMinute = 1 << 20 })
	h := shop.Config.Handler
	lead := shop.as(t, "First lead")
	job := lead.opened()
	cookies := lead.client.Jar.Cookies(must2(http.NewRequest("GET", lead.base, nil)).URL)
	send := func(method, path string, body []byte) *httptest.ResponseRecorder {
		r := httptest.NewRequest(method, path, bytes.NewReader(body))
		r.Header.Set("Content-Type", "application/json")
		if path != "/api/session" { // signing out would end the rest
			for _, c := range cookies {
				r.AddCookie(c)
			}
		}
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		return w
	}
	bodies := hostile()
	worst := 0.0
	for at, item := range Describe().Paths {
		path := strings.NewReplacer("{id}", job, "{reading}", newID(), "{tag}", "K-0001").Replace(at)
		for method, op := range map[string]*huma.Operation{"POST": item.Post, "PUT": item.Put, "DELETE": item.Delete} {
			if op == nil {
				continue
			}
			if path == "/api/cases" {
				path += "?id=" + newID()
			}
			for name, body := range bodies {
				var before, after runtime.MemStats
				runtime.ReadMemStats(&before)
				start := effort.CPU()
				w := send(method, path, []byte(body))
				took := effort.CPU() - start
				runtime.ReadMemStats(&after)
				// A sheet alone takes up to a megabyte, whatever the body.
				grown := float64(
					after.TotalAlloc-before.TotalAlloc-min(1<<20, after.TotalAlloc-before.TotalAlloc),
				) / float64(
					len(body),
				)
				if raced {
					grown, took = 0, 0
				}
				if w.Body.Len() > 64<<10 || grown > 20 || took > time.Second || w.Code >= 500 {
					t.Errorf(
						"%s %s with %s (%d): %d in %s, %d bytes answered, %.1f times its size taken",
						method,
						at,
						name,
						len(body),
						w.Code,
						took,
						w.Body.Len(),
						grown,
					)
				}
				worst = max(worst, grown)
			}
		}
	}
	t.Logf("at most %.1f times the size of a body was allocated", worst)
}

// Of what the HTTP layer finds wrong only so much is told, and that there is more; from both
// sides of how much.
func TestProblemsToldAreFew(t *testing.T) {
	for n, told := range map[int]int{1: 1, document.Most: document.Most, document.Most + 1: document.Most + 1, 250: document.Most + 1} {
		var found []error
		for i := range n {
			found = append(found, &huma.ErrorDetail{Location: fmt.Sprintf("body.f%d", i), Message: "expected number"})
		}
		var answer struct{ Errors []huma.ErrorDetail }
		raw, err := json.Marshal(plainly(http.StatusUnprocessableEntity, "validation failed", found...))
		must(t, err)
		must(t, json.Unmarshal(raw, &answer))
		if got := answer.Errors; len(got) != told || strings.Contains(got[len(got)-1].Message, "and more") != (n > document.Most) {
			t.Errorf("of %d told %d: %+v", n, len(got), got)
		}
	}
}

func must2[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}
