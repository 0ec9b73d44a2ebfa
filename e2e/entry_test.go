package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"

	"grapnel/internal/stage"
)

// What the form sends is what was typed and picked on it; what each way of an entry comes to is
// in the tables of the modules.
func TestWhatIsSent(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower())
	var usual []string
	b.do(chromedp.Evaluate(`[...document.querySelectorAll("main button[data-state=on]")].map(e => e.textContent)`, &usual))
	if fmt.Sprint(usual) != "[Not known Not known]" {
		t.Errorf("picked beforehand: %v", usual)
	}
	b.do(enter("Meter reads", "12,64"), reads("If this is saved"), click("Lights 2 min"), click("3 h"),
		click("Save, go on"), goneOn("Rest volts"))
	got := b.saved(id)
	if len(got) != 1 || got[0]["volts"] != 12.64 || got[0]["surface_charge"] != "headlights_2min" ||
		got[0]["minutes_since_charge"] != 180.0 {
		t.Fatalf("sent %v", got)
	}
}

// A figure beside the chief one that is no number is met there, and not saved.
func TestBadFigureBeside(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.newJob(mower(), rested(12.64), looked)
	b.do(enter("Volts at the end", "9.81"), enter("Battery", "warm"), reads("“warm” is not a number"))
	var off bool
	b.do(chromedp.Evaluate(`[...document.querySelectorAll("button")].find(b => b.textContent.includes("Save, go on")).disabled`, &off))
	if !off {
		t.Error("it can be saved")
	}
	b.do(clear("Battery"), enter("Battery", "400"), reads("outside -50 to 70"))
}

// A correction stands where the reading stood that it corrects, on paper too, and
// the ledger cites it.
func TestCorrectionKeepsItsPlace(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower(), rested(12.24), map[string]any{"kind": "load_test", "method": "half_cca", "amps": 150,
		"seconds": 15, "volts_end": 9.9}, rested(12.5))
	b.do(goTo("Rest volts"), click("Correct this one"), reads("Correcting Rest volts 12.50 V"), enter("Meter reads",
		"12.66"), reads("If this is saved"),
		click("at least 94"), reads("Rest volts 12.66 V, the one being entered"), click("Save, go on"), goneOn("Rest volts"))
	if got := b.saved(id); len(got) != 3 || got[0]["volts"] != 12.24 || got[2]["volts"] != 12.66 {
		t.Errorf("in effect %v", got)
	}
	// The first one now.
	var first string
	b.do(chromedp.Evaluate(`[...document.querySelectorAll("article tbody tr")].map(r => r.cells[0].textContent).join(", ")`, &first))
	if first != "Rest volts 12.24 V, Load test 9.90 V, Rest volts 12.66 V" {
		t.Errorf("on paper: %s", first)
	}
	b.do(goTo("Rest volts"), click("History, 3 readings"), reads("Rest volts 12.50 V"), reads("corrected"))
}

// The floor counts what waits for hands and what waits for the clock.
func TestFloorCounts(t *testing.T) {
	b := among(t, stage.Desktop, "C")
	var list struct {
		Jobs []struct {
			Wait struct {
				At *string `json:"at"`
			} `json:"wait"`
		} `json:"jobs"`
	}
	b.do(reads("Next needs hands"), fetched(`return await (await fetch("/api/jobs")).json()`, &list))
	hands := 0
	for _, j := range list.Jobs {
		if j.Wait.At == nil {
			hands++
		}
	}
	if hands == 0 || hands == len(list.Jobs) {
		t.Fatalf("%d of %d jobs wait for hands: that shows nothing", hands, len(list.Jobs))
	}
	b.do(reads(fmt.Sprintf("%d batteries wait for hands", hands)), reads(fmt.Sprintf("%d for the clock",
		len(list.Jobs)-hands)))
}

// A reading beyond a dipstick's scale is drawn at its end, not beyond it.
func TestDipstickEnds(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	for volts, end := range map[float64]string{10.6: "low", 13.9: "high"} {
		b.newJob(mower(), rested(volts))
		b.do(goTo("Rest volts"), stage.Shown(`svg[aria-label^="Rest voltage:"]`))
		var at struct{ Mark, Left, Right float64 }
		b.do(fetched(`
			const svg = document.querySelector("svg[aria-label^='Rest voltage:']");
			const x = (e) => Number(/M([\d.]+)/.exec(e.getAttribute("d"))[1]);
			const outline = svg.querySelector("path[stroke-linejoin=round]");
			return { Mark: x(svg.querySelector("path[stroke-width='2.6']")), Left: x(outline), Right: outline.getBBox().x + outline.getBBox().width };
		`, &at))
		if at.Mark < at.Left || at.Mark > at.Right || (end == "low") != (at.Mark < (at.Left+at.Right)/2) {
			t.Errorf("%g V is drawn at %.0f on a stick from %.0f to %.0f", volts, at.Mark, at.Left, at.Right)
		}
	}
}

// Where a charge ended is noted, put right, and the sheet goes on to the volts.
func TestChargeIsNoted(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower(), rested(12.1), looked)
	b.do(reads("How the charge ended"), click("Stopped early"), enter("Hours on the charger", "2.5"), click("Save, go on"), reads("Meter reads"),
		goTo("Charge"), click("Correct this one"), click("To full"), click("Save, go on"), goneOn("Charge"), goTo("Charge"), reads("to full, 2.5 h"))
	got := b.saved(id)
	if len(got) != 3 || got[2]["ended"] != "full" || got[2]["kind"] != "charged" || got[2]["hours"] != 2.5 {
		t.Errorf("noted %v", got)
	}
}

// On a phone the chief stick stands between the figure and the keypad, and the
// figure, the stick and the keypad are on one screen.
func TestPhoneEntryIsOnOneScreen(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	b.newJob(mower())
	var at struct{ Field, Stick, Keypad, Save, Strip float64 }
	b.do(reads("Take the rest voltage first."), fetched(`
		const box = (e) => e.getBoundingClientRect();
		return { Field: box(document.querySelector("main input[inputmode=none]")).bottom, Stick: box(document.querySelector("svg[aria-label^='Charge:']")).bottom,
			Keypad: box(document.querySelector("[aria-label='Keypad for Meter reads']")).bottom,
			Save: box([...document.querySelectorAll("button")].find(b => b.textContent.includes("Save, go on"))).bottom,
			Strip: box(document.querySelector("aside[aria-label]")).top };
	`, &at))
	if !(at.Field < at.Stick && at.Stick < at.Keypad && at.Keypad < at.Save && at.Save < at.Strip) {
		t.Errorf("from the top: %+v", at)
	}
}
