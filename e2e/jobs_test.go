package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"

	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	"github.com/google/uuid"

	"grapnel/internal/passphrase"
	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// usedBy remembers which test opened a demo job, so that no two share one.
var usedBy sync.Map

// openJob goes to the demo job of a tag from the floor. A job belongs to the test
// that opens it first.
func (b *tab) openJob(tag string) {
	b.t.Helper()
	test, _, _ := strings.Cut(b.t.Name(), "/")
	if first, taken := usedBy.LoadOrStore(tag, test); taken && first != test {
		b.t.Fatalf("%s belongs to %s; open a job of your own", tag, first)
	}
	b.do(
		click(tag),
		stage.Shown(`//h1[contains(.,"`+tag+`")][not(ancestor::article)]`),
	)
}

// goTo opens a station of the sheet by its name: in the rail, or where there is
// none in the row it is folded to. One that is open already stays so.
func goTo(station string) chromedp.Action {
	js := fmt.Sprintf(`(() => {
		const named = (e) => e.checkVisibility() && e.textContent.replace(/^\s*\d+\s*/, "").startsWith(%q);
		const found = [...document.querySelectorAll("nav[aria-label=Stations] button, main button")].find(named);
		if (found) found.click();
		return !!found || !!document.querySelector("section[aria-label='" + %[1]q + "']");
	})()`, station)
	return chromedp.ActionFunc(func(ctx context.Context) error {
		if err := stage.Until(js, nil).Do(ctx); err != nil {
			return fmt.Errorf("going to %s: %w", station, err)
		}
		return nil
	})
}

// goneOn waits until a save is through and the sheet has gone on from a station,
// wherever to: that changes with every station added.
func goneOn(station string) chromedp.Action {
	js := fmt.Sprintf(`!document.querySelector("section[aria-label='" + %q + "']")`, station)
	return chromedp.ActionFunc(func(ctx context.Context) error {
		if err := stage.Until(js, nil).Do(ctx); err != nil {
			return fmt.Errorf("going on from %s: %w", station, err)
		}
		return nil
	})
}

// text is what the first of some elements reads.
func (b *tab) text(css string) (text string) {
	b.t.Helper()
	b.do(chromedp.Text(css, &text, chromedp.ByQuery, chromedp.NodeVisible))
	return strings.TrimSpace(text)
}

// count is how many elements there are.
func (b *tab) count(css string) (n int) {
	b.t.Helper()
	b.do(chromedp.Evaluate(fmt.Sprintf(`document.querySelectorAll(%q).length`, css), &n))
	return n
}

// path is where a tab is, without the station.
func (b *tab) path() string {
	b.t.Helper()
	var at string
	b.do(chromedp.Evaluate(`location.pathname`, &at))
	return at
}

// place gives the digit that jumps to a station.
func (b *tab) place(station string) string {
	b.t.Helper()
	var n int
	b.do(chromedp.Evaluate(fmt.Sprintf(
		`1 + [...document.querySelectorAll("nav[aria-label=Stations] button")].findIndex(e => e.textContent.includes(%q))`,
		station,
	), &n))
	return fmt.Sprint(n)
}

// fetched runs JavaScript that awaits, and decodes what it gives.
func fetched(js string, into any) chromedp.Action {
	return chromedp.ActionFunc(func(ctx context.Context) error {
		var raw string
		err := chromedp.Evaluate(`(async () => JSON.stringify(await (async () => { `+js+` })()))()`, &raw,
			func(p *runtime.EvaluateParams) *runtime.EvaluateParams { return p.WithAwaitPromise(true) }).Do(ctx)
		if err != nil {
			return err
		}
		return json.Unmarshal([]byte(raw), into)
	})
}

func newID() string { return uuid.Must(uuid.NewV7()).String() }

// post sends a body that is taken.
func (b *tab) post(path string, body any) {
	b.t.Helper()
	if status := b.status("POST", path, body); status != 200 {
		b.t.Fatalf("POST %s: %d", path, status)
	}
}

// status sends a body as whoever is signed in, and gives how it is answered.
func (b *tab) status(method, path string, body any) (status int) {
	b.t.Helper()
	raw, err := json.Marshal(body)
	must(b.t, err)
	ask, err := http.NewRequest(method, b.server+path, bytes.NewReader(raw))
	must(b.t, err)
	ask.Header.Set("Content-Type", "application/json")
	answer, err := b.client.Do(ask)
	must(b.t, err)
	must(b.t, answer.Body.Close())
	return answer.StatusCode
}

// get asks for what the server has, as whoever is signed in.
func (b *tab) get(path string, into any) {
	b.t.Helper()
	answer, err := b.client.Get(b.server + path)
	must(b.t, err)
	defer func() { _ = answer.Body.Close() }()
	if answer.StatusCode != http.StatusOK {
		b.t.Fatalf("GET %s: %s", path, answer.Status)
	}
	must(b.t, json.NewDecoder(answer.Body).Decode(into))
}

// sent is a reading as it is sent, under an id.
func sent(id string, reading map[string]any) map[string]any {
	return map[string]any{"id": id, "reading": reading}
}

// newJob opens a job of the test's own, with its readings, and goes to its sheet.
// It gives the job's id.
func (b *tab) newJob(job map[string]any, readings ...map[string]any) string {
	b.t.Helper()
	id := newID()
	job["id"] = id
	b.post("/api/jobs", job)
	for _, r := range readings {
		b.post("/api/jobs/"+id+"/readings", sent(newID(), r))
	}
	b.do(visit("/jobs/"+id), stage.Shown(`//h1[not(ancestor::article)]`))
	return id
}

