package modules

import (
	"testing"

	"github.com/chromedp/chromedp"
)

// station is a load test as a sheet describes one: three ways, one of them not for this
// battery; a load and seconds a way proposes, one hidden.
const station = `
const field = (name, more) => ({ name, kind: "figure", word: name, digits: 2, ...more });
window.load = { code: "strength", name: "Strength", kinds: [{ code: "load_test", name: "Load test", fields: [
	field("volts_end", { big: true, need: true, unit: "V" }), field("amps", { unit: "A", digits: 0 }), field("seconds", { unit: "s" }),
	field("battery_c", { unit: "°C", digits: 0 }), { name: "method", kind: "choice", word: "method" }] },
	{ code: "note", name: "Note", fields: [{ name: "said", kind: "text", word: "said" }, { name: "cells", kind: "figures", word: "cells" },
		{ name: "found", kind: "choices", word: "found", choices: [{ code: "clean" }, { code: "wet" }] }, { name: "sure", kind: "flag", word: "sure" }] }],
	advice: { ways: [
		{ code: "half", kind: "load_test", preset: { method: "half_cca" }, fields: [{ name: "amps", default: 150 }, { name: "seconds", default: 15, hidden: true }] },
		{ code: "fixed", kind: "load_test", preset: { method: "fixed_10s" }, fields: [{ name: "amps", need: true }, { name: "seconds", default: 10, hidden: true }] },
		{ code: "starter", kind: "load_test", preset: { method: "starter" }, not: "no starter here" },
		{ code: "told", kind: "note" }] } };
window.sent = (values, scale = "C", corrected) => m.readingOf(window.load, values, scale, corrected);
`

// What an entry comes to as a reading: the figures of the way that is picked, in °C whatever is
// typed; nothing where a needed one is missing or is no number.
func TestWhatAnEntrySends(t *testing.T) {
	m := load(t, "", []string{"screens/job/entry.ts"})
	m.do(chromedp.Evaluate(station+`1`, nil))
	m.is([][2]string{
		{`sent({ volts_end: "9,81" })`, `{"kind":"load_test","seconds":15,"method":"half_cca","volts_end":9.81,"amps":150}`},
		{`sent({ volts_end: "9.81", amps: "140", battery_c: "−3" })`, `{"kind":"load_test","seconds":15,"method":"half_cca","volts_end":9.81,"amps":140,"battery_c":-3}`},
		{`sent({ way: "fixed", volts_end: "9.81", amps: "125" })`, `{"kind":"load_test","seconds":10,"method":"fixed_10s","volts_end":9.81,"amps":125}`},
		// 14 °F is −10 °C.
		{`sent({ volts_end: "9.81", battery_c: "14" }, "F").battery_c`, "-10"},
		{`sent({ way: "fixed", volts_end: "9.81" })`, "undefined"}, {`sent({})`, "undefined"}, {`sent({ volts_end: "volts" })`, "undefined"},
		{`sent({ volts_end: "" })`, "undefined"},
		// A way that is not for this battery is not taken.
		{`sent({ way: "starter", volts_end: "9.81" }).method`, `"half_cca"`},
		{`sent({ way: "told", said: "  keys ", cells: "1265 265 1,2", found: "clean wet", sure: "yes" })`,
			`{"kind":"note","said":"keys","cells":[1.265,1.265,1.2],"found":["clean","wet"],"sure":true}`},
		{`sent({ way: "told", cells: "1265 x" })`, `{"kind":"note"}`}, {`sent({ way: "told" })`, "undefined"},
		// What the form does not show of a reading that is corrected is kept.
		{`sent({ volts_end: "9.9" }, "C", { kind: "load_test", method: "half_cca", seconds: 12, instrument: "bench", volts_end: 9.7 })`,
			`{"kind":"load_test","instrument":"bench","seconds":12,"method":"half_cca","volts_end":9.9,"amps":150}`},
		{`sent({ way: "fixed", volts_end: "9.9", amps: "100" }, "C", { kind: "load_test", method: "half_cca", seconds: 12 }).seconds`, "10"},
		{`["", "-", "−", "+", ".", ",", "1", "1,5"].map(m.garbled)`, "[false,false,false,false,false,false,false,false]"},
		{`["x", "1.2.3", "--1", "1v"].map(m.garbled)`, "[true,true,true,true]"},
	}...)
	// A correction begins with what was read, as it would be typed.
	m.is([][2]string{
		{`m.valuesOf(load, { kind: "load_test", method: "fixed_10s", volts_end: 9.8, amps: 125, battery_c: -10 }, "F")`,
			`{"way":"fixed","volts_end":"9.80","amps":"125","battery_c":"14","method":"fixed_10s"}`},
		{`m.valuesOf(load, { kind: "load_test", method: "half_cca", volts_end: 9.805, battery_c: -3 }, "C")`,
			`{"way":"half","volts_end":"9.805","battery_c":"−3","method":"half_cca"}`},
		{`m.valuesOf(load, { kind: "note", found: ["clean"], cells: [1.2, 1.21], sure: false, said: "x" }, "C")`,
			`{"way":"told","said":"x","cells":"1.2 1.21","found":"clean","sure":"no"}`},
	}...)
}

