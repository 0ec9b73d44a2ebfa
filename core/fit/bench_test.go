package fit

import (
	"fmt"
	"testing"

	"grapnel/core/reading/readingtest"
	"grapnel/core/words"
)

// A whole shelf of two hundred, ranked for one vehicle.
func BenchmarkRankTwoHundred(b *testing.B) {
	r := Request{Today: today, Stock: make([]Item, 200)}
	r.Vehicle.Class, r.Needs.CCA, r.Needs.Group = "car", 640, "L3"
	cold := -18.0
	r.ColdestC = &cold
	for i := range r.Stock {
		cca, ah := float64(400+20*(i%20)), float64(40+2*(i%20))
		r.Stock[i] = Item{Tag: fmt.Sprintf("S-%03d", i), Chemistry: "flooded_sealed", Group: "L2", Made: "2026-08",
			Tested: &Tested{RestVolts: 12.7}}
		r.Stock[i].Rating.CCA, r.Stock[i].Rating.Ah20h = &cca, &ah
	}
	r.Rank(readingtest.Labels, words.Voice{}) // labels are worked out once
	for b.Loop() {
		r.Rank(readingtest.Labels, words.Voice{})
	}
}
