package words

import (
	"encoding/json"
	"fmt"
	"reflect"
	"strconv"
	"strings"

	"grapnel/core/measure"
)

// Scale is a temperature scale.
type Scale string

// The temperature scales.
const (
	Celsius    Scale = "C"
	Fahrenheit Scale = "F"
)

// TorqueUnit is what a torque is counted in.
type TorqueUnit string

// The units of torque.
const (
	NewtonMetres TorqueUnit = "Nm"
	InchPounds   TorqueUnit = "inlb"
)

// Voice is how somebody wants figures said. The zero voice speaks in °C and N·m.
type Voice struct {
	Temperature Scale
	Torque      TorqueUnit
	Comma       bool // figures have a decimal comma: 12,65 V
}

// Figure gives a plain figure, written with a point, as the voice writes it.
func (v Voice) Figure(text string) string {
	if v.Comma {
		return strings.Replace(text, ".", ",", 1)
	}
	return text
}

// Amount writes hundredths as an amount of money, with a true minus sign: 1,234.50, or
// 1.234,50 with a decimal comma.
func (v Voice) Amount(cents int) string {
	sign, thousands, decimal := "", ",", "."
	if v.Comma {
		thousands, decimal = ".", ","
	}
	if cents < 0 {
		sign, cents = "−", -cents
	}
	whole := strconv.Itoa(cents / 100)
	for i := len(whole) - 3; i > 0; i -= 3 {
		whole = whole[:i] + thousands + whole[i:]
	}
	return fmt.Sprintf("%s%s%s%02d", sign, whole, decimal, cents%100)
}

// Text is something to say: a sentence with named places, {volts}, and what goes
// there. It is put together only when it is read, in a voice. The zero Text says
// nothing.
type Text struct {
	template string
	with     []any  // name, value, name, value ...
	voice    *Voice // nil speaks in °C
}

// Say makes a text. The pairs are a name and its value: a measure.Quantity or
// Range, a string, an int, another Text, or a []Text that is joined with commas. A place
// that no pair names stays as it is written, which TestEveryPlaceIsFilled finds.
func Say(template string, pairs ...any) Text { return Text{template: template, with: pairs} }

// Join makes one text of several.
func Join(between string, all []Text) Text {
	if len(all) == 1 {
		return all[0]
	}
	var template strings.Builder
	var with []any
	for i, t := range all {
		if i > 0 {
			template.WriteString(between)
		}
		name := strconv.Itoa(i)
		template.WriteString("{" + name + "}")
		with = append(with, name, t)
	}
	return Text{template: template.String(), with: with}
}

// Small gives a text that stands after a colon: its first letter small.
func (t Text) Small() Text {
	if t.template != "" && t.template[0] >= 'A' && t.template[0] <= 'Z' {
		t.template = string(t.template[0]-'A'+'a') + t.template[1:]
	}
	return t
}

// Bare gives a text without the full stop at its end, to stand inside another.
func (t Text) Bare() Text {
	t.template = strings.TrimSuffix(t.template, ".")
	return t
}

// IsZero reports whether there is nothing to say.
func (t Text) IsZero() bool { return t.template == "" }

// In gives the text in a voice.
func (t Text) In(v Voice) Text {
	t.voice = &v
	return t
}

// String speaks the text.
func (t Text) String() string {
	if len(t.with) == 0 {
		return t.template
	}
	var out strings.Builder
	var v Voice
	if t.voice != nil {
		v = *t.voice
	}
	t.speak(&out, v)
	return out.String()
}

func (t Text) speak(out *strings.Builder, v Voice) {
	rest := t.template
	for {
		open := strings.IndexByte(rest, '{')
		if open < 0 {
			out.WriteString(rest)
			return
		}
		shut := strings.IndexByte(rest[open:], '}')
		if shut < 0 {
			out.WriteString(rest)
			return
		}
		out.WriteString(rest[:open])
		name := rest[open+1 : open+shut]
		// A capital asks for one at the head of a sentence: {Charge}.
		if value, ok := t.value(name); ok {
			v.say(out, value)
		} else if value, ok := t.value(strings.ToLower(name)); ok {
			var one strings.Builder
			v.say(&one, value)
			out.WriteString(Capital(one.String()))
		} else {
			out.WriteString(rest[open : open+shut+1])
		}
		rest = rest[open+shut+1:]
	}
}

