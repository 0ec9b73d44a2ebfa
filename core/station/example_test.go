package station_test

import (
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/station"
)

// A reading in few words, as the history, the ledger and the print say it.
func ExampleTell() {
	r := reading.Of(station.LoadTest, reading.Fields{"method": "half_cca", "volts_end": 9.85, "amps": 325,
		"seconds": 15})
	l := station.Tell(r)
	fmt.Println(l.Text)
	fmt.Println(l.How)
	// Output:
	// Load test 9.85 V
	// Half the CCA, 325 A, 15 s
}

// What a load test would read on a new battery at 21 °C, and on one whose clamps
// lose 2 mΩ.
func ExampleKindOf() {
	b, _, err := battery.FromLabel(battery.Flooded, 6, rating.Label{CCA: 650, Ah20h: 62})
	if err != nil {
		fmt.Println(err)
		return
	}
	load, _ := station.KindOf(station.LoadTest)
	how := reading.Of(station.LoadTest, reading.Fields{"method": "half_cca", "amps": 325, "seconds": 15})
	for _, ohms := range []float64{0, 0.002} {
		seen := load.Expect(station.World{Battery: b, SOC: 100, BatteryC: 21, PostOhms: ohms}, how)
		fmt.Printf("%.1f V\n", seen[0].Best)
	}
	// Output:
	// 10.7 V
	// 10.1 V
}

// What the readings of a case say together.
func ExamplePut() {
	cca := 300.0
	b := station.Put(reading.Case{
		Battery: reading.Battery{Chemistry: battery.Flooded, Rating: reading.Rating{CCA: &cca}},
		Readings: []reading.Reading{reading.Of(station.RestVoltage, reading.Fields{"volts": 12.24,
			"surface_charge": "rested"})},
	}, nil)
	fmt.Printf("about %.0f %% charged\n", b.SOC().Best)
	// Output:
	// about 46 % charged
}
