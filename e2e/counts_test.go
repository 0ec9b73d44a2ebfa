package e2e

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"grapnel/internal/effort"
	"grapnel/internal/stage"
)

// The most it may take from the floor to an open job of class, complaint, label and
// opening, and to the first saved verdict: as many as it took before.
const (
	mostTapsToJob, mostTapsToVerdict = 5, 11
	mostKeysToJob, mostKeysToVerdict = 35, 41
)

// counter counts what hands do.
type counter struct {
	*tab
	n int
}

// tap touches what reads so where it stands: nothing is scrolled into sight, and
// nothing may lie over it.
func (c *counter) tap(xpath string) {
	c.t.Helper()
	var at struct {
		X, Y float64
		Word string
	}
	c.do(stage.Until(fmt.Sprintf(`(() => {
		const e = document.evaluate(%q, document, null, XPathResult.ORDERED_NODE_SNAPSHOT_TYPE, null);
		for (let i = 0; i < e.snapshotLength; i++) {
			const one = e.snapshotItem(i), r = one.getBoundingClientRect();
			const [X, Y] = [r.left + r.width / 2, r.top + r.height / 2];
			if (!one.checkVisibility() || one.disabled) continue;
			if (one.contains(document.elementFromPoint(X, Y))) return { X, Y, Word: one.innerText };
		}
		return false;
	})()`, xpath), &at), chromedp.ActionFunc(func(ctx context.Context) error {
		point := []*input.TouchPoint{{X: at.X, Y: at.Y}}
		if err := input.DispatchTouchEvent(input.TouchStart, point).Do(ctx); err != nil {
			return err
		}
		return input.DispatchTouchEvent(input.TouchEnd, []*input.TouchPoint{}).Do(ctx)
	}))
	c.n++
}

// key presses one key at a time.
func (c *counter) key(keys ...string) {
	c.t.Helper()
	for _, k := range keys {
		moves := k == kb.Tab || k == kb.ArrowRight
		if moves {
			c.do(chromedp.Evaluate(`window.focusWas = document.activeElement; 1`, nil))
		}
		c.do(chromedp.KeyEvent(k))
		if moves {
			c.do(until(`document.activeElement !== window.focusWas`))
		}
		c.n++
	}
}

// By touch nothing of the way needs scrolling, with a phone neither.
func TestTapsToAVerdict(t *testing.T) {
	for name, screen := range map[string]stage.Screen{"tablet": stage.Tablet, "phone": stage.Phone} {
		t.Run(name, func(t *testing.T) {
			c, began := counter{tab: anew(t, screen, "C")}, time.Now()
			for _, word := range []string{"New job", "Mower", "Turns slowly", "300 CCA", "Open the job"} {
				if word == "Mower" {
					c.do(reads("What is it for?")) // the floor has mowers too
				}
				c.tap(stage.Button(word))
			}
			c.do(focused("Meter reads"))
			if c.n > mostTapsToJob {
				t.Errorf("%d taps to a job", c.n)
			}
			for _, key := range []string{"1", "2", "Decimal point", "6", "5"} {
				c.tap(`//main//button[@aria-label="` + key + `"]`)
			}
			c.do(reads("If this is saved"))
			c.tap(stage.Button("Save, go on"))
			c.do(reads("Saved: Rest volts 12.65 V"))
			if c.n > mostTapsToVerdict {
				t.Errorf("%d taps to a verdict", c.n)
			}
			t.Logf("%d taps, %.1f s as fast as a machine taps", c.n, time.Since(began).Seconds())
		})
	}
}

// By keyboard alone the same way takes far fewer keys than fields.
func TestKeysToAVerdict(t *testing.T) {
	c := counter{tab: anew(t, stage.Desktop, "C")}
	c.key("n")
	c.do(focused("Car"))
	c.key(kb.ArrowRight, kb.ArrowRight, kb.ArrowRight, " ", kb.Tab, kb.Tab)
	c.do(focused("Nothing at all"))
	c.key(kb.ArrowRight, kb.ArrowRight, kb.ArrowRight, " ", kb.Tab, kb.Tab, kb.ArrowRight, " ")
	c.do(stage.Shown(`//button[@aria-pressed="true" or @aria-checked="true"][contains(., "CCA")]`))
	c.do(chromedp.KeyEvent(kb.Enter, chromedp.KeyModifiers(input.ModifierCtrl)))
	c.n++
	c.do(focused("Meter reads"))
	if c.n > mostKeysToJob {
		t.Errorf("%d keys to a job", c.n)
	}
	c.key("1", "2", ".", "6", "5")
	c.do(reads("If this is saved"))
	c.key(kb.Enter)
	c.do(reads("Saved: Rest volts 12.65 V"))
	if c.n > mostKeysToVerdict {
		t.Errorf("%d keys to a verdict", c.n)
	}
	t.Logf("%d keys", c.n)
	var sheet struct {
		Job struct {
			Complaint []string
			Vehicle   map[string]any
		}
	}
	c.do(fetched(`return await (await fetch(location.pathname.replace("/jobs/", "/api/jobs/"))).json()`, &sheet))
	if got := fmt.Sprint(sheet.Job.Vehicle["class"], sheet.Job.Complaint); got != "mower[slow_crank]" {
		t.Errorf("opened %s", got)
	}
}

