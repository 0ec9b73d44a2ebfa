package e2e

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/google/uuid"

	"grapnel/internal/stage"
)

// gauge is a dipstick's figures as the server gives them.
type gauge struct {
	Min, Max float64
	Band     *struct{ Low, Best, High float64 }
	Notches  []notch
}

type notch struct {
	At    float64
	Ghost bool
}

// A dipstick is drawn to its scale: wet up to the low end, hatched to the high
// one, marked at the best figure, a notch at each limit, dashed where the other
// school's.
func TestDipstickIsToScale(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower(), rested(12.24))
	var sheet struct {
		Stations []struct {
			Code   string
			Gauges []gauge
		}
	}
	b.do(goTo("Rest volts"), stage.Shown(`svg[aria-label^="Charge:"]`),
		fetched(`return await (await fetch("/api/jobs/`+id+`")).json()`, &sheet))
	var g gauge
	for _, s := range sheet.Stations {
		if s.Code == "rest_voltage" {
			g = s.Gauges[0]
		}
	}
	var at struct {
		Scale, Notches        []float64
		Wet, From, Till, Mark float64
		Ghosts                []bool
	}
	b.do(fetched(`
		const svg = document.querySelector("svg[aria-label^='Charge:']");
		const x = (e) => Number(/M([\d.]+)/.exec(e.getAttribute("d"))[1]);
		const all = (css) => [...svg.querySelectorAll(css)];
		const [wet, hatched] = all("g[clip-path] rect").map(r => [r.x.baseVal.value, r.x.baseVal.value + r.width.baseVal.value]);
		const notches = all("path[d*=L][stroke-width='1.6']");
		return { Scale: all("path[d$='v-5']").map(x), Wet: wet[1], From: hatched[0], Till: hatched[1],
			Mark: x(svg.querySelector("path[stroke-width='2.6']")), Notches: notches.map(n => x(n) + 7),
			Ghosts: notches.map(n => n.hasAttribute("stroke-dasharray")) };
	`, &at))
	if g.Band == nil || len(at.Scale) < 2 || len(at.Notches) != len(g.Notches) {
		t.Fatalf("drawn %+v of %+v", at, g)
	}
	slices.SortFunc(g.Notches, func(a, b notch) int { return cmp.Compare(a.At, b.At) }) // as they are drawn
	left, right := at.Scale[0], at.Scale[len(at.Scale)-1]
	near := func(what string, x, v float64) {
		if want := left + (v-g.Min)/(g.Max-g.Min)*(right-left); math.Abs(x-want) > 1 {
			t.Errorf("%s is drawn at %.1f, %g is at %.1f", what, x, v, want)
		}
	}
	near("the wet end", at.Wet, g.Band.Low)
	near("where it is hatched from", at.From, g.Band.Low)
	near("where it is hatched to", at.Till, g.Band.High)
	near("the mark", at.Mark, g.Band.Best)
	for i, n := range g.Notches {
		near("a notch", at.Notches[i], n.At)
		if at.Ghosts[i] != n.Ghost {
			t.Errorf("the notch at %g is dashed: %t", n.At, at.Ghosts[i])
		}
	}
}

// A rest of 125 minutes stands where it belongs on the clock, 5/6 of the strip
// less an hour being behind now, and on the floor's track from its start to its
// end.
func TestClockIsToScale(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower())
	var status int
	b.do(fetched(fmt.Sprintf(`return (await fetch("/api/jobs/%s/rests", { method: "POST",
		headers: { "Content-Type": "application/json" }, body: '{"id":"%s","minutes":125}' })).status`, id,
		uuid.Must(uuid.NewV7())), &status), chromedp.Reload(), reads("2 h 05"))
	if status != 200 {
		t.Fatalf("the rest is not taken: %d", status)
	}
	var at struct{ Now, Tick, Width, Start, End, Here float64 }
	b.do(click("Floor"), reads("Next needs hands"), fetched(fmt.Sprintf(`
		const x = (e) => Number(/M([\d.]+)/.exec(e.getAttribute("d"))[1]);
		const strip = document.querySelector("aside[aria-label=\"The shop's clock\"]");
		const rest = document.querySelector("main a[href='/jobs/%s'] svg rect[stroke]");
		const track = rest.closest("svg");
		return { Now: x(strip.querySelector("path[stroke-dasharray]")), Width: strip.clientWidth,
			Tick: parseFloat(strip.querySelector("[data-moment='%[1]s']").style.left),
			Start: rest.x.baseVal.value, End: rest.x.baseVal.value + rest.width.baseVal.value + 1,
			Here: x(track.querySelector("path[stroke-dasharray]")) };
	`, id), &at))
	if minutes := (at.Tick - at.Now) / at.Width * 7 * 60; math.Abs(minutes-125) > 3 {
		t.Errorf("on the clock it is %.0f min off: %+v", minutes, at)
	}
	// The track shows nine hours, four of them past.
	perMinute := at.Here / (4 * 60)
	if done, left := (at.Here-at.Start)/perMinute, (at.End-at.Here)/perMinute; math.Abs(done) > 3 ||
		math.Abs(left-125) > 3 {
		t.Errorf("on its track it rests since %.0f and for %.0f min: %+v", done, left, at)
	}
}

// A phone shows the next moment of the shop, how long it is off and how many more there
// are, also once it has come.
func TestPhoneShowsTheNextMoment(t *testing.T) {
	t.Parallel()
	ws := newWorkshop(t)
	b := open(t, stage.Phone)
	b.signInWith(newPerson(t, ws.ID, "", "C").Name, phrase)
	for i, minutes := range []int{90, 30, 60} {
		m := mower()
		m["battery"].(map[string]any)["tag"] = fmt.Sprintf("K-%04d", 10+i)
		id := b.newJob(m)
		b.post("/api/jobs/"+id+"/rests", map[string]any{"id": newID(), "minutes": minutes})
	}
	strip := func() (text string) {
		b.do(chromedp.Text(`aside[aria-label="The shop's clock"]`, &text))
		return strings.Join(strings.Fields(text), " ")
	}
	b.do(visit("/"), reads("2 more"))
	if got := strip(); got != "30 min K-0011 · rest ends 2 more" {
		t.Errorf("the strip reads %q", got)
	}
	_, err := theatre.Store.DB().Exec(`UPDATE rest SET ends_at = ? WHERE workshop_id = ? ORDER BY ends_at LIMIT 1`, time.Now().Add(-time.Minute).UTC(), ws.ID)
	must(t, err)
	b.do(chromedp.Reload(), reads("Rest over: take the volts"))
	if got := strip(); got != "now K-0011 · Rest over: take the volts 2 more" {
		t.Errorf("the strip reads %q", got)
	}
}