// mower is a new job on a 300 CCA flooded mower battery at 21 °C.
func mower() map[string]any {
	return map[string]any{
		"vehicle": map[string]any{"class": "mower", "name": "Test mower", "system_volts": 12},
		"battery": map[string]any{"chemistry": "flooded", "rating": map[string]any{"cca": 300, "standard": "SAE",
			"ah_20h": 28}},
		"conditions": map[string]any{"ambient_c": 21, "battery_c": 21},
	}
}

// looked is the one question of every job, answered: whole, dry, thawed, no smell.
var looked = map[string]any{"kind": "inspection", "found": []string{"clean"}}

func rested(volts float64) map[string]any {
	return map[string]any{"kind": "rest_voltage", "volts": volts, "minutes_since_charge": 600,
		"surface_charge": "rested"}
}

const phrase = "warm copper on paper"

// newPerson is somebody of a workshop whom no other test knows; with no name given
// the name is new too.
func newPerson(t testing.TB, workshopID, name, temperature string) store.Person {
	t.Helper()
	ctx := context.Background()
	p := store.Person{ID: newID(), WorkshopID: workshopID, Role: store.Technician, Name: name,
		Passphrase: passphrase.Hash(phrase)}
	if name == "" {
		p.Name = "T " + p.ID[len(p.ID)-8:]
	}
	must(t, theatre.Store.AddPerson(ctx, store.Actor{}, p))
	p.Temperature, p.Torque, p.Decimal, p.Theme = temperature, "Nm", "point", "light"
	must(t, theatre.Store.SetPreferences(ctx, p))
	return p
}

// saved are the readings of a job as the server has them, in effect and in order.
func (b *tab) saved(jobID string) []map[string]any {
	b.t.Helper()
	var sheet struct {
		InEffect []string `json:"in_effect"`
		Readings []struct {
			ID      string         `json:"id"`
			Reading map[string]any `json:"reading"`
		} `json:"readings"`
	}
	b.get("/api/jobs/"+jobID, &sheet)
	var out []map[string]any
	for _, id := range sheet.InEffect {
		for _, r := range sheet.Readings {
			if r.ID == id {
				out = append(out, r.Reading)
			}
		}
	}
	return out
}

// mark taps a place in the picture of Look and what is found there.
func mark(place, found string) chromedp.Action {
	js := fmt.Sprintf(`(() => {
		const at = [...document.querySelectorAll("g[role=button], main button")].find(e => (e.getAttribute("aria-label") ?? e.textContent).trim().replace(/^\d+\s*/, "").startsWith(%q));
		if (at) at.dispatchEvent(new MouseEvent("click", { bubbles: true }));
		return !!at;
	})()`, place)
	return chromedp.Tasks{until(js), click(found), click("Done")}
}

// A job that is handed over takes no more: a technician is offered nothing there but to
// open it again, a lead may put right what was taken and what the job says.
func TestHandedOverSheet(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower(), looked, rested(12.65))
	b.do(goTo("Hand over"), click("Close the job"), reads("Open it again"))
	lead := b.colleague(store.Lead, "/jobs/"+id+"?at=rest_voltage")
	// What is offered to put in or to press, by station.
	offers := func(b *tab, station string) (fields, buttons string) {
		b.do(goTo(station), stage.Shown(`section[aria-label="`+station+`"]`))
		b.do(chromedp.Evaluate(`[...document.querySelectorAll("main section[aria-label='`+station+`'] :is(input, [role=radio], select, textarea)")]
			.filter(e => !e.matches(":disabled") && e.checkVisibility()).map(e => e.ariaLabel || e.id).join()`, &fields),
			chromedp.Evaluate(`[...document.querySelectorAll("main section[aria-label='`+station+`'] button:enabled")]
			.filter(e => e.checkVisibility()).map(e => e.textContent.trim()).filter(w => /Correct|Read|Save|Start|Let/.test(w)).join()`, &buttons))
		return fields, buttons
	}
	for _, c := range []struct {
		b                        *tab
		station, fields, buttons string
	}{
		{b, "Rest volts", "", ""},
		{b, "Strength", "", ""},
		{b, "Arrive", "", ""},
		{lead, "Rest volts", "", "Correct this one"},
		{lead, "Strength", "", ""},
	} {
		if fields, buttons := offers(c.b, c.station); fields != c.fields || buttons != c.buttons {
			t.Errorf("%s offers the fields %q and the buttons %q", c.station, fields, buttons)
		}
		c.b.do(reads("Handed over"), reads("open it again to take more"))
	}
	lead.do(goTo("Rest volts"), click("Correct this one"), stage.Enter("Meter reads", "12.55"), reads("If this is saved"),
		click("Save, go on"), reads("Saved: Rest volts 12.55 V"))
	if got := b.saved(id); len(got) != 2 || got[1]["volts"] != 12.55 {
		t.Errorf("in effect: %v", got)
	}
	lead.do(goTo("Arrive"), types("Customer", "Test garden"), click("Save the changes"), goneOn("Arrive"))
	b.do(goTo("Rest volts"), reads("12.55"), click("Open it again"), click("Correct this one"),
		reads("Correcting Rest volts 12.55 V"))
}
