package api

import (
	"context"
	"errors"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/bench"
	"grapnel/core/casefile"
	"grapnel/core/guide"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// jobSheet is everything the job sheet shows.
type jobSheet struct {
	Job         jobView       `json:"job"`
	Readings    []readingView `json:"readings" doc:"corrected ones too, in the order they were saved"`
	InEffect    []string      `json:"in_effect" doc:"ids of the readings that no other corrects, in the order they were taken"`
	Rest        *restView     `json:"rest,omitempty" doc:"the rest that runs, if one does"`
	Stay        *restView     `json:"stay,omitempty" doc:"what it is left alone for, a rest too"`
	WarmMinutes float64       `json:"warm_minutes,omitempty" doc:"in which it is warm enough where it is; left out where it is, or never will be"`
	Wait        assess.Wait   `json:"wait"`
	RestMinutes float64       `json:"rest_minutes" doc:"how long the house rests a battery"`
	Plus        guide.Side    `json:"plus" doc:"the positive post"`
	Minus       guide.Side    `json:"minus" doc:"the negative post"`
	Off         []offView     `json:"off" doc:"what guides have taken off and nobody has put back"`
	Guides      []guideLine   `json:"guides" doc:"begun and not ended"`
	Follows     string        `json:"follows,omitempty" doc:"the job of the battery that stood in its place before"`
	Followed    string        `json:"followed_by,omitempty" doc:"the job of the battery that took its place"`
	Comeback    *comebackView `json:"comeback,omitempty" doc:"it was here not long ago: the verdict it went with"`
	Judgement
}

type sheetReply = output[jobSheet]

func (s *server) sheet(ctx context.Context, id string) (*sheetReply, error) {
	p := who(ctx)
	j, log, err := s.job(ctx, id)
	if err != nil {
		return nil, err
	}
	rest, err := s.Store.RunningRest(ctx, p.WorkshopID, id)
	if err != nil {
		return nil, answer(err)
	}
	said, err := s.Store.Said(ctx, p.WorkshopID, id)
	if err != nil {
		return nil, answer(err)
	}
	was, err := s.wasBefore(ctx, j)
	if err != nil {
		return nil, err
	}
	out := jobSheet{
		Job:         viewJob(j),
		Readings:    viewReadings(log, voice(p)),
		InEffect:    []string{},
		Judgement:   s.judged(j, log, p, rest, was),
		RestMinutes: j.Rules.RestMinutes,
	}
	for _, r := range store.InEffect(log) {
		out.InEffect = append(out.InEffect, r.ID)
	}
	if out.Comeback, err = s.comeback(ctx, j); err != nil {
		return nil, err
	}
	out.Plus, out.Minus = guide.Posts(j.Vehicle.Earth)
	if err := s.hands(ctx, j, log, &out); err != nil {
		return nil, err
	}
	if rest != nil {
		out.Stay = viewRest(*rest)
		if rest.Kind == assess.StayRest {
			out.Rest = out.Stay
		}
	}
	if minutes, ok := assess.Warming(s.caseOf(j, log), s.labels.find); ok && j.ClosedAt == nil {
		out.WarmMinutes = minutes
	}
	a := assess.Assessment{Verdict: out.Verdict, Headline: out.Headline, Next: out.Next, Hangs: out.hangs}
	out.Wait = assess.Waits(a, stayOf(rest), saidOf(said[id]), j.ClosedAt != nil, s.Now())
	if out.OnCharge {
		c, known, err := s.charging(j, log)
		if err != nil {
			slog.WarnContext(ctx, "no forecast of a charge", "job", id, "error", err)
		} else if known {
			out.Wait = assess.OffNow(out.Wait, c.foretold())
		}
	}
	return replied(out)
}

// changed gives the sheet of a job that has just been changed, and tells the other
// devices of the workshop.
func (s *server) changed(ctx context.Context, id string) (*sheetReply, error) {
	s.live.wake(who(ctx).WorkshopID)
	out, err := s.sheet(ctx, id)
	var known huma.StatusError
	if errors.As(err, &known) && known.GetStatus() < http.StatusInternalServerError {
		return nil, err // there is no such job, so that nothing was changed
	}
	if err != nil {
		slog.ErrorContext(ctx, "the sheet after a change", "error", err)
		return nil, typed(http.StatusServiceUnavailable, unshown,
			"This is saved, but the database did not answer with the sheet. Try again in a moment; nothing is doubled.")
	}
	return out, nil
}

// job gives a job with its log of readings.
func (s *server) job(ctx context.Context, id string) (store.Job, []store.StoredReading, error) {
	ws := who(ctx).WorkshopID
	j, err := s.Store.Job(ctx, ws, id)
	if err != nil {
		return j, nil, answer(err)
	}
	rs, err := s.Store.Readings(ctx, ws, id)
	return j, rs[id], answer(err)
}

// jobLine is a job in a list.
type jobLine struct {
	ID       string      `json:"id" format:"uuid"`
	Tag      string      `json:"tag"`
	Vehicle  string      `json:"vehicle"`
	Class    string      `json:"class"`
	Customer string      `json:"customer,omitempty"`
	Headline words.Text  `json:"headline"`
	Because  words.Text  `json:"because"`
	Level    bench.Level `json:"level"`
	Wait     assess.Wait `json:"wait"`
	Stay     *restView   `json:"stay,omitempty" doc:"what it is left alone for"`
	Hung     *hungLine   `json:"hung,omitempty" doc:"the charger it hangs on"`
	Moments  []Moment    `json:"moments" doc:"at which it needs hands, the soonest first"`
	Promised *time.Time  `json:"promised_at,omitempty"`
	OpenedAt time.Time   `json:"opened_at"`
	ClosedAt *time.Time  `json:"closed_at,omitempty"`
	Since    time.Time   `json:"since" doc:"when it was last worked on, or its rest was over: it waits since then"`
	By       string      `json:"by" doc:"who worked on it last"`
	Found    words.Text  `json:"found,omitzero" doc:"of one that is found by it: the note or conclusion"`
}

// hungLine is a battery on its charger, in a list.
type hungLine struct {
	Charger string     `json:"charger,omitempty" doc:"as the shop calls it"`
	Since   *time.Time `json:"since,omitempty" doc:"left out where nobody noted it"`
	Delay   *time.Time `json:"refuses_until,omitempty" doc:"when it begins to take current, where it does not from the start"`
	Ready   *time.Time `json:"ready_at,omitempty"`
	Full    *time.Time `json:"full_at,omitempty"`
	Text    words.Text `json:"text,omitzero" doc:"how it is doing"`
	Sign    string     `json:"sign,omitempty" enum:"ok,note,act,stop"`
}

// waiting is the line in the order of the floor.
func (l jobLine) waiting() assess.Waiting {
	return assess.Waiting{Wait: l.Wait, Level: l.Level, Resting: l.Stay != nil, OpenedAt: l.OpenedAt}
}

// lines judges a list of jobs; pending is how many charges are still to be worked out.
func (s *server) lines(ctx context.Context, jobs []store.Job) (out []jobLine, pending int, err error) {
	p := who(ctx)
	known, err := s.glanceAt(ctx, jobs)
	if err != nil {
		return nil, 0, err
	}
	rests, err := s.Store.RunningRests(ctx, p.WorkshopID)
	if err != nil {
		return nil, 0, answer(err)
	}
	said, err := s.Store.Said(ctx, p.WorkshopID, "")
	if err != nil {
		return nil, 0, answer(err)
	}
	var hung []store.Job
	for _, j := range jobs {
		if known[j.ID].Hangs != nil && j.ClosedAt == nil {
			hung = append(hung, j)
		}
	}
	charges, pending, err := s.chargings(ctx, hung)
	if err != nil {
		return nil, 0, err
	}
	now := s.Now()
	out = make([]jobLine, len(jobs))
	for i, j := range jobs {
		a := known[j.ID]
		l := jobLine{
			ID: j.ID, Tag: j.Battery.Tag, Vehicle: j.Vehicle.Name, Class: j.Vehicle.Class, Customer: j.Customer,
			Headline: a.Headline, Because: a.Because, Level: a.Level(),
			OpenedAt: j.OpenedAt, ClosedAt: j.ClosedAt, Since: a.since, By: a.by, Promised: j.Promised,
			Moments: []Moment{},
		}
		var rest *store.Rest
		if r, ok := rests[j.ID]; ok && j.ClosedAt == nil {
			rest = &r
			l.Stay = viewRest(r)
		}
		l.Wait = assess.Waits(a.Assessment, stayOf(rest), saidOf(said[j.ID]), j.ClosedAt != nil, now)
		if j.ClosedAt == nil {
			l.hangs(a.Assessment, charges[j.ID])
			l.Wait = assess.OffNow(l.Wait, charges[j.ID].foretold())
			l.Moments = moments(a.Assessment, stayOf(rest), charges[j.ID], said[j.ID], now)
			// What has come waits for hands since then.
			for _, m := range l.Moments {
				if m.Over && m.At.After(l.Since) {
					l.Since = m.At
				}
			}
		}
		out[i] = l
	}
	words.Spoken(&out, voice(p))
	return out, pending, nil
}

// hangs notes the charger a job's battery hangs on, and what is foretold of it.
func (l *jobLine) hangs(a assess.Assessment, c *charging) {
	h := a.Hangs
	if h == nil {
		return
	}
	l.Hung = &hungLine{Charger: h.Charger}
	if !h.Since.IsZero() {
		l.Hung.Since = &h.Since
	}
	if c == nil {
		return
	}
	l.Hung.Ready, l.Hung.Full, l.Hung.Text, l.Hung.Sign = c.Ready, c.Full, c.Follows.Text, c.Follows.Sign
	if f := c.OnCharge.Now; f.Delayed() {
		at := h.Since.Add(time.Duration(f.Delay.Best * float64(time.Hour)))
		l.Hung.Delay = &at
	}
}

type listJobsInput struct {
	Find   string `query:"find" maxLength:"80" doc:"words of a tag, vehicle, customer, note or conclusion: all of them"`
	Closed bool   `query:"closed" doc:"closed jobs instead of open ones"`
	Wait   string `query:"wait" enum:"hands,clock" doc:"of open ones: those that wait for it"`
	By     string `query:"by" maxLength:"80" doc:"of open ones: those this person had in hand last"`
	Window
}

// keeps reports whether an open job is among those that are asked for.
func (in listJobsInput) keeps(l jobLine) bool {
	return (in.Wait == "" || (in.Wait == "clock") == (l.Wait.At != nil)) && (in.By == "" || in.By == l.By)
}

// Window is the part of a list that is asked for.
type Window struct {
	From int `query:"from" minimum:"0" maximum:"1000000" doc:"how many to pass over"`
	Most int `query:"most" minimum:"1" maximum:"1000" default:"200" doc:"how many to give"`
}

// part gives what of a whole list is asked for.
func part[T any](w Window, all []T) []T {
	from := min(w.From, len(all))
	return all[from:min(from+w.Most, len(all))]
}

type jobList struct {
	Now  time.Time `json:"now"`
	Jobs []jobLine `json:"jobs"`
	All  int       `json:"all" doc:"how many there are, of which these are a part"`
	// Of all open jobs that are found, whatever they are narrowed to.
	Tally []tally   `json:"tally" doc:"open jobs by who had them in hand last"`
	Done  []jobLine `json:"done" doc:"of a whole floor: what was handed over in the last hours, the last first"`
	// Of open jobs that are looked for: what was handed over and is found so too.
	Earlier    []jobLine `json:"earlier" doc:"the closed jobs that are found too, those named so first, then the newest"`
	EarlierAll int       `json:"earlier_all" doc:"how many there are, of which these are a part"`
	Pending    int       `json:"pending" doc:"charges that are still being worked out: ask again"`
}

// What was handed over stands on the floor for some hours, and so many at most.
const (
	doneHours = 4
	mostDone  = 12
)

// handedOver gives what was handed over in the last hours.
func (s *server) handedOver(ctx context.Context) ([]jobLine, error) {
	jobs, _, err := s.Store.Jobs(ctx, who(ctx).WorkshopID, true, "", store.Page{Most: mostDone})
	if err != nil {
		return nil, answer(err)
	}
	from := s.Now().Add(-doneHours * time.Hour)
	jobs = slices.DeleteFunc(jobs, func(j store.Job) bool { return j.ClosedAt == nil || j.ClosedAt.Before(from) })
	out, _, err := s.lines(ctx, jobs)
	return out, err
}

// tally is how many open jobs somebody had in hand last, by what they wait for.
type tally struct {
	By    string `json:"by"`
	Hands int    `json:"hands"`
	Clock int    `json:"clock"`
}

// tallied counts jobs by who had them in hand last.
func tallied(lines []jobLine) []tally {
	out := []tally{}
	at := map[string]int{}
	for _, l := range lines {
		i, ok := at[l.By]
		if !ok {
			i = len(out)
			at[l.By], out = i, append(out, tally{By: l.By})
		}
		if l.Wait.At != nil {
			out[i].Clock++
		} else {
			out[i].Hands++
		}
	}
	slices.SortFunc(out, func(a, b tally) int { return strings.Compare(a.By, b.By) })
	return out
}

// mostEarlier is how many closed jobs stand under the open ones that are looked for.
const mostEarlier = 12

// tellFound says of jobs that are not named by what was looked for where it stands.
func (s *server) tellFound(ctx context.Context, jobs []store.Job, lines []jobLine, find string) error {
	phrase := strings.Join(strings.Fields(words.Folded(find)), " ")
	some := append([]string{phrase}, strings.Fields(phrase)...)
	open := map[string][]string{}
	var ids []string
	of := map[string]store.Job{}
	for _, j := range jobs {
		named := words.Folded(j.Battery.Tag + " " + j.Vehicle.Name + " " + j.Customer)
		if strings.Contains(named, phrase) {
			continue
		}
		for _, w := range some {
			if !strings.Contains(named, w) {
				open[j.ID] = append(open[j.ID], w)
			}
		}
		if len(some) > 2 && len(open[j.ID]) == 1 { // each word is in its name, in another order
			delete(open, j.ID)
		}
		if len(open[j.ID]) > 0 {
			ids, of[j.ID] = append(ids, j.ID), j
		}
	}
	if len(ids) == 0 {
		return nil
	}
	notes, err := s.Store.Notes(ctx, who(ctx).WorkshopID, ids...)
	if err != nil {
		return answer(err)
	}
	logs, err := s.Store.Readings(ctx, who(ctx).WorkshopID, ids...)
	if err != nil {
		return answer(err)
	}
	known, err := s.glanceAt(ctx, jobs) // of the lines themselves
	if err != nil {
		return err
	}
	for i := range lines {
		id := lines[i].ID
		if len(open[id]) == 0 {
			continue
		}
		lines[i].Found = firstWith(findable(of[id], s.caseOf(of[id], logs[id]), notes[id], known[id].Assessment), open[id])
	}
	return nil
}

// firstWith gives the first line that has the first of some folded words that any line has.
func firstWith(all, some []string) words.Text {
	for _, w := range some {
		for _, line := range all {
			if strings.Contains(words.Folded(line), w) {
				return words.Say("{line}", "line", line)
			}
		}
	}
	return words.Text{}
}

// everyJob is more than a workshop can have open.
const everyJob = 1 << 30

func (s *server) listJobs(ctx context.Context, in *listJobsInput) (*output[jobList], error) {
	// Closed ones come by the time they were closed, a part at a time; open ones by what
	// they wait for, which is known once all are judged.
	page := store.Page{From: in.From, Most: in.Most}
	if !in.Closed {
		page = store.Page{Most: everyJob}
	}
	jobs, all, err := s.Store.Jobs(ctx, who(ctx).WorkshopID, in.Closed, in.Find, page)
	if err != nil {
		return nil, answer(err)
	}
	lines, pending, err := s.lines(ctx, jobs)
	if err != nil {
		return nil, err
	}
	out := jobList{Now: s.Now(), Jobs: lines, All: all, Tally: []tally{}, Done: []jobLine{}, Earlier: []jobLine{},
		Pending: pending}
	if in.Find != "" && !in.Closed && in.From == 0 {
		earlier, n, err := s.Store.Jobs(ctx, who(ctx).WorkshopID, true, in.Find, store.Page{Most: mostEarlier})
		if err != nil {
			return nil, answer(err)
		}
		if out.Earlier, _, err = s.lines(ctx, earlier); err != nil {
			return nil, err
		}
		out.EarlierAll = n
		if err := s.tellFound(ctx, earlier, out.Earlier, in.Find); err != nil {
			return nil, err
		}
	}
	if in.Find != "" {
		if err := s.tellFound(ctx, jobs, out.Jobs, in.Find); err != nil {
			return nil, err
		}
	}
	if !in.Closed {
		out.Tally = tallied(lines)
		lines = slices.DeleteFunc(lines, func(l jobLine) bool { return !in.keeps(l) })
		slices.SortStableFunc(lines, func(a, b jobLine) int { return assess.ByWait(a.waiting(), b.waiting()) })
		out.Jobs, out.All = part(in.Window, lines), len(lines)
		if in.Find == "" && in.Wait == "" && in.By == "" && in.From == 0 {
			if out.Done, err = s.handedOver(ctx); err != nil {
				return nil, err
			}
		}
	}
	return replied(out)
}

type newJob struct {
	ID ID `json:"id" doc:"made by the client, UUID v7"`
	JobDetails
}

// SameOr says whose a tag is that is known here.
type SameOr struct {
	Battery string `query:"battery" enum:"same,other" doc:"where the tag is known here with another label: that battery, or another, which gets the next tag"`
}

type addJobInput struct {
	SameOr
	Body newJob
}

func (s *server) addJob(ctx context.Context, in *addJobInput) (*sheetReply, error) {
	p := who(ctx)
	j := in.Body.job()
	j.SameBattery = in.Battery == "same"
	if in.Battery == "other" {
		j.Battery.Tag = ""
	}
	ws, err := s.Store.Workshop(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	j.ID, j.OpenedByID, j.Rules = string(in.Body.ID), p.ID, ws.Rules
	if err := casefile.Validate(j.Case(nil)); err != nil {
		return nil, answer(err)
	}
	if err := s.Store.AddJob(ctx, p.WorkshopID, j, nil); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, j.ID)
}

func (s *server) getJob(ctx context.Context, in *OfJob) (*sheetReply, error) {
	return s.sheet(ctx, string(in.ID))
}

type jobChange struct {
	Version int `json:"version" doc:"the version the change starts from"`
	JobDetails
}

type changeJobInput struct {
	OfJob
	SameOr
	Body jobChange
}

// checkJob checks a job's details, and whether its readings can be of such a battery.
func checkJob(j store.Job, log []store.StoredReading) error {
	if err := casefile.Validate(j.Case(nil)); err != nil {
		return err
	}
	return casefile.Check(j.Case(log))
}

func (s *server) changeJob(ctx context.Context, in *changeJobInput) (*sheetReply, error) {
	old, log, err := s.job(ctx, string(in.ID))
	if err != nil {
		return nil, err
	}
	j := in.Body.job()
	j.ID, j.Version, j.Rules = string(in.ID), in.Body.Version, old.Rules
	if j.Battery.Tag == "" {
		j.Battery.Tag = old.Battery.Tag
	}
	j.SameBattery = in.Battery == "same"
	if err := checkJob(j, log); err != nil {
		return nil, answer(err)
	}
	if err := s.Store.ChangeJob(ctx, who(ctx).WorkshopID, actor(ctx), j); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}

type closeInput struct {
	OfJob
	Body *struct {
		Reason string `json:"reason,omitempty" maxLength:"300" doc:"why it goes though something is still off; a lead's alone"`
	}
}

func (s *server) closeJob(ctx context.Context, in *closeInput) (*sheetReply, error) {
	j, err := s.Store.Job(ctx, who(ctx).WorkshopID, string(in.ID))
	if err != nil {
		return nil, answer(err)
	}
	c := store.Closing{At: s.Now()}
	if in.Body != nil {
		c.Reason = words.Clean(in.Body.Reason)
	}
	if j.ClosedAt == nil {
		off, seen, err := s.stillOff(ctx, j)
		if err != nil {
			return nil, err
		}
		c.Guided = seen
		for _, p := range off {
			if !p.Stored {
				c.Off = append(c.Off, p.Word)
			}
		}
		if err := mayGo(c, actor(ctx).Lead); err != nil {
			return nil, err
		}
	}
	if err := s.Store.CloseJob(ctx, who(ctx).WorkshopID, actor(ctx), string(in.ID), c); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}

func (s *server) reopenJob(ctx context.Context, in *OfJob) (*sheetReply, error) {
	if err := s.Store.ReopenJob(ctx, who(ctx).WorkshopID, actor(ctx), string(in.ID)); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}
