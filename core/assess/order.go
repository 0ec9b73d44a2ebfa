package assess

import (
	"cmp"
	"slices"

	"grapnel/core/bench"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/suspect"
	"grapnel/core/words"
)

// measures are the steps that measure something, by the kind of reading that package
// suspect values.
var measures = map[string]string{
	"rest_voltage": station.RestVoltage, "acid": station.Hydrometer, "eye": station.Eye, "load_test": station.LoadTest,
	"rest_apart": suspect.RestApart, "conductance": station.Conductance, "cable_drop": station.CableDrop, "charging": station.Charging, "drain": station.Drain,
}

// stepOf is the step that takes a kind of reading.
func stepOf(kind string) string {
	for s, k := range measures {
		if k == kind {
			return s
		}
	}
	return ""
}

// leastOffered is the information, bits, under which a test is not offered; mostOffered
// is how many are. House judgement.
const (
	leastOffered = 0.03
	mostOffered  = 3
)

// ordered gives the steps of a verdict with what each is expected to tell, and the best
// tests beside them. What the verdict cannot be had without stands first; where it
// leaves open what is measured next, the test that tells most for its minutes does,
// unless the house goes by its stations.
func ordered(b *bench.Bench, a Assessment, op suspect.Opinion) Assessment {
	worth := map[string]suspect.Test{}
	for _, t := range op.Tests {
		if s := stepOf(t.Code); t.After == "" {
			worth[s] = t
		}
	}
	for i := range a.Next {
		if t, ok := worth[a.Next[i].Test]; ok {
			a.Next[i].Bits, a.Next[i].Minutes, a.Next[i].Waits = t.Bits, t.Work, t.Wait
		}
	}
	a.Tests = offered(b, op)
	if (complains(b, crankComplaints) || flatNoWhy(b)) && !mended(b) && !shownGone(b) {
		a.Next = askedFirst(b, a, op)
	}
	if a.Verdict != LookElsewhere {
		return a
	}
	from, to := open(a.Next)
	tests := slices.Clone(a.Next[from:to])
	slices.SortStableFunc(tests, func(x, y Step) int {
		if b.House.TestOrder == rules.StationOrder {
			return cmp.Compare(placeOf(measures[x.Test]), placeOf(measures[y.Test]))
		}
		return cmp.Compare(worth[y.Test].Worth(), worth[x.Test].Worth())
	})
	a.Next = slices.Concat(a.Next[:from:from], tests, a.Next[to:])
	return a
}

// leastAsked is the information for each minute from which a test is asked for before a
// battery that holds goes back, bits; and leastDoubt what it must settle at all. House
// judgement: docs/clinic.md shows what comes of it.
const (
	leastAsked = 0.018
	leastDoubt = 0.08
)

// askedFirst puts the tests that settle much before the end of a job whose battery
// holds: what was complained of is still to be found.
func askedFirst(b *bench.Bench, a Assessment, op suspect.Opinion) []Step {
	if a.Verdict != Good && a.Verdict != Weak && a.Verdict != LookElsewhere {
		return a.Next
	}
	has := func(test string) bool {
		return slices.ContainsFunc(a.Next, func(n Step) bool { return n.Test == test })
	}
	if has("mend") || a.Verdict == LookElsewhere && (has("drain") || looksDone(b)) {
		return a.Next
	}
	end := slices.IndexFunc(a.Next, func(n Step) bool {
		return slices.Contains([]string{"put_right", "tell", "why_flat", "hand_over", "charge"}, n.Test)
	})
	if end < 0 {
		return a.Next
	}
	if end > 0 && a.Next[end-1].Test == "clean" {
		end-- // in passing, before it goes
	}
	var ask []Step
	for _, t := range op.Tests {
		s := stepOf(t.Code)
		if t.Code == station.CableDrop && !complains(b, turnComplaints) {
			continue // it turned
		}
		if t.After == "" && t.Bits >= leastDoubt && t.Worth() >= leastAsked && !has(s) {
			ask = append(ask, stepFor(t))
		}
	}
	return slices.Concat(a.Next[:end:end], ask, a.Next[end:])
}

// mended reports whether a fault outside the battery was put right in this job: what was
// complained of has its reason.
func mended(b *bench.Bench) bool {
	for _, r := range b.Case.Readings {
		for _, what := range r.Words("what") {
			if r.Kind == station.PutRight && slices.Contains([]string{"cable", "earth_strap", "belt", "starter", "alternator", "drain"}, what) {
				return true
			}
		}
	}
	return false
}

// shownGone reports whether what it came for was tried again after the last work, and is
// gone: nothing more is asked after it.
func shownGone(b *bench.Bench) bool {
	for _, r := range slices.Backward(b.Case.Readings) {
		switch {
		case r.Kind == station.Proven:
			return r.Word("restart") == station.AtOnce && r.Word("complaint") == station.Gone
		case slices.Contains(works, r.Kind):
			return false
		}
	}
	return false
}

// turnComplaints are of an engine that would not turn or fire as it should.
var turnComplaints = []string{"dead_silent", "single_click", "rapid_click", "slow_crank", "cranks_no_fire", "cold_only"}

// open gives where the first run of measuring steps stands.
func open(next []Step) (from, to int) {
	measured := func(s Step) bool { return measures[s.Test] != "" }
	from = slices.IndexFunc(next, measured)
	if from < 0 {
		return 0, 0
	}
	to = from
	for to < len(next) && measured(next[to]) {
		to++
	}
	return from, to
}

// offered are the best tests as steps, with the reason in plain words.
func offered(b *bench.Bench, op suspect.Opinion) []Step {
	out := []Step{}
	tests := slices.Clone(op.Tests)
	if b.House.TestOrder == rules.StationOrder {
		slices.SortStableFunc(tests, func(x, y suspect.Test) int {
			return cmp.Compare(placeOf(x.Code), placeOf(y.Code))
		})
	}
	for _, t := range tests {
		if t.Bits < leastOffered || len(out) == mostOffered {
			continue
		}
		out = append(out, stepFor(t))
	}
	return out
}

// stepFor is a test as a step.
func stepFor(t suspect.Test) Step {
	s := step(stepOf(t.Code), "")
	s.Bits, s.Minutes, s.Waits, s.After, s.Clock, s.Breaks = t.Bits, t.Work, t.Wait, t.After, t.Clock, t.Breaks > 0
	s.Why = words.Say(t.Why())
	return s
}

// placeOf is where on the sheet a kind of reading is taken.
func placeOf(kind string) int {
	s, _ := station.At(kind)
	return s.Place
}
