package api

import (
	"fmt"
	"io"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/internal/localdb/dbtest"
)

// seasonSeen is what the tests look at of a season.
type seasonSeen struct {
	Today  string     `json:"today"`
	Stored []lineSeen `json:"stored"`
	Lots   []string   `json:"lots"`
	Place  struct {
		Climate struct {
			Low []float64 `json:"monthly_low_c"`
		} `json:"climate"`
		Typed bool   `json:"typed"`
		Means bool   `json:"means_typed"`
		Known string `json:"known_until"`
	} `json:"place"`
}

type lineSeen struct {
	ID      string `json:"id"`
	Tag     string `json:"tag"`
	Version int    `json:"version"`
	Looks   int    `json:"looks"`
	Lot     string `json:"lot"`
	Now     struct {
		Sign  string `json:"sign"`
		Says  string `json:"says"`
		Late  int    `json:"late_days"`
		Frost *struct {
			On string `json:"on"`
		} `json:"frost"`
		State struct {
			SOC struct{ Low, Best, High float64 } `json:"soc_pct"`
		} `json:"state"`
		Next *struct {
			Date string `json:"date"`
			Code string `json:"code"`
		} `json:"next"`
	} `json:"now"`
}

func (s seasonSeen) tags() string {
	var out []string
	for _, l := range s.Stored {
		out = append(out, l.Tag)
	}
	return strings.Join(out, " ")
}

type storedSeen struct {
	Line lineSeen `json:"line"`
	Plan struct {
		Chosen string `json:"chosen"`
		Drain  struct {
			Milliamps struct{ Low, Best, High float64 } `json:"drain_ma"`
		} `json:"drain"`
		Before []any `json:"before"`
	} `json:"plan"`
	Looks []struct {
		ID    string `json:"id"`
		Taken bool   `json:"taken_back"`
		By    string `json:"by"`
	} `json:"looks"`
	Woken *time.Time `json:"woken_at"`
	JobID string     `json:"job_id"`
}

// day is so many days from today.
func day(n int) string { return time.Now().AddDate(0, 0, n).Format(time.DateOnly) }

// stands is a mower that is put away, as a document.
func stands(tag string, from, to int, more string) string {
	return fmt.Sprintf(
		`{"vehicle":{"class":"mower","name":"Mower"},"battery":{"tag":%q,"chemistry":"flooded","rating":{"cca":300,"ah_20h":28}},
		"start":{"soc_pct":100},"from":%q,"to":%q,"drain_ma":8,"at_hand":["mains","indoors"],"way":"connected"%s}`,
		tag,
		day(from),
		day(to),
		more,
	)
}

func looked(id string, daysAgo int, volts float64) map[string]any {
	return map[string]any{
		"id":         id,
		"at":         time.Now().AddDate(0, 0, -daysAgo).UTC().Format(time.RFC3339Nano),
		"rest_volts": volts,
	}
}

