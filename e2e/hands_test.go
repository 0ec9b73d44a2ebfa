package e2e

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"grapnel/internal/stage"
)

// until waits for JavaScript to give true.
func until(js string) chromedp.Action {
	return chromedp.ActionFunc(func(ctx context.Context) error {
		if err := stage.Until(js, nil).Do(ctx); err != nil {
			return fmt.Errorf("waiting for %s: %w", js, err)
		}
		return nil
	})
}

// focused waits until the focus is on a field of this label, or on what reads so.
func focused(words string) chromedp.Action {
	return until(fmt.Sprintf(`(() => {
		const e = document.activeElement;
		const label = e.id && document.querySelector("label[for='" + e.id + "']");
		return (label ? label.textContent : e.textContent).includes(%q);
	})()`, words))
}

// typed presses keys wherever the focus is. A key and its letter are one event, so
// that who takes the key takes the letter, as from a keyboard.
func typed(keys string) chromedp.Action {
	return chromedp.ActionFunc(func(ctx context.Context) error {
		for _, key := range keys {
			if key < ' ' {
				if err := chromedp.KeyEvent(string(key)).Do(ctx); err != nil {
					return err
				}
				continue
			}
			down := input.DispatchKeyEvent(input.KeyDown).WithKey(string(key)).WithText(string(key))
			up := input.DispatchKeyEvent(input.KeyUp).WithKey(string(key))
			if err := errors.Join(down.Do(ctx), up.Do(ctx)); err != nil {
				return err
			}
		}
		return nil
	})
}

// The focus is always somewhere: on the next field after a save, a key, a
// countdown. Digits jump to stations only while nothing is being entered.
func TestFocusAndDigits(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower(), looked)
	b.do(focused("Meter reads"), typed("12."), reads("If this is saved"), click("Rested"), typed("7"), focused("Meter reads"))
	if got := b.value("Meter reads"); got != "12.7" {
		t.Errorf("typed beside the field: %q", got)
	}
	b.do(typed(kb.Enter), goneOn("Rest volts"), focused("Volts at the end"), typed("9.9"), click("Fixed load"), typed("1"))
	if got := b.value("Volts at the end"); got != "9.91" {
		t.Errorf("typed after a tap: %q", got)
	}
	// Emptied and left, the digits are stations again.
	b.do(clear("Volts at the end"), click("Half the CCA"), typed(kb.Escape))
	b.do(goTo("Rest volts"), focused("4 Rest volts"), typed("7"), focused("Volts at the end"))
	b.do(typed(kb.Escape), typed("gf"), focused("K-"), typed("n"), focused("Car"))
	if got := b.saved(id); len(got) != 2 || got[1]["volts"] != 12.7 || got[1]["surface_charge"] != "rested" {
		t.Errorf("saved %v", got)
	}
}

// The load's countdown: it goes on through a refresh and another station, is
// cancelled by Esc, keeps the screen awake, and after it the two minutes to the next load are counted.
func TestCountdownGoesOn(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.newJob(mower(), rested(12.65), looked)
	tones := `window.tones = []; AudioContext.prototype.createOscillator = (make => function () {
		const o = make.call(this), start = o.start, now = this.currentTime;
		o.start = at => { window.tones.push(Math.round(at - now)); return start.call(o, at); };
		return o; })(AudioContext.prototype.createOscillator);
		window.awake = 0;
		navigator.wakeLock.request = async () => { window.awake++; return { release: async () => { window.awake--; } }; }; 1`
	awake := func(n int) chromedp.Action { return until(fmt.Sprintf(`window.awake === %d`, n)) }
	b.do(chromedp.Evaluate(tones, nil), click("Fixed load"), click("Start 10 s"), stage.Shown(`[data-testid=countdown]`))
	var heard []int
	b.do(chromedp.Evaluate(`window.tones`, &heard))
	// The shop's clock may call meanwhile, with tones of its own at once.
	heard = slices.DeleteFunc(heard, func(s int) bool { return s < 2 })
	if fmt.Sprint(heard) != "[7 8 9 10]" {
		t.Errorf("tones at %v s", heard)
	}
	b.do(awake(1), typed(kb.Escape), reads("Start 10 s"), awake(0), click("Start 10 s"), reads("Load on, hold it"), goTo("Rest volts"),
		stage.Shown(`[data-testid=load-elsewhere]`), chromedp.Reload(), reads("Load on, hold it"), click("Back to it"),
		stage.Shown(`[data-testid=countdown]`))
	said := map[string]bool{}
	for end := time.Now().Add(15 * time.Second); time.Now().Before(end) && !said["Load off now"]; {
		said[strings.TrimSpace(b.holds(`section [role=status]`))] = true
		b.do(chromedp.Sleep(150 * time.Millisecond))
	}
	if !said["5 seconds"] || !said["Load off now"] {
		t.Errorf("said %v", said)
	}
	b.do(reads("next load in 1:5"), focused("Volts at the end"), typed("9.7"), reads("If this is saved"), typed(kb.Enter),
		reads("Saved: Load test 9.70 V"), reads("Load test it at half its CCA."), reads("next load in 1:"))
	if n := b.count("[role=alert]"); n != 0 {
		t.Error("saved, the load is still called off")
	}
}

