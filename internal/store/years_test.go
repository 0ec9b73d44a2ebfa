package store

import (
	"context"
	"errors"
	"fmt"
	"net"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"

	"grapnel/internal/localdb/dbtest"
)

// A shop of an older version comes over whole: its log in the order it was saved, its
// tags counted on, its jobs found.
func TestOldShopComesOver(t *testing.T) {
	ctx := t.Context()
	old, err := Open(ctx, dbtest.DSN(t))
	must(t, err)
	t.Cleanup(func() { _ = old.Close() })
	p, err := old.migrations()
	must(t, err)
	_, err = p.UpTo(ctx, 4)
	must(t, err)
	ws, person, battery, job := id(), id(), id(), id()
	first, fix, second := "01000000-0000-7000-8000-000000000003", "01000000-0000-7000-8000-000000000001", "01000000-0000-7000-8000-000000000002"
	for _, q := range []struct {
		query string
		args  []any
	}{
		{`INSERT INTO workshop (id, name, tag_prefix, rules, created_at) VALUES (?, 'Old', 'K', '{}', NOW())`, []any{ws}},
		{`INSERT INTO person (id, workshop_id, name, role, passphrase, created_at) VALUES (?, ?, 'Old hand', 'lead', 'x', NOW())`, []any{person, ws}},
		{`INSERT INTO battery (workshop_id, id, tag, label, updated_at) VALUES (?, ?, 'K-0041', '{}', NOW())`,
			[]any{ws, battery}},
		{`INSERT INTO battery (workshop_id, id, tag, label, updated_at) VALUES (?, ?, 'X-0099', '{}', NOW())`, []any{ws, id()}},
		{`INSERT INTO job (workshop_id, id, battery_id, vehicle, battery, customer, note, complaint, rules, fingerprint, opened_at, opened_by, places)
			VALUES (?, ?, ?, '{"class":"car","name":"Büs 4"}', '{"tag":"K-0041"}', 'Parks', '', '[]', '{}', REPEAT('x', 32), NOW(), ?, 2)`, []any{ws, job, battery, person}},
		{`INSERT INTO reading (workshop_id, id, job_id, place, kind, body, taken_at, taken_by, saved_at, fingerprint, replaces_id)
			VALUES (?, ?, ?, 1, 'eye', '{"kind":"eye"}', NOW(), ?, '2026-01-01 10:00:00', REPEAT('x', 32), NULL),
			(?, ?, ?, 2, 'eye', '{"kind":"eye"}', NOW(), ?, '2026-01-01 11:00:00', REPEAT('x', 32), NULL),
			(?, ?, ?, 1, 'eye', '{"kind":"eye"}', NOW(), ?, '2026-01-01 12:00:00', REPEAT('x', 32), ?)`,
			[]any{ws, first, job, person, ws, second, job, person, ws, fix, job, person, first}},
	} {
		_, err := old.db.ExecContext(ctx, q.query, q.args...)
		must(t, err)
	}
	must(t, old.Migrate(ctx))
	s := shop{Store: old, ctx: ctx, ws: Workshop{ID: ws}, person: Person{ID: person}}
	var order []string
	for _, r := range s.log(t, job) {
		order = append(order, r.ID)
	}
	if !slices.Equal(order, []string{first, second, fix}) {
		t.Errorf("the log came over as %v", order)
	}
	if tag, err := s.NextTag(ctx, ws); err != nil || tag != "K-0042" {
		t.Errorf("next tag %s, %v", tag, err)
	}
	if found, all, err := s.Jobs(ctx, ws, false, "BUS 4 parks", Page{Most: 9}); err != nil || len(found) != 1 || all != 1 ||
		found[0].Stamp.Entries != 3 {
		t.Errorf("found %+v of %d, %v", found, all, err)
	}
	must(t, s.AddReading(ctx, ws, s.volts(job, 12.4)))
	if log := s.log(t, job); len(log) != 4 || log[3].Place != 3 || log[3].seq != 0 && log[3].Reading.Kind != "rest_voltage" {
		t.Errorf("goes on with %+v", log)
	}
	_, err = p.DownTo(ctx, 4)
	must(t, err)
	_, err = p.Up(ctx)
	must(t, err)
}

