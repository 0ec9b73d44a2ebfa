package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"path/filepath"
	"reflect"
	"sync"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/internal/fatal"
	"grapnel/internal/localdb"
	"grapnel/internal/localdb/dbtest"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

func id() string { return dbtest.ID() }

// shop is one workshop with one person in a database of its own.
type shop struct {
	*Store
	ctx    context.Context
	dsn    string
	ws     Workshop
	person Person
}

func newShop(t *testing.T) shop {
	t.Helper()
	ctx := context.Background()
	dsn := dbtest.Like(t, func(dsn string) {
		s, err := Open(ctx, dsn)
		must(t, err)
		must(t, s.Migrate(ctx))
		must(t, s.Close())
	})
	s, err := Open(ctx, dsn)
	must(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return shop{Store: s, ctx: ctx, dsn: dsn}.join(t, "First")
}

// join adds a workshop with one person to the same database.
func (s shop) join(t *testing.T, name string) shop {
	t.Helper()
	s.ws = Workshop{ID: id(), Name: name, TagPrefix: "K", Rules: rules.Default()}
	s.person = Person{ID: id(), WorkshopID: s.ws.ID, Name: name + " person", Role: Technician, Passphrase: "x"}
	must(t, s.AddWorkshop(s.ctx, s.ws))
	must(t, s.AddPerson(s.ctx, Actor{}, s.person))
	return s
}

var must = fatal.On

func (s shop) job(tag string) Job {
	cca := 300.0
	return Job{ID: id(), Vehicle: reading.Vehicle{Class: "mower", Name: "Mower " + tag, SystemVolts: 12},
		Battery: reading.Battery{Tag: tag, Chemistry: battery.Flooded,
			Rating: reading.Rating{CCA: &cca, Standard: "SAE"}},
		Customer: "Parks", Complaint: []string{"slow_crank"}, Rules: rules.Default(), OpenedByID: s.person.ID}
}

func (s shop) volts(jobID string, v float64) StoredReading {
	return StoredReading{JobID: jobID, ByID: s.person.ID, EndsRest: true,
		Entry: reading.Entry{ID: id(), Reading: reading.Of("rest_voltage", reading.Fields{"volts": v})}}
}

// rest is an hour's rest from now on.
func (s shop) rest(jobID string) Rest {
	now := s.now()
	return Rest{ID: id(), JobID: jobID, StartsAt: now, EndsAt: now.Add(time.Hour), ByID: s.person.ID}
}

// opened is a job that has been opened.
func (s shop) opened(t *testing.T, tag string) Job {
	t.Helper()
	j := s.job(tag)
	must(t, s.AddJob(s.ctx, s.ws.ID, j, nil))
	return j
}

// log gives the readings of a job as they are stored.
func (s shop) log(t *testing.T, jobID string) []StoredReading {
	t.Helper()
	rs, err := s.Readings(s.ctx, s.ws.ID, jobID)
	must(t, err)
	return rs[jobID]
}

func TestMigrationsUpFromEmptyAndAgain(t *testing.T) {
	s := newShop(t)
	must(t, s.Migrate(s.ctx))
	rows, err := s.db.Query(
		`SELECT table_name FROM information_schema.tables t WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE'
		AND NOT EXISTS (SELECT 1 FROM information_schema.table_constraints c WHERE c.table_schema = t.table_schema AND c.table_name = t.table_name AND c.constraint_type = 'PRIMARY KEY')`,
	)
	must(t, err)
	defer func() { _ = rows.Close() }()
	for rows.Next() {
		var name string
		must(t, rows.Scan(&name))
		t.Errorf("table %s has no primary key", name)
	}
}

func TestJobRoundTrip(t *testing.T) {
	s := newShop(t)
	want := s.job("K-0001")
	amb := 6.5
	want.Conditions.AmbientC, want.Note = &amb, "since the frost"
	must(t, s.AddJob(s.ctx, s.ws.ID, want, []StoredReading{s.volts("", 12.24)}))
	got, err := s.Job(s.ctx, s.ws.ID, want.ID)
	must(t, err)
	if got.Vehicle.Name != want.Vehicle.Name || *got.Battery.Rating.CCA != 300 || got.Note != want.Note ||
		*got.Conditions.AmbientC != 6.5 || got.OpenedBy != s.person.Name || got.Complaint[0] != "slow_crank" ||
		!reflect.DeepEqual(got.Rules, want.Rules) {
		t.Errorf("read back %+v", got)
	}
	rs := s.log(t, want.ID)
	if len(rs) != 1 || rs[0].Reading.Or("volts", 0) != 12.24 {
		t.Errorf("readings %+v", rs)
	}
	var exact string
	must(t, s.db.QueryRow(`SELECT CAST(volts AS CHAR) FROM reading`).Scan(&exact))
	if exact != "12.240" {
		t.Errorf("the decimal column holds %s", exact)
	}
}

// The same create twice is one row; the same id for something else is refused.
func TestCreatesAreRepeatable(t *testing.T) {
	s := newShop(t)
	j := s.job("K-0001")
	r := s.volts(j.ID, 12.4)
	rest := s.rest(j.ID)
	for range 3 {
		must(t, s.AddJob(s.ctx, s.ws.ID, j, nil))
		must(t, s.AddReading(s.ctx, s.ws.ID, r))
		must(t, s.AddRest(s.ctx, s.ws.ID, rest))
	}
	rs := s.log(t, j.ID)
	if n, _ := s.CountJobs(s.ctx, s.ws.ID); n != 1 || len(rs) != 1 {
		t.Errorf("%d jobs, %d readings", n, len(rs))
	}
	if err := s.AddPerson(s.ctx, Actor{}, Person{ID: id(), WorkshopID: s.ws.ID, Name: s.person.Name, Role: Lead}); !errors.Is(err,
		ErrTaken) {
		t.Errorf("a name twice: %v", err)
	}
	other := j
	other.Customer = "somebody else"
	if err := s.AddJob(s.ctx, s.ws.ID, other, nil); !errors.Is(err, ErrTaken) {
		t.Errorf("same id, other job: %v", err)
	}
	clash := r
	clash.Reading = clash.Reading.With("volts", 12.9)
	if err := s.AddReading(s.ctx, s.ws.ID, clash); !errors.Is(err, ErrTaken) {
		t.Errorf("same id, other reading: %v", err)
	}
}

// Twenty double taps at once still make one row each, in distinct places.
func TestConcurrentSaves(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	var wg sync.WaitGroup
	for i := range 20 {
		r := s.volts(j.ID, 12+float64(i)/100)
		for range 2 {
			wg.Add(1)
			go func() {
				defer wg.Done()
				if err := s.AddReading(s.ctx, s.ws.ID, r); err != nil {
					t.Error(err)
				}
			}()
		}
	}
	wg.Wait()
	rs := s.log(t, j.ID)
	places := map[int]bool{}
	for _, r := range rs {
		places[r.Place] = true
	}
	if len(rs) != 20 || len(places) != 20 {
		t.Errorf("%d rows in %d places", len(rs), len(places))
	}
}

func TestCorrections(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	first, second := s.volts(j.ID, 12.0), s.volts(j.ID, 12.5)
	must(t, s.AddReading(s.ctx, s.ws.ID, first))
	must(t, s.AddReading(s.ctx, s.ws.ID, second))
	fix := s.volts(j.ID, 12.1)
	fix.Replaces = first.ID
	must(t, s.AddReading(s.ctx, s.ws.ID, fix))
	again := s.volts(j.ID, 12.2)
	again.Replaces = first.ID
	if err := s.AddReading(s.ctx, s.ws.ID, again); !errors.Is(err, ErrChanged) {
		t.Errorf("correcting what is already corrected: %v", err)
	}
	lost := s.volts(j.ID, 12.2)
	lost.Replaces = id()
	if err := s.AddReading(s.ctx, s.ws.ID, lost); !errors.Is(err, ErrNotFound) {
		t.Errorf("correcting nothing: %v", err)
	}
	rs := s.log(t, j.ID)
	now := InEffect(rs)
	if len(rs) != 3 || len(now) != 2 || now[0].Reading.Or("volts", 0) != 12.1 ||
		now[1].Reading.Or("volts", 0) != 12.5 {
		t.Errorf("history %d, in effect %+v", len(rs), now)
	}
	for _, r := range rs {
		if r.ID == first.ID && r.Reading.Or("volts", 0) != 12.0 {
			t.Error("the corrected reading itself changed")
		}
	}
}

// Nothing of one workshop can be read, changed or added to from another, even
// by somebody who knows the ids.
func TestWorkshopsAreIsolated(t *testing.T) {
	a := newShop(t)
	b := a.join(t, "Second")
	j := a.job("K-0001")
	must(t, a.AddJob(a.ctx, a.ws.ID, j, []StoredReading{a.volts("", 12.4)}))
	must(t, a.AddRest(a.ctx, a.ws.ID, a.rest(j.ID)))

	if _, err := b.Job(b.ctx, b.ws.ID, j.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("read: %v", err)
	}
	if jobs, _, _ := b.Jobs(b.ctx, b.ws.ID, false, "", Page{Most: 100}); len(jobs) != 0 {
		t.Errorf("listed %d", len(jobs))
	}
	if rs, _ := b.Readings(b.ctx, b.ws.ID, j.ID); len(rs) != 0 {
		t.Errorf("readings %v", rs)
	}
	if rests, _ := b.RunningRests(b.ctx, b.ws.ID); len(rests) != 0 {
		t.Errorf("rests %v", rests)
	}
	if err := b.AddReading(b.ctx, b.ws.ID, b.volts(j.ID, 11)); !errors.Is(err, ErrNotFound) {
		t.Errorf("add reading: %v", err)
	}
	if err := b.AddRest(b.ctx, b.ws.ID, b.rest(j.ID)); !errors.Is(err, ErrNotFound) {
		t.Errorf("add rest: %v", err)
	}
	if err := b.CloseJob(b.ctx, b.ws.ID, Actor{ID: b.person.ID}, j.ID, Closing{At: b.now()}); !errors.Is(err, ErrNotFound) {
		t.Errorf("close: %v", err)
	}
	stolen := j
	stolen.Version = 1
	if err := b.ChangeJob(b.ctx, b.ws.ID, Actor{ID: b.person.ID}, stolen); !errors.Is(err, ErrNotFound) {
		t.Errorf("change: %v", err)
	}
	if _, err := b.BatteryTagged(b.ctx, b.ws.ID, "K-0001"); err == nil {
		// ChangeJob above rolled back whole, so the tag is unknown here.
		t.Error("the other workshop's battery was found by tag")
	}
	got, err := a.Job(a.ctx, a.ws.ID, j.ID)
	must(t, err)
	if got.ClosedAt != nil || got.Version != 1 {
		t.Errorf("the job was touched: %+v", got)
	}
	// The same client-made id in both workshops is two jobs.
	mine := b.job("K-0001")
	mine.ID = j.ID
	must(t, b.AddJob(b.ctx, b.ws.ID, mine, nil))
}

func TestFindAndClose(t *testing.T) {
	s := newShop(t)
	for _, tag := range []string{"K-0001", "K-0002", "K_0003"} {
		must(t, s.AddJob(s.ctx, s.ws.ID, s.job(tag), nil))
	}
	// Words stand apart where each has three letters; with a shorter one they are a phrase.
	for find, want := range map[string]int{"": 3, "0002": 1, "parks": 3, "mower k-0001": 1, "K_": 1, "%": 0,
		"nobody": 0, "parks 001": 1, "parks 01": 0, "er k-0001": 1} {
		jobs, _, err := s.Jobs(s.ctx, s.ws.ID, false, find, Page{Most: 100})
		must(t, err)
		if len(jobs) != want {
			t.Errorf("find %q: %d jobs, want %d", find, len(jobs), want)
		}
	}
	jobs, _, _ := s.Jobs(s.ctx, s.ws.ID, false, "0001", Page{Most: 100})
	for range 2 {
		must(t, s.CloseJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, jobs[0].ID, Closing{At: s.now()}))
	}
	more, _, _ := s.Jobs(s.ctx, s.ws.ID, false, "0002", Page{Most: 100})
	must(t, s.CloseJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, more[0].ID, Closing{At: s.now().Add(time.Minute)}))
	closed, _, _ := s.Jobs(s.ctx, s.ws.ID, true, "", Page{Most: 100})
	if len(closed) != 2 || closed[0].ID != more[0].ID || closed[1].ClosedBy != s.person.Name {
		t.Errorf("closed, the last first: %+v", closed)
	}
	must(t, s.ReopenJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, jobs[0].ID))
	must(t, s.ReopenJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, more[0].ID))
	if open, _, _ := s.Jobs(s.ctx, s.ws.ID, false, "", Page{Most: 100}); len(open) != 3 {
		t.Errorf("%d open after reopening", len(open))
	}
	var wg sync.WaitGroup
	for range 6 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			if err := s.AddJob(s.ctx, s.ws.ID, s.job(""), nil); err != nil {
				t.Error(err)
			}
		}()
	}
	wg.Wait()
	if tag, err := s.NextTag(s.ctx, s.ws.ID); err != nil || tag != "K-0009" {
		t.Errorf("next tag after six untagged jobs at once: %q %v", tag, err)
	}
}

