package e2e

import (
	"context"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// A battery's life over four jobs: three were handed over in the years before, the fourth
// is in hand. Its sheet leads to its life; the coldest nights are typed once, and it stands
// on the autumn's list; its twin is named, and the two are judged as a pair.
func TestABatterysLife(t *testing.T) {
	ctx := context.Background()
	lead := newLead(t)
	now := time.Now()
	cca, ah, twenty := 650.0, 62.0, 20.0
	seen := func(tag string, yearsAgo int, end float64) string {
		opened := now.AddDate(-yearsAgo, 0, -1)
		j := store.Job{ID: newID(), OpenedByID: lead.ID, OpenedAt: opened, Rules: rules.Default(),
			Vehicle: reading.Vehicle{Class: "car", Name: "Slow car", Fuel: "diesel", SystemVolts: 12},
			Battery: reading.Battery{Tag: tag, Chemistry: battery.Flooded, Made: now.AddDate(-4, 0, 0).Format("2006-01"),
				Rating: reading.Rating{CCA: &cca, Ah20h: &ah, Standard: "SAE"}}}
		j.Conditions = reading.Conditions{AmbientC: &twenty, BatteryC: &twenty}
		var rs []store.StoredReading
		for i, r := range []reading.Reading{
			reading.Of("rest_voltage", reading.Fields{"volts": 12.63, "minutes_since_charge": 600, "surface_charge": "rested"}),
			reading.Of("load_test", reading.Fields{"method": "half_cca", "amps": 325, "seconds": 15, "volts_end": end}),
		} {
			rs = append(
				rs,
				store.StoredReading{
					ByID:  lead.ID,
					At:    opened.Add(time.Duration(i+1) * time.Minute),
					Entry: reading.Entry{ID: newID(), Reading: r},
				},
			)
		}
		must(t, theatre.Store.AddJob(ctx, lead.WorkshopID, j, rs))
		if yearsAgo > 0 {
			must(t, theatre.Store.CloseJob(ctx, lead.WorkshopID, store.Actor{ID: lead.ID}, j.ID,
				store.Closing{At: opened.Add(time.Hour)}))
		}
		return j.ID
	}
	seen("K-0001", 3, 10.55)
	seen("K-0001", 2, 10.3)
	seen("K-0001", 1, 10.0)
	last := seen("K-0001", 0, 9.65)
	seen("K-0002", 0, 10.7)
	t.Parallel()
	b := open(t, stage.Desktop)
	b.signInWith(lead.Name, phrase)
	b.do(
		visit("/jobs/"+last),
		click("Its life"),
		reads("4 jobs"),
		reads("% of its label"),
		reads(
			"Type the coldest nights of your place once",
		),
		until(`document.querySelectorAll("svg circle.cursor-pointer, svg g.cursor-pointer").length === 4`),
	)
	b.do(typed("gr"), reads("2 batteries"), reads("The coldest usual night of each month"))
	for i, low := range []string{"-14.5", "-12", "-8", "-3", "1", "4", "6", "6", "2", "-3", "−8", "-12"} {
		b.do(stage.Type(`[aria-label="Coldest night of `+time.Month(i+1).String()+`"]`, low))
	}
	b.do(click("Save the coldest nights"), reads("of 2 fail in the coming cold, the first about"),
		stage.Shown(`(//main//ul/li)[1]//a[contains(., "K-0001")]`))
	b.do(
		click("The coldest nights"),
		until(`document.querySelector("[aria-label='Coldest night of January']").value === "−14.5"`),
		click("Cancel"),
	)
	// Found by what the search in the head is typed.
	b.do(stage.Type(`input[type=search]`, "k-0002"), reads("1 of 2 batteries"))
	b.do(
		visit("/register/K-0001"),
		reads("it first fails in the week of"),
		click("Name its twin"),
		stage.Type(`[aria-label="Tag of the other battery"]`, "K-0009"),
		click("Pair them"),
		reads("K-0009 not found"),
	)
	b.do(
		stage.Type(`[aria-label="Tag of the other battery"]`, kb.Backspace+"2"),
		click("Pair them"),
		reads("Replace both together"),
		reads("its twin"),
	)
	b.do(chromedp.Click(`//section[@aria-label="Jobs"]//li[4]//a`, chromedp.BySearch), reads("Handed over"))
}

// What is marked on the tester goes with the reading, and stands there for the next one;
// a correction keeps it.
func TestTheTesterIsRemembered(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower(), rested(12.65), looked)
	b.do(
		goTo("Strength"),
		stage.Type(`//label[contains(., "Tester")]/following-sibling::input`, "Pile 2"),
		enter("Volts at the end", "10.2"),
		reads("If this is saved"),
		click("Save, go on"),
		reads("Saved:"),
	)
	if got := b.saved(id); got[2]["instrument"] != "Pile 2" {
		t.Errorf("saved %v", got[2])
	}
	b.do(
		goTo("Strength"),
		reads("with Pile 2"),
		click("Correct this one"),
		reads("Correcting"),
		stage.Type("[data-big]", kb.Backspace+"10.1"),
		reads("If this is saved"),
		click("Save, go on"),
		goneOn("Strength"),
	)
	if got := b.saved(id); got[2]["instrument"] != "Pile 2" || got[2]["volts_end"] == 10.2 {
		t.Errorf("corrected %v", got[2])
	}
	b.newJob(mower(), rested(12.65), looked)
	b.do(goTo("Strength"), until(`[...document.querySelectorAll("input")].some(i => i.value === "Pile 2")`))
}
