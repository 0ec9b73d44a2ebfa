package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"grapnel/internal/effort"
	"grapnel/internal/fatal"
	"grapnel/internal/localdb/dbtest"
	"grapnel/internal/passphrase"
	"grapnel/internal/store"
)

const example = "../../core/casefile/testdata/case.json"

// ask runs a command in this process.
func ask(t *testing.T, in string, args ...string) (code int, out, errs string) {
	t.Helper()
	var o, e bytes.Buffer
	ctx, cancel := context.WithTimeout(t.Context(), effort.Patience(2*time.Minute))
	defer cancel()
	code = run(ctx, args, streams{strings.NewReader(in), &o, &e})
	return code, o.String(), e.String()
}

func TestAssess(t *testing.T) {
	raw, err := os.ReadFile(example)
	must(t, err)
	// Strength is read through contacts: what was read before they were cleaned says
	// nothing of it.
	fresh, _, _ := strings.Cut(string(raw), `,
    {"kind": "jump_result"`)
	fresh += "]}"
	_, cleaned, _ := ask(t, string(raw), "assess", "-")
	if strings.Contains(cleaned, "cca_est") {
		t.Error("strength read before the cleaning still speaks")
	}
	file := filepath.Join(t.TempDir(), "case.json")
	must(t, os.WriteFile(file, []byte(fresh), 0o600))
	for name, c := range map[string]struct{ in, file string }{"file": {"", file}, "standard input": {fresh, "-"}} {
		code, out, errs := ask(t, c.in, "assess", c.file)
		var a map[string]any
		if err := json.Unmarshal([]byte(out), &a); err != nil || code != 0 {
			t.Fatalf("%s: exit %d, %v, %s", name, code, err, errs)
		}
		if a["format"] != "grapnel.assessment/1" || a["verdict"] == "" || a["headline"] == "" {
			t.Errorf("%s: %v", name, a)
		}
		sum := 0.0
		suspects, _ := a["suspects"].([]any)
		for _, s := range suspects {
			sum += s.(map[string]any)["probability"].(float64)
		}
		if len(suspects) == 0 || math.Abs(sum-1) > 1e-9 {
			t.Errorf("%s: %d suspects, shares sum to %g", name, len(suspects), sum)
		}
		// What nothing is known about is left out, not made up.
		if _, there := a["fails_below_c"]; there {
			t.Errorf("%s: a cold it fails in is there", name)
		}
		if est, ok := a["cca_est"].(map[string]any); !ok || est["low"].(float64) >= est["high"].(float64) ||
			est["of_rating_pct"].(float64) <= 0 {
			t.Errorf("%s: strength %v", name, a["cca_est"])
		}
	}
}

func TestBadFilesExitWith2(t *testing.T) {
	raw, err := os.ReadFile(example)
	must(t, err)
	for name, c := range map[string]struct{ in, says string }{
		"unknown field": {strings.Replace(string(raw), `"eye": false`, `"eyes": false`, 1),
			"battery.eyes: unknown field"},
		"125 V":      {strings.Replace(string(raw), "12.24", "125", 1), "readings[2].volts"},
		"broken":     {"{", "cut off"},
		"empty":      {"", "empty"},
		"wrong date": {strings.Replace(string(raw), "2022-03", "March", 1), "battery.made"},
		"huge":       {strings.Repeat(" ", 2<<20), "larger than 1 MB"},
	} {
		code, out, errs := ask(t, c.in, "assess", "-")
		if code != 2 || out != "" || !strings.Contains(errs, c.says) {
			t.Errorf("%s: exit %d, output %q, error %q", name, code, out, errs)
		}
	}
	for _, args := range [][]string{{"assess"}, {"assess", "no-such-file.json"}, {"fly"}, {}, {"user"}} {
		if code, _, errs := ask(t, "", args...); code != 2 || errs == "" {
			t.Errorf("%v: exit %d, %q", args, code, errs)
		}
	}
}