// A clock that jumps back reverses no history: the log stays in the order of saving,
// and no job is closed before it was opened.
func TestClockJumpsBack(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	now := s.now()
	var want []string
	var last string
	for i, back := range []time.Duration{0, time.Hour, 48 * time.Hour, 24 * time.Hour} {
		s.Store.now = func() time.Time { return now.Add(-back) }
		r := s.volts(j.ID, 12+0.1*float64(i))
		if i >= 2 {
			r.Replaces = last
		}
		must(t, s.AddReading(s.ctx, s.ws.ID, r))
		want, last = append(want, r.ID), r.ID
	}
	var got []string
	for _, r := range s.log(t, j.ID) {
		got = append(got, r.ID)
	}
	if !slices.Equal(got, want) {
		t.Errorf("saved as %v, read as %v", want, got)
	}
	if live := InEffect(s.log(t, j.ID)); len(live) != 2 || live[1].ID != last {
		t.Errorf("in effect %+v", live)
	}
	must(t, s.CloseJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, j.ID, Closing{At: now.Add(-48 * time.Hour)}))
	if got, err := s.Job(s.ctx, s.ws.ID, j.ID); err != nil || got.ClosedAt.Before(got.OpenedAt) {
		t.Errorf("opened %s, closed %v, %v", got.OpenedAt, got.ClosedAt, err)
	}
}

// Nothing is cut: pages put together are the whole list, each job once, with its count.
func TestPages(t *testing.T) {
	s := newShop(t)
	for i := range 7 {
		j := s.opened(t, fmt.Sprintf("K-%04d", i))
		if i%2 == 0 {
			must(t, s.CloseJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, j.ID, Closing{At: s.now()}))
		}
	}
	for _, c := range []struct {
		closed bool
		find   string
		most   int
		tags   string
	}{
		{false, "", 2, "K-0005 K-0003 K-0001"}, {true, "", 3, "K-0006 K-0004 K-0002 K-0000"}, {true, "", 4,
			"K-0006 K-0004 K-0002 K-0000"},
		{true, "k-0004", 1, "K-0004"}, {true, "mower", 1, "K-0006 K-0004 K-0002 K-0000"}, {false, "nobody", 5, ""},
	} {
		var got []string
		for from := 0; ; from += c.most {
			jobs, all, err := s.Jobs(s.ctx, s.ws.ID, c.closed, c.find, Page{From: from, Most: c.most})
			must(t, err)
			if all != len(strings.Fields(c.tags)) || len(jobs) > c.most {
				t.Errorf("%+v from %d: %d of %d", c, from, len(jobs), all)
			}
			if len(jobs) == 0 {
				break
			}
			for _, j := range jobs {
				got = append(got, j.Battery.Tag)
			}
		}
		if strings.Join(got, " ") != c.tags {
			t.Errorf("%+v: %v", c, got)
		}
	}
	if last, err := s.LastOpened(s.ctx, s.ws.ID); err != nil || last.Battery.Tag != "K-0005" {
		t.Errorf("opened last %s, %v", last.Battery.Tag, err)
	}
	if _, err := s.join(t, "Other").LastOpened(s.ctx, id()); !errors.Is(err, ErrNotFound) {
		t.Errorf("in an empty shop: %v", err)
	}
	if more, err := s.JobsOf(s.ctx, s.ws.ID); err != nil || len(more) != 0 {
		t.Errorf("of no ids: %v %v", more, err)
	}
}

// What another copy of the program changes is found at once: opened, renamed, closed.
func TestFoundAcrossCopies(t *testing.T) {
	s := newShop(t)
	other, err := Open(s.ctx, s.dsn)
	must(t, err)
	defer func() { _ = other.Close() }()
	find := func(closed bool, what string) int {
		jobs, all, err := other.Jobs(s.ctx, s.ws.ID, closed, what, Page{Most: 9})
		must(t, err)
		if all != len(jobs) {
			t.Errorf("%d of %d", len(jobs), all)
		}
		return all
	}
	j := s.opened(t, "K-0001")
	by := Actor{ID: s.person.ID}
	if find(false, "parks") != 1 {
		t.Error("an opened job is not found")
	}
	j.Version, j.Customer = 1, "Hall"
	must(t, s.ChangeJob(s.ctx, s.ws.ID, by, j))
	if find(false, "parks") != 0 || find(false, "HALL") != 1 {
		t.Error("a renamed job is not found as it is called now")
	}
	must(t, s.CloseJob(s.ctx, s.ws.ID, by, j.ID, Closing{At: s.now()}))
	if find(false, "hall") != 0 || find(true, "hall") != 1 {
		t.Error("a closed job is found among the open ones")
	}
	// A clock that was an hour ahead when it changed something hides nothing from then on.
	now := s.now()
	s.Store.now = func() time.Time { return now.Add(time.Hour) }
	s.opened(t, "K-0002")
	s.Store.now = func() time.Time { return now }
	if find(false, "k-0002") != 1 {
		t.Error("a job from the hour to come is not found")
	}
	s.opened(t, "K-0003")
	if find(false, "k-0003") != 1 {
		t.Error("a job opened after one from the hour to come is not found")
	}
	if shop, err := other.finder.of(s.ctx, other, s.ws.ID); err != nil || len(shop.jobs) != 3 {
		t.Errorf("%+v, %v", shop, err)
	}
}