// A battery is put away once however often that is sent, looked at, changed by one at a time,
// and woken; each look redraws its season.
func TestSeason(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	var s seasonSeen
	c.call("GET", "/api/season", nil).into(200, &s)
	if len(s.Stored) != 0 || s.Place.Typed || len(s.Place.Climate.Low) != 12 {
		t.Fatalf("%+v", s)
	}
	id := newID()
	var one storedSeen
	for range 2 {
		c.call("POST", "/api/season/"+strings.ToUpper(id), stands("M-1", -40, 120, "")).into(200, &one)
	}
	before := one.Line.Now.State.SOC.Best
	if one.Line.Tag != "M-1" || one.Line.Now.Next == nil || before > 85 || before < 50 || one.Plan.Before != nil {
		t.Errorf("%+v", one)
	}
	c.call("POST", "/api/season/"+newID(), stands("M-1", -40, 120, "")).into(409, nil)
	c.call("POST", "/api/season/"+id, stands("M-1", -39, 120, "")).into(409, nil)
	var p problemAnswer
	c.call("POST", "/api/season/"+newID(), stands("M-2", 10, 5, "")).into(422, &p)
	if !strings.Contains(p.Detail, "to: ") {
		t.Errorf("%q", p.Detail)
	}
	c.call("POST", "/api/season/"+newID(), stands("M-2", 0, 100, `,"colour":"red"`)).into(422, nil)

	// Lower than was thought: the drain is more, and the plan from before stands beside.
	look := newID()
	for range 2 {
		c.call("POST", "/api/season/"+id+"/looks", looked(look, 1, 12.20)).into(200, &one)
	}
	if one.Line.Looks != 1 || one.Line.Now.State.SOC.Best > before-8 || one.Plan.Drain.Milliamps.Best < 9 ||
		len(one.Plan.Before) == 0 {
		t.Errorf("%+v", one)
	}
	for name, bad := range map[string]map[string]any{
		"nothing": {"id": newID(), "at": time.Now().Format(time.RFC3339)}, "before it was put away": looked(newID(), 41, 12.5),
		"tomorrow": looked(newID(), -1, 12.5), "16.3 V": looked(newID(), 0, 16.3), "no id": {"at": time.Now().Format(time.RFC3339), "rest_volts": 12.5},
	} {
		if r := c.call("POST", "/api/season/"+id+"/looks", bad); r.status != 422 {
			t.Errorf("%s: %d", name, r.status)
		}
	}
	c.call("POST", "/api/season/"+id+"/looks/"+look+"/withdraw", nil).into(200, &one)
	if one.Line.Looks != 0 || len(one.Looks) != 1 || !one.Looks[0].Taken || one.Line.Now.State.SOC.Best != before {
		t.Errorf("taken back: %+v", one)
	}
	charged := map[string]any{
		"id":      newID(),
		"at":      time.Now().Add(5 * time.Minute).UTC().Format(time.RFC3339),
		"charged": true,
	} // a device's clock runs ahead
	one = storedSeen{}
	c.call("POST", "/api/season/"+id+"/looks", charged).into(200, &one)
	if one.Line.Now.Late != 0 || one.Line.Now.State.SOC.Low < 95 {
		t.Errorf("charged, and late: %+v", one.Line.Now)
	}

	change := func(version int) reply {
		return c.call(
			"PUT",
			fmt.Sprintf("/api/season/%s?version=%d", id, version),
			strings.Replace(stands("M-1", -40, 120, ""), `"connected"`, `"disconnected"`, 1),
		)
	}
	for range 2 {
		change(1).into(200, &one)
	}
	change(7).into(409, nil)

	// Its own sheet, by its tag, and one alone.
	job := newID()
	for _, asked := range []string{job, newID()} {
		var opened tagged
		c.call("POST", "/api/season/"+id+"/job", map[string]any{"id": asked}).into(200, &opened)
		if opened.JobID != job {
			t.Errorf("another sheet for one battery: %s", opened.JobID)
		}
	}
	var proposed struct {
		Doc struct {
			Battery struct{ Tag string } `json:"battery"`
			To      string               `json:"to"`
		} `json:"doc"`
		Until string `json:"stored_as"`
	}
	c.call("GET", "/api/jobs/"+job+"/season", nil).into(200, &proposed)
	if proposed.Until != id || proposed.Doc.Battery.Tag != "M-1" || proposed.Doc.To <= day(20) {
		t.Errorf("%+v", proposed)
	}

	for range 2 {
		c.call("POST", "/api/season/"+id+"/wake", map[string]any{"awake": true}).into(200, &one)
	}
	if one.Woken == nil {
		t.Error("woken, and it stands")
	}
	c.call("GET", "/api/season", nil).into(200, &s)
	if s.tags() != "" {
		t.Errorf("stands: %s", s.tags())
	}
	c.call("POST", "/api/season/"+id+"/wake", map[string]any{"awake": false}).into(200, &one)

	// Nobody of another workshop sees or touches it.
	other := b.as(t, "Second lead")
	other.call("GET", "/api/season/"+id, nil).into(404, nil)
	other.call("PUT", "/api/season/"+id+"?version=2", stands("M-1", -40, 120, "")).into(404, nil)
	other.call("POST", "/api/season/"+id+"/looks", looked(newID(), 0, 12.5)).into(404, nil)
	other.call("POST", "/api/season/"+id+"/wake", map[string]any{"awake": true}).into(404, nil)
	other.call("POST", "/api/season/"+id+"/job", map[string]any{"id": newID()}).into(404, nil)
	other.call("GET", "/api/season", nil).into(200, &s)
	if s.tags() != "" {
		t.Errorf("another workshop sees %s", s.tags())
	}
}