// The published schema accepts what Decode accepts and refuses what it refuses.
func TestPublishedSchema(t *testing.T) {
	compiled, err := jsonschema.NewCompiler().Compile("../../docs/formats/case.schema.json")
	must(t, err)
	raw, err := os.ReadFile(example)
	must(t, err)
	check := func(text string) error {
		v, err := jsonschema.UnmarshalJSON(strings.NewReader(text))
		must(t, err)
		return compiled.Validate(v)
	}
	if err := check(string(raw)); err != nil {
		t.Errorf("the example: %v", err)
	}
	for _, swap := range [][2]string{{`"eye": false`, `"eyes": false`}, {`"cca": 650`, `"cca": 0`}, {`"kind": "eye"`,
		`"kind": "nose"`}, {"2022-03", "2022-13"}, {`"volts": 12.24`, `"volts": "twelve"`}} {
		if check(strings.Replace(string(raw), swap[0], swap[1], 1)) == nil {
			t.Errorf("the schema accepts %s", swap[1])
		}
	}
}

// What assess prints follows the published schema of an assessment.
func TestAssessmentFollowsItsSchema(t *testing.T) {
	compiled, err := jsonschema.NewCompiler().Compile("../../docs/formats/assessment.schema.json")
	must(t, err)
	raw, err := os.ReadFile(example)
	must(t, err)
	for _, c := range []string{string(raw), `{"format":"grapnel.case/1","battery":{"chemistry":"gel"},"readings":[]}`} {
		_, out, errs := ask(t, c, "assess", "-")
		v, err := jsonschema.UnmarshalJSON(strings.NewReader(out))
		if err != nil {
			t.Fatal(err, errs)
		}
		if err := compiled.Validate(v); err != nil {
			t.Errorf("%v\n%s", err, out)
		}
		v.(map[string]any)["verdict"] = "scrap"
		if compiled.Validate(v) == nil {
			t.Error("the schema accepts an unknown verdict")
		}
	}
	if code, _, _ := ask(t, "", "schema", "battery"); code != 2 {
		t.Errorf("a schema nobody knows: exit %d", code)
	}
}

func TestMain(m *testing.M) { dbtest.Main(m) }

// Every command says what it is for, and does nothing it was not asked for.
func TestCommandsExplainThemselves(t *testing.T) {
	for _, c := range commands {
		for _, help := range []string{"-h", "--help"} {
			code, out, errs := ask(t, "", c.name, help)
			if code != 0 || !strings.Contains(out+errs, c.name) {
				t.Errorf("%s %s: exit %d, %s%s", c.name, help, code, out, errs)
			}
		}
		if c.args != "" {
			continue
		}
		if code, _, errs := ask(t, "", c.name, "--port", "80"); code != 2 || !strings.Contains(errs, `it takes no arguments: ["--port" "80"]`) {
			t.Errorf("%s with arguments: exit %d, %s", c.name, code, errs)
		}
	}
}

