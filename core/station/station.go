// Package station describes every station of the work once: what is taken there
// and in which words, units and ranges, how and for how long, what can hurt, what
// to set, what a reading concludes, which gauges show it, and what it would read
// in a given world. The decoder, the published schemas, the forms, the history,
// the print and the judgement all read these descriptions.
//
// One file is one station. To add one: write its file, with a register call in
// its init; nothing else has to know of it.
package station

import (
	"cmp"
	"fmt"
	"slices"

	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Station is one stop of the work, or one kind of reading that has no stop of its
// own yet.
type Station struct {
	Code  string // the kind of reading it takes; or its name where it takes none
	Place int    // its order on the sheet, with room between; 0 when it has none there
	Name  string // as the rail and the ledger say it
	Hint  string
	// Minutes of work, hands on. Common practice, no source, unless said.
	Minutes float64
	// Takes is the kind of reading entered at a station that is not named after it.
	Takes string

	Fields   []Field
	Aids     []Aid
	Cautions []string // codes of package guide

	// EndsRest says that a reading of this kind is what a rest was for.
	EndsRest bool

	// Judge says what one reading says of the battery, looked at alone. Nil: it is
	// kept, and no verdict rests on it.
	Judge func(Before, reading.Reading) bench.Fact
	// Advise says what to do and to mind at the station now.
	Advise func(*bench.Bench) Advice
	// Gauges gives its dipsticks, the chief one first, also before a reading.
	Gauges func(*bench.Bench) []bench.Gauge
	// Sum gives the station in a line once it is done; nil takes the chief gauge.
	Sum func(*bench.Bench) (bench.Level, words.Text)
	// Expect gives what would be read in a world; how says the way it is taken
	// (method, load, seconds). Nil: no meter, or nothing that can be foretold.
	Expect func(w World, how reading.Reading) []Prediction
}

// Before is what a reading is looked at with: the case it belongs to and its
// position there.
type Before struct {
	Case    reading.Case
	Reading int
}

// Aid is help drawn beside the entry.
type Aid string

// The aids.
const (
	ProbePicture Aid = "probe_picture" // where the two probes go
	RestClock    Aid = "rest_clock"    // lets the battery rest and calls
)

var stations []*Station

// register adds a station to the trade; called once for each, before main.
func register(s Station) {
	if slices.ContainsFunc(stations, func(old *Station) bool { return old.Code == s.Code }) {
		panic(fmt.Sprintf("station %s is registered twice", s.Code))
	}
	stations = append(stations, &s)
	slices.SortStableFunc(stations, func(a, b *Station) int {
		return cmp.Or(cmp.Compare(order(a), order(b)), cmp.Compare(a.Code, b.Code))
	})
}

// order puts the stations of the sheet first, in the order of the work.
func order(s *Station) int {
	if s.Place == 0 {
		return 1000
	}
	return s.Place
}

// Of gives the station of a code. The caller may keep it and write on it.
func Of(code string) (Station, bool) {
	if s := find(code); s != nil {
		return s.clone(), true
	}
	return Station{}, false
}

func (s *Station) clone() Station {
	out := *s
	out.Fields, out.Aids, out.Cautions = slices.Clone(s.Fields), slices.Clone(s.Aids), slices.Clone(s.Cautions)
	for i := range out.Fields {
		out.Fields[i].Picks = slices.Clone(s.Fields[i].Picks)
	}
	return out
}

func find(code string) *Station {
	for _, s := range stations {
		if s.Code == code {
			return s
		}
	}
	return nil
}

// Sheet gives the stations of a job's sheet in working order.
func Sheet() []Station {
	var out []Station
	for _, s := range stations {
		if s.Place > 0 {
			out = append(out, s.clone())
		}
	}
	return out
}

// Kinds gives every kind of reading, those of the sheet first.
func Kinds() []string {
	var out []string
	for _, s := range stations {
		if s.Fields != nil && s.Takes == "" {
			out = append(out, s.Code)
		}
	}
	return out
}

// Kind is the kind of reading entered at the station, empty when none.
func (s Station) Kind() string {
	if s.Takes != "" || s.Fields == nil {
		return s.Takes
	}
	return s.Code
}

// Shape describes a reading of any kind, for documents.
func Shape() document.Shape {
	kinds := map[string]document.Shape{}
	for _, k := range Kinds() {
		s, _ := Of(k)
		fields := map[string]document.Shape{}
		var need []string
		for _, f := range s.Fields {
			fields[f.Name] = f.shape()
			if f.Need {
				need = append(need, f.Name)
			}
		}
		kinds[k] = document.Object(need, fields)
	}
	return document.Shape{
		Kind:     "variant",
		By:       "kind",
		What:     "reading",
		Variants: kinds,
		Common: map[string]document.Shape{
			"at":         {Kind: "time", Doc: "RFC 3339, when it was taken"},
			"by":         document.Text(80).About("who took it"),
			"instrument": document.Text(80),
		},
	}
}

// Put looks at every reading of a case by itself, then puts them together.
func Put(c reading.Case) *bench.Bench {
	facts := make([]bench.Fact, len(c.Readings))
	for i, r := range c.Readings {
		s := find(r.Kind)
		if s == nil || s.Judge == nil {
			facts[i] = bench.Fact{Unjudged: true}
		} else {
			facts[i] = s.Judge(Before{c, i}, r)
		}
		facts[i].Reading = i
	}
	return bench.Put(c, facts, words.Spaced)
}

// CautionsOf gives the cautions of a station in full.
func (s Station) CautionsOf() []guide.Caution {
	out := []guide.Caution{}
	for _, code := range s.Cautions {
		if c, ok := guide.CautionOf(code); ok {
			out = append(out, c)
		}
	}
	return out
}

// Entered gives the fields of the reading that is entered at the station.
func (s Station) Entered() []Field {
	if s.Takes != "" {
		s, _ = Of(s.Takes)
	}
	return slices.Clone(s.Fields)
}