// The place is the lead's; days of weather anybody types or takes from a table. A night that is
// forecast under a battery's line moves it to the top, calls on the clock and in the calendar.
func TestFrostIsCalled(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	lead, tech := b.as(t, "First lead"), b.as(t, "First technician")
	place := map[string]any{
		"monthly_mean_c": []float64{8, 8, 8, 8, 12, 15, 17, 17, 15, 11, 9, 8},
		"monthly_low_c":  []float64{2, 2, 2, 2, 4, 6, 8, 8, 6, 4, 3, 2},
	}
	tech.call("PUT", "/api/season/place", place).into(403, nil)
	var s seasonSeen
	lead.call("PUT", "/api/season/place", place).into(200, &s)
	if !s.Place.Typed || !s.Place.Means || s.Place.Climate.Low[0] != 2 {
		t.Errorf("%+v", s.Place)
	}
	wrong := map[string]any{"monthly_mean_c": place["monthly_low_c"], "monthly_low_c": place["monthly_mean_c"]}
	lead.call("PUT", "/api/season/place", wrong).into(422, nil)
	full, low := newID(), newID()
	tech.call("POST", "/api/season/"+full, strings.Replace(stands("M-full", -30, 100, ""), `"connected"`, `"disconnected"`, 1)).
		into(200, nil)
	tech.call("POST", "/api/season/"+low, stands("M-low", -90, 100, "")).into(200, nil)
	tech.call("GET", "/api/season", nil).into(200, &s)
	if s.tags() != "M-low M-full" || s.Stored[0].Now.Frost != nil {
		t.Errorf("%s, %+v", s.tags(), s.Stored[0].Now)
	}
	tech.call("PUT", "/api/season/weather", map[string]any{"days": []map[string]any{{"date": day(1), "low_c": -24}, {"date": day(2), "low_c": -12, "mean_c": -4}}}).
		into(200, &s)
	if s.Stored[0].Tag != "M-low" || s.Stored[0].Now.Frost == nil || s.Stored[0].Now.Frost.On != day(1) ||
		s.Stored[0].Now.Sign != "stop" ||
		s.Place.Known != day(2) {
		t.Errorf("%+v", s.Stored[0].Now)
	}
	if s.Stored[1].Now.Frost != nil {
		t.Errorf("the full one: %+v", s.Stored[1].Now)
	}
	for name, bad := range map[string]any{"far": []map[string]any{{"date": day(200), "low_c": 0}}, "twice": []map[string]any{{"date": day(1), "low_c": 0}, {"date": day(1), "low_c": 0}},
		"none": []map[string]any{}, "hot": []map[string]any{{"date": day(1), "low_c": 99}}} {
		if r := tech.call("PUT", "/api/season/weather", map[string]any{"days": bad}); r.status != 422 {
			t.Errorf("%s: %d", name, r.status)
		}
	}
	var clock struct {
		Moments []any `json:"moments"`
		Stands  []struct {
			Tag, Path, Word string
			Over            bool
		} `json:"stands"`
	}
	tech.call("GET", "/api/clock", nil).into(200, &clock)
	if len(clock.Moments) != 0 || len(clock.Stands) != 1 || clock.Stands[0].Tag != "M-low" ||
		clock.Stands[0].Path != "/season/"+low ||
		!strings.Contains(clock.Stands[0].Word, "Frost") {
		t.Errorf("%+v", clock)
	}

	var feed struct {
		On   bool
		Path string
	}
	tech.call("GET", "/api/season/feed", nil).into(200, &feed)
	if feed.On {
		t.Error("an address nobody made")
	}
	tech.call("POST", "/api/season/feed", nil).into(200, &feed)
	read := func(path string) (int, string) {
		r, err := http.Get(tech.base + path)
		if err != nil {
			t.Fatal(err)
		}
		defer func() { _ = r.Body.Close() }()
		text, _ := io.ReadAll(r.Body)
		return r.StatusCode, strings.ReplaceAll(string(text), "\r\n ", "")
	}
	code, text := read(feed.Path)
	if code != 200 || !strings.HasPrefix(text, "BEGIN:VCALENDAR") || strings.Count(text, "BEGIN:VEVENT") < 3 ||
		!strings.Contains(text, "M-low Mower: −24 °C is forecast") ||
		!strings.Contains(text, "M-full Mower: Rest volts") ||
		!strings.Contains(text, "DTSTART;VALUE=DATE:"+strings.ReplaceAll(day(1), "-", "")) {
		t.Errorf("%d: %s", code, text)
	}
	old := feed.Path
	tech.call("POST", "/api/season/feed", nil).into(200, &feed)
	for _, path := range []string{old, feedPath + ".ics", feedPath + "guess.ics"} {
		if code, _ := read(path); code != 404 {
			t.Errorf("%s: %d", path, code)
		}
	}
	tech.call("DELETE", "/api/season/feed", nil).into(200, nil)
	if code, _ := read(feed.Path); code != 404 {
		t.Errorf("taken away: %d", code)
	}
}

