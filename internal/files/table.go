// Package files reads and writes the tables that a workshop keeps elsewhere.
package files

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"grapnel/core/document"
)

// table is what a table holds: its columns, of which each line is a document.
type table struct {
	columns []column
	need    []string // columns that have to be there
	each    string   // what has them: every battery
	most    int      // lines
	full    string   // what is said of more
	thing   string   // what stands in a line
}

// column is one column of a table: its name, where it stands in the document of a line, and
// whether it is a figure.
type column struct {
	name   string
	path   []string
	figure bool
	flag   bool
	list   bool // several words, with spaces between
	exact  bool // nothing and no stand as 0 and no: left out means that nobody said
	index  int  // in a list, counted from 1; 0 for none
}

// names gives the names of the columns, in the order they are written.
func (t table) names() []string {
	out := make([]string, len(t.columns))
	for i, c := range t.columns {
		out[i] = c.name
	}
	return out
}

// guarded begins a cell that a spreadsheet would take for a formula.
const guarded = "=+-@\t\r"

// guard keeps a spreadsheet from running what a cell says.
func guard(cell string) string {
	if cell != "" && strings.ContainsRune(guarded, rune(cell[0])) || strings.HasPrefix(cell, "'") {
		return "'" + cell
	}
	return cell
}

func unguard(cell string) string {
	if rest, ok := strings.CutPrefix(cell, "'"); ok && rest != "" && (strings.ContainsRune(guarded,
		rune(rest[0])) || rest[0] == '\'') {
		return rest
	}
	return cell
}

// write writes documents as a table after RFC 4180, its first line the names of its columns.
func (t table) write(to io.Writer, docs []any) error {
	w := csv.NewWriter(to)
	w.UseCRLF = true
	if err := w.Write(t.names()); err != nil {
		return err
	}
	for _, one := range docs {
		raw, err := json.Marshal(one)
		if err != nil {
			return err
		}
		var doc map[string]any
		if err := json.Unmarshal(raw, &doc); err != nil {
			return err
		}
		row := make([]string, len(t.columns))
		for i, c := range t.columns {
			row[i] = c.write(doc)
		}
		if err := w.Write(row); err != nil {
			return err
		}
	}
	w.Flush()
	return w.Error()
}

// write gives the cell of a document.
func (c column) write(doc map[string]any) string {
	var at any = doc
	for _, name := range c.path {
		inner, ok := at.(map[string]any)
		if !ok {
			return ""
		}
		at = inner[name]
	}
	if list, ok := at.([]any); ok && c.index > 0 {
		at = list[c.index-1]
	} else if ok && c.list {
		said := make([]string, len(list))
		for i, one := range list {
			said[i] = fmt.Sprint(one)
		}
		return guard(strings.Join(said, " "))
	}
	switch v := at.(type) {
	case float64:
		if v == 0 && !c.exact {
			return ""
		}
		return strconv.FormatFloat(v, 'f', -1, 64)
	case bool:
		if v {
			return "yes"
		}
		if c.exact {
			return "no"
		}
	case string:
		return guard(v)
	}
	return ""
}

// mostColumns is how wide a table may be.
const mostColumns = 100

// read reads a table, line by line: the first names its columns, in any order; parted by
// commas, semicolons or tabs; with semicolons figures may have a decimal comma. Each takes
// the document of a line and says what is wrong with it, by its places in the document. On
// anything wrong it gives a document.Problems error that names line and column.
func (t table) read(data []byte, each func(line int, raw []byte) document.Problems) error {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	whole := func(format string, args ...any) error {
		return document.Problems{{Message: fmt.Sprintf(format, args...)}}
	}
	known := strings.Join(t.names(), ", ")
	if !utf8.Valid(data) {
		return whole("this is not text in UTF-8. Save it as CSV UTF-8, then try again")
	}
	if len(bytes.TrimSpace(data)) == 0 {
		return whole("the file is empty; its first line has to name the columns: %s", known)
	}
	// Before it is read: a line of commas alone would cost many times its size.
	for n, line := 1, data; len(line) > 0; n++ {
		var one []byte
		one, line, _ = bytes.Cut(line, []byte("\n"))
		if cells := bytes.Count(one, []byte(string(separator(data)))) + 1; cells > mostColumns {
			return document.Problems{{Path: fmt.Sprintf("line %d", n),
				Message: fmt.Sprintf(
					"has %d cells; at most %d columns are read. Known: %s",
					cells,
					mostColumns,
					known,
				)}}
		}
	}
	r := csv.NewReader(bytes.NewReader(data))
	r.Comma, r.FieldsPerRecord = separator(data), -1
	of, err := t.head(r)
	if err != nil {
		return err
	}
	var wrong document.Problems
	n := 0
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return broken(err)
		}
		line, _ := r.FieldPos(0)
		if !slices.ContainsFunc(row, func(cell string) bool { return strings.TrimSpace(cell) != "" }) {
			continue
		}
		if n == t.most {
			return whole("%s", t.full)
		}
		raw, problems := t.line(of, row, r.Comma == ';')
		if problems == nil {
			problems = each(line, raw)
			for i := range problems {
				problems[i].Path = "column " + t.called(problems[i].Path)
			}
		}
		for _, p := range problems {
			wrong = append(
				wrong,
				document.Problem{Path: strings.TrimSuffix(fmt.Sprintf("line %d, %s", line, p.Path), ", "),
					Message: p.Message},
			)
		}
		if len(wrong) > document.Most {
			break
		}
		n++
	}
	if wrong != nil {
		return wrong.Few()
	}
	if n == 0 {
		return whole("the table names its columns and has no %s under them", t.thing)
	}
	return nil
}

