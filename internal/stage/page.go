package stage

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"

	"grapnel/internal/effort"
)

// Click presses the middle of a button, link or chip as a finger would: once it
// stands still and nothing lies over it.
func Click(words string) chromedp.Action { return Press(Button(words)) }

// Press presses what an XPath finds first.
func Press(xpath string) chromedp.Action {
	js := fmt.Sprintf(`(() => {
		const all = document.evaluate(%q, document, null, XPathResult.ORDERED_NODE_SNAPSHOT_TYPE, null);
		for (let i = 0; i < all.snapshotLength; i++) {
			const e = all.snapshotItem(i);
			if (!e.checkVisibility() || e.disabled) continue;
			e.scrollIntoViewIfNeeded();
			const box = e.getBoundingClientRect();
			const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
			const was = window.pressing;
			window.pressing = { e, x, y };
			const still = was && was.e === e && was.x === x && was.y === y;
			if (still && e.contains(document.elementFromPoint(x, y))) {
				delete window.pressing;
				window.pressed = null;
				// A menu opens as the finger comes down; all else acts as it lifts, when what
				// lies under it may be something else.
				const acts = e.ariaHasPopup === "menu" ? "pointerdown" : "click";
				window.addEventListener(acts, (ev) => { window.pressed = e.contains(ev.target); }, { once: true, capture: true });
				return { x, y };
			}
			return false;
		}
		return false;
	})()`, xpath)
	return chromedp.ActionFunc(func(ctx context.Context) error {
		for {
			var at struct{ X, Y float64 }
			if err := Until(js, &at).Do(ctx); err != nil {
				return fmt.Errorf("waiting to press %s: %w", xpath, errors.Unwrap(err))
			}
			if err := chromedp.MouseClickXY(at.X, at.Y).Do(ctx); err != nil {
				return err
			}
			// It may have moved in between, as when the line is lost: a finger would tap
			// again. Where the press led to another page, it arrived.
			if hit, err := landed(ctx); err != nil || hit {
				return errors.Join(err, ctx.Err())
			}
		}
	})
}

// landed waits until a press has come to the page, which may be after it was sent, and
// reports whether it met what it was meant for. One that never comes met nothing.
func landed(ctx context.Context) (bool, error) {
	for end := time.Now().Add(askedFor); ; time.Sleep(5 * time.Millisecond) {
		var how string
		if err := chromedp.Evaluate(`String(window.pressed)`, &how).Do(ctx); err != nil {
			return true, ctx.Err() // the page is another
		}
		if how != "null" || time.Now().After(end) {
			return how != "false" && how != "null", ctx.Err()
		}
	}
}

// Enter types into the field of a label.
func Enter(label, value string) chromedp.Action { return Type(Labelled(label), value) }

// Type types into what a selector or an XPath finds first, as keys are pressed.
func Type(selector, text string) chromedp.Action {
	focus := Until(`(() => { const e = `+visible(selector)+`; if (e) e.focus(); return !!e && document.activeElement === e; })()`, nil)
	return chromedp.ActionFunc(func(ctx context.Context) error {
		if err := focus.Do(ctx); err != nil {
			return fmt.Errorf("waiting to type into %s: %w", selector, errors.Unwrap(err))
		}
		return chromedp.KeyEvent(text).Do(ctx)
	})
}

// Shown waits until something is seen that a selector or an XPath finds.
func Shown(selector string) chromedp.Action {
	return waiting("waiting to see "+selector, visible(selector)+` !== undefined`)
}

// Gone waits until nothing is there that a selector or an XPath finds.
func Gone(selector string) chromedp.Action {
	return waiting("waiting until it is gone, "+selector, all(selector)+`.length === 0`)
}

func waiting(what, js string) chromedp.Action {
	return chromedp.ActionFunc(func(ctx context.Context) error {
		if err := Until(js, nil).Do(ctx); err != nil {
			return fmt.Errorf("%s: %w", what, errors.Unwrap(err))
		}
		return nil
	})
}

