package assess

import "grapnel/core/bench"

// mayBeContacts is how likely bad contacts must be for a battery that is to be replaced
// to be cleaned and loaded once more first: a failure is one once it is repeated on
// clean posts. House judgement.
const mayBeContacts = 0.008

// confirmed puts before a replacement what could still overturn it in minutes, where
// something was complained of that bad contacts do too; contacts is how likely they are.
// It gives no verdict and takes
// none away: what condemns is a rule and a reading.
func confirmed(b *bench.Bench, a Assessment, contacts float64) Assessment {
	if a.Verdict == Replace && loaded(b) && sagged(b) && b.Looked && !b.Cleaned && complains(b, crankComplaints) &&
		contacts >= mayBeContacts {
		a.Next = append([]Step{step("clean", whyMaybeContacts), step(strengthTest(b)[0].Test, whyConfirms)}, a.Next...)
	}
	return a
}
