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
	"grapnel/core/fit"
)

// column is one column of the shelf's table: its name, where it stands in the document of a
// battery, and whether it is a figure.
type column struct {
	name   string
	path   []string
	figure bool
	flag   bool
	index  int // in a list, counted from 1; 0 for none
}

var columns = []column{
	{name: "tag", path: []string{"tag"}}, {name: "chemistry", path: []string{"chemistry"}}, {name: "volts",
		path: []string{"volts"}, figure: true},
	{name: "cca", path: []string{"rating", "cca"}, figure: true}, {name: "standard", path: []string{"rating", "standard"}},
	{name: "ah_20h", path: []string{"rating", "ah_20h"}, figure: true}, {name: "rc_min", path: []string{"rating", "rc_min"},
		figure: true},
	{name: "ca", path: []string{"rating", "ca"}, figure: true}, {name: "charge_amps",
		path: []string{"rating", "charge_amps"}, figure: true},
	{name: "group", path: []string{"group"}}, {name: "length_mm", path: []string{"size_mm"}, figure: true, index: 1},
	{name: "width_mm", path: []string{"size_mm"}, figure: true, index: 2}, {name: "height_mm", path: []string{"size_mm"},
		figure: true, index: 3},
	{name: "hold_down", path: []string{"hold_down"}}, {name: "positive", path: []string{"positive"}}, {name: "terminals",
		path: []string{"terminals"}},
	{name: "vent", path: []string{"vent"}}, {name: "made", path: []string{"made"}}, {name: "dry_charged",
		path: []string{"dry_charged"}, flag: true},
	{name: "rest_volts", path: []string{"tested", "rest_volts"}, figure: true}, {name: "battery_c",
		path: []string{"tested", "battery_c"}, figure: true},
	{name: "found_cca", path: []string{"tested", "cca"}, figure: true}, {name: "found_standard",
		path: []string{"tested", "standard"}},
	{name: "tested_on", path: []string{"tested", "on"}}, {name: "verdict", path: []string{"tested", "verdict"}},
}

// StockColumns gives the names of the columns, in the order they are written.
func StockColumns() []string {
	out := make([]string, len(columns))
	for i, c := range columns {
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

// WriteStock writes batteries as a table after RFC 4180, its first line the names of its
// columns.
func WriteStock(to io.Writer, items []fit.Item) error {
	w := csv.NewWriter(to)
	w.UseCRLF = true
	if err := w.Write(StockColumns()); err != nil {
		return err
	}
	for _, item := range items {
		raw, err := json.Marshal(item)
		if err != nil {
			return err
		}
		var doc map[string]any
		if err := json.Unmarshal(raw, &doc); err != nil {
			return err
		}
		row := make([]string, len(columns))
		for i, c := range columns {
			row[i] = c.write(doc)
		}
		if err := w.Write(row); err != nil {
			return err
		}
	}
	w.Flush()
	return w.Error()
}

// write gives the cell of a battery's document.
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
	}
	switch v := at.(type) {
	case float64:
		if v == 0 {
			return ""
		}
		return strconv.FormatFloat(v, 'f', -1, 64)
	case bool:
		if v {
			return "yes"
		}
	case string:
		return guard(v)
	}
	return ""
}

// mostColumns is how wide a table may be.
const mostColumns = 100

