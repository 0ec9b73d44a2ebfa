package battery_test

import (
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/internal/fatal"
)

// The battery a label promises, and what it does half charged in the cold.
func ExampleFromLabel() {
	b, plate, err := battery.FromLabel(battery.Flooded, 6, rating.Label{CCA: 540, Ah20h: 48})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("about %.0f min of reserve\n", plate.RCMin.Value)
	fmt.Printf("%.0f A for 30 s at -10 °C\n", fatal.Of(b.CrankingAmps(50, -10, 30, 7.2)))
	// Output:
	// about 77 min of reserve
	// 351 A for 30 s at -10 °C
}

// A resting voltage is a band of charge, not a point.
func ExampleChargeFromRest() {
	r := battery.ChargeFromRest(battery.Flooded, 6, battery.Rest{Volts: 12.45, TempC: 21, Surface: battery.Rested,
		MinutesSinceCharge: 600})
	b := r.Charge.Rounded()
	fmt.Printf("%.0f to %.0f %%\n", b.Low, b.High)
	// Output:
	// 69 to 83 %
}

// Acid freezes later the more charge it holds.
func ExampleFreezingPoint() {
	for _, soc := range []float64{100, 50, 0} {
		fmt.Printf("%.0f %%: %.0f °C\n", soc, battery.FreezingPoint(battery.SpecificGravity(battery.Flooded, soc)))
	}
	// Output:
	// 100 %: -58 °C
	// 50 %: -25 °C
	// 0 %: -10 °C
}