func TestLateChangeIsRefused(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	j.Version, j.Customer = 1, "first"
	must(t, s.ChangeJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, j))
	j.Customer = "second, from a stale sheet"
	if err := s.ChangeJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, j); !errors.Is(err, ErrChanged) {
		t.Errorf("stale change: %v", err)
	}
	w, err := s.Workshop(s.ctx, s.ws.ID)
	must(t, err)
	w.Rules.LoadTestMinSOC = 65
	must(t, s.SetRules(s.ctx, w.ID, s.person.ID, w.Rules, w.RulesVersion))
	must(t, s.SetRules(s.ctx, w.ID, s.person.ID, w.Rules, w.RulesVersion)) // a repeat
	w.Rules.LoadTestMinSOC = 70
	if err := s.SetRules(s.ctx, w.ID, s.person.ID, w.Rules, w.RulesVersion); !errors.Is(err, ErrChanged) {
		t.Errorf("stale rules: %v", err)
	}
	w.Rules = w.Rules.Set(rules.DrainMax, "boat", rules.School{Number: 40})
	must(t, s.SetRules(s.ctx, w.ID, s.person.ID, w.Rules, w.RulesVersion+1))
	if all, err := s.RulesChanges(s.ctx, w.ID, 10); err != nil || len(all) != 2 || all[0].By == "" || all[1].Was.LoadTestMinSOC != 75 ||
		all[1].Became.LoadTestMinSOC != 65 || all[0].Became.For("boat").DrainMax != 40 ||
		all[0].Was.For("boat").DrainMax != 30 {
		t.Errorf("changes on record: %+v %v", all, err)
	}
	if all, _ := s.RulesChanges(s.ctx, w.ID, 1); len(all) != 1 || all[0].Became.For("boat").DrainMax != 40 {
		t.Errorf("the last change: %+v", all)
	}
	if got, _ := s.Job(s.ctx, s.ws.ID, j.ID); got.Rules.LoadTestMinSOC != 75 {
		t.Error("an open job took the new rules")
	}
}

