package api

import (
	"encoding/json"
	"fmt"
	"testing"

	"grapnel/core/rules"
	"grapnel/internal/store"
)

// A change says by field what it was and what it became, in words, with its unit.
func TestChangesInWords(t *testing.T) {
	other := rules.Default()
	other.DrainMax = 30
	house := func(r rules.Rules) string {
		raw, err := json.Marshal(r)
		must(t, err)
		return string(raw)
	}
	for _, c := range []struct{ what, was, became, want string }{
		{store.JobDetails, `{"note":"a","battery":{"rating":{"cca":540}}}`, `{"note":"b","battery":{"rating":{"cca":600.5}}}`,
			"[{CCA 540 600.5} {In the customer’s words a b}]"},
		{store.JobDetails, `{"conditions":{"ambient_c":-3.5}}`, `{"conditions":{}}`, "[{Shop, °C -3.5 }]"},
		{store.JobDetails, `{"complaint":["no_crank"]}`, `{"complaint":["no_crank","slow_crank"]}`,
			"[{Complaint no_crank no_crank, slow_crank}]"},
		{store.JobDetails, `{"battery":{"rating":{"typical":true}}}`, `{"battery":{"rating":{}}}`, "[{Rating only typical yes }]"},
		{store.JobDetails, `{"note":"a"}`, `{"note":"a"}`, "[]"},
		{store.JobOpened, ``, ``, "[]"},
		{store.SignedIn, ``, `{"address":"127.0.0.1","by_pin":false}`, "[{Address  127.0.0.1}]"},
		{store.SignedIn, ``, `{"by_pin":true}`, "[{By PIN  yes}]"},
		{store.LowsSet, `null`, `[-14,-12,-8,-3,1,4,6,6,2,-3,-8,-12]`, "[{By month, °C  -14, -12, -8, -3, 1, 4, 6, 6, 2, -3, -8, -12}]"},
		{store.LowsSet, `[1]`, `[1]`, "[]"},
		{store.RulesSet, house(rules.Default()), house(other), "[{Drain usual (50 mA) simple vehicles (30 mA)}]"},
		{store.RulesSet, house(rules.Default()), house(rules.Default()), "[]"},
		{store.RulesSet, `not a document`, `{"drain_max_ma":30}`, "[{Drain max ma  30}]"},
	} {
		s := &server{}
		got := fmt.Sprint(s.changesOf(store.Change{What: c.what, Was: json.RawMessage(c.was), Became: json.RawMessage(c.became)}))
		if got != c.want {
			t.Errorf("%s of %s to %s: %s, want %s", c.what, c.was, c.became, got, c.want)
		}
	}
}