// holds is what an element holds, seen or not.
func (b *tab) holds(css string) (text string) {
	b.t.Helper()
	b.do(chromedp.Evaluate(fmt.Sprintf(`document.querySelector(%q)?.textContent ?? ""`, css), &text))
	return text
}

// On a phone the countdown holds figure, keypad and Save, all in sight while it
// runs and once it is over; a refresh takes nothing away.
func TestPhoneCountdownHoldsTheEntry(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	id := b.newJob(mower(), rested(12.65), looked)
	inSight := func(when string) {
		t.Helper()
		var out []string
		b.do(chromedp.Evaluate(`["[data-big]", "[aria-label^=Keypad]", "button.btn-act"].filter(css => {
			const box = document.querySelector(css).getBoundingClientRect();
			const over = document.elementFromPoint(box.x + box.width / 2, box.bottom - 2);
			return box.top < 0 || box.bottom > innerHeight || !document.querySelector(css).contains(over) && !over.contains(document.querySelector(css));
		})`, &out))
		if len(out) > 0 {
			t.Errorf("%s out of sight: %v", when, out)
		}
	}
	b.do(click("Fixed load"), click("Start 10 s"), stage.Shown(`[data-testid=countdown]`))
	inSight("while it runs")
	b.do(chromedp.Reload(), stage.Shown(`[data-testid=countdown]`))
	figure(b, stage.Phone, "Volts at the end", "9.71")
	b.do(reads("Load off now"))
	inSight("once it is over")
	b.do(click("Save, go on"), reads("Saved: Load test 9.71 V"))
	if got := b.saved(id); len(got) != 3 || got[2]["volts_end"] != 9.71 || got[2]["seconds"] != 10.0 {
		t.Errorf("saved %v", got)
	}
	// The answer is in sight after the save.
	b.do(until(`(() => { const e = document.querySelector("section, [aria-live=polite]").getBoundingClientRect(); return scrollY === 0 && e.top < innerHeight / 2; })()`))
}

// Putting a reading right begins with all of it: how it rested, since when, the
// load and the temperature.
func TestCorrectionKeepsTheRest(t *testing.T) {
	b := anew(t, stage.Desktop, "F")
	id := b.newJob(mower(), rested(12.65), map[string]any{"kind": "load_test", "method": "half_cca", "amps": 140,
		"seconds": 14, "volts_end": 9.9, "battery_c": -10, "instrument": "pile"})
	b.do(goTo("Rest volts"), click("Correct this one"), enter("Meter reads", "12.56"), reads("If this is saved"),
		click("Save, go on"), goneOn("Rest volts"), goTo("Strength"), click("Correct this one"))
	if volts, temp := b.value("Volts at the end"), b.value("Battery"); volts != "9.90" || temp != "14" {
		t.Errorf("begins with %q at %q °F", volts, temp)
	}
	b.do(enter("Volts at the end", "9.8"), reads("If this is saved"), click("Save, go on"), reads("Saved: Load test 9.80 V"))
	got := b.saved(id)
	if fmt.Sprintf("%v %v %v", got[0]["volts"], got[0]["minutes_since_charge"], got[0]["surface_charge"]) != "12.56 600 rested" {
		t.Errorf("the volts became %v", got[0])
	}
	if fmt.Sprintf("%v %v %v %v %v", got[1]["volts_end"], got[1]["amps"], got[1]["seconds"], got[1]["battery_c"], got[1]["instrument"]) !=
		"9.8 140 14 -10 pile" {
		t.Errorf("the load test became %v", got[1])
	}
}

