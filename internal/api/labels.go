package api

import (
	"sync"

	"grapnel/core/battery"
	"grapnel/core/rating"
)

// labels remembers the batteries of labels that were asked for: finding one takes
// most of the time a verdict takes, and a workshop has a few dozen.
type labels struct {
	mu    sync.Mutex
	known map[labelKey]labelled
}

type labelKey struct {
	chemistry battery.Chemistry
	cells     int
	label     rating.Label
}

type labelled struct {
	battery battery.Battery
	plate   battery.Nameplate
	err     error
}

// mostLabels bounds what is remembered; then it is forgotten and begun anew.
const mostLabels = 2000

func (l *labels) find(c battery.Chemistry, cells int, label rating.Label) (battery.Battery, battery.Nameplate, error) {
	key := labelKey{c, cells, label}
	l.mu.Lock()
	one, ok := l.known[key]
	l.mu.Unlock()
	if ok {
		return one.battery, one.plate, one.err
	}
	one.battery, one.plate, one.err = battery.FromLabel(c, cells, label)
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.known == nil || len(l.known) >= mostLabels {
		l.known = map[labelKey]labelled{}
	}
	l.known[key] = one
	return one.battery, one.plate, one.err
}
