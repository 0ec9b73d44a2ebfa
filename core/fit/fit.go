package fit

import (
	"cmp"
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/words"
)

// Fit is what suits a vehicle of what is on the shelf.
type Fit struct {
	Format string     `json:"format"`
	Ranked []Ranked   `json:"ranked" doc:"best first; those that do not fit last"`
	Why    words.Text `json:"why" doc:"why the first is the first, or why none is"`
	Sizes  []string   `json:"sizes" doc:"group sizes and boxes that go into this tray the right way round, the biggest first"`
}

// Ranked is one battery with every rule looked at.
type Ranked struct {
	Tag         string     `json:"tag"`
	About       words.Text `json:"about" doc:"its label in few words"`
	Fits        bool       `json:"fits"`
	ChargeFirst bool       `json:"charge_first"`
	TestFirst   bool       `json:"test_first"`
	Lines       []Ruled    `json:"lines"`
	Missing     int        `json:"unsure" doc:"rules of which nobody knows enough"`
	Fails       int        `json:"fails" doc:"rules that it does not hold"`

	order order
}

// order is what a battery that fits is ranked by, each in turn, the less the better.
type order struct {
	unsure  int     // rules nobody knows enough of
	other   int     // another build than is asked for
	spacer  int     // it needs a spacer
	work    int     // 0 ready, 1 to be charged, 2 to be tested
	excess  float64 // cranking amps over what is asked for, in steps of a quarter
	months  int     // since it was made, the oldest first: less is older
	amps    float64 // more than asked for, the least first
	noMonth bool
}

// excessStep is how far over what is asked for counts as more: a quarter. A battery that
// is half as strong again costs more and gives nothing. House judgement.
const excessStep = 0.25

// Rank looks at every battery of the stock and orders them.
func (r *Request) Rank(labels bench.Labels, v words.Voice) Fit {
	n := r.Needs.fill()
	out := Fit{Format: Format, Ranked: []Ranked{}, Sizes: r.sizes(n)}
	items := make([]Item, len(r.Stock))
	for i, s := range r.Stock {
		items[i] = s.fill()
	}
	cold := winters{}
	for i, s := range items {
		l := &looked{r: r, n: n, s: s, st: r.stateOf(s, labels), pair: like(items, i), winters: cold}
		out.Ranked = append(out.Ranked, l.rank())
	}
	slices.SortStableFunc(out.Ranked, compare)
	out.Why = why(out.Ranked)
	words.Spoken(&out, v)
	return out
}

// like counts what else on the shelf could stand beside one: same label, size and way
// round, near in age.
func like(items []Item, of int) int {
	n, a := 0, items[of]
	for i, b := range items {
		if i == of || b.Chemistry != a.Chemistry || b.Rating.Label() != a.Rating.Label() || b.Volts != a.Volts ||
			!slices.Equal(b.SizeMM, a.SizeMM) || b.Positive != a.Positive || b.Terminals != a.Terminals {
			continue
		}
		one, ok1 := rating.ParseMonth(a.Made)
		other, ok2 := rating.ParseMonth(b.Made)
		if ok1 && ok2 && math.Abs(float64(one.MonthsUntil(other))) <= pairMonths {
			n++
		}
	}
	return n
}

func (l *looked) rank() Ranked {
	out := Ranked{Tag: l.s.Tag, About: l.s.about(), Fits: true, ChargeFirst: l.st.charge(), TestFirst: l.st.test(l.s),
		Lines: []Ruled{}}
	for _, rule := range lines {
		line := rule(l)
		if line == nil {
			continue
		}
		out.Lines = append(out.Lines, *line)
		if !line.OK {
			out.Fits = false
			out.Fails++
		}
		if line.Unsure {
			out.Missing++
		}
	}
	o := &out.order
	o.unsure = out.Missing
	if need, ok := l.asked(); ok && need != l.s.Chemistry {
		o.other = 1
	}
	if l.gap() > looseMM {
		o.spacer = 1
	}
	switch {
	case out.TestFirst:
		o.work = 2
	case out.ChargeFirst:
		o.work = 1
	}
	if need, ok := (rating.Label{CCA: l.n.CCA, Standard: l.n.Standard}).ToSAE(); ok && l.st.sae > 0 {
		o.amps = l.st.sae/need.Amps - 1
		o.excess = math.Floor(max(0, o.amps) / excessStep)
	}
	o.months, o.noMonth = -l.st.months, !l.st.dated
	return out
}

// about says what stands on its label: build, amps, ampere-hours, size.
func (s Item) about() words.Text {
	all := []words.Text{words.Say(battery.ChemistryWords().Word(string(s.Chemistry)))}
	if a := s.Rating.CCA; a != nil {
		all = append(all, words.Say(ampsSaid(*a, cmp.Or(s.Rating.Standard, rating.SAE))))
	}
	if a := s.Rating.Ah20h; a != nil {
		all = append(all, words.Say("{ah}", "ah", measure.Of(*a, measure.AmpHour, 0)))
	}
	switch {
	case s.Group != "":
		all = append(all, words.Say("{group}", "group", s.Group))
	case s.SizeMM != nil:
		all = append(all, words.Say(sizes(s.SizeMM)))
	}
	return words.Say("{all}", "all", all)
}