// One rest runs on a battery at a time; its id stands for its length; it ends by
// hand, or when the battery is handed over.
func TestOneRestAtATime(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	start := s.now()
	rest := func(hours time.Duration) Rest {
		return Rest{ID: id(), JobID: j.ID, StartsAt: start, EndsAt: start.Add(hours * time.Hour), ByID: s.person.ID}
	}
	running := func() (n int) {
		must(t, s.db.QueryRow(`SELECT COUNT(*) FROM rest WHERE ended_at IS NULL`).Scan(&n))
		return n
	}
	one := rest(1)
	must(t, s.AddRest(s.ctx, s.ws.ID, one))
	one.EndsAt = one.EndsAt.Add(time.Minute)
	if err := s.AddRest(s.ctx, s.ws.ID, one); !errors.Is(err, ErrTaken) {
		t.Errorf("the same id for a minute more: %v", err)
	}
	must(t, s.AddRest(s.ctx, s.ws.ID, rest(2)))
	rests, err := s.RunningRests(s.ctx, s.ws.ID)
	must(t, err)
	if r := rests[j.ID]; running() != 1 || r.EndsAt.Sub(r.StartsAt) != 2*time.Hour {
		t.Errorf("%d run: %+v", running(), rests)
	}
	for _, c := range []struct {
		name string
		end  func() error
	}{
		{"ended", func() error { return s.EndRests(s.ctx, s.ws.ID, j.ID) }},
		{"handed over", func() error { return s.CloseJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, j.ID, Closing{At: s.now()}) }},
	} {
		must(t, s.AddRest(s.ctx, s.ws.ID, rest(3)))
		if must(t, c.end()); running() != 0 {
			t.Errorf("%s: %d still run", c.name, running())
		}
	}
	if err := s.AddRest(s.ctx, s.ws.ID, rest(3)); !errors.Is(err, ErrClosed) {
		t.Errorf("a rest of a job that is handed over: %v", err)
	}
}