// head reads the line that names the columns.
func (t table) head(r *csv.Reader) ([]column, error) {
	head, err := r.Read()
	if err != nil {
		return nil, broken(err)
	}
	var of []column
	var wrong document.Problems
	for i, name := range head {
		name = strings.ToLower(strings.TrimSpace(unguard(name)))
		k := slices.IndexFunc(t.columns, func(c column) bool { return c.name == name })
		switch {
		case k < 0:
			wrong = append(wrong, document.Problem{Path: fmt.Sprintf("line 1, column %d", i+1),
				Message: fmt.Sprintf(
					"%s is no column here. Known: %s",
					document.Quote(name),
					strings.Join(t.names(), ", "),
				)})
		case slices.ContainsFunc(of, func(c column) bool { return c.name == name }):
			wrong = append(wrong, document.Problem{Path: fmt.Sprintf("line 1, column %d", i+1),
				Message: fmt.Sprintf("%s stands twice", document.Quote(name))})
		default:
			of = append(of, t.columns[k])
		}
	}
	for _, need := range t.need {
		if wrong == nil && !slices.ContainsFunc(of, func(c column) bool { return c.name == need }) {
			wrong = append(wrong, document.Problem{Path: "line 1",
				Message: "there is no column " + need + ": every " + t.each + " has one"})
		}
	}
	if wrong != nil {
		return nil, wrong.Few()
	}
	return of, nil
}

func broken(err error) error {
	var at *csv.ParseError
	if errors.As(err, &at) {
		return document.Problems{{Path: fmt.Sprintf("line %d, column %d", at.Line, at.Column),
			Message: "broken table: " + at.Err.Error()}}
	}
	return err
}

// separator is what parts the cells of a table: what its first line has most of.
func separator(data []byte) rune {
	first, _, _ := bytes.Cut(data, []byte("\n"))
	best, most := ',', -1
	for _, r := range []rune{',', ';', '\t'} {
		if n := bytes.Count(first, []byte(string(r))); n > most {
			best, most = r, n
		}
	}
	return best
}

// line reads one line of a table as a document.
func (t table) line(of []column, row []string, comma bool) ([]byte, document.Problems) {
	var wrong document.Problems
	doc := map[string]any{}
	lists := map[string]map[int]string{}
	for i, cell := range row {
		cell = strings.TrimSpace(unguard(strings.TrimSpace(cell)))
		if cell == "" {
			continue
		}
		if i >= len(of) {
			wrong = append(wrong, document.Problem{Path: fmt.Sprintf("column %d", i+1),
				Message: "has no name in line 1: a comma too many?"})
			continue
		}
		c := of[i]
		value := any(cell)
		switch {
		case c.list:
			value = strings.Fields(cell)
		case c.figure:
			number := cell
			if comma {
				number = strings.Replace(number, ",", ".", 1)
			}
			if _, err := strconv.ParseFloat(number, 64); err != nil || !json.Valid([]byte(number)) {
				wrong = append(wrong, document.Problem{Path: "column " + c.name,
					Message: document.Quote(cell) + " is not a number"})
				continue
			}
			if c.index > 0 {
				name := c.path[len(c.path)-1]
				if lists[name] == nil {
					lists[name] = map[int]string{}
				}
				lists[name][c.index] = number
				continue
			}
			value = json.Number(number)
		case c.flag:
			switch strings.ToLower(cell) {
			case "yes", "true", "1", "y":
				value = true
			case "no", "false", "0", "n":
				value = false
			default:
				wrong = append(wrong, document.Problem{Path: "column " + c.name,
					Message: document.Quote(cell) + " is not yes or no"})
				continue
			}
		}
		at := doc
		for _, name := range c.path[:len(c.path)-1] {
			inner, ok := at[name].(map[string]any)
			if !ok {
				inner = map[string]any{}
				at[name] = inner
			}
			at = inner
		}
		at[c.path[len(c.path)-1]] = value
	}
	for name, figures := range lists {
		var names []string
		list := []any{}
		for _, c := range t.columns {
			if c.index > 0 && c.path[len(c.path)-1] == name {
				names, list = append(names, c.name), append(list, json.Number(figures[c.index]))
			}
		}
		if len(figures) < len(names) {
			wrong = append(
				wrong,
				document.Problem{Path: "columns " + strings.Join(names, ", "), Message: "say all three, or none"},
			)
			continue
		}
		doc[name] = list
	}
	if wrong != nil {
		return nil, wrong
	}
	raw, err := json.Marshal(doc)
	if err != nil {
		return nil, document.Problems{{Message: err.Error()}}
	}
	return raw, nil
}

// called gives the column of a place in a document.
func (t table) called(path string) string {
	for _, c := range t.columns {
		at := strings.Join(c.path, ".")
		if c.index > 0 {
			at += fmt.Sprintf("[%d]", c.index-1)
		}
		if at == path {
			return c.name
		}
	}
	return path
}
