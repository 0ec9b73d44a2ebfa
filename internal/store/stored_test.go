package store

import (
	"errors"
	"sync"
	"testing"
	"time"

	"grapnel/core/climate"
	"grapnel/core/reading"
	"grapnel/core/season"
)

func (s shop) away(tag string) Stored {
	return Stored{
		ID: id(),
		Doc: season.Stored{
			Vehicle: reading.Vehicle{Class: "mower", Name: "Mower"},
			Battery: reading.Battery{Tag: tag, Chemistry: "flooded"},
			Start: season.Start{
				SOCPct:    100,
				HealthPct: 100,
			},
			From:   "2026-10-01",
			To:     "2027-04-01",
			AtHand: []string{"mains"},
			Way:    "disconnected",
			Row:    "A",
			Bay:    3,
		},
	}
}

func (s shop) by() Actor { return Actor{ID: s.person.ID} }

func (s shop) looked(storedID string, volts float64, at time.Time) StoredLook {
	return StoredLook{
		ID:       id(),
		StoredID: storedID,
		Look:     season.Look{Date: at.Format(time.DateOnly), RestVolts: &volts},
		At:       at,
		ByID:     s.person.ID,
	}
}

// What is put away stands once, however often it is sent; whoever changes it starts from what
// is there; woken it stands no longer and may be put away anew.
func TestStored(t *testing.T) {
	s := newShop(t)
	one, untagged := s.away("S-1"), s.away("")
	for range 2 {
		must(t, s.PutAway(s.ctx, s.ws.ID, s.by(), []Stored{one, untagged}))
	}
	all, err := s.AllStored(s.ctx, s.ws.ID)
	must(t, err)
	if len(all) != 2 || all[0].Doc.Battery.Tag != "K-0001" || all[1].Doc.Battery.Tag != "S-1" ||
		all[1].PutBy != s.person.Name ||
		all[1].Doc.Bay != 3 {
		t.Fatalf("%+v", all)
	}
	other := one
	other.Doc.Row = "B"
	if err := s.PutAway(s.ctx, s.ws.ID, s.by(), []Stored{other}); !errors.Is(err, ErrTaken) {
		t.Errorf("another under one id: %v", err)
	}
	// All or none: the second stands already.
	fresh := s.away("S-2")
	if err := s.PutAway(s.ctx, s.ws.ID, s.by(), []Stored{fresh, s.away("S-1")}); !errors.Is(err, ErrStored) {
		t.Errorf("a battery that stands is put away again: %v", err)
	}
	if _, err := s.StoredTagged(s.ctx, s.ws.ID, "S-2"); !errors.Is(err, ErrNotFound) {
		t.Errorf("half of what was refused stands: %v", err)
	}
	doc := one.Doc
	doc.Way, doc.Battery.Tag = "connected", "no other tag"
	for range 2 {
		must(t, s.ChangeStored(s.ctx, s.ws.ID, s.by(), one.ID, 1, doc))
	}
	if got, _ := s.StoredByID(s.ctx, s.ws.ID, one.ID); got.Version != 2 || got.Doc.Way != "connected" ||
		got.Doc.Battery.Tag != "S-1" {
		t.Errorf("%+v", got)
	}
	doc.Way = "indoors"
	if err := s.ChangeStored(s.ctx, s.ws.ID, s.by(), one.ID, 1, doc); !errors.Is(err, ErrChanged) {
		t.Errorf("changed from what was there before: %v", err)
	}
	for range 2 {
		must(t, s.Wake(s.ctx, s.ws.ID, s.by(), one.ID, true))
	}
	if err := s.ChangeStored(s.ctx, s.ws.ID, s.by(), one.ID, 2, doc); !errors.Is(err, ErrWoken) {
		t.Errorf("changed though woken: %v", err)
	}
	must(t, s.Wake(s.ctx, s.ws.ID, s.by(), one.ID, false))
	must(t, s.Wake(s.ctx, s.ws.ID, s.by(), one.ID, true))
	again := s.away("S-1")
	must(t, s.PutAway(s.ctx, s.ws.ID, s.by(), []Stored{again}))
	if err := s.Wake(s.ctx, s.ws.ID, s.by(), one.ID, false); !errors.Is(err, ErrWokenLater) {
		t.Errorf("asleep twice: %v", err)
	}
	if all, _ := s.AllStored(s.ctx, s.ws.ID); len(all) != 2 {
		t.Errorf("%d stand", len(all))
	}
	// Another workshop sees nothing of it.
	second := s.join(t, "Second")
	if _, err := s.StoredByID(s.ctx, second.ws.ID, again.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("another workshop reads it: %v", err)
	}
	if err := s.Wake(s.ctx, second.ws.ID, second.by(), again.ID, true); !errors.Is(err, ErrNotFound) {
		t.Errorf("another workshop wakes it: %v", err)
	}
	if err := s.AddLook(s.ctx, second.ws.ID, second.looked(again.ID, 12.5, time.Now())); !errors.Is(err, ErrNotFound) {
		t.Errorf("another workshop looks at it: %v", err)
	}
}

