// Package cost is what work costs: the price list a workshop keeps, and the estimate it
// gives before work. Amounts are whole hundredths of the workshop's money, so that no sum
// is ever off by a rounding.
package cost

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"grapnel/core/assess"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/core/words"
)

// Work that has a price.
const (
	Test    = "test"
	Charge  = "charge"
	Clean   = "clean"
	Cable   = "cable"
	Battery = "battery"
	Fitting = "fitting"
	Core    = "core" // what is given back for the old one
)

// items are what a price list prices, in its order.
var items = words.ListOf(
	words.Term{Code: Test, Word: "Test"}, words.Term{Code: Charge, Word: "Charge"}, words.Term{Code: Clean, Word: "Clean posts and clamps"},
	words.Term{Code: Cable, Word: "Cable or strap"}, words.Term{Code: Battery, Word: "Battery"}, words.Term{Code: Fitting, Word: "Fitting"},
	words.Term{Code: Core, Word: "Core, given back for the old one"})

// Items gives what a price list prices, in its order.
func Items() words.List { return items }

// Limits of a price list and an estimate.
const (
	MostCents = 10_000_000 // of one price: 100,000.00
	MostLines = 40
	mostCount = 99
	mostTax   = 50.0 // percent
)

// Prices is a workshop's price list. A price it does not have is nil, and is typed in each
// estimate.
type Prices struct {
	Currency string `json:"currency" maxLength:"8" doc:"as it stands before an amount: €, £, kr"`
	// Tax in percent, and whether the prices hold it already.
	TaxPct   float64        `json:"tax_pct" minimum:"0" maximum:"50"`
	Included bool           `json:"tax_included"`
	Cents    map[string]int `json:"cents" doc:"prices by code, in hundredths; one that is left out has none"`
}

// Usual is the list of a workshop that has not made one: nothing is priced.
func Usual() Prices { return Prices{Currency: "€", Included: true, Cents: map[string]int{}} }

// Check reports what is wrong with a price list.
func (p Prices) Check() error {
	var wrong document.Problems
	bad := func(path, format string, args ...any) {
		wrong = append(wrong, document.Problem{Path: path, Message: fmt.Sprintf(format, args...)})
	}
	if p.Currency == "" || len([]rune(p.Currency)) > 8 {
		bad("currency", "is what stands before an amount, 1 to 8 letters: €, £, kr")
	}
	if math.IsNaN(p.TaxPct) || p.TaxPct < 0 || p.TaxPct > mostTax {
		bad("tax_pct", "is outside 0 to %g percent", mostTax)
	}
	for _, code := range sortedKeys(p.Cents) {
		if !slices.Contains(items.Codes(), code) {
			bad("cents."+code, "is not on the list. Known: %s", strings.Join(items.Codes(), ", "))
			continue
		}
		if c := p.Cents[code]; c < 0 || c > MostCents {
			bad("cents."+code, "is outside 0.00 to %s", Amount(MostCents))
		}
	}
	if wrong != nil {
		return wrong
	}
	return nil
}

// EstimateLine is one line of an estimate.
type EstimateLine struct {
	Code  string `json:"code,omitempty" doc:"of the price list; none of a line somebody wrote"`
	Text  string `json:"text" maxLength:"120"`
	Count int    `json:"count" minimum:"1" maximum:"99"`
	Cents int    `json:"cents" doc:"for one; below 0 for what is given back"`
}

// Sum is what a line comes to.
func (l EstimateLine) Sum() int { return l.Count * l.Cents }

// Estimate is what work will cost, as it was said to whoever pays.
type Estimate struct {
	Lines    []EstimateLine `json:"lines"`
	Currency string         `json:"currency"`
	TaxPct   float64        `json:"tax_pct"`
	Included bool           `json:"tax_included"`
}

// Totals are what an estimate comes to, in hundredths.
type Totals struct {
	Net int `json:"net"`
	Tax int `json:"tax"`
	All int `json:"all"`
}

// Totals adds an estimate up. Tax is rounded once, half away from nothing, on the sum.
func (e Estimate) Totals() Totals {
	sum := 0
	for _, l := range e.Lines {
		sum += l.Sum()
	}
	if e.Included {
		tax := int(math.Round(float64(sum) * e.TaxPct / (100 + e.TaxPct)))
		return Totals{Net: sum - tax, Tax: tax, All: sum}
	}
	tax := int(math.Round(float64(sum) * e.TaxPct / 100))
	return Totals{Net: sum, Tax: tax, All: sum + tax}
}

