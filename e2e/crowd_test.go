package e2e

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// A workshop with its hands full: of 45 jobs 18 rest, two of them by a long name,
// and all names are as long as they may be for one of them.
const (
	inHand, resting = 45, 18
	longWords       = "The municipal parks and cemeteries department, depot north-east, second yard behind the greenhouses"
)

// newWorkshop is a workshop that no other test knows, with nobody and nothing in it.
func newWorkshop(t *testing.T) store.Workshop {
	t.Helper()
	ws := store.Workshop{ID: newID(), Name: "W " + newID(), TagPrefix: "K", Rules: rules.Default()}
	must(t, theatre.Store.AddWorkshop(context.Background(), ws))
	return ws
}

// crowded signs in to a workshop of its own with 45 jobs in hand, and gives the id
// of the one with the longest names.
func crowded(t *testing.T, screen stage.Screen) (b *tab, longest string) {
	t.Helper()
	t.Parallel()
	ctx := context.Background()
	s := theatre.Store
	ws := newWorkshop(t)
	me := newPerson(t, ws.ID, "", "C")
	other := newPerson(t, ws.ID, "Aino-Katariina of the "+newID()[24:]+" night shift", "C")
	cca, now := 300.0, time.Now()
	for i := range inHand {
		by := me
		if i%3 == 0 {
			by = other
		}
		j := store.Job{ID: newID(), Vehicle: reading.Vehicle{Class: "mower", Name: fmt.Sprintf("Mower %d", i), SystemVolts: 12},
			Battery: reading.Battery{Tag: fmt.Sprintf("K-%04d", i), Chemistry: battery.Flooded,
				Rating: reading.Rating{CCA: &cca, Standard: "SAE"}},
			Customer: "Parks", Rules: rules.Default(), OpenedByID: by.ID}
		if i == 0 {
			longest = j.ID
			j.Battery.Tag = "PARKS-DEPOT-NORTH-EAST-YARD-2-CELLAR-07"[:40-1]
			j.Vehicle.Name, j.Customer, j.Note = longWords[:80], longWords, strings.Repeat(longWords+". ", 5)[:500]
		}
		must(t, s.AddJob(ctx, ws.ID, j, nil))
		if i < resting {
			// Some end together, some far apart, one beyond the clock's hours.
			ends := now.Add(time.Duration(i*i)*time.Minute + 2*time.Minute)
			must(t, s.AddRest(ctx, ws.ID, store.Rest{ID: newID(), JobID: j.ID, StartsAt: now.Add(-10 * time.Minute),
				EndsAt: ends, ByID: by.ID}))
		}
	}
	b = open(t, screen)
	b.signInWith(me.Name, phrase)
	return b, longest
}

// A floor with nothing on it teaches the way through a job, and its first step
// leads there.
func TestEmptyFloorTeaches(t *testing.T) {
	t.Parallel()
	ws := newWorkshop(t)
	b := open(t, stage.Phone)
	b.signInWith(newPerson(t, ws.ID, "", "C").Name, phrase)
	b.do(reads("The bench is clear. A first job goes like this"), click("Open the first job"), reads("What is it for?"))
}

// A full floor is narrowed to what waits for hands or for the clock and to whom had
// it in hand; the choice is in the address, so that back and a refresh keep it.
func TestCrowdedFloor(t *testing.T) {
	b, _ := crowded(t, stage.Desktop)
	rows := func(n int) chromedp.Action {
		return until(fmt.Sprintf(`document.querySelectorAll("main li").length === %d`, n))
	}
	b.do(rows(inHand), click("For the clock 18"), rows(resting), click("night shift"), rows(6), chromedp.Reload(), rows(6),
		click("For the clock"), rows(15), click("For hands 27"), rows(9), chromedp.NavigateBack(), rows(15),
		click("All 45"), rows(inHand))
	// A battery that waits for hands says how long it has.
	if got := b.text(`main li a[href*="/jobs/"]`); !strings.Contains(got, "min") && !strings.Contains(got, "now") {
		t.Errorf("the first waits %q", got)
	}
}

