package suspect

import (
	"math"
	"slices"
	"time"

	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/station"
)

// read goes through the readings in their order, in the world as it was then.
func (m *model) read() {
	m.stretches = []stretch{{}}
	m.words = make([][]float64, len(m.c.Readings))
	mended := Set(0)
	watered := false
	var last time.Time
	charges := 0
	for i, r := range m.c.Readings {
		if r.At != nil {
			if !last.IsZero() && r.At.Sub(last) > bench.ChargeSpeaks {
				m.stretches = append(m.stretches, stretch{begins: "stood"})
			}
			last = *r.At
		}
		m.inWords(i, r, mended)
		st := &m.stretches[len(m.stretches)-1]
		m.measured(i, r, st, mended)
		if watered {
			st.fillUp(i)
		}
		switch r.Kind {
		case station.Charged:
			next := stretch{begins: r.Word("ended"), since: r.At}
			if charges < len(m.b.Charges) {
				next.tooFew = m.b.TooSoon(m.b.Charges[charges])
			}
			charges++
			m.stretches = append(m.stretches, next)
		case station.JumpResult:
			if started, _ := r.Flag("started"); started {
				m.stretches = append(m.stretches, stretch{begins: "ran"})
			}
		case station.Cleaned:
			what := r.Words("what")
			if slices.Contains(what, "posts") || slices.Contains(what, "clamps") {
				m.dirtyNow, mended = false, mended|SetOf(DirtyContacts)
			}
		case station.PutRight:
			for _, w := range r.Words("what") {
				switch w {
				case "watered":
					watered, mended = true, mended|SetOf(LowAcid)
				case "tightened":
					m.dirtyNow, mended = false, mended|SetOf(DirtyContacts)
				case "cable":
					m.dirtyNow, mended = false, mended|SetOf(DirtyContacts, BadCable)
				case "earth_strap":
					mended |= SetOf(BadCable)
				case "belt", "alternator":
					mended |= SetOf(Undercharging, Overcharging)
				case "starter":
					mended |= SetOf(StarterDraw)
				case "drain":
					mended |= SetOf(Drain)
				}
			}
		}
	}
	m.mended = mended
}

// fillUp makes a reading of a battery that was watered say what it says of a sound one:
// bare plates are covered again.
func (st *stretch) fillUp(reading int) {
	for i := range st.tables {
		if t := &st.tables[i]; t.reading == reading {
			for g := range t.like {
				for dry := range dries {
					t.like[g][firstDry+dry] = t.like[g][filledWear]
				}
			}
		}
	}
}

// filledWear is the degree of wear of a battery that was dry and is filled again.
const filledWear = 4

// inWords weighs what a reading says without a meter. What was put right before it is
// no longer seen.
func (m *model) inWords(i int, r reading.Reading, mended Set) {
	m.words[i] = make([]float64, len(m.hyps))
	for k := range m.hyps {
		m.words[i][k] = math.Log(wordLikelihood(m.c, r, m.hyps[k].set&^mended))
	}
}

// measured weighs what a reading says by a meter.
func (m *model) measured(i int, r reading.Reading, st *stretch, mended Set) {
	k := m.c.Volts() / 12
	clean := !m.dirtyNow
	var t table
	ok := false
	switch r.Kind {
	case station.RestVoltage:
		minutes := st.rested(r)
		st.hours = max(st.hours, minutes/60)
		t, ok = m.restTable(i, r, minutes >= 0 && minutes < 180)
	case station.Hydrometer:
		t, ok = m.acidTable(i, r)
	case station.Eye:
		t, ok = m.eyeTable(i, r)
	case station.LoadTest:
		starters := []float64{m.parts.amps}
		if amps, has := r.Number("amps"); has {
			starters[0] = amps
		}
		t, ok = m.strengthTable(i, r, "volts_end", clean, 12*k, starters)
	case station.Conductance:
		t, ok = m.strengthTable(i, r, "cca", clean, 1.3*m.made.CCA, []float64{0})
	case station.Crank:
		starters := []float64{m.parts.amps, 1.8 * m.parts.amps}
		if amps, has := r.Number("amps"); has && amps > 0 {
			starters = []float64{amps}
		}
		if r.Word("turned") != "no" { // what never turned drew no surge that anybody knows
			t, ok = m.strengthTable(i, r, "volts_min", true, 12*k, starters)
		}
		m.cranked(i, r, mended)
	case station.CableDrop:
		m.dropped(i, r, mended)
	case station.Charging:
		w := m.world(2, 85, r)
		m.tell(about{reading: i, part: &m.parts.charging, of: "charging", world: w, as: r, field: "volts",
			class: classOf(mended, Undercharging, Overcharging)}, 6*k)
	case station.Drain:
		if r.Word("fuse") != "" {
			return
		}
		weaken := 0.15
		if minutes, timed := r.Number("minutes_asleep"); timed && minutes < 20 {
			weaken = 0.7 // modules still awake draw anything
		} else if timed {
			weaken = 0.03
		}
		m.tell(about{reading: i, part: &m.parts.drain, of: "drain", world: m.world(2, 85, r), as: r, field: "milliamps",
			class: classOf(mended, Drain, None), weaken: weaken}, 3000)
	}
	if ok {
		st.add(t)
	}
}