// Wherever the focus goes by Tab it is seen: on the element or on the field around it.
func TestFocusIsSeen(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower(), rested(12.65))
	all := []string{"/jobs/new", "/jobs/" + id + "?at=strength", "/", "/rules", "/jobs/" + id + "?at=arrive"}
	for _, at := range all[:effort.Of(2, 2, len(all))] {
		b.do(visit(at), stage.Shown(`h1`))
		if at == "/jobs/new" {
			b.do(click("Mower"))
		}
		var unseen []string
		seen := map[string]bool{}
		for range 40 {
			var on, fault string
			b.do(chromedp.KeyEvent(kb.Tab), chromedp.Evaluate(`(document.activeElement.textContent + document.activeElement.id + document.activeElement.ariaLabel).slice(0, 60)`, &on),
				chromedp.Evaluate(`(() => {
					const ringed = (e) => { const s = getComputedStyle(e); return s.outlineStyle !== "none" && parseFloat(s.outlineWidth) >= 2; };
					const e = document.activeElement, wide = e.closest("label") ?? e.parentElement;
					return e === document.body || ringed(e) || ringed(wide) ? "" : e.outerHTML.slice(0, 160);
				})()`, &fault))
			if seen[on] && on != "null" {
				break
			}
			seen[on] = true
			if fault != "" {
				unseen = append(unseen, fault)
			}
		}
		if len(unseen) > 0 || len(seen) < 8 {
			t.Errorf("%s, %d places: %s", at, len(seen), strings.Join(unseen, "\n"))
		}
	}
}

// However much is done, the open station has the screen: its picture, figure,
// dipstick and Save stand together on a desktop and a tablet, clear of the clock;
// figure, dipstick and keypad on a phone. Nothing is scrolled. Where all is tried, at every
// station.
func TestStickBesideTheFigure(t *testing.T) {
	t.Parallel()
	done := []map[string]any{looked, {"kind": "lid_leakage", "volts": 0.05}, rested(12.65),
		{"kind": "hydrometer", "cells_sg": []float64{1.26, 1.26, 1.25, 1.26, 1.26, 1.255}, "level": "covered"},
		{"kind": "load_test", "method": "half_cca", "amps": 150, "seconds": 15, "volts_end": 10.4},
		{"kind": "crank", "volts_min": 10.6, "turned": "normal", "amps": 120, "drop_live_volts": 0.2, "drop_earth_volts": 0.3},
		{"kind": "charging", "volts": 14.2, "speed": "raised", "loads": "on"}, {"kind": "drain", "milliamps": 18, "minutes_asleep": 40}}
	figures := map[string]string{"clean": "0.07", "rest_voltage": "12.24", "acid": "1250", "strength": "9.91", "crank": "9.4", "charging": "13.9",
		"drain": "35", "look": "", "charge": ""}
	for name, screen := range map[string]stage.Screen{"desktop": stage.Desktop, "tablet": stage.Tablet, "phone": stage.Phone} {
		t.Run(name, func(t *testing.T) {
			b := anew(t, screen, "C")
			id := b.newJob(mower(), done...)
			for i, station := range slices.Sorted(maps.Keys(figures)) {
				if i%3 != effort.Of(0, len(name)%3, i%3) {
					continue
				}
				figure := figures[station]
				b.do(visit("/jobs/"+id+"?at="+station), stage.Shown(`//button[contains(., "Read again")] | //*[@data-saves]`))
				if b.count("[data-saves]") == 0 {
					b.do(click("Read again"))
				}
				want := []string{`[data-saves]`}
				if figure != "" {
					field := `[data-big]`
					if station == "acid" {
						field = `[data-cell="1"]`
					}
					want = append(want, field, `[data-judging] svg`)
					b.do(stage.Shown(field), stage.Type(field, figure))
					if station == "acid" {
						b.do(b.cells("", "1250", "1250", "1250", "1250", "1250"))
					}
					b.do(stage.Shown(`[data-judging=done]`), reads("If this is saved"))
				}
				switch {
				case name != "phone" && figure != "" && station != "acid":
					want = append(want, `section svg[role=img]`)
				case name == "phone" && station != "look" && station != "charge":
					want = append(want, `[aria-label^=Keypad]`)
				}
				hidden := fmt.Sprintf(`(() => {
					const strip = document.querySelector("aside[aria-label=\"The shop's clock\"]").getBoundingClientRect().top;
					return %s.filter(css => {
						const r = document.querySelector(css)?.getBoundingClientRect();
						return !r || r.height === 0 || r.top < 0 || r.bottom > strip + 0.5;
					}).map(css => css + " " + JSON.stringify(document.querySelector(css)?.getBoundingClientRect()) + " of " + strip);
				})()`, asJSON(want))
				var out []string
				b.do(chromedp.ActionFunc(func(ctx context.Context) error {
					if stage.Until(hidden+`.length === 0`, nil).Do(ctx) == nil {
						return nil
					}
					return chromedp.Evaluate(hidden, &out).Do(ctx)
				}))
				if len(out) > 0 {
					t.Errorf("%s, not in sight: %v", station, out)
				}
			}
		})
	}
}

func asJSON(v any) string {
	raw, err := json.Marshal(v)
	if err != nil {
		panic(err)
	}
	return string(raw)
}
