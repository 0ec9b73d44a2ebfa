package e2e

import (
	"testing"
	"time"

	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"

	"grapnel/internal/stage"
)

// offline takes the page's network away, or gives it back.
func offline(off bool) chromedp.Action {
	return network.EmulateNetworkConditions(off, 0, -1, -1)
}

// With the network gone that is said at once, what is saved waits and is counted,
// and with it back it is sent by itself and makes one row.
func TestSavingThroughALostNetwork(t *testing.T) {
	b := as(t, stage.Desktop, "Ines")
	b.do(click("New job"), click("Motorcycle"), click("180 CCA"), click("Open the job"),
		reads("Take the rest voltage first."), enter("Meter reads", "12.71"), reads("If this is saved"),
		offline(true), reads("No line to the server"), click("Keep, send later"), reads("1 reading waits to be sent."),
		reads("Rest volts 12.71 V waits on this device"), offline(false), reads("1 reading was sent"), goTo("Rest volts"),
		reads("Correcting Rest volts 12.71 V"))
	var readings int
	b.do(chromedp.Evaluate(`[...document.querySelectorAll("article tbody tr")].length`, &readings))
	if readings != 1 {
		t.Errorf("%d readings were saved", readings)
	}
}

// A job handed over by mistake is found among the closed ones and opened again.
func TestUndoHandingOver(t *testing.T) {
	b := as(t, stage.Desktop, "Jory")
	b.openJob("K-0129")
	b.do(click("Hand over and close"), reads("Open it again"), click("To the floor"), reads("Next needs hands"),
		chromedp.SendKeys(`input[type=search]`, "K-0129"), reads("0 jobs with"), click("Look among the closed ones"),
		reads("Handed over"))
	b.openJob("K-0129")
	b.do(click("Open it again"), reads("Hand over and close"), click("Floor"), reads("Next needs hands"),
		chromedp.WaitVisible(`//main//a[contains(., "K-0129")]`, chromedp.BySearch))
}

// Signed out in another tab: the sheet asks to sign in and goes on where it was,
// with what was typed.
func TestSessionEndsWhileTyping(t *testing.T) {
	b := as(t, stage.Desktop, "Jory")
	b.openJob("K-0133")
	b.do(goTo("Rest volts"), click("Read again"), enter("Meter reads", "12.34"), reads("If this is saved"),
		chromedp.Evaluate(`fetch("/api/session", { method: "DELETE" }).then(() => 1)`, nil),
		click("Save, go on"), chromedp.WaitVisible(stage.Button("Sign in"), chromedp.BySearch), click("Jory"),
		reads("K-0133"), goTo("Rest volts"), click("Read again"))
	if kept := b.value("Meter reads"); kept != "12.34" {
		t.Errorf("after signing in again the field holds %q", kept)
	}
}

// Everything that can be pressed or filled in has a name for a screen reader,
// and each screen has one heading of the first rank.
func TestNamesForScreenReaders(t *testing.T) {
	b := as(t, stage.Desktop, "Ines")
	check := func(screen string) {
		var nameless []string
		var headings int
		b.do(
			chromedp.Evaluate(
				`[...document.querySelectorAll("button, a, input, [role=img], [role=radio]")].filter(e => {
			const label = e.id && document.querySelector("label[for='" + e.id + "']");
			return !(e.getAttribute("aria-label") || e.textContent.trim() || label || e.closest("label"));
		}).map(e => e.outerHTML.slice(0, 120))`,
				&nameless,
			),
			chromedp.Evaluate(`[...document.querySelectorAll("h1")].filter(h => h.offsetParent).length`, &headings),
		)
		if len(nameless) > 0 {
			t.Errorf("%s: without a name: %v", screen, nameless)
		}
		if headings != 1 {
			t.Errorf("%s: %d headings of the first rank", screen, headings)
		}
	}
	check("floor")
	b.newJob(mower(), rested(12.64))
	check("load test")
	b.do(goTo("Rest volts"))
	check("rest volts")
	b.do(goTo("Decide"))
	check("decide")
	b.do(click("House rules"), reads("Good practitioners"))
	check("house rules")
	b.do(chromedp.KeyEvent("n"), reads("What is it for?"))
	check("new job")
}

// The ear that every test here relies on does hear: a console error, a page
// exception and a policy violation are each noticed.
func TestComplaintsAreHeard(t *testing.T) {
	t.Parallel()
	b := open(t, stage.Desktop)
	b.do(chromedp.Navigate(theatre.URL))
	for what, provoke := range map[string]string{
		"console":   `console.error("provoked"); 1`,
		"exception": `setTimeout(() => { throw new Error("provoked") }); 1`,
		"policy":    `document.body.append(Object.assign(document.createElement("script"), { textContent: "window.x = 1" })); 1`,
	} {
		b.do(chromedp.Evaluate(provoke, nil), chromedp.Sleep(300*time.Millisecond))
		b.mu.Lock()
		heard := b.complaints
		b.complaints = nil
		b.mu.Unlock()
		if len(heard) == 0 {
			t.Errorf("nothing was heard of: %s", what)
		}
	}
}
