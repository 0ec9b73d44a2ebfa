package stage

import (
	"context"
	"fmt"
	"time"

	"github.com/chromedp/chromedp"
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
				window.pressed = false;
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
				return fmt.Errorf("waiting to press %s: %w", xpath, err)
			}
			if err := chromedp.MouseClickXY(at.X, at.Y).Do(ctx); err != nil {
				return err
			}
			// It may have moved in between, as when the line is lost: a finger would tap
			// again. Where the press led to another page, it arrived.
			var missed bool
			if err := chromedp.Evaluate(`window.pressed === false`, &missed).Do(ctx); err != nil || !missed {
				return ctx.Err()
			}
		}
	})
}

// Enter types into the field of a label.
func Enter(label, value string) chromedp.Action {
	return chromedp.SendKeys(Labelled(label), value, chromedp.BySearch, chromedp.NodeVisible)
}

// Until waits until JavaScript gives something true, and decodes it. It looks now
// and then: looking at each frame would keep the page drawing.
func Until(js string, into any) chromedp.Action {
	return chromedp.Poll(js, into, chromedp.WithPollingInterval(40*time.Millisecond),
		chromedp.WithPollingTimeout(25*time.Second))
}

// Reads waits until some visible text on the page contains the words.
func Reads(words string) chromedp.Action {
	return chromedp.ActionFunc(func(ctx context.Context) error {
		seen := fmt.Sprintf(
			`document.body.innerText.replaceAll("\u00a0", " ").toLowerCase().includes(%q.toLowerCase())`,
			words,
		)
		if err := Until(seen, nil).Do(ctx); err != nil {
			return fmt.Errorf("waiting to read %q: %w", words, err)
		}
		return nil
	})
}
