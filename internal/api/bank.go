package api

import (
	"context"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/charge"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// hungView is a battery on a charger of the bank.
type hungView struct {
	JobID   string      `json:"job_id" format:"uuid"`
	Tag     string      `json:"tag"`
	Vehicle string      `json:"vehicle"`
	Level   bench.Level `json:"level"`
	Charger string      `json:"charger,omitempty" doc:"as the reading has it"`
	Since   *time.Time  `json:"since,omitempty"`
	Amps    float64     `json:"amps,omitempty" doc:"what it is set to"`
	SOC     *float64    `json:"soc_pct,omitempty" doc:"its charge now, by the forecast"`
	SOCLow  *float64    `json:"soc_low_pct,omitempty"`
	SOCHigh *float64    `json:"soc_high_pct,omitempty"`
	Volts   *float64    `json:"volts,omitempty" doc:"as last read on this charger"`
	Ready   *time.Time  `json:"ready_at,omitempty"`
	Full    *time.Time  `json:"full_at,omitempty"`
	Check   *time.Time  `json:"check_at,omitempty"`
	Code    string      `json:"code,omitempty" doc:"how it is doing; charge.Follows"`
	Sign    string      `json:"sign,omitempty" enum:"ok,note,act,stop"`
	Text    words.Text  `json:"text,omitzero"`
	Do      words.Text  `json:"do,omitzero"`
}

// chargerView is a charger of the shop with what hangs on it.
type chargerView struct {
	ID      string      `json:"id" format:"uuid"`
	Version int         `json:"version"`
	Unit    charge.Unit `json:"unit"`
	Hung    *hungView   `json:"hung,omitempty"`
}

// waitingView is a battery that waits for a charger.
type waitingView struct {
	JobID     string     `json:"job_id" format:"uuid"`
	Tag       string     `json:"tag"`
	Vehicle   string     `json:"vehicle"`
	SOC       float64    `json:"soc_pct"`
	ChargerID string     `json:"charger_id,omitempty" doc:"left out where none suits it"`
	From      *time.Time `json:"from,omitempty"`
	Full      *time.Time `json:"full_at,omitempty"`
	Minutes   float64    `json:"minutes,omitempty" doc:"on that charger"`
	Promised  *time.Time `json:"promised_at,omitempty"`
	Late      float64    `json:"late_minutes,omitempty"`
	Why       words.Text `json:"why"`
	Chosen    bool       `json:"chosen" doc:"its charger was chosen by somebody"`
	After     string     `json:"after,omitempty" doc:"tag of what hangs on that charger until then"`
	Suits     []string   `json:"suits" doc:"the chargers it may hang on"`
}

type bankBody struct {
	Now       time.Time     `json:"now"`
	Chargers  []chargerView `json:"chargers"`
	Elsewhere []hungView    `json:"elsewhere" doc:"on charge, on none of these chargers or on one that something else hangs on"`
	Waiting   []waitingView `json:"waiting" doc:"in the order they are hung"`
	Promises  int           `json:"promises"`
	Kept      int           `json:"kept"`
	FirstCome int           `json:"first_come" doc:"promises kept by hanging them as they came"`
	Best      int           `json:"best" doc:"promises kept by the order proposed"`
	Late      float64       `json:"late_minutes"`
	BestLate  float64       `json:"best_late_minutes"`
	Own       bool          `json:"own" doc:"the order is somebody's own"`
	Version   int           `json:"version" doc:"of the order, to be sent back with another"`
	Pending   int           `json:"pending" doc:"charges that are still being worked out: ask again"`
	Kinds     []words.Term  `json:"kinds" doc:"of charger"`
}

func (s *server) getBank(ctx context.Context, _ *nothing) (*output[bankBody], error) {
	p := who(ctx)
	jobs, glances, err := s.inHand(ctx)
	if err != nil {
		return nil, err
	}
	var hung, waiting []store.Job
	for _, j := range jobs {
		switch g := glances[j.ID]; {
		case g.Hangs != nil:
			hung = append(hung, j)
		case g.Charge != nil:
			waiting = append(waiting, j)
		}
	}
	chargers, err := s.Store.Chargers(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	order, err := s.Store.BankOrder(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	rests, err := s.Store.RunningRests(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	charges, pending, err := s.chargings(ctx, hung)
	if err != nil {
		return nil, err
	}
	out := bankBody{
		Now:       s.Now(),
		Chargers:  []chargerView{},
		Elsewhere: []hungView{},
		Waiting:   []waitingView{},
		Version:   order.Version,
		Pending:   pending,
		Kinds:     charge.Kinds().Terms(),
	}
	bank := assess.Bank{Now: out.Now}
	at := map[string]int{}
	for i, c := range chargers {
		at[nameKey(c.Unit.Name)] = i
		out.Chargers = append(out.Chargers, chargerView{ID: c.ID, Version: c.Version, Unit: c.Unit})
		bank.Chargers = append(bank.Chargers, assess.BankCharger{Unit: c.Unit})
	}
	// What was hung last hangs there; what is said to hang there too stands elsewhere.
	slices.SortStableFunc(hung, func(a, b store.Job) int { return glances[b.ID].Hangs.Since.Compare(glances[a.ID].Hangs.Since) })
	for _, j := range hung {
		v := s.viewHung(j, glances[j.ID], charges[j.ID])
		i, ok := at[nameKey(v.Charger)]
		if !ok || out.Chargers[i].Hung != nil {
			out.Elsewhere = append(out.Elsewhere, v)
			continue
		}
		out.Chargers[i].Hung = &v
		bank.Chargers[i].Held = j.Battery.Tag
		if v.Full != nil && glances[j.ID].Hangs.Kind != charge.Maintainer {
			bank.Chargers[i].Free = *v.Full
		} else {
			bank.Chargers[i].Never = true // not known, or it is kept there
		}
	}
	s.wait(&bank, waiting, glances, rests)
	for _, o := range order.Jobs {
		chosen := charge.Free
		if i := slices.IndexFunc(chargers, func(c store.Charger) bool { return c.ID == o.ChargerID }); i >= 0 {
			chosen = i
		}
		bank.Order = append(bank.Order, assess.Chosen{Key: o.JobID, Charger: chosen})
	}
	if order.Jobs != nil && bank.Order == nil {
		bank.Order = []assess.Chosen{}
	}
	plan := bank.Planned()
	out.Promises, out.Kept, out.FirstCome, out.Best = plan.Promises, plan.Kept, plan.FirstCome, plan.Best
	out.Late, out.BestLate, out.Own = math.Round(plan.Late), math.Round(plan.BestLate), plan.Own
	for _, r := range plan.Rows {
		w := bank.Waiting[r.Waiting]
		v := waitingView{
			JobID:    w.Key,
			Tag:      w.Tag,
			Vehicle:  waiting[r.Waiting].Vehicle.Name,
			SOC:      math.Round(w.Need.SOC),
			Promised: w.Promised,
			Why:      r.Why,
			Chosen:   r.Chosen,
			Late:     math.Round(r.Late),
			Suits:    []string{},
		}
		for i, m := range w.Minutes {
			if !math.IsInf(m, 1) {
				v.Suits = append(v.Suits, chargers[i].ID)
			}
		}
		if r.Charger != charge.Free {
			v.ChargerID, v.From, v.Full, v.Minutes = chargers[r.Charger].ID, &r.From, &r.To, r.Takes
			v.After = bank.Chargers[r.Charger].Held
		}
		out.Waiting = append(out.Waiting, v)
	}
	words.Spoken(&out, voice(p))
	return replied(out)
}

// nameKey is a charger's name as names are compared: whatever its capitals.
func nameKey(name string) string { return strings.ToLower(words.Clean(name)) }

// inHand gives the open jobs, what came first first, with what each came to.
func (s *server) inHand(ctx context.Context) ([]store.Job, map[string]glance, error) {
	jobs, _, err := s.Store.Jobs(ctx, who(ctx).WorkshopID, false, "", store.Page{Most: everyJob})
	if err != nil {
		return nil, nil, answer(err)
	}
	slices.Reverse(jobs)
	glances, err := s.glanceAt(ctx, jobs)
	return jobs, glances, err
}

func (s *server) viewHung(j store.Job, g glance, c *charging) hungView {
	v := hungView{JobID: j.ID, Tag: j.Battery.Tag, Vehicle: j.Vehicle.Name, Level: g.Level(), Charger: g.Hangs.Charger}
	if h := g.Hangs; !h.Since.IsZero() {
		v.Since, v.Check = &h.Since, &h.Check
	}
	v.Volts = g.Hangs.Volts
	if c == nil {
		return v
	}
	now := s.expects(*c)
	soc, low, high := math.Round(now.SOC), math.Round(now.Low), math.Round(now.High)
	v.Amps, v.SOC, v.SOCLow, v.SOCHigh = c.OnCharge.Amps, &soc, &low, &high
	v.Ready, v.Full = c.Ready, c.Full
	v.Code, v.Sign, v.Text, v.Do = c.Follows.Code, c.Follows.Sign, c.Follows.Text, c.Follows.Do
	return v
}

// wait adds what waits for a charger to a bank, with how long it hangs on each.
func (s *server) wait(bank *assess.Bank, waiting []store.Job, glances map[string]glance, rests map[string]store.Rest) {
	for _, j := range waiting {
		w := assess.BankWaiting{Key: j.ID, Tag: j.Battery.Tag, Need: *glances[j.ID].Charge, Promised: j.Promised,
			After: assess.TestMinutes(j.Rules), Minutes: make([]float64, len(bank.Chargers))}
		if r, ok := rests[j.ID]; ok && r.EndsAt.After(bank.Now) && r.Kind != assess.StayParts {
			w.From, w.Warming = r.EndsAt, r.Kind == assess.StayWarm
		}
		for i, c := range bank.Chargers {
			w.Minutes[i] = s.reaches.of(w.Need, c.Unit)
		}
		bank.Waiting = append(bank.Waiting, w)
	}
}

// reaches remembers how long a charge takes: a battery is asked of on every charger, at
// every look at the bank.
type reaches struct {
	mu    sync.Mutex
	known map[reachKey]float64
}

type reachKey struct {
	battery    battery.Battery
	soc, tempC float64
	on         charge.Charger
}

const mostReaches = 5000

func (r *reaches) of(need assess.ForCharge, u charge.Unit) float64 {
	key := reachKey{need.Setup.Battery, need.SOC, need.Setup.State.TempC, need.On(u)}
	r.mu.Lock()
	minutes, ok := r.known[key]
	r.mu.Unlock()
	if ok {
		return minutes
	}
	minutes = need.Minutes(u)
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.known == nil || len(r.known) >= mostReaches {
		r.known = map[reachKey]float64{}
	}
	r.known[key] = minutes
	return minutes
}

type newCharger struct {
	ID   ID          `json:"id" doc:"made by the client, UUID v7"`
	Unit charge.Unit `json:"unit"`
}

// unit reads a charger as it was sent: its words cleaned, its figures checked together.
func unit(u charge.Unit) (charge.Unit, error) {
	u.Name, u.Where = words.Clean(u.Name), words.Clean(u.Where)
	slices.Sort(u.Rates)
	u.Rates = slices.Compact(u.Rates)
	if len(u.Rates) == 0 {
		u.Rates = nil
	}
	if !charge.Kinds().Has(string(u.Kind)) {
		return u, huma.Error422UnprocessableEntity(
			fmt.Sprintf("%q is no kind of charger. Say one of %s.", u.Kind, strings.Join(charge.Kinds().Codes(), ", ")),
		)
	}
	if wrong := u.Check(); len(wrong) > 0 {
		return u, refuse("body.unit", wrong)
	}
	return u, nil
}

func (s *server) addCharger(ctx context.Context, in *struct{ Body newCharger }) (*output[bankBody], error) {
	u, err := unit(in.Body.Unit)
	if err != nil {
		return nil, err
	}
	if err := s.Store.AddCharger(ctx, who(ctx).WorkshopID, actor(ctx), store.Charger{ID: string(in.Body.ID), Unit: u}); err != nil {
		return nil, answer(err)
	}
	return s.getBank(ctx, nil)
}

type changeChargerInput struct {
	ID   ID `path:"id"`
	Body struct {
		Version int         `json:"version"`
		Unit    charge.Unit `json:"unit"`
		Retired bool        `json:"retired,omitempty" doc:"it is in use no longer; what was charged on it stays"`
	}
}

// Resolve takes an id in capitals for the same id.
func (in *changeChargerInput) Resolve(huma.Context) []error { return in.ID.lower() }

func (s *server) changeCharger(ctx context.Context, in *changeChargerInput) (*output[bankBody], error) {
	u, err := unit(in.Body.Unit)
	if err != nil {
		return nil, err
	}
	was, err := s.Store.Charger(ctx, who(ctx).WorkshopID, string(in.ID))
	if err != nil {
		return nil, answer(err)
	}
	// What hangs on it is known by its name.
	if in.Body.Retired || nameKey(u.Name) != nameKey(was.Unit.Name) {
		if by, err := s.holds(ctx, was.Unit.Name); err != nil {
			return nil, err
		} else if by != nil {
			return nil, conflict(occupied, fmt.Sprintf("%s hangs on it. Take that off first.", by.Battery.Tag))
		}
	}
	c := store.Charger{ID: string(in.ID), Unit: u, Version: in.Body.Version}
	if in.Body.Retired {
		now := s.Now().UTC()
		c.RetiredAt = &now
	}
	if err := s.Store.ChangeCharger(ctx, who(ctx).WorkshopID, actor(ctx), c); err != nil {
		return nil, answer(err)
	}
	return s.getBank(ctx, nil)
}

// holds gives the job whose battery hangs on a charger of a name; nil where none does.
func (s *server) holds(ctx context.Context, name string) (*store.Job, error) {
	jobs, glances, err := s.inHand(ctx)
	if err != nil {
		return nil, err
	}
	for _, j := range jobs {
		if h := glances[j.ID].Hangs; h != nil && nameKey(h.Charger) == nameKey(name) {
			return &j, nil
		}
	}
	return nil, nil
}

// Problems of the bank.
const (
	occupied = "urn:grapnel:occupied" // something else hangs on the charger
	noJob    = "urn:grapnel:no-job"   // no battery of that tag is in hand
	unsafe   = "urn:grapnel:unsafe"   // it must not be charged, or not so
)

type hangInput struct {
	Body struct {
		ID        ID      `json:"id" doc:"of the reading, made by the client, UUID v7"`
		ChargerID ID      `json:"charger_id"`
		JobID     ID      `json:"job_id,omitempty"`
		Tag       string  `json:"tag,omitempty" maxLength:"40" doc:"of a battery in hand, as scanned or typed; instead of its job"`
		Amps      float64 `json:"amps,omitempty" minimum:"0" maximum:"500" doc:"what it is set to; by the house's rate when left out"`
		InVehicle bool    `json:"in_vehicle,omitempty"`
	}
}

// hang notes that a battery hangs on a charger of the shop, and gives its sheet.
func (s *server) hang(ctx context.Context, in *hangInput) (*sheetReply, error) {
	p := who(ctx)
	c, err := s.Store.Charger(ctx, p.WorkshopID, string(in.Body.ChargerID))
	if err != nil {
		return nil, answer(err)
	}
	if c.RetiredAt != nil {
		return nil, conflict(occupied, "This charger is in use no longer. Choose another.")
	}
	jobID, err := s.tagged(ctx, string(in.Body.JobID), in.Body.Tag)
	if err != nil {
		return nil, err
	}
	j, log, err := s.job(ctx, jobID)
	if err != nil {
		return nil, err
	}
	// A repeat is answered as the first time was.
	if i := slices.IndexFunc(log, func(r store.StoredReading) bool { return r.ID == string(in.Body.ID) }); i >= 0 {
		return s.changed(ctx, jobID)
	}
	switch other, err := s.holds(ctx, c.Unit.Name); {
	case err != nil:
		return nil, err
	case other == nil:
	case other.ID == jobID:
		return nil, conflict(occupied, fmt.Sprintf("%s hangs on it already.", other.Battery.Tag))
	default:
		return nil, conflict(
			occupied,
			fmt.Sprintf("%s hangs on it. Take that off first, or choose another charger.", other.Battery.Tag),
		)
	}
	plan, known, err := s.planned(ctx, j, log, c.Unit, in.Body.Amps, "", assess.Hang{InVehicle: in.Body.InVehicle})
	if err != nil {
		return nil, answer(err)
	}
	if known && !plan.Allowed {
		return nil, typed(http.StatusConflict, unsafe, refusalsOf(plan.Plan))
	}
	amps := plan.Amps
	fields := reading.Fields{
		"charger":      c.Unit.Name,
		"charger_kind": string(c.Unit.Kind),
		"amps":         amps,
		"place":        rules.ChargeOnBench,
	}
	if plan.Volts > 0 {
		fields["volts"] = plan.Volts
	}
	if in.Body.InVehicle {
		fields["place"] = rules.ChargeInPlace
	}
	prop, err := s.propose(ctx, jobID, string(in.Body.ID), "", reading.Of(station.OnCharger, fields))
	if err != nil {
		return nil, err
	}
	if err := s.Store.Hang(ctx, p.WorkshopID, c, prop.reading); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, jobID)
}

func refusalsOf(p charge.Plan) string {
	var all []string
	for _, r := range p.Refusals {
		all = append(all, r.Text.String())
	}
	return strings.Join(all, " ")
}

// tagged gives the job meant: the one named, or the one in hand of a tag.
func (s *server) tagged(ctx context.Context, jobID, tag string) (string, error) {
	if jobID != "" {
		return jobID, nil
	}
	tag = words.Clean(tag)
	if tag == "" {
		return "", huma.Error422UnprocessableEntity("Say which battery: scan or type its tag.")
	}
	ids, err := s.Store.OpenOfTag(ctx, who(ctx).WorkshopID, tag)
	switch {
	case err != nil:
		return "", answer(err)
	case len(ids) == 0:
		return "", typed(
			http.StatusNotFound,
			noJob,
			fmt.Sprintf("No battery tagged %s is in hand. Open a job for it first, or check the tag.", tag),
		)
	case len(ids) > 1:
		return "", conflict(
			noJob,
			fmt.Sprintf("%d jobs in hand are of %s. Hand one over, or hang it on from its sheet.", len(ids), tag),
		)
	}
	return ids[0], nil
}

type bankOrderInput struct {
	Body struct {
		Version int               `json:"version" doc:"of the order the change starts from"`
		Jobs    []store.BankPlace `json:"jobs,omitempty" maxItems:"500" doc:"in the order they are hung; left out for the order proposed"`
	}
}

func (s *server) setBankOrder(ctx context.Context, in *bankOrderInput) (*output[bankBody], error) {
	seen := map[string]bool{}
	for i := range in.Body.Jobs {
		p := &in.Body.Jobs[i]
		p.JobID, p.ChargerID = strings.ToLower(p.JobID), strings.ToLower(p.ChargerID)
		if seen[p.JobID] {
			return nil, huma.Error422UnprocessableEntity("A battery stands twice in this order. Send each once.")
		}
		seen[p.JobID] = true
	}
	ws := who(ctx).WorkshopID
	if err := s.Store.SetBankOrder(ctx, ws, store.BankOrder{Jobs: in.Body.Jobs, Version: in.Body.Version}); err != nil {
		return nil, answer(err)
	}
	s.live.wake(ws)
	return s.getBank(ctx, nil)
}

type tagInput struct {
	Tag string `query:"tag" minLength:"1" maxLength:"40"`
}

type tagged struct {
	JobID string `json:"job_id" format:"uuid"`
}

// getTagged gives the job in hand of a tag, as it is scanned or typed.
func (s *server) getTagged(ctx context.Context, in *tagInput) (*output[tagged], error) {
	id, err := s.tagged(ctx, "", in.Tag)
	if err != nil {
		return nil, err
	}
	return replied(tagged{id})
}
