package words

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"grapnel/core/measure"
)

func TestTextsAreSpokenInAVoice(t *testing.T) {
	cold := measure.Degrees(-18)
	for _, c := range []struct {
		text Text
		want string
	}{
		{Say("plain {kept}"), "plain {kept}"}, {Say("{v} {kept} {open", "v", 1), "1 {kept} {open"},
		{Say("{v} at {t}", "v", measure.Volts(12.246, 2), "t", cold), "12.25 V at −18 °C"},
		{Say("{Charge} charged", "charge", Say("at most {p}", "p", measure.Percents(40))),
			"At most 40 % charged"},
		{Say("{all}", "all", []Text{Say("one"), Say("two")}), "one, two"},
		{Say("{n}th of {name}", "n", 15, "name", "K-0001"), "15th of K-0001"},
		{Say("{v}", "v", measure.Volts(9.5, measure.Exact)), "9.5 V"},
		{Say("{v}", "v", measure.Plain(9.5, 1)), "9.5"},
		{Join("; ", []Text{Say("a"), Say("b"), Say("c")}), "a; b; c"},
		{Join("; ", nil), ""},
		{Text{}, ""},
	} {
		if got := c.text.String(); got != c.want {
			t.Errorf("%q, want %q", got, c.want)
		}
	}
	// −18 °C is −0.4 °F, arithmetic, and nothing has no sign.
	if got := Say("{t}", "t", measure.Degrees(21)).In(Voice{Temperature: Fahrenheit}).String(); got != "70 °F" {
		t.Errorf("21 °C is %s", got)
	}
	// A rise is no temperature: 10 °C more are 18 °F more.
	if got := Say("{r}", "r", measure.Rise(10)); got.String() != "10 °C" || got.In(Voice{Temperature: Fahrenheit}).String() != "18 °F" {
		t.Errorf("%s, %s", got, got.In(Voice{Temperature: Fahrenheit}))
	}
	if got := Say("{in}", "in", Say("{t}", "t", cold)).In(Voice{Temperature: Fahrenheit}).String(); got != "0 °F" {
		t.Errorf("a text inside a text speaks %s", got)
	}
}

// More terms stand at the end, a term of a code that is there in its place, and the list
// they were put to is as it was.
func TestListWithMore(t *testing.T) {
	l := ListOf(Term{Code: "a", Word: "A"}, Term{Code: "b", Word: "B"})
	more := l.With(Term{Code: "c", Word: "C"}, Term{Code: "a", Word: "A!"})
	if got := more.Codes(); !slices.Equal(got, []string{"a", "b", "c"}) || more.Word("a") != "A!" || more.Word("c") != "C" {
		t.Errorf("%v, %s", got, more.Word("a"))
	}
	if l.Word("a") != "A" || l.Has("c") {
		t.Error("the first list changed")
	}
}

// Minutes are said in minutes under an hour and a half, in hours under two days.
func TestSpans(t *testing.T) {
	for minutes, want := range map[float64]string{
		0: "0 min", 89: "89 min", 90: "1.5 h", 600: "10 h", 2879: "48 h", 2880: "2 days", 20160: "14 days",
	} {
		if got := (Voice{}).Quantity(measure.Minutes(minutes)); got != want {
			t.Errorf("%g min is said %q, want %q", minutes, got, want)
		}
	}
}

// Every text that can be reached is put into the voice; nothing else changes.
func TestSpokenReachesEverything(t *testing.T) {
	type inner struct{ Word Text }
	temp := func() Text { return Say("{t}", "t", measure.Degrees(0)) }
	v := struct {
		One   Text
		Many  []inner
		There *inner
		None  *inner
		N     int
	}{One: temp(), Many: []inner{{temp()}, {temp()}}, There: &inner{temp()}, N: 3}
	Spoken(&v, Voice{Temperature: Fahrenheit})
	raw, err := json.Marshal(v)
	if err != nil || strings.Count(string(raw), "32 °F") != 4 || v.N != 3 {
		t.Errorf("%s, %v", raw, err)
	}
}

// A vocabulary cannot be changed through what it gives away.
func TestListsStayAsMade(t *testing.T) {
	l := ListOf(Term{Code: "a_b", Word: "First", Said: "the first"}, Term{Code: "c", Word: "Second"})
	terms, codes := l.Terms(), l.Codes()
	terms[0].Word, codes[0] = "changed", "changed"
	if l.Word("a_b") != "First" || !slices.Equal(l.Codes(), []string{"a_b", "c"}) {
		t.Errorf("%v", l.Terms())
	}
	for code, want := range map[string][2]string{
		"a_b": {"First", "the first"}, "c": {"Second", "second"}, "not_known": {"not known", "not known"},
	} {
		if l.Word(code) != want[0] || l.Said(code) != want[1] {
			t.Errorf("%s: %q, %q", code, l.Word(code), l.Said(code))
		}
	}
	if !l.Has("c") || l.Has("d") || Plain("wet_lid").Word("wet_lid") != "wet lid" {
		t.Error("what is in the list")
	}
}

// A torque is said in what somebody counts it in; a top post’s is 10 to 11.3 N·m, which
// is 88.5 to 100.0 in·lb.
func TestTorqueIsSaidInAVoice(t *testing.T) {
	text := Say("Tighten to {torque}, {at} at least.", "torque", measure.Between(10, 11.3, measure.NewtonMetre, 0), "at",
		measure.Of(10, measure.NewtonMetre, 0))
	for v, want := range map[Voice]string{
		{}:                     "Tighten to 10 to 11 N·m, 10 N·m at least.",
		{Torque: NewtonMetres}: "Tighten to 10 to 11 N·m, 10 N·m at least.",
		{Torque: InchPounds}:   "Tighten to 89 to 100 in·lb, 89 in·lb at least.",
	} {
		if got := text.In(v).String(); got != want {
			t.Errorf("%+v: %q, want %q", v, got, want)
		}
	}
	if got := Say("{t}", "t", measure.Between(-5, 10, measure.DegreeC, 0)).String(); got != "−5 to 10 °C" {
		t.Errorf("%q", got)
	}
}
