// Bench runs the benchmarks side by side and writes docs/benchmarks.md.
package main

import (
	"bufio"
	"bytes"
	"cmp"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"os/exec"
	"regexp"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"time"
)

// result is the best of all counts of one benchmark.
type result struct{ ns, allocs, solve, shown, rate, frames, frame float64 }

// part is some benchmarks of one package that are run together.
type part struct{ pattern, time, pkg string }

var parts = []part{
	{".", "0.5s", "./core/battery"}, {".", "0.3s", "./core/assess"}, {".", "0.5s", "./core/suspect"}, {".", "0.3s", "./core/energy"},
	{"Forecast|Estimate|Schedule", "0.3s", "./core/charge"}, {"Jump", "0.3s", "./core/jump"}, {".", "0.3s", "./core/season"},
	{"Stepper|Isothermal", "0.3s", "./checks"}, {"LSODA|Spice", "2x", "./checks"}, {"AssessProcess", "1s", "./cmd/grapnel"},
	{"Print", "0.5s", "./internal/paper"}, {"ReadingAnswered|Register|Correction|Floor200|SheetAlone|Bank", "0.5s", "./internal/api"},
	{"Report$|Find|Backup", "10x", "./internal/api"}, {"Sheets$", "1000x", "./internal/api"}, {"FiveHundred", "5x", "./internal/api"},
	{"JumpStep|SeasonFrame", "1x", "./e2e"}, {"FirstLoad", "3x", "./e2e"}, {"FloorFrames", "1x", "./e2e"}, {"Years", "0.3s", "./internal/api"},
}

// took is how long each part took when it was last run, by pattern and package: it says how
// far a run is, and what fits into a short one.
const took = "checks/bench/took.json"

// shortTime is how long a short run may take; parts nobody knows the time of come last.
const shortTime = 5 * time.Minute