// all is JavaScript for the list of what a selector or an XPath finds.
func all(selector string) string {
	if strings.HasPrefix(selector, "/") || strings.HasPrefix(selector, "(") {
		return fmt.Sprintf(`((found) => Array.from({ length: found.snapshotLength }, (_, i) => found.snapshotItem(i)))(
			document.evaluate(%q, document, null, XPathResult.ORDERED_NODE_SNAPSHOT_TYPE, null))`, selector)
	}
	return fmt.Sprintf(`[...document.querySelectorAll(%q)]`, selector)
}

// visible is JavaScript for the first of them that is seen.
func visible(selector string) string {
	return all(selector) + `.find((e) => e.getClientRects().length > 0 && getComputedStyle(e).visibility !== "hidden")`
}

// Patience is how long anything is waited for. Nothing takes a second on a quiet machine; one
// that is busy with others, or has a single processor, is no fault of the page.
var Patience = effort.Patience(2 * time.Minute)

// watched waits in the page until an expression gives something true: looked at when the page
// has changed, and now and then, since not all changes are of its elements. Looking each
// frame, or by asking again and again, would take more of the processor than the page itself.
const watched = `new Promise((done) => {
	let later, again, end;
	const over = (value) => {
		seen.disconnect();
		clearInterval(again);
		clearTimeout(later);
		clearTimeout(end);
		done(value);
	};
	const look = () => {
		later = undefined;
		let value;
		try { value = (%s); } catch { value = undefined; }
		if (value) over(JSON.stringify(value));
	};
	const soon = () => { later ??= setTimeout(look, 40); };
	const seen = new MutationObserver(soon);
	seen.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
	again = setInterval(soon, 60);
	end = setTimeout(() => over(""), %d);
	look();
})`

// A page is asked for so long at once, and an answer is waited for so long: one that makes way
// for another may never answer.
const (
	askedFor  = 2 * time.Second
	answersIn = 3 * time.Second
)

// Until waits until JavaScript gives something true, and decodes it; through a change of the
// page too.
func Until(js string, into any) chromedp.Action {
	return chromedp.ActionFunc(func(ctx context.Context) error {
		end := time.Now().Add(Patience)
		for {
			var value string
			step, cancel := context.WithTimeout(ctx, answersIn)
			err := chromedp.Evaluate(fmt.Sprintf(watched, js, askedFor.Milliseconds()), &value, awaited).Do(step)
			late := step.Err() != nil
			cancel()
			switch {
			case err == nil && value != "":
				if into == nil {
					return nil
				}
				return json.Unmarshal([]byte(value), into)
			case err == nil:
				err = context.DeadlineExceeded
			case !late && !pageLeft(err):
				return fmt.Errorf("waiting until %s: %w", js, err)
			}
			if ctx.Err() != nil || time.Now().After(end) {
				return fmt.Errorf("waiting until %s: %w", js, err)
			}
			time.Sleep(10 * time.Millisecond) // the next page is on its way
		}
	})
}

func awaited(p *runtime.EvaluateParams) *runtime.EvaluateParams { return p.WithAwaitPromise(true) }

// pageLeft reports whether an expression had no answer because its page made way for another.
func pageLeft(err error) bool {
	for _, said := range []string{"context was destroyed", "Cannot find context", "navigated or closed", "Promise was collected", "Cannot find default"} {
		if strings.Contains(err.Error(), said) {
			return true
		}
	}
	return false
}

// Reads waits until some visible text on the page contains the words. What of it is visible
// takes a layout to know, and is asked only once the words are there at all.
func Reads(words string) chromedp.Action {
	return waiting(fmt.Sprintf("waiting to read %q", words), fmt.Sprintf(`((words, plain) =>
		plain(document.body.textContent).includes(plain(words)) &&
			document.body.innerText.replaceAll("\u00a0", " ").toLowerCase().includes(words.toLowerCase())
	)(%q, (text) => text.replace(/\s+/g, "").toLowerCase())`, words))
}