// The whole life of a server as its own process: user add, serve, sign in, stop
// in order, by the binary that would be shipped.
func TestServe(t *testing.T) {
	ctx := context.Background()
	dsn := dbtest.DSN(t)
	bin := filepath.Join(t.TempDir(), "grapnel")
	if out, err := exec.Command("go", "build", "-o", bin, ".").CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	command := func(args ...string) *exec.Cmd {
		c := exec.Command(bin, args...)
		c.Env = append(os.Environ(), "GRAPNEL_DSN="+dsn, "GRAPNEL_ADDRESS=127.0.0.1:0", "GRAPNEL_METRICS=127.0.0.1:0")
		return c
	}
	for in, want := range map[string]string{
		"North bench\nAda\ntechnician\nshort\n":                    "at least 12",
		"North bench\nAda\nboss\nwarm copper on paper\n":           "technician or lead",
		"North bench\nAda of the bench\nlead\nwarm copper paper\n": "",
	} {
		c := command("user", "add")
		c.Stdin = strings.NewReader(in)
		out, err := c.CombinedOutput()
		if (err == nil) != (want == "") || !strings.Contains(string(out), want) {
			t.Errorf("user add: %v %s", err, out)
		}
	}
	s, err := store.Open(ctx, dsn)
	must(t, err)
	defer func() { _ = s.Close() }()
	p, err := s.PersonNamed(ctx, "Ada of the bench")
	if ok, _ := passphrase.Matches(ctx, p.Passphrase, "warm copper paper"); err != nil || p.Role != store.Lead || !ok {
		t.Errorf("added %+v, %v", p, err)
	}

	c := command("serve")
	logs, err := c.StderrPipe()
	must(t, err)
	must(t, c.Start())
	var line struct{ Msg, Address string }
	lines := json.NewDecoder(logs)
	counts := ""
	for line.Msg != "serving" {
		if err := lines.Decode(&line); err != nil {
			t.Fatalf("no address in the log: %v", err)
		}
		if line.Msg == "serving metrics" {
			counts = line.Address
		}
	}
	go func() {
		for lines.Decode(&line) == nil {
		}
	}()
	for path, want := range map[string]int{"/healthz": 200, "/readyz": 200, "/api/jobs": 401,
		"/api/openapi.json": 200} {
		res, err := http.Get("http://" + line.Address + path)
		must(t, err)
		_ = res.Body.Close()
		if res.StatusCode != want {
			t.Errorf("%s: %d, want %d", path, res.StatusCode, want)
		}
	}
	// What it counts of itself, at an address of its own.
	res, err := http.Get("http://" + counts + "/metrics")
	must(t, err)
	text, err := io.ReadAll(res.Body)
	must(t, err)
	_ = res.Body.Close()
	for _, want := range []string{`grapnel_request_seconds_count{method="GET",route="/api/jobs",status="401"} 1`, `grapnel_request_seconds_count{method="GET",route="/healthz",status="200"} 1`,
		"grapnel_sessions 0", "grapnel_streams 0", `go_sql_open_connections{db_name="grapnel"}`, "process_resident_memory_bytes"} {
		if !strings.Contains(string(text), want) {
			t.Errorf("no %s among the metrics", want)
		}
	}
	if res, err := http.Get("http://" + line.Address + "/metrics"); err == nil {
		body, _ := io.ReadAll(res.Body)
		_ = res.Body.Close()
		if strings.Contains(string(body), "grapnel_sessions") {
			t.Error("metrics are served to everybody")
		}
	}
	must(t, c.Process.Signal(syscall.SIGTERM))
	done := make(chan error, 1)
	go func() { done <- c.Wait() }()
	select {
	case err := <-done:
		if err != nil {
			t.Errorf("stopped with %v", err)
		}
	case <-time.After(2 * time.Minute):
		_ = c.Process.Kill()
		t.Error("it did not stop in order")
	}
}

func TestServeWithoutADatabaseSaysWhatToSet(t *testing.T) {
	t.Setenv("GRAPNEL_DSN", "")
	if code, _, errs := ask(t, "", "serve"); code != 2 || !strings.Contains(errs, "GRAPNEL_DSN") {
		t.Errorf("exit %d: %s", code, errs)
	}
	t.Setenv("GRAPNEL_TRUSTED_PROXIES", "10.0.0.0/8, here")
	if code, _, errs := ask(t, "", "serve"); code != 2 || !strings.Contains(errs, `"here" is neither`) {
		t.Errorf("exit %d: %s", code, errs)
	}
	t.Setenv("GRAPNEL_TRUSTED_PROXIES", "10.0.0.0/8,192.0.2.1 ::1")
	if got, err := proxies(os.Getenv("GRAPNEL_TRUSTED_PROXIES")); err != nil ||
		fmt.Sprint(got) != "[10.0.0.0/8 192.0.2.1/32 ::1/128]" {
		t.Errorf("%v, %v", got, err)
	}
	t.Setenv("GRAPNEL_DSN", "root@tcp(127.0.0.1:1)/x")
	if code, _, errs := ask(t, "", "migrate"); code != 1 || !strings.Contains(errs, "127.0.0.1:1") {
		t.Errorf("exit %d: %s", code, errs)
	}
}

