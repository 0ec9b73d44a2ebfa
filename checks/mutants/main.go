// Mutants makes small faults in the project, one at a time and none in its files, runs the tests that
// can notice, fastest first, and tells which faults nobody noticed. The faults are kept in
// faults.txt. It is no part of `make test`: `make mutants` runs it and writes
// docs/mutants.md.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"os"
	"os/signal"
	"path/filepath"
	"regexp"
	"runtime"
	"slices"
	"sync"
	"syscall"
	"time"
)

func main() {
	only := flag.String("only", "", "run the faults whose place or reason matches this regular expression")
	out := flag.String("out", "docs/mutants.md", "where the table is written; with -only nowhere")
	jobs := flag.Int("jobs", runtime.NumCPU(), "how many faults of Go, and of the front end beside them, are tried at once")
	list := flag.Bool("list", false, "say where each fault would be made, and run nothing")
	flag.Parse()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := run(ctx, *only, *out, *jobs, *list); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

const kept = "checks/mutants/faults.txt"

func run(ctx context.Context, only, out string, jobs int, list bool) error {
	raw, err := os.ReadFile(kept)
	if err != nil {
		return err
	}
	all, err := parse(string(raw))
	if err != nil {
		return err
	}
	wanted, err := regexp.Compile(only)
	if err != nil {
		return err
	}
	chosen := slices.DeleteFunc(slices.Clone(all), func(f *fault) bool { return !wanted.MatchString(f.dir + " " + f.name + " " + f.why) })
	if list {
		return tell(chosen)
	}
	began := time.Now()
	reach, err := reachOf(ctx)
	if err != nil {
		return err
	}
	remember(all, out)
	err = tryAll(ctx, chosen, reach, jobs)
	took := time.Since(began).Round(time.Second)
	tried, n := counts(chosen)
	fmt.Printf("%d faults, %d tried, %d caught, in %s\n", len(chosen), tried, n, took)
	if only == "" && out != "" { // of a run that is cut off too: the next goes by what it found
		err = errors.Join(err, os.WriteFile(out, []byte(table(all, took)), 0o644))
	}
	if err == nil && n < len(chosen) {
		err = errors.New("not every fault was caught")
	}
	return err
}

// counts says how many faults were tried, and how many of them were caught.
func counts(all []*fault) (tried, n int) {
	for _, f := range all {
		if f.fate != "" {
			tried++
		}
		if f.fate == caught {
			n++
		}
	}
	return tried, n
}

// tell says where each fault would be made.
func tell(chosen []*fault) error {
	for _, f := range chosen {
		all, err := declarations(".", f.dir)
		if err != nil {
			return err
		}
		at, err := f.find(all)
		if err != nil {
			return fmt.Errorf("fault %d: %w", f.n, err)
		}
		fmt.Printf("%4d %s:%d-%d %s\n", f.n, at.file, at.from, at.to, f.why)
	}
	return nil
}

// tryAll tries the faults, some side by side: so many of Go, which keep the processors busy,
// and so many of the front end beside them, whose tests mostly wait for what does not come.
func tryAll(ctx context.Context, chosen []*fault, reach *reach, jobs int) error {
	began := time.Now()
	dir, err := os.MkdirTemp("", "grapnel-mutants-")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	both, switched, err := switchable(chosen)
	if err != nil {
		return err
	}
	laid, err := both.lay(dir)
	if err != nil {
		return err
	}
	fmt.Printf("%d of %d faults are compiled together\n", len(switched), len(chosen))
	built := &programs{dir: dir, laid: laid, pages: reach.pages(), built: map[string]func() error{}, fine: map[string]bool{}}
	ctx, stop := context.WithCancelCause(ctx)
	defer stop(nil)
	var wait sync.WaitGroup
	next := map[bool]chan *fault{false: make(chan *fault), true: make(chan *fault)} // by whether of the front end
	var said sync.Mutex
	done := 0
	for i := range 2 * jobs {
		h := hand{filepath.Join(dir, fmt.Sprint(i)), built, switched}
		if err := copyTree(h.copy()); err != nil {
			return err
		}
		work := func(f *fault) error {
			if err := h.try(ctx, f, reach); err != nil {
				return fmt.Errorf("fault %d, %s %s: %w", f.n, f.dir, f.name, err)
			}
			said.Lock()
			defer said.Unlock()
			done++
			left := time.Since(began) / time.Duration(done) * time.Duration(len(chosen)-done)
			fmt.Printf("%4d %-8s %5.1f s  %s %s: %s (%s)  %d of %d, about %s to go\n", f.n, f.fate, f.took.Seconds(), f.dir,
				f.name, f.why, f.by, done, len(chosen), left.Round(time.Second))
			return nil
		}
		wait.Go(func() {
			for _, web := range []bool{i%2 == 1, i%2 == 0} { // whoever is done helps the others
				for f := range next[web] {
					if err := work(f); err != nil {
						stop(err)
						return
					}
				}
			}
		})
	}
	for web, to := range next {
		wait.Go(func() {
			defer close(to)
			for _, f := range chosen {
				if f.web() != web {
					continue
				}
				select {
				case to <- f:
				case <-ctx.Done():
					return
				}
			}
		})
	}
	wait.Wait()
	return context.Cause(ctx)
}

// switchable takes up the faults of functions of Go, which programs can have or not.
func switchable(all []*fault) (*switches, map[*fault]bool, error) {
	both, taken := newSwitches(), map[*fault]bool{}
	for _, f := range all {
		if f.web() {
			continue
		}
		at, good, bad, err := f.sources()
		if err != nil {
			return nil, nil, fmt.Errorf("fault %d: %w", f.n, err)
		}
		if filepath.Ext(at.file) == ".go" && both.add(f, at.file, good, bad, at) {
			taken[f] = true
		}
	}
	return both, taken, nil
}