// A lot comes from a table, all or none and once; this week's round over it is walked in order,
// and what several devices send at once and again is there once.
func TestLot(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	var table strings.Builder
	table.WriteString("tag,vehicle,chemistry,ah_20h,row,bay,from,to,drain_ma,arrived\n")
	for i := range 30 {
		from := -5
		if i%3 == 0 {
			from = -45 // low by now
		}
		arrived := ""
		if i == 7 {
			arrived = day(0)
		}
		fmt.Fprintf(
			&table,
			"L-%02d,Car %d,flooded_sealed,60,%c,%d,%s,%s,25,%s\n",
			i,
			i,
			'A'+i%4,
			i,
			day(from),
			day(120),
			arrived,
		)
	}
	csv := func(text string) reply {
		return c.call("POST", "/api/season/csv?lot=North", text, "Content-Type", "text/csv")
	}
	var s seasonSeen
	for range 2 {
		csv(table.String()).into(200, &s)
	}
	if len(s.Stored) != 30 || len(s.Lots) != 1 || s.Lots[0] != "North" {
		t.Fatalf("%d, %v", len(s.Stored), s.Lots)
	}
	csv("tag,chemistry\nL-90,agm\nL-00,agm\n").into(409, nil)
	csv("tag,chemistry\nL-90,agm\nL-91,mercury\n").into(422, nil)
	c.call("GET", "/api/season", nil).into(200, &s)
	if len(s.Stored) != 30 {
		t.Errorf("half of what was refused stands: %d", len(s.Stored))
	}
	var r struct {
		Stops []struct {
			ID, Do, Row, Night string
			Bay                int
		} `json:"stops"`
		Later []struct{ Do, Night string } `json:"later"`
		Lines map[string]lineSeen          `json:"lines"`
	}
	c.call("GET", "/api/season/round?lot=north&chargers=3&minutes=0", nil).into(200, &r)
	charge, test := 0, 0
	for i, stop := range r.Stops {
		if i > 0 && stop.Row < r.Stops[i-1].Row {
			t.Errorf("row %s after %s", stop.Row, r.Stops[i-1].Row)
		}
		switch stop.Do {
		case "charge":
			charge++
		case "test":
			test++
		}
		if r.Lines[stop.ID].Tag == "" {
			t.Errorf("no line of %s", stop.ID)
		}
	}
	if charge != 3 || test != 1 || len(r.Later) != 7 {
		t.Errorf("%d to charge, %d to test, %d later", charge, test, len(r.Later))
	}
	c.call("GET", "/api/season/round?lot=nowhere", nil).into(200, &r)
	if len(r.Stops) != 0 {
		t.Errorf("nowhere: %+v", r.Stops)
	}
	// Two devices send what they saw, some of it twice.
	looks := map[string]map[string]any{}
	for _, l := range s.Stored {
		looks[l.ID] = looked(newID(), 0, 12.55)
	}
	var wg sync.WaitGroup
	for range 2 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for id, body := range looks {
				if r := c.call("POST", "/api/season/"+id+"/looks", body); r.status != 200 {
					t.Errorf("%d", r.status)
				}
			}
		}()
	}
	wg.Wait()
	c.call("GET", "/api/season", nil).into(200, &s)
	for _, l := range s.Stored {
		if l.Looks != 1 {
			t.Errorf("%s: %d looks", l.Tag, l.Looks)
		}
	}
	var clock struct {
		Stands []struct{ Tag, Path, Word string } `json:"stands"`
	}
	c.call("GET", "/api/clock", nil).into(200, &clock)
	if len(clock.Stands) > 1 {
		t.Errorf("a lot calls %d times: %+v", len(clock.Stands), clock.Stands)
	}
}

