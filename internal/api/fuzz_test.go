package api

import (
	"bytes"
	"net/http"
	"net/http/httptest"
	"net/url"
	"slices"
	"strings"
	"testing"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/internal/localdb/dbtest"
)

// FuzzBodies sends any body to any operation that takes one: none breaks the server, what
// is refused is refused in few words, and what names a field names it in the body or in
// the address.
func FuzzBodies(f *testing.F) {
	quiet(f)
	shop := newBench(f, dbtest.Server(), func(c *Config) { c.SignInsMinute = 1 << 30 })
	c := shop.as(f, "First lead")
	id := c.opened()
	type operation struct{ method, path string }
	var all []operation
	for path, item := range Describe().Paths {
		for method, op := range map[string]*huma.Operation{"POST": item.Post, "PUT": item.Put, "DELETE": item.Delete} {
			// Accounts and sessions would be taken away from under the next try.
			if op != nil && !strings.HasPrefix(path, "/api/session") && !strings.HasPrefix(path, "/api/people") {
				all = append(all, operation{method, path})
			}
		}
	}
	slices.SortFunc(all, func(a, b operation) int { return strings.Compare(a.method+a.path, b.method+b.path) })
	for i := range all {
		f.Add(byte(i), id, []byte(`{"id":"01890a5d-ac96-774b-bcce-b302099a8057","reading":{"kind":"rest_voltage","volts":12.4}}`))
	}
	f.Add(
		byte(0),
		"K-0001",
		[]byte(
			`{"format":"grapnel.case/1","battery":{"chemistry":"agm","rating":{}},"readings":[{"kind":"load_test","volts_end":9}]}`,
		),
	)
	token := c.token("grapnel")
	f.Fuzz(func(t *testing.T, which byte, name string, body []byte) {
		o := all[int(which)%len(all)]
		at := url.PathEscape(name)
		path := strings.NewReplacer("{id}", at, "{reading}", at, "{tag}", at).Replace(o.path)
		r, err := http.NewRequest(o.method, path+"?id="+url.QueryEscape(name), bytes.NewReader(body))
		if err != nil {
			t.Skip() // no address
		}
		r.RemoteAddr = "192.0.2.1:1"
		r.Header.Set("Content-Type", "application/json")
		r.AddCookie(&http.Cookie{Name: "grapnel", Value: token})
		w := httptest.NewRecorder()
		shop.Config.Handler.ServeHTTP(w, r)
		if w.Code >= 500 || w.Code >= 400 && w.Body.Len() > 64<<10 {
			t.Errorf("%s %s with %.300q: %d %.300s", o.method, path, body, w.Code, w.Body)
		}
	})
}
