package clinic

import (
	"cmp"
	"fmt"
	"io"
	"maps"
	"slices"
	"strings"
)

// Report writes what came of a clinic, as docs/clinic.md has it.
func Report(w io.Writer, results []Result, seed uint64) {
	s := Of(results)
	met := func(ok bool) string {
		if ok {
			return "met"
		}
		return "**not met**"
	}
	fmt.Fprintf(w, intro, s.Vehicles, seed)
	fmt.Fprintln(w, "| Figure | Here | Aim | |\n|---|---:|---:|---|")
	row := func(name, here, aim string, ok bool) {
		fmt.Fprintf(w, "| %s | %s | %s | %s |\n", name, here, aim, met(ok))
	}
	row("Right verdict", fmt.Sprintf("%.1f %%", s.Right), "95 %", s.Right >= 95)
	row("Right first suspect (either of two for doubles)", fmt.Sprintf("%.1f %%", s.Suspect), "90 %", s.Suspect >= 90)
	fmt.Fprintf(w, "| First suspect asks for the right thing to do | %.1f %% | | |\n", s.Remedy)
	row("Dangerous advice", fmt.Sprintf("%d vehicles", s.Dangerous), "0", s.Dangerous == 0)
	row("Sound batteries condemned", fmt.Sprintf("%.2f %% of %d", s.Condemned, s.SoundOnes), "under 0.5 %", s.Condemned < 0.5)
	row("Bad batteries passed", fmt.Sprintf("%.2f %% of %d", s.Passed, s.BadOnes), "under 2 %", s.Passed < 2)
	row("Of what is called 80 % (75 to 85), true", fmt.Sprintf("%.0f %% of %d", s.Eighty.Percent(), s.Eighty.Called), "75 to 85 %",
		s.Eighty.Percent() >= 75 && s.Eighty.Percent() <= 85)
	row("Work to the verdict, against every station in order", fmt.Sprintf("%.1f min, %.0f %%", s.ToVerdict, s.Share()), "60 %", s.Share() <= 60)
	row("Jobs that came to no end", fmt.Sprintf("%d", s.Stuck), "0", s.Stuck == 0)
	fmt.Fprint(w, beside)
	fmt.Fprintln(w, "| Way of working | Right verdict | Sound condemned | Bad passed | Work | Waiting |\n|---|---:|---:|---:|---:|---:|")
	fmt.Fprintf(w, "| Grapnel, the offered steps only | %.1f %% | %.2f %% | %.1f %% | %.1f min | %.1f h |\n", s.Right, s.Condemned, s.Passed, s.ToVerdict, s.Waiting)
	for _, o := range s.Ways {
		fmt.Fprintf(w, "| %s | %.1f %% | %.2f %% | %.1f %% | %.1f min | %.1f h |\n", o.Name, o.Right, o.Condemned, o.Passed, o.Work, o.Waiting)
	}
	fmt.Fprint(w, calibration)
	fmt.Fprintln(w, "| Called | Times | True |\n|---|---:|---:|")
	for i, b := range s.Bins {
		fmt.Fprintf(w, "| %d to %d %% | %d | %.0f %% |\n", 10*i, 10*i+10, b.Called, b.Percent())
	}
	fmt.Fprint(w, confusion)
	fmt.Fprintln(w, "| Really | Vehicles | Right verdict | Right suspect | First suspects |\n|---|---:|---:|---:|---|")
	keys := slices.SortedFunc(maps.Keys(s.ByFault), func(a, b string) int {
		return cmp.Or(cmp.Compare(s.ByFault[b].Vehicles, s.ByFault[a].Vehicles), cmp.Compare(a, b))
	})
	for _, k := range keys {
		f := s.ByFault[k]
		fmt.Fprintf(w, "| %s | %d | %.1f %% | %.1f %% | %s |\n", k, f.Vehicles, part(f.Right, f.Vehicles), part(f.Suspect, f.Vehicles), most(f.First, 4))
	}
	worst(w, results, 10)
}

// most gives the commonest of what was counted.
func most(counted map[string]int, n int) string {
	keys := slices.SortedFunc(maps.Keys(counted), func(a, b string) int {
		return cmp.Or(cmp.Compare(counted[b], counted[a]), cmp.Compare(a, b))
	})
	var out []string
	for _, k := range keys[:min(n, len(keys))] {
		out = append(out, fmt.Sprintf("%s %d", k, counted[k]))
	}
	return strings.Join(out, ", ")
}

// badness is how much harm a wrong end does: danger first, then a sound battery
// condemned, then a bad one passed.
func badness(r Result) int {
	switch {
	case len(r.Outcome.Danger) > 0:
		return 4
	case r.Sound && condemns(r.Outcome.Verdict):
		return 3
	case r.Bad && passes(r.Outcome.Verdict):
		return 2
	case !r.RightVerdict():
		return 1
	}
	return 0
}

