package store

import (
	"context"
	"database/sql"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"grapnel/core/words"
)

// findable is what a job is found by: its tag, vehicle and customer, folded.
func findable(j Job) string {
	text := words.Folded(j.Battery.Tag + " " + j.Vehicle.Name + " " + j.Customer)
	if all := []rune(text); len(all) > mostFind {
		return string(all[:mostFind])
	}
	return text
}

// mostFind is how much of it is kept; tag, vehicle and customer have 240 letters, and
// folding may take one apart.
const mostFind = 255

// fillFind makes old jobs findable.
func (s *Store) fillFind(ctx context.Context) error {
	for {
		rows, err := s.db.QueryContext(
			ctx,
			`SELECT workshop_id, id, vehicle, battery, customer FROM job WHERE find IS NULL LIMIT 500`,
		)
		if err != nil {
			return err
		}
		type row struct{ workshop, id, find string }
		var missing []row
		err = each(rows, func() error {
			var r row
			var j Job
			err := rows.Scan(&r.workshop, &r.id, asDoc(&j.Vehicle), asDoc(&j.Battery), &j.Customer)
			r.find = findable(j)
			missing = append(missing, r)
			return err
		})
		if err != nil || len(missing) == 0 {
			return err
		}
		for _, r := range missing {
			if _, err := s.db.ExecContext(ctx, `UPDATE job SET find = ? WHERE workshop_id = ? AND id = ?`, r.find, r.workshop, r.id); err != nil {
				return err
			}
		}
	}
}

// finder holds what jobs are found by, so that looking through years of them asks the
// database for what changed since the last look alone.
type finder struct {
	mu    sync.Mutex
	shops map[string]*findShop
}

type findShop struct {
	mu    sync.Mutex
	since time.Time // when the last change of those read was made
	made  time.Time // and when the last of what was concluded was written
	at    map[string]int
	jobs  []findJob
}

type findJob struct {
	id, find, text string    // text is what was written and concluded of it
	opened, closed time.Time // closed is zero of an open one
	made           time.Time // when text was written
}

const (
	// findOverlap is how long a change may be seen after the time it carries: transactions
	// do not end in the order of their times, and other copies' clocks differ.
	findOverlap = 5 * time.Minute
	mostShops   = 200 // held at once; then they are forgotten and begun anew
)

// of gives the jobs of a workshop, brought up to date.
func (f *finder) of(ctx context.Context, s *Store, workshopID string) (*findShop, error) {
	f.mu.Lock()
	shop := f.shops[workshopID]
	if shop == nil {
		if f.shops == nil || len(f.shops) >= mostShops {
			f.shops = map[string]*findShop{}
		}
		shop = &findShop{at: map[string]int{}}
		f.shops[workshopID] = shop
	}
	f.mu.Unlock()
	shop.mu.Lock()
	defer shop.mu.Unlock()
	since := time.Unix(0, 0).UTC()
	if !shop.since.IsZero() {
		// A change that carries a time to come, of a clock that was wrong, must not hide the
		// ones made until then.
		if now := s.now(); shop.since.After(now) {
			shop.since = now
		}
		since = shop.since.Add(-findOverlap)
	}
	rows, err := s.db.QueryContext(
		ctx,
		`SELECT id, COALESCE(find, ''), opened_at, closed_at, touched_at FROM job FORCE INDEX (job_touched)
		WHERE workshop_id = ? AND touched_at >= ?`,
		workshopID,
		since,
	)
	if err != nil {
		return nil, err
	}
	if err := each(rows, func() error {
		var j findJob
		var closed *time.Time
		var touched time.Time
		if err := rows.Scan(&j.id, &j.find, &j.opened, &closed, &touched); err != nil {
			return err
		}
		if closed != nil {
			j.closed = *closed
		}
		if touched.After(shop.since) {
			shop.since = touched
		}
		if i, ok := shop.at[j.id]; ok {
			j.text, j.made = shop.jobs[i].text, shop.jobs[i].made
			shop.jobs[i] = j
		} else {
			shop.at[j.id] = len(shop.jobs)
			shop.jobs = append(shop.jobs, j)
		}
		return nil
	}); err != nil {
		return nil, err
	}
	return shop, shop.read(ctx, s, workshopID)
}