// What was seen is kept once however often it is sent, by whomever at once, in the order it
// was seen; what is taken back stays and no longer counts.
func TestStoredLooks(t *testing.T) {
	s := newShop(t)
	one := s.away("S-1")
	must(t, s.PutAway(s.ctx, s.ws.ID, s.by(), []Stored{one}))
	day := time.Date(2026, 11, 10, 9, 0, 0, 0, time.UTC)
	second, first := s.looked(one.ID, 12.5, day), s.looked(one.ID, 12.6, day.AddDate(0, 0, -7))
	var wg sync.WaitGroup
	for _, l := range []StoredLook{second, first, second, first, s.looked(one.ID, 12.4, day.AddDate(0, 0, 1))} {
		wg.Add(1)
		go func() {
			defer wg.Done()
			if err := s.AddLook(s.ctx, s.ws.ID, l); err != nil {
				t.Error(err)
			}
		}()
	}
	wg.Wait()
	count := func() (counts, all int) {
		looks, err := s.Looks(s.ctx, s.ws.ID, one.ID)
		must(t, err)
		every, err := s.AllLooks(s.ctx, s.ws.ID, one.ID)
		must(t, err)
		return len(looks[one.ID]), len(every)
	}
	if n, all := count(); n != 3 || all != 3 {
		t.Fatalf("%d looks of %d", n, all)
	}
	looks, _ := s.Looks(s.ctx, s.ws.ID, one.ID)
	if l := looks[one.ID]; *l[0].Look.RestVolts != 12.6 || *l[1].Look.RestVolts != 12.5 || l[0].By != s.person.Name {
		t.Errorf("%+v", l)
	}
	clash := second
	clash.Look = season.Look{Date: second.Look.Date, Charged: true}
	if err := s.AddLook(s.ctx, s.ws.ID, clash); !errors.Is(err, ErrTaken) {
		t.Errorf("another under one id: %v", err)
	}
	before, _ := s.StoredByID(s.ctx, s.ws.ID, one.ID)
	for range 2 {
		must(t, s.TakeBackLook(s.ctx, s.ws.ID, s.by(), one.ID, first.ID))
	}
	if n, all := count(); n != 2 || all != 3 {
		t.Errorf("taken back: %d looks of %d", n, all)
	}
	after, _ := s.StoredByID(s.ctx, s.ws.ID, one.ID)
	if after.Looked != before.Looked+1 {
		t.Errorf("taken back twice counts %d times", after.Looked-before.Looked)
	}
	if err := s.TakeBackLook(s.ctx, s.ws.ID, s.by(), one.ID, id()); !errors.Is(err, ErrNotFound) {
		t.Errorf("no such look is taken back: %v", err)
	}
	// Woken it still takes what was seen before, and nothing after.
	must(t, s.Wake(s.ctx, s.ws.ID, s.by(), one.ID, true))
	must(t, s.AddLook(s.ctx, s.ws.ID, s.looked(one.ID, 12.3, day)))
	if err := s.AddLook(s.ctx, s.ws.ID, s.looked(one.ID, 12.3, time.Now().Add(time.Hour))); !errors.Is(err, ErrWoken) {
		t.Errorf("seen after it was woken: %v", err)
	}
}

