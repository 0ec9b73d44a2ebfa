package api

import (
	"crypto/sha256"
	"encoding/json"
	"sync"
	"time"

	"grapnel/core/assess"
	"grapnel/core/bench"
	"grapnel/core/reading"
)

// glances remembers what was said of a case at a glance, for lists that show hundreds
// of jobs of which one has changed.
type glances struct {
	mu    sync.Mutex
	known map[[sha256.Size]byte]assess.Assessment
}

// How many are remembered, and for how long a case that nothing was added to is judged
// alike: its readings age by hours and days.
const (
	mostGlances = 4000
	glanceHolds = 10 * time.Minute
)

// of judges a case, or finds what was said of the very same.
func (g *glances) of(c reading.Case, labels bench.Labels) assess.Assessment {
	same := c
	if c.AsOf != nil {
		at := c.AsOf.Truncate(glanceHolds)
		same.AsOf = &at
	}
	raw, err := json.Marshal(same)
	if err != nil {
		return assess.Glance(c, labels)
	}
	key := sha256.Sum256(raw)
	g.mu.Lock()
	a, ok := g.known[key]
	g.mu.Unlock()
	if ok {
		return a
	}
	a = assess.Glance(c, labels)
	g.mu.Lock()
	defer g.mu.Unlock()
	if g.known == nil || len(g.known) >= mostGlances {
		g.known = map[[sha256.Size]byte]assess.Assessment{}
	}
	g.known[key] = a
	return a
}