// Connections killed under way lose no write and double none.
func TestKilledConnections(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	dsn, err := dbtest.Server().Database(s.ctx, "mysql")
	must(t, err)
	killer, err := sql.Open("mysql", dsn)
	must(t, err)
	defer func() { _ = killer.Close() }()
	// Each write meets one kill, somewhere in its course: how often it is tried again
	// then does not depend on how fast the machine is.
	const n = 60
	kills, killed := make(chan time.Duration), 0
	var wg sync.WaitGroup
	wg.Add(1)
	go func() {
		defer wg.Done()
		for after := range kills {
			time.Sleep(after)
			var victim int
			err := killer.QueryRow(`SELECT id FROM information_schema.processlist
				WHERE id <> CONNECTION_ID() AND db LIKE 't\_%' ORDER BY RAND() LIMIT 1`).Scan(&victim)
			if err != nil {
				continue
			}
			if _, err := killer.Exec(fmt.Sprintf("KILL %d", victim)); err == nil {
				killed++
			}
		}
	}()
	for i := range n {
		kills <- time.Duration(i%12) * time.Millisecond
		must(t, s.AddReading(s.ctx, s.ws.ID, s.volts(j.ID, 12+float64(i)/100)))
	}
	close(kills)
	wg.Wait()
	rs := s.log(t, j.ID)
	if len(rs) != n {
		t.Errorf("%d rows for %d writes", len(rs), n)
	}
	if killed < n/2 {
		t.Error("too few connections were killed to show anything")
	}
}

