package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"
)

// work is what is written through the copies, and what the screens hear of it.
type work struct {
	copies *copies
	cookie string
	jobs   []string

	mu      sync.Mutex
	ending  bool
	acks    []ack
	out     []time.Duration // from the first try to the answer
	tries   int
	hears   [screens]heard
	writing sync.WaitGroup
}

// ack is a reading that was acknowledged.
type ack struct {
	job, reading string
	begun, done  time.Time
}

// heard is what one screen was told, and when it began anew, which is when it fetches
// everything.
type heard struct {
	jobs map[string][]time.Time
	here []time.Time
}

var client = &http.Client{Timeout: 6 * time.Second, Transport: &http.Transport{MaxIdleConnsPerHost: 20}}

// ask tries the copies one after the other, from one on, until one answers.
func (w *work) ask(from int, method, path string, body any) ([]byte, error) {
	raw, err := json.Marshal(body)
	if err != nil {
		return nil, err
	}
	begun := time.Now()
	for i := from; ; i++ {
		w.mu.Lock()
		w.tries++
		w.mu.Unlock()
		answer, status, err := w.once(i%3, method, path, raw)
		switch {
		case err == nil && status == http.StatusOK:
			w.mu.Lock()
			w.out = append(w.out, time.Since(begun))
			w.mu.Unlock()
			return answer, nil
		case err == nil && status < 500:
			return nil, fmt.Errorf("%s %s: %d %.300s", method, path, status, answer)
		case time.Since(begun) > time.Minute:
			return nil, fmt.Errorf("%s %s: no answer in a minute: %w", method, path, err)
		}
		time.Sleep(100 * time.Millisecond)
	}
}

func (w *work) once(copy int, method, path string, raw []byte) ([]byte, int, error) {
	req, err := http.NewRequest(method, "http://"+w.copies.at[copy]+path, bytes.NewReader(raw))
	if err != nil {
		return nil, 0, err
	}
	req.Header.Set("Cookie", w.cookie)
	req.Header.Set("Content-Type", "application/json")
	res, err := client.Do(req)
	if err != nil {
		return nil, 0, err
	}
	defer func() { _ = res.Body.Close() }()
	answer, err := io.ReadAll(res.Body)
	return answer, res.StatusCode, err
}

func newID() string { return uuid.Must(uuid.NewV7()).String() }

func (w *work) openJobs(n int) error {
	for i := range n {
		id := newID()
		if _, err := w.ask(i, "POST", "/api/jobs", map[string]any{"id": id, "vehicle": map[string]any{"class": "mower", "system_volts": 12},
			"battery": map[string]any{"chemistry": "flooded", "rating": map[string]any{"cca": 300, "standard": "SAE"}}}); err != nil {
			return err
		}
		w.jobs = append(w.jobs, id)
	}
	return nil
}

// start has every writer write to its job and to its neighbour's, and every screen listen.
func (w *work) start(ctx context.Context) {
	for i := range screens {
		w.hears[i].jobs = map[string][]time.Time{}
		go w.listen(ctx, i)
	}
	time.Sleep(time.Second)
	for i := range writers {
		w.writing.Go(func() {
			for k := 0; !w.over(); k++ {
				job := w.jobs[(i+k%2)%len(w.jobs)]
				one := ack{job: job, reading: newID(), begun: time.Now()}
				_, err := w.ask(i+k, "POST", "/api/jobs/"+job+"/readings", map[string]any{"id": one.reading,
					"reading": map[string]any{"kind": "rest_voltage", "volts": 12 + float64(k%100)/200}})
				if err != nil {
					fmt.Println("a writer gives up:", err)
					return
				}
				one.done = time.Now()
				w.mu.Lock()
				w.acks = append(w.acks, one)
				w.mu.Unlock()
				time.Sleep(150 * time.Millisecond)
			}
		})
	}
}

func (w *work) over() bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.ending
}

func (w *work) finish() {
	w.mu.Lock()
	w.ending = true
	w.mu.Unlock()
	w.writing.Wait()
}

// listen is a screen: it listens at one copy, and at the next when that is gone.
func (w *work) listen(ctx context.Context, screen int) {
	for i := screen; ctx.Err() == nil; i++ {
		_ = w.stream(ctx, screen, i%3)
		time.Sleep(200 * time.Millisecond)
	}
}

