package e2e

import (
	"context"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"grapnel/internal/passphrase"
	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// fine answers the question of every job with yes and saves what was marked.
func (b *tab) fine() {
	b.t.Helper()
	b.do(goTo("Look"), click("Whole, dry, not frozen, no smell?"), reads("safe to work on"), click("Save, go on"), goneOn("Look"))
}

// take enters figures and words at a station, saves them, and sees where the work
// goes on.
func (b *tab) take(station, next string, steps ...chromedp.Action) {
	b.t.Helper()
	b.do(goTo(station))
	b.do(steps...)
	b.do(stage.Shown(`[data-saves]:not(:disabled)`), reads("If this is saved"), click("Save, go on"))
	if next == station {
		b.do(until(`document.querySelector("[data-saves]:disabled")?.innerText.startsWith("Save, go on")`))
	}
	b.do(stage.Shown(`section[aria-label="`+next+`"]`), reads("Saved:"))
}

// cells enters the gravity of each cell as it is read aloud.
func (b *tab) cells(all ...string) chromedp.Tasks {
	var out chromedp.Tasks
	for i, sg := range all {
		out = append(out, stage.Type(`[data-cell="`+string(rune('1'+i))+`"]`, sg))
	}
	return out
}

// A worn car battery: crusted clamps are cleaned before anything is believed, the
// acid and the volts agree, charged full it fails its load test, and is replaced.
func TestDiagnosisOfAWornBattery(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.newJob(map[string]any{
		"vehicle": map[string]any{"class": "car", "name": "Worn car", "fuel": "petrol"},
		"battery": map[string]any{"chemistry": "flooded", "caps": "removable", "made": "2020-03",
			"rating": map[string]any{"cca": 650, "standard": "SAE", "ah_20h": 62}},
		"complaint":  []string{"slow_crank", "lights_left_on"},
		"conditions": map[string]any{"ambient_c": 21, "battery_c": 21},
	})
	b.do(goTo("Look"), mark("live clamp", "Crust, live clamp"))
	b.fine()
	b.do(reads("Clean the contacts, then take the rest voltage."))
	b.take("Clean", "Clean", click("Lid test"), enter("Post to lid, the highest", "0.05"))
	b.take("Clean", "Rest volts", click("Cleaned"), click("Posts"), click("Clamps"))
	b.take("Rest volts", "Charge", enter("Meter reads", "12.10"), click("Rested"), click("Overnight"))
	b.take("Acid", "Charge", b.cells("1160", "1165", "1160", "1160", "1155", "1160"), click("Plates covered"))
	b.do(goTo("Decide"), reads("Charge it, then test again."), press(`//ol//button[contains(., "Charge it")]`),
		stage.Shown(`section[aria-label="Charge"]`))
	b.take("Charge", "Rest volts", click("To full"), enter("Hours on the charger", "9"))
	b.take("Rest volts", "Strength", enter("Meter reads", "12.63"), click("Rested"))
	b.take("Strength", "Decide", enter("Volts at the end", "8.70"))
	b.do(
		goTo("Decide"),
		reads("Replace it: charged, and still too weak."),
		reads("Your battery has come to its end"),
		reads("8.70 V at the end of 325 A"),
	)
}

// A mower that is only flat: charged, tested and handed over once it is known why.
func TestDiagnosisOfAFlatMower(t *testing.T) {
	b := anew(t, stage.Phone, "C")
	b.newJob(mower())
	figure(b, stage.Phone, "Meter reads", "12.06")
	b.do(
		reads("If this is saved"),
		press(`//button[@aria-pressed="false"][.="Rested"]`),
		click("Save, go on"),
		reads("Whole, dry, not frozen, no smell?"),
	)
	b.fine()
	b.do(reads("How the charge ended"), click("To full"), click("Save, go on"), goneOn("Charge"))
	figure(b, stage.Phone, "Meter reads", "12.64")
	b.do(
		reads("If this is saved"),
		press(`//button[@aria-pressed="false"][.="Rested"]`),
		click("Save, go on"),
		goneOn("Rest volts"),
	)
	figure(b, stage.Phone, "Volts at the end", "10.5")
	b.do(reads("If this is saved"), click("Save, go on"), reads("Find out why it went flat."))
	figure(b, stage.Phone, "Volts at the posts", "14.2")
	b.do(
		click("Raised, 1500 to 2000"),
		click("On: lamps, fan, screen"),
		reads("If this is saved"),
		click("Save, go on"),
		goneOn("Charging"),
		goTo("Drain"),
	)
	figure(b, stage.Phone, "Drain", "12")
	b.do(
		click("30 min"),
		reads("If this is saved"),
		click("Save, go on"),
		goneOn("Drain"),
		reads("Nobody knows why it went flat."),
		goTo("Decide"),
		reads("please watch whether it happens again"),
		click("Prove it, then hand over"),
		reads("Not proven yet"),
		click("At once"),
		click("Save, go on"),
		reads("Saved: Proof"),
		goTo("Hand over"),
		reads("Proven: it starts again."),
		click("Hand over and close"),
		reads("Open it again"),
	)
}

// A hybrid's 12 V battery with a drain: no starter to load it with, no cranking
// station, the fuse found, the drain stopped.
func TestDiagnosisOfAHybridWithADrain(t *testing.T) {
	b := anew(t, stage.Tablet, "C")
	b.newJob(map[string]any{
		"vehicle": map[string]any{"class": "hybrid", "name": "Drained hybrid", "high_voltage": true},
		"battery": map[string]any{
			"chemistry": "agm",
			"caps":      "sealed",
			"rating":    map[string]any{"cca": 325, "standard": "SAE", "ah_20h": 45},
		},
		"complaint":  []string{"after_standing"},
		"conditions": map[string]any{"ambient_c": 15, "battery_c": 15},
	}, rested(12.0), looked, map[string]any{"kind": "charged", "ended": "full", "hours": 10},
		map[string]any{"kind": "rest_voltage", "volts": 12.95, "minutes_since_charge": 1500, "surface_charge": "rested"})
	var stations []string
	b.do(
		goTo("Strength"),
		chromedp.Evaluate(`[...document.querySelectorAll("nav[aria-label=Stations] button")].map(e => e.textContent)`, &stations),
	)
	for _, s := range stations {
		if strings.Contains(s, "Crank") || strings.Contains(s, "Acid") {
			t.Errorf("a hybrid has %q", s)
		}
	}
	var ways string
	b.do(chromedp.Text(`[aria-label="Ways of Strength"]`, &ways, chromedp.ByQuery))
	if strings.Contains(ways, "starter") {
		t.Errorf("a hybrid is loaded with its starter: %s", ways)
	}
	b.do(reads("Isolate the 12 V battery"))
	b.take("Strength", "Charging", enter("Volts at the end", "10.40"))
	b.take("Drain", "Drain", enter("Drain", "180"), click("30 min"))
	b.do(goTo("Decide"), reads("Find what drains it."), reads("Only the 12 V battery is ours."))
	b.take(
		"Drain",
		"Clean",
		enter("Drain", "22"),
		stage.Shown(`[data-saves]:disabled`),
		enter("Fuse that was out", "F14 lamp"),
	)
	b.do(goTo("Decide"), reads("Fuse F14 lamp carries 158 mA of the 180 mA"), reads("Mend what hangs on fuse F14 lamp"),
		reads("Your battery holds, and the fault lies elsewhere: something drains it while the vehicle stands."))
	b.take("Clean", "Prove it", click("Drain found and stopped"))
	b.do(goTo("Decide"), reads("Your battery"))
}

// A hazard stops the job everywhere; a technician cannot lift it, a lead can, with
// a reason that stays on record.
func TestStopIsLiftedByALead(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower(), rested(12.24), map[string]any{"kind": "inspection", "found": []string{"case_cracked"}})
	b.do(
		reads("Stop. The case is cracked."),
		goTo("Charge"),
		reads("Do not load or charge it."),
		goTo("Strength"),
		reads("Do not load or charge it."),
		goTo("Look"),
		reads("Only a lead can lift this"),
	)
	if n := b.count(`[data-lift]`); n != 0 {
		t.Error("a technician is offered to lift it")
	}
	lift := map[string]any{"kind": "override", "hazard": []string{"case_cracked"}, "reason": "a scratch in the film"}
	if status := b.status("POST", "/api/jobs/"+id+"/readings", sent(newID(), lift)); status != 403 {
		t.Errorf("a technician lifts it: %d", status)
	}
	lead := b.colleague(store.Lead, "/jobs/"+id+"?at=look")
	lead.do(
		reads("Stop. The case is cracked."),
		click("Lift the stop"),
		enter("Reason", "A scratch in the label film only"),
		click("Save, go on"),
		reads(
			"Charge it, then test again.",
		),
		goTo("Decide"),
		reads("A lead goes on in spite of: case cracked"),
		reads("A scratch in the label film only"),
	)
	b.do(reads("Charge it, then test again."))
}

