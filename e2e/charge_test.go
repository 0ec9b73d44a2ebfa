package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"

	"grapnel/internal/stage"
)

// A flat mower battery is hung on a charger and looked at; its charge is drawn with the
// times it is ready and full, each look is marked, the clock waits for the next, and what
// does not follow is named. Taken off, the curve is gone.
func TestOnTheCharger(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.do(click("New job"), reads("What is it for?"), click("Mower"), click("Turns slowly"), click("300 CCA"), click("Open the job"),
		reads("Take the rest voltage first."), enter("Meter reads", "12.24"), press(`//button[contains(., "Save")]`), goneOn("Rest volts"),
		click("Whole, dry, not frozen, no smell?"), reads("safe to work on"), click("Save, go on"), reads("How the charge ended"))

	// The charger and its amps; then it is looked at, in two figures.
	b.do(click("Hang it on"), enter("Set to", "4"), click("Save"), reads("nobody has looked yet"), reads("ready to test"), reads("full,"),
		reads("Look at its charge"))
	var crosses int
	marks := `document.querySelectorAll("section[aria-label='Its charge'] svg path[d*='l10 10m0-10']").length`
	b.do(chromedp.Evaluate(marks, &crosses))
	if crosses != 0 {
		t.Errorf("%d looks are marked before anybody looked", crosses)
	}
	b.do(goTo("Charge"), click("Read again"), enter("Volts at the posts", "13.05"), enter("Amps", "4"), click("Cold"), click("Save"),
		until(marks+` === 2`))
	b.do(goTo("Charge"), click("Read again"), enter("Volts at the posts", "13.1"), enter("Amps", "4"), click("Hot"), click("Save"),
		reads("It is too hot: put that right first."), goTo("Charge"), reads("Too hot to go on."), reads("Off at the wall now."))
}
