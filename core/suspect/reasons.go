package suspect

import (
	"cmp"
	"math"
	"slices"

	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/core/words"
)

// weights gives for each fault what each reading weighs for it: the logarithm of how
// many times likelier it makes the fault.
func (m *model) weights(bel *belief, order []Fault) [][]float64 {
	out := make([][]float64, len(order))
	for i := range out {
		out[i] = make([]float64, len(m.c.Readings))
	}
	left := mostWeighed
	for r := len(m.c.Readings) - 1; r >= 0 && left > 0; r-- {
		if !m.says(r) {
			continue
		}
		left--
		less := m.lacking(r)
		for i, f := range order {
			out[i][r] = logOdds(m.present(bel, f)) - logOdds(m.present(less, f))
		}
	}
	return out
}

// mostWeighed is of how many readings, the latest, it is told what each weighs: all
// count, but nobody reads on.
const mostWeighed = 100

// lacking is what would be believed without one reading, worked out once.
func (m *model) lacking(r int) *belief {
	if m.less == nil {
		m.less = make([]*belief, len(m.c.Readings))
	}
	if m.less[r] == nil {
		bel := m.weigh(r)
		m.less[r] = &bel
	}
	return m.less[r]
}

// says reports whether a reading weighs at all.
func (m *model) says(r int) bool {
	if slices.ContainsFunc(m.outside, func(a about) bool { return a.reading == r }) {
		return true
	}
	for e := range m.stretches {
		if slices.ContainsFunc(m.stretches[e].tables, func(t table) bool { return t.reading == r }) {
			return true
		}
	}
	said := m.words[r]
	return slices.ContainsFunc(said, func(p float64) bool { return p != said[0] })
}

func logOdds(p float64) float64 {
	p = clamp(p, 1e-6, 1-1e-6)
	return math.Log(p / (1 - p))
}

// speaks is from where a reading is said to speak for or against a fault: half as
// likely again. House judgement.
var speaks = math.Log(1.5)

// reasons gives what speaks for and against a fault, the weightiest first, after the
// complaint.
func (m *model) reasons(f Fault, weights []float64) []Reason {
	var out []Reason
	for _, c := range m.c.Complaint {
		for _, t := range said {
			if ratio := t.with[f] / t.base; t.word == c && ratio > 2.5 {
				out = append(out, Reason{words.Say(saysComplaint, "complaint", reading.Complaints().Word(c)), math.Log2(ratio), -1})
			}
		}
	}
	var read []Reason
	for r, w := range weights {
		if math.Abs(w) >= speaks {
			read = append(read, Reason{m.reason(f, r, w < 0), w / math.Ln2, r})
		}
	}
	slices.SortStableFunc(read, func(a, b Reason) int { return cmp.Compare(math.Abs(b.Weight), math.Abs(a.Weight)) })
	out = append(out, read...)
	return out[:min(len(out), mostTold)]
}

const mostTold = 6

// reason says a reading, and what would have stood there with the fault where that is
// another figure.
func (m *model) reason(f Fault, r int, against bool) words.Text {
	read := station.Tell(m.c.Readings[r]).Text
	if how, ok := turnedWords[m.c.Readings[r].Word("turned")]; ok {
		read = words.Say(saysTurned, "read", read, "turned", how)
	}
	if !against || f == None {
		return read
	}
	would, ok := m.would(f, r)
	if !ok {
		return read
	}
	return words.Say(saysWould, "read", read, "fault", f.said(), "would", would)
}

func (f Fault) said() string { return faultWords.Said(f.Code()) }

// would gives the figure a reading would have shown with a fault; false where it is
// no figure, or close to what was read.
func (m *model) would(f Fault, r int) (measure.Quantity, bool) {
	for e := range m.stretches {
		st := &m.stretches[e]
		for i := range st.tables {
			if t := &st.tables[i]; t.reading == r && t.would != nil {
				return m.wouldInside(f, st, t)
			}
		}
	}
	for i := range m.outside {
		if a := &m.outside[i]; a.reading == r {
			return m.wouldOutside(f, a)
		}
	}
	return measure.Quantity{}, false
}

func (m *model) wouldInside(f Fault, st *stretch, t *table) (measure.Quantity, bool) {
	less := m.lacking(t.reading)
	sum, all := 0.0, 0.0
	for _, k := range m.likeliestWith(less, f) {
		w := m.joint(less, k, st, t.reading)
		for x := range w {
			for s, p := range w[x] {
				if p < 1e-3 {
					continue
				}
				best, _ := t.would[x].between(chargeAt(s))
				sum, all = sum+less.post[k]*p*best, all+less.post[k]*p
			}
		}
	}
	if all <= 0 {
		return measure.Quantity{}, false
	}
	if m.c.Readings[t.reading].Kind == station.Conductance {
		return bench.CCA(sum / all), true
	}
	return measure.Volts(sum/all, 1), true
}

// likeliestWith gives the two likeliest hypotheses that have a fault: what it would show
// alone, and beside the likeliest other.
func (m *model) likeliestWith(bel *belief, f Fault) []int {
	first, second := -1, -1
	for k, h := range m.hyps {
		switch {
		case !h.set.Has(f):
		case first < 0 || bel.post[k] > bel.post[first]:
			first, second = k, first
		case second < 0 || bel.post[k] > bel.post[second]:
			second = k
		}
	}
	switch {
	case first < 0:
		return nil
	case second < 0:
		return []int{first}
	}
	return []int{first, second}
}

func (m *model) wouldOutside(f Fault, a *about) (measure.Quantity, bool) {
	class := sound
	if a.class != nil {
		class = a.class(SetOf(f))
	} else if way := cableWays(SetOf(f))[0]; !a.cleaned || way.live == faulty {
		class = way.live
	}
	if class == sound {
		return measure.Quantity{}, false
	}
	best, _ := a.part.expect(a.world, a.as, a.field)
	sum, all := 0.0, 0.0
	for x, p := range a.part.classes[class] {
		if a.part.values[x] > 0 {
			sum, all = sum+p*best[x], all+p
		}
	}
	if all <= 0 {
		return measure.Quantity{}, false
	}
	v := sum / all
	switch a.field {
	case "milliamps":
		return measure.Of(math.Round(v/50)*50, measure.Milliamp, 0), true
	case "amps":
		return measure.Amps(math.Round(v/10) * 10), true
	}
	return measure.Volts(v, 1), true
}

// moves says which test would move a suspect most.
func moves(f Fault, tests []Test) words.Text {
	for _, t := range tests {
		if slices.Contains(movedBy[f], t.Code) {
			if t.After != "" {
				return words.Say(saysMovesAfter, "test", testNames[t.Code], "first", firstWords[t.After])
			}
			return words.Say(saysMoves, "test", testNames[t.Code])
		}
	}
	return words.Text{}
}

// movedBy are the tests that tell of each fault, the surest first.
var movedBy = map[Fault][]string{
	Discharged: {station.RestVoltage, station.Charging, station.Drain}, WornOut: {station.LoadTest, station.Conductance},
	ShortedCell: {station.Hydrometer, RestApart, station.RestVoltage, station.LoadTest}, Open: {station.LoadTest, station.Conductance},
	LowAcid: {station.Hydrometer, station.LoadTest}, DirtyContacts: {station.CableDrop, station.LoadTest},
	BadCable: {station.CableDrop}, Undercharging: {station.Charging}, Overcharging: {station.Charging},
	Drain: {station.Drain}, StarterDraw: {station.CableDrop}, ShortTrips: {station.Charging, station.Drain},
	Immobiliser: {station.CableDrop},
}
