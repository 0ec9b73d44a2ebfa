package api

import (
	"math"
	"slices"
	"strconv"
	"time"

	"grapnel/core/assess"
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/suspect"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// JobDetails is what a technician enters when a job arrives.
type JobDetails struct {
	Vehicle    reading.Vehicle    `json:"vehicle"`
	Battery    reading.Battery    `json:"battery"`
	Customer   string             `json:"customer,omitempty" maxLength:"120"`
	Note       string             `json:"note,omitempty" maxLength:"500" doc:"the complaint in the customer's words"`
	Complaint  []string           `json:"complaint,omitempty"`
	Conditions reading.Conditions `json:"conditions,omitempty"`
	Promised   *time.Time         `json:"promised_at,omitempty" doc:"when it is promised back"`
}

func (d JobDetails) job() store.Job {
	return store.Job{
		Vehicle:    d.Vehicle,
		Battery:    d.Battery,
		Customer:   words.Clean(d.Customer),
		Note:       words.CleanLines(d.Note),
		Complaint:  d.Complaint,
		Conditions: d.Conditions,
		Promised:   d.Promised,
	}
}

// jobView is a job as the sheet shows it.
type jobView struct {
	ID string `json:"id" format:"uuid"`
	JobDetails
	Version  int        `json:"version" doc:"to be sent back with a change"`
	OpenedAt time.Time  `json:"opened_at"`
	OpenedBy string     `json:"opened_by"`
	ClosedAt *time.Time `json:"closed_at,omitempty"`
	ClosedBy string     `json:"closed_by,omitempty"`
	// What the details come to, in words and figures fit to show.
	Build        string  `json:"build" doc:"the battery's chemistry in words"`
	BatteryVolts float64 `json:"battery_volts" doc:"nominal volts of this one battery"`
}

func viewJob(j store.Job) jobView {
	return jobView{
		ID:           j.ID,
		Version:      j.Version,
		OpenedAt:     j.OpenedAt,
		OpenedBy:     j.OpenedBy,
		ClosedAt:     j.ClosedAt,
		ClosedBy:     j.ClosedBy,
		JobDetails:   JobDetails{j.Vehicle, j.Battery, j.Customer, j.Note, j.Complaint, j.Conditions, j.Promised},
		Build:        battery.ChemistryWords().Said(string(j.Battery.Chemistry)),
		BatteryVolts: j.Case(nil).Volts(),
	}
}

// readingView is a reading with who took it, what became of it, and its words.
type readingView struct {
	ID         string          `json:"id" format:"uuid"`
	Reading    reading.Reading `json:"reading"`
	At         time.Time       `json:"at"`
	By         string          `json:"by"`
	Replaces   string          `json:"replaces,omitempty" doc:"the reading this one corrects"`
	ReplacedBy string          `json:"replaced_by,omitempty" doc:"the reading that corrects this one"`
	Withdrawn  string          `json:"withdrawn,omitempty" doc:"who took this one back"`
	station.Line
}

func viewReadings(all []store.StoredReading, v words.Voice) []readingView {
	by := map[string]store.StoredReading{}
	for _, r := range all {
		by[r.Replaces] = r
	}
	out := []readingView{}
	for _, r := range all {
		if r.Reading.Kind == reading.Withdrawn {
			continue
		}
		v := readingView{ID: r.ID, Reading: r.Reading, At: r.At, By: r.By, Replaces: r.Replaces,
			Line: station.Tell(r.Reading)}
		if after, ok := by[r.ID]; ok && after.Reading.Kind == reading.Withdrawn {
			v.Withdrawn = after.By
		} else {
			v.ReplacedBy = after.ID
		}
		out = append(out, v)
	}
	for i := range out {
		out[i].Figure = v.Figure(out[i].Figure)
	}
	words.Spoken(&out, v)
	return out
}

// restView is a rest under way.
type restView struct {
	ID       string    `json:"id" format:"uuid"`
	Kind     string    `json:"kind" enum:"rest,warm,parts,jump"`
	StartsAt time.Time `json:"starts_at"`
	EndsAt   time.Time `json:"ends_at"`
}

func viewRest(r store.Rest) *restView { return &restView{r.ID, r.Kind, r.StartsAt, r.EndsAt} }

// Judgement is what core says of a case, with readings by their ids.
type Judgement struct {
	Verdict    assess.Verdict      `json:"verdict"`
	Level      bench.Level         `json:"level" doc:"how the verdict weighs"`
	Headline   words.Text          `json:"headline" doc:"one plain sentence a technician would say"`
	Because    words.Text          `json:"because,omitzero" doc:"the reason in one more sentence"`
	Customer   words.Text          `json:"customer" doc:"one sentence for who owns it"`
	SOC        *battery.Band       `json:"soc_pct,omitempty" doc:"charge as of the last reading, percent"`
	CCAEst     *assess.CCAEstimate `json:"cca_est,omitempty" doc:"cold cranking amps (SAE) it would have if full"`
	FailsBelow *float64            `json:"fails_below_c,omitempty" doc:"of a weak battery: the temperature from which it no longer turns its engine"`
	Others     []assess.Otherwise  `json:"other_schools" doc:"verdicts that another school of a house rule would have given"`
	Stopped    *stopView           `json:"stopped,omitempty" doc:"a hazard stops all work"`
	Findings   []findingView       `json:"findings"`
	Suspects   []suspectView       `json:"suspects" doc:"faults that are still possible, the likeliest first"`
	Next       []assess.Step       `json:"next"`
	Tests      []assess.Step       `json:"tests" doc:"the best that can be measured next, whatever the verdict asks for"`
	Cautions   []guide.Caution     `json:"cautions"`
	Stations   []stationView       `json:"stations" doc:"of the sheet, in working order"`
	Ready      bool                `json:"ready" doc:"nothing is left to do but to hand it over"`
	At         string              `json:"at" doc:"the station where the work goes on"`
	OnCharge   bool                `json:"on_charge" doc:"it hangs on a charger"`
	Rules      []rules.Said        `json:"rules" doc:"the house rules that decided, as they were settled when the job came"`
	Outcome    *outcomeView        `json:"outcome,omitempty" doc:"what became of the work: the verdict after it beside the one before"`
	hangs      *assess.Hanging
	Entered    *station.Line `json:"entered,omitempty" doc:"in a preview: the reading that is not saved"`
}

// suspectView is a suspect with the readings that speak for it and against it.
type suspectView struct {
	suspect.Suspect
	Reasons []reasonView `json:"reasons" doc:"what speaks for it (above 0) and against it (below), base 2 logarithms of how many times likelier it makes the fault"`
}

type reasonView struct {
	Text    words.Text `json:"text"`
	Weight  float64    `json:"weight"`
	Reading string     `json:"reading,omitempty" doc:"its id; none of the complaint"`
}

// stopView is a hazard that stops the work until a lead lifts it.
type stopView struct {
	Codes   []string   `json:"codes" doc:"of the hazards, as an override names them"`
	Text    words.Text `json:"text"`
	MayLift bool       `json:"may_lift" doc:"whether this person may lift it"`
}

// findingView is a line of the ledger with the readings it rests on.
type findingView struct {
	bench.Finding
	ReadingIDs []string `json:"reading_ids"`
}

// stationView is one station as the sheet shows it.
type stationView struct {
	Code     string          `json:"code"`
	Name     string          `json:"name"`
	Hint     string          `json:"hint"`
	Kinds    []kindView      `json:"kinds" doc:"the kinds of reading taken here, the usual one first"`
	State    assess.State    `json:"state" enum:"todo,next,done,again"`
	Level    bench.Level     `json:"level"`
	Summary  words.Text      `json:"summary,omitzero" doc:"the station in a line, once it is done"`
	Figure   string          `json:"figure,omitempty" doc:"the figure the station stands for, once it was read"`
	Unit     string          `json:"unit,omitempty"`
	Gauges   []bench.Gauge   `json:"gauges" doc:"the chief one first"`
	Advice   station.Advice  `json:"advice"`
	Flow     *station.Flow   `json:"flow,omitempty" doc:"a week's account in ampere-hours, once it was told"`
	Aids     []station.Aid   `json:"aids"`
	Cautions []guide.Caution `json:"cautions"`
	Taken    []string        `json:"taken" doc:"ids of its readings in effect, the oldest first"`
}

// kindView is one kind of reading, as its form shows it.
type kindView struct {
	Code   string      `json:"code"`
	Name   string      `json:"name"`
	Fields []fieldView `json:"fields"`
}

// fieldView is one field of a station's form.
type fieldView struct {
	Name    string       `json:"name"`
	Label   string       `json:"label"`
	Kind    string       `json:"kind" enum:"figure,choice,choices,figures,flag,text,date"`
	Need    bool         `json:"need"`
	Big     bool         `json:"big" doc:"the station's own figure"`
	Unit    string       `json:"unit,omitempty"`
	Digits  int          `json:"digits"`
	Example string       `json:"example,omitempty"`
	Hint    string       `json:"hint,omitempty"`
	Unknown string       `json:"unknown,omitempty" doc:"the word for leaving it out"`
	Default string       `json:"default,omitempty"`
	Choices []words.Term `json:"choices,omitempty"`
	Most    int          `json:"most,omitempty" doc:"letters of a text"`
	Picks   []pickView   `json:"picks,omitempty" doc:"figures worth a tap"`
}

type pickView struct {
	Value float64 `json:"value"`
	Word  string  `json:"word"`
}

func viewField(f station.Field) fieldView {
	out := fieldView{
		Name:    f.Name,
		Label:   f.Label,
		Need:    f.Need,
		Big:     f.Big,
		Unit:    f.Shape.Unit,
		Digits:  f.Digits,
		Example: f.Example,
		Hint:    f.Hint,
		Unknown: f.Unknown,
		Default: f.Default,
	}
	choices := f.Words.Terms()
	switch {
	case len(choices) > 0 && f.Shape.Kind == "list":
		out.Kind, out.Choices = "choices", choices
	case len(choices) > 0:
		out.Kind, out.Choices = "choice", choices
	case f.Shape.Kind == "list":
		out.Kind = "figures"
	case f.Shape.Kind == document.Flag().Kind:
		out.Kind = "flag"
	case f.Shape.Kind == "date":
		out.Kind = "date"
	case f.Shape.Kind == "text":
		out.Kind, out.Most = "text", int(f.Shape.Max)
	default:
		out.Kind = "figure"
	}
	for _, p := range f.Picks {
		out.Picks = append(out.Picks, pickView{p.Value, p.Word})
	}
	return out
}

// judge says of a job with the readings of its log what its sheet shows; restEnds is of
// the rest that runs.
func (s *server) judge(
	j store.Job,
	log []store.StoredReading,
	p store.Person,
	restEnds *time.Time,
	was *assess.Opinion,
) Judgement {
	live := store.InEffect(log)
	sheet := assess.Judge(
		s.caseOf(j, log),
		assess.As{Voice: voice(p), Closed: j.ClosedAt != nil, Labels: s.labels.find, RestEnds: restEnds, Was: was},
	)
	a := sheet.Assessment
	out := Judgement{
		Verdict:    a.Verdict,
		Level:      a.Level(),
		Ready:      a.Ready(),
		Headline:   a.Headline,
		Because:    a.Because,
		Customer:   a.Customer,
		SOC:        a.SOC,
		CCAEst:     a.CCAEst,
		FailsBelow: a.FailsBelow,
		Others:     append([]assess.Otherwise{}, a.Others...),
		Findings:   []findingView{},
		Suspects:   []suspectView{},
		Next:       a.Next,
		Tests:      append([]assess.Step{}, a.Tests...),
		Cautions:   []guide.Caution{},
		Stations:   []stationView{},
		At:         sheet.At,
		OnCharge:   a.Hangs != nil && j.ClosedAt == nil,
		hangs:      a.Hangs,
	}
	if len(sheet.Stops) > 0 {
		out.Stopped = &stopView{Codes: sheet.Stops, Text: a.Headline, MayLift: p.Role == store.Lead}
	}
	ids := func(at []int) []string {
		out := make([]string, len(at))
		for i, n := range at {
			out[i] = live[n].ID
		}
		return out
	}
	out.Outcome = viewOutcome(sheet.Outcome, ids)
	var decided []string
	for _, f := range a.Findings {
		decided = append(decided, f.Rule)
	}
	out.Rules = j.Rules.For(j.Vehicle.Class).Said(decided...)
	words.Spoken(&out.Rules, voice(p))
	for _, f := range a.Findings {
		out.Findings = append(out.Findings, findingView{f, ids(f.Readings)})
	}
	for _, s := range a.Suspects {
		v := suspectView{Suspect: s, Reasons: []reasonView{}}
		for _, r := range s.Reasons {
			one := reasonView{Text: r.Text, Weight: r.Weight}
			if r.Reading >= 0 {
				one.Reading = live[r.Reading].ID
			}
			v.Reasons = append(v.Reasons, one)
		}
		out.Suspects = append(out.Suspects, v)
	}
	for _, code := range a.Cautions {
		if caution, ok := guide.CautionOf(code); ok {
			out.Cautions = append(out.Cautions, caution)
		}
	}
	for _, st := range sheet.Stations {
		s := st.Station
		v := stationView{
			Code:     s.Code,
			Name:     s.Name,
			Hint:     s.Hint,
			Kinds:    []kindView{},
			State:    st.State,
			Level:    st.Level,
			Summary:  st.Summary,
			Gauges:   st.Gauges,
			Advice:   st.Advice,
			Flow:     st.Flow,
			Aids:     append([]station.Aid{}, s.Aids...),
			Cautions: st.Cautions,
			Taken:    ids(st.Taken),
		}
		for _, n := range slices.Backward(st.Taken) {
			if line := station.Tell(live[n].Reading); line.Figure != "" && s.Shows(live[n].Reading) {
				v.Figure, v.Unit = voice(p).Figure(line.Figure), line.Unit
				break
			}
		}
		if st.Flow != nil {
			v.Figure, v.Unit = strconv.Itoa(int(math.Round(st.Flow.Settles.Best))), "%"
		}
		if p.Role != store.Lead {
			v.Advice.Ways = slices.DeleteFunc(v.Advice.Ways, func(w station.Way) bool { return w.Kind == station.Override })
		}
		for _, code := range s.Takes {
			k, _ := station.KindOf(code)
			kind := kindView{Code: k.Code, Name: k.Name, Fields: []fieldView{}}
			for _, f := range k.Fields {
				kind.Fields = append(kind.Fields, viewField(f))
			}
			v.Kinds = append(v.Kinds, kind)
		}
		out.Stations = append(out.Stations, v)
	}
	return out
}

// caseOf is a job's case as it is judged: now, or when it was closed.
func (s *server) caseOf(j store.Job, log []store.StoredReading) reading.Case {
	c := j.Case(log)
	now := s.Now()
	if j.ClosedAt != nil {
		now = *j.ClosedAt
	}
	c.AsOf = &now
	return c
}

func voice(p store.Person) words.Voice {
	return words.Voice{Temperature: words.Scale(p.Temperature), Torque: words.TorqueUnit(p.Torque), Comma: p.Decimal == "comma"}
}
