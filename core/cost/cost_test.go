package cost

import (
	"strings"
	"testing"
	"testing/quick"

	"grapnel/core/assess"
	"grapnel/core/reading"
	. "grapnel/core/reading/readingtest"
	"grapnel/core/words"
)

func prices() Prices {
	return Prices{Currency: "€", TaxPct: 19, Included: true, Cents: map[string]int{Test: 1500, Charge: 2000, Clean: 1800, Cable: 6500,
		Battery: 11900, Fitting: 2500, Core: 1000}}
}

func estimate(t *testing.T, c reading.Case) (Estimate, assess.Assessment) {
	t.Helper()
	a := assess.Assess(c, Labels)
	e := Propose(prices(), a, c)
	if err := e.Check(); err != nil {
		t.Fatal(err)
	}
	return e, a
}

// By hand: a test 15.00, a battery 119.00, its fitting 25.00, less the core 10.00: 149.00,
// of which 19/119 is tax: 23.79.
func TestEstimateByHand(t *testing.T) {
	e, _ := estimate(t, Car(Rest(12.65), Load(8.9), Load(8.9)))
	var got []string
	for _, l := range e.Lines {
		got = append(got, l.Code+" "+Amount(l.Sum()))
	}
	if s := strings.Join(got, ", "); s != "test 15.00, battery 119.00, fitting 25.00, core −10.00" {
		t.Fatal(s)
	}
	if sum := e.Totals(); sum != (Totals{Net: 12521, Tax: 2379, All: 14900}) {
		t.Errorf("%+v", sum)
	}
	e.Included = false
	if sum := e.Totals(); sum != (Totals{Net: 14900, Tax: 2831, All: 17731}) { // 19 % of 149.00 is 28.31
		t.Errorf("tax on top: %+v", sum)
	}
}