// What was told saved is there after a kill -9 of MariaDB in the middle of
// writing, and writing goes on against the restarted server.
func TestKillOfTheDatabase(t *testing.T) {
	ctx := context.Background()
	dir := filepath.Join(t.TempDir(), "db")
	own, err := localdb.Start(ctx, dir)
	must(t, err)
	dsn, err := own.Database(ctx, "grapnel")
	must(t, err)
	st, err := Open(ctx, dsn)
	must(t, err)
	defer func() { _ = st.Close() }()
	must(t, st.Migrate(ctx))
	s := shop{Store: st, ctx: ctx}.join(t, "First")
	j := s.opened(t, "K-0001")
	told := make(chan string, 1000)
	finished := make(chan struct{})
	go func() {
		defer close(finished)
		for i := range 1000 {
			r := s.volts(j.ID, 12+float64(i%80)/100)
			if s.AddReading(ctx, s.ws.ID, r) != nil {
				return
			}
			told <- r.ID
		}
	}()
	for range 25 {
		<-told
	}
	saved := 25
	must(t, own.Kill())
	<-finished
	own, err = localdb.Start(ctx, dir)
	must(t, err)
	defer func() { _ = own.Kill() }()
	saved += len(told)
	rs := s.log(t, j.ID)
	if len(rs) < saved {
		t.Errorf("%d were told saved, %d are there", saved, len(rs))
	}
	must(t, s.AddReading(ctx, s.ws.ID, s.volts(j.ID, 12.6)))
}
