package e2e

import (
	"encoding/base64"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/fetch"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"

	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// offline takes the page's network away, or gives it back.
func offline(off bool) chromedp.Action {
	return chromedp.Tasks{network.Enable(), network.EmulateNetworkConditions(off, 0, -1, -1)}
}

// With the network gone that is said at once, what is saved waits and is counted,
// and with it back it is sent by itself and makes one row.
func TestSavingThroughALostNetwork(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.do(click("New job"), reads("What is it for?"), click("Motorcycle"), click("180 CCA"), click("Open the job"),
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

// The browser's own word that the line is gone is taken at once, before anything is
// asked in vain; when the server answers all the same, it stands.
func TestBrowserSaysTheLineIsLost(t *testing.T) {
	b := as(t, stage.Phone, "Ines")
	b.do(
		reads("Next needs hands"),
		chromedp.Evaluate(`window.dispatchEvent(new Event("offline")); 1`, nil),
		reads("No line to the server"),
		until(`!document.body.innerText.includes("No line to the server")`),
	)
}

// What waits of somebody who is signed out, the sign-in page says; it goes out when
// that person is back, and nobody else's name stands on it.
func TestWhatWaitsOfSomebodyElse(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	id, me := b.newJob(mower()), ""
	b.do(
		offline(true),
		reads("No line to the server"),
		stage.Type("[data-big]", "12.71"),
		click("Keep, send later"),
		reads(
			"1 reading waits to be sent.",
		),
		until(`window.scrollY === 0`),
		fetched(`return Object.keys(localStorage).find(k => k.startsWith("grapnel.outbox.")).slice(15)`, &me),
		network.ClearBrowserCookies(),
		offline(false),
		reads("1 reading of "+me),
		reads("waits on this device"),
	)
	first := b.person
	b.signInAs(newPerson(t, first.WorkshopID, "", "C"))
	b.do(visit("/jobs/"+id), reads("Take the rest voltage"))
	if got := b.saved(id); len(got) != 0 {
		t.Errorf("sent as somebody else's: %v", got)
	}
	b.do(network.ClearBrowserCookies())
	b.signInAs(first)
	b.do(reads("1 reading was sent"))
	if got := b.saved(id); len(got) != 1 || got[0]["volts"] != 12.71 {
		t.Errorf("sent: %v", got)
	}
}

// A sheet that was never here says without a line that it cannot be had, instead of
// loading for ever, and comes by itself when the line is back.
func TestSheetWithoutALine(t *testing.T) {
	b := as(t, stage.Phone, "Ines")
	// The rest of the program is fetched ahead, and then it must do without the line.
	b.do(
		reads("Next needs hands"),
		until(
			`["JobSheet", "PersonMenu", "BatteryLife"].every(part => performance.getEntriesByType("resource").some(e => e.name.includes(part)))`,
		),
		chromedp.Sleep(
			time.Second,
		),
		offline(true),
		reads("No line to the server"),
		click("K-0131"),
		reads("The server cannot be reached"),
		offline(false),
		reads("Stop. The case is bulged."),
	)
}

// What waits and is no longer taken, because somebody was there first, is said
// with the reason and stays until it is given up; nothing is lost or overwritten.
func TestWhatWaitsIsRefused(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower(), rested(12.65))
	other := b.colleague(store.Technician, "/jobs/"+id+"?at=rest_voltage")
	b.do(goTo("Rest volts"), click("Correct this one"), enter("Meter reads", "12.11"), reads("If this is saved"),
		offline(true), reads("No line to the server"), click("Keep, send later"), reads("1 reading waits to be sent."))
	other.do(click("Correct this one"), enter("Meter reads", "12.33"), reads("If this is saved"), click("Save, go on"),
		reads("Saved: Rest volts 12.33 V"))
	b.do(offline(false), reads("Rest volts 12.11 V was not taken"), chromedp.Reload(), reads("Rest volts 12.11 V was not taken"),
		click("Give it up"), stage.Gone(`//button[.="Give it up"]`))
	if got := b.saved(id); len(got) != 1 || got[0]["volts"] != 12.33 {
		t.Errorf("in effect: %v", got)
	}
}

// A server that is restarted finds the sheets as they were, and what changed
// meanwhile stands on them without a touch; so does a device that slept.
func TestServerRestart(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower())
	url, end, err := theatre.Serve("127.0.0.1:0")
	must(t, err)
	b.do(chromedp.Navigate(url+"/jobs/"+id+"?at=rest_voltage"), focused("Meter reads"), enter("Meter reads", "12.4"))
	end()
	b.do(reads("No line to the server"))
	other := b.colleague(store.Technician, "/jobs/"+id)
	other.post("/api/jobs/"+id+"/readings", sent(newID(), rested(12.24)))
	_, end, err = theatre.Serve(strings.TrimPrefix(url, "http://"))
	must(t, err)
	b.do(reads(other.person.Name+" saved Rest volts 12.24 V"), stage.Gone(`//*[contains(text(), "No line")]`))
	if kept := b.value("Meter reads"); kept != "12.4" {
		t.Errorf("the entry became %q", kept)
	}
	// So short a gap that nothing was asked for meanwhile: only the stream was cut.
	b.do(click("Seen"))
	end()
	other.post("/api/jobs/"+id+"/readings", sent(newID(), rested(12.28)))
	// A new stream is told of the last half minute; this is to be found out by asking.
	_, err = theatre.Store.DB().Exec(`UPDATE job SET touched_at = ? WHERE id = ?`, time.Now().Add(-time.Hour).UTC(), id)
	must(t, err)
	_, end, err = theatre.Serve(strings.TrimPrefix(url, "http://"))
	must(t, err)
	defer end()
	b.do(reads(other.person.Name + " saved Rest volts 12.28 V"))
	b.do(click("Seen"), page.SetWebLifecycleState(page.SetWebLifecycleStateStateFrozen))
	other.post("/api/jobs/"+id+"/readings", sent(newID(), rested(12.31)))
	b.do(page.SetWebLifecycleState(page.SetWebLifecycleStateStateActive), reads(other.person.Name+" saved Rest volts 12.31 V"))
}

// A page that breaks says so in plain words and leads back; the frame around it
// and what was being entered stay.
func TestBrokenPage(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower())
	b.do(enter("Meter reads", "12.4"), reads("If this is saved"), click("Floor"), reads("Next needs hands"))
	chromedp.ListenTarget(b.ctx, func(event any) {
		if e, ok := event.(*fetch.EventRequestPaused); ok {
			go func() {
				_ = chromedp.Run(b.ctx, fetch.FulfillRequest(e.RequestID, 200).WithResponseHeaders([]*fetch.HeaderEntry{
					{
						Name:  "Content-Type",
						Value: "application/json",
					}}).WithBody(base64.StdEncoding.EncodeToString([]byte(`{"job":{}}`))))
			}()
		}
	})
	b.do(
		fetch.Enable().WithPatterns([]*fetch.RequestPattern{{URLPattern: "*/api/jobs/" + id}}),
		visit("/jobs/"+id),
		reads("This page broke."),
		reads("House rules"),
		fetch.Disable(),
		press(`//a[contains(., "To the floor")]`),
		stage.Shown(stage.Button("New job")),
		visit("/jobs/"+id+"?at=rest_voltage"),
		focused("Meter reads"),
	)
	if kept := b.value("Meter reads"); kept != "12.4" {
		t.Errorf("what was being entered became %q", kept)
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	b.complaints = nil // what broke is told to the console too
}

// A job handed over by mistake is found among the closed ones and opened again.
func TestUndoHandingOver(t *testing.T) {
	b := as(t, stage.Desktop, "Jory")
	b.openJob("K-0129")
	b.do(click("Hand over and close"), reads("Open it again"), click("To the floor"), reads("Next needs hands"),
		stage.Type(`input[type=search]`, "K-0129"), reads("0 jobs with"),
		reads("Handed over, through the years"), click("Show handed over"), reads("with “K-0129”"), stage.Shown(`//main//a[contains(., "K-0129")]`))
	if got := b.holds("main li"); strings.Contains(got, "waits") || strings.Contains(got, "just now") {
		t.Errorf("handed over, and it still waits: %s", got)
	}
	b.openJob("K-0129")
	b.do(click("Open it again"), reads("Hand over and close"), click("Floor"), reads("Next needs hands"),
		stage.Shown(`//main//a[contains(., "K-0129")]`))
}

// Signed out in another tab: the sheet asks to sign in and goes on where it was,
// with what was typed.
func TestSessionEndsWhileTyping(t *testing.T) {
	b := as(t, stage.Desktop, "Jory")
	var ended int
	b.openJob("K-0133")
	b.do(
		goTo("Rest volts"),
		click("Read again"),
		enter("Meter reads", "12.34"),
		reads("If this is saved"),
		fetched(`return (await fetch("/api/session", { method: "DELETE" })).status`, &ended),
		// The sheet may have noticed before it is saved.
		chromedp.Evaluate(
			`document.querySelector("[data-saves]")?.click()`,
			nil,
		),
		stage.Shown(stage.Button("Sign in")),
		click("Jory"),
		reads("K-0133"),
		goTo("Rest volts"),
		click("Read again"),
	)
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
	b.do(visit("/"))
	for begins, provoke := range map[string]string{
		"console error": `console.error("provoked"); 1`,
		"exception":     `setTimeout(() => { throw new Error("provoked") }); 1`,
		"security":      `document.body.append(Object.assign(document.createElement("script"), { textContent: "window.x = 1" })); 1`,
	} {
		heard := func() bool {
			b.mu.Lock()
			defer b.mu.Unlock()
			return slices.ContainsFunc(b.complaints, func(c string) bool { return strings.HasPrefix(c, begins) })
		}
		b.do(chromedp.Evaluate(provoke, nil))
		for end := time.Now().Add(stage.Patience); !heard(); b.do(chromedp.Sleep(10 * time.Millisecond)) {
			if time.Now().After(end) {
				t.Fatalf("nothing was heard of: %s", begins)
			}
		}
	}
	b.mu.Lock()
	b.complaints = nil
	b.mu.Unlock()
}
