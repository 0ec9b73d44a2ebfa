package battery

import "sort"

// point is one row of a published or practical table.
type point struct{ x, y float64 }

// table interpolates linearly between rows sorted by rising x. Outside its rows
// it holds the end row.
type table []point

// at reads the table at x.
func (t table) at(x float64) float64 {
	x = clamp(x, t[0].x, t[len(t)-1].x)
	i := sort.Search(len(t), func(i int) bool { return t[i].x >= x })
	i = min(max(i, 1), len(t)-1)
	a, b := t[i-1], t[i]
	return a.y + (x-a.x)*(b.y-a.y)/(b.x-a.x)
}

// clamp holds v within lo and hi. Written out, since the built-in min and max pay
// for signed zeros, and this is asked for in every step.
func clamp(v, lo, hi float64) float64 {
	if v < lo {
		return lo
	}
	if v > hi {
		return hi
	}
	return v
}

// above is v, or 0 where v is negative.
func above(v float64) float64 {
	if v < 0 {
		return 0
	}
	return v
}

func sq(x float64) float64 { return x * x }
