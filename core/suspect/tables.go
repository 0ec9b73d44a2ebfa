package suspect

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/station"
)

// grid is a figure for each way the battery can be and each charge.
type grid [ways][charges]float64

// table is how likely one reading is with each way the battery can be and its charge,
// for each degree of contact and for a sound or a greedy starter, where those matter.
type table struct {
	reading  int
	posts    int             // 1 where contacts do not matter
	starters int             // 1 where the starter does not
	like     []grid          // by contact, then by starter
	would    *[ways]expected // what it would have read, where that is a figure
}

func newTable(reading, posts, starters int) table {
	return table{reading: reading, posts: posts, starters: starters, like: make([]grid, posts*starters)}
}

// at gives the grid for a degree of contact and a starter.
func (t *table) at(p, g int) *grid {
	if t.posts == 1 {
		p = 0
	}
	if t.starters == 1 {
		g = 0
	}
	return &t.like[p*t.starters+g]
}

// nodes are the charges at which a load is worked out; between them it is taken in
// proportion.
var nodes = [...]float64{0, 10, 25, 45, 70, 100}

// expected is what would be read at the nodes.
type expected struct {
	best, sigma [len(nodes)]float64
	amps        float64
}

// between gives best and sigma at a charge.
func (e *expected) between(soc float64) (best, sigma float64) {
	i := 0
	for i < len(nodes)-2 && soc > nodes[i+1] {
		i++
	}
	part := (soc - nodes[i]) / (nodes[i+1] - nodes[i])
	return e.best[i] + part*(e.best[i+1]-e.best[i]), e.sigma[i] + part*(e.sigma[i+1]-e.sigma[i])
}

// world is the battery's side of a world.
func (m *model) world(h int, soc float64, r reading.Reading) station.World {
	hp := &m.healths[h]
	temp, _ := m.c.TempC(ownTemp(r))
	return station.World{Battery: hp.battery, SOC: soc, BatteryC: temp, DeadCells: hp.dead, LowCellPct: hp.lowCell}
}

func ownTemp(r reading.Reading) *float64 {
	for _, field := range []string{"battery_c", "acid_c"} {
		if v, ok := r.Number(field); ok {
			return &v
		}
	}
	return nil
}

// loaded is a strength test as it was done, whatever it read.
type loaded struct {
	kind, method, field string
	amps, seconds       float64
	tempC, starter      float64
	standard            string
}

// underLoad gives what a strength test would read with every way to be inside, on good
// contacts; amps of the starter where it is the load. Tests done alike are worked out
// once.
func (m *model) underLoad(r reading.Reading, field string, starter float64) (*[ways]expected, bool) {
	temp, _ := m.c.TempC(ownTemp(r))
	as := loaded{r.Kind, r.Word("method"), field, r.Or("amps", -1), r.Or("seconds", -1), temp, starter, r.Word("standard")}
	would, done := m.loads[as]
	if !done {
		would = m.allUnderLoad(r, field, starter)
		m.loads[as] = would
	}
	return would, would != nil
}

