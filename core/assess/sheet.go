package assess

import (
	"slices"

	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/core/words"
)

// Sheet is everything that is said of a job: the verdict, and each station as the
// sheet shows it.
type Sheet struct {
	Assessment Assessment
	Stations   []StationState
	// At is the code of the station where the work goes on.
	At string
}

// State is how far a station has got.
type State string

// The states of a station.
const (
	Todo  State = "todo"  // nothing taken yet
	Next  State = "next"  // nothing taken yet, and the next step is here
	Done  State = "done"  // taken
	Again State = "again" // taken, and the next step is to take it once more
)

// StationState is one station as it stands.
type StationState struct {
	Station station.Station
	State   State
	Level   bench.Level
	Summary words.Text // zero until it is done
	Gauges  []bench.Gauge
	Advice  station.Advice
	Taken   []int // positions in the case of its readings, the oldest first
}

// Judge gives everything that is said of a case, with its words in a voice.
// Closed says that the job has been handed over.
func Judge(c reading.Case, v words.Voice, closed bool) Sheet {
	b := station.Put(c)
	var out Sheet
	// Gauges and advice are of the readings; the verdict adds to the ledger, and
	// comes last.
	for _, s := range station.Sheet() {
		st := StationState{
			Station: s,
			State:   Todo,
			Level:   bench.Note,
			Gauges:  []bench.Gauge{},
			Advice:  station.Advice{Level: bench.OK},
			Taken:   []int{},
		}
		for i, r := range c.Readings {
			if r.Kind == s.Kind() {
				st.Taken = append(st.Taken, i)
			}
		}
		if s.Gauges != nil {
			st.Gauges = s.Gauges(b)
		}
		if s.Advise != nil {
			st.Advice = s.Advise(b)
		}
		st.sum(b)
		out.Stations = append(out.Stations, st)
	}
	out.Assessment = assess(b)
	out.settle(c, closed)
	words.Spoken(&out.Assessment, v)
	words.Spoken(&out.Stations, v)
	return out
}

// sum gives a station that has been done its line.
func (st *StationState) sum(b *bench.Bench) {
	if st.Station.Kind() != "" && len(st.Taken) == 0 {
		return
	}
	switch {
	case st.Station.Sum != nil:
		st.Level, st.Summary = st.Station.Sum(b)
	case len(st.Gauges) > 0 && st.Gauges[0].Band != nil:
		st.Level, st.Summary = st.Gauges[0].Level, st.Gauges[0].Label
	}
	if !st.Summary.IsZero() {
		st.State = Done
	}
}

// settle fills in what depends on the verdict: where the work goes on, and what
// is asked where it is decided.
func (sh *Sheet) settle(c reading.Case, closed bool) {
	a := sh.Assessment
	sh.At = a.Next[0].Station
	for i := range sh.Stations {
		st := &sh.Stations[i]
		if st.Station.Code == station.Decide {
			charge := slices.ContainsFunc(a.Next, func(n Step) bool { return n.Test == "charge" })
			last := len(c.Readings) > 0 && c.Readings[len(c.Readings)-1].Kind == station.Charged
			if !closed && (charge || last) {
				st.Advice.Ask = words.Say(askCharged)
			}
			if st.State = Todo; closed {
				st.State, st.Level, st.Summary = Done, a.Verdict.Level(), words.Say(sumHanded, "headline", a.Headline)
			}
		}
		if st.Station.Code == sh.At && !closed {
			st.State = map[State]State{Todo: Next, Done: Again}[st.State]
		}
	}
}