// Check reports what is wrong with an estimate.
func (e Estimate) Check() error {
	var wrong document.Problems
	bad := func(path, format string, args ...any) {
		wrong = append(wrong, document.Problem{Path: path, Message: fmt.Sprintf(format, args...)})
	}
	if len(e.Lines) == 0 || len(e.Lines) > MostLines {
		bad("lines", "has %d lines; an estimate has 1 to %d", len(e.Lines), MostLines)
	}
	for i, l := range e.Lines {
		at := fmt.Sprintf("lines[%d].", i)
		if strings.TrimSpace(l.Text) == "" || len([]rune(l.Text)) > 120 {
			bad(at+"text", "says what it is for, in 1 to 120 letters")
		}
		if l.Count < 1 || l.Count > mostCount {
			bad(at+"count", "is outside 1 to %d", mostCount)
		}
		if l.Cents < -MostCents || l.Cents > MostCents {
			bad(at+"cents", "is outside %s to %s", Amount(-MostCents), Amount(MostCents))
		}
		if l.Code != "" && !slices.Contains(items.Codes(), l.Code) {
			bad(at+"code", "is not on the list. Known: %s", strings.Join(items.Codes(), ", "))
		}
	}
	if e.Currency == "" || len([]rune(e.Currency)) > 8 {
		bad("currency", "is what stands before an amount, 1 to 8 letters")
	}
	if math.IsNaN(e.TaxPct) || e.TaxPct < 0 || e.TaxPct > mostTax {
		bad("tax_pct", "is outside 0 to %g percent", mostTax)
	}
	if wrong != nil {
		return wrong
	}
	return nil
}

// priced are the lines that a step of an assessment asks for, by its test.
var priced = map[string][]string{
	"charge": {Charge}, "clean": {Clean}, "replace": {Battery, Fitting, Core}, "replace_both": {Battery, Fitting, Core},
	"load_test": {Test}, "conductance": {Test}, "mend": {Cable},
}

// Propose gives the estimate that an assessment asks for, at a workshop's prices: the test,
// then what has been done and what is next. What has no price stands with 0, to be typed.
func Propose(p Prices, a assess.Assessment, c reading.Case) Estimate {
	e := Estimate{Currency: p.Currency, TaxPct: p.TaxPct, Included: p.Included}
	counts := map[string]int{Test: 1}
	for _, r := range c.Readings {
		switch r.Kind {
		case station.Charged, station.OnCharger:
			counts[Charge] = 1
		case station.Cleaned:
			counts[Clean] = 1
		case station.Replaced:
			counts[Battery], counts[Fitting], counts[Core] = 1, 1, 1
		}
	}
	for _, s := range a.Next {
		if s.Test == "mend" && !cableWork(a) {
			continue
		}
		for _, code := range priced[s.Test] {
			counts[code] = 1
			if s.Test == "replace_both" && code != Fitting {
				counts[code] = 2
			}
		}
	}
	for _, term := range items.Terms() {
		if n := counts[term.Code]; n > 0 {
			cents := p.Cents[term.Code]
			if term.Code == Core {
				cents = -cents // it is given back
			}
			e.Lines = append(e.Lines, EstimateLine{Code: term.Code, Text: term.Word, Count: n, Cents: cents})
		}
	}
	return e
}

// cableWork reports whether what is to be mended is a cable, a joint or a strap.
func cableWork(a assess.Assessment) bool {
	return slices.ContainsFunc(a.Findings, func(f bench.Finding) bool {
		return f.Level == bench.Act && slices.Contains(ofCables, f.Code)
	})
}

// ofCables are the findings that ask for a cable or a strap.
var ofCables = []string{"cable_drop.over", "inspection.cable_frayed", "inspection.strands_green", "inspection.earth_strap_bad"}

// Amount writes hundredths as an amount of money: 1,234.50.
func Amount(cents int) string { return words.Voice{}.Amount(cents) }

func sortedKeys(m map[string]int) []string {
	out := make([]string, 0, len(m))
	for k := range m {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}