// A job's readings are reached by the job, whatever the database reckons: by the person
// who took them it would read all that one ever took. Its statistics are of the shop's
// first day, when each of three people took one reading of one battery.
func TestReadingsByTheirJob(t *testing.T) {
	s := newShop(t)
	a := s.opened(t, "K-0001")
	for i := range 3 {
		p := Person{ID: id(), WorkshopID: s.ws.ID, Name: fmt.Sprint("Somebody ", i), Role: Technician, Passphrase: "x"}
		must(t, s.AddPerson(s.ctx, Actor{}, p))
		r := s.volts(a.ID, 12.4)
		r.ByID = p.ID
		must(t, s.AddReading(s.ctx, s.ws.ID, r))
	}
	for _, q := range []string{`ALTER TABLE reading STATS_AUTO_RECALC = 0`, `ANALYZE TABLE reading`} {
		_, err := s.db.Exec(q)
		must(t, err)
	}
	for i := range 30 {
		a = s.opened(t, fmt.Sprintf("K-%04d", i+2))
		for range 10 {
			must(t, s.AddReading(s.ctx, s.ws.ID, s.volts(a.ID, 12.4)))
		}
	}
	// All on one connection, whose count of rows read is its own.
	s.db.SetMaxOpenConns(1)
	read := func() (n int) {
		var name string
		rows, err := s.db.Query(`SHOW SESSION STATUS LIKE 'Handler_read%'`)
		must(t, err)
		must(t, each(rows, func() error {
			var one int
			err := rows.Scan(&name, &one)
			n += one
			return err
		}))
		return n
	}
	for what, ask := range map[string]func() error{
		"a sheet's readings": func() error { _, err := s.Readings(s.ctx, s.ws.ID, a.ID); return err },
		"a sheet's job":      func() error { _, err := s.Job(s.ctx, s.ws.ID, a.ID); return err },
		"a sheet's rest":     func() error { _, err := s.RunningRest(s.ctx, s.ws.ID, a.ID); return err },
		"the clock's rests":  func() error { _, err := s.RunningRests(s.ctx, s.ws.ID); return err },
		"the next tag":       func() error { _, err := s.NextTag(s.ctx, s.ws.ID); return err },
		"the last job":       func() error { _, err := s.LastOpened(s.ctx, s.ws.ID); return err },
	} {
		must(t, ask()) // opens the tables
		start := read()
		looking := read() - start // takes some itself
		must(t, ask())
		n := read() - start - 2*looking
		if n > 60 {
			t.Errorf("%s: %d rows read", what, n)
		}
	}
}

// The label of another battery is not replaced unless somebody says that it is the
// same; of the job's own battery it may be corrected.
func TestLabelsAreNotReplaced(t *testing.T) {
	s := newShop(t)
	a, b := s.opened(t, "K-0001"), s.opened(t, "K-0002")
	cca := 230.0
	weaker := s.job("k-0001")
	weaker.Battery.Rating.CCA = &cca
	if err := s.AddJob(s.ctx, s.ws.ID, weaker, nil); !errors.Is(err, ErrLabel) {
		t.Errorf("another label on a new job: %v", err)
	}
	if known, _ := s.BatteryTagged(s.ctx, s.ws.ID, "K-0001"); *known.Rating.CCA != 300 {
		t.Errorf("the label now says %g", *known.Rating.CCA)
	}
	b.Version, b.Battery = 1, weaker.Battery
	by := Actor{ID: s.person.ID}
	if err := s.ChangeJob(s.ctx, s.ws.ID, by, b); !errors.Is(err, ErrLabel) {
		t.Errorf("a job that moves to another battery: %v", err)
	}
	a.Version, a.Battery = 1, weaker.Battery
	must(t, s.ChangeJob(s.ctx, s.ws.ID, by, a)) // of its own battery
	if known, _ := s.BatteryTagged(s.ctx, s.ws.ID, "K-0001"); *known.Rating.CCA != 230 {
		t.Errorf("corrected to %g", *known.Rating.CCA)
	}
	other := s.job("K-0001")
	other.SameBattery = true
	must(t, s.AddJob(s.ctx, s.ws.ID, other, nil))
	if known, _ := s.BatteryTagged(s.ctx, s.ws.ID, "K-0001"); *known.Rating.CCA != 300 {
		t.Errorf("said to be the same, it says %g", *known.Rating.CCA)
	}
}

