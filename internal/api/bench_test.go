package api

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"grapnel/core/rules"
	"grapnel/internal/fatal"
	"grapnel/internal/localdb"
	"grapnel/internal/localdb/dbtest"
	"grapnel/internal/passphrase"
	"grapnel/internal/store"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

func newID() string { return dbtest.ID() }

// shop is a server with two workshops on a database of its own.
type shop struct {
	*httptest.Server
	store *store.Store
}

// built is a front end as the build leaves it: a page with a place for what is asked
// for first, a packed file, and which files each part needs.
var built = fstest.MapFS{
	"index.html":      {Data: []byte("<body><!-- ahead --></body>")},
	"assets/a.js":     {Data: []byte("unpacked")},
	"assets/a.js.br":  {Data: []byte("packed")},
	"assets/plain.js": {Data: []byte("plain")},
	"manifest.json": {Data: []byte(`{
		"index.html": {"file": "assets/index.js", "imports": ["_vendor"]},
		"_vendor": {"file": "assets/vendor.js"}, "_work": {"file": "assets/work.js", "imports": ["index.html", "_vendor"]},
		"src/screens/job/JobSheet.tsx": {"file": "assets/sheet.js", "imports": ["_vendor", "_work"]}}`)},
}

const phrase = "warm copper on paper"

var testHash = sync.OnceValue(func() string { return passphrase.Hash(phrase) })

// upToDate brings a database up to date.
func upToDate(t testing.TB) func(dsn string) {
	return func(dsn string) {
		s, err := store.Open(context.Background(), dsn)
		must(t, err)
		must(t, s.Migrate(context.Background()))
		must(t, s.Close())
	}
}

func newBench(t testing.TB, db *localdb.Server, change func(*Config)) shop {
	t.Helper()
	ctx := context.Background()
	var dsn string
	if db == dbtest.Server() {
		dsn = dbtest.Like(t, upToDate(t))
	} else {
		made, err := db.Database(ctx, "api")
		must(t, err)
		upToDate(t)(made)
		dsn = made
	}
	s, err := store.Open(ctx, dsn)
	must(t, err)
	t.Cleanup(func() { _ = s.Close() })
	for _, shop := range []string{"First", "Second"} {
		ws := store.Workshop{ID: newID(), Name: shop, TagPrefix: "K", Rules: rules.Default()}
		must(t, s.AddWorkshop(ctx, ws))
		for _, role := range []string{store.Technician, store.Lead} {
			p := store.Person{ID: newID(), WorkshopID: ws.ID, Name: shop + " " + role, Role: role, Passphrase: testHash()}
			must(t, s.AddPerson(ctx, store.Actor{}, p))
		}
	}
	ending, stop := context.WithCancel(ctx)
	c := Config{Store: s, SignInsMinute: 1000, Now: time.Now, SecureCookie: false, Ending: ending,
		Web: fstest.MapFS{
			"index.html":     {Data: []byte(`<meta name="csp-nonce" content="__CSP_NONCE__">`)},
			"docs/page.html": {Data: []byte("<title>docs</title>")},
			"assets/a.js":    {Data: []byte("1")},
		}}
	if change != nil {
		change(&c)
	}
	server := httptest.NewServer(New(c))
	t.Cleanup(func() { stop(); server.Close() })
	return shop{server, s}
}

var must = fatal.On

// caller is somebody's browser.
type caller struct {
	t      testing.TB
	base   string
	client *http.Client
}

func (b shop) nobody(t testing.TB) caller {
	jar, err := cookiejar.New(nil)
	must(t, err)
	return caller{t, b.URL, &http.Client{Jar: jar}}
}

func (b shop) as(t testing.TB, name string) caller {
	t.Helper()
	c := b.nobody(t)
	c.call("POST", "/api/session", map[string]string{"name": name, "passphrase": phrase}).into(200, nil)
	return c
}

// technician is somebody who works in a workshop of their own.
func technician(t testing.TB) caller {
	t.Helper()
	return newBench(t, dbtest.Server(), nil).as(t, "First technician")
}

// opened gives the id of a job that has been opened.
func (c caller) opened() string {
	c.t.Helper()
	id := newID()
	c.call("POST", "/api/jobs", mower(id)).into(200, nil)
	return id
}