// read takes up what was written and concluded of jobs since it was last asked.
func (shop *findShop) read(ctx context.Context, s *Store, workshopID string) error {
	since := time.Unix(0, 0).UTC()
	if !shop.made.IsZero() {
		if now := s.now(); shop.made.After(now) {
			shop.made = now
		}
		since = shop.made.Add(-findOverlap)
	}
	rows, err := s.db.QueryContext(ctx, `SELECT job_id, made_at FROM found FORCE INDEX (found_made) WHERE workshop_id = ? AND made_at >= ?`,
		workshopID, since)
	if err != nil {
		return err
	}
	var fresh []string
	if err := each(rows, func() error {
		var id string
		var made time.Time
		if err := rows.Scan(&id, &made); err != nil {
			return err
		}
		if made.After(shop.made) {
			shop.made = made
		}
		if i, ok := shop.at[id]; ok && !shop.jobs[i].made.Equal(made) {
			fresh, shop.jobs[i].made = append(fresh, id), made
		}
		return nil
	}); err != nil {
		return err
	}
	return s.ofJobs(ctx, workshopID, fresh, `SELECT job_id, text FROM found WHERE workshop_id = ? AND job_id IN (`, `)`, func(rows *sql.Rows) error {
		var id, text string
		err := rows.Scan(&id, &text)
		shop.jobs[shop.at[id]].text = text
		return err
	})
}

// wanted is what is looked for: a phrase, and its words where each of them says enough to be
// looked for by itself.
type wanted struct {
	phrase string
	words  []string
}

// leastWord is how many letters say enough: a 2 stands in every second line.
const leastWord = 3

func wants(phrase string) wanted {
	w := wanted{phrase: strings.Join(strings.Fields(phrase), " "), words: strings.Fields(phrase)}
	if slices.ContainsFunc(w.words, func(one string) bool { return utf8.RuneCountInString(one) < leastWord }) {
		w.words = []string{w.phrase}
	}
	return w
}

// in reports whether a job is what is wanted, and whether its tag, vehicle and customer say so
// alone.
func (w wanted) in(j findJob) (is, named bool) {
	if strings.Contains(j.find, w.phrase) {
		return true, true
	}
	named = true
	for _, one := range w.words {
		if strings.Contains(j.find, one) {
			continue
		}
		if named = false; !strings.Contains(j.text, one) {
			return false, false
		}
	}
	return true, named
}

// found gives the ids of the jobs that have every one of some folded words in their tag,
// vehicle, customer, notes or conclusions, open ones or closed ones: first those that are
// named so, and the newest first.
func (s *Store) found(ctx context.Context, workshopID string, closed bool, find string) ([]string, error) {
	shop, err := s.finder.of(ctx, s, workshopID)
	if err != nil {
		return nil, err
	}
	looked := wants(find)
	shop.mu.Lock()
	var hits []findJob
	named := map[string]bool{}
	for _, j := range shop.jobs {
		if j.closed.IsZero() == closed {
			continue
		}
		if is, byName := looked.in(j); is {
			named[j.id] = byName
			hits = append(hits, j)
		}
	}
	shop.mu.Unlock()
	slices.SortFunc(hits, func(a, b findJob) int {
		if named[a.id] != named[b.id] {
			if named[a.id] {
				return -1
			}
			return 1
		}
		if c := b.closed.Compare(a.closed); c != 0 {
			return c
		}
		if c := b.opened.Compare(a.opened); c != 0 {
			return c
		}
		return strings.Compare(b.id, a.id)
	})
	ids := make([]string, len(hits))
	for i, j := range hits {
		ids[i] = j.id
	}
	return ids, nil
}

// Unfound is a job that is to be written down anew for finding.
type Unfound struct {
	WorkshopID, JobID string
	Touched           time.Time
}

// Unfound gives some jobs whose text for finding is not of how they are now, among those
// that changed since a time.
func (s *Store) Unfound(ctx context.Context, since time.Time, most int) ([]Unfound, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT STRAIGHT_JOIN j.workshop_id, j.id, j.touched_at FROM workshop w
		JOIN job j FORCE INDEX (job_touched) ON j.workshop_id = w.id AND j.touched_at >= ?
		LEFT JOIN found f ON f.workshop_id = j.workshop_id AND f.job_id = j.id
		WHERE f.job_id IS NULL OR f.touched_at <> j.touched_at ORDER BY j.touched_at DESC LIMIT ?`, since.UTC(), most)
	if err != nil {
		return nil, err
	}
	var out []Unfound
	return out, each(rows, func() error {
		var u Unfound
		err := rows.Scan(&u.WorkshopID, &u.JobID, &u.Touched)
		out = append(out, u)
		return err
	})
}

// mostText is how much of a job is kept for finding it, bytes.
const mostText = 1 << 20

// KeepFound keeps what a job is found by as it was when it was touched last.
func (s *Store) KeepFound(ctx context.Context, u Unfound, text string) error {
	text = words.Folded(text)
	if len(text) > mostText {
		text = strings.ToValidUTF8(text[:mostText], "")
	}
	return s.tx(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `REPLACE INTO found (workshop_id, job_id, text, touched_at, made_at) VALUES (?, ?, ?, ?, ?)`,
			u.WorkshopID, u.JobID, text, u.Touched, s.now())
		return err
	})
}
