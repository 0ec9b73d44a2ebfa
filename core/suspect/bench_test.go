package suspect

import (
	"testing"

	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/station"
)

// A job with every station read: suspects with their reasons, and the tests worth doing
// next.
func BenchmarkOpinion(b *testing.B) {
	c := told([]string{"slow_crank", "frequent_jumps"}, looked("film_live"), rest(12.5), load(10.0),
		reading.Of(station.Conductance, reading.Fields{"cca": 590, "standard": "SAE"}), crank(10.1, 180, "slow"), drop("live", 0.3), charging(14.3), drain(30))
	laid := station.Put(c, readingtest.Labels)
	for b.Loop() {
		Of(laid)
	}
}

// The same with as many readings as a case may have: for each of them it takes less.
func BenchmarkOpinionOfHundreds(b *testing.B) {
	c := told([]string{"slow_crank"}, looked(), rest(12.5))
	for i := range 498 {
		c.Readings = append(c.Readings, load(9+0.001*float64(i)))
	}
	laid := station.Put(c, readingtest.Labels)
	for b.Loop() {
		Of(laid)
	}
}
