package season

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Maintainer is one that somebody means to use.
type Maintainer struct {
	Kind       string            `json:"kind"`
	Amps       float64           `json:"amps"`
	FloatVolts float64           `json:"volts_float,omitempty"`
	MVPerC     *float64          `json:"mv_per_c,omitempty"`
	Chemistry  battery.Chemistry `json:"for_chemistry,omitempty"`
	Socket     bool              `json:"through_socket,omitempty"`
	FuseAmps   float64           `json:"fuse_amps,omitempty"`
	SocketLive *bool             `json:"socket_live,omitempty"`
	Outdoors   bool              `json:"outdoors,omitempty"`
	RainProof  bool              `json:"rain_proof,omitempty"`
}

// What keeps a battery charged is called.
const (
	KindMaintainer = "maintainer"
	KindTrickle    = "trickle"
)

var kindsOf = words.ListOf(words.Term{Code: KindMaintainer, Word: "Maintainer, stops or floats"},
	words.Term{Code: KindTrickle, Word: "Trickle charger, always on"})

// Kinds gives what can be left on a battery.
func Kinds() words.List { return kindsOf }

var maintainerShape = document.Object([]string{"kind", "amps"}, map[string]document.Shape{
	"kind": document.Words(kindsOf.Codes()...), "amps": document.Number(0.01, 100, "A"),
	"volts_float": document.Number(2, 40, "V").About("that it holds at 25 °C, of the whole battery"),
	"mv_per_c": document.Number(-60, 0, "mV").
		About("by which it lowers that for each °C warmer, of the whole battery; 0 for not at all"),
	"for_chemistry":  document.Words(chemistryCodes()...).About("it is made for or set to"),
	"through_socket": document.Flag().About("through the vehicle's own socket"),
	"fuse_amps":      document.Number(0.1, 200, "A").About("of that socket"),
	"socket_live":    document.Flag().About("with the key out"),
	"outdoors":       document.Flag().About("it hangs where rain reaches it"), "rain_proof": document.Flag(),
})

func chemistryCodes() (out []string) {
	for _, c := range battery.Chemistries() {
		out = append(out, string(c))
	}
	return out
}

// MaintainerLine is one rule looked at.
type MaintainerLine struct {
	Rule   string     `json:"rule"`
	OK     bool       `json:"ok"`
	Unsure bool       `json:"unsure,omitempty" doc:"nobody knows enough of it"`
	Text   words.Text `json:"text"`
}

// Kept is what comes of leaving this maintainer on this battery.
type Kept struct {
	OK       bool             `json:"ok"`
	Lines    []MaintainerLine `json:"lines"`
	DryHours float64          `json:"dry_hours,omitempty" doc:"until a trickle charger has boiled it dry, hours"`
}

// Amps are the least and the most that a maintainer may give.
type Amps struct {
	Min   float64 `json:"min"   doc:"above what drain and self-discharge take"`
	Max   float64 `json:"max"   doc:"a tenth of the ampere-hours"`
	Usual float64 `json:"usual" doc:"the smallest usual size between them; 0 for none"`
}

// spareAmps is by how much a maintainer's amps exceed what is lost, so that it gets
// ahead. House judgement.
const spareAmps = 1.25

// tenth is the most amps for each ampere-hour. Common practice, no source: at or under a
// tenth.
const tenth = 0.10

// usualSizes are what maintainers come in, A. About one suffices for most. Common practice,
// no source.
var usualSizes = []float64{0.8, 1, 1.5, 2, 3, 4, 5, 7, 10}

// leaks gives the amps that a full battery loses to itself and to the drain, on the warmest
// day and at the worst that is thought.
func (s *standing) leaks(clamped bool, at doubted) float64 {
	_, warm := s.span()
	self, drain := s.loses(100, warm, clamped, at)
	return (self + drain) / 100 * s.ah / 24
}

// maintainerAmps gives what a maintainer of this battery may give.
func (s *standing) maintainerAmps(b belief) Amps {
	worst := b.at
	worst[ofSelf] += sure * math.Sqrt(b.var3[ofSelf][ofSelf])
	worst[ofDrain] += sure * math.Sqrt(b.var3[ofDrain][ofDrain])
	a := Amps{Min: hundredth(roundUp(spareAmps*s.leaks(true, worst), 0.01)), Max: math.Floor(tenth*s.ah*10+1e-9) / 10}
	for _, size := range usualSizes {
		if size >= a.Min && size <= a.Max && a.Usual == 0 {
			a.Usual = size
		}
	}
	// A battery smaller than the smallest usual size takes one made for it.
	if a.Usual == 0 && a.Min < a.Max {
		a.Usual = a.Max
	}
	return a
}

func roundUp(v, step float64) float64 { return math.Ceil(v/step-1e-9) * step }

// spareWater is the acid over the plates that can be lost before they are bare, grams for
// each cell and ampere-hour: 15 mm over plates of usual size, and next to nothing in a mat or
// gel. House judgement.
const spareWater, spareBound = 1.4, 0.25

// dryHours gives the hours until amps that nothing stops have boiled a full battery dry.
func (s *standing) dryHours(amps float64) float64 {
	spare := spareWater
	if !s.chem.Liquid() {
		spare = spareBound
	}
	return spare * s.ah / battery.WaterLost(s.chem, amps)
}

// floatPerC is how much less a battery is held at for each °C it is warmer, volts of six
// cells: 18 to 24 mV. Published, from memory.
const floatPerC = -0.021

