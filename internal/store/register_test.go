package store

import (
	"errors"
	"testing"
	"time"

	"grapnel/core/climate"
)

// A battery has its jobs in their order, under whatever tag was asked, and none of
// another workshop's.
func TestBatteries(t *testing.T) {
	s := newShop(t)
	other := s.join(t, "Second")
	now := time.Now().UTC().Truncate(time.Microsecond)
	var want []string
	for i, back := range []int{1, 30, 400} {
		j := s.job("K-0001")
		j.OpenedAt = now.AddDate(0, 0, -back)
		must(t, s.AddJob(s.ctx, s.ws.ID, j, nil))
		want = append([]string{j.ID}, want...)
		if i == 0 {
			s.opened(t, "K-0002")
			other.opened(t, "K-0001")
		}
	}
	all, err := s.Batteries(s.ctx, s.ws.ID, "")
	must(t, err)
	if len(all) != 2 || all[0].Tag != "K-0001" || all[1].Tag != "K-0002" || len(all[0].Jobs) != 3 || len(all[1].Jobs) != 1 {
		t.Fatalf("%+v", all)
	}
	for i, j := range all[0].Jobs {
		if j.ID != want[i] || j.Stamp.Touched.IsZero() || j.Vehicle.Name != "Mower K-0001" {
			t.Errorf("job %d: %+v", i, j)
		}
	}
	one, err := s.Batteries(s.ctx, s.ws.ID, "K-0002")
	must(t, err)
	if len(one) != 1 || one[0].Tag != "K-0002" || len(one[0].Jobs) != 1 {
		t.Errorf("%+v", one)
	}
	if none, err := s.Batteries(s.ctx, s.ws.ID, "K-0003"); err != nil || len(none) != 0 {
		t.Errorf("%+v, %v", none, err)
	}
}

// Twins name each other; naming another ends the pairs both were in.
func TestTwins(t *testing.T) {
	s := newShop(t)
	other := s.join(t, "Second")
	for _, tag := range []string{"A", "B", "C", "D"} {
		s.opened(t, tag)
	}
	other.opened(t, "X")
	twins := func() string {
		all, err := s.Batteries(s.ctx, s.ws.ID, "")
		must(t, err)
		out := ""
		for _, b := range all {
			out += b.Tag + b.Twin + " "
		}
		return out
	}
	for _, c := range []struct{ tag, twin, want string }{
		{"A", "B", "AB BA C D "}, {"A", "B", "AB BA C D "}, {"D", "C", "AB BA CD DC "}, {"B", "C", "A BC CB D "}, {"C", "", "A B C D "}, {"C", "", "A B C D "},
	} {
		must(t, s.SetTwin(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, c.tag, c.twin))
		if got := twins(); got != c.want {
			t.Errorf("%s with %q: %q, want %q", c.tag, c.twin, got, c.want)
		}
	}
	must(t, s.SetTwin(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, "A", "B"))
	for twin, want := range map[string]error{"A": ErrOwnTwin, "a": ErrOwnTwin, "X": ErrNotFound, "nobody": ErrNotFound} {
		if err := s.SetTwin(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, "A", twin); !errors.Is(err, want) {
			t.Errorf("A with %s: %v", twin, err)
		}
	}
	if got := twins(); got != "AB BA C D " {
		t.Errorf("what was refused changed it: %q", got)
	}
}

// The coldest nights are nobody's until they are typed, and each workshop's own.
func TestKeptLows(t *testing.T) {
	s := newShop(t)
	other := s.join(t, "Second")
	want := climate.Months{-14.5, -12, -8, -3, 1, 4, 6, 6, 2, -3, -8, -12}
	if lows, err := s.Lows(s.ctx, s.ws.ID); lows != nil || err != nil {
		t.Errorf("%v, %v", lows, err)
	}
	must(t, s.SetClimate(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, want, nil))
	if lows, err := s.Lows(s.ctx, s.ws.ID); err != nil || lows == nil || *lows != want {
		t.Errorf("%v, %v", lows, err)
	}
	if lows, err := s.Lows(s.ctx, other.ws.ID); lows != nil || err != nil {
		t.Errorf("the other has %v, %v", lows, err)
	}
	if _, err := s.Lows(s.ctx, id()); !errors.Is(err, ErrNotFound) {
		t.Errorf("of no workshop: %v", err)
	}
}
