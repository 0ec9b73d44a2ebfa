package e2e

import (
	"testing"

	"grapnel/internal/stage"
)

// slowCar is a car that turns slowly, 650 CCA.
func slowCar() map[string]any {
	return map[string]any{
		"vehicle":    map[string]any{"class": "car", "name": "Slow car", "fuel": "petrol"},
		"battery":    map[string]any{"chemistry": "flooded", "caps": "sealed", "rating": map[string]any{"cca": 650, "standard": "SAE", "ah_20h": 62}},
		"complaint":  []string{"slow_crank", "warning_lights"},
		"conditions": map[string]any{"ambient_c": 21, "battery_c": 21},
	}
}

var strong = map[string]any{"kind": "load_test", "method": "half_cca", "amps": 325, "seconds": 15, "volts_end": 10.4}

// A no-start solved by what is offered: the suspects change with each reading, one that
// fell says what it would have shown, and the way to the next test is one tap.
func TestSolvedInTheOfferedOrder(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.newJob(slowCar(), looked, rested(12.63))
	first := `//section[@aria-label="Suspects"]//li[1]`
	b.do(stage.Shown(first+`[contains(., "Worn out")]`), reads("A load test would move it."),
		stage.Shown(`section[aria-label="Strength"]`))
	b.take("Strength", "Charging", enter("Volts at the end", "10.40"))
	b.do(stage.Gone(first+`[contains(., "Worn out")]`), reads("by what it tells a minute"))
	b.take("Charging", "Crank", enter("Volts at the posts", "14.30"), click("Raised, 1500 to 2000"), click("Off"))
	b.take("Crank", "Clean", enter("Lowest at the posts", "11.02"), enter("Amps in the cable", "150"), enter("Lost on the live path", "0.16"),
		click("Slowly"), enter("Lost on the earthed path", "1.34"))
	b.do(reads("Mend the earthed path."), stage.Shown(first+`[contains(., "Bad cable")]`))
	// Why it is suspected stands under it, with the reading that weighs most.
	b.do(stage.Shown(first + `//li[contains(., "Complaint: Turns slowly")]`))
}

// The same car in a house that goes by its stations: they come as they stand on the
// sheet.
func TestSolvedInTheHouseOrder(t *testing.T) {
	b := asLead(t)
	b.do(click("House rules"), press(`//fieldset[contains(., "Which test comes next")]//button[contains(., "stations as they come")]`),
		click("Save the house rules"), reads("New jobs follow them"))
	b.newJob(slowCar(), looked, rested(12.63), strong)
	b.do(stage.Shown(`section[aria-label="Crank"]`), reads("Still open, by station"))
	b.take("Crank", "Clean", enter("Lowest at the posts", "11.02"), enter("Amps in the cable", "150"), enter("Lost on the live path", "0.16"),
		click("Slowly"), enter("Lost on the earthed path", "1.34"))
	b.do(reads("Mend the earthed path."))
}