// In the width of a tablet on end no figure is cropped, the verdict is in sight
// while one types, and the buttons of what was taken stand in one line.
func TestTabletEntry(t *testing.T) {
	b := anew(t, stage.Tablet, "C")
	b.newJob(mower(), rested(12.65))
	b.do(goTo("Rest volts"), click("Read again"), enter("Meter reads", "−12.24"), reads("leads are swapped"))
	var at struct {
		Cropped bool
		Verdict float64
		Rail    int
	}
	b.do(clear("Meter reads"), enter("Meter reads", "12.24"), reads("If this is saved"), fetched(`
		const field = document.querySelector("[data-big]");
		return { Cropped: field.scrollWidth > field.clientWidth, Rail: document.querySelectorAll("nav[aria-label=Stations] svg").length,
			Verdict: document.querySelector("[aria-live=polite] p").getBoundingClientRect().bottom };
	`, &at))
	if at.Cropped || at.Verdict <= 0 || at.Verdict > 200 || at.Rail < 3 {
		t.Errorf("%+v", at)
	}
	var tops []float64
	b.do(click("Cancel"), chromedp.Evaluate(`[...document.querySelectorAll("section button")].filter(b => /Read again|Correct this/.test(b.textContent))
		.map(b => b.getBoundingClientRect().top)`, &tops))
	if len(tops) != 2 || tops[0] != tops[1] {
		t.Errorf("the buttons stand at %v", tops)
	}
}

// Stations are in the address: back goes to the one before, never to an empty
// form, and a refresh stays.
func TestStationsInTheAddress(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.do(click("New job"), reads("What is it for?"), click("Boat"), click("Open the job"), focused("Meter reads"), goTo("Strength"),
		focused("Volts at the end"), chromedp.Reload(), reads("Set the load to"), chromedp.NavigateBack(), focused("Meter reads"),
		chromedp.NavigateBack(), reads("Next needs hands"))
}

// The search waits for a pause, says of what its list is, and Enter opens what is
// found alone.
func TestFind(t *testing.T) {
	b := as(t, stage.Desktop, "Ines")
	asked := 0
	b.do(reads("Next needs hands"), chromedp.Evaluate(`window.asked = 0; window.fetch = (real => (...a) => { if (String(a[0].url ?? a[0]).includes("find=K")) window.asked++; return real(...a); })(window.fetch); 1`, nil),
		chromedp.Focus(`input[type=search]`))
	// Typed by the page's own timers, so that no pause between two letters is longer than the one that is waited for.
	b.do(chromedp.Evaluate(`[..."K-0142"].forEach((_, i, all) => setTimeout(() => {
		const field = document.activeElement;
		Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(field, all.slice(0, i + 1).join(""));
		field.dispatchEvent(new Event("input", { bubbles: true }));
	}, 200 * i)); 1`, nil), until(`document.activeElement.value === "K-0142" && window.asked > 0`), typed(kb.Enter),
		stage.Shown(`//h1[contains(., "K-0142")][not(ancestor::article)]`), chromedp.Evaluate(`window.asked`, &asked))
	if asked > 2 { // one, and Enter may ask once more
		t.Errorf("%d searches for six letters", asked)
	}
	b.do(until(`document.activeElement.closest("main") !== null`), // the sheet has taken the focus it takes
		chromedp.Focus(`input[type=search]`), typed("zzz"), typed(kb.Enter), reads("0 jobs with “zzz”"))
}

// The house rules are not left with something unsaved: by a link, a key or a step
// back one is asked, and stays with what was chosen.
func TestHouseRulesAreNotLost(t *testing.T) {
	b := as(t, stage.Desktop, "Marit")
	b.do(click("House rules"), click("eye school"))
	for _, leave := range []chromedp.Action{click("Floor"), typed("gf"), chromedp.Evaluate(`history.back()`, nil)} {
		b.do(leave, reads("changed and not saved"), click("Stay here"), reads("Good practitioners differ"), reads("Undo"))
	}
	b.do(chromedp.Evaluate(`history.back()`, nil), reads("changed and not saved"), click("Go without saving"), reads("Next needs hands"),
		click("House rules"), stage.Shown(`//button[@aria-checked="true"][contains(., "three quarters")]`))
}

