package api

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"io"
	"strings"
	"testing"

	"grapnel/core/casefile"
	"grapnel/internal/localdb/dbtest"
)

func (c caller) take(what string) string {
	c.t.Helper()
	r := c.call("GET", "/api/export/"+what, nil)
	if r.status != 200 || !strings.Contains(r.header.Get("Content-Disposition"), "attachment; filename=\""+what) {
		c.t.Fatalf("%s: %d %v %s", what, r.status, r.header, r.body)
	}
	return string(r.body)
}

func (c caller) bring(what, table string, status int, into any) {
	c.t.Helper()
	c.call("POST", "/api/import/"+what, table, "Content-Type", "text/csv").into(status, into)
}

// Everything a workshop owns comes out, goes into another, and comes out of that as it was:
// corrections, what was taken back, odd texts, closed jobs and the rules they were judged by.
// Brought in again nothing is doubled.
func TestEverythingInAndOut(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, lead := b.as(t, "First technician"), b.as(t, "First lead")
	job := c.full(lead)
	odd := mower(newID())
	odd["customer"], odd["note"] = "=HYPERLINK(\"x\")", "-1 \"quoted\";\nsecond line, Łódź"
	c.call("POST", "/api/jobs", odd).into(200, nil)
	first := newID()
	c.call("POST", "/api/jobs/"+odd["id"].(string)+"/readings", restReading(first, 12.4)).into(200, nil)
	right := restReading(newID(), 12.6)
	right["replaces"] = first
	c.call("POST", "/api/jobs/"+odd["id"].(string)+"/readings", right).into(200, nil)
	wrong := newID()
	c.call("POST", "/api/jobs/"+odd["id"].(string)+"/readings", loadReading(wrong, 9)).into(200, nil)
	c.call("POST", "/api/jobs/"+odd["id"].(string)+"/readings/"+wrong+"/withdraw", map[string]any{"id": newID()}).into(200, nil)
	c.call("POST", "/api/jobs/"+job+"/close", nil).into(200, nil)
	c.call("GET", "/api/export/jobs", nil).into(403, nil)
	c.call("POST", "/api/import/jobs", "x", "Content-Type", "text/csv").into(403, nil)
	out := map[string]string{}
	for _, what := range []string{"batteries", "jobs", "readings", "notes"} {
		out[what] = lead.take(what)
		rows, err := csv.NewReader(strings.NewReader(out[what])).ReadAll()
		must(t, err)
		for _, row := range rows[1:] {
			for _, cell := range row {
				if cell != "" && strings.ContainsAny(cell[:1], "=+@\t\r") || strings.HasPrefix(cell, "-1 ") {
					t.Errorf("%s: %q runs in a spreadsheet", what, cell)
				}
			}
		}
	}
	// A new workshop elsewhere, with people of other names.
	there := newBench(t, dbtest.Server(), nil).as(t, "Second lead")
	var n struct{ Added, Known int }
	for _, what := range []string{"batteries", "jobs", "readings"} {
		lines, err := csv.NewReader(strings.NewReader(out[what])).ReadAll()
		must(t, err)
		all := len(lines) - 1
		if there.bring(what, out[what], 200, &n); n.Added != all || n.Known != 0 {
			t.Errorf("%s: %+v of %d", what, n, all)
		}
		if there.bring(what, out[what], 200, &n); n.Added != 0 || n.Known != all {
			t.Errorf("%s again: %+v of %d", what, n, all)
		}
	}
	for _, what := range []string{"batteries", "readings"} {
		if got := there.take(what); got != out[what] {
			t.Errorf("%s came out as\n%s\nwere\n%s", what, got, out[what])
		}
	}
	// People are of a workshop: who is not known here stands as whoever brought it in.
	named := strings.NewReplacer("First technician", "Second lead")
	if got := there.take("jobs"); got != named.Replace(out["jobs"]) {
		t.Errorf("jobs came out as\n%s\nwere\n%s", got, out["jobs"])
	}
	var was, is outcomeOf
	c.call("GET", "/api/jobs/"+job, nil).into(200, &was)
	there.call("GET", "/api/jobs/"+job, nil).into(200, &is)
	if is.Outcome == nil || is.Outcome.Headline != was.Outcome.Headline {
		t.Errorf("judged there as %+v, here as %+v", is.Outcome, was.Outcome)
	}
	// Brought back to where it came from nothing is doubled either.
	for what, all := range map[string]int{"jobs": 2, "readings": 13} {
		if lead.bring(what, out[what], 200, &n); n.Added != 0 || n.Known != all {
			t.Errorf("%s back home: %+v of %d", what, n, all)
		}
	}
	var h struct {
		Changes []struct{ What string } `json:"changes"`
	}
	lead.call("GET", "/api/history?only=changes", nil).into(200, &h)
	counts := map[string]int{}
	for _, one := range h.Changes {
		counts[one.What]++
	}
	if counts["taken_out"] != 4 || counts["brought_in"] != 2 {
		t.Errorf("history: %v", counts)
	}
}

