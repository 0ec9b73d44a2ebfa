package e2e

import (
	"context"
	"encoding/base64"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	ical "github.com/emersion/go-ical"

	"grapnel/internal/paper/papertest"
	"grapnel/internal/stage"
)

// fetched gives a file of the server as the browser gets it.
func (b *tab) fetched(path string) []byte {
	b.t.Helper()
	var text string
	b.do(chromedp.Evaluate(`fetch("`+path+`").then(r => r.arrayBuffer()).then(a => btoa(Array.from(new Uint8Array(a), c => String.fromCharCode(c)).join("")))`,
		&text, awaited))
	raw, err := base64.StdEncoding.DecodeString(text)
	must(b.t, err)
	return raw
}

// href gives where a link leads.
func (b *tab) href(word string) string {
	b.t.Helper()
	var to string
	b.do(stage.Shown(`//main//a[contains(normalize-space(.), "`+word+`")]`), chromedp.Evaluate(
		`(() => { const u = new URL([...document.querySelectorAll("main a")].find(a => a.textContent.includes("`+word+`")).href); return u.pathname + u.search; })()`, &to))
	return to
}

// From the estimate to the report: accepted with a name, the work done, proven, handed over;
// what was typed on the screens stands on the paper.
func TestFromEstimateToReport(t *testing.T) {
	lead := asLead(t)
	lead.do(click("House rules"), click("Prices"), stage.Shown(`//h1[.="Prices"]`),
		typedInto("Test", "15"), typedInto("Charge", "20.50"), click("Save the prices"), reads("The prices are kept."))
	id := lead.newJob(mower(), looked, rested(12.1))
	b := lead
	b.do(visit("/jobs/"+id+"?at=decide"), click("Make an estimate"), reads("€ 35.50"),
		press(`//button[@aria-label="One more of line 2"]`), reads("€ 56.00"),
		press(`//button[@aria-label="One less of line 2"]`), reads("€ 35.50"), click("Save the estimate"), reads("Who says so"))
	b.do(chromedp.Clear(`//label[contains(., "Who says so")]//input`, chromedp.BySearch), stage.Type(`//label[contains(., "Who says so")]//input`, "Anna Baker"),
		press(`//button[.="Accepted"]`), reads("Accepted by Anna Baker"))
	b.post("/api/jobs/"+id+"/readings", sent(newID(), map[string]any{"kind": "charged", "hours": 7, "amps_end": 0.3, "ended": "full"}))
	b.post("/api/jobs/"+id+"/readings", sent(newID(), rested(12.72)))
	b.post("/api/jobs/"+id+"/readings", sent(newID(), map[string]any{"kind": "load_test", "method": "half_cca", "amps": 150, "seconds": 15, "volts_end": 10.42, "battery_c": 21}))
	b.do(goTo("Decide"), reads("Before the work"), reads("Charge it, then test again."), goTo("Prove it"), reads("Not proven yet"), click("At once"),
		click("Save, go on"), reads("Proven: it starts again"))
	b.do(goTo("Hand over"), click("It forgot something"), press(`//button[@aria-label="Clock, set here"]`),
		press(`//button[@aria-label="Radio code, its owner sets it"]`), stage.Type(`//label[contains(., "Told at the counter")]/following-sibling::input`, "charge it once a month"),
		click("Hand over and close"), reads("is handed over"), reads("Open it again"))
	if px := b.sideways(); px > 0 {
		t.Errorf("handing over is %d px wider than the screen", px)
	}
	text := papertest.Of(t, b.fetched(b.href("Report"))).Text()
	for _, want := range []string{"Charge it, then test again.", "Proven: it starts again", "€ 35.50", "Accepted by Anna Baker", "Its owner sets again: radio code.",
		"Set again here: clock.", "charge it once a month", "It is looked at again on"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q does not stand on the report:\n%s", want, text)
		}
	}
	if tag := papertest.Of(t, b.fetched(b.href("Tag for the mirror"))).Text(); !strings.Contains(tag, "Radio code") || strings.Contains(tag, "Windows") {
		t.Errorf("the tag says %s", tag)
	}
	labels := papertest.Of(t, b.fetched(b.href("Labels")))
	if labels.Pages() != 1 || !strings.Contains(labels.Text(), "Next ") {
		t.Errorf("labels: %s", labels.Text())
	}
	cal, err := ical.NewDecoder(strings.NewReader(string(b.fetched("/api/jobs/" + id + "/calendar")))).Decode()
	if err != nil || len(cal.Events()) != 1 {
		t.Errorf("calendar: %v", err)
	}
	// The code on the label leads back here.
	var tag string
	b.do(chromedp.Evaluate(`document.querySelector("nav[aria-label=Stations] h1").textContent`, &tag))
	b.do(visit("/t/"+tag), stage.Shown(`nav[aria-label=Stations]`))
	var path string
	if b.do(chromedp.Evaluate(`location.pathname`, &path)); path != "/jobs/"+id {
		t.Errorf("the code leads to %s", path)
	}
}

