package api

import (
	"encoding/json"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	ical "github.com/emersion/go-ical"

	"grapnel/internal/localdb/dbtest"
	"grapnel/internal/paper/papertest"
)

// full makes a job with everything that stands in a report.
func (c caller) full(lead caller) string {
	c.t.Helper()
	job := c.opened()
	read := func(r map[string]any) {
		c.t.Helper()
		c.call("POST", "/api/jobs/"+job+"/readings", map[string]any{"id": newID(), "reading": r}).into(200, nil)
	}
	read(map[string]any{"kind": "inspection", "found": []string{"corrosion_live"}})
	read(map[string]any{"kind": "cleaned", "what": []string{"posts", "clamps"}})
	read(map[string]any{"kind": "rest_voltage", "volts": 12.1, "minutes_since_charge": 600, "surface_charge": "rested"})
	read(map[string]any{"kind": "charged", "hours": 7.5, "amps_end": 0.3, "ended": "full"})
	read(map[string]any{"kind": "rest_voltage", "volts": 12.72, "minutes_since_charge": 600, "surface_charge": "rested"})
	read(map[string]any{"kind": "load_test", "method": "half_cca", "amps": 150, "seconds": 15, "volts_end": 10.42, "battery_c": 21})
	read(map[string]any{"kind": "crank", "volts_min": 10.6, "seconds": 3, "turned": "normal"})
	read(map[string]any{"kind": "proof", "restart": "at_once", "complaint": "gone"})
	read(map[string]any{"kind": "handover", "reset_left": []string{"clock"}, "next_check": lookedAgain.Format(time.DateOnly), "told": "back before the frost"})
	c.call("POST", "/api/jobs/"+job+"/notes", map[string]any{"id": newID(), "text": "a note for the customer", "shown": true}).into(200, nil)
	c.call("POST", "/api/jobs/"+job+"/notes", map[string]any{"id": newID(), "text": "a note for us alone"}).into(200, nil)
	lead.call("PUT", "/api/prices", map[string]any{"version": 1, "prices": map[string]any{"currency": "€", "tax_pct": 20, "tax_included": true,
		"cents": map[string]int{"test": 1500, "charge": 2000, "clean": 1000}}})
	var p struct {
		Proposed json.RawMessage `json:"proposed"`
	}
	c.call("GET", "/api/jobs/"+job+"/papers", nil).into(200, &p)
	estimate := newID()
	c.call("POST", "/api/jobs/"+job+"/estimates", map[string]any{"id": estimate, "estimate": p.Proposed}).into(200, nil)
	c.call("POST", "/api/jobs/"+job+"/estimates/"+estimate+"/answers", map[string]any{"id": newID(), "accepted": true, "name": "Anna"}).into(200, nil)
	c.call("POST", "/api/jobs/"+job+"/photos?id="+newID()+"&what=label&shown=true&caption=the%20label", picture(c.t, 400, 300), "Content-Type", "image/jpeg").into(200, nil)
	return job
}

// lookedAgain is the day full has it looked at again.
var lookedAgain = time.Now().AddDate(0, 10, 0)

// words of a report that are the paper's own: headings, and what frames what was said.
var framing = regexp.MustCompile(`battery report|Before the work|Now|Verdict|Proof|What was read|What was found, and why|What was done|What to do next|` +
	`What the vehicle forgot|Cost|Net|Tax|Total|Notes|Pictures|Judged by these house rules|Signed|It came for|Came|handed over|by|of|made|Accepted|Estimated|` +
	`More stands on the sheet|SAE|reserve|typical|label not read`)

