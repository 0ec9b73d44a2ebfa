package reading

import "slices"

// Withdrawn is the kind of an entry that takes back the one it names: neither is
// in effect, and both stay in the log. It is no reading, and no case holds one.
const Withdrawn = "withdrawn"

// Entry is a reading in a job's log, where nothing is ever changed: a correction
// is another entry, which names the one it corrects.
type Entry struct {
	ID       string
	Reading  Reading
	Replaces string // the entry this one corrects; empty when none
	Place    int    // in the order they were taken; a correction keeps the place of what it corrects
}

// InEffect gives the positions in a log of the entries that no other corrects or
// takes back, in the order they were taken: a correction stands where the reading stood that it
// corrects.
func InEffect(log []Entry) []int {
	replaced := map[string]bool{}
	for _, e := range log {
		if e.Replaces != "" {
			replaced[e.Replaces] = true
		}
	}
	var kept []int
	for i, e := range log {
		if !replaced[e.ID] && e.Reading.Kind != Withdrawn {
			kept = append(kept, i)
		}
	}
	slices.SortStableFunc(kept, func(a, b int) int { return log[a].Place - log[b].Place })
	return kept
}

// WithEntry gives a log as it would stand with one more entry: at the end, or in
// the place of the one it corrects.
func WithEntry(log []Entry, e Entry) []Entry {
	e.Place = len(log) + 1
	for _, old := range log {
		if old.ID == e.Replaces {
			e.Place = old.Place
		}
	}
	return append(slices.Clone(log), e)
}
