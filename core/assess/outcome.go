package assess

import (
	"slices"
	"time"

	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/core/words"
)

// Outcome is what became of the work: the verdict that stood before it beside the one that
// stands now, and whether what it came for is proven gone. It is a verdict of its own: a
// sound battery does not prove that the vehicle starts.
type Outcome struct {
	Proof    Proof      `json:"proof" enum:"proven,open,failed"`
	Headline words.Text `json:"headline"`
	// Before is what was said before the first work, absent where none was done.
	Before *Opinion    `json:"before,omitempty"`
	Now    Opinion     `json:"now"`
	Items  []ProofItem `json:"items" doc:"what is shown once the work is done, in order"`
	// Gauges are the figures that were read, each with what it was before the work.
	Gauges []bench.Gauge `json:"gauges"`
}

// Proof is how far it is shown that the complaint is gone.
type Proof string

// How far it is shown.
const (
	ProofProven Proof = "proven"
	ProofOpen   Proof = "open"
	ProofFailed Proof = "failed"
)

// Level is how a proof weighs, for the sign beside it.
func (p Proof) Level() bench.Level {
	switch p {
	case ProofProven:
		return bench.OK
	case ProofFailed:
		return bench.Act
	}
	return bench.Note
}

// Opinion is a verdict at a time.
type Opinion struct {
	Verdict  Verdict     `json:"verdict"`
	Level    bench.Level `json:"level" enum:"ok,note,act,stop"`
	Headline words.Text  `json:"headline"`
	Because  words.Text  `json:"because,omitzero"`
	At       *time.Time  `json:"at,omitempty" doc:"of the last reading it rests on"`
	Tag      string      `json:"tag,omitempty" doc:"of the battery, where it is another one"`
}

// OpinionOf is an assessment as an opinion, resting on the readings of its case.
func OpinionOf(a Assessment, c reading.Case) Opinion {
	o := Opinion{Verdict: a.Verdict, Level: a.Level(), Headline: a.Headline, Because: a.Because}
	for _, r := range slices.Backward(c.Readings) {
		if r.At != nil {
			o.At = r.At
			break
		}
	}
	return o
}

// ProofItem is one thing that is shown after the work.
type ProofItem struct {
	Code    string      `json:"code" enum:"restart,charging,crank,drain,lights,complaint"`
	Name    string      `json:"name"`
	State   string      `json:"state" enum:"holds,failed,open"`
	Level   bench.Level `json:"level" enum:"ok,note,act,stop"`
	Text    words.Text  `json:"text" doc:"what was found, or what is to be done"`
	Needed  bool        `json:"needed" doc:"nothing is proven without it"`
	Station string      `json:"station" doc:"of the sheet, where it is read"`
	Kind    string      `json:"kind" doc:"the kind of reading"`
	Reading int         `json:"-"` // position in the case; −1 for none
}

// The states of an item.
const (
	Holds  = "holds"
	Failed = "failed"
	Open   = "open"
)

// works are the kinds of reading that tell of work on the battery or the vehicle; hanging
// it on a charger begins the work of charging it.
var works = []string{
	station.Cleaned, station.PutRight, station.OnCharger, station.Charged, station.Replaced, station.JumpResult,
}

// IsWork reports whether readings of a kind tell of work on the battery or the vehicle.
func IsWork(kind string) bool { return slices.Contains(works, kind) }

// IsDone reports whether readings of a kind tell of work that is done: hanging a battery on a
// charger only begins it.
func IsDone(kind string) bool { return kind != station.OnCharger && IsWork(kind) }

// WorkDone tells the work that was done on a battery, in its order.
func WorkDone(c reading.Case) []words.Text {
	out := []words.Text{}
	for _, r := range c.Readings {
		if IsDone(r.Kind) {
			out = append(out, station.Tell(r).Full())
		}
	}
	return out
}

// OpinionOfOld is the verdict of a battery that another one took the place of: that of its
// tests. That it was replaced is what was done about it.
func OpinionOfOld(c reading.Case, labels bench.Labels) Opinion {
	if i := slices.IndexFunc(c.Readings, func(r reading.Reading) bool { return r.Kind == station.Replaced }); i >= 0 {
		c.Readings = c.Readings[:i:i]
	}
	o := OpinionOf(Ended(c, labels), c)
	o.Tag = c.Battery.Tag
	return o
}

