package assess

import (
	"slices"

	"grapnel/core/bench"
	"grapnel/core/suspect"
	"grapnel/core/words"
)

// likelyEnough is how likely the first suspect must be for a verdict that goes against it
// to say so. House judgement.
const likelyEnough = 0.5

// against says why a verdict stands that goes against the first suspect: a battery that
// passes though it is suspected itself, or goes though something else is.
func against(b *bench.Bench, a Assessment) (bench.Finding, bool) {
	if len(a.Suspects) == 0 || a.Suspects[0].Present < likelyEnough || b.Hazardous() {
		return bench.Finding{}, false
	}
	first := a.Suspects[0]
	f := bench.Finding{Code: "suspect.against", Level: bench.Note, Readings: []int{}, Rule: "suspects.never_condemn", Source: bench.Judgement,
		Why: words.Say(whyAgainst)}
	if b.Load != nil {
		f.Readings = []int{b.Load.Reading}
	}
	fault, _ := suspect.FaultOf(first.Fault)
	switch {
	case fault.Inside() && slices.Contains([]Verdict{Good, GoodAfterCharge, LookElsewhere}, a.Verdict):
		f.Text = words.Say(saysPassesThough, "name", first.Name)
	case !fault.Inside() && fault != suspect.None && a.Verdict == Replace:
		f.Text = words.Say(saysGoesThough, "name", first.Name)
	default:
		return bench.Finding{}, false
	}
	return f, true
}
