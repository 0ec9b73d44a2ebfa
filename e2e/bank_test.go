package e2e

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// bench is somebody in a workshop of their own, before a server whose clock can be moved
// on.
type bench struct {
	*tab
	shop store.Workshop
	url  string
}

func ownBench(t *testing.T, screen stage.Screen) bench {
	t.Helper()
	t.Parallel()
	ws := newWorkshop(t)
	url, end, err := theatre.Apart(context.Background())
	must(t, err)
	b := bench{open(t, screen), ws, url}
	t.Cleanup(end)
	b.signInAs(newPerson(t, ws.ID, "", "C"))
	b.server = url
	b.do(b.to("/bank"), reads("No charger hangs on the rail yet."))
	return b
}

// to opens a place.
func (b bench) to(path string) chromedp.Action { return chromedp.Navigate(b.url + path) }

// on moves the shop's clock on by minutes.
func (b bench) on(minutes float64) chromedp.Action {
	return chromedp.Tasks{
		fetched(
			fmt.Sprintf(`return (await fetch("/api/demo/clock", { method: "POST", headers: { "content-type": "application/json" },
			body: JSON.stringify({ minutes: %g }) })).status`, minutes),
			new(int),
		),
		chromedp.Reload(),
	}
}

// charger adds a charger through its form.
func (b bench) charger(name, kind, amps string) {
	b.t.Helper()
	b.do(
		b.to("/bank?edit=new"),
		reads("A new charger"),
		types("The shop calls it", name),
		click(kind),
		enter("Gives at most", amps),
		click("Add this charger"),
		reads(fmt.Sprintf("Charger %s is kept.", name)),
	)
}

// flat is a mower's battery, looked at and half charged: it waits for a charger.
func (b bench) flat(tag string, volts float64) string {
	b.t.Helper()
	m := mower()
	m["battery"].(map[string]any)["tag"] = tag
	id := newID()
	m["id"] = id
	b.post("/api/jobs", m)
	for _, r := range []map[string]any{rested(volts), looked} {
		b.post("/api/jobs/"+id+"/readings", sent(newID(), r))
	}
	return id
}

// forecast taps what the forecast says of a figure.
func forecast(figure string) chromedp.Action {
	return press(
		`//section[@aria-label="Look at it"]//div[@aria-label="` + figure + `"]//button[contains(@class, "border-dashed")]`,
	)
}

const crosses = `document.querySelectorAll("main svg path[d*='l10 10m0-10']").length`

// onClock waits until the clock says something of a battery.
func onClock(tag, words string) chromedp.Action {
	return stage.Shown(fmt.Sprintf(`//aside//a[contains(., %q) and contains(., %q)]`, tag, words))
}