// newLead is a lead of a workshop of its own.
func newLead(t *testing.T) store.Person {
	t.Helper()
	lead := store.Person{
		ID:         newID(),
		WorkshopID: newWorkshop(t).ID,
		Role:       store.Lead,
		Name:       "L " + newID()[24:],
		Passphrase: passphrase.Hash(phrase),
	}
	must(t, theatre.Store.AddPerson(context.Background(), store.Actor{}, lead))
	return lead
}

// asLead is a lead of a workshop of its own, at a desk.
func asLead(t *testing.T) *tab {
	t.Helper()
	lead := newLead(t)
	must(t, theatre.Store.SetPreferences(context.Background(), store.Person{ID: lead.ID, Temperature: "C", Torque: "Nm", Decimal: "point", Theme: "light"}))
	t.Parallel()
	b := open(t, stage.Desktop)
	b.signInWith(lead.Name, phrase)
	return b
}

// A house rule turns a verdict: a battery at 70 % of its label passes by the load
// school and is weak by the conductance school.
func TestAHouseRuleTurnsAVerdict(t *testing.T) {
	job := func() map[string]any {
		j := mower()
		j["battery"] = map[string]any{
			"chemistry": "flooded",
			"rating":    map[string]any{"cca": 650, "standard": "SAE", "ah_20h": 62},
		}
		return j
	}
	taken := []map[string]any{
		rested(12.64),
		looked,
		{"kind": "load_test", "method": "half_cca", "amps": 325, "seconds": 15, "volts_end": 10.15},
	}
	b := asLead(t)
	b.newJob(job(), taken...)
	b.do(reads("It holds, and is charged. Back to work."), reads("By another school it would be"), reads("conductance school"))
	b.do(
		click("House rules"),
		press(`//fieldset[contains(., "what part of its label")]//button[contains(., "conductance school")]`),
		click("Save the house rules"),
		reads("New jobs follow them"),
	)
	b.newJob(job(), taken...)
	b.do(
		reads("Weak: it holds today."),
		goTo("Decide"),
		reads("Your battery starts your engine today, but it is weak, and colder than"),
	)
}
