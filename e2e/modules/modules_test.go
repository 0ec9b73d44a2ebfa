// Package modules checks the logic of the front end by tables: a module is bundled alone,
// put into one bare page of Chromium, and its functions are called there. No server answers
// and nothing is drawn but what a hook needs to live in.
package modules

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"sync"
	"testing"

	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	"github.com/evanw/esbuild/pkg/api"

	"grapnel/internal/effort"
	"grapnel/internal/fatal"
	"grapnel/internal/stage"
)

const src = "../../web/src/"

var browser context.Context

// blank is where the bare page is: it keeps what a page may keep.
var blank *httptest.Server

func TestMain(m *testing.M) {
	effort.LeaveOut()
	tab, shut, err := stage.Browse(context.Background())
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	blank = httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path != "/" {
			http.NotFound(w, r)
			return
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		_, _ = w.Write([]byte("<!doctype html><title>bare</title><div id=bare></div>"))
	}))
	browser = tab
	code := m.Run()
	shut()
	blank.Close()
	os.Exit(code)
}

// module is the bare page with a module in it, as m.
type module struct{ t *testing.T }

// load opens the bare page with nothing kept, runs what comes before, and puts the modules
// of web/src into it together with what more names from packages.
func load(t *testing.T, before string, paths []string, more ...string) module {
	t.Helper()
	m := module{t}
	m.do(chromedp.Navigate(blank.URL), chromedp.Evaluate(`localStorage.clear(); `+before+`; 1`, nil))
	m.put(paths, more...)
	return m
}

// again loads the page anew, as a refresh does: what is kept stays.
func (m module) again(before string, paths []string, more ...string) {
	m.t.Helper()
	m.do(chromedp.Navigate(blank.URL), chromedp.Evaluate(before+`; 1`, nil))
	m.put(paths, more...)
}

func (m module) put(paths []string, more ...string) {
	m.t.Helper()
	var entry strings.Builder
	for _, p := range paths {
		_, _ = fmt.Fprintf(&entry, "export * from %q;\n", "./"+p)
	}
	for _, line := range more {
		entry.WriteString(line + ";\n")
	}
	m.do(chromedp.Evaluate(bundled(m.t, entry.String())+"; 1", nil))
}

var bundles sync.Map // by what they are of

func bundled(t *testing.T, entry string) string {
	t.Helper()
	if made, is := bundles.Load(entry); is {
		return made.(string)
	}
	out := api.Build(api.BuildOptions{
		Stdin:  &api.StdinOptions{Contents: entry, ResolveDir: src, Loader: api.LoaderTSX},
		Bundle: true, Format: api.FormatIIFE, GlobalName: "m", JSX: api.JSXAutomatic,
		Define:   map[string]string{"process.env.NODE_ENV": `"production"`, "import.meta.env": "{}"},
		LogLevel: api.LogLevelSilent,
	})
	for _, e := range out.Errors {
		t.Fatalf("bundling %s: %s", entry, e.Text)
	}
	bundles.Store(entry, string(out.OutputFiles[0].Contents))
	return string(out.OutputFiles[0].Contents)
}

func (m module) do(steps ...chromedp.Action) {
	m.t.Helper()
	ctx, cancel := context.WithTimeout(browser, stage.Patience)
	defer cancel()
	fatal.On(m.t, chromedp.Run(ctx, steps...))
}

// gives is what an expression comes to, awaited, as JSON.
func (m module) gives(js string) string {
	m.t.Helper()
	var out string
	m.do(chromedp.Evaluate(`(async () => JSON.stringify(await (`+js+`)) ?? "undefined")()`, &out,
		func(p *runtime.EvaluateParams) *runtime.EvaluateParams { return p.WithAwaitPromise(true) }))
	return out
}

// is checks a table of expressions and what each comes to, as JSON.
func (m module) is(table ...[2]string) {
	m.t.Helper()
	asked := make([]string, len(table))
	for i, row := range table {
		asked[i] = `(() => { try { return JSON.stringify(` + row[0] + `) ?? "undefined" } catch (e) { return String(e) } })()`
	}
	var got []string
	fatal.On(m.t, json.Unmarshal([]byte(m.gives(`[`+strings.Join(asked, ",\n")+`]`)), &got))
	for i, row := range table {
		if got[i] != row[1] {
			m.t.Errorf("%s is %s, want %s", row[0], got[i], row[1])
		}
	}
}