// What a new job sends of its form: figures that are none go as they are, so that the server
// names the field; what the form does not show is kept.
func TestWhatANewJobSends(t *testing.T) {
	m := load(t, "", []string{"screens/newjob/entry.ts"})
	m.do(chromedp.Evaluate(`
		window.choices = { classes: [{ class: "car", word: "Car", vehicle: { fuel: "petrol" }, battery: { chemistry: "flooded", caps: "sealed", terminals: "top",
			rating: { cca: 540, standard: "EN", ah_20h: 52 } } }] };
		window.form = (more) => ({ ...m.emptyEntry, ...m.fromClass(choices.classes[0]), ambient: "", ...more });
		window.of = (more, scale = "C", old) => m.detailsOf(form(more), choices, scale, old); 1`, nil))
	m.is([][2]string{
		{`of({}).battery`, `{"chemistry":"flooded","caps":"sealed","terminals":"top","rating":{"cca":540,"standard":"EN","ah_20h":52,"typical":true}}`},
		{`of({}).vehicle`, `{"class":"car","name":"Car","fuel":"petrol","system_volts":12,"earth":"negative","arrangement":"single"}`},
		{`of({ name: " Baker's van " }).vehicle.name`, `"Baker's van"`},
		{`of({ cca: "5x0" }).battery.rating.cca`, `"5x0"`}, {`of({ cca: "" }).battery.rating.cca`, "undefined"},
		{`of({ ambient: "50" }, "F").conditions`, `{"ambient_c":10}`}, {`of({ ambient: "21,5", battery: "−4" }).conditions`, `{"ambient_c":21.5,"battery_c":-4}`},
		{`of({}).conditions`, "{}"}, {`"promised_at" in of({})`, "false"}, {`of({ typical: false }).battery.rating.typical`, "undefined"},
		{`of({ tag: " K-1 " }, "C", { vehicle: { class: "car", made_year: 2016 }, battery: { eye: true, rating: {} } }).battery.eye`, "true"},
		{`of({}, "C", { vehicle: { class: "car", made_year: 2016 }, battery: { rating: {} } }).vehicle.made_year`, "2016"},
		{`m.labelLine(form({}))`, `"540 CCA, typical"`}, {`m.labelLine(form({ cca: "", typical: false }))`, `"52 Ah"`},
		{`m.labelLine(form({ cca: "", ah: "", typical: false }))`, `"no label"`},
		// A time as the browser's own field takes it, and back, in whatever zone this is.
		{`new Date(m.local(new Date(1767225600000))).getTime()`, "1767225600000"},
		{`Date.parse(of({ promised: m.local(new Date(1767225600000)) }).promised_at)`, "1767225600000"},
		{`m.entryOf({ vehicle: { class: "car" }, battery: { chemistry: "agm", rating: { cca: 650 } }, conditions: { ambient_c: 10 } }, "F").ambient`, `"50"`},
	}...)
}

// What is being entered is kept on the device under its person and place, with the id it will
// be saved under: through a refresh and in two tabs, never for another person, and gone once it
// is saved.
func TestDrafts(t *testing.T) {
	paths := []string{"lib/draft.ts", "lib/queries.ts"}
	const begin = `
		window.show = (name, place) => new Promise((done) => {
			window.mounted ??= m.createRoot(document.getElementById("bare"));
			const empty = window.empty ??= { volts: "" };
			const Part = () => { window.d = m.useDraft(place, empty); m.useEffect(() => done(), [name, place]); return null; };
			mounted.render(m.createElement(m.PersonHere.Provider, { value: { name } }, m.createElement(Part, { key: name })));
		});
		window.now = async (then) => { then?.(); await new Promise((r) => setTimeout(r, 60)); return d.draft.volts; };
	`
	m := load(t, "", paths, react[:2]...)
	m.do(chromedp.Evaluate(begin+`1`, nil))
	steps := func(rows ...[2]string) {
		t.Helper()
		for _, row := range rows {
			if got := m.gives(row[0]); got != row[1] {
				t.Errorf("%s gives %s, want %s", row[0], got, row[1])
			}
		}
	}
	steps([2]string{`show("Ada", "j1.rest").then(() => now(() => d.change({ volts: "12.3" })))`, `"12.3"`},
		[2]string{`JSON.parse(localStorage["grapnel.draft.Ada.j1.rest"]).id === d.draft.id`, "true"},
		[2]string{`(window.id = d.draft.id, /^[0-9a-f-]{36}$/.test(id))`, "true"},
		// Another place, another person, and back.
		[2]string{`show("Ada", "j2.rest").then(() => now())`, `""`}, [2]string{`show("Bo", "j1.rest").then(() => now())`, `""`},
		[2]string{`show("Ada", "j1.rest").then(() => now())`, `"12.3"`}, [2]string{`d.draft.id === id`, "true"},
		// Another tab types on.
		[2]string{`now(() => { localStorage["grapnel.draft.Ada.j1.rest"] = JSON.stringify({ id, volts: "12.44" });
			window.dispatchEvent(new StorageEvent("storage", { key: "grapnel.draft.Ada.j1.rest" })) })`, `"12.44"`},
		[2]string{`now(() => window.dispatchEvent(new StorageEvent("storage", { key: "grapnel.draft.Bo.j1.rest" })))`, `"12.44"`},
		// An id that was spent makes way for another; what is entered stays.
		[2]string{`now(() => d.renew())`, `"12.44"`}, [2]string{`d.draft.id !== id`, "true"}, [2]string{`(window.id = d.draft.id, 1)`, "1"},
	)
	id := m.gives(`d.draft.id`)
	m.again("", paths, react[:2]...)
	m.do(chromedp.Evaluate(begin+`1`, nil))
	steps([2]string{`show("Ada", "j1.rest").then(() => now())`, `"12.44"`}, [2]string{`d.draft.id`, id},
		[2]string{`now(() => d.clear())`, `""`}, [2]string{`d.draft.id !== ` + id, "true"}, [2]string{`"grapnel.draft.Ada.j1.rest" in localStorage`, "false"})
}
