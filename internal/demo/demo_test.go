package demo

import (
	"context"
	"testing"
	"time"

	"grapnel/core/assess"
	"grapnel/core/casefile"
	"grapnel/internal/fatal"
	"grapnel/internal/localdb/dbtest"
	"grapnel/internal/store"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

// The demo workshop fills a database once, also after a fill that was cut
// short, and shows a job at every stage this Grapnel knows.
func TestFill(t *testing.T) {
	ctx := context.Background()
	s, err := store.Open(ctx, dbtest.DSN(t))
	must(t, err)
	defer func() { _ = s.Close() }()
	must(t, s.Migrate(ctx))
	now := time.Now()
	cut, cancel := context.WithTimeout(ctx, 150*time.Millisecond)
	if Fill(cut, s, now) == nil {
		t.Error("the fill was meant to be cut short")
	}
	cancel()
	counts := []int{}
	for range 2 {
		must(t, Fill(ctx, s, now))
		n, err := s.CountJobs(ctx, id("workshop"))
		must(t, err)
		counts = append(counts, n)
	}
	if counts[0] != counts[1] || counts[0] < 80 {
		t.Errorf("jobs after each fill: %v", counts)
	}
	if changes, err := s.RulesChanges(ctx, id("workshop"), 5); err != nil || len(changes) != 1 || changes[0].By != "Marit" {
		t.Errorf("changes of the house rules: %+v %v", changes, err)
	}
	open, _, err := s.Jobs(ctx, id("workshop"), false, "", store.Page{Most: 100})
	must(t, err)
	ids := []string{}
	for _, j := range open {
		ids = append(ids, j.ID)
	}
	readings, err := s.Readings(ctx, id("workshop"), ids...)
	must(t, err)
	seen := map[assess.Verdict]int{}
	for _, j := range open {
		c := j.Case(readings[j.ID])
		if err := casefile.Validate(c); err != nil {
			t.Errorf("%s: %v", j.Battery.Tag, err)
		}
		seen[assess.Assess(c, nil).Verdict]++
	}
	for _, v := range []assess.Verdict{assess.Good, assess.ChargeAndRetest, assess.Replace, assess.Stop,
		assess.MoreReadings} {
		if seen[v] == 0 {
			t.Errorf("no open job is at %s: %v", v, seen)
		}
	}
	rests, err := s.RunningRests(ctx, id("workshop"))
	if err != nil || len(rests) < 3 {
		t.Errorf("%d rests, %v", len(rests), err)
	}
	for _, u := range units {
		if _, err := s.BatteryTagged(ctx, id("workshop"), u.tag); err != nil {
			t.Errorf("%s: %v", u.tag, err)
		}
	}
	if len(units) < 40 {
		t.Errorf("%d batteries, about forty are wanted", len(units))
	}
}

var must = fatal.On
