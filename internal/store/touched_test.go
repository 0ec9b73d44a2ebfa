package store

import (
	"testing"
	"time"
)

// Whatever changes of a job touches it; other jobs, other workshops and what is
// only read are not touched. A query from the moment itself includes it.
func TestTouched(t *testing.T) {
	a := newShop(t)
	b := a.join(t, "Second")
	other := a.opened(t, "K-0002")
	began := a.now()
	j := a.opened(t, "K-0001")
	j.Version = 1
	first := a.volts(j.ID, 12.4)
	last := began
	for _, change := range []struct {
		what string
		do   func() error
	}{
		{"the opening", func() error { return nil }},
		{"a reading", func() error { return a.AddReading(a.ctx, a.ws.ID, first) }},
		{"a rest", func() error { return a.AddRest(a.ctx, a.ws.ID, a.rest(j.ID)) }},
		{"the end of a rest", func() error { return a.EndRests(a.ctx, a.ws.ID, j.ID) }},
		{"the label", func() error { return a.ChangeJob(a.ctx, a.ws.ID, Actor{ID: a.person.ID}, j) }},
		{"closing", func() error { return a.CloseJob(a.ctx, a.ws.ID, Actor{ID: a.person.ID}, j.ID, Closing{At: a.now()}) }},
		{"reopening", func() error { return a.ReopenJob(a.ctx, a.ws.ID, Actor{ID: a.person.ID}, j.ID) }},
	} {
		must(t, change.do())
		got, err := a.Touched(a.ctx, a.ws.ID, last.Add(time.Microsecond))
		must(t, err)
		if len(got) != 1 || got[0].JobID != j.ID {
			t.Fatalf("%s: %+v since %s", change.what, got, last)
		}
		last = got[0].At
	}
	_, err := a.Job(a.ctx, a.ws.ID, j.ID)
	must(t, err)
	for since, want := range map[time.Time]int{last: 1, last.Add(time.Microsecond): 0} {
		if got, _ := a.Touched(a.ctx, a.ws.ID, since); len(got) != want {
			t.Errorf("since %s, touched last at %s: %+v", since, last, got)
		}
	}
	all, err := a.Touched(a.ctx, a.ws.ID, began.Add(-time.Minute))
	must(t, err)
	if len(all) != 2 || all[0].JobID != other.ID {
		t.Errorf("the earliest first: %+v", all)
	}
	if theirs, _ := b.Touched(b.ctx, b.ws.ID, began.Add(-time.Minute)); len(theirs) != 0 {
		t.Errorf("another workshop sees %+v", theirs)
	}
}
