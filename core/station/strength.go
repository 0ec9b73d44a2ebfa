package station

import (
	"grapnel/core/bench"
	"grapnel/core/guide"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/words"
)

// Strength is where it is tested whether the battery can still deliver: four
// schools, each brought to one figure by the battery model.
const Strength = "strength"

func init() {
	register(Station{
		Code: Strength, Place: 70, Name: "Strength", Hint: "volts under load, or an electronic tester", Minutes: 5,
		Cautions: cautionsOfStrength, Advise: adviseStrength, Gauges: loadGauges,
	}, loadKind(), conductanceKind())
}

func cautionsOfStrength(b *bench.Bench) []string {
	out := []string{"load_tester"}
	if b.Case.Vehicle.Electric() {
		return append(out, "high_voltage", "isolate")
	}
	return out
}

// adviseStrength works out the tests as the battery is now. Amps follow the label,
// the limit follows the battery's temperature and the house rule; the house's own
// school comes first.
func adviseStrength(b *bench.Bench) Advice {
	c := b.Case
	temp, assumed := c.TempC(nil)
	set := &Setting{Caption: "Set the load to", Unit: "A"}
	amps := FieldAdvice{Name: "amps", Hint: words.Say("as set")}
	if load, err := rating.TestLoad(c.Battery.Rating.Label()); err != nil {
		set.From = words.Say(setProblem)
	} else {
		set.Value, amps.Default = &load.Amps, &load.Amps
		set.From = words.Say(load.From)
		if load.Note != "" {
			set.Note = words.Say(load.Note)
		}
	}
	hint := hintFromSheet
	if assumed {
		hint = hintAssumed
	}
	own := FieldAdvice{Name: "battery_c", Hint: words.Say(hint, "temp", measure.Degrees(temp))}
	half := Way{
		Code: HalfCCA, Word: loadMethods.Word(HalfCCA), Kind: LoadTest, Preset: map[string]string{"method": HalfCCA},
		Timer: &Timer{rating.LoadSeconds, "Load on", "Load off now", secondsBetween}, Set: set,
		Fields: []FieldAdvice{amps, own, lasts(rating.LoadSeconds), {Name: "volts_end", Hint: limitFrom(b, temp)}},
	}
	fixed := Way{
		Code: Fixed10s, Word: loadMethods.Word(Fixed10s), Kind: LoadTest, Preset: map[string]string{"method": Fixed10s},
		Do: words.Say(doFixed), Timer: &Timer{fixedSeconds, "Load on", "Load off now", secondsBetween},
		Fields: []FieldAdvice{{Name: "amps", Hint: words.Say("printed on the tester")}, own, lasts(fixedSeconds)},
	}
	starter := Way{
		Code: Starter, Word: loadMethods.Word(Starter), Kind: LoadTest, Preset: map[string]string{"method": Starter},
		Do: words.Say(doStarter), Timer: &Timer{starterSeconds, "Crank", "Stop cranking", secondsBetween},
		Fields: []FieldAdvice{{Name: "amps", Hint: words.Say(hintClamp)}, own, lasts(starterSeconds)},
	}
	if caution, ok := guide.CautionOf("starter_load"); ok {
		starter.Cautions = []guide.Caution{caution}
	}
	if c.Vehicle.Electric() {
		starter.Not = words.Say(notStarter)
	}
	tester := Way{Code: Conductance, Word: "Conductance", Kind: Conductance, Do: words.Say(doConductance),
		Fields: []FieldAdvice{{Name: "standard", Word: string(standardOf(c))}}}
	a := Advice{
		Ways:  []Way{half, fixed, starter, tester},
		Level: bench.Act,
		Head:  words.Say(adviceNotFair),
		More:  words.Say(adviceKept),
	}
	for i, w := range a.Ways {
		if w.Code == b.House.StrengthMethod && w.Not.IsZero() {
			a.Ways[0], a.Ways[i] = a.Ways[i], a.Ways[0]
		}
	}
	least := b.House.LoadTestMinSOC
	switch soc := b.SOC(); {
	case unsafe(b, &a):
		a.Head, a.More = words.Text{}, words.Text{}
	case soc == nil:
		a.Head, a.Text = words.Text{}, words.Say(adviceUnknown)
	case soc.Best < least:
		a.Text = words.Say(adviceLow, "charge", bench.SpellCharge(*soc), "least", measure.Percents(least))
	default:
		a.Level, a.Head, a.More, a.Text = bench.OK, words.Text{}, words.Text{}, words.Say(adviceFair,
			"charge", bench.SpellCharge(*soc))
	}
	return a
}

// lasts is how long a load is on, kept with the reading.
func lasts(seconds float64) FieldAdvice {
	return FieldAdvice{Name: "seconds", Default: &seconds, Hidden: true}
}

const (
	setProblem    = "Enter the CCA, CA or Ah from the label: the load follows it."
	hintAssumed   = "{temp} assumed"
	hintFromSheet = "{temp} from the sheet"
	hintClamp     = "off a clamp meter, steady; without it the figure judges little"
	doFixed       = "Press, hold ten seconds, read the volts at the end. Enter the amps printed on the tester: without them it " +
		"judges nothing."
	doStarter = "Disable fuel or spark as the maker says, crank, and read the lowest steady volts. Then two minutes’ " +
		"rest for the starter."
	doConductance = "Clamp on the posts themselves, give it this label’s figure and standard, and note what it finds."
	notStarter    = "It has no 12 V starter."

	adviceNotFair = "Not a fair test now."
	adviceKept    = "A reading taken all the same is kept, not judged."
	adviceUnknown = "Take a rest voltage first: nobody knows how full it is."
	adviceLow     = "{Charge} charged. Charge it to {least} first: now it would sag for being flat."
	adviceFair    = "{Charge} charged: a fair test."
)
