package suspect

// remedy is what to do, as a set of things to be done.
type remedy uint16

const (
	doReplace remedy = 1 << iota
	doTell           // it is weak: watch it or replace it before the cold
	doCharge
	doClean
	doCable
	doAlternator
	doRegulator
	doDrain
	doStarter
	doHabit
	doIgnition
	doWater
)

// remedyOf gives what is to be done with a set of faults and a battery of this health.
func (m *model) remedyOf(s Set, h int) remedy {
	var r remedy
	s.each(func(f Fault) {
		switch f {
		case WornOut:
			if m.healths[h].pct >= 50 {
				r |= doTell
			} else {
				r |= doReplace
			}
		case ShortedCell, Open, Frozen:
			r |= doReplace
		case LowAcid:
			if m.c.Battery.Opens() {
				r |= doWater
			} else {
				r |= doReplace
			}
		case Discharged:
			r |= doCharge
		case DirtyContacts:
			r |= doClean
		case BadCable:
			r |= doCable
		case Undercharging:
			r |= doAlternator
		case Overcharging:
			r |= doRegulator
		case Drain:
			r |= doDrain
		case StarterDraw:
			r |= doStarter
		case ShortTrips:
			r |= doHabit
		case Immobiliser:
			r |= doIgnition
		}
	})
	return r
}
