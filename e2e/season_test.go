package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"grapnel/internal/stage"
)

const days = 1440.0 // minutes

// later lets days pass; the session that has ended meanwhile is begun anew.
func (b bench) later(n float64) {
	b.t.Helper()
	for ; n > 0; n -= 10 {
		b.do(b.on(min(n, 10) * days))
		// By this clock, which is not the other servers'.
		var status int
		b.do(
			fetched(
				fmt.Sprintf(
					`return (await fetch("/api/session", { method: "POST", headers: { "content-type": "application/json" },
			body: JSON.stringify({ name: %q, passphrase: %q }) })).status`,
					b.person.Name,
					phrase,
				),
				&status,
			),
		)
		if status != 200 {
			b.t.Fatalf("signing in %g days on: %d", n, status)
		}
	}
}

// way shows a way of keeping it by its name.
func way(name string) chromedp.Action {
	return press(fmt.Sprintf(`//ul[@aria-label="Ways of keeping it"]//button[contains(normalize-space(.), %q)]`, name))
}

// A mower is put away in autumn and left connected; looked at, its plan is redrawn; a frost that
// is forecast is called; charged it stands; in spring it is woken by its guide and stands no
// longer.
func TestMowerThroughTheWinter(t *testing.T) {
	b := ownBench(t, stage.Desktop)
	b.do(
		b.to("/season"),
		reads("Nothing stands here yet."),
		click("Put one away"),
		reads("Pick what it is for"),
		press(`//*[@role="radio"][.="Mower"]`),
		types(
			"Vehicle",
			"Parks mower 9",
		),
		types("Drain, mA", "8"),
		reads("Ways of keeping it"),
		way("Leave it connected"),
		until(
			`document.querySelector("ul[aria-label='Ways of keeping it'] [aria-pressed=true]")?.textContent.includes("Leave it connected")`,
		),
		click("Put it away so"),
		reads("is put away."),
		reads("Parks mower 9"),
	)
	// Six weeks on, lower than was thought.
	b.later(45)
	b.do(
		b.to("/season"),
		reads("Rest volts now"),
		enter("Rest volts now", "12.20"),
		click("Save the look"),
		reads("12.20 V"),
		reads("mA, learnt"),
	)
	var drawn string
	b.do(chromedp.AttributeValue(`main article svg.overflow-visible`, "aria-label", &drawn, nil, chromedp.ByQuery))
	if !strings.Contains(drawn, "Leave it connected") || !strings.Contains(drawn, "to spare") {
		t.Errorf("the picture says %q", drawn)
	}
	// A frost under its line.
	b.do(
		b.to("/season/place"),
		reads("The coldest of each night to come"),
		chromedp.Focus(`input[aria-label^="Night of"]`, chromedp.ByQuery),
		typed("-41"),
		click(
			"Save the forecast",
		),
		reads("come too near."),
		b.to("/season"),
		reads("Frost: "),
		reads("is forecast for"),
		reads("it may freeze"),
	)
	var strip int
	b.do(
		until(`document.querySelector("aside[aria-label=\"The shop's clock\"]") !== null`),
		b.to("/"),
		reads("Frost: charge it"),
		chromedp.Evaluate(`document.querySelectorAll("a[href^='/season/']").length`, &strip),
	)
	if strip == 0 {
		t.Error("nothing on the clock leads there")
	}
	b.do(
		b.to("/season"),
		click("It is charged full"),
		until(`!document.querySelector("main").textContent.includes("is forecast for")`),
		reads("charged full"),
	)
	// What was wrong is taken back, and stays to be read.
	b.do(
		press(`//li[contains(., "charged full")]//button[.="Take back"]`),
		reads("taken back"),
		reads("is forecast for"),
		click("It is charged full"),
		until(`!document.querySelector("main").textContent.includes("is forecast for")`),
	)
	// Another way, from today on.
	b.do(
		way("Earthed clamp off"),
		click("Keep it so from today"),
		reads("Earthed clamp off."),
		click("Undo"),
		until(`![...document.querySelectorAll("ul[aria-label='Ways of keeping it'] li")].some(e => e.textContent.includes("Earthed clamp off") && e.textContent.includes("kept so"))`),
		way("Earthed clamp off"),
		click("Keep it so from today"),
		reads("Earthed clamp off."),
		until(
			`[...document.querySelectorAll("ul[aria-label='Ways of keeping it'] .cap")].some(e => e.textContent.startsWith("kept so"))`,
		),
	)
	// Its tag, on paper: what is off and when next, and nothing to press.
	var paper string
	b.do(
		emulation.SetEmulatedMedia().WithMedia("print"),
		chromedp.Evaluate(`document.body.innerText`, &paper),
		emulation.SetEmulatedMedia().WithMedia(""),
	)
	if !strings.Contains(paper, "Test before the first crank") || !strings.Contains(paper, "Parks mower 9") ||
		strings.Contains(paper, "Save the look") {
		t.Errorf("on paper: %s", paper)
	}
	// In spring.
	b.later(110)
	b.do(
		b.to("/season"),
		click("Wake it up, step by step"),
		reads("Wake it up"),
		click("Begin"),
		reads("Gloves, goggles"),
	)
	passed := strings.Join(b.ticks("Awake"), "|")
	for _, want := range []string{"Look before you touch", "Rest volts, before anything", "Test it before the first crank", "Earthed lug on", "First crank"} {
		if !strings.Contains(passed, want) {
			t.Errorf("%q was not asked for: %s", want, passed)
		}
	}
	b.do(b.to("/season"), reads("Nothing stands here yet."))
}

