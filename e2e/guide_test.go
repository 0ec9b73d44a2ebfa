package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// headline is the step that is shown large.
func (b *tab) headline() (text string) {
	b.t.Helper()
	b.do(until(`document.querySelector("main h1") !== null`),
		chromedp.Evaluate(`document.querySelector("main h1")?.textContent ?? ""`, &text))
	return text
}

// month is so many months from now, as labels have it.
func month(n int) string {
	now := time.Now()
	return time.Date(now.Year(), now.Month()+time.Month(n), 1, 0, 0, 0, 0, time.UTC).Format("2006-01")
}

// ticks goes through a guide by its big button until a headline stands, and gives what was
// passed on the way.
func (b *tab) ticks(to string) (passed []string) {
	b.t.Helper()
	for range 40 {
		at := b.headline()
		if strings.HasPrefix(at, to) {
			return passed
		}
		passed = append(passed, at)
		b.do(
			until(`document.querySelector("main [data-done]:not(:disabled)") !== null`),
			chromedp.Evaluate(`document.querySelector("main [data-done]").click()`, nil),
			until(fmt.Sprintf(`(document.querySelector("main h1")?.textContent ?? %q) !== %[1]q`, at)),
		)
	}
	b.t.Fatalf("%s never comes: %v", to, passed)
	return nil
}

// off is how many parts lie on the shelf.
func off(n int) chromedp.Action {
	return until(fmt.Sprintf(`document.querySelector("[data-testid=off]")?.textContent === "%d"`, n))
}

func tractor() map[string]any {
	job := mower()
	job["vehicle"] = map[string]any{"class": "tractor", "name": "Farm tractor", "fuel": "petrol", "system_volts": 6,
		"earth": "positive"}
	job["battery"] = map[string]any{"chemistry": "flooded", "terminals": "top",
		"rating": map[string]any{"cca": 420, "ah_20h": 70}}
	return job
}

// A corroded farm tractor is cleaned by its guide and proven better: the − post is live there,
// + comes off first; the lid is read before and after, side by side.
func TestCorrodedTractor(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	id := b.newJob(tractor(), map[string]any{"kind": "inspection", "found": []string{"corrosion_live", "wet_lid"}},
		map[string]any{"kind": "lid_leakage", "volts": 0.4})
	b.do(visit("/jobs/"+id+"?at=clean"), click("Clean it, step by step"), reads("Clean it"),
		click("Felt washers"), click("Begin"), reads("Gloves, goggles"))
	b.ticks("Earthed clamp off first")
	b.do(reads("The + post."), reads("Rings and watch off"))
	var drawn string
	b.do(chromedp.Evaluate(`document.querySelector("main svg[data-act=off]").textContent`, &drawn))
	// From left to right: the live − post, the earthed + on the right, as is usual.
	if !strings.Contains(drawn, "−") || !strings.Contains(drawn, "slacken") {
		t.Errorf("the picture says %q", drawn)
	}
	if px := b.sideways(); px > 0 {
		t.Errorf("%d px to push sideways", px)
	}
	b.ticks("Wet the crust")
	b.do(off(5), reads("felt washers"))
	passed := b.ticks("Read it again")
	for _, want := range []string{"Caps tight, vents covered", "Soda water, wiped on", "Judge both cables",
		"Tray and hold-down too", "Live clamp on first", "Earthed clamp on last",
		"Try to turn each by hand", "Tidy up, then gloves off"} {
		if !strings.Contains(strings.Join(passed, "|"), want) {
			t.Errorf("%q was not asked for: %v", want, passed)
		}
	}
	b.do(off(0), reads("0.40 V before"), press(`//button[@aria-label="Read: Lid leakage"]`), typed("0.02"), click("Save"),
		reads("0.40 before, 0.02 V now"),
		chromedp.Reload(), reads("0.40 before, 0.02 V now"))
	b.ticks("Clean")
	b.do(visit("/jobs/"+id+"?at=decide"), reads("Cleaned: posts, clamps, lid, tray"))
	// And once more, the lid alone.
	b.do(visit("/jobs/"+id+"/guide/clean"), click("Once more"), click("Lid only"), click("Begin"),
		reads("1 of 8"))
}

