package api

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"sync"
	"time"

	"grapnel/internal/store"
)

const (
	lookEvery = time.Second      // how often the database is asked for changes made elsewhere
	beatEvery = 15 * time.Second // how often a device hears that the line still stands
	streamFor = 5 * time.Minute  // a stream lasts so long, so that whoever is signed out soon hears nothing
	lateBy    = 30 * time.Second // a change may be seen so long after the time it carries
	behind    = 64               // changes a slow device may be behind before it must start anew
	mostOpen  = 200              // streams one workshop may hold open; who gets none asks now and then
)

// live tells devices which jobs changed. It asks the database, so that it tells
// of changes made through other servers too, and only while somebody listens.
type live struct {
	store   *store.Store
	mu      sync.Mutex
	shops   map[string]*listeners
	changed func() // called whenever something changed through this server
}

// listeners are the open streams of one workshop.
type listeners struct {
	streams map[chan []string]bool
	wake    chan struct{} // look now
	end     context.CancelFunc
}

func newLive(s *store.Store) *live { return &live{store: s, shops: map[string]*listeners{}} }

// join opens a stream of changed jobs; leave ends it. The stream is closed when it
// falls too far behind, and nil when the workshop holds too many.
func (l *live) join(workshopID string) (stream chan []string, leave func()) {
	l.mu.Lock()
	defer l.mu.Unlock()
	shop := l.shops[workshopID]
	if shop == nil {
		ctx, end := context.WithCancel(context.Background())
		shop = &listeners{streams: map[chan []string]bool{}, wake: make(chan struct{}, 1), end: end}
		l.shops[workshopID] = shop
		go l.watch(ctx, workshopID, shop)
	}
	if len(shop.streams) >= mostOpen {
		return nil, func() {}
	}
	stream = make(chan []string, behind)
	shop.streams[stream] = true
	return stream, func() {
		l.mu.Lock()
		defer l.mu.Unlock()
		delete(shop.streams, stream)
		if len(shop.streams) == 0 && l.shops[workshopID] == shop {
			shop.end()
			delete(l.shops, workshopID)
		}
	}
}

// open gives how many streams are open.
func (l *live) open() (n int) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for _, shop := range l.shops {
		n += len(shop.streams)
	}
	return n
}

// wake has the listeners of a workshop told at once.
func (l *live) wake(workshopID string) {
	if l.changed != nil {
		l.changed()
	}
	l.mu.Lock()
	defer l.mu.Unlock()
	if shop := l.shops[workshopID]; shop != nil {
		select {
		case shop.wake <- struct{}{}:
		default: // it is about to look anyway
		}
	}
}

// watch asks for changed jobs until nobody listens. A change is told once though
// it is looked for over a few seconds: transactions do not end in the order of
// the times they carry.
func (l *live) watch(ctx context.Context, workshopID string, shop *listeners) {
	tick := time.NewTicker(lookEvery)
	defer tick.Stop()
	since := l.store.Now()
	told := map[store.Touch]bool{}
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		case <-shop.wake:
		}
		// A clock that jumped back must not leave everybody looking at a time to come.
		if now := l.store.Now(); since.After(now) {
			since = now
		}
		asking, done := context.WithTimeout(ctx, patience)
		touched, err := l.store.Touched(asking, workshopID, since.Add(-lateBy))
		done()
		if err != nil {
			if !errors.Is(err, context.Canceled) {
				slog.WarnContext(ctx, "looking for changes", "error", err)
			}
			continue
		}
		var fresh []string
		recent := map[store.Touch]bool{}
		for _, t := range touched {
			recent[t] = true
			if !told[t] {
				fresh = append(fresh, t.JobID)
			}
			if t.At.After(since) {
				since = t.At
			}
		}
		told = recent
		if len(fresh) > 0 {
			l.tell(shop, fresh)
		}
	}
}

func (l *live) tell(shop *listeners, jobs []string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for stream := range shop.streams {
		select {
		case stream <- jobs:
		default:
			delete(shop.streams, stream)
			close(stream)
		}
	}
}

// events streams the ids of jobs as they change: server-sent events named here
// (at the start), jobs and beat. Whoever connects, again or for the first time,
// asks for everything anew.
func (s *server) events(w http.ResponseWriter, r *http.Request) {
	asking, done := context.WithTimeout(r.Context(), patience)
	p, err := s.signedIn(asking)
	done()
	switch {
	case errors.Is(err, store.ErrNotFound), err == nil && p.MustChange:
		problem(w, http.StatusUnauthorized, "Sign in first. What you entered is kept on this device.")
		return
	case r.Context().Err() != nil:
		return // who asked has left
	case err != nil:
		problem(w, http.StatusServiceUnavailable, "The database did not answer. Try again in a moment.")
		return
	}
	stream, leave := s.live.join(p.WorkshopID)
	defer leave()
	if stream == nil {
		problem(
			w,
			http.StatusServiceUnavailable,
			"Too many devices of this workshop listen. This one asks for changes now and then.",
		)
		return
	}
	out := http.NewResponseController(w)
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("X-Accel-Buffering", "no") // a proxy must not hold it back
	send := func(event string, data any) bool {
		raw, err := json.Marshal(data)
		if err == nil {
			_ = out.SetWriteDeadline(time.Now().Add(2 * beatEvery)) // where the server limits writing, this goes on
			_, err = fmt.Fprintf(w, "event: %s\ndata: %s\n\n", event, raw)
		}
		return err == nil && out.Flush() == nil
	}
	if !send("here", s.Now()) {
		return
	}
	beat := time.NewTicker(beatEvery)
	defer beat.Stop()
	over := time.NewTimer(streamFor)
	defer over.Stop()
	for {
		select {
		case jobs, open := <-stream:
			if !open || !send("jobs", jobs) {
				return
			}
		case <-beat.C:
			if !send("beat", s.Now()) {
				return
			}
		case <-over.C:
			return
		case <-r.Context().Done():
			return
		case <-s.Ending.Done():
			return
		}
	}
}