// Capitals do not tell tags apart; accents do.
func TestTagsAreToldApart(t *testing.T) {
	s := newShop(t)
	for _, tag := range []string{"CAFE", "Caf\u00e9", "cafe", "CAF\u00c9", "CAFE 2"} {
		j := s.job(tag)
		j.SameBattery = true
		must(t, s.AddJob(s.ctx, s.ws.ID, j, nil))
	}
	all, err := s.Batteries(s.ctx, s.ws.ID, "")
	must(t, err)
	var jobs []int
	for _, b := range all {
		jobs = append(jobs, len(b.Jobs))
	}
	if len(all) != 3 || slices.Max(jobs) != 2 {
		t.Errorf("%d batteries with %v jobs", len(all), jobs)
	}
	if found, _, err := s.Jobs(s.ctx, s.ws.ID, false, "caf\u00c9", Page{Most: 9}); err != nil || len(found) != 5 {
		t.Errorf("looked for without minding accents: %d, %v", len(found), err)
	}
	for _, tag := range []string{"K-0007", "k-0012", "K-9", "X-0099", "K-0099a", "K-1234567890", "K--5"} {
		must(t, s.AddJob(s.ctx, s.ws.ID, s.job(tag), nil))
	}
	if next, err := s.NextTag(s.ctx, s.ws.ID); err != nil || next != "K-0013" {
		t.Errorf("next tag %s, %v", next, err)
	}
}

// A closed job takes corrections only, and those by a lead.
func TestClosedJobs(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	old := s.volts(j.ID, 12.4)
	must(t, s.AddReading(s.ctx, s.ws.ID, old))
	by := Actor{ID: s.person.ID}
	must(t, s.CloseJob(s.ctx, s.ws.ID, by, j.ID, Closing{At: s.now()}))
	must(t, s.AddReading(s.ctx, s.ws.ID, old)) // a repeat
	fix := s.volts(j.ID, 12.6)
	fix.Replaces = old.ID
	j.Version = 1
	for what, refused := range map[string]func() error{
		"a reading": func() error { return s.AddReading(s.ctx, s.ws.ID, s.volts(j.ID, 12.5)) },
		"a reading by a lead": func() error {
			r := s.volts(j.ID, 12.5)
			r.ByLead = true
			return s.AddReading(s.ctx,
				s.ws.ID, r)
		},
		"a technician's fix":    func() error { return s.AddReading(s.ctx, s.ws.ID, fix) },
		"a rest":                func() error { return s.AddRest(s.ctx, s.ws.ID, s.rest(j.ID)) },
		"a technician's detail": func() error { j.Customer = "x"; return s.ChangeJob(s.ctx, s.ws.ID, by, j) },
	} {
		if err := refused(); !errors.Is(err, ErrClosed) {
			t.Errorf("%s: %v", what, err)
		}
	}
	fix.ByLead = true
	must(t, s.AddReading(s.ctx, s.ws.ID, fix))
	j.Customer = "corrected"
	must(t, s.ChangeJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID, Lead: true}, j))
	if log := s.log(t, j.ID); len(log) != 2 || log[1].Reading.Or("volts", 0) != 12.6 {
		t.Errorf("%+v", log)
	}
	must(t, s.ReopenJob(s.ctx, s.ws.ID, by, j.ID))
	must(t, s.AddReading(s.ctx, s.ws.ID, s.volts(j.ID, 12.5)))
}

