package assess

import (
	"slices"
	"strings"
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
		if w := Waits(flat, resting(c.ends), nil, c.closed, now); w.For != c.want || w.Word.String() != c.word ||
			(w.At != nil) != (c.want == "rest") {
			t.Errorf("%+v: %+v", c, w)
		}
	}
	leaking := Assess(car(inspected("leaking")), readingtest.Labels)
	for _, ends := range []*time.Time{&later, &before} {
		if w := Waits(leaking, resting(ends), nil, false, now); w.For != "hands" || w.Word.String() != "Stop. It is leaking." {
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
	if w := Waits(a, nil, nil, false, due.Add(-time.Second)); w.For != "charge" || w.At == nil || !w.At.Equal(due) ||
		w.Word.String() != "On charger 3" {
		t.Errorf("a second before: %+v", w)
	}
	for _, now := range []time.Time{due, due.Add(time.Hour)} {
		if w := Waits(a, nil, nil, false, now); w.For != "hands" || w.At != nil || w.Word.String() != "Look at its charge" {
			t.Errorf("at %v: %+v", now, w)
		}
	}
	if w := Waits(a, nil, nil, true, due); w.For != "done" {
		t.Errorf("handed over: %+v", w)
	}
	ends := due.Add(time.Hour)
	if w := Waits(a, resting(&ends), nil, false, due.Add(-time.Second)); w.For != "rest" {
		t.Errorf("resting: %+v", w)
	}
	hot := Assess(car(when(-30, at(50)), hungOn(0, 6), looked(30, 13.1, 6, "hot")), readingtest.Labels)
	if w := Waits(hot, nil, nil, false, due.Add(-time.Second)); w.For != "hands" {
		t.Errorf("hot: %+v", w)
	}
	// Nobody noted when it was hung on: hands, now.
	bare := reading.Of(station.OnCharger, reading.Fields{"charger": "3", "charger_kind": "smart", "amps": 6.0})
	if w := Waits(Assess(car(at(50), bare), readingtest.Labels), nil, nil, false, due); w.For != "hands" {
		t.Errorf("no time: %+v", w)
	}
}

// resting is a rest that ends at a time; none without.
func resting(ends *time.Time) *Stay {
	if ends == nil {
		return nil
	}
	return &Stay{StayRest, ends.Add(-time.Hour), *ends}
}

// Whatever it is left alone for waits for its time and for hands from then on; put off it
// waits on, and what somebody called done waits no more. What was said before it began
// says nothing of it.
func TestStays(t *testing.T) {
	a := Assess(car(rest(12.1)), readingtest.Labels)
	ends := morning.Add(time.Hour)
	first := a.Next[0].Do.String()
	for kind, words := range map[string][4]string{
		StayRest:  {"Resting, then take the volts", "Rest over: take the volts", "rest ends", "rest over"},
		StayWarm:  {"Warming up", "Warm enough: go on", "warm enough", "is warm enough"},
		StayParts: {"Waiting for parts", "Parts are due", "parts due", "parts are due"},
	} {
		stay := &Stay{kind, morning, ends}
		for _, c := range []struct {
			name      string
			now       time.Time
			said      *Said
			wait      string
			word, mom string
			at        time.Time
		}{
			{"a second before", ends.Add(-time.Second), nil, kind, words[0], words[2], ends},
			{"then", ends, nil, "hands", words[1], words[3], ends},
			{"put off", ends.Add(time.Minute), &Said{At: ends, Until: ends.Add(10 * time.Minute)}, kind, words[0], words[2], ends.Add(10 * time.Minute)},
			{"put off, and over", ends.Add(10 * time.Minute), &Said{At: ends, Until: ends.Add(10 * time.Minute)}, "hands", words[1], words[3], ends.Add(10 * time.Minute)},
			{"put off to before it ends", ends.Add(-time.Second), &Said{At: morning, Until: ends.Add(-time.Minute)}, kind, words[0], words[2], ends},
			{"done", ends.Add(time.Minute), &Said{At: ends, Done: true}, "hands", first, "", time.Time{}},
			{"done before it began", ends.Add(-time.Second), &Said{At: morning.Add(-time.Second), Done: true}, kind, words[0], words[2], ends},
		} {
			said := map[string]Said{}
			if c.said != nil {
				said[kind] = *c.said
			}
			if w := Waits(a, stay, said, false, c.now); w.For != c.wait || w.Word.String() != c.word ||
				(w.At != nil) != (c.wait != "hands") ||
				w.At != nil && !w.At.Equal(c.at) {
				t.Errorf("%s, %s: %+v", kind, c.name, w)
			}
			got := Moments(a, stay, Foretold{}, said, c.now)
			switch {
			case c.mom == "" && len(got) == 0:
			case len(got) != 1 || got[0].Kind != kind || got[0].Word != c.mom || got[0].Over != (c.wait == "hands") || !got[0].At.Equal(c.at) ||
				got[0].Snoozed != (c.at.After(ends)) || got[0].Holds != (c.said != nil && !c.said.At.Before(morning)) || got[0].Call != words[1] || got[0].Station == "":
				t.Errorf("%s, %s: %+v", kind, c.name, got)
			}
		}
	}
	if got := Moments(Assess(car(inspected("leaking")), readingtest.Labels), resting(&ends), Foretold{}, nil, ends); len(
		got,
	) != 0 {
		t.Errorf("the clock calls to what must not be worked on: %+v", got)
	}
}

// A battery on its charger calls to be looked at every half hour, when it can be tested
// and when it is full, each until somebody saw to it.
func TestMomentsOnCharge(t *testing.T) {
	c := car(when(-30, at(50)), hungOn(0, 6), looked(30, 13.1, 6, "cold"))
	a := Assess(c, readingtest.Labels)
	min := func(m float64) time.Time { return morning.Add(span(m)) }
	ready, full := min(150), min(400)
	says := func(now float64, ready, full *time.Time, said map[string]Said) string {
		var out []string
		for _, m := range Moments(a, nil, Foretold{Ready: ready, Full: full}, said, min(now)) {
			one := m.Kind + m.At.Format(" 15:04 ") + m.Word
			if m.Snoozed {
				one += " later"
			}
			if m.Over != !m.At.After(min(now)) {
				t.Errorf("%+v at %g", m, now)
			}
			out = append(out, one)
		}
		return strings.Join(out, "; ")
	}
	later := min(155)
	for _, c := range []struct {
		name        string
		now         float64
		ready, full *time.Time
		said        map[string]Said
		want        string
	}{
		{"charging", 40, &ready, &full, nil, "check 09:00 check charge; ready 10:30 ready to test; full 14:40 full"},
		{"nothing foretold", 40, nil, nil, nil, "check 09:00 check charge"},
		{"to be looked at", 60, &ready, &full, nil, "check 09:00 check due; ready 10:30 ready to test; full 14:40 full"},
		{"the look is put off", 61, nil, nil, map[string]Said{"check": {At: min(60), Until: min(70)}}, "check 09:10 check charge later"},
		{"somebody looked, without a reading", 61, nil, nil, map[string]Said{"check": {At: min(61), Done: true}}, "check 09:31 check charge later"},
		{"said before the last look", 61, nil, nil, map[string]Said{"check": {At: min(29), Done: true}}, "check 09:00 check due"},
		{"put off before the last look", 61, nil, nil, map[string]Said{"check": {At: min(29), Until: min(70)}}, "check 09:00 check due"},
		{"put off at the last look", 61, nil, nil, map[string]Said{"check": {At: min(30), Until: min(70)}}, "check 09:10 check charge later"},
		{"ready, called", 150, &ready, &full, nil, "ready 10:30 is ready to test; full 14:40 full"},
		{"ready, done", 155, &ready, &full, map[string]Said{"ready": {At: min(152), Done: true}}, "check 09:00 check due; full 14:40 full"},
		{"ready, put off", 155, &ready, &full, map[string]Said{"ready": {At: min(152), Until: min(170)}}, "ready 10:50 ready to test later; full 14:40 full"},
		{"done of a charge before this one", 155, &later, &full, map[string]Said{"ready": {At: min(-1), Done: true}}, "ready 10:35 is ready to test; full 14:40 full"},
		{"full", 400, &ready, &full, nil, "full 14:40 is full"},
		{"full, done", 400, &ready, &full, map[string]Said{"full": {At: min(400), Done: true}}, ""},
	} {
		if got := says(c.now, c.ready, c.full, c.said); got != c.want {
			t.Errorf("%s: %s\nwant %s", c.name, got, c.want)
		}
	}
	// Somebody has looked since it could be tested: no news.
	before := min(29)
	if got := says(40, &before, nil, nil); got != "check 09:00 check charge" {
		t.Error(got)
	}
	at := min(30)
	if got := says(40, &at, nil, nil); got != "ready 08:30 is ready to test" {
		t.Error(got)
	}
	// While it rests nothing else calls.
	ends := min(90)
	if got := Moments(a, resting(&ends), Foretold{Ready: &ready, Full: &full}, nil, min(40)); len(got) != 1 ||
		got[0].Kind != StayRest {
		t.Errorf("%+v", got)
	}
	// What has to come off waits for no look: hands, since somebody saw it; done, or put off,
	// it is called again.
	off := Foretold{Off: true}
	for name, c := range map[string]struct {
		said map[string]Said
		now  float64
		at   float64
		over bool
	}{
		"seen":                {nil, 31, 30, true},
		"put off":             {map[string]Said{"check": {At: min(31), Until: min(70)}}, 40, 70, false},
		"done, and not taken": {map[string]Said{"check": {At: min(31), Done: true}}, 61, 61, true},
	} {
		got := Moments(a, nil, off, c.said, min(c.now))
		if len(got) != 1 || got[0].Word != "take it off" || got[0].Call != "Take it off now" || !got[0].At.Equal(min(c.at)) ||
			got[0].Over != c.over {
			t.Errorf("%s: %+v", name, got)
		}
	}
	charging := Wait{For: "charge", At: &ready}
	if w := OffNow(charging, off); w.For != "hands" || w.At != nil || w.Word.String() != "Take it off now" {
		t.Errorf("%+v", w)
	}
	if w := OffNow(charging, Foretold{}); w.For != "charge" {
		t.Errorf("%+v", w)
	}
	if w := OffNow(Wait{For: "rest"}, off); w.For != "rest" {
		t.Errorf("%+v", w)
	}
	// On a maintainer it is looked at once a day, whatever its charge; full is no news.
	kept := readingtest.Car(
		when(-30, rest(12.24)),
		inspected("clean"),
		when(0, reading.Of(station.OnCharger, reading.Fields{"charger": "5", "charger_kind": "maintainer", "amps": 1.0})),
	)
	k := Assess(kept, readingtest.Labels)
	for _, c := range []struct {
		now  float64
		want string
	}{{100, "check 08:00 check charge"}, {24*60 - 1, "check 08:00 check charge"}, {24 * 60, "check 08:00 check due"}} {
		got := Moments(k, nil, Foretold{Ready: &ready, Full: &full}, nil, min(c.now))
		if len(got) != 1 || got[0].Kind+got[0].At.Format(" 15:04 ")+got[0].Word != c.want {
			t.Errorf("kept, after %g min: %+v", c.now, got)
		}
		w := Waits(k, nil, nil, false, min(c.now))
		if want := map[bool]string{true: "Look at its charge", false: "Kept on charger 5"}[c.now == 24*60]; w.Word.String() != want {
			t.Errorf("kept, after %g min it waits: %s", c.now, w.Word)
		}
	}
	// A look put off is waited for, on the floor too.
	if w := Waits(a, nil, map[string]Said{"check": {At: min(60), Until: min(70)}}, false, min(65)); w.For != "charge" ||
		!w.At.Equal(min(70)) {
		t.Errorf("%+v", w)
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