// awaited has a promise awaited.
func awaited(p *runtime.EvaluateParams) *runtime.EvaluateParams { return p.WithAwaitPromise(true) }

// typedInto types a price beside its word.
func typedInto(word, text string) chromedp.Action {
	return stage.Type(`//label[starts-with(normalize-space(.), "`+word+`")]//input`, text)
}

// A picture is taken with the device's camera, looked at and kept; a note is written beside it;
// both are taken back and put back, and nothing is sent before it is kept.
func TestPictureAndNote(t *testing.T) {
	t.Parallel()
	for name, screen := range map[string]stage.Screen{"desktop": stage.Desktop, "phone": stage.Phone} {
		t.Run(name, func(t *testing.T) {
			b := anew(t, screen, "C")
			id := b.newJob(mower(), rested(12.4))
			b.do(click("Take a picture"), reads("Place, time and device are taken out"), press(`//div[@role="dialog"]//button[.="Take it" and not(@disabled)]`),
				reads("Keep this one?"), click("Take it again"), press(`//div[@role="dialog"]//button[.="Take it" and not(@disabled)]`), reads("Keep this one?"))
			if got := b.photos(id); got != 0 {
				t.Errorf("%d pictures were sent before one was kept", got)
			}
			b.do(press(`//div[@role="dialog"]//button[.="Damage"]`), stage.Type(`input[aria-label="A few words about it"]`, "crack at the seam"),
				click("Keep it"), reads("The picture is kept."), stage.Shown(`img[alt="crack at the seam"]`),
				until(`document.querySelector('img[alt="crack at the seam"]').naturalWidth > 100`))
			if got := b.photos(id); got != 1 {
				t.Errorf("%d pictures are kept", got)
			}
			b.do(click("Write a note"), stage.Type(`textarea[aria-label=Note]`, "wedge from the drawer"), offline(true), click("Save the note"),
				reads("Not saved."), offline(false), click("Save the note"), reads("The note is kept."), reads("wedge from the drawer"))
			b.do(press(`//li[contains(., "wedge from the drawer")]//button[.="Take back"]`), reads("is taken back"), click("Undo"),
				stage.Shown(`//li[contains(., "wedge from the drawer")]//button[.="Take back"]`))
			if px := b.sideways(); px > 0 {
				t.Errorf("%d px wider than the screen", px)
			}
		})
	}
}

func (b *tab) photos(id string) (n int) {
	b.t.Helper()
	b.do(chromedp.Evaluate(`fetch("/api/jobs/`+id+`/papers").then(r => r.json()).then(p => p.photos.length)`, &n, awaited))
	return n
}

// What is typed as a note and not saved is there again, also after the page was loaded anew.
func TestNoteIsNotLost(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	id := b.newJob(mower())
	b.do(click("Write a note"), stage.Type(`textarea[aria-label=Note]`, "half a sen"), visit("/jobs/"+id),
		click("Write a note"), until(`document.querySelector("textarea[aria-label=Note]").value === "half a sen"`))
}

