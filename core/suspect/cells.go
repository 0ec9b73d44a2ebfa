package suspect

import (
	"cmp"
	"slices"
)

// leastCounted is the part a hypothesis must have before it is asked what it would
// show: below, it moves nothing.
const leastCounted = 0.003

// counted gives the hypotheses that count, the likeliest first.
func (m *model) counted(bel *belief) []int {
	var out []int
	for k, p := range bel.post {
		if p >= leastCounted {
			out = append(out, k)
		}
	}
	slices.SortStableFunc(out, func(a, b int) int { return cmp.Compare(bel.post[b], bel.post[a]) })
	return out[:min(len(out), mostCounted)]
}

const mostCounted = 24

// joint gives how likely each way to be inside and each charge is with a hypothesis,
// in a stretch, without one reading; the contacts are summed over. Weights sum to 1.
func (m *model) joint(bel *belief, k int, st *stretch, without int) grid {
	var out grid
	pr := st.product(without)
	greedy := 0
	if m.hyps[k].set.Has(StarterDraw) && pr.starters > 1 {
		greedy = 1
	}
	total := 0.0
	for h, ph := range bel.ways[k] {
		if ph < 1e-4 {
			continue
		}
		weights := &chargedLike[st.kind(h, &m.healths[h], m.hyps[k].set)]
		sum := 0.0
		for s := range charges {
			like := weights[s]
			if pr.like != nil {
				at := 0.0
				for p := range pr.posts {
					share := bel.dirt[k][p]
					if pr.posts == 1 {
						share = 1
					}
					if share > 1e-4 {
						at += share * pr.like[p*pr.starters+greedy][h][s]
					}
				}
				like *= at
			}
			out[h][s] = like
			sum += like
		}
		if sum <= 0 {
			continue
		}
		for s := range charges {
			out[h][s] *= ph / sum
		}
		total += ph
	}
	for h := range out {
		for s := range out[h] {
			out[h][s] /= max(total, 1e-300)
		}
	}
	return out
}
