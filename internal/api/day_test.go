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
	began := time.Now()
	now := began.UTC().Truncate(24 * time.Hour).Add(12 * time.Hour) // noon, so that both zones are ones there are
	for name, east := range map[string]time.Duration{"half an hour to midnight": -12*time.Hour - 30*time.Minute, "half an hour past": 12*time.Hour + 30*time.Minute} {
		here := time.FixedZone("here", int(east.Seconds()))
		today := now.In(here).Format(time.DateOnly)
		if today == now.Format(time.DateOnly) {
			t.Fatalf("%s: it is %s in both", name, today)
		}
		clock := func() time.Time { return now.Add(time.Since(began)).In(here) }
		b := newBench(t, dbtest.Server(), func(c *Config) { c.Now = clock })
		b.store.SetNow(clock)
		c := b.as(t, "First technician")
		doc := strings.NewReplacer(day(0), today, day(120), now.In(here).AddDate(0, 0, 120).Format(time.DateOnly)).Replace(stands("M-1", 0, 120, `,"lot":"Yard","row":"A"`))
		id := newID()
		c.call("POST", "/api/season/"+id, doc).into(200, nil)
		var one struct {
			Line struct {
				On string `json:"looked_on"`
			} `json:"line"`
			Looks []struct{ Look season.Look } `json:"looks"`
		}
		look := looked(newID(), 0, 12.05)
		look["at"] = clock().UTC().Format(time.RFC3339Nano)
		c.call("POST", "/api/season/"+id+"/looks", look).into(200, &one)
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
		var due struct{ Stands []struct{ At time.Time } }
		c.call("GET", "/api/clock", nil).into(200, &due)
		if len(due.Stands) != 1 || due.Stands[0].At.In(here).Format(time.DateTime) != today+" 08:00:00" {
			t.Errorf("%s: its lot is called %+v, not this morning at eight", name, due.Stands)
		}
	}
}