// The report says nothing that the sheet does not: every word and every figure on it stands in
// what the sheet and its papers answer, or is a heading, a date or an amount of the estimate.
func TestReportSaysWhatTheSheetSays(t *testing.T) {
	for _, scale := range []string{"C", "F"} {
		for _, decimal := range []string{"point", "comma"} {
			b := newBench(t, dbtest.Server(), nil)
			c := b.as(t, "First technician")
			c.call("PUT", "/api/session/preferences", map[string]any{"temperature": scale, "decimal": decimal}).into(200, nil)
			job := c.full(b.as(t, "First lead"))
			r := c.call("GET", "/api/jobs/"+job+"/report?zone=UTC", nil)
			if r.status != 200 || r.header.Get("Content-Type") != "application/pdf" {
				t.Fatalf("%d %s", r.status, r.body)
			}
			f := papertest.Of(t, r.body)
			f.Embedded()
			if n := f.Pages(); n > 2 {
				t.Errorf("%d pages", n)
			}
			text := f.Text()
			sheet := string(c.call("GET", "/api/jobs/"+job, nil).body) + string(c.call("GET", "/api/jobs/"+job+"/papers", nil).body) + " First technician"
			known := map[string]bool{}
			for _, w := range saidWords(sheet) {
				known[w] = true
			}
			var strange []string
			for _, w := range saidWords(framing.ReplaceAllString(text, " ")) {
				if !known[w] && !ofDate(w) {
					strange = append(strange, w)
				}
			}
			if len(strange) > 0 {
				t.Errorf("%s %s: said on paper alone: %q\n%s", scale, decimal, strange, text)
			}
			for _, want := range []string{"Charge it, then test again.", "Proven: it starts again", "back before the frost", "Accepted by Anna",
				"a note for the customer", "the label", "It is looked at again on " + lookedAgain.Format("2 January 2006") + ".", "Its owner sets again: clock.", "three quarters"} {
				if !strings.Contains(text, want) {
					t.Errorf("%q is left out", want)
				}
			}
			if strings.Contains(text, "for us alone") {
				t.Error("a note that is not for the report stands on it")
			}
			if comma := strings.Contains(text, "12,72 V"); comma != (decimal == "comma") || strings.Contains(text, "€ 45,00") != (decimal == "comma") {
				t.Errorf("%s: figures are not in this person's mark: %s", decimal, text)
			}
			if f := strings.Contains(text, "70 °F") || strings.Contains(text, "°F"); f != (scale == "F") {
				t.Errorf("%s: temperatures are in another scale", scale)
			}
		}
	}
}

var wordy = regexp.MustCompile(`[\p{L}\p{N}]+(?:[.,:’'-][\p{L}\p{N}]+)*`)

func saidWords(s string) []string {
	s = strings.NewReplacer(`\u0026`, "&", `\n`, " ", `\"`, `"`).Replace(s)
	var out []string
	for _, w := range wordy.FindAllString(s, -1) {
		out = append(out, strings.ToLower(w))
	}
	return out
}

// ofDate reports whether a word is of a date or time as it is written on paper, or numbers a
// page.
func ofDate(w string) bool {
	for _, layout := range []string{"15:04", "2006", "2", "jan"} {
		if _, err := time.Parse(layout, w); err == nil {
			return true
		}
	}
	return slices.Contains([]string{"january", "jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"}, w)
}

// A report of an old job still shows the rules it was judged by.
func TestReportOfAnOldJob(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, lead := b.as(t, "First technician"), b.as(t, "First lead")
	job := c.full(lead)
	c.call("POST", "/api/jobs/"+job+"/close", nil).into(200, nil)
	var house struct {
		Rules   map[string]any `json:"rules"`
		Version int            `json:"version"`
	}
	lead.call("GET", "/api/rules", nil).into(200, &house)
	house.Rules["load_test_min_soc_pct"] = 65
	lead.call("PUT", "/api/rules", map[string]any{"rules": house.Rules, "version": house.Version}).into(200, nil)
	text := papertest.Of(t, c.call("GET", "/api/jobs/"+job+"/report", nil).body).Text()
	if !strings.Contains(text, "Fair test: three quarters (75 %)") || strings.Contains(text, "Fair test: eye school") {
		t.Errorf("%s", text)
	}
}

// Labels and the tag for the mirror carry what was said when it was handed over; the code
// leads to how this server is reached from outside.
func TestLabelsAndTag(t *testing.T) {
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Public = "https://bench.example/" })
	c := b.as(t, "First technician")
	job := c.full(b.as(t, "First lead"))
	f := papertest.Of(t, c.call("GET", "/api/labels?job="+job+"&sheet=a4-24&from=2", nil).body)
	if text := f.Text(); !strings.Contains(text, "K-0001") || strings.Count(text, "Next "+lookedAgain.Format("2 Jan 2006")) != 1 || strings.Count(text, "Mower 3") != 2 {
		t.Errorf("%s", text)
	}
	if got := papertest.Code(t, papertest.Part(f.Picture(1, 300), 300, 70, 0.5, 70, 37)); got != "https://bench.example/t/K-0001" {
		t.Errorf("the code says %q", got)
	}
	tag := papertest.Of(t, c.call("GET", "/api/jobs/"+job+"/reset-tag", nil).body).Text()
	if !strings.Contains(tag, "Set these again") || !strings.Contains(tag, "Clock") || strings.Contains(tag, "Radio") {
		t.Errorf("%s", tag)
	}
}

func events(t *testing.T, text string) map[string]string {
	t.Helper()
	cal, err := ical.NewDecoder(strings.NewReader(text)).Decode()
	must(t, err)
	out := map[string]string{}
	for _, e := range cal.Events() {
		summary, err := e.Props.Text(ical.PropSummary)
		must(t, err)
		out[e.Props.Get(ical.PropDateTimeStart).Value] = summary
	}
	return out
}