// allUnderLoad works that out; nil where nothing would be read.
func (m *model) allUnderLoad(r reading.Reading, field string, starter float64) *[ways]expected {
	var out [ways]expected
	for h := range out {
		if h < wears-1 && h%2 == 1 {
			continue // taken between its neighbours
		}
		for i, soc := range nodes {
			w := m.world(h, soc, r)
			w.StarterAmps = starter
			found := false
			for _, e := range station.Expect(w, r) {
				if e.Field == field {
					out[h].best[i], out[h].sigma[i], out[h].amps, found = e.Best, e.Sigma, e.Amps, true
				}
			}
			if !found {
				return nil
			}
		}
	}
	for h := 1; h < wears-1; h += 2 {
		part := (wearPct[h-1] - wearPct[h]) / (wearPct[h-1] - wearPct[h+1])
		for i := range nodes {
			out[h].best[i] = out[h-1].best[i] + part*(out[h+1].best[i]-out[h-1].best[i])
			out[h].sigma[i] = out[h-1].sigma[i] + part*(out[h+1].sigma[i]-out[h-1].sigma[i])
		}
		out[h].amps = out[h-1].amps
	}
	for h := range out {
		for i := range nodes {
			e := &out[h]
			if h < wears {
				// A degree of wear stands for those around it.
				lo, hi := max(h-1, 0), min(h+1, wears-1)
				e.sigma[i] = root(e.sigma[i], 0.3*math.Abs(out[hi].best[i]-out[lo].best[i])/2)
			}
			away := math.Abs(out[1].best[i] - e.best[i])
			e.sigma[i] = root(root(e.sigma[i], m.healths[h].loose*away), m.guess*math.Abs(e.best[i]))
			if r.Kind == station.LoadTest {
				e.sigma[i] = root(e.sigma[i], byHand*m.c.Volts()/12)
			}
		}
	}
	return &out
}

// byHand is how far a load test is off from one workshop and hand to another, volts of
// 12: leads of the tester, how the clamps sit, when the knob is turned. From memory.
const byHand = 0.09

// strengthTable is how likely a strength reading is everywhere.
func (m *model) strengthTable(i int, r reading.Reading, field string, clean bool, span float64, starters []float64) (table, bool) {
	v, ok := r.Number(field)
	if !ok {
		return table{}, false
	}
	posts := contacts
	if clean || r.Kind == station.Crank {
		posts = 1
	}
	t := newTable(i, posts, len(starters))
	for st, amps := range starters {
		would, ok := m.underLoad(r, field, amps)
		if !ok {
			return table{}, false
		}
		t.would = would
		for h := range would {
			for s := range charges {
				best, sigma := would[h].between(chargeAt(s))
				for p := range t.posts {
					b, sg := m.throughContacts(r.Kind, best, sigma, would[h].amps, p)
					t.at(p, st)[h][s] = density(v, b, sg, span)
				}
			}
		}
	}
	return t, true
}

// throughContacts is what is read through contacts of a degree of bad.
func (m *model) throughContacts(kind string, best, sigma, amps float64, p int) (b, s float64) {
	if p == 0 {
		return best, sigma
	}
	ohms := contactOhms[p] * m.contactScale
	if kind == station.Conductance {
		b = best / (1 + ohms/m.ohms)
		return b, root(sigma*b/best, 0.25*(best-b))
	}
	b = max(0, best-amps*ohms)
	return b, root(sigma, 0.25*amps*ohms)
}

// restTable is how likely a rest voltage is everywhere, over what its surface charge
// and the family of its build may be.
func (m *model) restTable(i int, r reading.Reading, fresh bool) (table, bool) {
	v, ok := r.Number("volts")
	v = math.Abs(v) // leads swapped
	if !ok || v < nothingRead {
		return table{}, false
	}
	t := newTable(i, 1, 1)
	temp, _ := m.c.TempC(ownTemp(r))
	k := m.c.Volts() / 12
	left := k * battery.SurfaceLeft(m.chem, battery.Rest{TempC: temp, Surface: battery.SurfaceCharge(r.Word("surface_charge")),
		MinutesSinceCharge: r.Or("minutes_since_charge", -1)})
	family := m.chem.RestFamily()
	strays := []float64{0}
	if family > 0 {
		strays = []float64{-0.8 * family, 0, 0.8 * family}
	}
	for h := range ways {
		if h > 0 && m.healths[h].dead == 0 && m.healths[h].lowCell == 0 {
			t.like[0][h] = t.like[0][0] // wear does not show at rest
			continue
		}
		for s := range charges {
			w := m.world(h, chargeAt(s), r)
			if fresh {
				w.LowCellPct *= 0.3
			}
			sum := 0.0
			for _, stray := range strays {
				w.Strays = stray
				e := station.Expect(w, r)[0]
				sigma := root(e.Sigma, m.stepVolts)
				if m.healths[h].lowCell > 0 {
					sigma = root(sigma, 0.08*k)
				}
				if m.healths[h].dead > 0 {
					// What a shorted cell still shows is anything up to what an empty one does.
					for _, shows := range deadShows {
						sum += shows[1] * density(v, e.Best+shows[0], root(sigma, 0.12), 12*k) / float64(len(strays))
					}
					continue
				}
				for _, part := range surfaceParts {
					sum += part[1] * density(v, e.Best+part[0]*left, sigma, 12*k) / float64(len(strays))
				}
			}
			t.like[0][h][s] = sum
		}
	}
	return t, true
}