// What the verdict asks for stands in the estimate, and nothing else does.
func TestEstimateFollowsTheVerdict(t *testing.T) {
	codes := func(c reading.Case) string {
		e, _ := estimate(t, c)
		var out []string
		for _, l := range e.Lines {
			out = append(out, l.Code)
		}
		return strings.Join(out, " ")
	}
	drop := func(v float64) reading.Reading {
		return reading.Of("cable_drop", reading.Fields{"path": "live", "over": "whole", "volts": v, "amps": 140.0})
	}
	for want, c := range map[string]reading.Case{
		"test":              Car(Rest(12.65), Load(10.4)),
		"test charge":       Car(Rest(12.1)),
		"test clean":        Car(reading.Of("cleaned", reading.Fields{"what": []string{"posts"}}), Rest(12.65), Load(10.4)),
		"test cable":        Car(Rest(12.65), Load(10.4), drop(0.9)),
		"test charge clean": Car(reading.Of("inspection", reading.Fields{"found": []string{"corrosion_live"}}), Rest(12.1)),
	} {
		if got := codes(c); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
	// What was done already stands in it, when it is made after the work.
	replaced := codes(Car(Rest(12.65), Load(8.9), Load(8.9), reading.Of("replaced", reading.Fields{"tag": "K-0008"})))
	if replaced != "test battery fitting core" {
		t.Errorf("replaced: %q", replaced)
	}
	twin := Car(Rest(12.65), Load(8.9), Load(8.9))
	twin.Vehicle.Arrangement = "parallel"
	e, _ := estimate(t, twin)
	for _, l := range e.Lines {
		if want := map[string]int{Test: 1, Battery: 2, Fitting: 1, Core: 2}[l.Code]; l.Count != want {
			t.Errorf("two in parallel: %d × %s, want %d", l.Count, l.Code, want)
		}
	}
}

// Net and tax are the whole for every sum, and tax is what the percentage says to the cent.
func TestTotalsAddUp(t *testing.T) {
	err := quick.Check(func(cents int32, count uint8, tax uint16, included bool) bool {
		pct := float64(tax%5001) / 100
		e := Estimate{Lines: []EstimateLine{{Count: int(count%99) + 1, Cents: int(cents) % MostCents}}, TaxPct: pct, Included: included}
		s := e.Totals()
		if s.Net+s.Tax != s.All {
			return false
		}
		off := float64(s.Tax) - float64(s.Net)*pct/100
		return off > -1.01 && off < 1.01
	}, nil)
	if err != nil {
		t.Error(err)
	}
}

func TestLimits(t *testing.T) {
	ok := Estimate{Lines: []EstimateLine{{Text: "Test", Count: 1, Cents: 100}}, Currency: "€"}
	for name, c := range map[string]struct {
		change func(*Estimate)
		bad    bool
	}{
		"as it is":     {func(*Estimate) {}, false},
		"no line":      {func(e *Estimate) { e.Lines = nil }, true},
		"40 lines":     {func(e *Estimate) { e.Lines = repeat(e.Lines[0], 40) }, false},
		"41 lines":     {func(e *Estimate) { e.Lines = repeat(e.Lines[0], 41) }, true},
		"none of it":   {func(e *Estimate) { e.Lines[0].Count = 0 }, true},
		"99 of it":     {func(e *Estimate) { e.Lines[0].Count = 99 }, false},
		"100 of it":    {func(e *Estimate) { e.Lines[0].Count = 100 }, true},
		"most":         {func(e *Estimate) { e.Lines[0].Cents = MostCents }, false},
		"over most":    {func(e *Estimate) { e.Lines[0].Cents = MostCents + 1 }, true},
		"least":        {func(e *Estimate) { e.Lines[0].Cents = -MostCents }, false},
		"under least":  {func(e *Estimate) { e.Lines[0].Cents = -MostCents - 1 }, true},
		"no text":      {func(e *Estimate) { e.Lines[0].Text = "  " }, true},
		"120 letters":  {func(e *Estimate) { e.Lines[0].Text = strings.Repeat("ä", 120) }, false},
		"121 letters":  {func(e *Estimate) { e.Lines[0].Text = strings.Repeat("ä", 121) }, true},
		"other code":   {func(e *Estimate) { e.Lines[0].Code = "paint" }, true},
		"no currency":  {func(e *Estimate) { e.Currency = "" }, true},
		"50 % tax":     {func(e *Estimate) { e.TaxPct = 50 }, false},
		"50.1 % tax":   {func(e *Estimate) { e.TaxPct = 50.1 }, true},
		"negative tax": {func(e *Estimate) { e.TaxPct = -0.1 }, true},
	} {
		e := ok
		e.Lines = append([]EstimateLine{}, ok.Lines...)
		c.change(&e)
		if err := e.Check(); (err != nil) != c.bad {
			t.Errorf("%s: %v", name, err)
		}
	}
	for name, c := range map[string]struct {
		p   Prices
		bad bool
	}{
		"usual":       {Usual(), false},
		"full":        {prices(), false},
		"free":        {Prices{Currency: "€", Cents: map[string]int{Test: 0}}, false},
		"below":       {Prices{Currency: "€", Cents: map[string]int{Test: -1}}, true},
		"most":        {Prices{Currency: "€", Cents: map[string]int{Test: MostCents}}, false},
		"over":        {Prices{Currency: "€", Cents: map[string]int{Test: MostCents + 1}}, true},
		"unknown":     {Prices{Currency: "€", Cents: map[string]int{"paint": 1}}, true},
		"8 letters":   {Prices{Currency: "Groschen"}, false},
		"9 letters":   {Prices{Currency: "Groschens"}, true},
		"no currency": {Prices{}, true},
		"tax":         {Prices{Currency: "€", TaxPct: 51}, true},
	} {
		if err := c.p.Check(); (err != nil) != c.bad {
			t.Errorf("prices %s: %v", name, err)
		}
	}
}

func repeat(l EstimateLine, n int) []EstimateLine {
	out := make([]EstimateLine, n)
	for i := range out {
		out[i] = l
	}
	return out
}

func TestAmounts(t *testing.T) {
	for cents, want := range map[int]string{0: "0.00", 5: "0.05", 100: "1.00", 99_999: "999.99", 100_000: "1,000.00",
		123_456_789: "1,234,567.89", -1050: "−10.50"} {
		if got := Amount(cents); got != want {
			t.Errorf("%d: %q, want %q", cents, got, want)
		}
	}
	if got := (words.Voice{Comma: true}).Amount(-123_456); got != "−1.234,56" {
		t.Errorf("with a comma: %q", got)
	}
}
