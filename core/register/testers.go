package register

import (
	"cmp"
	"math"
	"slices"

	"grapnel/core/bench"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Tester is one tester of the workshop against the rest, on batteries that more than one
// of them has read.
type Tester struct {
	Name     string      `json:"name"`
	Readings int         `json:"readings" doc:"batteries it was compared on"`
	OffPct   float64     `json:"off_pct" doc:"by how much it reads above the rest, percent"`
	Spread   float64     `json:"spread_pct" doc:"standard deviation of that, percent"`
	Against  string      `json:"against,omitempty" doc:"the only other it was compared with: which of the two is off nobody can tell"`
	Level    bench.Level `json:"level" enum:"ok,note,act,stop"`
	Text     words.Text  `json:"text"`
}

// So many batteries must have been compared before a tester is said to drift, so far it
// must be off, and so many standard errors. Two testers of one make differ by some
// percent. House judgement.
const (
	leastCompared = 5
	driftsPct     = 6.0
	driftsSigma   = 2.6
	leastSpread   = 3.0
)

// Testers compares the testers that are named on the readings, the furthest off first.
func Testers(visits []Seen) []Tester {
	off := map[string][]float64{}
	partners := map[string]map[string]bool{}
	for _, v := range visits {
		for i, e := range v.Evidence {
			if e.Tester == "" || e.CCA <= 0 {
				continue
			}
			sum, n := 0.0, 0
			for k, other := range v.Evidence {
				if k != i && other.Tester != e.Tester && other.CCA > 0 {
					sum += math.Log(other.CCA)
					n++
					if partners[e.Tester] == nil {
						partners[e.Tester] = map[string]bool{}
					}
					partners[e.Tester][other.Tester] = true
				}
			}
			if n > 0 {
				off[e.Tester] = append(off[e.Tester], 100*(math.Log(e.CCA)-sum/float64(n)))
			}
		}
	}
	out := []Tester{}
	for name, all := range off {
		n := float64(len(all))
		mean, square := 0.0, 0.0
		for _, x := range all {
			mean += x / n
		}
		for _, x := range all {
			square += sq(x-mean) / max(1, n-1)
		}
		t := Tester{Name: name, Readings: len(all), OffPct: mean, Spread: max(leastSpread, math.Sqrt(square)), Level: bench.OK}
		for other := range partners[name] {
			// Only one that is known by name can be told from a third.
			if len(partners[name]) == 1 && other != "" && len(partners[other]) == 1 {
				t.Against = other
			}
		}
		by := measure.Percents(math.Abs(mean))
		switch far := math.Abs(mean) >= driftsPct && math.Abs(mean) >= driftsSigma*t.Spread/math.Sqrt(n); {
		case len(all) < leastCompared:
			t.Level, t.Text = bench.Note, words.Say(saysFew, "n", measure.Plain(n, 0))
		case far && t.Against != "" && mean > 0:
			t.Level, t.Text = bench.Act, words.Say(saysTwoHigh, "by", by, "other", t.Against)
		case far && t.Against != "":
			t.Level, t.Text = bench.Act, words.Say(saysTwoLow, "by", by, "other", t.Against)
		case far && mean > 0:
			t.Level, t.Text = bench.Act, words.Say(saysHigh, "by", by)
		case far:
			t.Level, t.Text = bench.Act, words.Say(saysLow, "by", by)
		default:
			t.Text = words.Say(saysAgrees, "by", by)
		}
		out = append(out, t)
	}
	slices.SortFunc(out, func(a, b Tester) int {
		if c := cmp.Compare(math.Abs(b.OffPct), math.Abs(a.OffPct)); c != 0 {
			return c
		}
		return cmp.Compare(a.Name, b.Name)
	})
	return out
}

const (
	saysFew     = "Compared on {n} batteries: too few to say."
	saysHigh    = "Reads {by} above the others: have it checked before it passes a bad battery."
	saysLow     = "Reads {by} below the others: have it checked before it condemns a good battery."
	saysTwoHigh = "Reads {by} above {other}: a third tester would say which of the two is off."
	saysTwoLow  = "Reads {by} below {other}: a third tester would say which of the two is off."
	saysAgrees  = "Within {by} of the others."
)