// ReadStock reads batteries from a table: the first line names its columns, in any order;
// parted by commas, semicolons or tabs; with semicolons figures may have a decimal comma. On
// anything wrong it gives a document.Problems error that names line and column, and nothing
// else.
func ReadStock(data []byte) ([]fit.Item, error) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	whole := func(format string, args ...any) error {
		return document.Problems{{Message: fmt.Sprintf(format, args...)}}
	}
	if !utf8.Valid(data) {
		return nil, whole("this is not text in UTF-8. Save it as CSV UTF-8, then try again")
	}
	if len(bytes.TrimSpace(data)) == 0 {
		return nil, whole("the file is empty; its first line has to name the columns: %s", strings.Join(StockColumns(), ", "))
	}
	// Before it is read: a line of commas alone would cost many times its size.
	for n, line := 1, data; len(line) > 0; n++ {
		var one []byte
		one, line, _ = bytes.Cut(line, []byte("\n"))
		if cells := bytes.Count(one, []byte(string(separator(data)))) + 1; cells > mostColumns {
			return nil, document.Problems{{Path: fmt.Sprintf("line %d", n),
				Message: fmt.Sprintf("has %d cells; at most %d columns are read. Known: %s", cells, mostColumns,
					strings.Join(StockColumns(), ", "))}}
		}
	}
	r := csv.NewReader(bytes.NewReader(data))
	r.Comma, r.FieldsPerRecord = separator(data), -1
	head, err := r.Read()
	if err != nil {
		return nil, broken(err)
	}
	var of []column
	var wrong document.Problems
	for i, name := range head {
		name = strings.ToLower(strings.TrimSpace(unguard(name)))
		k := slices.IndexFunc(columns, func(c column) bool { return c.name == name })
		switch {
		case k < 0:
			wrong = append(wrong, document.Problem{Path: fmt.Sprintf("line 1, column %d", i+1),
				Message: fmt.Sprintf("%s is no column here. Known: %s", document.Quote(name),
					strings.Join(StockColumns(), ", "))})
		case slices.ContainsFunc(of, func(c column) bool { return c.name == name }):
			wrong = append(wrong, document.Problem{Path: fmt.Sprintf("line 1, column %d", i+1),
				Message: fmt.Sprintf("%s stands twice", document.Quote(name))})
		default:
			of = append(of, columns[k])
		}
	}
	for _, need := range []string{"tag", "chemistry"} {
		if wrong == nil && !slices.ContainsFunc(of, func(c column) bool { return c.name == need }) {
			wrong = append(wrong, document.Problem{Path: "line 1",
				Message: "there is no column " + need + ": every battery has one"})
		}
	}
	if wrong != nil {
		return nil, wrong.Few()
	}
	items, tags := []fit.Item{}, map[string]int{}
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, broken(err)
		}
		line, _ := r.FieldPos(0)
		if !slices.ContainsFunc(row, func(cell string) bool { return strings.TrimSpace(cell) != "" }) {
			continue
		}
		if len(items) == fit.MostStock {
			return nil, whole("more than %d batteries; a shelf holds no more. Part the file", fit.MostStock)
		}
		item, problems := item(of, row, r.Comma == ';')
		if tag := strings.ToLower(item.Tag); len(problems) == 0 {
			if first, twice := tags[tag]; twice {
				problems = append(problems, document.Problem{Path: "column tag",
					Message: fmt.Sprintf("%s stands in line %d already", document.Quote(item.Tag), first)})
			}
			tags[tag] = line
		}
		for _, p := range problems {
			wrong = append(wrong, document.Problem{Path: strings.TrimSuffix(fmt.Sprintf("line %d, %s", line, p.Path), ", "),
				Message: p.Message})
		}
		if len(wrong) > document.Most {
			break
		}
		items = append(items, item)
	}
	if wrong != nil {
		return nil, wrong.Few()
	}
	if len(items) == 0 {
		return nil, whole("the table names its columns and has no battery under them")
	}
	return items, nil
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

// item reads one line of the table.
func item(of []column, row []string, comma bool) (fit.Item, document.Problems) {
	var wrong document.Problems
	doc := map[string]any{}
	size := map[int]string{}
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
				size[c.index] = number
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
	if len(size) == 3 {
		doc["size_mm"] = []any{json.Number(size[1]), json.Number(size[2]), json.Number(size[3])}
	} else if len(size) > 0 {
		wrong = append(wrong, document.Problem{Path: "columns length_mm, width_mm, height_mm", Message: "say all three, or none"})
	}
	if wrong != nil {
		return fit.Item{}, wrong
	}
	raw, err := json.Marshal(doc)
	if err != nil {
		return fit.Item{}, document.Problems{{Message: err.Error()}}
	}
	read, err := fit.DecodeItem(raw)
	var problems document.Problems
	if errors.As(err, &problems) {
		for i := range problems {
			problems[i].Path = "column " + named(problems[i].Path)
		}
	}
	return read, problems
}

// named gives the column of a place in a battery's document.
func named(path string) string {
	for _, c := range columns {
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