// What is put away by its guide stands without its earthed cable, holds nobody up at handing
// over, and its waking puts it back and ends the storing.
func TestPutAwayAndWoken(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	id := newID()
	c.call("POST", "/api/season/"+id, strings.Replace(stands("M-7", -1, 120, ""), `"connected"`, `"disconnected"`, 1)).
		into(200, nil)
	var opened tagged
	c.call("POST", "/api/season/"+id+"/job", map[string]any{"id": newID()}).into(200, &opened)
	job := opened.JobID
	g := c.begin(job, "store", map[string]any{})
	for _, step := range g.Steps {
		if r := c.event(job, "store", "ticked", step.Code); r.status != 200 {
			t.Fatalf("%s: %d %s", step.Code, r.status, r.body)
		}
	}
	var sheet struct {
		Off []struct {
			Code   string `json:"code"`
			What   string `json:"what"`
			Stored bool   `json:"stored"`
		} `json:"off"`
	}
	c.call("GET", "/api/jobs/"+job, nil).into(200, &sheet)
	if len(sheet.Off) != 1 || sheet.Off[0].Code != "earthed" || sheet.Off[0].What != "wake" || !sheet.Off[0].Stored {
		t.Errorf("off: %+v", sheet.Off)
	}
	c.call("POST", "/api/jobs/"+job+"/close", nil).into(200, nil)
	c.call("POST", "/api/jobs/"+job+"/reopen", nil).into(200, nil)
	// Woken as it was put away, whatever its entry says by now.
	c.call("PUT", "/api/season/"+id+"?version=1", strings.Replace(stands("M-7", -1, 120, ""), `"connected"`, `"indoors"`, 1)).
		into(200, nil)
	w := c.begin(job, "wake", map[string]any{})
	if !strings.Contains(fmt.Sprint(w.Steps), "earthed_on") || strings.Contains(fmt.Sprint(w.Steps), "In again") {
		t.Errorf("woken otherwise than it was put away: %+v", w.Steps)
	}
	last := ""
	for _, step := range w.Steps {
		if step.Code == "charge" { // it is tested before it is cranked
			if r := c.event(job, "wake", "ticked", "crank"); r.status != 409 {
				t.Errorf("cranked before it is tested: %d", r.status)
			}
		}
		if r := c.event(job, "wake", "ticked", step.Code); r.status != 200 {
			t.Fatalf("%s: %d %s", step.Code, r.status, r.body)
		}
		last = step.Code
	}
	sheet.Off = nil
	c.call("GET", "/api/jobs/"+job, nil).into(200, &sheet)
	var one storedSeen
	c.call("GET", "/api/season/"+id, nil).into(200, &one)
	if len(sheet.Off) != 0 || one.Woken == nil || last != "drain" {
		t.Errorf("woken: %+v off, stands until %v, last %s", sheet.Off, one.Woken, last)
	}
	// How it is kept is known from where it stands.
	shelf := newID()
	c.call("POST", "/api/season/"+shelf, strings.Replace(stands("M-8", -1, 120, ""), `"connected"`, `"indoors"`, 1)).
		into(200, nil)
	c.call("POST", "/api/season/"+shelf+"/job", map[string]any{"id": newID()}).into(200, &opened)
	if g := c.guide(opened.JobID, "store"); !strings.Contains(fmt.Sprint(g.Steps), "Shelf: dry, free of frost") {
		t.Errorf("of a battery taken indoors: %+v", g.Steps)
	}
}