// On the clock no hour is struck through by the now-mark, nothing is cut at the
// edges, no moment lies on another, and each can be hit, whatever the time.
func TestCrowdedClock(t *testing.T) {
	b, _ := crowded(t, stage.Desktop)
	for _, minute := range []int{2, 12, 30, 57} {
		// The page takes the time from the server's answers.
		b.onEveryPage(fmt.Sprintf(`(() => {
			const at = new Date(); at.setMinutes(%d);
			Headers.prototype.get = (get => function (name) { return name === "date" ? at.toUTCString() : get.call(this, name); })(Headers.prototype.get);
		})()`, minute))
		b.do(visit("/"))
		b.clockIsClear(minute)
	}
}

func (b *tab) clockIsClear(minute int) {
	b.t.Helper()
	var at struct {
		Hours, Moments int
		Wrong          []string
	}
	b.do(stage.Shown(`[data-moment] a`), fetched(`
		const strip = document.querySelector("aside[aria-label=\"The shop's clock\"]").getBoundingClientRect();
		const box = (e) => e.getBoundingClientRect();
		const hours = [...document.querySelectorAll("aside svg text")], links = [...document.querySelectorAll("aside a")];
		const mark = box(document.querySelector("aside path[stroke-dasharray]"));
		const wrong = [];
		const meet = (p, q) => p.left < q.right - 0.5 && q.left < p.right - 0.5;
		for (const h of hours) {
			if (meet(box(h), { left: mark.left - 6, right: mark.left + 6 })) wrong.push(h.textContent + " is struck through");
			if (box(h).right > strip.right || box(h).left < 0) wrong.push(h.textContent + " is cut");
		}
		for (const a of links) {
			const r = box(a);
			if (r.width < 44 || r.height < 44) wrong.push(a.textContent + " is small");
			if (r.right > strip.right || r.left < 0 || r.bottom > strip.bottom) wrong.push(a.textContent + " is cut");
			for (const c of links) if (c !== a && meet(r, box(c))) wrong.push(a.textContent + " lies on " + c.textContent);
		}
		return { Hours: hours.length, Moments: links.length, Wrong: wrong };
	`, &at))
	if len(at.Wrong) > 0 || at.Hours < 5 || at.Moments < 2 {
		b.t.Errorf("at %d past: %+v", minute, at)
	}
}

// Long names and notes push no figure away: nothing is wider than its screen, and
// the entry of a job with the longest stands where it stands with short ones.
func TestLongNames(t *testing.T) {
	t.Parallel()
	for name, screen := range map[string]stage.Screen{"desktop": stage.Desktop, "tablet": stage.Tablet, "phone": stage.Phone} {
		t.Run(name, func(t *testing.T) {
			b, id := crowded(t, screen)
			var cut []string
			b.do(reads("Next needs hands"), fetched(`return [...document.querySelectorAll("main svg text, aside svg text")].filter(e => {
				const hour = e.getBoundingClientRect(), all = e.closest("svg").getBoundingClientRect();
				return hour.left < all.left - 0.5 || hour.right > all.right + 0.5;
			}).map(e => e.textContent)`, &cut))
			if px := b.sideways(); px > 0 || len(cut) > 0 {
				t.Errorf("the floor is %d px too wide, or cuts %v", px, cut)
			}
			place := func(id string) (top float64) {
				b.do(visit("/jobs/"+id+"?at=rest_voltage"), stage.Shown(`[data-big]`),
					chromedp.Evaluate(`document.querySelector("[data-big]").getBoundingClientRect().top`, &top))
				return top
			}
			long := place(id)
			if px := b.sideways(); px > 0 {
				t.Errorf("the sheet is %d px too wide", px)
			}
			if short := place(b.newJob(mower())); long > short+8 {
				t.Errorf("the figure stands at %.0f px, with short names at %.0f", long, short)
			}
		})
	}
}
