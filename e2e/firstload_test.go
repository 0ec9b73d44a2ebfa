package e2e

import (
	"fmt"
	"log/slog"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"

	"grapnel/internal/stage"
)

// A slow line and a slow device: 1.44 Mbit/s down, 0.675 up, 562 ms to and fro, and
// a quarter of this processor. Figures as browsers name them "fast 3G", from memory.
const (
	slowDown, slowUp = 1.44e6 / 8, 0.675e6 / 8
	slowLatency      = 562.5
	slowCPU          = 4
)

// BenchmarkFirstLoad opens a place with nothing in the cache on a slow line, and
// reports how long after the first byte was asked for what one came for was shown.
func BenchmarkFirstLoad(b *testing.B) {
	slog.SetLogLoggerLevel(slog.LevelError) // requests are logged into the line of the result
	for _, place := range []struct{ name, path, shows string }{
		{"signin", "/", `input[type=password]`},
		{"floor", "/", `main li a`},
		{"sheet", "", `[data-big]`},
	} {
		b.Run(place.name, func(b *testing.B) {
			total := time.Duration(0)
			for range b.N {
				t := open(b, stage.Phone)
				path := place.path
				if place.name != "signin" {
					t.signIn("Ines")
				}
				if path == "" {
					path = "/jobs/" + t.newJob(mower()) + "?at=rest_voltage"
				}
				ms := 0.0
				t.watchFor(place.shows)
				t.do(chromedp.Navigate("about:blank"), network.ClearBrowserCache(),
					network.Enable(),
					network.EmulateNetworkConditions(false, slowLatency, slowDown, slowUp),
					emulation.SetCPUThrottlingRate(slowCPU),
					visit(path), stage.Until(`window.shown`, &ms))
				// Tabs share a process, and its brake.
				t.do(emulation.SetCPUThrottlingRate(1), chromedp.Navigate("about:blank"))
				total += time.Duration(ms * float64(time.Millisecond))
			}
			b.ReportMetric(float64(total.Nanoseconds())/float64(b.N), "shown-ns")
		})
	}
}

// watchFor notes on each page when the first element of a kind is painted.
func (b *tab) watchFor(css string) {
	b.t.Helper()
	b.onEveryPage(fmt.Sprintf(`(() => {
		const look = () => {
			if (document.querySelector(%q)?.checkVisibility()) requestAnimationFrame(() => { window.shown = performance.now(); });
			else requestAnimationFrame(look);
		};
		look();
	})()`, css))
}
