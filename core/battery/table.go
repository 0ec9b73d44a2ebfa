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

func clamp(v, lo, hi float64) float64 { return min(max(v, lo), hi) }

func sq(x float64) float64 { return x * x }