func main() {
	out := flag.String("out", "docs/benchmarks.md", "file to write")
	count := flag.Int("count", 5, "how often each is run; the best counts")
	short := flag.Bool("short", false, "run once what five minutes are enough for, and write nothing")
	flag.Parse()
	if err := run(*out, *count, *short); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(out string, count int, short bool) error {
	seconds := map[string]float64{}
	if raw, err := os.ReadFile(took); err == nil {
		if err := json.Unmarshal(raw, &seconds); err != nil {
			return fmt.Errorf("%s: %w", took, err)
		}
	}
	todo := slices.Clone(parts)
	if short {
		count = 1
		var left []part
		todo, left = fitting(todo, seconds, shortTime.Seconds())
		for _, p := range left {
			fmt.Fprintf(os.Stderr, "left out for its time: %s %s\n", p.pkg, p.pattern)
		}
	}
	got := map[string]result{}
	// Rounds, not repeats: what else the machine does then falls on all alike.
	for round := range count {
		for i, p := range todo {
			fmt.Fprintf(os.Stderr, "round %d of %d, part %d of %d: %s %s; %s\n", round+1, count, i+1, len(todo), p.pkg, p.pattern,
				toGo(todo, i, count-round, seconds))
			began := time.Now()
			cmd := exec.Command("go", "test", "-timeout", "0", "-run", "^$", "-bench", p.pattern, "-benchtime", p.time, p.pkg)
			cmd.Env = append(os.Environ(), "CI=true") // a missing reference program is an error here
			cmd.Stderr = os.Stderr
			text, err := cmd.Output()
			if err != nil {
				return fmt.Errorf("%s\n%w", text, err)
			}
			read(bytes.NewReader(text), got)
			seconds[p.name()] = time.Since(began).Round(100 * time.Millisecond).Seconds()
		}
	}
	if short {
		fmt.Print(report(got, count))
		return nil
	}
	raw, err := json.MarshalIndent(seconds, "", "\t")
	if err != nil {
		return err
	}
	if err := errors.Join(os.WriteFile(took, append(raw, '\n'), 0o644), os.WriteFile(out, []byte(report(got, count)), 0o644)); err != nil {
		return err
	}
	fmt.Print(report(got, count))
	return nil
}

func (p part) name() string { return p.pkg + " " + p.pattern }

// fitting are the parts that fit into a time together, the fastest first, and the rest.
func fitting(all []part, seconds map[string]float64, most float64) (in, out []part) {
	known := func(p part) float64 {
		if s, is := seconds[p.name()]; is {
			return s
		}
		return most
	}
	slices.SortStableFunc(all, func(a, b part) int { return cmp.Compare(known(a), known(b)) })
	sum := 0.0
	for _, p := range all {
		if sum += known(p); sum > most {
			out = append(out, p)
		} else {
			in = append(in, p)
		}
	}
	return in, out
}

// toGo says how long the rest takes, as far as it is known.
func toGo(todo []part, at, rounds int, seconds map[string]float64) string {
	sum, unknown := 0.0, 0
	for r := range rounds {
		for i, p := range todo {
			if r == 0 && i < at {
				continue
			}
			if s, is := seconds[p.name()]; is {
				sum += s
			} else {
				unknown++
			}
		}
	}
	left := "about " + (time.Duration(sum) * time.Second).String() + " to go"
	if unknown > 0 {
		left += fmt.Sprintf(", and %d parts nobody has timed yet", unknown)
	}
	return left
}

var line = regexp.MustCompile(`^Benchmark(\S+?)(?:-\d+)?\s+\d+\s+(.*)$`)

// read takes the best figures from the output of go test.
func read(r io.Reader, got map[string]result) {
	lines := bufio.NewScanner(r)
	for lines.Scan() {
		m := line.FindStringSubmatch(lines.Text())
		if m == nil {
			continue
		}
		one := result{}
		f := strings.Fields(m[2])
		for i := 0; i+1 < len(f); i += 2 {
			v, _ := strconv.ParseFloat(f[i], 64)
			switch f[i+1] {
			case "ns/op":
				one.ns = v
			case "allocs/op":
				one.allocs = v
			case "solve-ns":
				one.solve = v
			case "shown-ns":
				one.shown = v
			case "sheets/s":
				one.rate = v
			case "frames/s":
				one.frames = v
			case "frame-ms":
				one.frame = v
			}
		}
		if best, ok := got[m[1]]; ok {
			one.ns, one.solve, one.shown = min(one.ns, best.ns), min(one.solve, best.solve), min(one.shown, best.shown)
			one.rate, one.frames, one.frame = max(one.rate, best.rate), max(one.frames, best.frames), min(one.frame, best.frame)
		}
		got[m[1]] = one
	}
}

func report(got map[string]result, count int) string {
	var b strings.Builder
	fmt.Fprintf(&b, `# Benchmarks

Written by %s on %s: Go %s, %s, %d cores. Best of %d rounds; times are the machine's, ratios are what to compare.

| What | Time | Allocations | Aim | |
|---|---:|---:|---:|---|
`, "`make bench`", time.Now().Format("2006-01-02"), strings.TrimPrefix(runtime.Version(), "go"), cpu(), runtime.NumCPU(), count)
	for _, r := range []struct {
		name, what string
		aim        float64 // ns, 0 for none
		clean      bool    // no allocation allowed
	}{
		{"DayCharge", "A day's charge, 10 A to 14.6 V, within 0.1 %", 250e3, true},
		{"DayChargeUnequalCells", "The same with two unlike cells", 0, true},
		{"Storage180Days", "180 days on the shelf with 5 mA", 200e3, true},
		{"Crank", "A crank, 30 s at the CCA", 0, true},
		{"ChargeFromRest", "Charge band from a rest voltage", 1e3, true},
		{"FromLabel", "Parameters from a label", 0, false},
		{"StrengthFromLoad", "Strength with band from a load test", 0, false},
		{"Glance", "A full case's verdict and steps, its label's battery known", 100e3, false},
		{"Judged", "The same with every line of its ledger", 100e3, false},
		{"Assess", "The same with what every other school would have said", 0, false},
		{"AssessNewLabel", "The same with the label's battery to be found", 0, false},
		{"Opinion", "Suspects with their reasons and the next tests, every station read", 3e6, false},
		{"Suspected", "A full case's whole assessment, suspects and all", 0, false},
		{"Levers", "A week's energy account and its levers", 0, false},
		{"OpinionOfHundreds", "Suspects of 500 readings", 0, false},
		{"ReadingAnswered", "A reading saved and answered with its sheet, suspects and next tests, over HTTP", 100e6, false},
		{"Register/30", "The register of 30 batteries, over HTTP", 0, false},
		{"Register/300", "The register of 300 batteries, over HTTP", 0, false},
		{"Correction/10", "A correction of a job of ten readings", 0, false},
		{"Correction/765", "The same with hundreds of corrections before it", 0, false},
		{"Floor200/floor", "The floor of 200 open jobs", 60e6, false},
		{"Floor200/clock", "The clock beside it", 0, false},
		{"Forecast", "A charge's forecast with its band", 5e6, false},
		{"Estimate/2", "A charge estimated anew from two looks, and its forecast", 50e6, false},
		{"Estimate/8", "The same from eight looks", 50e6, false},
		{"Schedule", "A hundred batteries put in order on twenty chargers", 200e6, false},
		{"Bank/bank", "A bank of twenty chargers and eighty batteries that wait, over HTTP", 0, false},
		{"Bank/floor", "The floor of its hundred batteries", 0, false},
		{"Bank/clock", "Its clock", 0, false},
		{"Bank/anew", "The same clock from a server just started, signed in, some forecasts left for later", 0, false},
		{"JumpTry", "A try of three seconds, two batteries, alternator, leads and starter", 0, true},
		{"JumpPlan", "A jump start's plan that says not yet, with its advice, its labels' batteries known", 1e6, false},
		{"Season", "A season of 168 days with its band, in all seven ways of keeping it, its label's battery known", 10e6, false},
		{"SeasonLearnt", "The same of one that was looked at six times, in the ways a mower has", 0, false},
		{"Round", "A round over five hundred vehicles", 1e9, false},
		{"SeasonOfFiveHundred/anew", "A night of weather typed, and five hundred that stand reckoned anew, over HTTP", 2e9, false},
		{"SeasonOfFiveHundred/remembered", "Their list as it is remembered", 0, false},
		{"SeasonOfFiveHundred/clock", "The clock beside it", 0, false},
		{"SeasonOfFiveHundred/round", "Their round", 0, false},
		{"Report", "A report over HTTP, a picture on it: judged, drawn, tagged", 150e6, false},
		{"Print", "The drawing of it alone", 0, false},
		{"Find/name", "One search through 6,000 jobs, over HTTP: a customer", 50e6, false},
		{"Find/rare", "Two words that ten of them have in a note", 50e6, false},
		{"Find/common", "Two words that all have", 50e6, false},
		{"Backup", "A backup of 40,000 readings while somebody saves others", 5e9, false},
		{"AssessProcess", "`grapnel assess`, process and all", 0, false},
	} {
		x, ok := got[r.name]
		if !ok {
			fmt.Fprintf(&b, "| %s | not measured | | | |\n", r.what)
			continue
		}
		aim, met := "", ""
		if r.aim > 0 {
			aim = short(r.aim)
			met = verdict(x.ns <= r.aim && (!r.clean || x.allocs == 0))
		}
		allocs := ""
		if r.clean {
			allocs = fmt.Sprintf("%.0f", x.allocs)
		}
		fmt.Fprintf(&b, "| %s | %s | %s | %s | %s |\n", r.what, short(x.ns), allocs, aim, met)
	}
	b.WriteString(years(got))
	b.WriteString(`
## Against reference programs

The same equations, the same run, the same tolerance (3·10⁻⁴), in the same rounds. The reference's time is its solver alone: scipy's is the best of twenty solutions inside one interpreter, ngspice's is its own account of the transient.

| Run | Grapnel | Reference | Ratio | Aim | |
|---|---:|---:|---:|---:|---|
`)
	for _, r := range []struct{ what, own, ref, by string }{
		{"A day's charge", "DayChargeStepper", "DayChargeLSODA/odeint", "scipy LSODA (odeint)"},
		{"A day's charge", "DayChargeStepper", "DayChargeLSODA/solve_ivp", "scipy LSODA (solve_ivp)"},
		{"The circuit alone, a day's charge at a steady temperature", "DayChargeIsothermal", "DayChargeSpice",
			"ngspice transient"},
	} {
		own, ref := got[r.own].ns, got[r.ref].solve
		ratio := ref / own
		fmt.Fprintf(
			&b,
			"| %s | %s | %s, %s | %.0f | 30 | %s |\n",
			r.what,
			short(own),
			r.by,
			short(ref),
			ratio,
			verdict(ratio >= 30),
		)
	}
	b.WriteString("\nThat they agree is checked in `checks/`, not here.\n")
	b.WriteString(`
## First load

With nothing in the cache, on a phone's screen: 1.44 Mbit/s down, 562 ms to and fro, a quarter of this processor. From asking for the page to what one came for being painted.

| Place | Shown after | Aim | |
|---|---:|---:|---|
`)
	for _, r := range []struct {
		place, what string
		aim         float64
	}{{"signin", "Signing in", 3e9}, {"floor", "The floor, signed in", 3e9}, {"sheet", "A job sheet, signed in", 0}} {
		shown := got["FirstLoad/"+r.place].shown
		aim, met := "", ""
		if r.aim > 0 {
			aim, met = short(r.aim), verdict(shown > 0 && shown <= r.aim)
		}
		fmt.Fprintf(&b, "| %s | %s | %s | %s |\n", r.what, short(shown), aim, met)
	}
	b.WriteString(`
## Frames

The floor with a hundred batteries in hand, thirty of them charging, scrolled for three seconds. Aim: 60 frames a second.

| Screen | Frames a second | 99 of 100 frames within | |
|---|---:|---:|---|
`)
	for _, screen := range []string{"desktop", "phone"} {
		x := got["FloorFrames/"+screen]
		fmt.Fprintf(&b, "| %s | %.0f | %.0f ms | %s |\n", screen, x.frames, x.frame, verdict(x.frames >= 59))
	}
	step := got["JumpStep"]
	fmt.Fprintf(&b, "\nA press on a stepper of the jump planner is painted with its whole picture after %s, nine in ten within %.0f ms; aim one frame, 16.7 ms: %s.\n",
		short(step.shown), step.frame, verdict(step.shown > 0 && step.shown <= 16.7e6))
	season := got["SeasonFrame"]
	fmt.Fprintf(&b, "\nA tap on another way of keeping a stored battery is painted with its whole winter after %s, nine in ten within %.0f ms; aim one frame, 16.7 ms: %s.\n",
		short(season.shown), season.frame, verdict(season.shown > 0 && season.shown <= 16.7e6))
	return b.String()
}

// years tells what a shop's age does to what is done all day.
func years(got map[string]result) string {
	var b strings.Builder
	b.WriteString(`
## Years of work

A shop with thirty jobs in hand, over HTTP, after 60, 600 and 6000 jobs in all. Aim: at most 1.3 times the small shop's time.

| What | 60 | 600 | 6000 | Ratio | |
|---|---:|---:|---:|---:|---|
`)
	for _, r := range []struct{ name, what string }{{"sheet", "A sheet"}, {"floor", "The floor"},
		{"search", "Ten closed jobs found by their customer"}, {"clock", "The clock"}, {"bank", "The bank"},
		{"choices", "What a new job picks from"}, {"write", "A reading saved, answered with its sheet"}, {"open",
			"A job opened"}} {
		at := func(jobs int) float64 { return got[fmt.Sprintf("Years/%s/%d", r.name, jobs)].ns }
		ratio := at(6000) / at(60)
		fmt.Fprintf(
			&b,
			"| %s | %s | %s | %s | %.2f | %s |\n",
			r.what,
			short(at(60)),
			short(at(600)),
			short(at(6000)),
			ratio,
			verdict(ratio <= 1.3),
		)
	}
	ratio := got["SheetAlone/served"].ns / got["SheetAlone/bare"].ns
	fmt.Fprintf(
		&b,
		"\nA sheet served, its judgement known, takes %s; its bare queries and the encoding of its answer %s: %.1f times, aim 3: %s. Fifty people at once open %.0f sheets a second, aim 350: %s.\n",
		short(
			got["SheetAlone/served"].ns,
		),
		short(got["SheetAlone/bare"].ns),
		ratio,
		verdict(ratio <= 3),
		got["Sheets"].rate,
		verdict(got["Sheets"].rate >= 350),
	)
	return b.String()
}

func verdict(ok bool) string {
	if ok {
		return "met"
	}
	return "**missed**"
}

// short writes nanoseconds with three digits.
func short(ns float64) string {
	switch {
	case ns < 1e3:
		return fmt.Sprintf("%.3g ns", ns)
	case ns < 1e6:
		return fmt.Sprintf("%.3g µs", ns/1e3)
	case ns >= 1e9:
		return fmt.Sprintf("%.2f s", ns/1e9)
	}
	return fmt.Sprintf("%.3g ms", ns/1e6)
}

// cpu names the processor, where the system tells.
func cpu() string {
	info, err := os.ReadFile("/proc/cpuinfo")
	if err == nil {
		for l := range strings.SplitSeq(string(info), "\n") {
			if name, ok := strings.CutPrefix(l, "model name"); ok {
				return strings.TrimSpace(strings.TrimLeft(name, "\t :"))
			}
		}
	}
	return runtime.GOARCH
}
