package e2e

import (
	"context"
	"regexp"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"grapnel/internal/stage"
)

// The first job on a desktop and on a phone: signed in by name and passphrase,
// opened in four taps, read, tested, judged, reloaded, found, printed,
// corrected.
func TestFirstJob(t *testing.T) {
	t.Parallel()
	for name, screen := range map[string]stage.Screen{"desktop": stage.Desktop, "phone": stage.Phone} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			firstJob(t, screen)
		})
	}
}

func firstJob(t *testing.T, screen stage.Screen) {
	b := open(t, screen)
	b.do(visit("/"), stage.Type(`input[name=name]`, "Ines"), stage.Type(`input[name=passphrase]`, "not this one"),
		click("Sign in"), reads("do not match"), stage.Type(`input[name=passphrase]`, "clean before you test"),
		click("Sign in"), stage.Shown(stage.Button("New job")))

	// A parks mower in four taps after "New job".
	b.do(click("New job"), reads("What is it for?"), click("Mower"), click("Turns slowly"), click("300 CCA"), click("Open the job"),
		reads("Take the rest voltage first."))
	address := b.path()

	// Half charged: the verdict shows while the figure is typed.
	figure(b, screen, "Meter reads", "12.24")
	b.do(reads("Charge it, then test again."))
	save(b, screen, "Meter reads")
	// The sheet goes on to where core says: charging, not the load test.
	b.do(goneOn("Rest volts"), click("Whole, dry, not frozen, no smell?"), reads("safe to work on"), click("Save, go on"),
		reads("How the charge ended"), goTo("Strength"))

	// The load test says what to set, counts, and is kept though not judged.
	b.do(reads("Not a fair test now"), reads("half of 300 CCA"), reads("150"))
	if screen.Touch {
		b.do(click("Start 15 s"), stage.Shown(`[data-testid=countdown]`), click("Cancel"))
	} else {
		begun := time.Now()
		b.do(click("Start 15 s"), reads("Load on, hold it"), reads("Load off now"))
		if s := time.Since(begun).Seconds(); s < 14.5 {
			t.Errorf("the load was called off after %.1f s", s)
		}
	}
	figure(b, screen, "Volts at the end", "10.40")
	save(b, screen, "Volts at the end")
	b.do(goneOn("Strength"), goTo("Decide"), reads("Charge it, then test again."),
		reads("a good sign, though it was too flat"))

	// It is all there after a reload, and found again by its tag.
	var tag string
	b.do(chromedp.Reload(), reads("Charge it, then test again."), reads("12.24 V"), reads("10.40 V"),
		chromedp.Text(`//h1[not(ancestor::article)]`, &tag, chromedp.BySearch))
	b.do(
		stage.Type(`input[type=search]`, tag),
		reads("1 job with"),
		click(tag),
		stage.Shown(`//h1[contains(.,"`+tag+`")][not(ancestor::article)]`),
	)
	if back := b.path(); back != address {
		t.Errorf("found %s, opened %s", back, address)
	}

	// A ledger line opens to its reading, reason and source.
	b.do(click("a load test now would blame a flat battery"), reads("House rule"), reads("Fair test"),
		reads("BCI service tables, from memory"))

	// The volts were misread. The correction stands; the old reading stays in
	// the history.
	b.do(goTo("Rest volts"), click("Correct this one"), reads("Both stay in the history"))
	figure(b, screen, "Meter reads", "12.64")
	// Nobody said how it rested; one tap narrows it before the eyes.
	b.do(reads("Charge it before it goes back."), click("Rested"), reads("The battery holds."))
	save(b, screen, "Meter reads")
	b.do(goneOn("Rest volts"), reads("The battery holds. Look elsewhere."), goTo("Rest volts"), click("History, 2 readings"),
		reads("corrected"), reads("12.24 V"))

	// The load test's station shows the strength behind the volts, once the charge
	// is known: the same figure by any tester.
	b.do(goTo("Strength"), reads("Strength, charge and temperature taken out"), reads("of the label"),
		reads("by conductance"))

	// One page of paper, with the verdict on it.
	var pdf []byte
	b.do(printed(&pdf))
	if n := pages(pdf); n != 1 {
		t.Errorf("the sheet prints on %d pages", n)
	}
	b.do(emulation.SetEmulatedMedia().WithMedia("print"), reads("Conclusions and their reasons"),
		reads("For the customer: Your battery holds"), reads("The battery holds. Look elsewhere."), emulation.SetEmulatedMedia().WithMedia(""))

	// The same judgement from the file it gives away.
	var verdict string
	b.do(chromedp.Evaluate(`(async () => {
		const file = await (await fetch(document.querySelector("a[download]").href)).text();
		const answer = await fetch("/api/assess", { method: "POST", headers: { "Content-Type": "application/json" }, body: file });
		return (await answer.json()).verdict;
	})()`, &verdict, func(p *runtime.EvaluateParams) *runtime.EvaluateParams { return p.WithAwaitPromise(true) }))
	if verdict != "look_elsewhere" {
		t.Errorf("the case file is judged %s", verdict)
	}
	b.do(goTo("Hand over"), click("Close the job"), reads("Open it again"))
	if px := b.sideways(); px > 0 {
		t.Errorf("the job sheet is %d px wider than the screen", px)
	}
}

// save saves an entry: by Enter on a desktop, by the button on a phone.
func save(b *tab, screen stage.Screen, label string) {
	b.t.Helper()
	if screen.Touch {
		b.do(click("Save, go on"))
		return
	}
	b.do(stage.Type(stage.Labelled(label), kb.Enter))
}

// figure enters a figure as the screen has it done: keys on a desktop, the
// keypad on a phone.
func figure(b *tab, screen stage.Screen, label, value string) {
	b.t.Helper()
	if !screen.Touch {
		b.do(enter(label, value))
		return
	}
	for _, digit := range value {
		name := string(digit)
		if name == "." {
			name = "Decimal point"
		}
		b.do(
			press(`//*[@aria-label="Keypad for ` + label + `"]//button[@aria-label="` + name + `"]`),
		)
	}
}

func pages(pdf []byte) int { return len(regexp.MustCompile(`/Type\s*/Page[^s]`).FindAll(pdf, -1)) }

func printed(out *[]byte) chromedp.Action {
	return chromedp.ActionFunc(func(ctx context.Context) (err error) {
		*out, _, err = page.PrintToPDF().WithPreferCSSPageSize(true).Do(ctx)
		return err
	})
}
