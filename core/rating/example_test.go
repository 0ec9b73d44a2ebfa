package rating_test

import (
	"fmt"

	"grapnel/core/rating"
)

// The load of the 15 s test is half the label's CCA.
func ExampleTestLoad() {
	l, err := rating.TestLoad(rating.Label{CCA: 640, Standard: rating.EN})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%.0f A, %s\n", l.Amps, l.From)
	// Output:
	// 340 A, half of 678 CCA
}

// The least volts under that load fall in the cold.
func ExampleLoadTestLimit() {
	for _, c := range []float64{21, 0, -18} {
		fmt.Printf("%.2f V at %.0f °C\n", rating.LoadTestLimit(12, c), c)
	}
	// Output:
	// 9.60 V at 21 °C
	// 9.14 V at 0 °C
	// 8.50 V at -18 °C
}

// Figures by two standards compare only on average.
func ExampleConvert() {
	amps, spread, err := rating.Convert(640, rating.EN, rating.SAE)
	fmt.Printf("%.0f A ± %.0f %%, %v\n", amps, 100*spread, err)
	// Output:
	// 678 A ± 5 %, <nil>
}
