package e2e

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"

	"grapnel/internal/stage"
)

// axe runs the accessibility rules of axe-core over what is on the screen, among
// them those that are off by default here: targets, names, regions, scrolling.
const axe = `axe.run(document, {
	resultTypes: ["violations"],
	runOnly: %s,
	rules: { "target-size": { enabled: true }, "label-content-name-mismatch": { enabled: true } },
}).then(r => JSON.stringify(r.violations.flatMap(v => v.nodes.map(n => v.id + ": " + n.target.join(" ") + " " + n.html.slice(0, 140) + " " + (n.any[0]?.message ?? "")))))`

// In the second scheme nothing but the colours is another.
const (
	allRules    = `["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]`
	colourRules = `["color-contrast", "link-in-text-block"]`
)

// ours are rules of this house: nothing under 12 px, and targets of 44 px and more
// but for words in a line of text.
const ours = `JSON.stringify([
	...[...document.querySelectorAll("body *")].filter(e => e.checkVisibility() && !e.closest(".sr-only, .print-only") &&
		[...e.childNodes].some(n => n.nodeType === 3 && n.data.trim()) && parseFloat(getComputedStyle(e).fontSize) < 12)
		.map(e => "under 12 px: " + e.outerHTML.slice(0, 120)),
	...[...document.querySelectorAll("button, a[href], input, [role=radio]")].filter(e => e.checkVisibility() && !e.closest(".sr-only") &&
		!e.classList.contains("sr-only") && getComputedStyle(e).display !== "inline").map(e => [e, (e.closest("label") ?? e).getBoundingClientRect()])
		.filter(([e, b]) => b.width > 0 && (b.height < 43.5 || b.width < 43.5)).map(([e, b]) => "target of " + b.width + " by " + b.height + ": " + e.outerHTML.slice(0, 120)),
])`

// Every screen, light and dark, in three sizes, passes the accessibility rules.
func TestAccessibility(t *testing.T) {
	source, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	if err != nil {
		t.Fatalf("%v; npm ci in web fetches it, and make test does that", err)
	}
	loaded := map[string]any{"kind": "load_test", "method": "half_cca", "amps": 150, "seconds": 15, "volts_end": 9.9}
	places := []struct {
		name string
		way  func(b *tab)
	}{
		{"floor", func(b *tab) { b.do(chromedp.Navigate(theatre.URL), reads("Next needs hands")) }},
		{"handed over", func(b *tab) { b.do(chromedp.Navigate(theatre.URL+"/?show=closed"), reads("Handed over")) }},
		{"nothing found", func(b *tab) { b.do(chromedp.Navigate(theatre.URL+"/?find=zzz"), reads("0 jobs with")) }},
		{"new job", func(b *tab) {
			b.do(chromedp.Navigate(theatre.URL+"/jobs/new"), click("Mower"), click("Turns slowly"), chromedp.Evaluate(`[...document.querySelectorAll("button")].find(b => b.textContent.includes("Other standard")).click()`, nil),
				reads("Made, year and month"))
		}},
		{"rest volts", func(b *tab) { b.newJob(mower()); b.do(enter("Meter reads", "12.31"), reads("If this is saved")) }},
		{"taken", func(b *tab) { b.newJob(mower(), rested(12.65)); b.do(goTo("Rest volts"), reads("Read again")) }},
		{"load test", func(b *tab) {
			b.newJob(mower(), rested(12.65))
			b.do(click("Start 15 s"), chromedp.WaitVisible(`[data-testid=countdown]`))
		}},
		{"decide", func(b *tab) {
			b.newJob(mower(), rested(12.24), loaded)
			b.do(goTo("Decide"), reads("Has it been charged?"))
		}},
		{"arrive", func(b *tab) { b.newJob(mower(), rested(12.65)); b.do(goTo("Arrive"), reads("Save the changes")) }},
		{"hazard", func(b *tab) {
			b.newJob(mower(), map[string]any{"kind": "inspection", "found": []string{"case_cracked"}})
			b.do(goTo("Load test"), reads("Do not load it."))
		}},
		{"house rules", func(b *tab) { b.do(chromedp.Navigate(theatre.URL+"/rules"), reads("Good practitioners differ")) }},
		{"nowhere", func(b *tab) { b.do(chromedp.Navigate(theatre.URL+"/nowhere"), reads("There is nothing here")) }},
	}
	for name, screen := range map[string]stage.Screen{"desktop": stage.Desktop, "tablet": stage.Tablet, "phone": stage.Phone} {
		t.Run(name, func(t *testing.T) {
			b := anew(t, screen, "C")
			check := func(place string) {
				b.do(chromedp.Evaluate(string(source)+"; 1", nil))
				for scheme, rules := range map[string]string{"light": allRules, "dark": colourRules} {
					var found, own string
					b.do(chromedp.Evaluate(`document.documentElement.dataset.theme = "`+scheme+`"; 1`, nil),
						emulation.SetEmulatedMedia().WithFeatures([]*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: scheme},
							{Name: "prefers-reduced-motion", Value: "reduce"}}),
						fetched(`return await `+fmt.Sprintf(axe, rules), &found), chromedp.Evaluate(ours, &own))
					if found != "[]" || own != "[]" {
						t.Errorf("%s, %s: %s", place, scheme, strings.ReplaceAll(found+own, `","`, "\n"))
					}
				}
			}
			for _, p := range places {
				p.way(b)
				check(p.name)
			}
			b.do(chromedp.Navigate(theatre.URL+"/api/session"), chromedp.Evaluate(`fetch("/api/session", { method: "DELETE" }).then(() => 1)`, nil),
				chromedp.Navigate(theatre.URL), reads("Demo workshop"))
			check("sign-in")
		})
	}
}
