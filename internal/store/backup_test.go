package store

import (
	"bytes"
	"compress/gzip"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"io"
	"math/rand/v2"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"grapnel/core/cost"
	"grapnel/internal/localdb/dbtest"
)

func (s shop) backedUp(t testing.TB) ([]byte, BackedUp) {
	t.Helper()
	var out bytes.Buffer
	is, err := s.Backup(s.ctx, &out)
	must(t, err)
	return out.Bytes(), is
}

// readings are some rest voltages, to be added to a job.
func (s shop) readings(n int) []StoredReading {
	out := make([]StoredReading, n)
	for i := range out {
		out[i] = s.volts("", 12+float64(i)/100)
	}
	return out
}

func opener(raw []byte) func() (io.ReadCloser, error) {
	return func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(raw)), nil }
}

// empty opens a database that holds nothing.
func empty(t testing.TB) *Store {
	t.Helper()
	s, err := Open(context.Background(), dbtest.DSN(t))
	must(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}

const odd = "=odd \"text\"\nŁ漢😀"

var oddBytes = []byte{0, 255, 10, 13, 34, 92}

// filled is a shop with something in every table that a job fills.
func filled(t *testing.T) shop {
	t.Helper()
	s := newShop(t)
	for range 5 {
		j := s.job("")
		must(t, s.AddJob(s.ctx, s.ws.ID, j, s.readings(8)))
		must(t, s.AddNote(s.ctx, s.ws.ID, Note{ID: id(), JobID: j.ID, Text: odd, Shown: true, ByID: s.person.ID}))
		must(t, s.AddPhoto(s.ctx, s.ws.ID, Photo{ID: id(), JobID: j.ID, What: "label", Width: 3, Height: 2, ByID: s.person.ID},
			Image{JPEG: oddBytes, Small: []byte{1}, Source: []byte{2}}))
		e := Estimate{ID: id(), JobID: j.ID, Doc: cost.Estimate{Lines: []cost.EstimateLine{{Text: "Test", Count: 1, Cents: 1500}}, Currency: "€"},
			ByID: s.person.ID}
		must(t, s.AddEstimate(s.ctx, s.ws.ID, e))
		must(t, s.AnswerEstimate(s.ctx, s.ws.ID, j.ID, e.ID, Answer{ID: id(), Accepted: true, Name: "Anna", ByID: s.person.ID}))
	}
	return s
}

// What is restored is what was backed up, byte for byte. The bytes of a photo and the letters
// of a note come through.
func TestBackupAndRestore(t *testing.T) {
	t.Parallel()
	s := filled(t)
	raw, is := s.backedUp(t)
	if is.Rows < 60 || is.Tables < 20 {
		t.Fatalf("%+v", is)
	}
	to := empty(t)
	got, err := to.Restore(s.ctx, opener(raw), false)
	must(t, err)
	if got.Sum != is.Sum || got.Rows != is.Rows {
		t.Errorf("restored %+v of %+v", got, is)
	}
	var again bytes.Buffer
	is2, err := to.Backup(s.ctx, &again)
	must(t, err)
	if is2.Rows != is.Rows || payload(t, again.Bytes()) != payload(t, raw) {
		t.Errorf("backed up again: %+v, was %+v", is2, is)
	}
	must(t, to.Migrate(s.ctx)) // and serves
	jobs, err := to.AllJobs(s.ctx, s.ws.ID)
	must(t, err)
	notes, err := to.Notes(s.ctx, s.ws.ID, jobs[0].ID)
	must(t, err)
	photos, err := to.Photos(s.ctx, s.ws.ID, jobs[0].ID)
	must(t, err)
	jpeg, err := to.PhotoBytes(s.ctx, s.ws.ID, jobs[0].ID, photos[0].ID, false)
	must(t, err)
	if notes[jobs[0].ID][0].Text != odd || !bytes.Equal(jpeg, oddBytes) {
		t.Errorf("%+v %v", notes, jpeg)
	}
}

// payload is all of a backup but its head, which tells when it was made, and its tail.
func payload(t testing.TB, raw []byte) string {
	t.Helper()
	var out bytes.Buffer
	_, err := ReadBackup(bytes.NewReader(raw), nil, func(table backupTable, cells []any) error {
		out.WriteString(table.Name)
		for _, c := range cells {
			switch v := c.(type) {
			case nil:
				out.WriteString("\x00nil")
			case string:
				out.WriteString("\x00" + v)
			case []byte:
				out.WriteString("\x00b" + string(v))
			}
		}
		return nil
	})
	must(t, err)
	return out.String()
}

// While others write, a backup is of one moment: every job in it has the readings it counts,
// and all that was saved before it began is there.
func TestBackupWhileServing(t *testing.T) {
	t.Parallel()
	s := filled(t)
	var stop atomic.Bool
	var wrote atomic.Int64
	var all sync.WaitGroup
	for range 4 {
		all.Go(func() {
			for !stop.Load() {
				j := s.job("")
				if err := s.AddJob(s.ctx, s.ws.ID, j, s.readings(3)); err != nil {
					t.Error(err)
					return
				}
				for _, r := range s.readings(2) {
					r.JobID = j.ID
					if err := s.AddReading(s.ctx, s.ws.ID, r); err != nil {
						t.Error(err)
						return
					}
				}
				wrote.Add(1)
			}
		})
	}
	defer all.Wait()
	defer stop.Store(true)
	for wrote.Load() < 4 {
		time.Sleep(5 * time.Millisecond)
	}
	for range 5 {
		before := wrote.Load()
		raw, _ := s.backedUp(t)
		to := empty(t)
		_, err := to.Restore(s.ctx, opener(raw), false)
		must(t, err)
		var torn, jobs int
		must(t, to.db.QueryRowContext(s.ctx, `SELECT COUNT(*) FROM job j WHERE j.entries <>
			(SELECT COUNT(*) FROM reading r WHERE r.workshop_id = j.workshop_id AND r.job_id = j.id)`).Scan(&torn))
		must(t, to.db.QueryRowContext(s.ctx, `SELECT COUNT(*) FROM job`).Scan(&jobs))
		if torn > 0 || jobs < int(before)+5 {
			t.Errorf("%d jobs without all their readings; %d jobs, %d were there", torn, jobs, before+5)
		}
	}
}

// A file with any byte changed, cut off anywhere or with more after it changes nothing.
func TestDamagedBackup(t *testing.T) {
	t.Parallel()
	s := filled(t)
	raw, _ := s.backedUp(t)
	to := empty(t)
	good, err := to.Restore(s.ctx, opener(raw), false)
	must(t, err)
	rnd := rand.New(rand.NewPCG(16, 2))
	bad := map[string][]byte{"nothing": {}, "text": []byte("no backup\n"), "twice": append(bytes.Clone(raw), raw...), "more": append(bytes.Clone(raw), 'x')}
	for range 40 {
		one := bytes.Clone(raw)
		one[10+rnd.IntN(len(one)-10)] ^= byte(1 + rnd.IntN(255)) // the first ten say how it is packed, and when
		bad["changed "+id()] = one
		bad["cut "+id()] = raw[:rnd.IntN(len(raw))]
	}
	for name, one := range bad {
		if _, err := to.Restore(s.ctx, opener(one), true); !errors.Is(err, ErrDamaged) {
			t.Errorf("%s: %v", name, err)
		}
	}
	var after bytes.Buffer
	is, err := to.Backup(s.ctx, &after)
	must(t, err)
	if is.Rows != good.Rows || payload(t, after.Bytes()) != payload(t, raw) {
		t.Error("a damaged file has changed something")
	}
	// Nor does a good one where somebody works already.
	if _, err := to.Restore(s.ctx, opener(raw), false); !errors.Is(err, ErrOccupied) {
		t.Errorf("into a database with workshops: %v", err)
	}
}

// One whose packing is whole and whose lines are not is refused too.
func TestForgedBackup(t *testing.T) {
	t.Parallel()
	s := filled(t)
	raw, _ := s.backedUp(t)
	lines := unzipped(t, raw)
	for name, change := range map[string][2]string{
		"another figure":    {"12.01", "12.02"},
		"a column more":     {`"columns":["`, `"columns":["x","`},
		"a name that runs":  {`"name":"battery"`, "\"name\":\"bat`; DROP TABLE job; --\""},
		"tables in a mess":  {`{"table":"job"}`, `{"table":"note"}`},
		"another format":    {BackupFormat, "grapnel.backup/9"},
		"a row of no table": {`{"table":"battery"}` + "\n", ""},
	} {
		changed := bytes.Replace(lines, []byte(change[0]), []byte(change[1]), 1)
		if bytes.Equal(changed, lines) {
			t.Errorf("%s: nothing was changed", name)
			continue
		}
		if name != "another figure" { // even where somebody has made the sum fit
			changed = sealed(t, changed, false)
		} else {
			changed = sealed(t, changed, true)
		}
		if _, err := empty(t).Restore(s.ctx, opener(changed), false); !errors.Is(err, ErrDamaged) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// One made by an older Grapnel is brought up to date; one made by a newer is refused.
func TestBackupOfOtherVersions(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	old := empty(t)
	p, err := old.migrations()
	must(t, err)
	_, err = p.UpTo(ctx, 11)
	must(t, err)
	ws, by, job, battery := id(), id(), id(), id()
	for _, q := range []string{
		`INSERT INTO workshop (id, name, tag_prefix, rules, created_at) VALUES ('` + ws + `', 'Old', 'K', '{}', '2026-01-01')`,
		`INSERT INTO person (id, workshop_id, name, role, passphrase, created_at) VALUES ('` + by + `', '` + ws + `', 'Old hand', 'lead', 'x', '2026-01-01')`,
		`INSERT INTO battery (workshop_id, id, tag, label, updated_at) VALUES ('` + ws + `', '` + battery + `', 'K-1', '{"chemistry":"agm","tag":"K-1","rating":{}}', '2026-01-01')`,
		`INSERT INTO job (workshop_id, id, battery_id, vehicle, battery, customer, note, complaint, rules, fingerprint, opened_at, opened_by)
			VALUES ('` + ws + `', '` + job + `', '` + battery + `', '{"class":"car","name":"Van"}', '{"chemistry":"agm","tag":"K-1","rating":{}}', '', '', '[]', '{}', REPEAT('x', 32), '2026-01-01', '` + by + `')`,
	} {
		_, err := old.db.ExecContext(ctx, q)
		must(t, err)
	}
	var raw bytes.Buffer
	is, err := old.Backup(ctx, &raw)
	must(t, err)
	if is.Schema != 11 {
		t.Fatalf("%+v", is)
	}
	to := empty(t)
	_, err = to.Restore(ctx, opener(raw.Bytes()), false)
	must(t, err)
	j, err := to.Job(ctx, ws, job)
	must(t, err)
	notes, err := to.Notes(ctx, ws, job)
	if j.Vehicle.Name != "Van" || err != nil || len(notes) != 0 {
		t.Errorf("%+v %v", j, err)
	}
	if v, err := schemaOf(ctx, to.db); err != nil || v < 12 {
		t.Errorf("tables of version %d, %v", v, err)
	}
	newer := bytes.Replace(unzipped(t, raw.Bytes()), []byte(`"schema":11`), []byte(`"schema":999`), 1)
	if _, err := to.Restore(ctx, opener(sealed(t, newer, false)), true); !errors.Is(err, ErrNewer) {
		t.Errorf("a newer one: %v", err)
	}
}

// A restore that was broken off leaves a mark: nobody serves on it, and it can be run again.
func TestRestoreBrokenOff(t *testing.T) {
	t.Parallel()
	s := filled(t)
	raw, is := s.backedUp(t)
	to := empty(t)
	n := 0
	_, err := to.Restore(s.ctx, func() (io.ReadCloser, error) {
		if n++; n == 2 { // while it is poured in
			return nil, errors.New("the disk is gone")
		}
		return opener(raw)()
	}, false)
	if err == nil {
		t.Fatal("it went through")
	}
	if err := to.Migrate(s.ctx); !errors.Is(err, ErrRestoring) {
		t.Errorf("half a restore is served: %v", err)
	}
	got, err := to.Restore(s.ctx, opener(raw), false)
	if err != nil || got.Rows != is.Rows {
		t.Errorf("again: %+v %v", got, err)
	}
	must(t, to.Migrate(s.ctx))
}

// Where a server is at work nothing is restored.
func TestRestoreUnderAServer(t *testing.T) {
	t.Parallel()
	s := filled(t)
	raw, _ := s.backedUp(t)
	dsn := dbtest.DSN(t)
	serving, err := Open(s.ctx, dsn)
	must(t, err)
	must(t, serving.Migrate(s.ctx))
	other, err := Open(s.ctx, dsn)
	must(t, err)
	defer func() { _ = other.Close() }()
	if _, err := other.Restore(s.ctx, opener(raw), true); !errors.Is(err, ErrServing) {
		t.Errorf("%v", err)
	}
	must(t, serving.Close())
	if _, err := other.Restore(s.ctx, opener(raw), true); err != nil {
		t.Errorf("once it has stopped: %v", err)
	}
}

func unzipped(t *testing.T, raw []byte) []byte {
	t.Helper()
	z, err := gzip.NewReader(bytes.NewReader(raw))
	must(t, err)
	out, err := io.ReadAll(z)
	must(t, err)
	return out
}

// sealed packs lines as a backup again; with the sum they had where old says so, else with the
// one they have now.
func sealed(t *testing.T, lines []byte, old bool) []byte {
	t.Helper()
	body := lines[:bytes.LastIndexByte(lines[:len(lines)-1], '\n')+1]
	var tail backupTail
	must(t, json.Unmarshal(lines[len(body):], &tail))
	if !old {
		sum := sha256.Sum256(body)
		tail.Sum = hex.EncodeToString(sum[:])
	}
	end, err := json.Marshal(tail)
	must(t, err)
	var out bytes.Buffer
	z := gzip.NewWriter(&out)
	_, err = z.Write(append(append(bytes.Clone(body), end...), '\n'))
	must(t, err)
	must(t, z.Close())
	return out.Bytes()
}