// A flat mower battery goes on a charger by its tag, is looked at three times in two taps
// each while the shop's clock goes on, is ready to test, comes off, rests, and is tested.
func TestFlatMowerToTestReady(t *testing.T) {
	b := ownBench(t, stage.Desktop)
	b.charger("1", "Smart, several stages", "2")
	id := b.flat("K-7001", 12.1)
	b.do(
		b.to("/bank"),
		reads("Now on 1"),
		stage.Type(`input[aria-label="Scan or type a tag"]`, "k-7001"+kb.Enter),
		reads("Charger off at the wall"),
		reads("ready to test"),
		click("It hangs on 1, at 2 A"),
		reads("Look at it in half an hour."),
		reads("two taps, the second saves"),
	)
	for look := 1; look <= 3; look++ {
		b.do(
			b.on(31),
			onClock("K-7001", "check due"),
			reads(fmt.Sprintf("Look %d", look)),
			forecast("volts"),
			forecast("amps"),
			reads("Saved. It charges like a sound battery."),
			until(fmt.Sprintf(`%s === %d`, crosses, 2*look)),
		)
	}
	if got := b.saved(id); len(got) != 6 || got[5]["kind"] != "charge_check" || got[5]["volts"] == nil || got[5]["amps"] == nil {
		t.Errorf("%d readings: %v", len(got), got)
	}
	// As fast as a machine taps it is one look, put right, not two.
	b.do(click("Next look"), chromedp.Evaluate(`(() => {
		const look = document.querySelector('section[aria-label="Look at it"]');
		for (const css of ["[aria-label=volts] button", "[aria-label=amps] button", "[aria-label=Gassing] button"]) look.querySelector(css).click();
		return 1;
	})()`, nil), reads("Saved."), until(crosses+` === 8`))
	if got := b.saved(id); len(got) != 7 || got[6]["gassing"] != "none" {
		t.Errorf("tapped fast: %d readings, the last %v", len(got), got[len(got)-1])
	}
	b.do(click("Undo"), until(crosses+` === 6`))
	// What was tapped wrong is put right by another tap.
	b.do(forecast("volts"), forecast("amps"), reads("Saved. It charges like a sound battery."))
	b.do(click("hot"), reads("Too hot to go on."), click("cold"), reads("Saved. It charges like a sound battery."))
	if got := b.saved(id); len(got) != 7 || got[6]["warmth"] != "cold" {
		t.Errorf("put right: %d readings, the last %v", len(got), got[len(got)-1])
	}
	// On until it can be tested: the clock says so, and it is done in a tap, and back.
	b.do(b.on(300), onClock("K-7001", "is ready to test"))
	b.do(
		b.to("/bank"),
		click("Before that"),
		reads("K-7001 is off 1."),
		click("Let it rest"),
		onClock("K-7001", "rest ends"),
		b.on(61),
		onClock("K-7001", "rest over"),
		chromedp.Click(`//aside//a[contains(., "K-7001")]`, chromedp.BySearch),
		enter("Meter reads", "12.60"),
		click("Rested"),
		press(`//button[contains(., "Save")]`),
		goneOn("Rest volts"),
		reads("Load test"),
	)
}

// More batteries than chargers: the order proposed is changed by keys and by dragging, a
// charger is chosen by both, it stays after a refresh and on another device, and goes back
// in a tap.
func TestBankOrderByHand(t *testing.T) {
	b := ownBench(t, stage.Desktop)
	b.charger("1", "Smart, several stages", "2")
	b.charger("2", "Smart, several stages", "3")
	for i, volts := range []float64{12.2, 12.15, 12.1, 12.05, 12.0} {
		b.flat(fmt.Sprintf("K-800%d", i+1), volts)
	}
	b.do(b.to("/bank"), reads("Waiting, best order"), until(`document.querySelectorAll("[data-waiting]").length === 5`))
	order := func() (tags []string) {
		t.Helper()
		b.do(chromedp.Evaluate(`[...document.querySelectorAll("[data-move]")].map(e => e.dataset.move)`, &tags))
		return tags
	}
	is := func(want ...string) chromedp.Action {
		return until(
			fmt.Sprintf(
				`[...document.querySelectorAll("[data-move]")].map(e => e.dataset.move).join() === %q`,
				strings.Join(want, ","),
			),
		)
	}
	handle := func(tag string) string { return fmt.Sprintf(`[data-move=%q]`, tag) }
	was := order()
	// By keys: the last one up, then to the top, then on a charger by its name, and free again.
	last := was[4]
	b.do(
		chromedp.Focus(handle(last), chromedp.ByQuery),
		chromedp.KeyEvent(kb.ArrowUp),
		is(was[0], was[1], was[2], last, was[3]),
		reads("Waiting, in your order"),
		chromedp.Focus(handle(last), chromedp.ByQuery),
		chromedp.KeyEvent(kb.Home),
		is(last, was[0], was[1], was[2], was[3]),
		chromedp.Focus(handle(last), chromedp.ByQuery),
		chromedp.KeyEvent("2"),
		reads("Put there by hand."),
	)
	on := func(tag, charger string) chromedp.Action {
		return until(
			fmt.Sprintf(`document.querySelector('[data-move=%q]').closest("li").innerText.includes("on %s")`, tag, charger),
		)
	}
	b.do(
		on(last, "2"),
		chromedp.Focus(handle(last), chromedp.ByQuery),
		chromedp.KeyEvent("0"),
		until(`!document.body.innerText.includes("Put there by hand")`),
	)
	// Another device shows the same.
	other := beside2(b)
	other.do(is(last, was[0], was[1], was[2], was[3]))
	// By dragging: the first to behind the third, then onto a charger of the rail.
	b.do(
		dragged(handle(last), handle(was[2]), 0.9),
		is(was[0], was[1], was[2], last, was[3]),
		chromedp.Evaluate(`scrollTo(0, 0)`, nil),
		dragged(handle(was[3]), `[data-charger]:nth-child(1)`, 0.5),
		on(was[3], "1"),
		reads("Put there by hand."),
	)
	other.do(reads("Put there by hand."))
	b.do(chromedp.Reload(), is(was[0], was[1], was[2], last, was[3]), reads("Waiting, in your order"))
	// What comes since stands at its end, and the proposed order is a tap away, and back.
	b.flat("K-8006", 12.15)
	b.do(
		chromedp.Reload(),
		until(`document.querySelectorAll("[data-waiting]").length === 6`),
		newsFirst(`document.body.innerText.toLowerCase().includes("waiting, best order")`),
		click("Back to the order proposed"),
		reads("Waiting, best order"),
		click("Undo"),
		reads("Waiting, in your order"),
	)
	if got := order(); got[3] != last || got[5] != "K-8006" {
		t.Errorf("undone: %v", got)
	}
}

