package reading

import (
	"testing"

	"grapnel/core/words"
)

func TestBatteryLabel(t *testing.T) {
	ah, cca := 62.5, 560.0
	b := Battery{Chemistry: "agm", Made: "2022-03", Rating: Rating{CCA: &cca, Ah20h: &ah}}
	said := func(volts float64, v words.Voice) string { return words.Join(" · ", b.Label(volts)).In(v).String() }
	for _, c := range []struct {
		volts float64
		voice words.Voice
		want  string
	}{
		{12, words.Voice{}, "AGM · 560 CCA SAE · 62.5 Ah · made March 2022"},
		{12, words.Voice{Comma: true}, "AGM · 560 CCA SAE · 62,5 Ah · made March 2022"},
		{6, words.Voice{}, "AGM · 560 CCA SAE · 62.5 Ah · 6 V · made March 2022"},
	} {
		if got := said(c.volts, c.voice); got != c.want {
			t.Errorf("%q, not %q", got, c.want)
		}
	}
	b.Rating.Typical = true
	if got := said(12, words.Voice{}); got != "AGM · 560 CCA SAE · 62.5 Ah · typical, label not read · made March 2022" {
		t.Error(got)
	}
}
