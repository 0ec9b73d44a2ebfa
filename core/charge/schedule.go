package charge

import (
	"cmp"
	"math"
	"slices"
)

// Waiting is a battery that is to be charged.
type Waiting struct {
	From  float64   // minutes from now at which it can be hung on: warm enough, taken out
	Due   float64   // minutes from now by which it is promised, or never
	After float64   // minutes of work between the end of its charge and that promise
	Takes []float64 // minutes on each place, never where it must not hang there
}

// Place is a charger, free from some minutes from now on.
type Place struct{ Free float64 }

// Hang is a battery on a charger: which, where, from when to when.
type Hang struct {
	Battery, Place int
	From, To       float64
	Late           float64 // minutes after its promise; 0 when it is kept
}

// BankPlan is what hangs where, in order of time.
type BankPlan struct {
	Hangs []Hang
	Left  []int // batteries that no charger suits
	Kept  int   // promises kept, of those that were made
	Late  float64
	Done  float64 // minutes until the last is off
}

// worse compares two plans: first promises kept, then least lateness, then when all are
// done together, so that nobody waits for nothing.
func (p score) worse(q score) int {
	return cmp.Or(cmp.Compare(p.broken, q.broken), near(p.late, q.late), near(p.sum, q.sum))
}

// near compares minutes; what rounding leaves is nothing.
func near(a, b float64) int {
	if math.Abs(a-b) < 1e-6 {
		return 0
	}
	return cmp.Compare(a, b)
}

// score is how good a plan is; less is better.
type score struct {
	broken int     // promises not kept
	late   float64 // minutes, all together
	sum    float64 // minutes at which each is off, all together
}

func (s score) add(o score) score { return score{s.broken + o.broken, s.late + o.late, s.sum + o.sum} }
func (s score) sub(o score) score { return score{s.broken - o.broken, s.late - o.late, s.sum - o.sum} }

// bank is a schedule being made: the order of batteries at each place.
type bank struct {
	all    []Waiting
	places []Place
	rows   [][]int
	scores []score
}

// run gives the score of an order at a place.
func (b *bank) run(place int, row []int) score {
	var s score
	at := b.places[place].Free
	for _, i := range row {
		w := &b.all[i]
		at = max(at, w.From) + w.Takes[place]
		s.sum += at
		if late := at + w.After - w.Due; late > 1e-9 {
			s.broken++
			s.late += late
		}
	}
	return s
}

// Schedule proposes where and in what order batteries are hung: the most promises kept,
// then the least lateness, then the soonest done. It is exact for up to exactMost
// batteries that fit, and never worse than first come, first served.
func Schedule(all []Waiting, places []Place) BankPlan {
	b := &bank{all: all, places: places, rows: make([][]int, len(places)), scores: make([]score, len(places))}
	var out BankPlan
	var fits []int
	for i, w := range all {
		if slices.ContainsFunc(w.Takes, func(m float64) bool { return !math.IsInf(m, 1) }) {
			fits = append(fits, i)
		} else {
			out.Left = append(out.Left, i)
		}
	}
	best := b.inOrder(fits)
	for _, by := range []func(i int) float64{
		func(i int) float64 { return all[i].Due - all[i].After - least(all[i].Takes) }, // the latest it can be hung
		func(i int) float64 { return all[i].Due },
		func(i int) float64 { return all[i].From + least(all[i].Takes) },
	} {
		order := slices.Clone(fits)
		slices.SortStableFunc(order, func(i, j int) int { return cmp.Compare(by(i), by(j)) })
		if other := b.inOrder(order); other.score().worse(best.score()) < 0 {
			best = other
		}
	}
	if len(fits) <= exactMost {
		best = b.exact(fits, best)
	} else {
		best.improve()
	}
	return best.plan(out)
}

// exactMost is the largest bank every order of which is tried.
const exactMost = 6

// FirstCome is the plan of a shop that hangs batteries in the order they came, each where
// it is done first.
func FirstCome(all []Waiting, places []Place) BankPlan {
	b := &bank{all: all, places: places, rows: make([][]int, len(places)), scores: make([]score, len(places))}
	var out BankPlan
	var fits []int
	for i, w := range all {
		if math.IsInf(least(w.Takes), 1) {
			out.Left = append(out.Left, i)
		} else {
			fits = append(fits, i)
		}
	}
	return b.inOrder(fits).plan(out)
}

// Free says of a battery in Ordered that no charger was chosen for it.
const Free = -1

// Ordered is the plan of somebody's own order: batteries one after the other, each on the
// charger that was chosen for it, or where it is done first where none was (Free). What
// does not stand in the order is left.
func Ordered(all []Waiting, places []Place, order []int, chosen []int) BankPlan {
	b := &bank{all: all, places: places}
	var out BankPlan
	fits := make([]int, 0, len(order))
	for i := range all {
		if !slices.Contains(order, i) || math.IsInf(least(all[i].Takes), 1) {
			out.Left = append(out.Left, i)
		}
	}
	for _, i := range order {
		if !math.IsInf(least(all[i].Takes), 1) {
			fits = append(fits, i)
		}
	}
	return b.hung(fits, func(i int) int {
		if p := chosen[i]; p != Free && !math.IsInf(all[i].Takes[p], 1) {
			return p
		}
		return Free
	}).plan(out)
}

func least(minutes []float64) float64 { return slices.Min(append(slices.Clone(minutes), never)) }

// inOrder hangs batteries one after the other, each at the end of the row where it is
// done first.
func (b *bank) inOrder(order []int) *bank { return b.hung(order, func(int) int { return Free }) }