// The dates of a job as a file, and those of the whole shop at an address with a secret of its
// own: read without a session, by another program; over once the secret is renewed, and gone
// once it is taken away. A battery that is back has no date any more.
func TestShopCalendar(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, lead, second := b.as(t, "First technician"), b.as(t, "First lead"), b.as(t, "Second lead")
	job := c.full(lead)
	c.call("POST", "/api/jobs/"+job+"/close", nil).into(200, nil)
	if got := events(t, string(c.call("GET", "/api/jobs/"+job+"/calendar", nil).body)); got[lookedAgain.Format("20060102")] != "K-0001 Mower 3: look at it again" {
		t.Errorf("%v", got)
	}
	promised := mower(newID())
	back := time.Now().UTC().AddDate(0, 3, 0).Truncate(time.Hour)
	promised["promised_at"] = back.Format(time.RFC3339)
	promised["vehicle"].(map[string]any)["name"] = "Mower 4"
	c.call("POST", "/api/jobs", promised).into(200, nil)
	c.call("POST", "/api/shop/feed", nil).into(403, nil)
	var feed struct{ Path string }
	lead.call("POST", "/api/shop/feed", nil).into(200, &feed)
	nobody := b.nobody(t)
	r := nobody.call("GET", feed.Path, nil)
	if r.status != 200 || !strings.HasPrefix(r.header.Get("Content-Type"), "text/calendar") {
		t.Fatalf("%d %s", r.status, r.body)
	}
	if got := events(t, string(r.body)); got[lookedAgain.Format("20060102")] != "K-0001 Mower 3: look at it again" || got[back.Format("20060102T150405Z")] != "K-0002 Mower 4: promised back" {
		t.Errorf("%v", got)
	}
	for _, line := range strings.Split(string(r.body), "\r\n") {
		if len(line) > 75 { // RFC 5545, 3.1
			t.Errorf("a line of %d octets", len(line))
		}
	}
	var theirs struct{ Path string }
	second.call("POST", "/api/shop/feed", nil).into(200, &theirs)
	if got := events(t, string(nobody.call("GET", theirs.Path, nil).body)); len(got) != 0 {
		t.Errorf("another workshop reads %v", got)
	}
	old := feed.Path
	lead.call("POST", "/api/shop/feed", nil).into(200, &feed)
	if r := nobody.call("GET", old, nil); r.status != 404 {
		t.Errorf("the old address answers %d", r.status)
	}
	if r := nobody.call("GET", feed.Path, nil); r.status != 200 {
		t.Errorf("the new one %d", r.status)
	}
	again := mower(newID())
	again["battery"].(map[string]any)["tag"] = "K-0001"
	c.call("POST", "/api/jobs", again).into(200, nil)
	if got := events(t, string(nobody.call("GET", feed.Path, nil).body)); got[lookedAgain.Format("20060102")] != "" {
		t.Errorf("it is back, and is still waited for: %v", got)
	}
	lead.call("DELETE", "/api/shop/feed", nil).into(200, nil)
	for _, path := range []string{feed.Path, feedPath + ".ics", feedPath + "guess.ics"} {
		if r := nobody.call("GET", path, nil); r.status != 404 {
			t.Errorf("%s answers %d", path, r.status)
		}
	}
}

// A date that was corrected, or taken back, is the one that holds.
func TestNextLookCorrected(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, lead := b.as(t, "First technician"), b.as(t, "First lead")
	job := c.opened()
	var s sheetOf
	hand := func(on, replaces string) string {
		id := newID()
		body := map[string]any{"id": id, "reading": map[string]any{"kind": "handover", "next_check": on}}
		if replaces != "" {
			body["replaces"] = replaces
		}
		c.call("POST", "/api/jobs/"+job+"/readings", body).into(200, &s)
		return id
	}
	first := hand(day(150), "")
	hand(day(180), first)
	last := hand(day(210), "")
	c.call("POST", "/api/jobs/"+job+"/readings/"+last+"/withdraw", map[string]any{"id": newID()}).into(200, nil)
	c.call("POST", "/api/jobs/"+job+"/close", nil).into(200, nil)
	var feed struct{ Path string }
	lead.call("POST", "/api/shop/feed", nil).into(200, &feed)
	if got := events(t, string(b.nobody(t).call("GET", feed.Path, nil).body)); len(got) != 1 || got[strings.ReplaceAll(day(180), "-", "")] == "" {
		t.Errorf("%v", got)
	}
	if r := c.call("POST", "/api/jobs/"+job+"/readings", map[string]any{"id": newID(), "reading": map[string]any{"kind": "handover", "next_check": "soon"}}); r.status != 422 {
		t.Errorf("soon: %d", r.status)
	}
}
