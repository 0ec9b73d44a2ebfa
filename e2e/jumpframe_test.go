package e2e

import (
	"log/slog"
	"testing"

	"grapnel/internal/stage"
)

// stepped turns leads thicker and thinner, longer each round, so that no answer is known
// before; and gives how long it took from each press until the new answer was painted, and
// until the stepper's own figure was, ms.
const stepped = `
	const key = (way, what) => document.querySelector('button[aria-label="' + way + ': ' + what + '"]');
	const says = () => document.querySelector("[data-testid=speed] svg").ariaLabel;
	const shows = () => document.querySelector("[data-testid=value-mm2]").textContent;
	const answers = [], figures = [];
	let way = "More";
	while (answers.length < 30) {
		const button = key(way, "lead copper");
		if (button.disabled) {
			way = way === "More" ? "Less" : "More";
			key("More", "lead length").click();
			await new Promise((r) => setTimeout(r, 300));
			continue;
		}
		const was = says(), figure = shows(), began = performance.now();
		button.click();
		let seen = 0;
		while (says() === was && performance.now() - began < 2000) {
			await new Promise(requestAnimationFrame);
			if (!seen && shows() !== figure) seen = performance.now() - began;
		}
		answers.push(performance.now() - began); // what stands as a frame begins is painted by it
		figures.push(seen || performance.now() - began);
		await new Promise((r) => setTimeout(r, 160)); // nobody presses faster
	}
	answers.sort((a, b) => a - b);
	figures.sort((a, b) => a - b);
	return { Half: answers[15], Most: answers[27], Figure: figures[15] };`

// A press on a stepper of the jump planner until the whole picture has followed: over
// HTTP, worked out anew, drawn.
func BenchmarkJumpStep(b *testing.B) {
	slog.SetLogLoggerLevel(slog.LevelError)
	var got struct{ Half, Most, Figure float64 }
	for range b.N {
		t := open(b, stage.Desktop)
		t.signIn("Ines")
		t.call()
		t.do(
			click("Diesel"),
			click("2.2 l"),
			click("Nothing at all"),
			click("A car"),
			click("Fold what was told"),
			reads("Once it runs"),
			fetched(stepped, &got),
		)
	}
	b.ReportMetric(got.Half*1e6, "shown-ns")
	b.ReportMetric(got.Most, "frame-ms")
	b.ReportMetric(got.Figure, "figure-ms")
}
