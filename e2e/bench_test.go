// Package e2e drives the real interface in Chromium against the demo workshop.
package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/audits"
	"github.com/chromedp/cdproto/log"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"

	"grapnel/internal/demo"
	"grapnel/internal/stage"
)

var theatre *stage.Stage

func TestMain(m *testing.M) {
	s, stop, err := stage.Start(context.Background())
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	theatre = s
	code := m.Run()
	stop()
	os.Exit(code)
}

// tab is a tab of its own browser, and everything it complained about.
type tab struct {
	t   testing.TB
	ctx context.Context

	mu         sync.Mutex
	complaints []string
}

// open opens an empty tab on a screen. When the test ends, any console error, page
// exception or policy violation fails it.
func open(t testing.TB, screen stage.Screen) *tab {
	t.Helper()
	ctx, end, err := theatre.Tab()
	must(t, err)
	ctx, cancel := context.WithTimeout(ctx, 10*time.Minute) // a slow machine's longest test; a step has less
	b := &tab{t: t, ctx: ctx}
	chromedp.ListenTarget(ctx, b.listen)
	t.Cleanup(func() {
		b.mu.Lock()
		defer b.mu.Unlock()
		for _, c := range b.complaints {
			t.Errorf("the browser complained: %s", c)
		}
		cancel()
		end()
	})
	b.do(audits.Enable(), log.Enable(), stage.On(screen))
	return b
}

func (b *tab) listen(event any) {
	b.mu.Lock()
	defer b.mu.Unlock()
	switch e := event.(type) {
	case *runtime.EventConsoleAPICalled:
		if e.Type == runtime.APITypeError || e.Type == runtime.APITypeWarning {
			b.complaints = append(b.complaints, fmt.Sprintf("console %s: %s", e.Type, args(e.Args)))
		}
	case *runtime.EventExceptionThrown:
		b.complaints = append(b.complaints, "exception: "+e.ExceptionDetails.Error())
	case *log.EventEntryAdded:
		// Refusals that a test provokes are logged by the network, not by us.
		if e.Entry.Level == log.LevelError && e.Entry.Source != log.SourceNetwork {
			b.complaints = append(b.complaints, fmt.Sprintf("%s: %s", e.Entry.Source, e.Entry.Text))
		}
	case *audits.EventIssueAdded:
		if e.Issue.Code == audits.InspectorIssueCodeContentSecurityPolicyIssue {
			b.complaints = append(b.complaints,
				"policy violation: "+e.Issue.Details.ContentSecurityPolicyIssueDetails.ViolatedDirective)
		}
	}
}

func args(in []*runtime.RemoteObject) string {
	var out []string
	for _, a := range in {
		out = append(out, string(a.Value)+a.Description)
	}
	return strings.Join(out, " ")
}

// do runs steps, and on failure says what the page showed.
func (b *tab) do(steps ...chromedp.Action) {
	b.t.Helper()
	for i, step := range steps {
		ctx, cancel := context.WithTimeout(b.ctx, 30*time.Second)
		err := chromedp.Run(ctx, step)
		cancel()
		if err != nil {
			var text string
			_ = chromedp.Run(b.ctx, chromedp.Evaluate(`location.pathname + " reads:\n" + document.body.innerText`, &text))
			b.t.Fatalf("step %d of %d: %v; the page %s", i+1, len(steps), err, text)
		}
	}
}

// What is done on a page, as the pictures do it.
var (
	click, press = stage.Click, stage.Press
	enter, reads = stage.Enter, stage.Reads
)

// signIn opens the floor for somebody of the demo workshop.
func (b *tab) signIn(name string) {
	b.t.Helper()
	for _, p := range demo.SignIns() {
		if p.Name == name {
			b.signInWith(name, p.Passphrase)
			return
		}
	}
	b.t.Fatalf("nobody is called %s", name)
}

// as begins a test that may run beside others, for somebody of the demo workshop.
func as(t *testing.T, screen stage.Screen, name string) *tab {
	t.Helper()
	t.Parallel()
	b := open(t, screen)
	b.signIn(name)
	return b
}

// anew begins a test that may run beside others, for somebody nobody else is.
func anew(t *testing.T, screen stage.Screen, scale string) *tab {
	t.Helper()
	t.Parallel()
	b := open(t, screen)
	b.signInAnew(scale)
	return b
}

// signInWith opens the floor for somebody; the way in through the screen is
// TestFirstJob's.
func (b *tab) signInWith(name, passphrase string) {
	b.t.Helper()
	body, err := json.Marshal(map[string]string{"name": name, "passphrase": passphrase})
	must(b.t, err)
	answer, err := http.Post(theatre.URL+"/api/session", "application/json", bytes.NewReader(body))
	must(b.t, err)
	_ = answer.Body.Close()
	if answer.StatusCode != http.StatusOK {
		b.t.Fatalf("signing in as %s: %s", name, answer.Status)
	}
	for _, c := range answer.Cookies() {
		b.do(network.SetCookie(c.Name, c.Value).WithURL(theatre.URL).WithHTTPOnly(c.HttpOnly).
			WithSameSite(network.CookieSameSiteLax))
	}
	b.do(chromedp.Navigate(theatre.URL), chromedp.WaitVisible(stage.Button("New job"), chromedp.BySearch))
}

// wide reports how much wider the page is than its screen.
func (b *tab) sideways() (px int) {
	b.do(chromedp.Evaluate(`document.documentElement.scrollWidth - document.documentElement.clientWidth`, &px))
	return px
}
