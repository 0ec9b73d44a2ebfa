// Command run works the simulated clinic and writes what came of it.
package main

import (
	"flag"
	"fmt"
	"os"
	"time"

	"grapnel/checks/clinic"
)

func main() {
	n := flag.Int("n", 10000, "vehicles")
	seed := flag.Uint64("seed", 1, "of the draw")
	out := flag.String("out", "", "file of the report; standard output when empty")
	vehicle := flag.Int("vehicle", -1, "show one vehicle's readings and what is made of them")
	wrong := flag.Int("wrong", 0, "list so many that ended wrong")
	suspects := flag.Bool("suspects", false, "list those whose first suspect is wrong instead")
	flag.Parse()
	if err := run(*n, *seed, *out, *vehicle, *wrong, *suspects); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(n int, seed uint64, out string, vehicle, wrong int, suspects bool) error {
	if vehicle >= 0 {
		return clinic.Show(os.Stdout, clinic.One(seed<<32|uint64(vehicle)))
	}
	begun := time.Now()
	results := clinic.Run(n, seed)
	for _, r := range results {
		if wrong > 0 && (suspects && !r.RightSuspect() || !suspects && !r.RightVerdict()) {
			wrong--
			if err := clinic.Show(os.Stdout, r); err != nil {
				return err
			}
		}
	}
	w := os.Stdout
	if out != "" {
		file, err := os.Create(out)
		if err != nil {
			return err
		}
		defer file.Close()
		w = file
	}
	clinic.Report(w, results, seed)
	fmt.Fprintf(os.Stderr, "%d vehicles in %s\n", n, time.Since(begun).Round(time.Second))
	return nil
}
