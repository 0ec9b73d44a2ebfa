package suspect

import (
	"math"
	"slices"
)

// belief is how likely each hypothesis is.
type belief struct {
	post []float64
	// ways is how likely each way to be inside is with each hypothesis.
	ways [][ways]float64
	// dirt is how likely each degree of contact is with each hypothesis.
	dirt [][contacts]float64
}

// weigh gives how likely every hypothesis is by all readings but one; allReadings takes
// all. It adds logarithms: the likelihoods of hundreds of readings have no figure.
func (m *model) weigh(without int) belief {
	logs := make([]float64, len(m.hyps))
	for k, h := range m.hyps {
		logs[k] = math.Log(h.prior)
	}
	for i, words := range m.words {
		if i != without {
			for k := range logs {
				logs[k] += words[k]
			}
		}
	}
	m.weighOutside(logs, without)
	in := m.insides(without)
	for k := range logs {
		logs[k] += in.like[k]
	}
	return belief{post: proportions(logs), ways: in.ways, dirt: in.dirt}
}

// proportions are the parts, together 1, of what logarithms are given of.
func proportions(logs []float64) []float64 {
	most := slices.Max(logs)
	out := make([]float64, len(logs))
	sum := 0.0
	for k := range out {
		out[k] = math.Exp(logs[k] - most)
		sum += out[k]
	}
	for k := range out {
		out[k] /= sum
	}
	return out
}

// rescale makes the largest of figures of which only the proportions count 1 again, when
// hundreds of readings have made all of them tiny or huge.
func rescale(figures ...[]float64) {
	most := 0.0
	for _, row := range figures {
		for _, v := range row {
			most = max(most, v)
		}
	}
	if most > tiny && most < 1/tiny || most == 0 {
		return
	}
	for _, row := range figures {
		for i := range row {
			row[i] /= most
		}
	}
}

// summed is how likely the readings of a stretch are with each way to be inside, for
// each distribution of charge, contact and starter.
type summed struct {
	of     *product
	like   [chargeKinds][ways][]float64
	st     *stretch
	ice    [charges]float64
	cameIn bool // it is as it came in, so that ice counts
}

// insides is how likely the battery's readings are with each hypothesis, and which way
// to be inside and which contacts they then leave: one way to be inside and one state
// of contacts all along, and a charge of its own in each stretch.
type insides struct {
	without int
	like    []float64 // logarithms
	ways    [][ways]float64
	dirt    [][contacts]float64
}

// insides works that out once for each reading left out that says anything of the
// battery.
func (m *model) insides(without int) *insides {
	if !m.hasTable(without) {
		without = allReadings
	}
	for _, in := range m.known {
		if in.without == without {
			return in
		}
	}
	n := len(m.hyps)
	in := &insides{without, make([]float64, n), make([][ways]float64, n), make([][contacts]float64, n)}
	m.known = append(m.known, in)
	all := make([]summed, 0, len(m.stretches))
	for e := range m.stretches {
		st := &m.stretches[e]
		if pr := st.product(without); pr.like != nil {
			all = append(all, summed{of: pr, st: st, ice: m.ice, cameIn: e == 0})
		}
	}
	// What is outside the battery leaves it as it is: such hypotheses are weighed once.
	type alike struct {
		set     Set
		comesIn int
	}
	done := map[alike]int{}
	for k := range m.hyps {
		set := m.hyps[k].set
		key := alike{set & matters, comesIn(set)}
		if first, ok := done[key]; ok {
			in.like[k], in.ways[k], in.dirt[k] = in.like[first], in.ways[first], in.dirt[first]
			continue
		}
		done[key] = k
		in.like[k] = m.weighOne(all, k, &in.ways[k], &in.dirt[k])
	}
	return in
}

// matters are the faults that change what the battery's own readings show.
var matters = inside | SetOf(DirtyContacts, StarterDraw, Drain)

func (m *model) hasTable(reading int) bool {
	for e := range m.stretches {
		for i := range m.stretches[e].tables {
			if m.stretches[e].tables[i].reading == reading {
				return true
			}
		}
	}
	return false
}

// weighOne gives the logarithm of how likely the battery's readings are with a
// hypothesis.
func (m *model) weighOne(all []summed, k int, inside *[ways]float64, dirt *[contacts]float64) float64 {
	set := m.hyps[k].set
	chances := contactsOf(set)
	greedy := 0
	if set.Has(StarterDraw) {
		greedy = 1
	}
	var likes [ways][contacts]float64
	var doubled [ways][contacts]int // so often, where many charges make it tiny or huge
	least := math.MaxInt
	for h, ph := range m.inside[k] {
		if ph < 1e-5 {
			continue
		}
		for p, pp := range chances {
			if pp == 0 {
				continue
			}
			like, by := ph*pp, 0
			for i := range all {
				like *= all[i].at(all[i].st.kind(h, &m.healths[h], set), h, p, greedy, set.Has(Frozen))
				switch {
				case like > 0 && like < tiny:
					like, by = math.Ldexp(like, doublings), by+doublings
				case like > 1/tiny:
					like, by = math.Ldexp(like, -doublings), by-doublings
				}
			}
			likes[h][p], doubled[h][p] = like, by
			if like > 0 {
				least = min(least, by)
			}
		}
	}
	sum := 0.0
	for h := range likes {
		for p, like := range likes[h] {
			if like == 0 {
				continue
			}
			like = math.Ldexp(like, least-doubled[h][p])
			inside[h] += like
			dirt[p] += like
			sum += like
		}
	}
	for h := range inside {
		inside[h] /= max(sum, 1e-300)
	}
	for p := range dirt {
		dirt[p] /= max(sum, 1e-300)
	}
	return math.Log(sum) - float64(least)*math.Ln2
}

