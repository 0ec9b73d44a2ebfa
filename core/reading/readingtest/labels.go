package readingtest

import (
	"sync"

	"grapnel/core/battery"
	"grapnel/core/rating"
)

var known sync.Map

// Labels finds the battery of a label and remembers it, for tests that judge
// thousands of cases of a few labels.
func Labels(c battery.Chemistry, cells int, l rating.Label) (battery.Battery, battery.Nameplate, error) {
	type key struct {
		c     battery.Chemistry
		cells int
		l     rating.Label
	}
	type found struct {
		b   battery.Battery
		p   battery.Nameplate
		err error
	}
	if f, ok := known.Load(key{c, cells, l}); ok {
		f := f.(found)
		return f.b, f.p, f.err
	}
	b, p, err := battery.FromLabel(c, cells, l)
	known.Store(key{c, cells, l}, found{b, p, err})
	return b, p, err
}
