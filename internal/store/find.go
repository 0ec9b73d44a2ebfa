package store

import (
	"context"
	"slices"
	"strings"
	"sync"
	"time"

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
	at    map[string]int
	jobs  []findJob
}

type findJob struct {
	id, find       string
	opened, closed time.Time // closed is zero of an open one
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
	return shop, each(rows, func() error {
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
			shop.jobs[i] = j
		} else {
			shop.at[j.id] = len(shop.jobs)
			shop.jobs = append(shop.jobs, j)
		}
		return nil
	})
}

// found gives the ids of the jobs that contain folded words, the newest first, open ones
// or closed ones.
func (s *Store) found(ctx context.Context, workshopID string, closed bool, find string) ([]string, error) {
	shop, err := s.finder.of(ctx, s, workshopID)
	if err != nil {
		return nil, err
	}
	shop.mu.Lock()
	var hits []findJob
	for _, j := range shop.jobs {
		if j.closed.IsZero() != closed && strings.Contains(j.find, find) {
			hits = append(hits, j)
		}
	}
	shop.mu.Unlock()
	slices.SortFunc(hits, func(a, b findJob) int {
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