// A server waits for a database that is not up yet, says so, and goes on once it is;
// what is wrong for good ends it at once.
func TestServeWaits(t *testing.T) {
	ctx, cancel := context.WithTimeout(t.Context(), 2*time.Minute)
	defer cancel()
	tries := 0
	s, err := whenUp(ctx, func(ctx context.Context) (*store.Store, error) {
		if tries++; tries < 3 {
			return store.Open(ctx, "root@tcp(127.0.0.1:1)/x")
		}
		return store.Open(ctx, dbtest.DSN(t))
	})
	if err != nil || tries != 3 {
		t.Fatalf("%d tries, %v", tries, err)
	}
	_ = s.Close()
	bad := errors.New("access denied")
	if _, err := whenUp(ctx, func(context.Context) (*store.Store, error) { return nil, bad }); !errors.Is(err, bad) {
		t.Errorf("for good: %v", err)
	}
	short, end := context.WithTimeout(ctx, 100*time.Millisecond)
	defer end()
	t.Setenv("GRAPNEL_DSN", "root@tcp(127.0.0.1:1)/x")
	var out, errs strings.Builder
	if code := run(short, []string{"serve"}, streams{strings.NewReader(""), &out, &errs}); code != 1 ||
		!strings.Contains(errs.String(), "waiting for the database") {
		t.Errorf("told to stop while it waits: %d %s", code, errs.String())
	}
}

// What leads do in the place People can be done where the database is, by the same rules.
func TestUserCommands(t *testing.T) {
	dsn := dbtest.DSN(t)
	t.Setenv("GRAPNEL_DSN", dsn)
	ctx := t.Context()
	for _, c := range []struct {
		what, in string
		code     int
		says     string
	}{
		{"add", "North bench\nAda\nlead\npassword1234\n", 2, "easy to guess"},
		{"add", "North bench\nAda\nlead\nshort\n", 2, "at least 12"},
		{"add", " North bench\nAda \nlead\n warm copper paper \n", 0, ""},
		{"add", "South bench\nADA\ntechnician\nwarm copper lamps\n", 2, "taken"},
		{"add", "North bench\nBo\ntechnician\nwarm copper lamps\n", 0, ""},
		{"role", "Ada\ntechnician\n", 1, "only lead"},
		{"role", "Bo\nboss\n", 2, "technician or lead"},
		{"role", "Bo\nlead\n", 0, ""},
		{"close", "ada\n", 0, ""},
		{"list", "North bench\n", 0, "closed"},
		{"open", "ada\n", 0, ""},
		{"passphrase", "Bo\nBo Bo Bo Bo Bo\n", 2, "easy to guess"},
		{"passphrase", "Bo\nanother 7 paper lamps\n", 0, ""},
		{"end", "Bo\n", 0, ""}, {"second-factor", "Bo\n", 0, ""}, {"end", "Nobody\n", 2, "nobody has this name"}, {"fly", "", 2, "grapnel user list"},
	} {
		code, out, errs := ask(t, c.in, "user", c.what)
		if code != c.code || !strings.Contains(out+errs, c.says) {
			t.Errorf("%s %q: %d %s%s", c.what, c.in, code, out, errs)
		}
	}
	s, err := store.Open(ctx, dsn)
	must(t, err)
	defer func() { _ = s.Close() }()
	bo, err := s.PersonNamed(ctx, "Bo")
	if ok, _ := passphrase.Matches(ctx, bo.Passphrase, "another 7 paper lamps"); err != nil || !ok || !bo.MustChange ||
		bo.Role != store.Lead {
		t.Errorf("%+v, %v", bo, err)
	}
	if ada, err := s.PersonNamed(ctx, "Ada"); err != nil || ada.DisabledAt != nil {
		t.Errorf("%+v, %v", ada, err)
	}
}

// One start and answer of the built program, for the figure in the README.
func BenchmarkAssessProcess(b *testing.B) {
	bin := filepath.Join(b.TempDir(), "grapnel")
	if out, err := exec.Command("go", "build", "-o", bin, ".").CombinedOutput(); err != nil {
		b.Fatalf("%v\n%s", err, out)
	}
	for b.Loop() {
		must(b, exec.Command(bin, "assess", example).Run())
	}
}

var must = fatal.On
