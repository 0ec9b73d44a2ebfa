package document

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
)

// Problem is one thing wrong with a document: where, and what to do about it.
type Problem struct {
	Path    string // as in readings[2].volts; empty for the whole document
	Message string
}

// Problems is every thing wrong with a document, or the first Most of them and a word
// that there is more. It is the error that reading a document gives.
type Problems []Problem

// Most is how many problems are told: who has mended so many finds the rest at the next
// try.
const Most = 20

// Few gives the first problems, and says that there are more where there are.
func (p Problems) Few() Problems {
	if len(p) <= Most {
		return p
	}
	return append(slices.Clone(p[:Most]), Problem{"", "and more. Mend these first, then try again"})
}

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

// Parse reads JSON into maps and lists, with numbers kept as written. Format names
// what was expected, for the words of the error.
func Parse(data []byte, format string) (any, error) {
	if err := Bounded(data); err != nil {
		return nil, err
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
			return nil, Problems{{"", fmt.Sprintf("the file is empty; a %s document was expected", format)}}
		case errors.Is(err, io.ErrUnexpectedEOF):
			return nil, Problems{{"", "broken JSON: the file ends in the middle; it may have been cut off"}}
		}
		return nil, Problems{{"", "broken JSON: " + err.Error()}}
	}
	if _, err := dec.Token(); err != io.EOF {
		line, col := position(data, dec.InputOffset())
		return nil, Problems{
			{"", fmt.Sprintf("broken JSON: more follows the document at line %d, column %d", line, col)},
		}
	}
	return tree, nil
}

func position(data []byte, offset int64) (line, col int) {
	before := data[:min(int(offset), len(data))]
	line = 1 + bytes.Count(before, []byte("\n"))
	return line, len(before) - (bytes.LastIndexByte(before, '\n') + 1)
}

// Check compares a parsed document with its shape and lists what differs; nil
// when nothing does.
func Check(tree any, s Shape) Problems {
	var w walker
	w.walk("", tree, s)
	return w.found.Few()
}

// Decode reads a document of a Shape into a value that already holds its
// defaults. On anything wrong it gives a Problems error that lists all of it:
// broken JSON with line and column, unknown fields with their path, figures out
// of range with the range.
func Decode(data []byte, format string, s Shape, into any) error {
	tree, err := Parse(data, format)
	if err != nil {
		return err
	}
	if found := Check(tree, s); len(found) > 0 {
		return found
	}
	if err := json.NewDecoder(bytes.NewReader(data)).Decode(into); err != nil {
		return Problems{{"", err.Error()}}
	}
	return nil
}

// Has reports whether something is wrong at a path.
func (p Problems) Has(path string) bool {
	return slices.ContainsFunc(p, func(one Problem) bool { return one.Path == path })
}

// walker compares a parsed document with its shape and keeps what differs.
type walker struct{ found Problems }

func (w *walker) add(path, format string, args ...any) {
	if len(args) > 0 {
		format = fmt.Sprintf(format, args...)
	}
	w.found = append(w.found, Problem{strings.TrimPrefix(path, "."), format})
}

// full reports whether more was found than is told: there is no use in walking on.
func (w *walker) full() bool { return len(w.found) > Most }

