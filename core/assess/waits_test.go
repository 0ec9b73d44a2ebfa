package assess

import (
	"slices"
	"testing"
	"time"

	"grapnel/core/bench"
	"grapnel/core/reading/readingtest"
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
