package e2e

import (
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"grapnel/internal/fatal"
	"grapnel/internal/stage"
)

// clear empties the field of a label.
func clear(label string) chromedp.Action {
	return chromedp.Tasks{stage.Shown(stage.Labelled(label)), chromedp.Evaluate(fmt.Sprintf(`(() => {
		const e = document.evaluate(%q, document, null, XPathResult.FIRST_ORDERED_NODE_TYPE, null).singleNodeValue;
		e.focus(); e.select(); return 1;
	})()`, stage.Labelled(label)), nil), chromedp.KeyEvent(kb.Backspace)}
}

// Bad figures are met beside the field, and nothing is saved.
func TestBadFigures(t *testing.T) {
	b := as(t, stage.Desktop, "Ines")
	b.openJob("K-0126")
	for typed, says := range map[string]string{
		"twelve": "is not a number",
		"125":    "Did the meter show 12.50?",
		"-12.4":  "the meter leads are swapped",
	} {
		// It is judged anew with each key: what is said has to be of all that was typed.
		b.do(enter("Meter reads", typed), reads(says), until(`document.querySelector("[data-saves]").disabled`))
		b.do(clear("Meter reads"))
	}
	b.do(chromedp.Reload(), reads("Take the rest voltage first."))
}

// What is being entered is still there after a reload.
func TestDraftSurvivesReload(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.newJob(mower())
	b.do(enter("Meter reads", "12.5"), reads("If this is saved"), chromedp.Reload(),
		stage.Shown(stage.Labelled("Meter reads")))
	if kept := b.value("Meter reads"); kept != "12.5" {
		t.Errorf("after a reload the field holds %q", kept)
	}
}

func TestKeys(t *testing.T) {
	b := as(t, stage.Desktop, "Ines")
	b.do(
		chromedp.KeyEvent("n"), reads("What is it for?"),
		chromedp.KeyEvent("g"), chromedp.KeyEvent("h"), reads("Good practitioners differ"),
		chromedp.KeyEvent("g"), chromedp.KeyEvent("f"), reads("Next needs hands"),
		// A driven browser types the slash as well as acting on it; a hand does not.
		chromedp.KeyEvent("/"), chromedp.KeyEvent(kb.Backspace), chromedp.KeyEvent("K-0142"), reads("with “K-0142”"),
		chromedp.KeyEvent(kb.Escape), reads("Next needs hands"),
		chromedp.KeyEvent("?"), reads("Go to the house rules"), chromedp.KeyEvent(kb.Escape),
	)
	b.openJob("K-0142")
	b.do(chromedp.KeyEvent(b.place("Strength")), reads("Set the load to"), chromedp.KeyEvent(kb.Escape),
		chromedp.KeyEvent(b.place("Rest volts")), reads("Correct this one"))
}

// A rest is on the clock of every screen until it is ended.
func TestRestOnTheClock(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.newJob(mower())
	var tag, address string
	b.do(chromedp.Text(`//h1[not(ancestor::article)]`, &tag, chromedp.BySearch), chromedp.Location(&address),
		click("Let it rest"), reads("of rest to go"), click("Floor"),
		stage.Shown(`//aside[@aria-label="The shop's clock"]//a[contains(., "`+tag+`")]`))
	b.do(chromedp.Navigate(address), click("End the rest"), reads("Let it rest 60 min"))
}

// A hazard stops the load test; a positive earth changes which side is live.
func TestHazardAndPositiveEarth(t *testing.T) {
	b := as(t, stage.Desktop, "Ines")
	b.openJob("K-0131")
	b.do(reads("Stop. The case is bulged."), goTo("Strength"), reads("Do not load or charge it."))
	var fields int
	b.do(
		chromedp.Evaluate(
			`[...document.querySelectorAll("label")].filter(l => l.textContent === "Volts at the end").length`,
			&fields,
		),
	)
	if fields != 0 {
		t.Error("a bulged battery can still be load tested")
	}
	b.do(click("Floor"))
	b.openJob("K-0111")
	b.do(goTo("Rest volts"), reads("V, earth +"), click("Read again"), stage.Shown(`svg[aria-label*="red probe on the + post, the earthed side"]`))
}

func TestImport(t *testing.T) {
	b := as(t, stage.Desktop, "Ines")
	dir := t.TempDir()
	bad, good := filepath.Join(dir, "bad.json"), filepath.Join(dir, "good.json")
	raw, err := os.ReadFile("../core/casefile/testdata/case.json")
	must(t, err)
	for file, text := range map[string]string{bad: strings.Replace(string(raw), "12.24", "125", 1),
		good: strings.Replace(string(raw), `"chemistry"`, `"tag": "K-0142", "chemistry"`, 1)} {
		must(t, os.WriteFile(file, []byte(text), 0o600))
	}
	b.do(chromedp.SetUploadFiles(`input[type=file]`, []string{bad}), reads("Nothing was saved"),
		reads("readings[2].volts"), click("Close"))
	b.do(chromedp.SetUploadFiles(`input[type=file]`, []string{good}), reads("is known here, with another label"),
		click("Another one"), reads("Rest it, then take the volts."), reads("was tagged"))
}

