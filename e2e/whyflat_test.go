package e2e

import (
	"testing"

	"grapnel/internal/stage"
)

// A week is told while its account is drawn beside, saved, and stands there with what
// would help; told again in other words it comes to another figure, and the first stays in the history.
func TestWhyFlat(t *testing.T) {
	t.Parallel()
	for name, screen := range map[string]stage.Screen{"desktop": stage.Desktop, "phone": stage.Phone} {
		t.Run(name, func(t *testing.T) {
			b := anew(t, screen, "C")
			id := b.newJob(slowCar(), looked, rested(12.63), strong,
				map[string]any{"kind": "drain", "milliamps": 40, "minutes_asleep": 60})
			settles := func() (pct string) {
				b.do(stage.Until(`document.querySelector("[data-testid=settles]")?.textContent`, &pct))
				return pct
			}
			b.do(goTo("Why flat?"), enter("Trips a week", "5"), click("12 min"), stage.Shown(`[data-testid=settles]`))
			drawn := settles()
			b.do(click("Save, go on"), reads("5 trips of 12 min"), reads("standing drain"), reads("One night on charge"), reads("Say to the customer"))
			if now := settles(); now != drawn {
				t.Errorf("drawn at %s, saved at %s", drawn, now)
			}
			b.do(click("Tell it again"), enter("Trips a week", "5"), click("1 h"), click("Save, go on"), reads("5 trips of 1 h"))
			if now := settles(); now == drawn {
				t.Errorf("an hour each, and still %s", now)
			}
			if got := b.saved(id); len(got) != 6 || got[4]["minutes"] != 12.0 || got[5]["minutes"] != 60.0 {
				t.Errorf("saved %v", got)
			}
			b.do(click("Go on"), stage.Gone(`section[aria-label="Why flat?"]`))
		})
	}
}
