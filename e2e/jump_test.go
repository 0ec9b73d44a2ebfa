package e2e

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"grapnel/internal/stage"
)

// answer is what the planner says, once nothing is being worked out any more.
func (b *tab) answer() (text string) {
	b.do(until(`document.querySelector("[data-testid=answer]") !== null && !document.querySelector("[data-stale]")`),
		chromedp.Text(`[data-testid=answer]`, &text, chromedp.ByQuery))
	return text
}

// call opens the planner for a call from the roadside, with nothing told yet.
func (b *tab) call() {
	b.do(visit("/jump"), reads("What does not start"), click("New call"), reads("It clicks, lamps dim"))
}

// A diesel that does not turn on thin leads does on thick ones; the answer follows every
// tap, and each tap says before what it would do.
func TestDieselOnThinAndThickLeads(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.call()
	b.do(
		click("Diesel"),
		click("1.6 l"),
		click("Nothing at all"),
		press(`//button[normalize-space(.)="0 °C"]`),
		click("A car"),
		reads("quite flat at 6 %"),
	)
	less, more := `//button[@aria-label="Less: lead copper"]`, `//button[@aria-label="More: lead copper"]`
	for _, mm2 := range []string{"16", "10", "6"} {
		b.do(press(less), until(`document.querySelector("[data-testid=value-mm2]").textContent === "`+mm2+`"`))
	}
	b.do(until(`document.querySelector("[data-testid=answer]").textContent.startsWith("Not yet.")`))
	if got := b.answer(); !strings.Contains(got, "Charge it through the leads") {
		t.Errorf("on 6 mm² it says %q", got)
	}
	stick := func() (says string) {
		b.do(chromedp.Evaluate(`document.querySelector("[data-testid=speed] svg").ariaLabel`, &says))
		return says
	}
	thin := stick()
	for _, mm2 := range []string{"10", "16", "25", "35", "50"} {
		b.do(press(more), until(`document.querySelector("[data-testid=value-mm2]").textContent === "`+mm2+`"`))
	}
	b.do(until(`document.querySelector("[data-testid=answer]").textContent.startsWith("Yes.")`))
	if got := b.answer(); !strings.Contains(got, "It turns at") {
		t.Errorf("on 50 mm² it says %q", got)
	}
	if thick := stick(); thick == thin || !strings.Contains(thick, "turns at") {
		t.Errorf("the stick says %q either way", thick)
	}
	// What was told survives a refresh.
	b.do(
		chromedp.Reload(),
		until(`document.querySelector("[data-testid=value-mm2]")?.textContent === "50"`),
		reads("1.6 l diesel, quite flat at 6 %"),
	)
}

// A hybrid is woken: no starter, no tries, the post in front, the converter as proof.
func TestHybridIsWoken(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	b.call()
	b.do(
		click("Hybrid, 12 V"),
		click("Pack, 600 A peak"),
		reads("while it wakes"),
		reads("jump post marked +"),
		reads("Orange cables: stop"),
		reads("12.8 rising to 13.5 V"),
		reads("The mechanical key"), /* lower case within the line */
	)
	if n := b.count(`[data-testid=countdown]`); n != 0 {
		t.Error("it counts down a try")
	}
	if px := b.sideways(); px > 0 {
		t.Errorf("%d px to push sideways", px)
	}
	var tries bool
	b.do(chromedp.Evaluate(`document.body.innerText.includes("Try now")`, &tries))
	if tries {
		t.Error("a starter is tried")
	}
}

// A hazard refuses outright, with what to do instead; nothing of a plan is left to follow.
func TestHazardIsNotJumped(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.call()
	b.do(reads("Clamps on, in this order"), click("Case bulged"), reads("Not to be jumped."), reads("fit another battery"))
	if n := b.count(`[data-testid=circuit]`) + b.count(`#order`); n != 0 {
		t.Error("there is a plan beside the refusal")
	}
	b.do(click("Case bulged"), reads("Clamps on, in this order"))
	// And of a job by what its sheet has.
	id := b.newJob(mower(), rested(12.1), map[string]any{"kind": "inspection", "found": []string{"leaking"}})
	b.do(visit("/jump?job="+id), reads("Not to be jumped."), reads("Neutralise the acid"))
}

// With a positive earth the live side is the black one: first and whole; the red clamp is
// last on, bare metal, and first off. Steps are ticked as they are done.
func TestPositiveEarthJump(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.call()
	b.do(
		click("Classic"),
		click("More: clamps"),
		click("Positive earth"),
		click("A car"),
		reads("never across system volts"),
		click("A 6 V vehicle"),
		reads("earth is positive"),
	)
	steps := func() string { return b.text(`#order ol`) }
	on := steps()
	for i, want := range []string{"Black clamp to the flat battery’s −, its live post", "Its other end to the donor’s −",
		"Red lead to the donor’s +", "red clamp"} {
		at := strings.Index(on, want)
		if at < 0 {
			t.Fatalf("step %d: no %q in %s", i+1, want, on)
		}
		on = on[at:]
	}
	b.do(press(`//button[contains(., "Step 1:")]`), press(`//button[contains(., "Step 2:")]`),
		until(`document.querySelectorAll("#order ol button[aria-pressed=true]").length === 2`), click("Coming off, in reverse"),
		until(`document.querySelector("#order ol li").innerText.includes("Red clamp off the bare metal")`))
	b.do(click("Other orders"), reads("The earthed lead before the live one: not here."))
}

// From the sheet of a job: planned by what it knows, the minutes on the leads are on the
// shop's clock, a try counts down everywhere, and how it went is written on the sheet.
func TestJumpFromTheSheet(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	van := map[string]any{
		"vehicle": map[string]any{
			"class":        "van",
			"name":         "Jump van",
			"fuel":         "diesel",
			"system_volts": 12,
			"earth":        "negative",
			"arrangement":  "single",
		},
		"battery": map[string]any{
			"chemistry": "flooded_sealed",
			"caps":      "sealed",
			"terminals": "top",
			"rating":    map[string]any{"cca": 720, "standard": "SAE", "ah_20h": 80},
		},
		"complaint":  []string{"rapid_click"},
		"conditions": map[string]any{"ambient_c": -4, "battery_c": -4},
	}
	id := b.newJob(van, rested(11.95))
	b.do(
		visit("/jobs/"+id+"?at=crank"),
		click("Will it start on another? Plan the jump"),
		reads("Jump van"),
		click("2.2 l"),
		click("A car"),
	)
	b.do(until(`document.querySelector("[data-testid=answer]").textContent.startsWith("Not yet.")`))
	b.do(press(`//button[contains(., "Clamps are on:")]`), reads("on the leads to go"))
	var calls bool
	b.do(
		fetched(
			`return fetch("/api/clock").then(r => r.json()).then(c => c.moments.some(m => m.job_id === "`+id+`" && m.kind === "jump" && m.word === "try it"))`,
			&calls,
		),
	)
	if !calls {
		t.Error("the clock does not call to try it")
	}
	b.do(click("Tried"), reads("Clamps are on:"))
	b.do(
		press(`//button[contains(., "Try now: 10 s")]`),
		until(`document.querySelector("[data-testid=countdown]") !== null`),
		visit("/"),
		reads("Back to it"),
		click("Back to it"),
		reads("Clamps on, in this order"),
	)
	b.do(
		click("Write down how it went"),
		click("On another battery"),
		click("Yes"),
		press(`//button[contains(., "Save")]`),
		reads("Check the charging volts"),
	)
}
