// Package e2e drives the real interface in Chromium against the demo workshop.
package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"os"
	"reflect"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/audits"
	"github.com/chromedp/cdproto/log"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"

	"grapnel/internal/demo"
	"grapnel/internal/effort"
	"grapnel/internal/passphrase"
	"grapnel/internal/stage"
	"grapnel/internal/store"
)

var theatre *stage.Stage

func TestMain(m *testing.M) {
	effort.LeaveOut()
	passphrase.Cheap()
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
	// Whoever is signed in, and how a program asks the server as that person.
	person store.Person
	client *http.Client
	server string // what it asks
	// The page of somebody just signed in is opened when something is done on it: most
	// tests go elsewhere first, and every page costs a second of a processor.
	unopened bool

	mu         sync.Mutex
	complaints []string
}

// open opens an empty tab on a screen. When the test ends, any console error, page
// exception or policy violation fails it.
func open(t testing.TB, screen stage.Screen) *tab {
	t.Helper()
	ctx, end, err := theatre.Tab()
	must(t, err)
	ctx, cancel := context.WithCancel(ctx)
	b := &tab{t: t, ctx: ctx, server: theatre.URL}
	chromedp.ListenTarget(ctx, b.listen)
	t.Cleanup(func() {
		b.mu.Lock()
		defer b.mu.Unlock()
		for _, c := range b.complaints {
			t.Errorf("the browser complained: %s", c)
		}
		cancel()
		end(!t.Failed())
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

// do runs steps, and on failure says what was waited for and what the page showed.
func (b *tab) do(steps ...chromedp.Action) {
	b.t.Helper()
	for i, step := range steps {
		if _, elsewhere := step.(visit); b.unopened && !elsewhere {
			b.floor()
		}
		b.unopened = false
		ctx, cancel := context.WithTimeout(b.ctx, stage.Patience+10*time.Second)
		err := chromedp.Run(ctx, step)
		cancel()
		if err != nil {
			var text string
			_ = chromedp.Run(b.ctx, chromedp.Evaluate(`location.pathname + " reads:\n" + document.body.innerText`, &text))
			b.t.Fatalf("step %d of %d%s: %v; the page %s", i+1, len(steps), awaitedBy(step), err, text)
		}
	}
}

// awaitedBy says what a step of the library waits for, whose errors name nothing.
func awaitedBy(step chromedp.Action) string {
	if s, is := step.(*chromedp.Selector); is {
		return fmt.Sprintf(", for %v", reflect.ValueOf(s).Elem().FieldByName("sel"))
	}
	return ""
}

// onEveryPage has every page of the tab run a script before its own, until the test ends.
func (b *tab) onEveryPage(js string) {
	b.t.Helper()
	var id page.ScriptIdentifier
	must(b.t, chromedp.Run(b.ctx, chromedp.ActionFunc(func(ctx context.Context) (err error) {
		id, err = page.AddScriptToEvaluateOnNewDocument(js).Do(ctx)
		return err
	})))
	b.t.Cleanup(func() { must(b.t, chromedp.Run(b.ctx, page.RemoveScriptToEvaluateOnNewDocument(id))) })
}

// visit is a way to a page of the workshop.
type visit string

// Do opens the page.
func (v visit) Do(ctx context.Context) error {
	if err := chromedp.Navigate(theatre.URL + string(v)).Do(ctx); err != nil {
		return fmt.Errorf("going to %s: %w", string(v), err)
	}
	return nil
}

// floor opens the floor.
func (b *tab) floor() {
	b.t.Helper()
	b.unopened = false
	b.do(visit("/"), stage.Shown(stage.Button("New job")))
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

// anew begins a test that may run beside others, for somebody of a new workshop: nothing
// another test does is seen there, nor costs anything.
func anew(t *testing.T, screen stage.Screen, scale string) *tab {
	t.Helper()
	t.Parallel()
	b := open(t, screen)
	b.signInAs(newPerson(t, newWorkshop(t).ID, "", scale))
	return b
}

// among begins a test for somebody of the demo workshop whom no other test knows.
func among(t *testing.T, screen stage.Screen, scale string) *tab {
	t.Helper()
	t.Parallel()
	ines, err := theatre.Store.PersonNamed(context.Background(), "Ines")
	must(t, err)
	b := open(t, screen)
	b.signInAs(newPerson(t, ines.WorkshopID, "", scale))
	return b
}

// signInWith makes a tab somebody's; the way in through the screen is TestFirstJob's.
func (b *tab) signInWith(name, passphrase string) {
	b.t.Helper()
	body, err := json.Marshal(map[string]string{"name": name, "passphrase": passphrase})
	must(b.t, err)
	jar, err := cookiejar.New(nil)
	must(b.t, err)
	b.client = &http.Client{Jar: jar}
	answer, err := b.client.Post(theatre.URL+"/api/session", "application/json", bytes.NewReader(body))
	must(b.t, err)
	_ = answer.Body.Close()
	if answer.StatusCode != http.StatusOK {
		b.t.Fatalf("signing in as %s: %s", name, answer.Status)
	}
	for _, c := range answer.Cookies() {
		must(b.t, chromedp.Run(b.ctx, network.SetCookie(c.Name, c.Value).WithURL(theatre.URL).WithHTTPOnly(c.HttpOnly).
			WithSameSite(network.CookieSameSiteLax)))
	}
	b.unopened = true
}

// signInAs makes a tab somebody's whom newPerson made.
func (b *tab) signInAs(p store.Person) {
	b.t.Helper()
	b.signInWith(p.Name, phrase)
	b.person = p
}

// colleague opens a tab of somebody else of the same workshop, on a page of it.
func (b *tab) colleague(role, path string) *tab {
	b.t.Helper()
	p := newPerson(b.t, b.person.WorkshopID, "", "C")
	if role == store.Lead {
		must(b.t, theatre.Store.SetRole(context.Background(), store.Actor{}, p.WorkshopID, p.ID, role))
	}
	other := open(b.t, stage.Desktop)
	other.signInAs(p)
	other.do(visit(path), stage.Shown(`//h1[not(ancestor::article)]`))
	return other
}

// wide reports how much wider the page is than its screen.
func (b *tab) sideways() (px int) {
	b.do(chromedp.Evaluate(`document.documentElement.scrollWidth - document.documentElement.clientWidth`, &px))
	return px
}