// worst tells the vehicles that came to the worst ends, of each kind some.
func worst(w io.Writer, results []Result, n int) {
	bad := slices.DeleteFunc(slices.Clone(results), func(r Result) bool { return badness(r) == 0 })
	slices.SortStableFunc(bad, func(a, b Result) int { return cmp.Compare(badness(b), badness(a)) })
	fmt.Fprint(w, worstIntro)
	for _, r := range bad[:min(n, len(bad))] {
		v, o := r.Vehicle, r.Outcome
		fmt.Fprintf(w, "- **%d**: %s, %s %s, %.1f years, %.0f %% of its label; really %s%s. Said: %s. Seen: %s. Ended as *%s* where *%s* was right. %s\n",
			r.Seed&0xffffffff, v.Class, v.Chemistry, v.Fuel, v.Years, v.pct, faultsOf(v), odd(v), listed(v.Complaint), listed(v.seen), o.Verdict,
			strings.Join(r.Right, "* or *"), why(r))
	}
}

func odd(v *Vehicle) string {
	if v.Odd == "" {
		return ""
	}
	return ", with " + map[string]string{"stratified": "stratified acid", "intermittent": "an intermittent joint", "loose_plate": "a loose plate"}[v.Odd]
}

func listed(words []string) string {
	if len(words) == 0 {
		return "nothing"
	}
	return strings.Join(words, ", ")
}

// why says what misled: from what is really there, which the work could not see.
func why(r Result) string {
	v := r.Vehicle
	k := v.Volts / 12
	switch {
	case len(r.Outcome.Danger) > 0:
		return "Dangerous: " + strings.Join(r.Outcome.Danger, ", ") + "."
	case r.Outcome.Stuck:
		return "It came to no end."
	case v.Odd == "intermittent":
		return "The joint was good whenever it was measured."
	case v.Odd == "loose_plate":
		return "The plate made contact on one test and not on the other."
	case v.has("dirty_contacts") && condemns(r.Outcome.Verdict):
		return fmt.Sprintf("The load tester was clamped through a contact of %.1f mΩ in which nothing was to be seen, and nothing was complained of that asks for cleaning first.",
			1000*v.bad)
	case v.has("shorted_cell") && passes(r.Outcome.Verdict):
		return "The cell loses its charge over a day, and it was tested within hours of a charge; no night apart was asked for."
	case v.loaded21 > 9.3*k && v.loaded21 < 9.9*k:
		return fmt.Sprintf("At the edge: a perfect load test of it would end at %.2f V.", v.loaded21)
	case v.pct < 60 && passes(r.Outcome.Verdict):
		return fmt.Sprintf("A perfect load test of it would end at %.2f V; warmth, a pile that draws too little and the spread of strength let it through.", v.loaded21)
	case len(v.Complaint) == 0:
		return "Nothing was complained of, so nothing more was asked for."
	}
	return "Path: " + strings.Join(r.Outcome.Path, ", ") + "."
}

const intro = `# The clinic

Written by ` + "`make clinic`" + `: %d simulated vehicles with known faults (seed %d), measured by instruments that err and technicians with habits, worked by the steps that Grapnel offers and nothing else.

The clinic draws its faults, figures and noise itself, wider than the diagnosis assumes and some outside it: stratified acid, an intermittent joint, a loose plate. It runs the dynamic battery model; it shares nothing with what stations expect to read but package ` + "`battery`" + `. Voltmeters have offset and gain, load piles draw too much or too little and some read through their own leads, testers are clamped on the cable's clamps as often as on the posts, a rating is keyed by the wrong standard, loads are held too long, one technician in five reads volts with the surface charge on them, one in seven takes no temperature, one eye in twenty-five is misread.

What is right is settled by the vehicle as it came in. A battery is *bad* where nothing but replacing or stopping is right: a perfect load test of it, full, at 21 °C, half its label, 15 s, would end under 9.40 V of 12, or a cell is shorted, or its case cannot be trusted. Between 9.40 and 9.70 V *weak* is as right as *replace*. From 52 to 65 %% of its label a battery that passes the published test may be called weak or good: nobody can tell. It is *sound* where nobody would replace it.

`

const beside = `
The first suspect is short of its aim. Most of what is missing cannot be told apart by anything a workshop measures: a bad joint inside sags as worn plates do, and both are replaced; a starter that gets no current may be kept from it by an immobiliser or be open itself; a path that loses a volt loses it in the clamp or in the cable until the probe is stepped along it; and a battery that lives on short trips is like any other where nobody speaks of them. Tried: faults inside by age, a collapse under load as the mark of a bad joint, both sides of the cables weighed as one, what a customer is always asked weighed more when it is denied. Counted by what is to be done, the first suspect is right as often as the row below it says.

Work to the verdict leaves out the charge that only makes a sound battery ready to go. Dangerous is a charge, load or crank offered for a battery that is frozen, cracked, bulged, leaking or dry, before anybody was told to look, or after that was written down.

## Beside three simple ways

The same vehicles, the same instruments and habits. Every station in order means every one the vehicle has: lid and contacts cleaned first, acid and eye where there are any, charged under 12.4 V, then load, crank with drops, charging and drain, judged by published limits.

`

const calibration = `
## Is what is called likely, likely?

How often each fault was called so likely at the end of the work, and how often it was there.

`

const confusion = `
## What was taken for what

`

const worstIntro = `
## The ten worst

The gravest first: danger, a sound battery condemned, a bad one passed, any other wrong end. The number is the vehicle's; ` + "`go run ./checks/clinic/run -vehicle NUMBER`" + ` shows its readings.

`