type reply struct {
	t      testing.TB
	asked  string
	status int
	header http.Header
	body   []byte
}

// call sends a body (raw when it is a string) and reads the whole answer.
func (c caller) call(method, path string, body any, headers ...string) reply {
	c.t.Helper()
	var in io.Reader
	switch b := body.(type) {
	case nil:
	case string:
		in = strings.NewReader(b)
	default:
		raw, err := json.Marshal(b)
		must(c.t, err)
		in = bytes.NewReader(raw)
	}
	req, err := http.NewRequest(method, c.base+path, in)
	must(c.t, err)
	if body != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	for i := 0; i+1 < len(headers); i += 2 {
		req.Header.Set(headers[i], headers[i+1])
	}
	res, err := c.client.Do(req)
	must(c.t, err)
	defer func() { _ = res.Body.Close() }()
	raw, err := io.ReadAll(res.Body)
	must(c.t, err)
	return reply{c.t, method + " " + path, res.StatusCode, res.Header, raw}
}

// into checks the status and decodes the answer.
func (r reply) into(status int, v any) {
	r.t.Helper()
	if r.status != status {
		r.t.Fatalf("%s: status %d, want %d: %s", r.asked, r.status, status, r.body)
	}
	if v != nil {
		must(r.t, json.Unmarshal(r.body, v))
	}
}

// problem is a problem+json answer.
type problemAnswer struct {
	Detail string `json:"detail"`
	Errors []struct {
		Location string `json:"location"`
		Message  string `json:"message"`
	} `json:"errors"`
}

func mower(id string) map[string]any {
	return map[string]any{"id": id, "customer": "Parks", "note": "turns slowly", "complaint": []string{"slow_crank"},
		"vehicle": map[string]any{"class": "mower", "name": "Mower 3", "system_volts": 12},
		"battery": map[string]any{
			"chemistry": "flooded",
			"rating":    map[string]any{"cca": 300, "standard": "SAE", "ah_20h": 28},
		},
		"conditions": map[string]any{"ambient_c": 21, "battery_c": 21}}
}

func restReading(id string, volts any) map[string]any {
	return map[string]any{"id": id, "reading": map[string]any{"kind": "rest_voltage", "volts": volts,
		"minutes_since_charge": 600, "surface_charge": "rested"}}
}

func loadReading(id string, volts float64) map[string]any {
	return map[string]any{"id": id, "reading": map[string]any{"kind": "load_test", "method": "half_cca", "amps": 150,
		"seconds": 15, "volts_end": volts}}
}

// sheetOf is the part of a job sheet the tests look at.
type sheetOf struct {
	Job struct {
		ID      string  `json:"id"`
		Version int     `json:"version"`
		Note    string  `json:"note"`
		Closed  *string `json:"closed_at"`
		Battery struct {
			Tag string `json:"tag"`
		} `json:"battery"`
	} `json:"job"`
	Readings []struct {
		ID         string `json:"id"`
		ReplacedBy string `json:"replaced_by"`
	} `json:"readings"`
	Verdict  string   `json:"verdict"`
	At       string   `json:"at"`
	InEffect []string `json:"in_effect"`
	SOC      *struct {
		Low, Best, High float64
	} `json:"soc_pct"`
	Findings []struct {
		Code string   `json:"code"`
		IDs  []string `json:"reading_ids"`
	} `json:"findings"`
	Stations []stationOf `json:"stations"`
	Rest     *struct {
		EndsAt time.Time `json:"ends_at"`
	} `json:"rest"`
	Wait struct {
		For  string `json:"for"`
		Word string
	} `json:"wait"`
	Plus struct {
		Role string `json:"role"`
	} `json:"plus"`
}

// stationOf is the part of a station the tests look at.
type stationOf struct {
	Code    string   `json:"code"`
	State   string   `json:"state"`
	Summary string   `json:"summary"`
	Taken   []string `json:"taken"`
	Advice  struct {
		Level string `json:"level"`
		Head  string `json:"head"`
		Ask   string `json:"ask"`
		Ways  []struct {
			Set struct {
				Value float64 `json:"value"`
			} `json:"set"`
		} `json:"ways"`
	} `json:"advice"`
}

func (s sheetOf) station(code string) stationOf {
	for _, st := range s.Stations {
		if st.Code == code {
			return st
		}
	}
	return stationOf{}
}