// hung is the same where a place is chosen for some.
func (b *bank) hung(order []int, chosen func(i int) int) *bank {
	out := &bank{all: b.all, places: b.places, rows: make([][]int, len(b.places)), scores: make([]score, len(b.places))}
	free := make([]float64, len(b.places))
	for p, place := range b.places {
		free[p] = place.Free
	}
	for _, i := range order {
		ends := func(p int) float64 { return max(free[p], b.all[i].From) + b.all[i].Takes[p] }
		where := chosen(i)
		if where == Free {
			for p := range b.places {
				if where == Free && !math.IsInf(ends(p), 1) || where != Free && ends(p) < ends(where) {
					where = p
				}
			}
		}
		out.rows[where] = append(out.rows[where], i)
		free[where] = ends(where)
	}
	for p, row := range out.rows {
		out.scores[p] = out.run(p, row)
	}
	return out
}

func (b *bank) score() score {
	var s score
	for _, one := range b.scores {
		s = s.add(one)
	}
	return s
}

// exact tries every order at every place, and leaves off where what is hung already is
// worse than the best so far.
func (b *bank) exact(fits []int, best *bank) *bank {
	top := best.score()
	try := &bank{all: b.all, places: b.places, rows: make([][]int, len(b.places)), scores: make([]score, len(b.places))}
	used := make([]bool, len(fits))
	var next func(left int)
	next = func(left int) {
		now := try.score()
		if now.worse(top) >= 0 {
			return
		}
		if left == 0 {
			top = now
			best = &bank{all: b.all, places: b.places, scores: slices.Clone(try.scores)}
			for _, row := range try.rows {
				best.rows = append(best.rows, slices.Clone(row))
			}
			return
		}
		for k, i := range fits {
			if used[k] {
				continue
			}
			used[k] = true
			for p := range b.places {
				if math.IsInf(b.all[i].Takes[p], 1) {
					continue
				}
				// Rows are filled from the first place on, so that no plan is made twice.
				if slices.ContainsFunc(try.rows[p+1:], func(row []int) bool { return len(row) > 0 }) {
					continue
				}
				was := try.scores[p]
				try.rows[p] = append(try.rows[p], i)
				try.scores[p] = try.run(p, try.rows[p])
				next(left - 1)
				try.rows[p] = try.rows[p][:len(try.rows[p])-1]
				try.scores[p] = was
			}
			used[k] = false
		}
	}
	next(len(fits))
	return best
}

// improve moves one battery, or changes two, while that makes the plan better.
func (b *bank) improve() {
	tries := 0
	for better := true; better && tries < mostTries; {
		better = false
		for from := range b.rows {
			for k := 0; k < len(b.rows[from]); k++ {
				moved := b.move(from, k, &tries)
				better = better || moved
			}
		}
		for from := range b.rows {
			for k := 0; k < len(b.rows[from]); k++ {
				better = b.change(from, k, &tries) || better
			}
		}
	}
}

// mostTries bounds how long a plan is looked for.
const mostTries = 200000

// move looks for the best other place in any row for the k-th of a row, and puts it there
// if the plan gets better.
func (b *bank) move(from, k int, tries *int) bool {
	i := b.rows[from][k]
	without := slices.Delete(slices.Clone(b.rows[from]), k, k+1)
	left := b.run(from, without)
	var row []int
	gain, to, at := score{}, -1, 0
	for p := range b.rows {
		if math.IsInf(b.all[i].Takes[p], 1) {
			continue
		}
		into, before := b.rows[p], b.scores[from].add(b.scores[p])
		if p == from {
			into, before = without, b.scores[from]
		}
		for j := 0; j <= len(into); j++ {
			*tries++
			row = append(append(append(row[:0], into[:j]...), i), into[j:]...)
			after := b.run(p, row)
			if p != from {
				after = after.add(left)
			}
			if d := after.sub(before); d.worse(gain) < 0 {
				gain, to, at = d, p, j
			}
		}
	}
	if to < 0 {
		return false
	}
	b.rows[from] = without
	b.rows[to] = slices.Insert(slices.Clone(b.rows[to]), at, i)
	b.scores[from], b.scores[to] = b.run(from, b.rows[from]), b.run(to, b.rows[to])
	return true
}

// change swaps the k-th of a row with the first battery elsewhere that makes the plan
// better.
func (b *bank) change(from, k int, tries *int) bool {
	i := b.rows[from][k]
	for p := from + 1; p < len(b.rows); p++ {
		if math.IsInf(b.all[i].Takes[p], 1) {
			continue
		}
		for j, other := range b.rows[p] {
			if math.IsInf(b.all[other].Takes[from], 1) {
				continue
			}
			*tries++
			b.rows[from][k], b.rows[p][j] = other, i
			here, there := b.run(from, b.rows[from]), b.run(p, b.rows[p])
			if here.add(there).worse(b.scores[from].add(b.scores[p])) < 0 {
				b.scores[from], b.scores[p] = here, there
				return true
			}
			b.rows[from][k], b.rows[p][j] = i, other
		}
	}
	return false
}

// plan reads off when each is hung on and off.
func (b *bank) plan(out BankPlan) BankPlan {
	for p, row := range b.rows {
		at := b.places[p].Free
		for _, i := range row {
			w := &b.all[i]
			h := Hang{Battery: i, Place: p, From: max(at, w.From)}
			at = h.From + w.Takes[p]
			h.To, h.Late = at, max(0, at+w.After-w.Due)
			if h.Late <= 1e-9 {
				h.Late = 0
			}
			if !math.IsInf(w.Due, 1) && h.Late == 0 {
				out.Kept++
			}
			out.Late += h.Late
			out.Done = max(out.Done, at)
			out.Hangs = append(out.Hangs, h)
		}
	}
	slices.SortStableFunc(out.Hangs, func(a, b Hang) int { return cmp.Or(cmp.Compare(a.From, b.From), cmp.Compare(a.Place, b.Place)) })
	return out
}
