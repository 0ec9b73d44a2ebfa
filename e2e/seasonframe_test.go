package e2e

import (
	"log/slog"
	"testing"

	"grapnel/internal/stage"
)

// shownWays taps one way of keeping after the other, and gives how long it took from each tap
// until the winter stood redrawn as a frame began, ms.
const shownWays = `
	const ways = () => [...document.querySelectorAll('ul[aria-label="Ways of keeping it"] button')];
	const says = () => document.querySelector("article svg.overflow-visible").ariaLabel;
	const took = [];
	for (let i = 0; took.length < 30; i++) {
		const all = ways();
		const button = all[i % all.length];
		if (button.ariaPressed === "true") continue;
		const was = says(), began = performance.now();
		button.click();
		while (says() === was && performance.now() - began < 2000) await new Promise(requestAnimationFrame);
		took.push(performance.now() - began);
		await new Promise((r) => setTimeout(r, 160)); // nobody taps faster
	}
	took.sort((a, b) => a - b);
	return { Half: took[15], Most: took[27] };`

// A tap on another way of keeping it until the whole picture has followed.
func BenchmarkSeasonFrame(b *testing.B) {
	slog.SetLogLoggerLevel(slog.LevelError)
	var got struct{ Half, Most float64 }
	for range b.N {
		t := open(b, stage.Desktop)
		t.signIn("Ines")
		t.do(visit("/season"), reads("Earthed clamp off"), fetched(shownWays, &got))
	}
	b.ReportMetric(got.Half*1e6, "shown-ns")
	b.ReportMetric(got.Most, "frame-ms")
}