// newsFirst holds the answer to what is changed back until the page shows the change: the
// news of it may come before. What the change is taken back to has to be known then.
func newsFirst(shown string) chromedp.Action {
	return chromedp.Evaluate(`window.fetch = (real => async (...what) => {
		const answer = await real(...what);
		if (what[0].method !== "PUT") return answer;
		window.fetch = real;
		while (!(`+shown+`)) await new Promise(requestAnimationFrame);
		return answer;
	})(window.fetch); 1`, nil)
}

// beside2 is another device of the same workshop, on the bank.
func beside2(b bench) *tab {
	b.t.Helper()
	other := open(b.t, stage.Desktop)
	other.signInWith(newPerson(b.t, b.shop.ID, "", "C").Name, phrase)
	other.do(b.to("/bank"), reads("Waiting"))
	return other
}

// dragged carries one thing to another, to a part of its height.
func dragged(from, to string, part float64) chromedp.Action {
	return chromedp.ActionFunc(func(ctx context.Context) error {
		var a, z struct{ X, Y float64 }
		at := func(css string, part float64, into any) error {
			return chromedp.Evaluate(fmt.Sprintf(`(() => { const r = document.querySelector(%q).getBoundingClientRect();
				return { x: r.left + r.width / 2, y: r.top + r.height * %g }; })()`, css, part), into).Do(ctx)
		}
		if err := at(from, 0.5, &a); err != nil {
			return err
		}
		if err := at(to, part, &z); err != nil {
			return err
		}
		steps := []*input.DispatchMouseEventParams{
			input.DispatchMouseEvent(input.MousePressed, a.X, a.Y).WithButton(input.Left).WithClickCount(1),
			input.DispatchMouseEvent(input.MouseMoved, (a.X+z.X)/2, (a.Y+z.Y)/2).WithButton(input.Left),
			input.DispatchMouseEvent(input.MouseMoved, z.X, z.Y).WithButton(input.Left),
			input.DispatchMouseEvent(input.MouseReleased, z.X, z.Y).WithButton(input.Left).WithClickCount(1),
		}
		for _, s := range steps {
			if err := s.Do(ctx); err != nil {
				return err
			}
		}
		return nil
	})
}

