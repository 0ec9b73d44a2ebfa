package station

import (
	"slices"

	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// proven are the gauges that show whether cleaning has made a difference, in order.
var proven = []string{"lid_volts", "rest_volts", "drop_live", "drop_earth"}

// Proof gives what was read before a battery was cleaned for the first time beside what has
// been read since it was last: lid leakage, rest volts, the drop over each path. Before it
// was cleaned what was read is the band, and nothing was; a gauge that was never read is
// left out.
func Proof(c reading.Case, labels bench.Labels) []bench.Gauge {
	first := slices.IndexFunc(c.Readings, func(r reading.Reading) bool { return r.Kind == Cleaned })
	out := []bench.Gauge{}
	if first < 0 {
		return append(out, shown(c, labels)...)
	}
	last := first
	for i, r := range c.Readings {
		if r.Kind == Cleaned {
			last = i
		}
	}
	before, since := c, c
	before.Readings, since.Readings = c.Readings[:first], nil
	for i, r := range c.Readings {
		if i > last || !slices.Contains([]string{LidLeakage, RestVoltage, Crank, CableDrop}, r.Kind) {
			since.Readings = append(since.Readings, r)
		}
	}
	now := shown(since, labels)
	for _, was := range shown(before, labels) {
		i := slices.IndexFunc(now, func(g bench.Gauge) bool { return g.Quantity == was.Quantity })
		if i < 0 { // not read again yet
			one := was
			one.Band, one.Was, one.Level = nil, was.Band, bench.Note
			one.Label = words.Say(proofWas, "was", measure.Of(was.Band.Best, measure.Unit(was.Unit), was.Digits))
			out = append(out, one)
			continue
		}
		now[i].Was = was.Band
		now[i].Max = max(now[i].Max, was.Max)
		now[i].Label = words.Say(proofBoth, "was", measure.Plain(was.Band.Best, was.Digits), "now",
			measure.Of(now[i].Band.Best, measure.Unit(was.Unit), was.Digits))
	}
	out = append(out, now...)
	slices.SortStableFunc(out, func(a, b bench.Gauge) int {
		return slices.Index(proven, a.Quantity) - slices.Index(proven, b.Quantity)
	})
	return out
}

// shown gives those of the proving gauges that have something to show.
func shown(c reading.Case, labels bench.Labels) []bench.Gauge {
	b := Put(c, labels)
	var out []bench.Gauge
	for _, all := range [][]bench.Gauge{lidGauges(b), restGauges(b), crankGauges(b)} {
		for _, g := range all {
			if slices.Contains(proven, g.Quantity) && g.Band != nil {
				g.Title = g.Name
				out = append(out, g)
			}
		}
	}
	return out
}

// shownAfter are the figures that are told of a job, in order: one of a kind.
var shownAfter = []string{"charge", "cranking", "load_volts", "crank_volts", "drop_live", "drop_earth", "charging_volts", "drain", "lid_volts"}

// BeforeAndNow gives the figures that are told of a job, as far as they were read, each with
// what it was in the cases before the work, the earliest first, where that differs.
func BeforeAndNow(b *bench.Bench, before []reading.Case, labels bench.Labels) []bench.Gauge {
	was, now := map[string]bench.Gauge{}, read(b)
	for _, c := range before {
		for quantity, g := range read(Put(c, labels)) {
			if _, earlier := was[quantity]; !earlier {
				was[quantity] = g
			}
		}
	}
	out := []bench.Gauge{}
	for _, quantity := range shownAfter {
		g, ok := now[quantity]
		if _, strength := now["cranking"]; !ok || quantity == "load_volts" && strength {
			continue
		}
		if old, ok := was[quantity]; ok && *old.Band != *g.Band {
			g.Was = old.Band
			g.Min, g.Max = min(g.Min, old.Min), max(g.Max, old.Max)
		}
		g.Title = g.Name
		out = append(out, g)
	}
	return out
}

// read gives every gauge that has a reading, by its quantity.
func read(b *bench.Bench) map[string]bench.Gauge {
	out := map[string]bench.Gauge{}
	for _, s := range stations {
		if s.Gauges == nil {
			continue
		}
		for _, g := range s.Gauges(b) {
			if g.Band != nil {
				out[g.Quantity] = g
			}
		}
	}
	return out
}

const (
	proofWas  = "{was} before"
	proofBoth = "{was} before, {now} now"
)
