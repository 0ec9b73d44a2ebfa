package battery

import "sort"

// point is one row of a published or practical table.
type point struct{ x, y float64 }

// table interpolates linearly between rows sorted by rising x. Outside its rows
// it carries the slope of the end row on; callers clamp where the table ends.
type table []point

// at reads the table at x.
func (t table) at(x float64) float64 {
	i := sort.Search(len(t), func(i int) bool { return t[i].x >= x })
	i = min(max(i, 1), len(t)-1)
	a, b := t[i-1], t[i]
	return a.y + (x-a.x)*(b.y-a.y)/(b.x-a.x)
}

// swapped exchanges the columns, for tables that rise (or fall) strictly.
func (t table) swapped() table {
	s := make(table, len(t))
	for i, p := range t {
		s[i] = point{p.y, p.x}
	}
	sort.Slice(s, func(i, j int) bool { return s[i].x < s[j].x })
	return s
}

func clamp(v, lo, hi float64) float64 { return min(max(v, lo), hi) }
