package battery

import (
	"testing"

	"grapnel/core/rating"
)

func BenchmarkDayCharge(b *testing.B) {
	bat, _, _ := FromLabel(Flooded, 6, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
	s := bat.Rested(20, 20)
	b.ReportAllocs()
	for b.Loop() {
		bat.Run(s, Duty{Source: Source{Amps: 10, Volts: 14.6}, Ambient: Ambient{Start: 20}, Seconds: 86400})
	}
}
func BenchmarkStorage(b *testing.B) {
	bat, _, _ := FromLabel(Flooded, 6, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
	s := bat.Rested(100, 20)
	b.ReportAllocs()
	for b.Loop() {
		bat.Run(s, Duty{Source: Source{Amps: -0.01}, Ambient: Ambient{Start: 20}, Seconds: 180 * 86400})
	}
}
func BenchmarkLabel(b *testing.B) {
	for b.Loop() {
		FromLabel(Flooded, 6, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
	}
}
func BenchmarkCrank(b *testing.B) {
	bat, _, _ := FromLabel(Flooded, 6, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
	for b.Loop() {
		bat.EndVolts(100, -18, 540, 30)
	}
}