// surfaceParts are how much of the surface charge there may be at most is there, and
// how often.
var surfaceParts = [3][2]float64{{0.1, 0.4}, {0.4, 0.4}, {0.8, 0.2}}

// deadShows are the volts a shorted cell still shows, and how often. Common practice, no
// source.
var deadShows = [...][2]float64{{0, 0.35}, {0.2, 0.2}, {0.5, 0.15}, {0.9, 0.1}, {1.35, 0.1}, {1.75, 0.1}}

// nothingRead is less than any battery shows that the probes touch, volts.
const nothingRead = 1.0

// acidTable is how likely the gravities are everywhere: the charge by all cells but the
// lowest, and how far that one is behind.
func (m *model) acidTable(i int, r reading.Reading) (table, bool) {
	cells := r.Numbers("cells_sg")
	if len(cells) < 2 {
		return table{}, false
	}
	sum, least := 0.0, cells[0]
	for _, sg := range cells {
		sum += sg
		least = min(least, sg)
	}
	mean := (sum - least) / float64(len(cells)-1)
	t := newTable(i, 1, 1)
	for h := range ways {
		if h > 0 && m.healths[h].dead == 0 && m.healths[h].lowCell == 0 {
			t.like[0][h] = t.like[0][0] // wear does not show in the acid
			continue
		}
		for s := range charges {
			w := m.world(h, chargeAt(s), r)
			all := station.Expect(w, r)
			if len(all) == 0 {
				return table{}, false
			}
			e := all[0]
			behind := evenCells
			wide := evenSpread
			if hp := &m.healths[h]; hp.dead > 0 {
				behind, wide = max(evenCells, e.Best-deadGravity), 0.03
			} else if hp.lowCell > 0 {
				w.SOC = max(0, w.SOC-hp.lowCell)
				behind, wide = max(evenCells, e.Best-station.Expect(w, r)[0].Best), 0.02
			}
			t.like[0][h][s] = density(mean, e.Best, root(e.Sigma, acidSpread), 0.25) *
				density(mean-least, behind, wide, 0.2)
		}
	}
	return t, true
}

// How far the lowest cell of a healthy battery is behind the others, and how far
// batteries of one charge lie apart; what a dead cell's acid comes down to. From
// memory, BCI service texts and common practice.
const (
	evenCells, evenSpread = 0.006, 0.006
	acidSpread            = 0.010
	deadGravity           = 1.11
)

// eyeTable is how likely the eye's colour is everywhere.
func (m *model) eyeTable(i int, r reading.Reading) (table, bool) {
	colour := r.Word("colour")
	if colour != "green" && colour != "dark" {
		return table{}, false
	}
	t := newTable(i, 1, 1)
	for s := range charges {
		w := m.world(0, chargeAt(s), r)
		p := station.Expect(w, r)
		if len(p) == 0 {
			return table{}, false
		}
		for h := range ways {
			t.like[0][h][s] = (1-2*eyeMisread)*p[0].Words[colour] + eyeMisread
		}
	}
	return t, true
}

// eyeMisread is how often one colour is taken for another. House judgement.
const eyeMisread = 0.08
