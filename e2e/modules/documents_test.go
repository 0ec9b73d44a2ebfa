package modules

import (
	"strings"
	"testing"
)

// What is printed is asked for in the zone this device is in, and on the paper that is usual
// where it is: Letter in North America, A4 elsewhere (common practice, no source).
func TestPaperOfThisPlace(t *testing.T) {
	for language, size := range map[string]string{
		"en-US": "Letter", "en-CA": "Letter", "fr-CA": "Letter", "es-US": "Letter", "es-MX": "Letter",
		"en-GB": "A4", "en": "A4", "de-DE": "A4", "es-ES": "A4", "fr-FR": "A4", "en-USA": "A4",
	} {
		m := load(t, `Object.defineProperty(navigator, "language", { value: "`+language+`", configurable: true });
			Intl.DateTimeFormat.prototype.resolvedOptions = () => ({ timeZone: "America/Argentina/La_Rioja" })`, []string{"lib/papers.ts"})
		m.is([][2]string{
			{`m.printing()`, `"zone=America%2FArgentina%2FLa_Rioja&size=` + size + `"`},
			{`m.letterHere()`, map[bool]string{true: "true", false: "false"}[size == "Letter"]},
		}...)
	}
}

// A case file goes under an id of its own, the same again until it is known to have come, so
// that it is not opened twice; whatever is wrong is said with its place, and what to do.
func TestACaseFileIsSent(t *testing.T) {
	const sent = `
window.file = new File(["{}"], "van.json", { lastModified: 1 });
window.sent = async (answer, battery) => {
	answers.push(answer);
	try { return "opened " + (await m.sendCase({ file, battery })).job.id }
	catch (e) { return e.so ? e.so + ": " + e.lines.join(" | ") : e.status + " " + e.constructor.name }
};
window.ids = [];
const through = window.fetch;
window.fetch = async (what, how) => {
	const url = new URL(what, location.href);
	ids.push(url.searchParams.get("id"));
	window.about = url.searchParams.get("battery");
	return through(new Request(url, { ...how, signal: undefined }));
};
`
	m := load(t, standIn+sent, []string{"lib/cases.ts"})
	same := func(want string) {
		t.Helper()
		m.is([2]string{`ids.at(-1) === ids.at(-2)`, want})
	}
	for _, c := range []struct{ name, answer, want, again string }{
		{"taken", `200`, `"opened j1"`, ""},
		{"lost", `"lost"`, `"again: No answer came, so it may be open already. Send it again: it is not opened twice."`, "false"},
		{"broken", `[500, { detail: "The disk is full." }]`, `"again: The disk is full."`, "true"},
		{"broken, without a word", `[503, {}]`, `"again: The server did not say why."`, "true"},
		{"signed out", `[401, {}]`, `"401 Refused"`, "true"},
		{"a tag that is known", `[409, { type: "urn:grapnel:known-tag", detail: "K-1 is known: is it the same?" }]`,
			`"say: K-1 is known: is it the same?"`, "true"},
		{"wrong", `[422, { errors: [{ location: "body.readings[2].volts", message: "125 V is outside 0 to 32 V" }, { message: "no date" }] }]`,
			`"mend: readings[2].volts: 125 V is outside 0 to 32 V | van.json: no date"`, "true"},
		{"wrong as a whole", `[422, { errors: [{ location: "body", message: "no case" }] }]`, `"mend: van.json: no case"`, "true"},
		{"refused in words", `[403, { detail: "The lead may." }]`, `"mend: The lead may."`, "true"},
		{"of a job that is another now", `[409, { type: "urn:grapnel:taken", detail: "It is another now." }]`, `"mend: It is another now."`, "true"},
		{"sent once more", `200`, `"opened j1"`, "false"},
	} {
		if got := m.gives(`sent(` + c.answer + `)`); got != c.want {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
		if c.again != "" {
			same(c.again)
		}
	}
	if got := m.gives(`sent(200, "other").then(() => [about, asked.at(-1)])`); !strings.Contains(got, `["other","/cases {}"]`) {
		t.Errorf("another battery is said as %s", got)
	}
}
