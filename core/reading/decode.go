package reading

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"slices"
	"sort"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"grapnel/core/rules"
)

// Problem is one thing wrong with a document: where, and what to do about it.
type Problem struct {
	Path    string // as in readings[2].volts; empty for the whole document
	Message string
}

// Problems is every thing wrong with a document. It is the error Decode gives.
type Problems []Problem

func (p Problems) Error() string {
	lines := make([]string, len(p))
	for i, one := range p {
		lines[i] = one.Message
		if one.Path != "" {
			lines[i] = one.Path + ": " + one.Message
		}
	}
	return strings.Join(lines, "\n")
}

// Decode reads a grapnel.case/1 document. On anything wrong it gives a Problems
// error that lists all of it: broken JSON with line and column, unknown fields
// with their path, figures out of physical range with the range.
func Decode(data []byte) (Case, error) {
	// A case that says nothing of the vehicle is about a 12 V car.
	c := Case{Rules: rules.Default(), Vehicle: Vehicle{Class: "car"}}
	tree, err := parse(data)
	if err != nil {
		return Case{}, err
	}
	w := walker{}
	w.walk("", tree, caseShape)
	if len(w.found) > 0 {
		return Case{}, w.found
	}
	dec := json.NewDecoder(bytes.NewReader(data))
	if err := dec.Decode(&c); err != nil {
		return Case{}, Problems{{"", err.Error()}}
	}
	return c, c.Check()
}

// Check reports what is wrong with a case whose fields are each in range but do
// not fit together: volts that this battery cannot show, a battery of no known
// voltage. A nil error means it can be assessed.
func (c Case) Check() error {
	var p Problems
	v := c.Volts()
	if v != 6 && v != 8 && v != 12 {
		p = append(p, Problem{"vehicle.system_volts", fmt.Sprintf(
			"%g V with arrangement %q makes a battery of %g V; batteries of 6, 8 and 12 V are known. Two 12 V batteries for 24 V are arrangement \"series\"", c.Vehicle.SystemVolts, c.Vehicle.Arrangement, v)})
		return p
	}
	for i, r := range c.Readings {
		for _, one := range c.CheckReading(r) {
			one.Path = fmt.Sprintf("readings[%d].%s", i, one.Path)
			p = append(p, one)
		}
	}
	if len(p) > 0 {
		return p
	}
	return nil
}

// Validate checks a case that was put together in the program the same way
// Decode checks a document: every field and range, then how they fit.
func (c Case) Validate() error {
	if c.Readings == nil {
		c.Readings = []Reading{}
	}
	raw, err := json.Marshal(c)
	if err != nil {
		return Problems{{"", err.Error()}}
	}
	_, err = Decode(raw)
	return err
}

// mostVoltsPart is the most a battery can show across its posts, as a part of
// its nominal volts: 16.2 V on 12 V, a charger equalising.
const mostVoltsPart = 1.35

// CheckReading reports what is wrong with one reading on this battery; paths
// are relative to the reading.
func (c Case) CheckReading(r Reading) []Problem {
	w := walker{}
	raw, err := json.Marshal(r)
	if err != nil {
		return []Problem{{"", err.Error()}}
	}
	tree, perr := parse(raw)
	if perr != nil {
		return []Problem{{"", perr.Error()}}
	}
	w.walk("", tree, shape{kind: "reading"})
	for _, f := range []struct {
		name string
		v    *float64
	}{{"volts", r.Volts}, {"volts_end", r.VoltsEnd}, {"volts_min", r.VoltsMin}} {
		if f.v == nil || w.has(f.name) || r.Kind == CableDrop || r.Kind == LidLeakage {
			continue
		}
		if m := c.wrongVolts(*f.v, r.Kind); m != "" {
			w.add(f.name, m)
		}
	}
	return w.found
}