// Worked gives the position of the first reading in a case that tells of work, and of the
// last; false where none does.
func Worked(c reading.Case) (first, last int, ok bool) {
	first, last = -1, -1
	for i, r := range c.Readings {
		if IsWork(r.Kind) {
			if first < 0 {
				first = i
			}
			last = i
		}
	}
	return first, last, first >= 0
}

// outcome is what became of the work on a case that was judged. Was is the verdict of the
// battery that stood in its place before; nil where none did.
func outcome(b *bench.Bench, a Assessment, as As) *Outcome {
	first, last, worked := Worked(b.Case)
	tried := slices.ContainsFunc(b.Case.Readings, func(r reading.Reading) bool { return r.Kind == station.Proven })
	if !worked && as.Was == nil && !tried || b.Replaced != "" {
		return nil
	}
	o := &Outcome{Now: OpinionOf(a, b.Case), Before: as.Was}
	var before []reading.Case
	if worked {
		until := func(at int) reading.Case {
			c := b.Case
			c.Readings = slices.Clone(b.Case.Readings[:at])
			if t := b.Case.Readings[at].At; t != nil {
				c.AsOf = t
			}
			return c
		}
		before = append(before, until(first))
		// Contacts are cleaned before anything is judged: the verdict is that before the rest.
		if main := slices.IndexFunc(b.Case.Readings, func(r reading.Reading) bool { return IsWork(r.Kind) && r.Kind != station.Cleaned }); main > first {
			before = append(before, until(main))
		}
		if o.Before == nil {
			c := before[len(before)-1]
			was := OpinionOf(Concluded(station.Put(c, as.Labels)), c)
			o.Before = &was
		}
	}
	o.Items = proofItems(b, a, last)
	o.Gauges = station.BeforeAndNow(b, before, as.Labels)
	o.Proof, o.Headline = proved(o.Items, len(b.Case.Complaint) > 0)
	return o
}

// proved draws the conclusion from what was shown.
func proved(items []ProofItem, complained bool) (Proof, words.Text) {
	var failed, missing []words.Text
	for _, i := range items {
		switch {
		case i.State == Failed:
			failed = append(failed, i.Text.Small().Bare())
		case i.State == Open && i.Needed:
			missing = append(missing, words.Say(proofName[i.Code]))
		}
	}
	switch {
	case len(failed) > 0:
		return ProofFailed, words.Say(saysProofFailed, "what", failed[0])
	case len(missing) > 0:
		return ProofOpen, words.Say(saysProofOpen, "what", missing)
	case complained:
		return ProofProven, words.Say(saysProvenGone)
	}
	return ProofProven, words.Say(saysProven)
}

// proofItems are what is shown after the last work, in the order it is tried.
func proofItems(b *bench.Bench, a Assessment, last int) []ProofItem {
	since := func(kind string, shows func(reading.Reading) bool) int {
		for i := len(b.Case.Readings) - 1; i > last; i-- {
			if r := b.Case.Readings[i]; r.Kind == kind && (shows == nil || shows(r)) {
				return i
			}
		}
		return -1
	}
	proof := since(station.Proven, nil)
	electric := b.Case.Vehicle.Electric()
	var out []ProofItem
	tried := func(code, field string, needed bool) {
		i := ProofItem{Code: code, Name: words.Capital(proofName[code]), State: Open, Level: bench.Note, Needed: needed,
			Station: station.Prove, Kind: station.Proven, Reading: -1, Text: words.Say(proofDo[code])}
		if proof >= 0 {
			if w := b.Case.Readings[proof].Word(field); w != "" {
				i.Reading, i.Level, i.State = proof, proofLevel[w], itemState(proofLevel[w])
				i.Text = words.Say(proofSaid[code+" "+w])
			}
		}
		out = append(out, i)
	}
	measured := func(code, kind string, needed bool, shows func(reading.Reading) bool) {
		s, _ := station.At(kind)
		i := ProofItem{Code: code, Name: words.Capital(proofName[code]), State: Open, Level: bench.Note, Needed: needed,
			Station: s.Code, Kind: kind, Reading: since(kind, shows), Text: words.Say(proofDo[code])}
		if i.Reading >= 0 {
			i.Level, i.Text = saidOfReading(a, b.Case.Readings[i.Reading], i.Reading)
			i.State = itemState(i.Level)
		}
		out = append(out, i)
	}
	tried("restart", "restart", true)
	measured("charging", station.Charging, asked(b, chargeComplaints, "undercharging", "overcharging"), nil)
	if !electric {
		measured("crank", station.Crank, asked(b, slowComplaints, "path_live", "path_earth", "joint", "cable", "starter"),
			func(r reading.Reading) bool { _, ok := r.Number("volts_min"); return ok })
	}
	measured("drain", station.Drain, asked(b, standComplaints, station.FaultDrain), nil)
	if station.Warns(b.Case.Vehicle) {
		tried("lights", "warning_lights", true)
	}
	if len(b.Case.Complaint) > 0 {
		tried("complaint", "complaint", true)
	}
	return out
}

