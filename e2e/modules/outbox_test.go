package modules

import (
	"testing"

	"github.com/chromedp/chromedp"
)

// standIn answers in place of the server: by the queue of answers, or 200 where it is empty;
// a "lost" one never comes. What was asked is noted.
const standIn = `
window.answers = []; window.asked = [];
window.fetch = async (what) => {
	const url = new URL(what.url ?? what, location.href);
	if (url.pathname === "/healthz") return new Response("", { status: window.healthy ? 200 : 503 });
	window.asked.push(url.pathname.replace(/^.api/, "") + " " + (await what.clone().text()));
	const next = window.answers.shift() ?? 200;
	if (next === "lost") throw new TypeError("the answer was lost");
	const [status, body] = Array.isArray(next) ? next : [next, { job: { id: "j1" } }];
	return new Response(JSON.stringify(body), { status, headers: { "content-type": "application/json" } });
};
window.told = [];
window.queries = { setQueryData: (key) => told.push(key.join("/")), invalidateQueries: async ({ queryKey }) => void told.push("anew " + queryKey.join("/")),
	cancelQueries: async () => {} };
window.reading = (id, more) => ({ id, job: "j1", tag: "K-1", kind: "rest_voltage", text: "Rest volts", reading: { kind: "rest_voltage", volts: 12.4 }, ...more });
window.ticked = (id, more) => ({ id, job: "j1", tag: "K-1", kind: "guide", text: "Ticked", event: { what: "clean", kind: "ticked", step: id, at: "2026-01-01T10:00:00Z" }, ...more });
`

// mounted renders a component that keeps somebody's outbox, and waits until it stands.
const mounted = `
window.person = (name) => new Promise((done) => {
	window.root?.unmount();
	window.root = m.createRoot(document.getElementById("bare"));
	const Part = () => { m.useOutbox(name); window.waiting = m.useWaiting(); m.useEffect(() => done(), []); return null; };
	root.render(m.createElement(m.QueryClientProvider, { client: Object.assign(new m.QueryClient(), queries) }, m.createElement(Part)));
});
// What waits once nothing has changed for a while.
window.settled = async () => {
	for (let same = 0, last; same < 8; ) {
		await new Promise((r) => setTimeout(r, 25));
		const now = JSON.stringify([asked, m.waitingNow()]);
		same = now === last ? same + 1 : 0;
		last = now;
	}
	return m.waitingNow();
};
`

var outbox = []string{"lib/outbox.ts", "lib/notices.ts", "lib/line.ts"}

var react = []string{`export { createElement, useEffect } from "react"`, `export { createRoot } from "react-dom/client"`,
	`export { QueryClient, QueryClientProvider } from "@tanstack/react-query"`,
	`export const waitingNow = () => (window.waiting ?? []).map((w) => w.id + (w.held ? " held" : "") + (w.refused ? " refused: " + w.refused : ""))`}

func outboxOf(t *testing.T, name string) module {
	t.Helper()
	m := load(t, standIn, outbox, react...)
	m.do(chromedp.Evaluate(mounted+`1`, nil))
	m.gives(`person("` + name + `")`)
	return m
}

// What waits is sent in its order once the line is back, each once; what was sent is gone,
// here and from what the device keeps, and how many there were is said.
func TestOutboxSendsInOrder(t *testing.T) {
	m := outboxOf(t, "Ada")
	m.is([][2]string{{`(m.missed(), m.isDown())`, "true"}}...)
	m.is([][2]string{
		{`(m.putOff(reading("a")), m.putOff(reading("b")), m.putOff(reading("a", { text: "corrected" })), JSON.parse(localStorage["grapnel.outbox.Ada"]).map(w => w.id))`, `["b","a"]`},
		{`m.whoseWait()`, `[{"name":"Ada","n":2}]`},
	}...)
	if got := m.gives(`settled()`); got != `["b","a"]` {
		t.Errorf("without a line there wait %s", got)
	}
	if got := m.gives(`(m.heard(new Response("")), settled())`); got != `[]` {
		t.Errorf("with the line back there wait %s", got)
	}
	m.is([][2]string{
		{`asked.map(a => JSON.parse(a.slice(a.indexOf("{"))).id)`, `["b","a"]`},
		{`asked.every(a => a.startsWith("/jobs/j1/readings "))`, "true"},
		{`localStorage["grapnel.outbox.Ada"]`, `"[]"`}, {`m.whoseWait()`, "[]"},
	}...)
}