// A side-terminal battery is replaced with a keep-alive, begun on a phone and ended on the
// bench's screen: the loose live bolt is hooded, the right one comes off the shelf, and its
// sheet goes on.
func TestSideTerminalsReplacedOnTwoDevices(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	job := mower()
	job["vehicle"] = map[string]any{"class": "car", "name": "School run", "fuel": "petrol", "made_year": 2020}
	job["battery"] = map[string]any{"chemistry": "flooded_sealed", "terminals": "side",
		"rating": map[string]any{"cca": 600, "ah_20h": 60}}
	id := b.newJob(job, map[string]any{"kind": "inspection", "found": []string{"case_cracked"}})
	fresh, weak := "N"+newID()[24:], "W"+newID()[24:]
	stock := func(tag string, cca int) map[string]any {
		return map[string]any{"tag": tag, "chemistry": "flooded_sealed", "rating": map[string]any{"cca": cca, "ah_20h": 62},
			"group": "75", "made": month(-2),
			"tested": map[string]any{"rest_volts": 12.8}}
	}
	b.post("/api/stock", stock(weak, 500))
	b.post("/api/stock", stock(fresh, 620))
	b.do(visit("/jobs/"+id+"?at=decide"), click("Replace it, step by step"),
		reads("What is on it?"), press(`//button[.="On the cables"]`), click("Begin"),
		reads("Cracked or leaking: soda"))
	b.ticks("The new one: tested, charged")
	b.do(reads(weak), reads("500 A SAE, and the maker asks for 600 A SAE"),
		press(`//button[@aria-pressed and contains(., "`+fresh+`")]`))
	b.ticks("Live bolt off second")
	b.do(reads("hood over it at once"), reads("keep-alive on"))

	other := b.colleague(store.Technician, "/jobs/"+id)
	other.do(reads("Replacing, 4 of"), press(`//a[contains(., "next, live bolt off second")]`), reads("Live bolt off second"))
	other.ticks("Old and new, side by side")
	// What is done there stands here.
	b.do(reads("Old and new, side by side"))
	other.ticks("Live bolt on first")
	other.do(reads("14 to 16 N·m"), reads("grease on the rubber"))
	other.ticks("Label the old one")
	other.do(off(0), click("Kept for the recycler"), reads("It is in"), click("Prove the new one"), reads(fresh),
		reads("The battery that stood here before"))
	other.do(visit("/jobs/"+id+"?at=decide"), reads("Replaced: "+fresh+" stands in its place."),
		reads("goes to a licensed recycler"))
	var shelf string
	other.do(visit("/shelf"), reads(weak), chromedp.Text("main", &shelf, chromedp.ByQuery))
	if strings.Contains(shelf, fresh) {
		t.Error("what is fitted still stands on the shelf")
	}
}