// A table with anything wrong in it, or against what stands here, changes nothing, and says in
// which line.
func TestBadTables(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, lead := b.as(t, "First technician"), b.as(t, "First lead")
	job := c.full(lead)
	jobs, readings := lead.take("jobs"), lead.take("readings")
	fresh := "tag,class,chemistry,opened_at\r\nK-0900,car,agm,2026-11-27T08:00:00Z\r\n"
	line := strings.Split(readings, "\r\n")[3]
	for _, bad := range []struct{ what, table, says string }{
		{"jobs", strings.Replace(jobs, "turns slowly", "turns fast", 1), "line 2"},                             // its id stands for something else
		{"jobs", fresh + "K-0001,car,gel,2026-11-27T08:00:00Z\r\n", "line 3"},                                  // another label
		{"jobs", fresh + "K-0901,plane,agm,2026-11-27T08:00:00Z\r\n", "line 3, column class"},                  // no such class
		{"readings", strings.Replace(readings, line, strings.Replace(line, "12.1", "12.2", 1), 1), "line 4"},   // nothing is overwritten
		{"readings", "job,kind,volts\r\n" + newID() + ",rest_voltage,12.6\r\n", "line 2, column job"},          // no such job
		{"readings", "job,kind,volts\r\n" + job + ",rest_voltage,126\r\n", "line 2, column volts"},             // not of this battery
		{"readings", "job,kind,volts,replaces\r\n" + job + ",rest_voltage,12.6," + newID() + "\r\n", "line 2"}, // corrects nothing
		{"batteries", "tag,chemistry\r\nK-0902,agm\r\nK-0001,gel\r\n", "line 3"},                               // another label
		{"batteries", "tag,chemistry,twin\r\nK-0902,agm,K-0903\r\n", "K-0903"},                                 // its twin is not there
		{"jobs", " ", "empty"}, {"readings", "\x00\xff", "UTF-8"}, {"batteries", "name\r\nx\r\n", "is no column here"},
	} {
		r := lead.call("POST", "/api/import/"+bad.what, bad.table, "Content-Type", "text/csv")
		if r.status < 400 || r.status > 499 || !strings.Contains(string(r.body), bad.says) {
			t.Errorf("%s: %d %s, want %q", bad.what, r.status, r.body, bad.says)
		}
	}
	if got := lead.take("jobs"); got != jobs {
		t.Error("jobs have changed")
	}
	if got := lead.take("readings"); got != readings {
		t.Error("readings have changed")
	}
	if strings.Contains(lead.take("batteries"), "K-090") {
		t.Error("a battery of a bad table came in")
	}
	// Somebody who says that it is the same battery is believed.
	same := lead.call("POST", "/api/import/batteries?battery=same", "tag,chemistry\r\nK-0001,gel\r\n", "Content-Type", "text/csv")
	if same.status != 200 || !strings.Contains(lead.take("batteries"), "K-0001,gel") {
		t.Errorf("%d %s", same.status, same.body)
	}
	if r := lead.call("POST", "/api/import/jobs", strings.Repeat("x", 33<<20), "Content-Type", "text/csv"); r.status != 413 {
		t.Errorf("33 MB: %d", r.status)
	}
}

// The case files of all jobs are each a case that can be judged again, under a name of its own.
func TestCaseFiles(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, lead := b.as(t, "First technician"), b.as(t, "First lead")
	c.full(lead)
	for range 3 {
		c.opened()
	}
	r := lead.call("GET", "/api/export/cases", nil)
	z, err := zip.NewReader(bytes.NewReader(r.body), int64(len(r.body)))
	must(t, err)
	names := map[string]bool{}
	for _, f := range z.File {
		in, err := f.Open()
		must(t, err)
		raw, err := io.ReadAll(in)
		must(t, err)
		if one, err := casefile.Decode(raw); err != nil || one.Battery.Tag == "" {
			t.Errorf("%s: %v", f.Name, err)
		}
		if strings.Contains(f.Name, "..") || !strings.HasPrefix(f.Name, "cases/") {
			t.Errorf("name %q", f.Name)
		}
		names[f.Name] = true
	}
	if len(names) != 4 {
		t.Errorf("%v", names)
	}
}

// The lines of a table from elsewhere name no ids. Brought in again, the same table doubles
// nothing; a line that says something else is something else.
func TestTableWithoutIDs(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	lead := b.as(t, "First lead")
	jobs := "tag,class,chemistry,cca,ah_20h,ambient_c,eye,opened_at,closed_at,complaint\r\n" +
		"K-0910,car,agm,640,62.5,4.5,no,2026-11-25T08:00:00Z,2026-11-25T09:00:00Z,slow_crank dim_lights\r\n" +
		"K-0911,mower,flooded,230,22,,yes,2026-11-25T08:00:00Z,,\r\n"
	var n struct{ Added, Known int }
	for i, want := range []int{2, 0, 0} {
		if lead.bring("jobs", jobs, 200, &n); n.Added != want || n.Known != 2-want {
			t.Errorf("jobs, the %d. time: %+v", i+1, n)
		}
	}
	if lead.bring("jobs?battery=same", strings.Replace(jobs, ",4.5,", ",5.5,", 1), 200, &n); n.Added != 1 || n.Known != 1 {
		t.Errorf("one line that is another: %+v", n)
	}
	job := lead.opened()
	readings := "job,kind,volts,at\r\n" + job + ",rest_voltage,12.41,2026-11-25T08:10:00Z\r\n" + job + ",rest_voltage,12.41,\r\n"
	for i, want := range []int{2, 0} {
		if lead.bring("readings", readings, 200, &n); n.Added != want || n.Known != 2-want {
			t.Errorf("readings, the %d. time: %+v", i+1, n)
		}
	}
}