// What one says of a moment is so on every device at once: done in a tap, later, handed to
// a colleague, and taken back; also when the server was restarted in between.
func TestTwoBrowsersOneClock(t *testing.T) {
	b := ownBench(t, stage.Desktop)
	id := b.flat("K-9001", 12.4)
	b.post("/api/jobs/"+id+"/rests", map[string]any{"id": newID(), "minutes": 30})
	b.do(b.on(31), b.to("/"), onClock("K-9001", "rest over"))
	other := open(t, stage.Phone)
	colleague := newPerson(t, b.shop.ID, "", "C")
	other.signInWith(colleague.Name, phrase)
	other.do(b.to("/"), reads("K-9001 · Rest over: take the volts"))
	// Put off on the one, it comes later on the other.
	b.do(
		press(`//aside//button[contains(@aria-label, "K-9001: done, later")]`),
		item("In 30 min"),
		reads("K-9001: in 30 min."),
		onClock("K-9001", "rest ends"),
	)
	other.do(reads("30 min"), reads("rest ends"))
	b.do(click("Undo"), onClock("K-9001", "rest over"))
	other.do(reads("Rest over: take the volts"))
	// Handed to whoever is at the phone.
	b.do(
		press(`//aside//button[contains(@aria-label, "K-9001: done, later")]`),
		item(colleague.Name),
		reads(colleague.Name+" goes"),
		onClock("K-9001", colleague.Name),
	)
	other.do(reads("take the volts, " + colleague.Name))
	// Done in a tap on the phone; a server that is started anew knows it.
	other.do(press(`//aside//button[contains(@aria-label, "K-9001 rest over: done")]`), reads("Nothing waits for the clock"))
	b.do(stage.Gone(`//aside//a[contains(., "K-9001")]`))
	url, end, err := theatre.Apart(context.Background())
	must(t, err)
	defer end()
	other.do(chromedp.Navigate(url+"/"), reads("Next needs hands"), reads("Nothing waits for the clock"), reads("Charge it"))
}

// A charger's form says what is wrong beside the field, keeps what was typed, and a charger
// that is in use is not retired; one that is comes back in a tap.
func TestChargerForm(t *testing.T) {
	b := ownBench(t, stage.Desktop)
	b.do(
		b.to("/bank?edit=new"),
		types("The shop calls it", "7"),
		click("Manual, rate switch"),
		enter("Gives at most", "6"),
		types("Its rate switch, amps", "2 6 10"),
		click("Add this charger"),
		reads("more than the 6 A it gives at most"),
		types("Its rate switch, amps", "2 6"),
		enter("Reaches at most", "3"),
		click("Add this charger"),
		reads("give the volts of the whole battery"),
		enter("Reaches at most", kb.Backspace+"16"),
		click("Add this charger"),
		reads("Charger 7 is kept."),
	)
	var unit struct {
		Chargers []struct{ Unit map[string]any }
	}
	b.do(fetched(`return await (await fetch("/api/bank")).json()`, &unit))
	if got := fmt.Sprint(unit.Chargers[0].Unit); got != "map[amps:6 kind:manual name:7 rates:[2 6] volts:16]" {
		t.Error(got)
	}
	b.do(
		click("The charger"),
		click("Retire it"),
		reads("Charger 7 is retired."),
		reads("No charger hangs"),
		click("Undo"),
		reads("Charger 7"),
	)
}

// A battery that must not be charged is not offered to be hung, and the reason stands
// there; one on a phone is hung and looked at without a button under another.
func TestHangOnPhone(t *testing.T) {
	b := ownBench(t, stage.Phone)
	b.post("/api/bank/chargers", map[string]any{"id": newID(), "unit": map[string]any{"name": "1", "kind": "smart", "amps": 4}})
	b.flat("K-7100", 12.1)
	bad := b.flat("K-7101", 12.1)
	b.post("/api/jobs/"+bad+"/readings", sent(newID(), map[string]any{"kind": "inspection", "found": []string{"leaking"}}))
	b.do(
		b.to("/bank"),
		press(`//*[@data-charger]//button`),
		stage.Type(`input[aria-label="Scan or type a tag"]`, "K-7101"+kb.Enter),
		reads("It leaks: do not charge it."),
	)
	if n := b.count(`[data-saves]`); n != 0 {
		t.Error("it is offered to be hung on")
	}
	b.do(
		stage.Type(`input[aria-label="Scan or type a tag"]`, "nobody"+kb.Enter),
		reads("No battery tagged nobody is in hand."),
		b.to("/bank"),
		press(`//*[@data-charger]//button`),
		reads("K-7100"),
		click("It hangs on 1, at 4 A"),
		reads("two taps, the second saves"),
		forecast("volts"),
		press(`//button[@aria-label="Other amps"]`),
		enter("Other amps", "3.7"),
		click("Take it"),
		reads("Saved."),
	)
	if px := b.sideways(); px > 0 {
		t.Errorf("%d px too wide", px)
	}
}