// reasons are what two batteries differ in, in the order that decides, with what is said
// of the one that comes first.
var reasons = []struct {
	by  func(a, b order) int
	say string
}{
	{func(a, b order) int { return cmp.Compare(a.unsure, b.unsure) }, "{tag} first: nothing about it has to be guessed."},
	{func(a, b order) int { return cmp.Compare(a.other, b.other) },
		"{tag} first: its build is the one the vehicle was made for."},
	{func(a, b order) int { return cmp.Compare(a.spacer, b.spacer) }, "{tag} first: it fills the tray without a spacer."},
	{func(a, b order) int { return cmp.Compare(a.work, b.work) }, "{tag} first: it is {ready}, the others want work before."},
	{func(a, b order) int { return cmp.Compare(a.excess, b.excess) },
		"{tag} first: as strong as was asked for; more amps cost more and turn nothing faster."},
	{func(a, b order) int { return cmp.Compare(a.months, b.months) },
		"{tag} first: of those that are alike it has stood longest."},
	{func(a, b order) int { return cmp.Compare(a.amps, b.amps) },
		"{tag} first: of those that are alike it is nearest to what was asked for."},
}

func compare(a, b Ranked) int {
	if a.Fits != b.Fits {
		if a.Fits {
			return -1
		}
		return 1
	}
	if !a.Fits {
		return cmp.Compare(a.Fails, b.Fails)
	}
	for _, r := range reasons {
		if c := r.by(a.order, b.order); c != 0 {
			return c
		}
	}
	return 0
}

// why says what put the first before the second, or why nothing fits.
func why(ranked []Ranked) words.Text {
	switch {
	case len(ranked) == 0:
		return words.Say("Nothing is on the shelf.")
	case !ranked[0].Fits:
		return words.Say("Nothing on the shelf fits. {tag} comes nearest.", "tag", ranked[0].Tag)
	case len(ranked) == 1 || !ranked[1].Fits:
		return words.Say("{tag} is the only one that fits.", "tag", ranked[0].Tag)
	}
	ready := "ready"
	if ranked[0].order.work == 1 {
		ready = "tested"
	}
	for _, r := range reasons {
		if r.by(ranked[0].order, ranked[1].order) != 0 {
			return words.Say(r.say, "tag", ranked[0].Tag, "ready", ready)
		}
	}
	return words.Say("{tag} first: the next is just as good.", "tag", ranked[0].Tag)
}

// sizes gives the group sizes that go into the tray with the + and the terminals where the
// vehicle has them.
func (r *Request) sizes(n Needs) []string {
	out := []string{}
	if n.TrayMM == nil {
		return out
	}
	for _, g := range rating.Fitting(r.volts(), n.TrayMM[0], n.TrayMM[1], n.TrayMM[2]) {
		if n.Positive != "" && n.Positive != Either && n.Positive != string(g.Positive) ||
			n.Terminals != "" && n.Terminals != string(g.Terminal) || n.TrayMM[0]-g.Length > slackMM {
			continue
		}
		out = append(out, cmp.Or(g.Also, g.Name))
	}
	return out
}

var resultShape = document.Object([]string{"format", "ranked", "why", "sizes"}, map[string]document.Shape{
	"format": document.Words(Format),
	"ranked": document.List(0, MostStock, document.Object([]string{"tag", "about", "fits", "charge_first", "test_first",
		"lines", "unsure", "fails"},
		map[string]document.Shape{
			"tag": document.Text(40), "about": document.Text(200), "fits": document.Flag(), "charge_first": document.Flag(), "test_first": document.Flag(),
			"unsure": document.Number(0, float64(len(lines)), "").About("rules of which nobody knows enough"),
			"fails":  document.Number(0, float64(len(lines)), "").About("rules that it does not hold"),
			"lines": document.List(0, float64(len(lines)), document.Object([]string{"rule", "ok", "text"},
				map[string]document.Shape{
					"rule": document.Words(Volts, Tray, HoldDown, Terminals, Layout, Vent, CCA, Cold, Capacity, Chemistry,
						Charging, Age,
						TestedNew, Pair),
					"ok": document.Flag(), "unsure": document.Flag().About("nobody knows enough to say"), "text": document.Text(400)})),
		})),
	"why":   document.Text(400),
	"sizes": document.List(0, 100, document.Text(12)).About("group sizes and boxes that go into this tray the right way round"),
})

// Schema gives the JSON Schema of the result.
func Schema() map[string]any { return document.Schema(Format, resultShape) }

// NeedsOf gives what a vehicle needs as far as the battery that stands in it tells: as much
// as its label says. The maker's own figures go first.
func NeedsOf(l rating.Label, c battery.Chemistry, terminals string) Needs {
	return Needs{CCA: l.CCA, Standard: l.Standard, Ah20h: l.Ah20h, RCMin: l.RCMin, Chemistry: c, Terminals: terminals}
}
