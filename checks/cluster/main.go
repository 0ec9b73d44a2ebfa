// Cluster runs Grapnel as three copies on a Galera cluster of three nodes, all on the
// loopback address, and kills copies and nodes at random while readings are written
// through all of them; before that, it asks all nodes at once for what only one may have.
// It tells what became of every acknowledged reading, how long a
// request had to be tried again, and whether every screen heard of every change.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"time"
)

func main() {
	bin := flag.String("bin", "bin/grapnel", "the program to run copies of")
	long := flag.Duration("for", 2*time.Minute, "how long things are killed")
	seed := flag.Uint64("seed", uint64(time.Now().UnixNano()), "of what is killed when")
	flag.Parse()
	if err := run(*bin, *long, *seed); err != nil {
		fmt.Fprintln(os.Stderr, "cluster:", err)
		os.Exit(1)
	}
}

const (
	writers = 6
	screens = 6
	// The longest a request may go without an answer, trying one copy after the other.
	mostOut = 5 * time.Second
	// How long a screen may take to hear of a change.
	mostLate = 10 * time.Second
)

func run(bin string, long time.Duration, seed uint64) (err error) {
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	dir, err := os.MkdirTemp("", "grapnel-cluster-")
	if err != nil {
		return err
	}
	defer func() {
		if err == nil {
			_ = os.RemoveAll(dir)
		}
	}()
	fmt.Printf("seed %d, in %s\n", seed, dir)
	c, err := startNodes(ctx, dir)
	defer c.stop()
	if err != nil {
		return err
	}
	if err := c.addPerson(bin); err != nil {
		return err
	}
	if bin, err = filepath.Abs(bin); err != nil {
		return err
	}
	copies, err := startCopies(bin, dir, c.dsns())
	defer copies.stop()
	if err != nil {
		return err
	}
	cookie, err := copies.signIn()
	if err != nil {
		return err
	}
	if err := race(ctx, c.dsns()); err != nil {
		return err
	}
	w := &work{copies: copies, cookie: cookie}
	if err := w.openJobs(writers); err != nil {
		return err
	}
	working, done := context.WithCancel(ctx)
	w.start(working)
	kills := map[string]int{}
	random := rand.New(rand.NewPCG(seed, seed))
	for end := time.Now().Add(long); time.Now().Before(end); {
		time.Sleep(time.Duration(2+random.IntN(4)) * time.Second)
		i := random.IntN(3)
		if random.IntN(2) == 0 {
			kills["copies"]++
			fmt.Printf("%s copy %d is killed\n", time.Now().Format("15:04:05.0"), i)
			if err := copies.again(i); err != nil {
				done()
				return err
			}
			continue
		}
		kills["nodes"]++
		fmt.Printf("%s node %d is killed\n", time.Now().Format("15:04:05.0"), i)
		if err := c.again(ctx, i); err != nil {
			done()
			return err
		}
	}
	time.Sleep(3 * time.Second)
	w.finish()
	time.Sleep(mostLate)
	done()
	return errors.Join(c.synced(ctx), w.report(kills))
}