// Every change stands in the history with who, when and what, before and after; a
// repeat does not, and a change that failed does not.
func TestHistory(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	other := s.opened(t, "K-0002")
	by := Actor{ID: s.person.ID}
	j.Version, j.Customer = 1, "Hall"
	for range 2 {
		must(t, s.ChangeJob(s.ctx, s.ws.ID, by, j))
		must(t, s.SetTwin(s.ctx, s.ws.ID, by, "K-0001", "K-0002"))
		must(t, s.CloseJob(s.ctx, s.ws.ID, by, j.ID, Closing{At: s.now()}))
	}
	must(t, s.ReopenJob(s.ctx, s.ws.ID, by, j.ID))
	must(t, s.ReopenJob(s.ctx, s.ws.ID, by, j.ID))
	must(t, s.SetClimate(s.ctx, s.ws.ID, by, [12]float64{}, nil))
	j.Version = 7
	if err := s.ChangeJob(s.ctx, s.ws.ID, by, j); !errors.Is(err, ErrChanged) {
		t.Errorf("stale: %v", err)
	}
	got, all, err := s.History(s.ctx, s.ws.ID, HistoryOf{Changes: true, SignIns: true}, Page{Most: 100})
	must(t, err)
	var what []string
	for _, c := range got {
		what = append(what, c.What+" "+c.About)
		if c.By != s.person.Name && c.What != PersonAdded || c.At.IsZero() {
			t.Errorf("%+v", c)
		}
	}
	if want := "lows_set , job_reopened K-0001, job_closed K-0001, twin_set K-0001, job_details K-0001, job_opened K-0002, job_opened K-0001, person_added First person"; strings.Join(
		what,
		", ",
	) != want ||
		all != 8 {
		t.Errorf("%d: %s", all, strings.Join(what, ", "))
	}
	if c := got[4]; !strings.Contains(string(c.Was), `"customer":"Parks"`) ||
		!strings.Contains(string(c.Became), `"customer":"Hall"`) {
		t.Errorf("from %s to %s", c.Was, c.Became)
	}
	if part, all, err := s.History(s.ctx, s.ws.ID, HistoryOf{JobID: other.ID, Changes: true},
		Page{From: 0, Most: 5}); err != nil ||
		all != 1 ||
		len(part) != 1 ||
		part[0].JobID != other.ID {
		t.Errorf("of the other job: %+v, %v", part, err)
	}
	if part, _, err := s.History(s.ctx, s.ws.ID, HistoryOf{Changes: true, SignIns: true}, Page{From: 7, Most: 5}); err != nil ||
		len(part) != 1 {
		t.Errorf("its end: %+v, %v", part, err)
	}
	must(t, s.SignInFailed(s.ctx, s.person, "192.0.2.1", "passphrase"))
	for of, want := range map[HistoryOf]int{{Changes: true}: 8, {SignIns: true}: 1, {Changes: true, SignIns: true}: 9, {}: 0} {
		if part, all, err := s.History(s.ctx, s.ws.ID, of, Page{Most: 100}); err != nil || all != want || len(part) != want {
			t.Errorf("%+v: %d of %d, %v", of, len(part), all, err)
		}
	}
	if part, _, err := s.join(t, "Other").History(s.ctx, id(), HistoryOf{Changes: true}, Page{Most: 5}); err != nil ||
		len(part) != 0 {
		t.Errorf("another shop's: %+v, %v", part, err)
	}
}

// What became of a change whose database failed is said: nothing was saved while the
// commit was not asked for, and nobody knows once its answer was lost.
func TestSavedOrNot(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	for _, own := range []error{ErrTaken, ErrChanged, ErrClosed, ErrLabel, ErrNotFound} {
		if err := failed(own, false); err != own {
			t.Errorf("%v became %v", own, err)
		}
	}
	must(t, s.db.Close())
	if err := s.AddReading(s.ctx, s.ws.ID, s.volts(j.ID, 12.4)); !errors.Is(err, ErrUnsaved) || errors.Is(err, ErrUnsure) {
		t.Errorf("without a database: %v", err)
	}
}

var errLost = errors.New("the answer was lost")

// losing is a connection on which a commit arrives and its answer does not.
type losing struct {
	net.Conn
	lost bool
}

func (c *losing) Write(b []byte) (int, error) {
	c.lost = c.lost || strings.Contains(string(b), "COMMIT")
	return c.Conn.Write(b)
}

func (c *losing) Read(b []byte) (int, error) {
	n, err := c.Conn.Read(b)
	if c.lost {
		return 0, errLost
	}
	return n, err
}

// A reading whose commit was not answered may be saved, and is said to be; the same id
// finds out.
func TestCommitWithoutAnswer(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	cfg, err := mysql.ParseDSN(s.dsn)
	must(t, err)
	mysql.RegisterDialContext("losing", func(ctx context.Context, addr string) (net.Conn, error) {
		c, err := new(net.Dialer).DialContext(ctx, cfg.Net, cfg.Addr)
		return &losing{Conn: c}, err
	})
	lossy := *cfg
	lossy.Net = "losing"
	far, err := Open(s.ctx, lossy.FormatDSN())
	must(t, err)
	t.Cleanup(func() { _ = far.Close() })
	r := s.volts(j.ID, 12.4)
	if err := far.AddReading(s.ctx, s.ws.ID, r); !errors.Is(err, ErrUnsure) || errors.Is(err, ErrUnsaved) {
		t.Errorf("an answer lost: %v", err)
	}
	must(t, s.AddReading(s.ctx, s.ws.ID, r))
	if log := s.log(t, j.ID); len(log) != 1 {
		t.Errorf("%d readings", len(log))
	}
}