// By what the server answers: taken, it is gone; its id known, an earlier try arrived and it is
// gone; not possible, it stays with the reason and the next goes on; not now, all stays.
func TestOutboxByTheAnswer(t *testing.T) {
	for _, c := range []struct{ name, answers, waits, asked string }{
		{"taken", `[200, 200]`, `[]`, "2"},
		{"known", `[[409, { type: "urn:grapnel:taken" }], 200]`, `[]`, "2"},
		{"not possible", `[[422, { errors: [{ message: "125 V is outside" }] }], 200]`, `["a refused: 125 V is outside"]`, "2"},
		{"refused in words", `[[409, { detail: "it is handed over" }], 200]`, `["a refused: it is handed over"]`, "2"},
		{"signed out", `[[401, {}]]`, `["a","b"]`, "1"},
		{"broken", `[[500, {}]]`, `["a","b"]`, "1"},
		{"lost", `["lost"]`, `["a","b"]`, "1"},
		{"lost behind one", `[200, "lost"]`, `["b"]`, "2"},
	} {
		m := outboxOf(t, "Ada")
		m.gives(`(m.missed(), m.putOff(reading("a")), m.putOff(reading("b")), answers.push(...` + c.answers + `), m.heard(new Response("")), settled())`)
		if got, asked := m.gives(`settled()`), m.gives(`asked.length`); got != c.waits || asked != c.asked {
			t.Errorf("%s: there wait %s after %s were asked, want %s after %s", c.name, got, asked, c.waits, c.asked)
		}
	}
}

// A tick goes at once and its refusal takes it back; without a line it is held in its turn, a
// reading behind it waits for it, and both go when the line is back.
func TestOutboxTicks(t *testing.T) {
	m := outboxOf(t, "Ada")
	if got := m.gives(`(m.tick(queries, ticked("t1")), settled())`); got != `[]` || m.gives(`asked[0].startsWith("/jobs/j1/guides/clean/events ")`) != "true" {
		t.Errorf("a tick with a line: %s", got)
	}
	// What a guide changes is fetched anew wherever it shows: putting away and waking up change
	// what stands.
	if got := m.gives(`["jobs", "clock", "stock", "season"].filter((key) => !told.includes("anew " + key))`); got != `[]` {
		t.Errorf("after a tick these stay as they were: %s", got)
	}
	if got := m.gives(`(answers.push([409, { detail: "first the earthed lug" }]), m.tick(queries, ticked("t2")), settled())`); got != `[]` {
		t.Errorf("a tick that was refused stays: %s", got)
	}
	if got := m.gives(`(m.missed(), m.tick(queries, ticked("t3")), m.tick(queries, reading("r1")), settled())`); got != `["t3 held","r1"]` {
		t.Errorf("without a line: %s", got)
	}
	if got := m.gives(`(asked.length = 0, m.heard(new Response("")), settled())`); got != `[]` {
		t.Errorf("with the line back: %s", got)
	}
	if got := m.gives(`asked.map(a => JSON.parse(a.slice(a.indexOf("{"))).id)`); got != `["t3","r1"]` {
		t.Errorf("sent in the order %s", got)
	}
}

// Everybody has their own; it is there again after a refresh, and what another tab added is
// neither lost nor overwritten.
func TestOutboxIsPersonal(t *testing.T) {
	m := outboxOf(t, "Ada")
	m.gives(`(m.missed(), m.putOff(reading("a")), m.giveUp("nothing"), settled())`)
	if got := m.gives(`person("Bo").then(() => settled())`); got != `[]` {
		t.Errorf("Bo finds %s", got)
	}
	m.again(standIn+`window.healthy = false; Object.defineProperty(navigator, "onLine", { get: () => false });`, outbox, react...)
	m.do(chromedp.Evaluate(mounted+`1`, nil))
	if got := m.gives(`person("Ada").then(() => settled())`); got != `["a"]` {
		t.Errorf("after a refresh there wait %s", got)
	}
	elsewhere := `localStorage["grapnel.outbox.Ada"] = JSON.stringify([reading("a"), reading("x")])`
	if got := m.gives(`(` + elsewhere + `, m.putOff(reading("b")), settled())`); got != `["a","x","b"]` {
		t.Errorf("beside another tab there wait %s", got)
	}
	if got := m.gives(`(localStorage["grapnel.outbox.Ada"] = "[]", window.dispatchEvent(new StorageEvent("storage", { key: "grapnel.outbox.Ada" })), settled())`); got != `[]` {
		t.Errorf("another tab sent all, and there wait %s", got)
	}
}