// The shop's calendar is read without a session by its secret, and refused once that is
// renewed.
func TestShopFeed(t *testing.T) {
	b := asLead(t)
	id := b.newJob(mower(), rested(12.7))
	b.post("/api/jobs/"+id+"/readings", sent(newID(), map[string]any{"kind": "handover", "next_check": "2031-05-06"}))
	b.post("/api/jobs/"+id+"/close", map[string]any{})
	b.do(click("House rules"), click("In and out"), click("Make an address"), reads("told once"))
	address := func() (a string) {
		b.do(chromedp.Text(`[data-testid=feed]`, &a))
		return a
	}
	read := func(url string) (int, string) {
		ctx, cancel := context.WithTimeout(context.Background(), stage.Patience)
		defer cancel()
		req, err := http.NewRequestWithContext(ctx, http.MethodGet, url, nil)
		must(t, err)
		res, err := http.DefaultClient.Do(req) // nobody is signed in there
		must(t, err)
		defer func() { _ = res.Body.Close() }()
		raw, err := io.ReadAll(res.Body)
		must(t, err)
		return res.StatusCode, string(raw)
	}
	old := address()
	if status, text := read(old); status != 200 || !strings.Contains(text, "DTSTART;VALUE=DATE:20310506") {
		t.Errorf("%d %s", status, text)
	}
	b.do(click("Make a new address"), until(`document.querySelector("[data-testid=feed]")?.textContent.includes("`+old[len(old)-20:]+`") === false`))
	if status, _ := read(old); status != 404 {
		t.Errorf("the old address answers %d", status)
	}
	if status, _ := read(address()); status != 200 {
		t.Errorf("the new one %d", status)
	}
}

// Tables go out as files, and in again from one; one with a fault says where, and nothing
// comes in.
func TestTablesInAndOut(t *testing.T) {
	b := asLead(t)
	b.newJob(mower(), rested(12.7))
	dir := t.TempDir()
	var href, kept string
	b.do(visit("/in-and-out"), stage.Shown(`//a[@aria-label="Jobs, out"]`),
		chromedp.AttributeValue(`//a[@aria-label="Jobs, out"]`, "href", &href, nil, chromedp.BySearch),
		chromedp.AttributeValue(`//a[@aria-label="Case files, out"]`, "href", &kept, nil, chromedp.BySearch))
	if raw := b.fetched(kept); !strings.HasPrefix(string(raw), "PK") {
		t.Errorf("the case files are %.20q", raw)
	}
	raw, file := b.fetched(href), filepath.Join(dir, "jobs.csv")
	must(t, os.WriteFile(file, raw, 0o600))
	b.do(chromedp.SetUploadFiles(`input[aria-label="A table of jobs"]`, []string{file}), reads("0 jobs came in, 1 were here already."))
	bad := filepath.Join(dir, "bad.csv")
	must(t, os.WriteFile(bad, []byte(strings.Replace(string(raw), ",mower,", ",plane,", 1)), 0o600))
	b.do(chromedp.SetUploadFiles(`input[aria-label="A table of jobs"]`, []string{bad}), reads("Nothing came in."), reads("line 2, column class"))
}

// A comeback opens beside the verdict it went with, and leads to that sheet; one search finds
// what was noted of it.
func TestComebackAndSearch(t *testing.T) {
	b := asLead(t)
	job := mower()
	first := b.newJob(job, rested(12.1))
	b.post("/api/jobs/"+first+"/notes", map[string]any{"id": newID(), "text": "xylophone under the seat"})
	b.post("/api/jobs/"+first+"/close", map[string]any{})
	b.newJob(job, rested(12.6))
	b.do(reads("Back after less than a day"), reads("Charge it, then test again."), click("That sheet"), until(`location.pathname.endsWith("`+first+`")`))
	b.do(visit("/"), reads("Next needs hands"), until(`(async () => (await (await fetch("/api/jobs?find=xylophone")).json()).earlier_all === 1)()`),
		stage.Type(`input[type=search]`, "xylophone"), reads("Handed over, through the years"), reads("xylophone under the seat"))
}
