package api

import (
	"context"
	"sync"
	"time"

	"grapnel/core/assess"
	"grapnel/internal/store"
)

// glances remembers what was said of jobs at a glance, for lists that show hundreds
// of jobs of which one has changed.
type glances struct {
	mu    sync.Mutex
	known map[string]glanced
}

// glanced is what a job came to.
type glanced struct {
	stamp store.Stamp
	at    time.Time // when it was judged, to the length of time it holds
	glance
}

// glance is a job's judgement in short, and who worked on it last, and when.
type glance struct {
	assess.Assessment
	since time.Time
	by    string
}

// How many are remembered, and for how long a job that nothing was added to is judged
// alike: its readings age by hours and days.
const (
	mostGlances = 20_000
	glanceHolds = 10 * time.Minute
)

func (g *glances) of(j store.Job, at time.Time) (glance, bool) {
	g.mu.Lock()
	defer g.mu.Unlock()
	one, ok := g.known[j.ID]
	return one.glance, ok && one.stamp == j.Stamp && (one.at.Equal(at) || j.Stamp.Closed)
}

func (g *glances) keep(j store.Job, at time.Time, one glance) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if g.known == nil || len(g.known) >= mostGlances {
		g.known = map[string]glanced{}
	}
	g.known[j.ID] = glanced{j.Stamp, at, one}
}

// glanceAt judges jobs in short, those that were not since they changed.
func (s *server) glanceAt(ctx context.Context, jobs []store.Job) (map[string]glance, error) {
	at := s.Now().Truncate(glanceHolds)
	out := map[string]glance{}
	var missing []store.Job
	var ids []string
	for _, j := range jobs {
		if one, ok := s.glances.of(j, at); ok {
			out[j.ID] = one
			continue
		}
		missing, ids = append(missing, j), append(ids, j.ID)
	}
	logs, err := s.Store.Readings(ctx, who(ctx).WorkshopID, ids...)
	if err != nil {
		return nil, answer(err)
	}
	for _, j := range missing {
		if ctx.Err() != nil {
			return nil, answer(ctx.Err())
		}
		judge := assess.Glance
		if j.ClosedAt != nil {
			judge = assess.Ended
		}
		start := time.Now()
		one := glance{judge(s.caseOf(j, logs[j.ID]), s.labels.find), j.OpenedAt, j.OpenedBy}
		if log := logs[j.ID]; len(log) > 0 {
			one.since, one.by = log[len(log)-1].At, log[len(log)-1].By
		}
		s.metrics.judgements.WithLabelValues("glance").Observe(time.Since(start).Seconds())
		s.glances.keep(j, at, one)
		out[j.ID] = one
	}
	return out, nil
}