// A yard comes from a table also where nothing stands yet; a wrong line is named and brings in
// none; so does one of the weather.
func TestYardFromATable(t *testing.T) {
	b := ownBench(t, stage.Phone)
	dir := t.TempDir()
	file := func(name, text string) []string {
		path := filepath.Join(dir, name)
		must(t, os.WriteFile(path, []byte(text), 0o600))
		return []string{path}
	}
	yard := `input[aria-label^="A table of batteries"]`
	b.do(
		b.to("/season"),
		reads("Nothing stands here yet."),
		chromedp.SetUploadFiles(yard, file("wrong.csv", "tag,chemistry\nY-1,agm\nY-2,mercury\n")),
		reads("line 3"),
		reads("Nothing stands here yet."),
		chromedp.SetUploadFiles(yard, file("South yard.csv", "tag,chemistry,row,bay\nY-1,agm,A,1\nY-2,flooded,A,2\n")),
		reads("2 stand now."),
		reads("2 put away, worst first"),
		reads("Y-2, A2"),
		// Longer than a lot's name may be; and one whose lines name their lot.
		press(`//*[@aria-label="Where"]//button[starts-with(., "By itself")]`),
		chromedp.SetUploadFiles(yard, file(strings.Repeat("Far field ", 5)+".csv", "tag,chemistry\nY-4,agm\n")),
		reads("1 put away, worst first"),
		chromedp.SetUploadFiles(yard, file("more.csv", "tag,chemistry,lot\nY-5,agm,Gate\n")),
		reads("4 stand now."),
		reads("1 put away, worst first"),
		chromedp.SetUploadFiles(yard, file("wrong too.csv", "tag,row\nY-3,B\n")),
		reads("chemistry"),
	)
	b.do(
		b.to("/season/place"),
		chromedp.SetUploadFiles(`input[aria-label^="A table of date"]`, file("days.csv", "date,low_c\n2026-13-01,-4\n")),
		reads("line 2"),
	)
}

// A round over a lot is walked on a phone with one hand and without a line: what is typed waits
// on the device, a scanned tag goes to its vehicle, and back in the office all of it is sent,
// once.
func TestRoundWithoutALine(t *testing.T) {
	b := ownBench(t, stage.Phone)
	var table strings.Builder
	table.WriteString("tag,vehicle,chemistry,ah_20h,row,bay,from,drain_ma\\n")
	for i := range 12 {
		fmt.Fprintf(&table, "Y-%02d,Pool car %d,flooded_sealed,60,%c,%d,${day(%d)},20\\n", i, i, 'A'+i%3, 1+i, -60+3*i)
	}
	var n int
	b.do(fetched(`const day = (n) => new Date(Date.now() + n * 864e5).toISOString().slice(0, 10);
		const r = await fetch("/api/season/csv?lot=Yard", { method: "POST", headers: { "content-type": "text/csv" }, body: `+"`"+table.String()+"`"+` });
		return r.ok ? (await r.json()).stored.length : r.status`, &n))
	if n != 12 {
		t.Fatalf("%d stand", n)
	}
	b.do(b.to("/season/round?lot=Yard"), reads("Yard: 0 of 4"), reads("later this week"))
	if px := b.sideways(); px > 0 {
		t.Errorf("%d px to push sideways", px)
	}
	b.do(offline(true), reads("No line to the server"))
	key := func(k string) chromedp.Action { return press(`//button[@aria-label="` + k + `"]`) }
	var first string
	b.do(
		chromedp.Text(`main section p.tight`, &first, chromedp.ByQuery),
		key("1"),
		key("2"),
		key("Decimal point"),
		key("4"),
		key("1"),
		click("Save, and on"),
		reads("12.41 V, on this device"),
		reads("Yard: 1 of 4"),
	)
	b.do(click("It is full"), reads("charged full, on this device"), reads("Yard: 2 of 4"))
	// One found on the way, by its tag.
	b.do(
		chromedp.Focus(`input[aria-label="Scan or type a tag"]`, chromedp.ByQuery),
		typed("y-11"+kb.Enter),
		reads("Y-11"),
		reads("found on the way"),
		chromedp.Focus(
			`input[aria-label="Rest volts"]`,
			chromedp.ByQuery,
		),
		typed("12.6"+kb.Enter),
		reads("Yard: 3 of 5"),
	)
	b.do(
		chromedp.Focus(`input[aria-label="Scan or type a tag"]`, chromedp.ByQuery),
		typed("Z-99"+kb.Enter),
		reads("Z-99 does not stand on this lot."),
	)
	b.do(reads("3 readings wait"), offline(false), reads("3 readings were sent"))
	var looks string
	b.do(fetched(`return (await (await fetch("/api/season")).json()).stored.map(l => l.looks).sort().join("")`, &looks))
	if looks != "000000000111" {
		t.Errorf("looks by vehicle: %s", looks)
	}
	b.do(chromedp.Reload(), reads("Season"), until(`document.querySelector("main h1") !== null`))
}
