package e2e

import (
	"math"
	"os"
	"regexp"
	"strconv"
	"testing"
)

// luminance is the relative luminance of a colour. Source: WCAG 2.2, definition
// of relative luminance.
func luminance(hex string) float64 {
	var out float64
	for i, weight := range []float64{0.2126, 0.7152, 0.0722} {
		v, err := strconv.ParseUint(hex[2*i:2*i+2], 16, 8)
		if err != nil {
			return math.NaN()
		}
		c := float64(v) / 255
		if c <= 0.04045 {
			c /= 12.92
		} else {
			c = math.Pow((c+0.055)/1.055, 2.4)
		}
		out += weight * c
	}
	return out
}

// contrast is the contrast ratio of two colours, 1 to 21. Source: WCAG 2.2.
func contrast(a, b string) float64 {
	x, y := luminance(a), luminance(b)
	return (math.Max(x, y) + 0.05) / (math.Min(x, y) + 0.05)
}

// Text in any of the palette's colours on any of its grounds reaches WCAG level
// AA, 4.5 to 1, light and dark.
func TestColoursAreReadable(t *testing.T) {
	if got := contrast("000000", "ffffff"); math.Abs(got-21) > 0.01 {
		t.Fatalf("black on white is %.2f, WCAG says 21", got)
	}
	css, err := os.ReadFile("../web/src/styles.css")
	must(t, err)
	colours := map[string][2]string{}
	for _, m := range regexp.MustCompile(`--(\w+): light-dark\(#(\w{6}), #(\w{6})\)`).FindAllStringSubmatch(string(css), -1) {
		colours[m[1]] = [2]string{m[2], m[3]}
	}
	for scheme, name := range []string{"light", "dark"} {
		for _, ink := range []string{"ink", "soft", "copper", "verdigris", "oxide", "slate"} {
			for _, ground := range []string{"paper", "card", "hush"} {
				a, b := colours[ink], colours[ground]
				if a[scheme] == "" || b[scheme] == "" {
					t.Fatalf("the style sheet has no colour %s or %s", ink, ground)
				}
				if got := contrast(a[scheme], b[scheme]); got < 4.5 {
					t.Errorf("%s: %s on %s is %.2f", name, ink, ground, got)
				}
			}
		}
		for _, fill := range []string{"ink", "copper", "verdigris", "oxide"} {
			if got := contrast(colours["paper"][scheme], colours[fill][scheme]); got < 4.5 {
				t.Errorf("%s: paper on %s is %.2f", name, fill, got)
			}
		}
	}
}