// Addresses that lead nowhere say so and lead back; a page that breaks does too.
func TestNowhere(t *testing.T) {
	b := as(t, stage.Phone, "Ines")
	for _, at := range []string{"/no/such/place", "/jobs/" + newID(), "/jobs/K-0142"} {
		b.do(visit(at), reads("There is no"), click("To the floor"), reads("Next needs hands"))
	}
}

// With a screen as low as one magnified twice, the clock does not stand in the
// way of the work.
func TestLowScreen(t *testing.T) {
	b := as(t, stage.Screen{Width: 640, Height: 400}, "Ines")
	var position string
	b.do(reads("Next needs hands"), chromedp.Evaluate(`getComputedStyle(document.querySelector("aside[aria-label*=clock]")).position`, &position))
	if position != "static" {
		t.Errorf("the clock is %s", position)
	}
}

// Signing out with the line gone says so, and with it back it works.
func TestSignOut(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	out := func() {
		b.do(chromedp.Click(`button[aria-label*="your settings"]`, chromedp.NodeVisible), press(`//*[@role="menuitem"][.="Sign out"]`))
	}
	// The menu is there though the line goes: it came while nothing else did.
	b.do(until(`performance.getEntriesByType("resource").some(e => e.name.includes("PersonMenu"))`), offline(true))
	out()
	b.do(reads("Still signed in"), offline(false))
	out()
	b.do(stage.Shown(stage.Button("Sign in")))
}

// Paper carries dates, the complaint, how each reading was taken, and what was
// corrected or taken back.
func TestPaper(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	job := mower()
	job["complaint"], job["note"] = []string{"slow_crank"}, "slow since the frost"
	id := b.newJob(job, rested(12.24), map[string]any{"kind": "load_test", "method": "half_cca", "amps": 150, "seconds": 15, "volts_end": 9.9})
	b.do(goTo("Rest volts"), click("Correct this one"), enter("Meter reads", "12.61"), reads("If this is saved"), click("Save, go on"), goneOn("Rest volts"))
	b.post("/api/jobs/"+id+"/readings", sent(newID(), rested(12.9)))
	b.do(emulation.SetEmulatedMedia().WithMedia("print"))
	for _, line := range []string{"Turns slowly · “slow since the frost”", "rested, last charged or driven: overnight",
		"Half the CCA, 150 A, 15 s", time.Now().Format("2006"), "corrected to Rest volts 12.61 V"} {
		b.do(reads(line))
	}
	// Every reading has its day.
	var without []string
	b.do(until(`document.querySelectorAll("article tbody tr").length === 3`), chromedp.Evaluate(fmt.Sprintf(`[...document.querySelectorAll("article tbody tr")].map(e => e.textContent)
		.filter(t => !t.includes("%s"))`, time.Now().Format("2006")), &without))
	if len(without) > 0 {
		t.Errorf("without a date: %q", without)
	}
}

// Words of the trade are explained where they stand.
func TestTermsAreExplained(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.newJob(mower())
	b.do(press(`//button[@aria-label="Explain: surface charge"]`), reads("A thin layer of charge left on the plates"))
	b.do(chromedp.KeyEvent(kb.Escape), click("House rules"), reads("Good practitioners differ"), press(`//button[contains(@aria-label, "eye school")]`), reads("turns green at about 65 % charge"))
}

// With fingers, the keys of the keypad are pressed where they are.
func TestQuickWordOnAPhone(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	id := b.newJob(mower())
	figure(b, stage.Phone, "Meter reads", "12.64")
	b.do(reads("If this is saved"), press(`//button[@aria-pressed="false"][.="Rested"]`), reads("Charged enough. Load test it."), click("Save, go on"), goneOn("Rest volts"))
	if got := b.saved(id); got[0]["surface_charge"] != "rested" {
		t.Errorf("saved %v", got)
	}
}
