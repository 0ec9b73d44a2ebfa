package api

import (
	"sync"
	"time"

	"grapnel/core/assess"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// judgements remembers what sheets said, for the other devices that show the same one
// and for whoever comes back to it. Nobody may change what it gives.
type judgements struct {
	mu    sync.Mutex
	known map[judgedKey]Judgement
}

// judgedKey is all that a judgement depends on.
type judgedKey struct {
	job   string
	stamp store.Stamp
	log   int
	voice words.Voice
	lead  bool
	ends  time.Time // of the rest that runs
	was   string    // what was said of the battery that stood there before
	over  bool
	at    time.Time // when, to the length of time a judgement holds
}

// How many are remembered, and how long one holds: readings age by hours, and what is
// said of times is said in minutes.
const (
	mostJudgements = 300
	judgementHolds = time.Minute
)

// judged gives what a job's sheet says, with the rest that runs on it.
func (s *server) judged(
	j store.Job,
	log []store.StoredReading,
	p store.Person,
	rest *store.Rest,
	was *assess.Opinion,
) Judgement {
	now := s.Now()
	key := judgedKey{
		job:   j.ID,
		stamp: j.Stamp,
		log:   len(log),
		voice: voice(p),
		lead:  p.Role == store.Lead,
		at:    now.Truncate(judgementHolds),
	}
	if was != nil {
		key.was = string(was.Verdict) + was.Tag
	}
	var ends *time.Time
	if rest != nil && rest.Kind == assess.StayRest {
		ends, key.ends, key.over = &rest.EndsAt, rest.EndsAt, rest.EndsAt.Before(now)
	}
	if j.ClosedAt != nil {
		key.at = time.Time{}
	}
	s.judgements.mu.Lock()
	one, ok := s.judgements.known[key]
	s.judgements.mu.Unlock()
	if ok {
		return one
	}
	start := time.Now()
	one = s.judge(j, log, p, ends, was)
	s.metrics.judgements.WithLabelValues("sheet").Observe(time.Since(start).Seconds())
	s.judgements.mu.Lock()
	defer s.judgements.mu.Unlock()
	if s.judgements.known == nil || len(s.judgements.known) >= mostJudgements {
		s.judgements.known = map[judgedKey]Judgement{}
	}
	s.judgements.known[key] = one
	return one
}