// A vent elbow that was left off keeps the vehicle from being handed over; a lead lets it go
// with a reason, and put back it goes without one.
func TestHandOverWithoutAnElbow(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	job := mower()
	job["vehicle"] = map[string]any{"class": "hybrid", "name": "Taxi", "fuel": "petrol"}
	job["battery"] = map[string]any{"chemistry": "agm", "rating": map[string]any{"cca": 325, "ah_20h": 45}}
	id := b.newJob(job, looked, rested(12.9))
	b.do(visit("/jobs/"+id+"/guide/clean"), reads("What is on it?"), click("Begin"),
		reads("Switched off, key far away"))
	// By foot: the space bar ticks, Backspace takes it back.
	b.do(typed(" "), reads("Read it as it is"), typed(" "), reads("Boot floor off"), typed(kb.Backspace),
		reads("Read it as it is"))
	b.ticks("Hold-down and vent tube on")
	b.do(reads("vent elbow"), click("Skip it"), reads("Live clamp on first"))
	b.ticks("Done, but for what is off")
	b.do(off(3), reads("vent elbow"))
	b.do(visit("/jobs/"+id+"?at=handover"), reads("Still off: "),
		reads("a lead can let it go with a reason"))
	var barred bool
	b.do(chromedp.Evaluate(`[...document.querySelectorAll("main button")].find(b => /Hand over and close|Close the job/.test(b.textContent)).disabled`, &barred))
	if !barred {
		t.Error("it can be handed over without its vent elbow")
	}
	if status := b.status("POST", "/api/jobs/"+id+"/close", map[string]any{"reason": "in a hurry"}); status != 409 {
		t.Errorf("asked without the button: %d", status)
	}
	lead := b.colleague(store.Lead, "/jobs/"+id+"?at=handover")
	lead.do(reads("or say why it goes without"), until(`[...document.querySelectorAll("main button")].find(b => /Hand over and close|Close the job/.test(b.textContent)).disabled`))
	// Put back after all.
	b.do(press(`//a[.="Put it back"]`), press(`//button[starts-with(@aria-label, "vent elbow")]`), off(2),
		press(`//button[starts-with(@aria-label, "vent tube")]`),
		press(`//button[starts-with(@aria-label, "hold-down")]`), off(0))
	lead.do(until(`![...document.querySelectorAll("main button")].find(b => /Hand over and close|Close the job/.test(b.textContent)).disabled`))
}

// Ticks made without a line are kept on the device and sent in their order; the picture goes
// on meanwhile.
func TestGuideWithoutALine(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	id := b.newJob(mower())
	b.do(visit("/jobs/"+id+"/guide/clean"), reads("What is on it?"), click("Begin"),
		reads("Gloves, goggles"), offline(true), reads("No line to the server"))
	b.ticks("Earthed lug off first")
	b.ticks("Live lug off second")
	b.do(off(2), reads("entries wait to be sent"))
	b.do(offline(false), reads("Live lug off second"), off(2))
	other := b.colleague(store.Technician, "/jobs/"+id+"/guide/clean")
	other.do(reads("Live lug off second"), off(2))
}

// A step that would hurt says what is first; a hazard found under way stops the guide.
func TestGuideHoldsItsOrder(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower())
	b.do(visit("/jobs/"+id+"/guide/clean"), reads("What is on it?"), click("Begin"),
		reads("Gloves, goggles"),
		press(`//nav[@aria-label="Steps"]//button[contains(., "Live lug off second")]`), reads("Live lug off second"), press(`//main//button[@data-done]`), reads("First: “Earthed lug off first”"))
	b.ticks("Wet the crust")
	b.post("/api/jobs/"+id+"/readings", sent(newID(), map[string]any{"kind": "inspection", "found": []string{"case_bulged"}}))
	b.do(reads("Not now"), reads("The case is bulged"), off(5), reads("earthed cable"), reads("Replace it"))
}

// fills types into a field of a form, in place of what stands there.
func fills(label, value string) chromedp.Action {
	field := `//label[starts-with(normalize-space(.), "` + label + `")]//input`
	return chromedp.Tasks{stage.Type(field, strings.Repeat(kb.Backspace, 12)),
		stage.Type(field, value)}
}

// The shelf: one put there by hand, tested on a sheet of its own, and taken off.
func TestShelf(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	tag := "S" + newID()[24:]
	b.do(visit("/shelf"), click("Put one on the shelf"), fills("Tag", tag),
		fills("Cranking amps", "many"), click("AGM"), click("On the shelf"),
		reads("is not a number"), fills("Cranking amps", "760"), fills("Group", "L3"), fills("Made",
			month(-3)), click("On the shelf"), reads(tag+" stands on the shelf"))
	row := `//li[contains(., "` + tag + `")]`
	b.do(reads("Test it first"), press(row+`//button[.="Test or charge it"]`),
		until(`location.pathname.startsWith("/jobs/")`), reads(tag), visit("/shelf"), reads(tag))
	b.do(stage.Shown(row+`//a[.="Its sheet"]`), press(row+`//button[.="Change"]`),
		click("Sold or scrapped: off the shelf"), reads(tag+" is off the shelf"),
		until(`!document.querySelector("main ul").textContent.includes("`+tag+`")`))
}
