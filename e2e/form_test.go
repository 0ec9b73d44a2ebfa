package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"

	"grapnel/internal/stage"
)

// value is what a field holds.
func (b *tab) value(label string) string {
	b.t.Helper()
	var v string
	b.do(chromedp.Value(stage.Labelled(label), &v, chromedp.BySearch))
	return v
}

// What is picked and typed for a new job is what is opened: what is usual for the
// class, the label as read, the temperature from °F.
func TestNewJobIsAsPicked(t *testing.T) {
	b := anew(t, stage.Desktop, "F")
	b.do(click("New job"), reads("What is it for?"), click("Classic"), click("One click"), click("Short trips only"),
		reads("as usual for the class"), click("420 CCA"), click("Other standard"), click("EN"),
		clear("20 h capacity"), enter("20 h capacity", "70,5"), enter("Battery", "50"))
	// What is guessed of the shop's temperature is gone once it is cleared.
	if b.do(clear("Shop")); b.value("Shop") != "" {
		t.Errorf("cleared, the shop's temperature is %q", b.value("Shop"))
	}
	b.do(enter("Shop", "59"), click("Open the job"), reads("Take the rest voltage first."))
	var sheet struct {
		Job struct {
			Vehicle, Conditions map[string]any
			Battery             struct{ Rating map[string]any }
			Complaint           []string
		}
	}
	b.do(fetched(`return await (await fetch(location.pathname.replace("/jobs/", "/api/jobs/"))).json()`, &sheet))
	j := sheet.Job
	if got := fmt.Sprintf("%v %v %v %v %v %v", j.Vehicle["class"], j.Vehicle["system_volts"], j.Vehicle["earth"],
		j.Complaint, j.Battery.Rating, j.Conditions); got != "classic 6 negative [single_click short_trips] "+
		"map[ah_20h:70.5 cca:420 rc_min:120 standard:EN] map[ambient_c:15 battery_c:10]" {
		t.Errorf("opened %s", got)
	}
	// Until somebody has read the label it is only typical.
	b.do(visit("/jobs/new"), click("Boat"), click("Start over"), reads("Pick what it is for"), click("Mower"),
		click("Open the job"), reads("Take the rest voltage first."),
		fetched(`return await (await fetch(location.pathname.replace("/jobs/", "/api/jobs/"))).json()`, &sheet))
	if sheet.Job.Battery.Rating["typical"] != true {
		t.Errorf("nobody read this label: %v", sheet.Job.Battery.Rating)
	}
}

// The keypad of a phone types one point, takes back the last stroke and changes
// the sign.
func TestKeypad(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	b.newJob(mower())
	key := func(name string) chromedp.Action { return press(`//main//button[@aria-label="` + name + `"]`) }
	for _, c := range []struct {
		keys []string
		want string
	}{
		{[]string{"1", "2", "Decimal point", "Decimal point", "4"}, "12.4"},
		{[]string{"Delete the last digit", "6"}, "12.6"},
		{[]string{"Change the sign"}, "−12.6"}, {[]string{"Change the sign"}, "12.6"},
	} {
		for _, k := range c.keys {
			b.do(key(k))
		}
		b.do(until(fmt.Sprintf(`document.querySelector("[data-big]").value === %q`, c.want)))
	}
}

// While a figure is typed its stick and the verdict are of that figure and say
// so; once saved the entry is empty for the next, and leaving it changes nothing.
func TestEntryFromFirstStrokeToTheNext(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.newJob(mower(), rested(12.65), looked)
	b.do(goTo("Rest volts"), reads("So far"), stage.Shown(`svg[aria-label^="Rest voltage: 12.65 V"]`),
		click("Read again"), enter("Meter reads", "12.11"), click("Rested"), reads("If this is saved"),
		stage.Shown(`svg[aria-label^="Rest voltage: 12.11 V"]`),
		click("Save, go on"), goneOn("Rest volts"), goTo("Rest volts"), reads("So far"),
		// 29 to 75 % at a tenth of the ampere-hours with 15 % lost, by hand: 5.4 h.
		reads("about 5½ h"), click("Read again"))
	if got := b.value("Meter reads"); got != "" {
		t.Errorf("the next entry begins with %q", got)
	}
	b.do(click("Cancel"), reads("Correct this one"), reads("12.11"))
}

// Once a hazard stands no other load test is taken; the one taken can be put
// right.
func TestHazardShutsAStationThatWasDone(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.newJob(mower(), rested(12.65), map[string]any{"kind": "load_test", "method": "half_cca", "amps": 150,
		"seconds": 15, "volts_end": 9.9}, map[string]any{"kind": "inspection", "found": []string{"case_cracked"}})
	b.do(reads("Stop. The case is cracked."), goTo("Strength"), reads("Correct this one"),
		reads("The case is cracked. Do not load or charge it."))
	var again int
	b.do(chromedp.Evaluate(
		`[...document.querySelectorAll("button")].filter(e => e.textContent.includes("Read again")).length`, &again))
	if again != 0 {
		t.Error("a cracked battery can be load tested once more")
	}
	b.do(click("Correct this one"), reads("The case is cracked. Do not load or charge it."), click("The starter"))
	var invites int
	b.do(chromedp.Evaluate(`["Start 15 s", "Set the load", "kept, not judged", "crank, and read"].filter(w =>
		document.querySelector("main").innerText.toLowerCase().includes(w.toLowerCase())).length`, &invites))
	if invites != 0 {
		t.Error("to put a figure right, a cracked battery is set up for a load")
	}
	b.do(click("Half the CCA"), enter("Volts at the end", "9.6"), reads("If this is saved"))
}