func (w *work) stream(ctx context.Context, screen, copy int) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	req, err := http.NewRequestWithContext(ctx, "GET", "http://"+w.copies.at[copy]+"/api/events", nil)
	if err != nil {
		return err
	}
	req.Header.Set("Cookie", w.cookie)
	res, err := (&http.Client{}).Do(req)
	if err != nil {
		return err
	}
	defer func() { _ = res.Body.Close() }()
	if res.StatusCode != http.StatusOK {
		return errors.New(res.Status)
	}
	lines := bufio.NewScanner(res.Body)
	event := ""
	for lines.Scan() {
		now := time.Now()
		if name, ok := strings.CutPrefix(lines.Text(), "event: "); ok {
			event = name
			continue
		}
		data, ok := strings.CutPrefix(lines.Text(), "data: ")
		if !ok {
			continue
		}
		w.mu.Lock()
		switch event {
		case "here":
			w.hears[screen].here = append(w.hears[screen].here, now)
		case "jobs":
			var jobs []string
			if json.Unmarshal([]byte(data), &jobs) == nil {
				for _, id := range jobs {
					w.hears[screen].jobs[id] = append(w.hears[screen].jobs[id], now)
				}
			}
		}
		w.mu.Unlock()
	}
	return lines.Err()
}

// report compares what was acknowledged with what every copy shows, and with what the
// screens heard.
func (w *work) report(kills map[string]int) error {
	w.mu.Lock()
	defer w.mu.Unlock()
	var errs []error
	lost, doubled, extra := 0, 0, 0
	acked := map[string]bool{}
	for _, a := range w.acks {
		acked[a.reading] = true
	}
	for at := range 3 {
		seen := map[string]int{}
		for _, job := range w.jobs {
			answer, status, err := w.once(at, "GET", "/api/jobs/"+job, nil)
			var sheet struct{ Readings []struct{ ID string } }
			if err == nil {
				err = json.Unmarshal(answer, &sheet)
			}
			if err != nil || status != http.StatusOK {
				errs = append(errs, fmt.Errorf("copy %d shows no %s: %d %w", at, job, status, err))
			}
			for _, r := range sheet.Readings {
				seen[r.ID]++
			}
		}
		for id := range acked {
			if seen[id] == 0 {
				lost++
			}
		}
		for id, n := range seen {
			if n > 1 {
				doubled++
			}
			if !acked[id] {
				extra++ // its answer was lost with the writer that gave up
			}
		}
	}
	late, unheard := time.Duration(0), 0
	for _, a := range w.acks {
		for _, h := range w.hears {
			when := time.Duration(-1)
			after := func(times []time.Time, from time.Time) {
				i, _ := slices.BinarySearchFunc(times, from, time.Time.Compare)
				if i < len(times) {
					if d := max(0, times[i].Sub(a.done)); when < 0 || d < when {
						when = d
					}
				}
			}
			after(h.jobs[a.job], a.begun)
			after(h.here, a.done)
			if when < 0 || when > mostLate {
				unheard++
			}
			late = max(late, when)
		}
	}
	slices.Sort(w.out)
	worst := w.out[len(w.out)-1]
	fmt.Printf(
		"killed: %d copies, %d nodes\nacknowledged: %d readings in %d tries; lost %d, doubled %d, not acknowledged but kept %d\n",
		kills["copies"],
		kills["nodes"],
		len(w.acks),
		w.tries,
		lost,
		doubled,
		extra,
	)
	fmt.Printf(
		"answered after: median %s, 99 %% %s, worst %s\n",
		w.out[len(w.out)/2].Round(time.Millisecond),
		w.out[len(w.out)*99/100].Round(time.Millisecond),
		worst.Round(time.Millisecond),
	)
	fmt.Printf(
		"screens: %d changes on %d screens, the latest after %s, unheard %d\n",
		len(w.acks),
		screens,
		late.Round(time.Millisecond),
		unheard,
	)
	if lost > 0 || doubled > 0 || unheard > 0 || worst > mostOut {
		errs = append(errs, errors.New("what was promised did not hold"))
	}
	return errors.Join(errs...)
}
