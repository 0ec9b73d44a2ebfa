package demo

import (
	"slices"
	"testing"
	"time"

	"grapnel/core/assess"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/station"
)

func of(kind string, pairs ...any) reading.Reading {
	f := reading.Fields{}
	for i := 0; i+1 < len(pairs); i += 2 {
		f[pairs[i].(string)] = pairs[i+1]
	}
	return reading.Of(kind, f)
}

// Five vehicles of the demo are solved by doing what is offered first and nothing else:
// each step is answered by what would be read on that vehicle, and the end is what is
// wrong with it.
func TestFiveVehiclesSolved(t *testing.T) {
	whole := looked("clean")
	charges, quiet := running(14.3, "raised", "on"), drawn(18, 40)
	for _, c := range []struct {
		tag     string
		wrong   string
		answers map[string][]reading.Reading // by step, in the order they are asked for
		verdict assess.Verdict
		ends    string // the step it ends at
		most    int    // steps
	}{
		{"K-0142", "only flat: short trips", map[string][]reading.Reading{
			"look": {whole}, "charge": {full(6, 0.4)}, "rest": {rested(12.72, 600)}, "rest_voltage": {rested(12.72, 600)}, "load_test": {loaded(150, 10.3, 12)},
			"charging": {charges}, "drain": {quiet}, "cable_drop": {of(station.Crank, "volts_min", 10.6, "amps", 140, "turned", "normal", "drop_live_volts", 0.12, "drop_earth_volts", 0.1)},
			"acid":     {of(station.Hydrometer, "cells_sg", []float64{1.265, 1.265, 1.26, 1.265, 1.265, 1.265}, "level", "covered", "acid_c", 12)},
			"why_flat": {week(10, 4, 0).With("long_minutes", 1)}, "clean": {cleaned("posts", "clamps")},
		}, assess.Good, "hand_over", 11},
		{"K-0117", "a drain", map[string][]reading.Reading{
			"look": {whole}, "charge": {full(9, 0.5)}, "rest": {rested(12.75, 600)}, "rest_voltage": {rested(12.75, 600)}, "load_test": {loaded(90, 10.8, 14)}, "charging": {charges}, "drain": {drawn(420, 40), of(station.Drain, "milliamps", 12, "fuse", "7")},
			"cable_drop": {of(station.Crank, "volts_min", 10.8, "amps", 60, "turned", "normal")}, "clean": {cleaned("posts", "clamps")},
		}, assess.LookElsewhere, "mend", 10},
		{"K-0132", "a drain of a fortnight", map[string][]reading.Reading{
			"drain": {drawn(310, 45), of(station.Drain, "milliamps", 25, "fuse", "22")}, "clean": {cleaned("posts", "clamps")}, "cable_drop": {of(station.Crank, "volts_min", 10.9, "amps", 190, "turned", "normal")},
		}, assess.LookElsewhere, "mend", 4},
		{"K-0102", "a bad earth", map[string][]reading.Reading{
			"charging": {charges}, "drain": {quiet}, "cable_drop": {of(station.Crank, "volts_min", 11.0, "amps", 150, "turned", "slow", "drop_live_volts", 0.15, "drop_earth_volts", 1.3)},
		}, assess.LookElsewhere, "mend", 4},
		{"K-0098", "one of a pair is worn out", map[string][]reading.Reading{
			"look": {whole}, "clean": {cleaned("posts", "clamps")}, "load_test": {loaded(450, 7.9, 11)}, "charge": {full(3, 0.5)}, "rest": {rested(12.85, 600)},
			"rest_voltage": {rested(12.85, 600)}, "charging": {charges}, "drain": {quiet},
			"cable_drop": {of(station.Crank, "volts_min", 8.9, "amps", 300, "turned", "slow", "drop_live_volts", 0.2, "drop_earth_volts", 0.2)},
		}, assess.Replace, "replace_both", 8},
	} {
		t.Run(c.tag+" "+c.wrong, func(t *testing.T) {
			now := time.Date(2026, 11, 25, 11, 0, 0, 0, time.UTC)
			m := mornings[slices.IndexFunc(mornings, func(m morning) bool { return m.tag == c.tag })]
			u := units[slices.IndexFunc(units, func(u unit) bool { return u.tag == c.tag })]
			job := filler{now: now}.job(u)
			job.Complaint, job.Conditions = m.complaint, reading.Conditions{AmbientC: num(m.ambientC), BatteryC: num(m.batteryC)}
			sheet := job.Case(nil)
			for _, r := range m.readings {
				at := ago(now, r.ago)
				r.r.At = &at
				sheet.Readings = append(sheet.Readings, r.r)
			}
			var done []string
			for {
				now = now.Add(time.Hour)
				sheet.AsOf = &now
				a := assess.Assess(sheet, readingtest.Labels)
				step := a.Next[0].Test
				if step == c.ends {
					if a.Verdict != c.verdict {
						t.Errorf("%v, then %s: %s, want %s", done, step, a.Verdict, c.verdict)
					}
					if len(done) > c.most {
						t.Errorf("%d steps: %v", len(done), done)
					}
					t.Logf("%v, then %s: %s", done, step, a.Headline)
					return
				}
				if len(c.answers[step]) == 0 || len(done) > 20 {
					t.Fatalf("after %v it asks for %s: %s", done, step, a.Headline)
				}
				r := c.answers[step][0]
				if len(c.answers[step]) > 1 {
					c.answers[step] = c.answers[step][1:]
				}
				at := now
				r.At = &at
				sheet.Readings = append(sheet.Readings, r)
				done = append(done, step)
			}
		})
	}
}