func (t Text) value(name string) (any, bool) {
	for i := 0; i+1 < len(t.with); i += 2 {
		if t.with[i] == name {
			return t.with[i+1], true
		}
	}
	return nil, false
}

func (v Voice) say(out *strings.Builder, value any) {
	switch x := value.(type) {
	case measure.Quantity:
		out.WriteString(v.Quantity(x))
	case measure.Range:
		low, high := v.Quantity(x.Low), v.Quantity(x.High)
		if i, j := strings.LastIndexByte(low, ' '), strings.LastIndexByte(high, ' '); i > 0 && j > 0 && low[i:] == high[j:] {
			low = low[:i]
		}
		out.WriteString(low + " to " + high)
	case Text:
		x.speak(out, v)
	case []Text:
		for i, one := range x {
			if i > 0 {
				out.WriteString(", ")
			}
			one.speak(out, v)
		}
	case string:
		out.WriteString(x)
	default:
		_, _ = fmt.Fprint(out, x)
	}
}

// Quantity says a figure with its unit, temperatures in the voice's scale and
// with a true minus sign.
func (v Voice) Quantity(q measure.Quantity) string { return v.Figure(v.quantity(q)) }

func (v Voice) quantity(q measure.Quantity) string {
	switch q.Unit {
	case measure.DegreeC, measure.Warmer:
		value, scale := q.Value, Celsius
		if v.Temperature == Fahrenheit {
			value, scale = measure.Fahrenheit(q.Value), Fahrenheit
			if q.Unit == measure.Warmer { // a difference has no zero of its own
				value -= measure.Fahrenheit(0)
			}
		}
		return strings.Replace(figure(value, q.Digits), "-", "−", 1) + " °" + string(scale)
	case measure.NewtonMetre:
		if v.Torque == InchPounds {
			return figure(measure.InchPounds(q.Value), 0) + " in·lb"
		}
	case measure.Span:
		return span(q.Value)
	case measure.None:
		return figure(q.Value, q.Digits)
	}
	return figure(q.Value, q.Digits) + " " + string(q.Unit)
}

func figure(value float64, digits int) string {
	if digits == measure.Exact {
		return strconv.FormatFloat(value, 'g', -1, 64)
	}
	text := strconv.FormatFloat(value, 'f', digits, 64)
	if strings.Trim(text, "-0.") == "" {
		text = strings.TrimPrefix(text, "-") // nothing has no sign
	}
	return text
}

// span writes minutes as people say them.
func span(minutes float64) string {
	switch {
	case minutes < 90:
		return fmt.Sprintf("%.0f min", minutes)
	case minutes < 48*60:
		return fmt.Sprintf("%.2g h", minutes/60)
	}
	return fmt.Sprintf("%.0f days", minutes/60/24)
}

// MarshalJSON writes the text as it is spoken.
func (t Text) MarshalJSON() ([]byte, error) { return json.Marshal(t.String()) }

// Capital makes the first letter of an ASCII sentence a capital.
func Capital(s string) string {
	if s != "" && s[0] >= 'a' && s[0] <= 'z' {
		return string(s[0]-'a'+'A') + s[1:]
	}
	return s
}

var textType = reflect.TypeFor[Text]()

// Spoken puts every Text inside a value that can be reached from a pointer,
// through exported fields, slices and pointers, into a voice.
func Spoken(in any, v Voice) {
	if v != (Voice{}) {
		speakAll(reflect.ValueOf(in).Elem(), v)
	}
}

func speakAll(at reflect.Value, v Voice) {
	switch at.Kind() {
	case reflect.Pointer, reflect.Interface:
		if !at.IsNil() {
			speakAll(at.Elem(), v)
		}
	case reflect.Slice:
		for i := range at.Len() {
			speakAll(at.Index(i), v)
		}
	case reflect.Struct:
		if at.Type() == textType {
			t := at.Addr().Interface().(*Text)
			t.voice = &v
			return
		}
		for i := range at.NumField() {
			if at.Type().Field(i).IsExported() {
				speakAll(at.Field(i), v)
			}
		}
	}
}
