// Package station describes every station of the work once: what is taken there
// and in which words, units and ranges, how and for how long, what can hurt, what
// to set, what a reading concludes, which gauges show it, and what it would read
// in a given world. The decoder, the published schemas, the forms, the history,
// the print and the judgement all read these descriptions.
//
// One file is one station with the kinds of reading taken there. To add one: write
// its file, with a register call in its init; nothing else has to know of it.
package station

import (
	"cmp"
	"fmt"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// Station is one stop of the work on the sheet.
type Station struct {
	Code  string
	Place int    // its order on the sheet, with room between
	Name  string // as the rail says it
	Hint  string
	// Minutes of work, hands on. Common practice, no source, unless said.
	Minutes float64
	// Takes are the kinds of reading entered here, the usual one first; none where
	// nothing is.
	Takes []string
	Aids  []Aid
	// Cautions are codes of package guide: what can hurt here, on this battery.
	Cautions func(*bench.Bench) []string

	// Fits says whether this battery has such a station at all; nil: every one has.
	Fits func(*bench.Bench) bool
	// Advise says what to do and to mind at the station now.
	Advise func(*bench.Bench) Advice
	// Gauges gives its dipsticks, the chief one first, also before a reading.
	Gauges func(*bench.Bench) []bench.Gauge
	// Chief says of which of its readings the station's figure is; nil: of the last.
	Chief func(reading.Reading) bool
	// Draws gives what is drawn of a week's account; nil: nothing is.
	Draws func(*bench.Bench) *Flow
	// Sum gives the station in a line once it is done; nil takes the chief gauge.
	Sum func(*bench.Bench) (bench.Level, words.Text)
}

// Shows reports whether the station's figure is that of a reading.
func (s Station) Shows(r reading.Reading) bool { return s.Chief == nil || s.Chief(r) }

// Kind is one kind of reading: what is written down, what it says by itself, and
// what it would read in a given world.
type Kind struct {
	Code string
	Name string // as the ledger says it
	Hint string
	// Minutes of work, hands on. Common practice, no source, unless said.
	Minutes float64
	Waits   float64 // minutes of waiting besides
	Fields  []Field

	// EndsRest says that a reading of this kind is what a rest was for.
	EndsRest bool

	// Judge says what one reading says of the battery, looked at alone. Nil: it is
	// kept, and no verdict rests on it.
	Judge func(Before, reading.Reading) bench.Fact
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
	RestClock Aid = "rest_clock" // lets the battery rest and calls
)

var (
	stations []*Station
	kinds    []*Kind
)

// register adds a station and the kinds of reading taken there; called once for
// each, before main.
func register(s Station, takes ...Kind) {
	for i := range takes {
		if findKind(takes[i].Code) != nil {
			panic(fmt.Sprintf("kind %s is registered twice", takes[i].Code))
		}
		kinds = append(kinds, &takes[i])
		s.Takes = append(s.Takes, takes[i].Code)
	}
	if slices.ContainsFunc(stations, func(old *Station) bool { return old.Code == s.Code || old.Place == s.Place }) {
		panic(fmt.Sprintf("station %s is registered twice", s.Code))
	}
	stations = append(stations, &s)
	slices.SortFunc(stations, func(a, b *Station) int { return cmp.Compare(a.Place, b.Place) })
	slices.SortFunc(kinds, func(a, b *Kind) int { return cmp.Compare(a.Code, b.Code) })
}

// Of gives the station of a code. The caller may keep it and write on it.
func Of(code string) (Station, bool) {
	i := slices.IndexFunc(stations, func(s *Station) bool { return s.Code == code })
	if i < 0 {
		return Station{}, false
	}
	return stations[i].clone(), true
}

func (s *Station) clone() Station {
	out := *s
	out.Takes, out.Aids = slices.Clone(s.Takes), slices.Clone(s.Aids)
	return out
}

// At gives the station where a kind of reading is taken.
func At(kind string) (Station, bool) {
	for _, s := range stations {
		if slices.Contains(s.Takes, kind) {
			return s.clone(), true
		}
	}
	return Station{}, false
}

// KindOf gives the kind of reading of a code. The caller may keep it and write on
// it.
func KindOf(code string) (Kind, bool) {
	k := findKind(code)
	if k == nil {
		return Kind{}, false
	}
	out := *k
	out.Fields = slices.Clone(k.Fields)
	for i := range out.Fields {
		out.Fields[i].Picks = slices.Clone(k.Fields[i].Picks)
	}
	return out, true
}

func findKind(code string) *Kind {
	for _, k := range kinds {
		if k.Code == code {
			return k
		}
	}
	return nil
}

// Sheet gives the stations of a job's sheet in working order.
func Sheet() []Station {
	out := make([]Station, len(stations))
	for i, s := range stations {
		out[i] = s.clone()
	}
	return out
}

// Kinds gives every kind of reading.
func Kinds() []string {
	out := make([]string, len(kinds))
	for i, k := range kinds {
		out[i] = k.Code
	}
	return out
}

// Shape describes a reading of any kind, for documents.
func Shape() document.Shape {
	all := map[string]document.Shape{}
	for _, k := range kinds {
		fields := map[string]document.Shape{}
		var need []string
		for _, f := range k.Fields {
			fields[f.Name] = f.shape()
			if f.Need {
				need = append(need, f.Name)
			}
		}
		all[k.Code] = document.Object(need, fields)
	}
	return document.Shape{
		Kind:     "variant",
		By:       "kind",
		What:     "reading",
		Variants: all,
		Common: map[string]document.Shape{
			"at":         {Kind: "time", Doc: "RFC 3339, when it was taken"},
			"by":         document.Text(80).About("who took it"),
			"instrument": document.Text(80),
		},
	}
}

// Put looks at every reading of a case by itself, then puts them together. Labels
// finds the battery of a label; nil works it out.
func Put(c reading.Case, labels bench.Labels) *bench.Bench {
	if labels == nil {
		labels = battery.FromLabel
	}
	return bench.Put(c, judge(c), words.Spaced, labels)
}

// Again puts the readings of a bench together as another school of one house rule
// has it.
func Again(b *bench.Bench, rule string, s rules.School) *bench.Bench {
	house := b.House.Following(rule, s)
	switch rule {
	case rules.ReturnMinSOC, rules.WeakBelow:
		return b.Otherwise(house, false)
	case rules.LoadTestMinSOC, rules.LoadTestLimit, rules.StrengthMethod:
		return b.Otherwise(house, true)
	}
	c := b.Case
	c.Rules = house
	facts := b.Facts()
	for i, r := range c.Readings {
		if slices.Contains(bearsOn[rule], r.Kind) {
			facts[i] = findKind(r.Kind).Judge(Before{c, i}, r)
			facts[i].Reading = i
		}
	}
	return b.Again(house, facts)
}

// bearsOn are the kinds of reading of which one alone says something else under
// another school of a rule.
var bearsOn = map[string][]string{
	rules.RestTime:     {RestVoltage},
	rules.StarterMin:   {Crank},
	rules.CableDropMax: {Crank, CableDrop},
	rules.DrainMax:     {Drain},
}

func judge(c reading.Case) []bench.Fact {
	facts := make([]bench.Fact, len(c.Readings))
	for i, r := range c.Readings {
		k := findKind(r.Kind)
		if k == nil || k.Judge == nil {
			facts[i] = bench.Fact{Unjudged: true}
		} else {
			facts[i] = k.Judge(Before{c, i}, r)
		}
		facts[i].Reading = i
	}
	return facts
}

// CautionsOf gives the cautions of a station in full.
func (s Station) CautionsOf(b *bench.Bench) []guide.Caution {
	out := []guide.Caution{}
	if s.Cautions == nil {
		return out
	}
	for _, code := range s.Cautions(b) {
		if c, ok := guide.CautionOf(code); ok {
			out = append(out, c)
		}
	}
	return out
}

// always is cautions that hold for every battery.
func always(codes ...string) func(*bench.Bench) []string {
	return func(*bench.Bench) []string { return codes }
}
