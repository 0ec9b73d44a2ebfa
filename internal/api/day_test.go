package api

import (
	"strings"
	"testing"
	"time"

	"grapnel/core/season"
	"grapnel/internal/localdb/dbtest"
)

// Late in the evening west of Greenwich, soon after midnight east of it, the shop's day is
// another than the one in UTC: it is put away, looked at and called by the shop's.
func TestTheShopsDay(t *testing.T) {
	now := time.Now().UTC()
	past := now.Sub(now.Truncate(24 * time.Hour)).Truncate(time.Minute) // since midnight; zones are of whole minutes
	for name, east := range map[string]time.Duration{"half an hour to midnight": -past - 30*time.Minute, "half an hour past": 24*time.Hour - past + 30*time.Minute} {
		here := time.FixedZone("here", int(east.Seconds()))
		today := now.In(here).Format(time.DateOnly)
		if today == now.Format(time.DateOnly) {
			t.Fatalf("%s: it is %s in both", name, today)
		}
		c := newBench(t, dbtest.Server(), func(c *Config) { c.Now = func() time.Time { return time.Now().In(here) } }).as(t, "First technician")
		doc := strings.NewReplacer(day(0), today, day(120), now.In(here).AddDate(0, 0, 120).Format(time.DateOnly)).Replace(stands("M-1", 0, 120, `,"lot":"Yard","row":"A"`))
		id := newID()
		c.call("POST", "/api/season/"+id, doc).into(200, nil)
		var one struct {
			Line struct {
				On string `json:"looked_on"`
			} `json:"line"`
			Looks []struct{ Look season.Look } `json:"looks"`
		}
		c.call("POST", "/api/season/"+id+"/looks", looked(newID(), 0, 12.05)).into(200, &one)
		if one.Line.On != today || len(one.Looks) != 1 || one.Looks[0].Look.Date != today {
			t.Errorf("%s, on %s: %+v", name, today, one)
		}
		var s seasonSeen
		c.call("GET", "/api/season", nil).into(200, &s)
		if s.Today != today {
			t.Errorf("%s: today is %s, want %s", name, s.Today, today)
		}
		c.call("POST", "/api/stock", `{"tag":"S-01","chemistry":"flooded","rating":{"cca":300,"ah_20h":28}}`).into(200, nil)
		sheet := newID()
		c.call("POST", "/api/stock/S-01/job", map[string]any{"id": sheet}).into(200, nil)
		c.call("POST", "/api/jobs/"+sheet+"/readings", restReading(newID(), 12.7)).into(200, nil)
		var stock stockSeen
		c.call("GET", "/api/stock", nil).into(200, &stock)
		if on := stock.Shelf[0].Tested; on == nil || on.On != today || stock.Shelf[0].SOC == nil {
			t.Errorf("%s: tested just now, on %s: %+v", name, today, on)
		}
		var clock struct{ Stands []struct{ At time.Time } }
		c.call("GET", "/api/clock", nil).into(200, &clock)
		if len(clock.Stands) != 1 || clock.Stands[0].At.In(here).Format(time.DateTime) != today+" 08:00:00" {
			t.Errorf("%s: its lot is called %+v, not this morning at eight", name, clock.Stands)
		}
	}
}