// The climate is typed whole or by its nights alone, and days said again are what they were
// said last.
func TestClimateAndWeather(t *testing.T) {
	s := newShop(t)
	if c, err := s.Climate(s.ctx, s.ws.ID); err != nil || c.Lows != nil || c.Means != nil {
		t.Fatalf("%+v, %v", c, err)
	}
	of, _ := climate.Named("upland")
	must(t, s.SetClimate(s.ctx, s.ws.ID, s.by(), of.Low, nil))
	c, err := s.Climate(s.ctx, s.ws.ID)
	must(t, err)
	if got, ok := c.Of(); !ok || got.Low != of.Low || got.Mean[0] <= got.Low[0] {
		t.Errorf("of nights alone: %+v", got)
	}
	must(t, s.SetClimate(s.ctx, s.ws.ID, s.by(), of.Low, &of.Mean))
	if c, _ = s.Climate(s.ctx, s.ws.ID); c.Weathered != 2 {
		t.Errorf("%+v", c)
	}
	if got, _ := c.Of(); got != of {
		t.Errorf("%+v", got)
	}
	mean := -1.5
	must(
		t,
		s.SetWeather(
			s.ctx,
			s.ws.ID,
			s.by(),
			[]climate.Weather{{Date: "2026-12-02", LowC: -9}, {Date: "2026-12-01", LowC: -6.4, MeanC: &mean}},
		),
	)
	must(t, s.SetWeather(s.ctx, s.ws.ID, s.by(), []climate.Weather{{Date: "2026-12-02", LowC: -12}}))
	must(t, s.SetWeather(s.ctx, s.ws.ID, s.by(), nil))
	at := func(from, to int) []climate.Weather {
		days, err := s.Weather(
			s.ctx,
			s.ws.ID,
			time.Date(2026, 12, from, 0, 0, 0, 0, time.UTC),
			time.Date(2026, 12, to, 0, 0, 0, 0, time.UTC),
		)
		must(t, err)
		return days
	}
	if d := at(1, 31); len(d) != 2 || d[0].Date != "2026-12-01" || d[0].LowC != -6.4 || *d[0].MeanC != -1.5 ||
		d[1].LowC != -12 ||
		d[1].MeanC != nil {
		t.Errorf("%+v", d)
	}
	if d := at(2, 2); len(d) != 1 {
		t.Errorf("%+v", d)
	}
	if d, err := s.join(t, "Second").Weather(s.ctx, id(), time.Time{}, time.Now()); err != nil || len(d) != 0 {
		t.Errorf("of no workshop: %+v, %v", d, err)
	}
}

// A calendar address is one person's, until another takes its place or the account is closed.
func TestFeeds(t *testing.T) {
	s := newShop(t)
	lead := Person{ID: id(), WorkshopID: s.ws.ID, Name: "Lead", Role: Lead, Passphrase: "x"}
	must(t, s.AddPerson(s.ctx, Actor{}, lead))
	if has, err := s.HasFeed(s.ctx, s.ws.ID, s.person.ID); has || err != nil {
		t.Fatalf("%v, %v", has, err)
	}
	must(t, s.SetFeed(s.ctx, s.ws.ID, s.person.ID, "one"))
	if p, err := s.FeedOf(s.ctx, "one"); err != nil || p.ID != s.person.ID || p.WorkshopID != s.ws.ID {
		t.Fatalf("%+v, %v", p, err)
	}
	must(t, s.SetFeed(s.ctx, s.ws.ID, s.person.ID, "two"))
	for _, secret := range []string{"one", "", "TWO"} {
		if _, err := s.FeedOf(s.ctx, secret); !errors.Is(err, ErrNotFound) {
			t.Errorf("%q opens: %v", secret, err)
		}
	}
	must(t, s.SetDisabled(s.ctx, Actor{ID: lead.ID, Lead: true, Passphrase: "x"}, s.ws.ID, s.person.ID, true))
	if _, err := s.FeedOf(s.ctx, "two"); !errors.Is(err, ErrNotFound) {
		t.Errorf("of a closed account: %v", err)
	}
	must(t, s.SetFeed(s.ctx, s.ws.ID, lead.ID, "three"))
	must(t, s.SetFeed(s.ctx, s.ws.ID, lead.ID, ""))
	if has, _ := s.HasFeed(s.ctx, s.ws.ID, lead.ID); has {
		t.Error("taken away, and it is there")
	}
}