// A charger is chosen before it is hung on from the sheet too: what the one entered would
// do stands under the form, and the shop's are a tap away.
func TestPlanOnTheSheet(t *testing.T) {
	b := ownBench(t, stage.Desktop)
	b.charger("1", "Smart, several stages", "4")
	id := b.flat("K-7200", 12.1)
	b.do(
		b.to("/jobs/"+id+"?at=charge"),
		click("Hang it on"),
		enter("Set to", "4"),
		reads("On, in order"),
		reads("ready to test"),
		click("In the vehicle"),
		reads("the live post"),
		press(`//a[contains(., "one of the shop’s chargers, 1 free")]`),
		reads("K-7200"),
		reads("On charger"),
		click("1 smart 4 A"),
		click("It hangs on 1, at 4 A"),
		reads("hangs on 1."),
	)
}

// A battery that warms, or waits for parts, says so on the floor and on the clock, and is
// called then.
func TestWarmsAndWaits(t *testing.T) {
	b := ownBench(t, stage.Desktop)
	m := mower()
	m["conditions"] = map[string]any{"ambient_c": 20, "battery_c": -6}
	m["battery"].(map[string]any)["tag"] = "K-7300"
	m["id"] = newID()
	b.post("/api/jobs", m)
	b.do(
		b.to("/jobs/"+m["id"].(string)+"?at=rest_voltage"),
		click("Let it warm up"),
		reads("until it is warm enough"),
		onClock("K-7300", "warm enough"),
		b.to("/"),
		reads("warming up"),
		b.on(
			420,
		),
		onClock("K-7300", "is warm enough"),
		reads("Warm enough: go on"),
		b.to("/jobs/"+m["id"].(string)+"?at=decide"),
		click("It is warm"),
		click("in 2 h"),
		reads("until the parts are due"),
		b.to("/"),
		reads("waits for parts"),
		b.on(121),
		reads("Parts are due"),
	)
}

// A promise typed at the job orders the bank, and stays with the job.
func TestPromise(t *testing.T) {
	b := ownBench(t, stage.Desktop)
	b.charger("1", "Smart, several stages", "0.6") // slow enough for the promise to press at any hour
	b.flat("K-7400", 12.2)
	second := b.flat("K-7401", 12.2)
	first := func(tag string) chromedp.Action {
		return until(fmt.Sprintf(`document.querySelector("[data-move]")?.dataset.move === %q`, tag))
	}
	b.do(
		b.to("/bank"),
		first("K-7400"),
		b.to("/jobs/"+second+"?at=arrive"),
		reads("Promised for"),
		press(`//button[.="tomorrow, 8:00"]`),
		press(`//main//button[starts-with(., "Save")]`),
		stage.Gone(`//button[.="tomorrow, 8:00"]`),
		b.to("/bank"),
		first("K-7401"),
		reads("of 1 promise"),
	)
	var job struct {
		Job struct {
			Promised time.Time `json:"promised_at"`
		}
	}
	b.do(fetched(`return await (await fetch("/api/jobs/`+second+`")).json()`, &job))
	if h := time.Until(job.Job.Promised).Hours(); h < 0 || h > 33 {
		t.Errorf("promised in %.1f h", h)
	}
}
