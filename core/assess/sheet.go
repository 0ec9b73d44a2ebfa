package assess

import (
	"slices"
	"time"

	"grapnel/core/bench"
	"grapnel/core/guide"
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
	// Stops are the hazards that stop all work, by their codes.
	Stops []string
	// Outcome is what became of the work; nil where nothing was done yet.
	Outcome *Outcome
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
	Station  station.Station
	State    State
	Level    bench.Level
	Summary  words.Text // zero until it is done
	Gauges   []bench.Gauge
	Advice   station.Advice
	Cautions []guide.Caution
	Flow     *station.Flow // where a week's account is drawn
	Taken    []int         // positions in the case of its readings, the oldest first
}

// As says how a case is judged for a sheet.
type As struct {
	Voice  words.Voice
	Closed bool         // the job has been handed over
	Labels bench.Labels // finds the battery of a label; nil works it out
	// RestEnds is when the rest that runs is over; nil where none does.
	RestEnds *time.Time
	// Was is the verdict of the battery that stood in its place before; nil where none did.
	Was *Opinion
	// ByRules leaves out what is suspected: hazards, house rules and limits alone.
	ByRules bool
}

// Judge gives everything that is said of a case, with its words in a voice.
func Judge(c reading.Case, as As) Sheet {
	b := station.Put(c, as.Labels)
	b.RestEnds = as.RestEnds
	var out Sheet
	// Gauges and advice are of the readings; the verdict adds to the ledger, and
	// comes last.
	for _, s := range station.Sheet() {
		if s.Fits != nil && !s.Fits(b) && !slices.ContainsFunc(c.Readings, func(r reading.Reading) bool {
			return slices.Contains(s.Takes, r.Kind)
		}) {
			continue
		}
		st := StationState{
			Station:  s,
			State:    Todo,
			Level:    bench.Note,
			Gauges:   []bench.Gauge{},
			Advice:   station.Advice{Level: bench.OK},
			Cautions: s.CautionsOf(b),
			Taken:    []int{},
		}
		for i, r := range c.Readings {
			if slices.Contains(s.Takes, r.Kind) {
				st.Taken = append(st.Taken, i)
			}
		}
		if s.Gauges != nil {
			st.Gauges = s.Gauges(b)
		}
		if s.Advise != nil {
			st.Advice = s.Advise(b)
		}
		if s.Draws != nil {
			st.Flow = s.Draws(b)
		}
		st.sum(b)
		out.Stations = append(out.Stations, st)
	}
	for _, h := range b.Hazards {
		if h.Stops {
			out.Stops = append(out.Stops, h.Code)
		}
	}
	if out.Assessment = assess(b); !as.ByRules {
		out.Assessment = suspected(b, out.Assessment)
	}
	out.Assessment = others(out.Assessment, b)
	if !as.ByRules {
		out.Outcome = outcome(b, out.Assessment, as)
	}
	out.settle(as.Closed)
	words.Spoken(&out.Assessment, as.Voice)
	words.Spoken(&out.Outcome, as.Voice)
	words.Spoken(&out.Stations, as.Voice)
	return out
}

// sum gives a station that has been done its line.
func (st *StationState) sum(b *bench.Bench) {
	if len(st.Station.Takes) > 0 && len(st.Taken) == 0 && st.Station.Code != station.Arrive {
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

// settle fills in what depends on the verdict: where the work goes on.
func (sh *Sheet) settle(closed bool) {
	a := sh.Assessment
	sh.At = a.Next[0].Station
	if o := sh.Outcome; o != nil && o.Proof == ProofOpen && sh.At == station.Handover {
		sh.At = station.Prove // nothing is left to do but to show that it is done
	}
	for i := range sh.Stations {
		st := &sh.Stations[i]
		switch st.Station.Code {
		case station.Decide:
			if st.State = Todo; closed || a.Ready() {
				st.State, st.Level, st.Summary = Done, a.Level(), a.Headline
			}
		case station.Handover:
			if closed {
				st.State, st.Level, st.Summary = Done, a.Level(), words.Say(sumHanded, "headline", a.Headline)
			}
		}
		if st.Station.Code == sh.At && !closed {
			st.State = map[State]State{Todo: Next, Done: Again}[st.State]
		}
	}
}
