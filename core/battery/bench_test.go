package battery

import "testing"

// The stretches the rest of Grapnel asks for most. Each reports allocations,
// which must be none in a run.

func benchmarkRun(b *testing.B, bat Battery, s State, d Duty) {
	b.ReportAllocs()
	for b.Loop() {
		if _, err := bat.Run(s, d); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkDayCharge(b *testing.B) {
	bat := car(b, Flooded)
	benchmarkRun(b, bat, bat.Rested(20, 20),
		Duty{Source: Source{Amps: 10, Volts: 14.6}, Ambient: Ambient{Start: 20}, Seconds: 86400})
}

func BenchmarkStorage180Days(b *testing.B) {
	bat := car(b, FloodedSealed)
	benchmarkRun(b, bat, bat.Rested(100, 15),
		Duty{Source: Source{Amps: -0.005}, Ambient: Ambient{Start: 15}, Seconds: 180 * 86400})
}

func BenchmarkCrank(b *testing.B) {
	bat := car(b, Flooded)
	benchmarkRun(b, bat, bat.Rested(100, -18),
		Duty{Source: Source{Amps: -540, Volts: unlimited}, Ambient: Ambient{Start: -18}, Seconds: 30})
}

func BenchmarkDayChargeUnequalCells(b *testing.B) {
	bat := car(b, Flooded).WithCell(Weak(60)).WithCell(Shorted(2))
	benchmarkRun(b, bat, bat.Rested(20, 20),
		Duty{Source: Source{Amps: 10, Volts: 14.6}, Ambient: Ambient{Start: 20}, Seconds: 86400})
}

func BenchmarkChargeFromRest(b *testing.B) {
	r := Rest{Volts: 12.31, TempC: 14, TempAssumed: true, Surface: Rested, MinutesSinceCharge: 90}
	b.ReportAllocs()
	for b.Loop() {
		ChargeFromRest(AGM, 6, r)
	}
}

// No step of a run allocates: what a run costs in memory does not grow with its
// length.
func TestRunsDoNotAllocate(t *testing.T) {
	b := car(t, Flooded)
	s := b.Rested(20, 20)
	for _, seconds := range []float64{60, 86400, 30 * 86400} {
		d := Duty{Source: Source{Amps: 10, Volts: 14.6}, Ambient: Ambient{Start: 20}, Seconds: seconds}
		if n := testing.AllocsPerRun(5, func() { _, _ = b.Run(s, d) }); n > 0 {
			t.Errorf("%g s allocate %g times", seconds, n)
		}
	}
}
