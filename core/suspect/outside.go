package suspect

import (
	"math"
	"slices"

	"grapnel/core/reading"
	"grapnel/core/station"
)

// about is one figure read of a part.
type about struct {
	reading int
	part    *part
	of      string        // which figure: readings of one figure share the part's value
	world   station.World // in which it was read
	as      reading.Reading
	field   string
	like    []float64     // by the part's values
	class   func(Set) int // of the part with a set of faults; nil of a cable, whose sides hang together
	weaken  float64       // part of such readings that say nothing of it
	mended  Set           // what had been put right by then
	cleaned bool
}

// classOf gives the class of a part with a set of faults: of one fault, and of another
// that the same part can have.
func classOf(mended Set, f, other Fault) func(Set) int {
	return func(s Set) int {
		s &^= mended
		switch {
		case s.Has(f):
			return faulty
		case other != None && s.Has(other):
			return third
		}
		return sound
	}
}

// cranked weighs the starter's draw and what the paths lose, at the draw that flowed.
func (m *model) cranked(i int, r reading.Reading, mended Set) {
	w := station.World{Battery: m.healths[2].battery, SOC: 80, BatteryC: 20}
	if amps, ok := r.Number("amps"); ok {
		m.tell(about{reading: i, part: &m.parts.starter, of: "starter", world: w, as: r, field: "amps",
			class: classOf(mended, StarterDraw, Immobiliser)}, 800)
		w.StarterAmps = amps
	} else {
		w.StarterAmps = m.parts.amps
	}
	for _, path := range []struct {
		field string
		part  *part
		of    string
	}{{"drop_live_volts", &m.parts.live, "live"}, {"drop_earth_volts", &m.parts.earth, "earth"}} {
		if _, ok := r.Number(path.field); ok && w.StarterAmps > 0 {
			m.path(about{reading: i, part: path.part, of: path.of, world: w, as: r, field: path.field}, mended)
		}
	}
}

// dropped weighs a drop over one path; over one joint or cable it says less of the
// whole path than it says of itself, and a low one clears only that.
func (m *model) dropped(i int, r reading.Reading, mended Set) {
	p, of := &m.parts.live, "live"
	if r.Word("path") == "earth" {
		p, of = &m.parts.earth, "earth"
	}
	w := station.World{Battery: m.healths[2].battery, SOC: 80, BatteryC: 20, StarterAmps: r.Or("amps", m.parts.amps)}
	if part := r.Word("part"); part == "joint" || part == "cable" {
		v, _ := r.Number("volts")
		if v < 0.1*m.c.Volts()/12 {
			return
		}
		r = r.With("volts", 3*v)
		of += part
	}
	m.path(about{reading: i, part: p, of: of, world: w, as: r, field: "volts"}, mended)
}

// path tells of a cable: a bad one is on one side or the other, and bad contacts are in
// the path that begins at them.
func (m *model) path(a about, mended Set) {
	a.mended, a.cleaned = mended, !m.dirtyNow
	a.of += dirtiness(m.dirtyNow)
	m.tell(a, 6)
}

func dirtiness(dirty bool) string {
	if dirty {
		return ""
	}
	return " cleaned"
}

// tell weighs a figure that can be anything within span where it is a slip.
func (m *model) tell(a about, span float64) {
	if a.like = a.part.read(a.world, a.as, a.field, span); a.like != nil {
		m.outside = append(m.outside, a)
	}
}

// weighOutside weighs the parts, in logarithms: readings of one figure are of one value.
func (m *model) weighOutside(logs []float64, without int) {
	var done []string
	var sides [2][][4]float64 // of each cable, what was read of it: by class, and once more what was put right by then
	var which [2][]*about
	for i := range m.outside {
		first := &m.outside[i]
		if slices.Contains(done, first.of) {
			continue
		}
		done = append(done, first.of)
		byClass, weaken, n := m.byClass(first, without)
		if n == 0 {
			continue
		}
		if first.class == nil {
			side := 0
			if first.part == &m.parts.earth {
				side = 1
			}
			sides[side], which[side] = append(sides[side], byClass), append(which[side], first)
			continue
		}
		mean := (byClass[sound] + byClass[faulty] + byClass[third]) / byClass[3]
		var like [3]float64
		for c := range like {
			like[c] = math.Log((1-weaken)*byClass[c] + weaken*mean)
		}
		for k, h := range m.hyps {
			logs[k] += like[first.class(h.set)]
		}
	}
	if which[0] == nil && which[1] == nil {
		return
	}
	for k, h := range m.hyps {
		sum := 0.0
		for _, way := range cableWays(h.set) {
			p := way.share
			for side, class := range [2]int{way.live, way.earth} {
				for g, a := range which[side] {
					c := class
					if c == third && (a.cleaned || a.mended.Has(DirtyContacts)) || c == faulty && a.mended.Has(BadCable) {
						c = sound
					}
					p *= sides[side][g][c]
				}
			}
			sum += p
		}
		logs[k] += math.Log(sum)
	}
}

// cableWay is how both cables are with a set of faults, and how often.
type cableWay struct {
	live, earth int
	share       float64
}

// cableWays: a bad cable is on one side or the other; bad contacts are in the path that
// begins at them.
func cableWays(s Set) []cableWay {
	switch {
	case s.Has(BadCable):
		return badCable
	case s.Has(DirtyContacts):
		return dirtyCable
	}
	return soundCable
}

var (
	soundCable = []cableWay{{sound, sound, 1}}
	badCable   = []cableWay{{faulty, sound, 0.47}, {sound, faulty, 0.47}, {faulty, faulty, 0.06}}
	dirtyCable = []cableWay{{third, sound, 0.35}, {sound, third, 0.33}, {third, third, 0.32}}
)

// byClass is how likely all readings of one figure are with each class of its part, and
// of how many classes; none where all of them are left out.
func (m *model) byClass(first *about, without int) (out [4]float64, weaken float64, n int) {
	like := make([]float64, len(first.like))
	for x := range like {
		like[x] = 1
	}
	weaken = 1
	for i := range m.outside {
		a := &m.outside[i]
		if a.of != first.of || a.reading == without {
			continue
		}
		for x := range like {
			like[x] *= a.like[x]
		}
		rescale(like)
		weaken = min(weaken, a.weaken)
		n++
	}
	for c, weights := range first.part.classes {
		for x, p := range weights {
			out[c] += p * like[x]
		}
	}
	out[3] = float64(len(first.part.classes))
	return out, weaken, n
}
