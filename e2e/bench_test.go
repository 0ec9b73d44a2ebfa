// Package e2e drives the real interface in Chromium against the demo workshop.
package e2e

import (
	"context"
	"fmt"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/audits"
	"github.com/chromedp/cdproto/log"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"

	"grapnel/e2e/stage"
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

// tab is a browser with one tab, and everything it complained about.
type tab struct {
	t   *testing.T
	ctx context.Context

	mu         sync.Mutex
	complaints []string
}

// open starts a browser on a screen. When the test ends, any console error,
// page exception or policy violation fails it.
func open(t *testing.T, screen stage.Screen) *tab {
	t.Helper()
	ctx, end, err := stage.Browse(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithTimeout(ctx, 3*time.Minute)
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
	b.do(audits.Enable(), log.Enable(), stage.On(screen), chromedp.Navigate(theatre.URL))
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
			b.complaints = append(b.complaints, "policy violation: "+e.Issue.Details.ContentSecurityPolicyIssueDetails.ViolatedDirective)
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
			_ = chromedp.Run(b.ctx, chromedp.Evaluate(`document.body.innerText`, &text))
			b.t.Fatalf("step %d of %d: %v; the page reads:\n%s", i+1, len(steps), err, text)
		}
	}
}

func click(words string) chromedp.Action {
	return chromedp.Click(stage.Button(words), chromedp.BySearch, chromedp.NodeVisible)
}

func enter(label, value string) chromedp.Action {
	return chromedp.SendKeys(stage.Labelled(label), value, chromedp.BySearch, chromedp.NodeVisible)
}

// reads waits until some visible text on the page contains the words.
func reads(words string) chromedp.Action {
	return chromedp.ActionFunc(func(ctx context.Context) error {
		seen := fmt.Sprintf(`document.body.innerText.replaceAll("\u00a0", " ").toLowerCase().includes(%q.toLowerCase())`, words)
		if err := chromedp.Poll(seen, nil, chromedp.WithPollingTimeout(25*time.Second)).Do(ctx); err != nil {
			return fmt.Errorf("waiting to read %q: %w", words, err)
		}
		return nil
	})
}

func (b *tab) signIn(name string) {
	b.t.Helper()
	b.do(click(name), chromedp.WaitVisible(stage.Button("New job"), chromedp.BySearch))
}

// wide reports how much wider the page is than its screen.
func (b *tab) sideways() (px int) {
	b.do(chromedp.Evaluate(`document.documentElement.scrollWidth - document.documentElement.clientWidth`, &px))
	return px
}
