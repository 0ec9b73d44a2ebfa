package record

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"grapnel/core/assess"
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/casefile"
	"grapnel/core/reading"
	"grapnel/core/station"
)

// entry is everything that is said of one case.
type entry struct {
	verdict, headline, because string
	soc, cca                   string
	wait                       string
	lines                      []line
}

// line is one finding, step, gauge or advice.
type line struct {
	mark   string   // what it is, its code and level
	fields []string // codes and figures
	words  []string // sentences, empty where there is none
}

// decode gives the case of a document as it stands after its corrections.
func decode(d Document) (reading.Case, error) {
	c, err := casefile.Decode(d.Case)
	if err != nil {
		return c, err
	}
	var log []reading.Entry
	for i, r := range c.Readings {
		id := fmt.Sprint("r", i)
		raw, ok := d.Replaced[i]
		if !ok {
			log = append(log, reading.Entry{ID: id, Reading: r, Place: i + 1})
			continue
		}
		var old reading.Reading
		if err := json.Unmarshal(raw, &old); err != nil {
			return c, err
		}
		log = append(log, reading.Entry{ID: "old" + id, Reading: old, Place: i + 1})
	}
	// Corrections are saved last and take the place of what they correct.
	for i, r := range c.Readings {
		if _, ok := d.Replaced[i]; ok {
			log = reading.WithEntry(log,
				reading.Entry{ID: fmt.Sprint("r", i), Reading: r, Replaces: fmt.Sprint("oldr", i)})
		}
	}
	c.Readings = nil
	for _, i := range reading.InEffect(log) {
		c.Readings = append(c.Readings, log[i].Reading)
	}
	return c, nil
}

func spellBand(b *battery.Band) string {
	if b == nil {
		return "-"
	}
	return fmt.Sprintf("%.4g/%.4g/%.4g", b.Low, b.Best, b.High)
}

// judged writes down what Grapnel says of a case.
func judged(c reading.Case) entry {
	sheet := assess.Judge(c, assess.As{ByRules: true})
	a := sheet.Assessment
	w := assess.Waits(a, nil, nil, false, noon)
	e := entry{
		verdict:  string(a.Verdict),
		headline: a.Headline.String(),
		because:  a.Because.String(),
		soc:      spellBand(a.SOC),
		cca:      "-",
		wait:     w.For + " " + w.Word.String(),
	}
	if a.CCAEst != nil {
		e.cca = fmt.Sprintf("%s=%.0f%%", spellBand(&a.CCAEst.Band), a.CCAEst.OfRatingPct)
	}
	for _, f := range a.Findings {
		e.lines = append(e.lines, line{
			level(f.Level) + " " + f.Code,
			[]string{strings.ReplaceAll(strings.Trim(fmt.Sprint(f.Readings), "[]"), " ", ","), f.Rule},
			[]string{f.Text.String(), f.Why.String(), f.Source, f.Other.String()},
		})
	}
	for _, n := range a.Next {
		e.lines = append(e.lines,
			line{"> " + n.Test, []string{fmt.Sprintf("%g", n.Minutes)}, []string{n.Do.String(), n.Why.String()}})
	}
	e.lines = append(e.lines, line{"!", a.Cautions, nil})
	for _, o := range a.Others {
		e.lines = append(e.lines, line{"~ " + o.Rule, []string{string(o.Verdict)}, []string{o.School, o.Headline.String()}})
	}
	if a.FailsBelow != nil {
		e.lines = append(e.lines, line{"below", []string{fmt.Sprintf("%g", *a.FailsBelow)}, nil})
	}
	gauges := map[string]bench.Gauge{}
	var load station.Advice
	for _, st := range sheet.Stations {
		for _, g := range st.Gauges {
			gauges[g.Quantity] = g
		}
		if st.Station.Code == station.Strength {
			load = st.Advice
		}
	}
	for _, q := range []string{"rest_volts", "charge", "load_volts", "cranking"} {
		g, ok := gauges[q]
		if !ok {
			continue
		}
		var notches []string
		for _, n := range g.Notches {
			ghost := ""
			if n.Ghost {
				ghost = " (ghost)"
			}
			notches = append(notches, fmt.Sprintf("%.5g %s%s", n.At, n.Word, ghost))
		}
		e.lines = append(e.lines, line{level(g.Level) + "= " + g.Quantity, []string{spellBand(g.Band)},
			[]string{
				g.Label.String(),
				strings.Join(notches, "; "),
				fmt.Sprintf("%g to %g by %g %s, %d", g.Min, g.Max, g.Step, g.Unit, g.Digits),
			}})
	}
	e.lines = append(e.lines, advice(load))
	return e
}

// advice is what to set for the usual load test, and whether it would be fair.
func advice(a station.Advice) line {
	i := slices.IndexFunc(a.Ways, func(w station.Way) bool { return w.Code == station.HalfCCA })
	half := a.Ways[i]
	fair := "unknown"
	if a.Level == bench.OK {
		fair = "yes"
	} else if !a.Head.IsZero() {
		fair = "no"
	}
	amps, problem, from := 0.0, half.Set.From.String(), ""
	if half.Set.Value != nil {
		amps, problem, from = *half.Set.Value, "", half.Set.From.String()
	}
	limit := ""
	for _, f := range half.Fields {
		if f.Name == "volts_end" {
			limit = f.Hint.String()
		}
	}
	return line{
		"load " + fair,
		[]string{fmt.Sprintf("%t %g", half.Set.Value != nil, amps)},
		[]string{a.Text.String(), problem, from, half.Set.Note.String(), limit},
	}
}

func level(l bench.Level) string {
	return map[bench.Level]string{bench.OK: ".", bench.Note: "n", bench.Act: "a", bench.Stopped: "S"}[l]
}
