// Package rating holds what a battery's label promises: the cranking standards,
// how they compare, and the load test that is derived from them.
package rating

import (
	"fmt"
	"math"
	"strings"

	"grapnel/core/words"
)

// Standard names the test a cranking figure was measured by.
type Standard string

// Cranking standards found on labels.
const (
	SAE Standard = "SAE"
	EN  Standard = "EN"
	DIN Standard = "DIN"
	IEC Standard = "IEC"
	JIS Standard = "JIS"
)

// StandardWords gives the vocabulary of standards, the house's own first.
func StandardWords() words.List { return standardWords }

var standardWords = words.ListOf(
	words.Term{Code: string(SAE), Word: "SAE", Said: "SAE"}, words.Term{Code: string(EN), Word: "EN", Said: "EN"},
	words.Term{Code: string(DIN), Word: "DIN", Said: "DIN"}, words.Term{Code: string(IEC), Word: "IEC", Said: "IEC"},
	words.Term{Code: string(JIS), Word: "JIS", Said: "JIS"},
)

// Standards gives every standard, the house's own first.
func Standards() []Standard {
	var out []Standard
	for _, code := range standardWords.Codes() {
		out = append(out, Standard(code))
	}
	return out
}

// Label is what is printed on the battery. Zero means not printed.
type Label struct {
	CCA      float64  `json:"cca,omitempty"`      // cold cranking amps by Standard
	Standard Standard `json:"standard,omitempty"` // empty counts as SAE
	RCMin    float64  `json:"rc_min,omitempty"`   // minutes at 25 A and 26.7 °C to 10.5 V
	Ah20h    float64  `json:"ah_20h,omitempty"`   // ampere-hours at the 20 hour rate
	CA       float64  `json:"ca,omitempty"`       // cranking amps at 0 °C
}

// Test says how a standard measures a cold cranking figure on a 12 V battery.
type Test struct {
	Standard Standard
	TempC    float64
	Seconds  float64 // time under the rated current
	EndVolts float64 // what it must still hold, 12 V battery
	ToSAE    float64 // SAE amps for each amp of this standard
	SpreadTo float64 // ± part of the conversion, 0.05 is 5 %
	Source   string
}

// tests are the definitions, with the ratio to SAE amps. The ratios compare
// tests of different length and end voltage and hold only on average.
var tests = map[Standard]Test{
	SAE: {SAE, -18, 30, 7.2, 1.00, 0.00, "SAE J537"},
	EN:  {EN, -18, 10, 7.5, 1.06, 0.05, "EN 50342-1, definition and ratio from memory"},
	DIN: {DIN, -18, 30, 9.0, 1.75, 0.10, "DIN 43539, definition and ratio from memory"},
	IEC: {IEC, -18, 60, 8.4, 1.50, 0.10, "IEC 60095-1 (old issue), definition and ratio from memory"},
	JIS: {JIS, -18, 30, 7.2, 1.00, 0.03, "JIS D 5301 as it stands since 2006, from memory; older labels tested at -15 °C"},
}

// SAETest gives the definition of SAE J537.
func SAETest() Test { return tests[SAE] }

// TestOf gives the definition of a standard; an empty one is read as SAE.
func TestOf(s Standard) (Test, error) {
	if s == "" {
		s = SAE
	}
	t, ok := tests[s]
	if !ok {
		return Test{}, fmt.Errorf(
			"unknown cranking standard %q: use %s",
			string(s),
			strings.Join(standardWords.Codes(), ", "),
		)
	}
	return t, nil
}

// Convert gives amps by one standard as amps by another, and the ± part it may be
// off by: the two tests differ in length and end voltage, so the ratio holds only
// on average. From and to the same standard nothing changes.
func Convert(amps float64, from, to Standard) (converted, spread float64, err error) {
	f, err := TestOf(from)
	if err != nil {
		return 0, 0, err
	}
	t, err := TestOf(to)
	if err != nil {
		return 0, 0, err
	}
	if f.Standard == t.Standard {
		return amps, 0, nil
	}
	return amps * f.ToSAE / t.ToSAE, math.Hypot(f.SpreadTo, t.SpreadTo), nil
}

// CATest gives the cranking amps test: like SAE J537 at 0 °C. Source: BCI, from
// memory. Its conversion is common practice, no source.
func CATest() Test {
	return Test{"", 0, 30, 7.2, caToCCA, 0.05, "BCI, definition from memory; ratio common practice, no source"}
}

// The capacity tests, 12 V. Sources: SAE J537 for the reserve capacity, EN
// 50342-1 for the 20 h capacity; both end at 10.5 V.
const (
	ReserveAmps = 25.0
	ReserveC    = 26.7
	CapacityC   = 25.0
	EmptyVolts  = 10.5
)

// caToCCA is CCA at -18 °C for each amp of CA at 0 °C. Common practice, no
// source; labels of 675/540 and 900/720 agree.
const caToCCA = 0.8

// SAECCA is a label's cranking figure in SAE amps, and how it was come by.
type SAECCA struct {
	Amps   float64
	Spread float64 // ± part; 0 when the label says SAE
	From   string  // how it was converted; empty when the label says SAE
}

// ToSAE gives the label's cold cranking in SAE amps, from the CCA by its own
// standard or else from the CA. It reports false when the label has neither.
func (l Label) ToSAE() (SAECCA, bool) {
	if l.CCA > 0 {
		t, err := TestOf(l.Standard)
		if err != nil {
			return SAECCA{}, false
		}
		if t.Standard == SAE {
			return SAECCA{Amps: l.CCA}, true
		}
		return SAECCA{l.CCA * t.ToSAE, t.SpreadTo,
			fmt.Sprintf("%.0f A %s × %.2f, approximate to ±%.0f %%", l.CCA, t.Standard, t.ToSAE, 100*t.SpreadTo)}, true
	}
	if l.CA > 0 {
		return SAECCA{l.CA * caToCCA, 0.05, fmt.Sprintf("%.0f A at 0 °C × 0.8, approximate to ±5 %%", l.CA)}, true
	}
	return SAECCA{}, false
}