// wrongVolts says what is wrong with volts across the posts; empty when nothing.
func (c Case) wrongVolts(v float64, kind string) string {
	most := mostVoltsPart * c.Volts()
	switch {
	case v < 0:
		earthed := ""
		if c.Vehicle.Earth == "positive" {
			earthed = ", the earthed one on this vehicle"
		}
		return fmt.Sprintf("%s V: the meter leads are swapped. Put the red probe on the + post%s, the black one on the − post, and read again", minus(v), earthed)
	case v > most && kind == Charging:
		return fmt.Sprintf("%g V is outside 0 to %.1f V for a %g V battery. Check the meter's range and enter the volts again", v, most, c.Volts())
	case v > most:
		hint := ""
		if tenth := v / 10; tenth <= most && tenth > 0.8*c.Volts() {
			hint = fmt.Sprintf(" Did the meter show %.2f?", tenth)
		}
		return fmt.Sprintf("%g V is outside 0 to %.1f V for a %g V battery.%s Check the decimal point and enter it again", v, most, c.Volts(), hint)
	}
	return ""
}

func minus(v float64) string {
	return strings.Replace(strconv.FormatFloat(v, 'f', -1, 64), "-", "−", 1)
}

// parse reads JSON into maps and lists, with numbers kept as written.
func parse(data []byte) (any, error) {
	if !utf8.Valid(data) {
		return nil, Problems{{"", "the file is not UTF-8 text; save it as UTF-8 JSON"}}
	}
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.UseNumber()
	var tree any
	if err := dec.Decode(&tree); err != nil {
		var syntax *json.SyntaxError
		switch {
		case errors.As(err, &syntax):
			line, col := position(data, syntax.Offset)
			return nil, Problems{{"", fmt.Sprintf("broken JSON at line %d, column %d: %s", line, col, syntax.Error())}}
		case errors.Is(err, io.EOF):
			return nil, Problems{{"", "the file is empty; a grapnel.case/1 document was expected"}}
		case errors.Is(err, io.ErrUnexpectedEOF):
			return nil, Problems{{"", "broken JSON: the file ends in the middle; it may have been cut off"}}
		}
		return nil, Problems{{"", "broken JSON: " + err.Error()}}
	}
	if _, err := dec.Token(); err != io.EOF {
		line, col := position(data, dec.InputOffset())
		return nil, Problems{{"", fmt.Sprintf("broken JSON: more follows the document at line %d, column %d", line, col)}}
	}
	return tree, nil
}

func position(data []byte, offset int64) (line, col int) {
	before := data[:min(int(offset), len(data))]
	line = 1 + bytes.Count(before, []byte("\n"))
	return line, len(before) - (bytes.LastIndexByte(before, '\n') + 1)
}

// walker compares a parsed document with its shape and keeps what differs.
type walker struct{ found Problems }

func (w *walker) add(path, format string, args ...any) {
	if len(args) > 0 {
		format = fmt.Sprintf(format, args...)
	}
	w.found = append(w.found, Problem{strings.TrimPrefix(path, "."), format})
}

func (w *walker) has(path string) bool {
	return slices.ContainsFunc(w.found, func(p Problem) bool { return p.Path == path })
}

func (w *walker) walk(path string, v any, s shape) {
	if v == nil && s.null {
		return
	}
	switch s.kind {
	case "object":
		w.object(path, v, s)
	case "reading":
		w.reading(path, v)
	case "list":
		items, ok := v.([]any)
		if !ok {
			w.add(path, "%s is not a list", Quote(v))
			return
		}
		if n := float64(len(items)); n < s.min || n > s.max {
			w.add(path, "has %g entries; %g to %g are allowed", n, s.min, s.max)
		}
		for i, item := range items {
			w.walk(fmt.Sprintf("%s[%d]", path, i), item, *s.item)
		}
	case "number", "integer":
		w.number(path, v, s)
	case "flag":
		if _, ok := v.(bool); !ok {
			w.add(path, "%s is not true or false", Quote(v))
		}
	default:
		w.text(path, v, s)
	}
}