// What is under tiny is doubled so often, what is over its inverse halved.
const tiny, doublings = 0x1p-200, 200

// at sums over the charge, once for each that is asked.
func (sm *summed) at(kind, h, p, g int, frozen bool) float64 {
	pr := sm.of
	if pr.posts == 1 {
		p = 0
	}
	if pr.starters == 1 {
		g = 0
	}
	plane := p*pr.starters + g
	row := sm.like[kind][h]
	if row == nil {
		row = make([]float64, pr.posts*pr.starters)
		for i := range row {
			row[i] = -1
		}
		sm.like[kind][h] = row
	}
	if row[plane] < 0 {
		sum := 0.0
		like := &pr.like[plane][h]
		for s, w := range &chargedLike[kind] {
			switch {
			case !sm.cameIn:
			case frozen:
				w *= sm.ice[s]
			default:
				w *= 1 - 0.97*sm.ice[s]
			}
			sum += w * like[s]
		}
		row[plane] = sum
	}
	return row[plane]
}

// product is all tables of a stretch together, but that of one reading; without grids
// where there are none.
type product struct {
	without         int
	posts, starters int
	like            []grid
}

// product multiplies the tables of a stretch, once for each reading left out.
func (st *stretch) product(without int) *product {
	out := slices.IndexFunc(st.tables, func(t table) bool { return t.reading == without })
	if out < 0 {
		without = allReadings
	}
	for _, pr := range st.products {
		if pr.without == without {
			return pr
		}
	}
	var pr *product
	switch {
	case out < 0:
		pr = multiplied(st.tables)
	case len(st.tables) > 2:
		// Every figure of a table is above nothing, so that it can be taken out again.
		pr = st.product(allReadings).over(&st.tables[out])
	default:
		pr = multiplied(slices.Concat(st.tables[:out], st.tables[out+1:]))
	}
	pr.without = without
	st.products = append(st.products, pr)
	return pr
}

// allReadings is the reading left out where none is.
const allReadings = -1

func multiplied(tables []table) *product {
	pr := &product{posts: 1, starters: 1}
	for i := range tables {
		pr.posts, pr.starters = max(pr.posts, tables[i].posts), max(pr.starters, tables[i].starters)
	}
	for i := range tables {
		if i == 0 {
			pr.like = make([]grid, pr.posts*pr.starters)
		}
		pr.each(&tables[i], func(like, by *float64) {
			if i == 0 {
				*like = *by
			} else {
				*like *= *by
			}
		})
		rescaleGrids(pr.like)
	}
	return pr
}

// over is a product without one of its tables.
func (pr *product) over(t *table) *product {
	out := &product{posts: pr.posts, starters: pr.starters, like: slices.Clone(pr.like)}
	out.each(t, func(like, by *float64) { *like /= *by })
	rescaleGrids(out.like)
	return out
}

// each goes over all figures of a product, and what a table has for them.
func (pr *product) each(t *table, do func(like, by *float64)) {
	for p := range pr.posts {
		for g := range pr.starters {
			out, by := &pr.like[p*pr.starters+g], t.at(p, g)
			for h := range out {
				a, b := &out[h], &by[h]
				for s := range a {
					do(&a[s], &b[s])
				}
			}
		}
	}
}

// rescaleGrids does so with all grids of a product alike.
func rescaleGrids(grids []grid) {
	rows := make([][]float64, 0, 8*ways)
	for g := range grids {
		for h := range grids[g] {
			rows = append(rows, grids[g][h][:])
		}
	}
	rescale(rows...)
}

// mostApart is how many readings a stretch keeps apart: those before are counted
// together, and are no longer told one by one.
const mostApart = 40

// add takes a table to those of the stretch.
func (st *stretch) add(t table) {
	st.tables = append(st.tables, t)
	if len(st.tables) > mostApart {
		both := multiplied(st.tables[:2])
		st.tables = slices.Delete(st.tables, 0, 1)
		st.tables[0] = table{reading: nobodys, posts: both.posts, starters: both.starters, like: both.like}
	}
}

// nobodys is the reading of a table that stands for several.
const nobodys = -2