func (w *walker) walk(path string, v any, s Shape) {
	if v == nil && s.Null || w.full() {
		return
	}
	switch s.Kind {
	case "object":
		w.object(path, v, s)
	case "variant":
		w.variant(path, v, s)
	case "list":
		items, ok := v.([]any)
		if !ok {
			w.add(path, "%s is not a list", Quote(v))
			return
		}
		if n := float64(len(items)); n < s.Min || n > s.Max {
			w.add(path, "has %g entries; %g to %g are allowed", n, s.Min, s.Max)
			if n > s.Max {
				return
			}
		}
		for i, item := range items {
			w.walk(fmt.Sprintf("%s[%d]", path, i), item, *s.Item)
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

func (w *walker) object(path string, v any, s Shape) {
	fields, ok := v.(map[string]any)
	if !ok {
		w.add(path, "%s is not an object", Quote(v))
		return
	}
	for _, name := range sorted(fields) {
		if inner, ok := s.Fields[name]; ok {
			w.walk(path+"."+name, fields[name], inner)
		} else {
			w.add(path+"."+Excerpt(name), "unknown field. Known here: %s", strings.Join(sorted(s.Fields), ", "))
		}
		if w.full() {
			return
		}
	}
	for _, name := range s.Need {
		if fields[name] == nil && !w.found.Has(strings.TrimPrefix(path+"."+name, ".")) {
			w.add(path+"."+name, "is missing and needed")
		}
	}
}

func (w *walker) variant(path string, v any, s Shape) {
	fields, ok := v.(map[string]any)
	if !ok {
		w.add(path, "%s is not a %s; an object with a %q was expected", Quote(v), s.What, s.By)
		return
	}
	word, _ := fields[s.By].(string)
	whole, ok := s.of(word)
	if !ok {
		w.add(
			path+"."+s.By,
			"%s is not a kind of %s; use one of %s",
			Quote(fields[s.By]),
			s.What,
			strings.Join(sorted(s.Variants), ", "),
		)
		return
	}
	w.object(path, v, whole)
}

func (w *walker) number(path string, v any, s Shape) {
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
		w.add(path, "%s is too large a number", Excerpt(n.String()))
		return
	}
	switch {
	case len(s.Words) > 0:
		if !slices.ContainsFunc(
			s.Words,
			func(word string) bool { k, _ := strconv.ParseFloat(word, 64); return k == f },
		) {
			w.add(path, "%s is not one of %s %s", Excerpt(n.String()), strings.Join(s.Words, ", "), s.Unit)
		}
	case s.Kind == "integer" && f != math.Trunc(f):
		w.add(path, "%s is not a whole number", Excerpt(n.String()))
	case !s.Unbounded && (f < s.Min || f > s.Max):
		w.add(
			path,
			"%s",
			strings.TrimSpace(
				fmt.Sprintf("%s is outside %g to %g %s", Excerpt(n.String()), s.Min, s.Max, s.Unit),
			)+". Check it and enter it again",
		)
	}
}

var month = regexp.MustCompile(`^(19|20|21)\d{2}-(0[1-9]|1[0-2])$`)

// The years a time may lie in. A time outside is a slip of the pen or of a clock, and
// not every database could keep it.
const firstYear, lastYear = 1950, 2199

func (w *walker) text(path string, v any, s Shape) {
	t, ok := v.(string)
	switch {
	case !ok:
		w.add(path, "%s is not text", Quote(v))
	case len(s.Words) > 0 && !slices.Contains(s.Words, t):
		w.add(path, "%s is unknown; use one of %s", Quote(t), strings.Join(s.Words, ", "))
	case s.Kind == "month" && !month.MatchString(t):
		w.add(path, "%s is not a month; write year and month as 2022-03", Quote(t))
	case s.Kind == "date":
		if _, err := time.Parse(time.DateOnly, t); err != nil || !month.MatchString(t[:len("2022-03")]) {
			w.add(path, "%s is not a date; write year, month and day as 2026-01-31", Quote(t))
		}
	case s.Kind == "time":
		at, err := time.Parse(time.RFC3339, t)
		switch {
		case err != nil:
			w.add(path, "%s is not a time; write it as 2026-01-31T09:41:00Z", Quote(t))
		case at.UTC().Year() < firstYear || at.UTC().Year() > lastYear:
			w.add(
				path,
				"%s is not in the years %d to %d. Check the date and the clock of the device",
				Quote(t),
				firstYear,
				lastYear,
			)
		}
	case s.Max > 0 && float64(utf8.RuneCountInString(t)) > s.Max:
		w.add(path, "is longer than %g characters", s.Max)
	}
}

// longest is how many characters of foreign text an error carries.
const longest = 60

// Excerpt is a text as an error may carry it: the start of a long one.
func Excerpt(text string) string {
	n, cut := 0, 0
	for i := range text {
		switch n++; n {
		case longest - 2:
			cut = i
		case longest + 1:
			return text[:cut] + "…"
		}
	}
	return text
}

// Quote writes a value for an error message, as JSON, shortened so that a huge
// one stays readable. It takes no more time for a huge one.
func Quote(v any) string {
	raw, err := json.Marshal(clipped(v, 3))
	if err != nil {
		return "this"
	}
	return Excerpt(string(raw))
}

// clipped is a value without what an excerpt of it would not show.
func clipped(v any, deep int) any {
	const few = 12
	switch v := v.(type) {
	case string:
		return strings.ToValidUTF8(v[:min(len(v), 8*longest)], "")
	case json.Number:
		if len(v) > longest {
			return v.String()[:longest]
		}
	case []byte:
		return clipped(string(v), deep)
	case []any:
		out := []any{}
		for _, one := range v[:min(len(v), few)] {
			if deep == 0 {
				break
			}
			out = append(out, clipped(one, deep-1))
		}
		return out
	case map[string]any:
		out := map[string]any{}
		if deep == 0 {
			return out
		}
		for _, name := range sorted(v)[:min(len(v), few)] {
			out[clipped(name, deep).(string)] = clipped(v[name], deep-1)
		}
		return out
	}
	return v
}

func sorted[T any](m map[string]T) []string {
	names := make([]string, 0, len(m))
	for name := range m {
		names = append(names, name)
	}
	sort.Strings(names)
	return names
}
