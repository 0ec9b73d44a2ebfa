package api

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"grapnel/core/rules"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// changeView is one change as the history shows it.
type changeView struct {
	ID    string       `json:"id"`
	At    time.Time    `json:"at"`
	By    string       `json:"by,omitempty" doc:"absent where nobody was signed in"`
	What  string       `json:"what" doc:"its code"`
	Text  string       `json:"text"`
	JobID string       `json:"job_id,omitempty"`
	About string       `json:"about,omitempty" doc:"a tag or a person"`
	From  []changeFrom `json:"changes" doc:"what it was before, and what it became"`
}

type changeFrom struct {
	What   string `json:"what"`
	Was    string `json:"was"`
	Became string `json:"became"`
}

type historyBody struct {
	Changes []changeView `json:"changes" doc:"the newest first"`
	All     int          `json:"all" doc:"how many there are, of which these are a part"`
}

// Of each change its words, and whether what it was about stands beside them.
var changeWords = map[string]string{
	store.JobOpened: "Job opened", store.JobDetails: "Details changed", store.JobClosed: "Handed over and closed", store.JobReopened: "Opened again",
	store.RulesSet: "House rules changed", store.LowsSet: "Coldest nights typed", store.TwinSet: "Pair changed",
	store.GuideBegun: "Guide begun", store.StockAdded: "Put on the shelf", store.StockChanged: "Changed on the shelf", store.StockGone: "Gone from the shelf",
	store.WeatherSet: "Days of weather typed", store.StoredAway: "Put away", store.StoredChanged: "Changed as it stands", store.StoredWoken: "Woken", store.StoredAsleep: "Put away after all",
	store.NoteAdded: "Note written", store.NoteTakenBack: "Note taken back, or put back", store.PhotoAdded: "Photo taken",
	store.PhotoTakenBack: "Photo taken back, or put back", store.EstimateMade: "Estimate made", store.EstimateAnswered: "Estimate answered",
	store.PricesSet: "Prices changed", store.FeedSet: "Workshop’s calendar address changed", store.TakenOut: "Data taken out", store.BroughtIn: "Data brought in",
	store.ChargerAdded: "Charger added", store.ChargerChanged: "Charger changed", store.ChargerRetired: "Charger retired",
	store.PersonAdded: "Person added", store.PersonChanged: "Account changed", store.PassphraseSet: "Passphrase set", store.PINSet: "PIN changed",
	store.SecondFactor: "Second factor changed", store.SessionsEnded: "Sessions ended", store.SignedIn: "Signed in", store.SignInFailed: "Sign-in failed",
}

type historyInput struct {
	Only string `query:"only" enum:"changes,sign_ins" doc:"changes alone, or who came in and who tried to; left out: all"`
	Window
}

func (s *server) getHistory(ctx context.Context, in *historyInput) (*output[historyBody], error) {
	return s.history(ctx, store.HistoryOf{SignIns: in.Only != "changes", Changes: in.Only != "sign_ins"}, in.Window)
}

type jobHistoryInput struct {
	OfJob
	Window
}

func (s *server) getJobHistory(ctx context.Context, in *jobHistoryInput) (*output[historyBody], error) {
	if _, err := s.Store.Job(ctx, who(ctx).WorkshopID, string(in.ID)); err != nil {
		return nil, answer(err)
	}
	return s.history(ctx, store.HistoryOf{JobID: string(in.ID), Changes: true}, in.Window)
}

func (s *server) history(ctx context.Context, of store.HistoryOf, w Window) (*output[historyBody], error) {
	changes, all, err := s.Store.History(ctx, who(ctx).WorkshopID, of, store.Page{From: w.From, Most: w.Most})
	if err != nil {
		return nil, answer(err)
	}
	out := historyBody{[]changeView{}, all}
	for _, c := range changes {
		out.Changes = append(
			out.Changes,
			changeView{strconv.FormatInt(c.ID, 10), c.At, c.By, c.What, cmp.Or(changeWords[c.What], c.What), c.JobID, c.About,
				s.changesOf(c)},
		)
	}
	words.Spoken(&out, voice(who(ctx)))
	return replied(out)
}

// changesOf lists what a change changed; of house rules in the words of their book.
func (s *server) changesOf(c store.Change) []changeFrom {
	var was, became rules.Rules
	if c.What != store.RulesSet || json.Unmarshal(c.Was, &was) != nil || json.Unmarshal(c.Became, &became) != nil {
		out := differences(c.Was, c.Became)
		if c.What == store.LowsSet && len(out) == 1 {
			out[0].What = "By month, °C"
		}
		return out
	}
	out := []changeFrom{}
	for _, r := range rules.Changes(was, became) {
		name := r.Rule
		if r.Class != "" {
			name += ", " + r.Class
		}
		out = append(out, changeFrom{name, fmt.Sprint(r.From), fmt.Sprint(r.To)})
	}
	return out
}

// differences lists what two documents say otherwise, by the names of their fields. Of a
// fact that stands alone what is not so is left out.
func differences(was, became json.RawMessage) []changeFrom {
	before, after := leaves(was), leaves(became)
	names := slices.Collect(maps.Keys(before))
	for name := range after {
		if _, ok := before[name]; !ok {
			names = append(names, name)
		}
	}
	slices.Sort(names)
	out := []changeFrom{}
	for _, name := range names {
		if before[name] != after[name] && (len(before) > 0 || after[name] != "no") {
			out = append(out, changeFrom{called(name), before[name], after[name]})
		}
	}
	return out
}

// Fields that are called otherwise than they are written.
var fieldWords = map[string]string{
	"": "", "vehicle.name": "Vehicle", "vehicle.system_volts": "System volts", "battery.rating.cca": "CCA", "battery.rating.ca": "CA", "battery.rating.ah_20h": "20 h capacity, Ah",
	"battery.rating.rc_min": "Reserve, min", "battery.rating.standard": "Standard of the CCA", "battery.rating.typical": "Rating only typical", "conditions.ambient_c": "Shop, °C",
	"conditions.battery_c": "Battery, °C", "by_pin": "By PIN", "note": "In the customer’s words", "battery.tag": "Tag",
}

func called(name string) string {
	if word, ok := fieldWords[name]; ok {
		return word
	}
	return words.Capital(strings.NewReplacer("_", " ", ".", ", ").Replace(name))
}

// leaves gives the values of a document by their places.
func leaves(doc json.RawMessage) map[string]string {
	out := map[string]string{}
	var tree any
	if json.Unmarshal(doc, &tree) != nil {
		return out
	}
	var walk func(path string, v any)
	walk = func(path string, v any) {
		switch v := v.(type) {
		case nil:
		case map[string]any:
			for name, inner := range v {
				walk(strings.TrimPrefix(path+"."+name, "."), inner)
			}
		case []any:
			said := make([]string, len(v))
			for i, one := range v {
				said[i] = plain(one)
			}
			out[path] = strings.Join(said, ", ")
		default:
			out[path] = plain(v)
		}
	}
	walk("", tree)
	return out
}

func plain(v any) string {
	switch v := v.(type) {
	case bool:
		return map[bool]string{true: "yes", false: "no"}[v]
	case float64:
		return strconv.FormatFloat(v, 'f', -1, 64)
	}
	return fmt.Sprint(v)
}