// A file whose answer was lost may be open already: that is said, and sent again it is
// not opened twice.
func TestImportSentAgain(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	raw, err := os.ReadFile("../core/casefile/testdata/case.json")
	must(t, err)
	tag := "X " + newID()[24:]
	file := filepath.Join(t.TempDir(), "case.json")
	must(t, os.WriteFile(file, []byte(strings.Replace(string(raw), `"chemistry"`, `"tag": "`+tag+`", "chemistry"`, 1)), 0o600))
	jobs := func() (n int) {
		b.do(fetched(`return (await (await fetch("/api/jobs?find=`+url.QueryEscape(tag)+`")).json()).jobs.length`, &n))
		return n
	}
	b.do(chromedp.Evaluate(`(() => {
		const real = window.fetch;
		window.fetch = async (...what) => {
			const answer = await real(...what);
			if (!String(what[0]).includes("/api/cases")) return answer;
			window.fetch = real;
			throw new TypeError("the answer was lost");
		};
		return 1;
	})()`, nil), chromedp.SetUploadFiles(`input[type=file]`, []string{file}), reads("it may be open already"))
	if n := jobs(); n != 1 {
		t.Errorf("%d jobs after the lost answer", n)
	}
	b.do(click("Send it again"), reads("Rest it, then take the volts."), reads(tag))
	if n := jobs(); n != 1 {
		t.Errorf("%d jobs after it was sent again", n)
	}
}

// A lead chooses the house's school; a technician only reads it.
func TestHouseRules(t *testing.T) {
	b := open(t, stage.Desktop)
	b.signIn("Marit")
	b.do(click("House rules"), click("eye school"), click("Save the house rules"), reads("New jobs follow them"),
		click("three quarters"), click("Save the house rules"), reads("New jobs follow them"))
	// One class is settled otherwise, and as all again; both stand on record.
	b.do(click("Boat"), reads("holds for this class alone"), press(`//button[@role="radio"][contains(., "common practice")][contains(., "50")][contains(., "usual")]`),
		reads("Its own"), click("Save the house rules"), reads("Drain, Boat: simple vehicles (30 mA) → usual (50 mA)"),
		click("As for all vehicles"), click("Save the house rules"), reads("Drain, Boat: usual (50 mA) → as for all"), click("All vehicles"), reads("30 mA for"))
	var kept string
	b.do(fetched(`return JSON.stringify((await (await fetch("/api/rules")).json()).rules.by_class.boat ?? null)`, &kept))
	if kept != "null" {
		t.Errorf("a boat keeps %s", kept)
	}
	tech := open(t, stage.Desktop)
	tech.signIn("Ines")
	tech.do(click("House rules"), reads("Only a lead may change them"))
	var offers int
	tech.do(
		chromedp.Evaluate(
			`[...document.querySelectorAll("button")].filter(b => b.textContent.includes("Save the house rules")).length`,
			&offers,
		),
	)
	if offers != 0 {
		t.Error("a technician is offered to save the rules")
	}
}

// °F and the dark screen are kept with the person.
func TestPreferences(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	menu := chromedp.Click(`button[aria-label*="your settings"]`, chromedp.NodeVisible)
	item := func(words string) chromedp.Action {
		return press(`//*[@role="menuitemradio"][contains(., "` + words + `")]`)
	}
	b.do(menu, item("°F"), item("Dark"), stage.Shown(`html[data-theme=dark]`), chromedp.KeyEvent(kb.Escape))
	cold := mower()
	cold["conditions"] = map[string]any{"battery_c": 6}
	b.newJob(cold)
	b.do(reads("43°F"), menu, item("°C"), item("As the device"), stage.Shown(`html:not([data-theme])`),
		chromedp.KeyEvent(kb.Escape), reads("6°C"))
}

// No screen is wider than a phone, and every target on it is big enough for a
// glove.
func TestPhoneFits(t *testing.T) {
	b := as(t, stage.Phone, "Ines")
	places := map[string][]chromedp.Action{
		"floor":   nil,
		"new job": {click("New job"), reads("What is it for?"), click("Classic"), reads("What does the label say?")},
		"rules": {visit("/rules"), stage.Shown(`fieldset`),
			reads("Good practitioners differ")},
	}
	for name, steps := range places {
		b.do(visit("/"), reads("Next needs hands"))
		b.do(steps...)
		if px := b.sideways(); px > 0 {
			t.Errorf("%s is %d px wider than the screen", name, px)
		}
		var small []string
		b.do(chromedp.Evaluate(`[...document.querySelectorAll("main button, main a, header button, header a")]
			.filter(e => e.offsetParent && e.getBoundingClientRect().height < 44 && getComputedStyle(e).display !== "inline")
			.map(e => e.textContent + " " + e.getBoundingClientRect().height)`, &small))
		if len(small) > 0 {
			t.Errorf("%s has targets too small for a glove: %v", name, small)
		}
	}
}

// The description of the HTTP interface can be browsed under the same strict
// policy.
func TestDocs(t *testing.T) {
	t.Parallel()
	b := open(t, stage.Desktop)
	b.do(visit("/api/docs"), reads("The battery bench of a workshop"),
		reads("/api/jobs/{id}/readings"))
}

var must = fatal.On
