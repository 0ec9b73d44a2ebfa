package e2e

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"

	"grapnel/internal/effort"
	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// axe runs the accessibility rules of axe-core over what is on the screen, among
// them those that are off by default here: targets, names, regions, scrolling.
const axe = `axe.run(document, Object.assign({ resultTypes: ["violations"] }, %s)).then(r => JSON.stringify(r.violations.flatMap(v => v.nodes.map(n => v.id + ": " + n.target.join(" ") + " " + n.html.slice(0, 140) + " " + (n.any[0]?.message ?? "")))))`

// What is run: every rule; or what alone a scheme can change once every rule was run in the
// other.
const (
	everyRule = `{
		runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"],
		rules: { "target-size": { enabled: true }, "label-content-name-mismatch": { enabled: true } },
	}`
	colours = `{ runOnly: { type: "rule", values: ["color-contrast"] } }`
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

// uncut scrolls to where the fewest buttons stand out from under a bar that stays in sight by
// less than a target's height: a page can be scrolled, and a sliver is nobody's target.
const uncut = `(() => {
	const bars = [...document.querySelectorAll("*")].filter(e => ["fixed", "sticky"].includes(getComputedStyle(e).position));
	const cut = () => [...document.querySelectorAll("button, a, input")].filter(e => {
		const r = e.getBoundingClientRect();
		return r.height > 0 && bars.some(b => {
			if (b.contains(e)) return false;
			const s = b.getBoundingClientRect();
			if (r.bottom <= s.top || r.top >= s.bottom || r.right <= s.left || r.left >= s.right) return false;
			const out = Math.max(s.top - r.top, r.bottom - s.bottom);
			return out > 0 && out < 25;
		});
	}).length;
	let best = [Infinity, 0];
	for (let y = 0; y < 120 && best[0] > 0; y += 6) {
		window.scrollTo(0, y);
		const n = cut();
		if (n < best[0]) best = [n, y];
	}
	window.scrollTo(0, best[1]);
	return 1;
})()`

// Every screen, light and dark, passes the accessibility rules: in all three sizes where all is
// tried, as whenever a screen was changed (scripts/long); here a few of them in one.
func TestAccessibility(t *testing.T) {
	t.Parallel()
	source, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	if err != nil {
		t.Fatalf("%v; npm ci in web fetches it, and make test does that", err)
	}
	loaded := map[string]any{"kind": "load_test", "method": "half_cca", "amps": 150, "seconds": 15, "volts_end": 9.9}
	places := []struct {
		name string
		way  func(b *tab)
	}{
		{"floor", func(b *tab) { b.do(visit("/"), reads("Next needs hands")) }},
		{"handed over", func(b *tab) { b.do(visit("/?show=closed"), reads("Handed over")) }},
		{"nothing found", func(b *tab) { b.do(visit("/?find=zzz"), reads("0 jobs with")) }},
		{"new job", func(b *tab) {
			b.do(
				visit("/jobs/new"),
				click("Mower"),
				click("Turns slowly"),
				chromedp.Evaluate(
					`[...document.querySelectorAll("button")].find(b => b.textContent.includes("Other standard")).click()`,
					nil,
				),
				reads("Made, year and month"),
			)
		}},
		{"rest volts", func(b *tab) { b.newJob(mower()); b.do(enter("Meter reads", "12.31"), reads("If this is saved")) }},
		{"taken", func(b *tab) { b.newJob(mower(), rested(12.65)); b.do(goTo("Rest volts"), reads("Read again")) }},
		{"decide", func(b *tab) {
			b.newJob(mower(), rested(12.24), loaded)
			b.do(goTo("Decide"), reads("For the customer"))
		}},
		{"prove", func(b *tab) {
			b.newJob(mower(), rested(12.1), map[string]any{"kind": "charged", "hours": 7, "amps_end": 0.3, "ended": "full"}, rested(12.7))
			b.do(goTo("Prove it"), reads("Not proven yet"), reads("Drain once asleep"))
		}},
		{"hand over", func(b *tab) {
			id := b.newJob(mower(), rested(12.1), map[string]any{"kind": "charged", "hours": 7, "amps_end": 0.3, "ended": "full"}, rested(12.7))
			b.post("/api/jobs/"+id+"/notes", map[string]any{"id": newID(), "text": "keys at the counter", "shown": true})
			b.do(goTo("Hand over"), click("It forgot something"), click("Write a note"), reads("Sheet of labels"), reads("keys at the counter"))
		}},
		{"an estimate", func(b *tab) {
			b.newJob(mower(), rested(12.1))
			b.do(goTo("Decide"), click("Make an estimate"), reads("Another line"))
		}},
		{"a picture", func(b *tab) {
			b.newJob(mower(), rested(12.4))
			b.do(click("Take a picture"), press(`//div[@role="dialog"]//button[.="Take it" and not(@disabled)]`), reads("Keep this one?"))
		}},
		{"prices", func(b *tab) { b.do(visit("/prices"), reads("Core, given back")) }},
		{"in and out", func(b *tab) { b.do(visit("/in-and-out"), reads("The shop’s calendar")) }},
		{"found through the years", func(b *tab) {
			b.do(visit("/?find=K-0120"), reads("Handed over, through the years"))
		}},
		{"arrive", func(b *tab) { b.newJob(mower(), rested(12.65)); b.do(goTo("Arrive"), reads("Save the changes")) }},
		{"hazard", func(b *tab) {
			b.newJob(mower(), map[string]any{"kind": "inspection", "found": []string{"case_cracked"}})
			b.do(goTo("Strength"), reads("Do not load or charge it."))
		}},
		{"look", func(b *tab) {
			b.newJob(mower(), rested(12.24))
			b.do(
				reads("Whole, dry, not frozen, no smell?"),
				mark("lid", "Lid wet or dirty"),
				reads("If this is saved"),
			)
		}},
		{"acid", func(b *tab) { b.newJob(mower(), rested(12.24)); b.do(goTo("Acid"), reads("Plates covered")) }},
		{"crank", func(b *tab) {
			b.newJob(mower(), rested(12.65), looked, loaded)
			b.do(goTo("Crank"), reads("How it turned"))
		}},
		{"why flat", func(b *tab) {
			b.newJob(slowCar(), looked, rested(12.63), map[string]any{"kind": "week", "trips": 5, "minutes": 12})
			b.do(goTo("Why flat?"), reads("Say to the customer"))
		}},
		{"charge", func(b *tab) { b.newJob(mower(), rested(12.24), looked); b.do(reads("How the charge ended")) }},
		{"season", func(b *tab) {
			b.do(visit("/season"), press(`(//aside//li/a)[1]`), reads("Ways of keeping it"), reads("Often said, and not so"))
		}},
		{"put one away", func(b *tab) {
			b.do(visit("/season/new"), press(`//*[@role="radio"][.="Mower"]`), reads("Ways of keeping it"),
				click("More: its maintainer"), reads("Where, on a lot"))
		}},
		{"a round", func(b *tab) {
			b.do(visit("/season/round?lot=Council+yard"), reads("Save, and on"))
		}},
		{"the place", func(b *tab) { b.do(visit("/season/place"), reads("In your calendar")) }},
		{"bank", func(b *tab) {
			b.do(visit("/bank"), reads("Waiting, best order"), reads("Full"))
		}},
		{"a charge on the bank", func(b *tab) {
			b.do(visit("/bank"), press(`//*[@data-charger][contains(., "K-0123")]//button`),
				reads("charges like a sound battery"), click("some"))
		}},
		{"a charge that is planned", func(b *tab) {
			b.do(visit("/bank"), press(`//*[@data-charger][contains(., "free")]//button`),
				reads("On, in order"))
		}},
		{"a charger", func(b *tab) { b.do(visit("/bank?edit=new"), reads("A new charger")) }},
		{"a call for a jump start", func(b *tab) {
			b.call()
			b.do(click("More: clamps"), reads("Maker says: on the post"), reads("Clamps on, in this order"),
				click("Other orders"), reads("not here."))
		}},
		{"a jump start planned", func(b *tab) {
			b.call()
			b.do(click("Diesel"), click("3 l"), click("Nothing at all"), click("A car"), click("Fold what was told"),
				reads("Smallest change that would do"))
		}},
		{"a jump start refused", func(b *tab) {
			b.call()
			b.do(click("Case cracked"), reads("Not to be jumped."), click("Fold what was told"))
		}},
		{"a guide to be begun", func(b *tab) {
			id := b.newJob(mower())
			b.do(visit("/jobs/"+id+"/guide/replace"), reads("No verdict asks for a new battery"))
		}},
		{"a step of a guide", func(b *tab) {
			id := b.newJob(mower())
			b.post("/api/jobs/"+id+"/guides/clean", map[string]any{"id": newID(),
				"site": map[string]any{"on": []string{"panel", "vent_tube", "elbow"}}})
			b.do(visit("/jobs/"+id+"/guide/clean"), reads("Gloves, goggles"))
			b.ticks("Live lug off second")
		}},
		{"the levels", func(b *tab) {
			id := b.newJob(mower())
			b.post("/api/jobs/"+id+"/guides/water", map[string]any{"id": newID(), "site": map[string]any{}})
			b.do(visit("/jobs/"+id+"/guide/water"), reads("Goggles on"))
			b.ticks("Read every cell")
			b.do(reads("Note the levels"))
		}},
		{"what fits", func(b *tab) {
			id := b.newJob(mower(), map[string]any{"kind": "inspection", "found": []string{"case_cracked"}})
			b.post("/api/jobs/"+id+"/guides/replace", map[string]any{"id": newID(), "site": map[string]any{}})
			b.do(visit("/jobs/"+id+"/guide/replace"), reads("Gloves, goggles"))
			b.ticks("The new one")
			b.do(reads("S-07"), press(`(//button[starts-with(., "Why")])[1]`))
		}},
		{"the shelf", func(b *tab) {
			b.do(visit("/shelf"), reads("ready on the shelf"), reads("S-07"))
		}},
		{"a battery of the shelf", func(b *tab) {
			b.do(visit("/shelf"), click("Put one on the shelf"), reads("As its label has it"))
		}},
		{"house rules", func(b *tab) { b.do(visit("/rules"), reads("Good practitioners differ")) }},
		{"register", func(b *tab) { b.do(visit("/register"), reads("fail in the coming cold")) }},
		{"a battery's life", func(b *tab) { b.do(visit("/register/K-0098"), reads("They differ by")) }},
		{"saved", func(b *tab) {
			b.newJob(mower())
			b.do(
				stage.Type("[data-big]", "12.24"),
				reads("If this is saved"),
				click("Save, go on"),
				reads("Saved: Rest volts"),
			)
		}},
		{"changed meanwhile, without a line", func(b *tab) {
			id := b.newJob(mower())
			b.colleague(store.Technician, "/").post("/api/jobs/"+id+"/readings", sent(newID(), rested(12.31)))
			b.do(reads(" saved Rest volts 12.31 V"), offline(true), reads("No line to the server"))
		}},
		{"the person's menu", func(b *tab) {
			b.do(
				offline(false),
				stage.Gone(`//*[contains(text(), "No line")]`),
				visit("/"),
				chromedp.Click(`button[aria-label*="your settings"]`, chromedp.NodeVisible),
				reads("Sign out"),
			)
		}},
		{"a moment's menu", func(b *tab) {
			b.do(visit("/?wait=clock"),
				press(`//main//li//button[contains(@aria-label, "done, later")]`), reads("In 10 min"))
		}},
		{"the keys", func(b *tab) {
			b.do(visit("/"), reads("Next needs hands"), typed("?"), reads("Go to the house rules"))
		}},
		{"account", func(b *tab) {
			b.do(
				visit("/account"),
				reads("Where you are signed in"),
				reads("last seen about"),
				types("New PIN", "1234"),
			)
		}},
		{"nowhere", func(b *tab) { b.do(visit("/nowhere"), reads("There is nothing here")) }},
		// Last, since its call would stand over what comes after.
		{"load test", func(b *tab) {
			b.newJob(mower(), rested(12.65), looked)
			b.do(click("Start 15 s"), stage.Shown(`[data-testid=countdown]`))
		}},
	}
	apart := effort.Of(27, 27, 1)
	for size, screen := range []stage.Screen{stage.Desktop, stage.Tablet, stage.Phone} {
		t.Run(fmt.Sprint(screen.Width), func(t *testing.T) {
			b := among(t, screen, "C")
			check := func(place string, n int) {
				b.do(chromedp.Evaluate(string(source)+"; "+uncut, nil))
				rules := everyRule
				for i := range 2 {
					scheme := []string{"light", "dark"}[(n+i)%2]
					var found, own string
					b.do(
						chromedp.Evaluate(`document.documentElement.dataset.theme = "`+scheme+`"; 1`, nil),
						emulation.SetEmulatedMedia().
							WithFeatures([]*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: scheme},
								{Name: "prefers-reduced-motion", Value: "reduce"}}),
						until(`!document.querySelector(".grayscale")`), // what is judged anew is pale meanwhile
						fetched(`return await `+fmt.Sprintf(axe, rules), &found),
						chromedp.Evaluate(ours, &own),
					)
					if found != "[]" || own != "[]" {
						t.Errorf("%s, %s: %s", place, scheme, strings.ReplaceAll(found+own, `","`, "\n"))
					}
					rules = effort.Of(colours, colours, everyRule)
				}
			}
			for i, p := range places {
				if i%apart == size*apart/3 {
					b.do(offline(false))
					p.way(b)
					check(p.name, i/apart)
				}
			}
			if apart > 1 && size != 2 {
				return // the rest is somebody else's sign-in
			}
			var status int
			b.do(
				offline(false),
				visit("/api/session"),
				fetched(`return (await fetch("/api/session", { method: "DELETE" })).status`, &status),
				visit("/"),
				reads("Demo workshop"),
			)
			check("sign-in", 0)
			b.signIn("Marit")
			b.do(visit("/people"), click("Add somebody"), reads("Temporary passphrase"))
			check("people", 1)
			b.do(visit("/history"), reads("House rules changed"))
			check("history", 2)
		})
	}
}