// slowComplaints are of an engine that turns, and too slowly.
var slowComplaints = []string{"slow_crank", "cold_only"}

// asked reports whether something has to be measured again: the complaint points there, or
// a fault of it was found on the way.
func asked(b *bench.Bench, complaints []string, faults ...string) bool {
	if complains(b, complaints) {
		return true
	}
	for _, f := range b.Facts() {
		for _, x := range f.Faults {
			if slices.Contains(faults, x.Code) {
				return true
			}
		}
	}
	return false
}

// saidOfReading is what the ledger says of one reading: its gravest line, or the reading
// itself where none says that it is in order.
func saidOfReading(a Assessment, r reading.Reading, at int) (bench.Level, words.Text) {
	level, text, rank := bench.Note, station.Tell(r).Text, -1
	order := []bench.Level{bench.OK, bench.Act, bench.Stopped}
	for _, f := range a.Findings {
		if n := slices.Index(order, f.Level); n > rank && slices.Contains(f.Readings, at) {
			level, text, rank = f.Level, f.Text, n
		}
	}
	return level, text
}

func itemState(l bench.Level) string {
	switch l {
	case bench.OK:
		return Holds
	case bench.Act, bench.Stopped:
		return Failed
	}
	return Open
}

// proofLevel weighs the words of a try.
var proofLevel = map[string]bench.Level{
	station.AtOnce: bench.OK, station.Slowly: bench.Act, station.Refused: bench.Act,
	"none": bench.OK, "on": bench.Act,
	station.Gone: bench.OK, station.Still: bench.Act, station.NotTried: bench.Note,
}

var proofName = map[string]string{
	"restart": "stop and restart", "charging": "charging volts", "crank": "volts while it cranks",
	"drain": "drain once asleep", "lights": "warning lights", "complaint": "what it came for",
}

var proofDo = map[string]string{
	"restart":   "Stop it, wait a minute, start it again.",
	"charging":  "Read the volts with the engine running.",
	"crank":     "Read the lowest volts while it cranks.",
	"drain":     "Read what flows once all is shut and asleep.",
	"lights":    "Look whether a warning light stays on.",
	"complaint": "Try again what it came for.",
}

var proofSaid = map[string]string{
	"restart " + station.AtOnce:     "It starts at once.",
	"restart " + station.Slowly:     "It starts slowly.",
	"restart " + station.Refused:    "It does not start again.",
	"lights none":                   "No warning light stays on.",
	"lights on":                     "Warning lights stay on.",
	"complaint " + station.Gone:     "Tried again, and gone.",
	"complaint " + station.Still:    "What it came for is still there.",
	"complaint " + station.NotTried: "It could not be tried here.",
}

const (
	saysProvenGone  = "Proven: it starts again, and what it came for is gone."
	saysProven      = "Proven: it starts again."
	saysProofOpen   = "Not proven yet: {what}."
	saysProofFailed = "Not mended: {what}."
)