// A charged battery of the shelf stands in for a low one, once; one that is not ready does not.
func TestSwap(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	id := newID()
	c.call("POST", "/api/season/"+id, strings.Replace(stands("L-1", -60, 100, `,"lot":"Yard","row":"B","bay":4`), `"mower"`, `"car"`, 1)).
		into(200, nil)
	for tag, volts := range map[string]float64{"S-1": 12.75, "S-2": 12.1} {
		c.call("POST", "/api/stock", fmt.Sprintf(`{"tag":%q,"chemistry":"flooded","rating":{"cca":300,"ah_20h":28},"made":%q,"tested":{"rest_volts":%g}}`, tag, month(-2), volts)).
			into(200, nil)
	}
	c.call("POST", "/api/season/"+id+"/swap", map[string]any{"id": newID(), "tag": "S-2"}).into(409, nil)
	c.call("POST", "/api/season/"+id+"/swap", map[string]any{"id": newID(), "tag": "S-9"}).into(409, nil)
	next := newID()
	var one storedSeen
	for range 2 {
		c.call("POST", "/api/season/"+id+"/swap", map[string]any{"id": next, "tag": "s-1"}).into(200, &one)
	}
	if one.Line.Tag != "S-1" || one.Line.Lot != "Yard" || one.Line.Now.State.SOC.Best < 99 {
		t.Errorf("%+v", one.Line)
	}
	var s seasonSeen
	c.call("GET", "/api/season", nil).into(200, &s)
	var shelf stockSeen
	c.call("GET", "/api/stock", nil).into(200, &shelf)
	if s.tags() != "S-1" || shelf.tags() != "S-2" {
		t.Errorf("stand %s, on the shelf %s", s.tags(), shelf.tags())
	}
	c.call("POST", "/api/season/"+id+"/swap", map[string]any{"id": newID(), "tag": "S-2"}).into(409, nil)
}

// Five hundred stand: the list anew, as it is remembered, the clock, and a round.
func BenchmarkSeasonOfFiveHundred(b *testing.B) {
	s := newBench(b, dbtest.Server(), nil)
	c := s.as(b, "First technician")
	var table strings.Builder
	table.WriteString("tag,class,chemistry,ah_20h,cca,lot,row,bay,from,to,drain_ma\n")
	for i := range 500 {
		fmt.Fprintf(
			&table,
			"B-%03d,%s,%s,%d,%d,Yard,%c,%d,%s,%s,%d\n",
			i,
			[]string{"car", "van", "motorcycle", "mower"}[i%4],
			[]string{"flooded_sealed", "agm", "efb"}[i%3],
			40+10*(i%5),
			400+50*(i%5),
			'A'+i/50,
			i%50,
			day(-60),
			day(120),
			5+i%30,
		)
	}
	c.call("POST", "/api/season/csv", table.String(), "Content-Type", "text/csv").into(200, nil)
	b.Run("anew", func(b *testing.B) { // a night of weather changes them all
		for i := 0; b.Loop(); i++ {
			c.call("PUT", "/api/season/weather", map[string]any{"days": []map[string]any{{"date": day(1), "low_c": float64(-i % 9)}}}).
				into(200, nil)
		}
	})
	b.Run("remembered", func(b *testing.B) {
		for b.Loop() {
			c.call("GET", "/api/season", nil).into(200, nil)
		}
	})
	b.Run("clock", func(b *testing.B) {
		for b.Loop() {
			c.call("GET", "/api/clock", nil).into(200, nil)
		}
	})
	b.Run("round", func(b *testing.B) {
		for b.Loop() {
			c.call("GET", "/api/season/round?lot=Yard&chargers=12", nil).into(200, nil)
		}
	})
}

// The secret of a calendar's address is in no log.
func TestFeedIsNotLogged(t *testing.T) {
	for path, want := range map[string]string{feedPath + "secret.ics": feedPath + "…", "/api/season": "/api/season"} {
		r, err := http.NewRequest(http.MethodGet, "http://grapnel"+path, nil)
		if err != nil {
			t.Fatal(err)
		}
		if got := pathToLog(r); got != want {
			t.Errorf("%s is logged as %s", path, got)
		}
	}
}
