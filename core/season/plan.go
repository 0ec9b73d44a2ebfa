package season

import (
	"cmp"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Season is what becomes of it in every way, and which to take.
type Season struct {
	Format  string         `json:"format"`
	Ways    []WayOfKeeping `json:"ways"                 doc:"best first"`
	Chosen  string         `json:"chosen"`
	Why     words.Text     `json:"why"`
	ActBy   string         `json:"act_by,omitempty"     doc:"the day by which something must be done; absent when nothing must"`
	Else    words.Text     `json:"otherwise,omitzero"   doc:"what happens if it is not"`
	Amps    Amps           `json:"maintainer_amps"`
	Kept    *Kept          `json:"maintainer,omitempty" doc:"the maintainer that was asked about"`
	Drain   Drain          `json:"drain"`
	Now     State          `json:"now"                  doc:"as it stands today in the way it is kept in"`
	KeptIn  string         `json:"kept"                 doc:"the way it is kept in; the one chosen where none was said"`
	Before  []Day          `json:"before,omitempty"     doc:"the way it is kept in, as it was thought before the looks"`
	Scale   []Mark         `json:"scale"                doc:"at which charge its acid freezes where, from full to empty"`
	Folk    Folk           `json:"folk"                 doc:"the folk rule beside leaving it connected"`
	Myths   []Myth         `json:"myths"`
	Advice  []words.Text   `json:"advice"               doc:"what else a vehicle of this kind wants while it stands"`
	Caution []string       `json:"cautions"             doc:"codes"`
	Label   words.Text     `json:"label"                doc:"the battery as it is reckoned with"`
}

// Mark is one line of a scale of charge.
type Mark struct {
	SOC     float64 `json:"soc_pct"`
	Freezes float64 `json:"freezes_c"`
}

// Drain is what it is thought to lose, in the light of the looks.
type Drain struct {
	Milliamps battery.Band `json:"drain_ma"`
	Measured  bool         `json:"measured"`
	SelfMonth battery.Band `json:"self_pct_month" doc:"percent a month by itself, full at 25 °C"`
}

// State is how it stands on a day.
type State struct {
	Date    string       `json:"date"`
	SOC     battery.Band `json:"soc_pct"`
	Freezes float64      `json:"freezes_c" doc:"at the low end of its band"`
	Spare   float64      `json:"spare_c"   doc:"the least that is to spare from this day on"`
	SpareOn string       `json:"spare_on"`
}

// Make makes the plan of a request that was decoded, or checked. Labels finds the battery of
// a label.
func (r *Request) Make(labels bench.Labels, v words.Voice) (Season, error) {
	p, err := r.planner(labels)
	if err != nil {
		return Season{}, err
	}
	out := Season{
		Format:  Format,
		Ways:    p.ways(),
		Amps:    p.amps,
		Myths:   p.myths(),
		Caution: p.cautions(),
		Drain:   p.drains(),
	}
	rank(out.Ways)
	of := func(code string) *WayOfKeeping {
		i := slices.IndexFunc(out.Ways, func(w WayOfKeeping) bool { return w.Way == code })
		if i < 0 {
			return nil
		}
		return &out.Ways[i]
	}
	out.Chosen = out.Ways[0].Way
	connected := of(Connected)
	out.Folk = p.folk(connected)
	keptIn := of(cmp.Or(r.Way, out.Chosen))
	if keptIn == nil {
		return Season{}, document.Problems{
			{Path: "way", Message: document.Quote(r.Way) + " is not at hand: say in at_hand what it is kept with"},
		}
	}
	out.KeptIn, out.Advice = keptIn.Way, p.advice()
	out.Why = p.why(&out.Ways[0], connected)
	out.ActBy, out.Else = p.actBy(keptIn, connected)
	out.Now = keptIn.state(p.s.day(r.today()))
	if p.learnt() {
		k := keptIn.keeping
		k.looks = nil
		out.Before = p.judged(keptIn.Way, k, p.prior).Days
	}
	if r.Maintainer != nil {
		k := p.s.holds(*r.Maintainer, p.amps)
		out.Kept = &k
	}
	for _, soc := range []float64{100, 75, 50, 25, 0} {
		out.Scale = append(out.Scale, Mark{soc, hundredth(p.s.freezes(soc))})
	}
	out.Label = words.Say(
		"{chem}, {ah}",
		"chem",
		battery.ChemistryWords().Word(string(p.s.chem)),
		"ah",
		measure.Of(p.b.Ah20h, measure.AmpHour, 0),
	)
	words.Spoken(&out, v)
	return out, nil
}
