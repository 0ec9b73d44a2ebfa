package assess

import (
	"slices"
	"testing"
	"time"

	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/station"
)

func TestWaits(t *testing.T) {
	now := time.Date(2026, 1, 5, 9, 0, 0, 0, time.UTC)
	later, before := now.Add(time.Hour), now.Add(-time.Minute)
	flat := Assess(car(rest(12.1)), readingtest.Labels)
	for _, c := range []struct {
		ends   *time.Time
		closed bool
		want   string
		word   string
	}{
		{nil, false, "hands", flat.Next[0].Do.String()}, {&later, false, "rest", "Resting, then take the volts"},
		{&before, false, "hands", "Rest over: take the volts"}, {&later, true, "done", "Handed over"},
	} {
		if w := Waits(flat, c.ends, c.closed, now); w.For != c.want || w.Word.String() != c.word ||
			(w.At != nil) != (c.want == "rest") {
			t.Errorf("%+v: %+v", c, w)
		}
	}
	leaking := Assess(car(inspected("leaking")), readingtest.Labels)
	for _, ends := range []*time.Time{&later, &before} {
		if w := Waits(leaking, ends, false, now); w.For != "hands" || w.Word.String() != "Stop. It is leaking." {
			t.Errorf("a hazard must not wait for a rest: %+v", w)
		}
	}
}

// On its charger it waits for its next look, and for hands from then on; a hazard, or
// heat, waits for nothing; a rest goes before.
func TestWaitsOnCharge(t *testing.T) {
	c := car(when(-30, at(50)), hungOn(0, 6), looked(30, 13.1, 6, "cold"))
	a := Assess(c, readingtest.Labels)
	due := morning.Add(time.Hour)
	if w := Waits(a, nil, false, due.Add(-time.Second)); w.For != "charge" || w.At == nil || !w.At.Equal(due) || w.Word.String() != "On charger 3" {
		t.Errorf("a second before: %+v", w)
	}
	for _, now := range []time.Time{due, due.Add(time.Hour)} {
		if w := Waits(a, nil, false, now); w.For != "hands" || w.At != nil || w.Word.String() != "Look at its charge" {
			t.Errorf("at %v: %+v", now, w)
		}
	}
	if w := Waits(a, nil, true, due); w.For != "done" {
		t.Errorf("handed over: %+v", w)
	}
	ends := due.Add(time.Hour)
	if w := Waits(a, &ends, false, due.Add(-time.Second)); w.For != "rest" {
		t.Errorf("resting: %+v", w)
	}
	hot := Assess(car(when(-30, at(50)), hungOn(0, 6), looked(30, 13.1, 6, "hot")), readingtest.Labels)
	if w := Waits(hot, nil, false, due.Add(-time.Second)); w.For != "hands" {
		t.Errorf("hot: %+v", w)
	}
	for at, want := range map[time.Time]string{due.Add(time.Second): "check charge", due: "charge check due", due.Add(-time.Hour): "charge check due"} {
		if word, over := ChargeMoment(at, due); word != want || over != (want == "charge check due") {
			t.Errorf("due %s, at %s: %s, %t", at, due, word, over)
		}
	}
	// Nobody noted when it was hung on: hands, now.
	bare := reading.Of(station.OnCharger, reading.Fields{"charger": "3", "charger_kind": "smart", "amps": 6.0})
	if w := Waits(Assess(car(at(50), bare), readingtest.Labels), nil, false, due); w.For != "hands" {
		t.Errorf("no time: %+v", w)
	}
}

// A rest ends before its time and is over from then on.
func TestRestMoment(t *testing.T) {
	now := time.Date(2026, 1, 5, 9, 0, 0, 0, time.UTC)
	for ends, want := range map[time.Time]string{now.Add(time.Second): "rest ends", now: "rest over", now.Add(-time.Hour): "rest over"} {
		if word, over := RestMoment(ends, now); word != want || over != (want == "rest over") {
			t.Errorf("ending %s, at %s: %s, %t", ends, now, word, over)
		}
	}
}

// The floor's order: hands now before later; of now a hazard, then a rest that is
// over, then the longest open; of later the soonest.
func TestByWait(t *testing.T) {
	noon := time.Date(2026, 1, 5, 12, 0, 0, 0, time.UTC)
	at := func(minutes int) *time.Time {
		v := noon.Add(time.Duration(minutes) * time.Minute)
		return &v
	}
	want := []struct {
		name string
		w    Waiting
	}{
		{"a hazard", Waiting{Level: bench.Stopped, OpenedAt: *at(-5)}},
		{"a rest over", Waiting{Level: bench.Act, Resting: true, OpenedAt: *at(-10)}},
		{"the longest open", Waiting{Level: bench.Note, OpenedAt: *at(-100)}},
		{"opened later", Waiting{Level: bench.Act, OpenedAt: *at(-50)}},
		{"in five minutes", Waiting{Wait: Wait{At: at(5)}, OpenedAt: *at(-1)}},
		{"in an hour", Waiting{Wait: Wait{At: at(60)}, Level: bench.Stopped, OpenedAt: *at(-500)}},
	}
	got := slices.Clone(want)
	slices.Reverse(got)
	slices.SortStableFunc(got, func(a, b struct {
		name string
		w    Waiting
	}) int {
		return ByWait(a.w, b.w)
	})
	for i := range want {
		if got[i].name != want[i].name {
			t.Errorf("place %d: %s, want %s", i+1, got[i].name, want[i].name)
		}
		for _, after := range want[i+1:] {
			if ByWait(want[i].w, after.w) >= 0 || ByWait(after.w, want[i].w) <= 0 {
				t.Errorf("%s comes before %s", want[i].name, after.name)
			}
		}
	}
}