func (w *walker) object(path string, v any, s shape) {
	fields, ok := v.(map[string]any)
	if !ok {
		w.add(path, "%s is not an object", Quote(v))
		return
	}
	for _, name := range sorted(fields) {
		if inner, ok := s.fields[name]; ok {
			w.walk(path+"."+name, fields[name], inner)
		} else {
			w.add(path+"."+name, "unknown field. Known here: %s", strings.Join(sorted(s.fields), ", "))
		}
	}
	for _, name := range s.need {
		if fields[name] == nil && !w.has(strings.TrimPrefix(path+"."+name, ".")) {
			w.add(path+"."+name, "is missing and needed")
		}
	}
}

func (w *walker) reading(path string, v any) {
	fields, ok := v.(map[string]any)
	if !ok {
		w.add(path, "%s is not a reading; an object with a \"kind\" was expected", Quote(v))
		return
	}
	kind, _ := fields["kind"].(string)
	own, ok := kinds[kind]
	if !ok {
		w.add(path+".kind", "%s is not a kind of reading; use one of %s", Quote(fields["kind"]), strings.Join(sorted(kinds), ", "))
		return
	}
	all := map[string]shape{"kind": words(kind)}
	for _, m := range []map[string]shape{common, own.fields} {
		for name, s := range m {
			all[name] = s
		}
	}
	w.object(path, v, object(own.need, all))
}

func (w *walker) number(path string, v any, s shape) {
	n, ok := v.(json.Number)
	if !ok {
		hint := ""
		if t, isText := v.(string); isText {
			if _, err := strconv.ParseFloat(t, 64); err == nil {
				hint = ". Write it without quotes"
			}
		}
		w.add(path, "%s is not a number%s", Quote(v), hint)
		return
	}
	f, err := n.Float64()
	if err != nil || math.IsInf(f, 0) {
		w.add(path, "%s is too large a number", n)
		return
	}
	switch {
	case len(s.words) > 0:
		if !slices.ContainsFunc(s.words, func(word string) bool { k, _ := strconv.ParseFloat(word, 64); return k == f }) {
			w.add(path, "%s is not one of %s %s", n, strings.Join(s.words, ", "), s.unit)
		}
	case s.kind == "integer" && f != math.Trunc(f):
		w.add(path, "%s is not a whole number", n)
	case f < s.min || f > s.max:
		w.add(path, "%s", strings.TrimSpace(fmt.Sprintf("%s is outside %g to %g %s", n, s.min, s.max, s.unit))+". Check it and enter it again")
	}
}

var month = regexp.MustCompile(`^\d{4}-(0[1-9]|1[0-2])$`)

func (w *walker) text(path string, v any, s shape) {
	t, ok := v.(string)
	switch {
	case !ok:
		w.add(path, "%s is not text", Quote(v))
	case len(s.words) > 0 && !slices.Contains(s.words, t):
		w.add(path, "%s is unknown; use one of %s", Quote(t), strings.Join(s.words, ", "))
	case s.kind == "month" && !month.MatchString(t):
		w.add(path, "%s is not a month; write year and month as 2022-03", Quote(t))
	case s.kind == "time":
		if _, err := time.Parse(time.RFC3339, t); err != nil {
			w.add(path, "%s is not a time; write it as 2026-01-31T09:41:00Z", Quote(t))
		}
	case s.max > 0 && float64(utf8.RuneCountInString(t)) > s.max:
		w.add(path, "is longer than %g characters", s.max)
	}
}

// Quote writes a value for an error message, as JSON, shortened so that a huge
// one stays readable.
func Quote(v any) string {
	raw, err := json.Marshal(v)
	if err != nil {
		return "this"
	}
	if t := []rune(string(raw)); len(t) > 60 {
		return string(t[:57]) + "…"
	}
	return string(raw)
}

func sorted[T any](m map[string]T) []string {
	names := make([]string, 0, len(m))
	for name := range m {
		names = append(names, name)
	}
	sort.Strings(names)
	return names
}