// matters is by how many volts of six cells a float may lie off its range, as warm as the
// battery gets. House judgement: less than what maintainers differ by.
const matters = 0.15

// lines are rules looked at, one after the other.
type lines struct{ Kept }

func (l *lines) hold(rule string, ok bool, yes, no string, with ...any) {
	l.Lines = append(l.Lines, MaintainerLine{Rule: rule, OK: ok, Text: words.Say(pick(ok, yes, no), with...)})
	l.OK = l.OK && ok
}

func (l *lines) unsure(rule, text string, with ...any) {
	l.Lines = append(l.Lines, MaintainerLine{Rule: rule, OK: true, Unsure: true, Text: words.Say(text, with...)})
}

func pick(which bool, yes, no string) string {
	if which {
		return yes
	}
	return no
}

// holds looks at a maintainer by every rule.
func (s *standing) holds(m Maintainer, a Amps) Kept {
	l := lines{Kept{OK: true}}
	amps := measure.Of(m.Amps, measure.Amp, measure.Exact)
	if trickles := m.Kind == KindTrickle; trickles {
		l.DryHours = s.dryHours(max(0.001, m.Amps-s.leaks(true, doubted{})))
		l.hold("maintainer.kind", false, "", saysTrickle, "dry", measure.Minutes(60*l.DryHours), "amps", amps)
	} else {
		l.hold("maintainer.kind", true, saysStops, "")
	}
	l.hold("maintainer.least", m.Amps >= a.Min, saysEnough, saysTooSmall,
		"amps", amps, "least", measure.Of(a.Min, measure.Amp, 2))
	l.hold("maintainer.most", m.Amps <= a.Max, saysKind, saysTooBig,
		"amps", amps, "most", measure.Of(a.Max, measure.Amp, 1), "ah", measure.Of(s.ah, measure.AmpHour, 0))
	if m.Chemistry != "" {
		l.hold(
			"maintainer.chemistry",
			charge.LimitsOf(m.Chemistry) == charge.LimitsOf(s.chem),
			saysItsBuild,
			saysOtherBuild,
			"made",
			battery.ChemistryWords().Said(string(m.Chemistry)),
			"is",
			battery.ChemistryWords().Said(string(s.chem)),
		)
	}
	if m.Kind == KindMaintainer {
		s.float(&l, m)
	}
	if m.Socket {
		if m.SocketLive == nil {
			l.unsure("maintainer.socket", asksSocket)
		} else {
			l.hold("maintainer.socket", *m.SocketLive, saysLive, saysDead)
		}
		if fuse := measure.Of(m.FuseAmps, measure.Amp, measure.Exact); m.FuseAmps == 0 {
			l.unsure("maintainer.fuse", asksFuse, "amps", amps)
		} else {
			l.hold("maintainer.fuse", m.FuseAmps > m.Amps, saysFuse, saysFuseSmall, "amps", amps, "fuse", fuse)
		}
		l.hold("maintainer.lead", true, saysDoor, "")
	}
	if m.Outdoors {
		l.hold("maintainer.rain", m.RainProof, saysRain, saysNoRain)
	}
	l.hold("maintainer.lamp", true, saysLamp, "")
	return l.Kept
}

// float looks at the volts it holds the battery at, as warm and as cold as it gets there.
func (s *standing) float(l *lines, m Maintainer) {
	const rule = "maintainer.float"
	limits := charge.LimitsOf(s.chem)
	k := s.cells / 6
	low, high := measure.Volts(limits.FloatLow*k, 1), measure.Volts(limits.FloatHigh*k, 1)
	if m.FloatVolts == 0 {
		l.unsure(rule, asksFloat, "low", low, "high", high)
		return
	}
	perC, said := 0.0, m.MVPerC != nil
	if said {
		perC = *m.MVPerC / 1000
	}
	coldest, warmest := s.span()
	// off is by how many volts of six cells it lies over and under what the battery wants.
	off := func(tempC float64) (over, under float64) {
		holds := m.FloatVolts/k + perC/k*(tempC-25)
		return holds - limits.FloatHigh - floatPerC*(tempC-25), limits.FloatLow + floatPerC*(tempC-25) - holds
	}
	over, _ := off(max(warmest, 25))
	if cool, _ := off(25); cool > over {
		over = cool
	}
	_, warmUnder := off(25)
	_, coldUnder := off(coldest)
	switch {
	case over > matters+1e-9:
		l.hold(rule, false, "", saysFloatHigh, "volts", measure.Volts(m.FloatVolts, 1), "low", low, "high", high,
			"warm", measure.Degrees(max(warmest, 25)))
	case warmUnder > matters+1e-9:
		l.hold(rule, false, "", saysFloatLow, "volts", measure.Volts(m.FloatVolts, 1), "low", low, "high", high)
	case coldUnder > matters+1e-9:
		l.unsure(rule, saysColdFloat, "cold", measure.Degrees(coldest), "volts", measure.Volts(coldUnder*k, 1))
	default:
		l.hold(rule, true, saysFloat, "", "volts", measure.Volts(m.FloatVolts, 1), "low", low, "high", high)
	}
}

// span gives the coldest and the warmest day.
func (s *standing) span() (coldest, warmest float64) {
	coldest, warmest = math.Inf(1), math.Inf(-1)
	for _, w := range s.days {
		coldest, warmest = min(coldest, w.mean), max(warmest, w.mean)
	}
	return coldest, warmest
}
