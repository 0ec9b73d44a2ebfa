package files

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"time"

	"grapnel/core/casefile"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
)

// MostLines is how many lines a table of jobs, readings or batteries has at most.
const MostLines = 20_000

// BatteryRow is a battery of the workshop in a table.
type BatteryRow struct {
	Line    int             `json:"-"` // of the table it was read from
	Battery reading.Battery `json:"battery"`
	Twin    string          `json:"twin,omitempty"`
}

// JobRow is a job in a table, with the label and the rules it was judged by. Verdict and
// Headline are told, and not read back.
type JobRow struct {
	Line       int                `json:"-"` // of the table it was read from
	ID         string             `json:"id"`
	Vehicle    reading.Vehicle    `json:"vehicle"`
	Battery    reading.Battery    `json:"battery"`
	Customer   string             `json:"customer,omitempty"`
	Note       string             `json:"note,omitempty"`
	Complaint  []string           `json:"complaint,omitempty"`
	Conditions reading.Conditions `json:"conditions"`
	Rules      string             `json:"rules,omitempty"` // as JSON
	House      rules.Rules        `json:"-"`               // the same, read; the usual ones where none stand
	OpenedAt   time.Time          `json:"opened_at"`
	OpenedBy   string             `json:"opened_by,omitempty"`
	ClosedAt   *time.Time         `json:"closed_at,omitempty"`
	ClosedBy   string             `json:"closed_by,omitempty"`
	Promised   *time.Time         `json:"promised_at,omitempty"`
	Follows    string             `json:"follows,omitempty"`
	Verdict    string             `json:"verdict,omitempty"`
	Headline   string             `json:"headline,omitempty"`
}

// ReadingRow is a reading in a table, corrections and what was taken back with it.
type ReadingRow struct {
	Line              int // of the table it was read from
	ID, Job, Replaces string
	At                time.Time
	By                string
	Reading           reading.Reading
}

// NoteRow is a note in a table.
type NoteRow struct {
	Job    string `json:"job"`
	Tag    string `json:"tag"`
	At     string `json:"at"`
	By     string `json:"by"`
	Text   string `json:"text"`
	Shown  bool   `json:"shown,omitempty"`
	BackAt string `json:"back_at,omitempty"`
}

func text(name string, path ...string) column { return column{name: name, path: placed(name, path)} }
func figure(name string, path ...string) column {
	return column{name: name, path: placed(name, path), figure: true, exact: true}
}
func flag(name string, path ...string) column {
	return column{name: name, path: placed(name, path), flag: true}
}

func placed(name string, path []string) []string {
	if len(path) == 0 {
		return []string{name}
	}
	return path
}

// ofBattery are the columns of a battery's label.
func ofBattery() []column {
	return []column{
		text("chemistry", "battery", "chemistry"), text("caps", "battery", "caps"), flag("eye", "battery", "eye"),
		text("terminals", "battery", "terminals"), figure("cca", "battery", "rating", "cca"), text("standard", "battery", "rating", "standard"),
		figure("rc_min", "battery", "rating", "rc_min"), figure("ah_20h", "battery", "rating", "ah_20h"), figure("ca", "battery", "rating", "ca"),
		figure("charge_amps", "battery", "rating", "charge_amps"), flag("typical", "battery", "rating", "typical"),
		text("made", "battery", "made"), text("fitted", "battery", "fitted"),
	}
}

func full(what string) string {
	return fmt.Sprintf("more than %d %s; part the file", MostLines, what)
}

var batteries = table{need: []string{"tag", "chemistry"}, each: "battery", thing: "battery", most: MostLines, full: full("batteries"),
	columns: append([]column{text("tag", "battery", "tag")}, append(ofBattery(), text("twin"))...)}

var jobs = table{need: []string{"tag", "class", "chemistry", "opened_at"}, each: "job", thing: "job", most: MostLines, full: full("jobs"),
	columns: slices.Concat([]column{
		text("id"), text("tag", "battery", "tag"), text("opened_at"), text("opened_by"), text("closed_at"), text("closed_by"), text("promised_at"),
		text("customer"), text("note"), {name: "complaint", path: []string{"complaint"}, list: true},
		text("class", "vehicle", "class"), text("vehicle", "vehicle", "name"), text("fuel", "vehicle", "fuel"),
		figure("system_volts", "vehicle", "system_volts"), text("earth", "vehicle", "earth"), flag("stop_start", "vehicle", "stop_start"),
		flag("high_voltage", "vehicle", "high_voltage"), figure("made_year", "vehicle", "made_year"), text("arrangement", "vehicle", "arrangement"),
	}, ofBattery(), []column{
		figure("ambient_c", "conditions", "ambient_c"), figure("battery_c", "conditions", "battery_c"), text("follows"), text("rules"),
		text("verdict"), text("headline"),
	})}

var notes = table{columns: []column{text("job"), text("tag"), text("at"), text("by"), text("text"), flag("shown"), text("back_at")}}

// head are the columns of a reading that do not depend on its kind.
var head = []string{"id", "job", "replaces", "kind", "at", "by", "instrument"}

var readings = func() table {
	t := table{need: []string{"job", "kind"}, each: "reading", thing: "reading", most: 5 * MostLines,
		full: fmt.Sprintf("more than %d readings; part the file", 5*MostLines)}
	for _, name := range head {
		t.columns = append(t.columns, text(name))
	}
	seen := map[string]bool{}
	for _, code := range station.Kinds() {
		k, _ := station.KindOf(code)
		for _, f := range k.Fields {
			name := f.Name
			if slices.Contains(head, name) {
				panic("a reading has a field " + name + " of its own")
			}
			if !seen[name] {
				seen[name] = true
				t.columns = append(t.columns, text(name))
			}
		}
	}
	return t
}()

// WriteBatteries, WriteJobs, WriteReadings and WriteNotes write tables after RFC 4180.
func WriteBatteries(to io.Writer, all []BatteryRow) error { return batteries.write(to, docs(all)) }

// WriteJobs writes jobs as a table after RFC 4180.
func WriteJobs(to io.Writer, all []JobRow) error { return jobs.write(to, docs(all)) }

// WriteNotes writes notes as a table after RFC 4180.
func WriteNotes(to io.Writer, all []NoteRow) error { return notes.write(to, docs(all)) }

func docs[T any](all []T) []any {
	out := make([]any, len(all))
	for i := range all {
		out[i] = all[i]
	}
	return out
}

// WriteReadings writes readings as a table after RFC 4180: figures as they were given, lists
// with spaces between.
func WriteReadings(to io.Writer, all []ReadingRow) error {
	rows := make([]any, len(all))
	for i, r := range all {
		doc := map[string]any{"id": r.ID, "job": r.Job, "replaces": r.Replaces, "kind": r.Reading.Kind, "at": r.At.UTC().Format(time.RFC3339Nano),
			"by": r.By, "instrument": r.Reading.Instrument}
		k, _ := station.KindOf(r.Reading.Kind)
		for _, f := range k.Fields {
			if cell := cellOf(r.Reading, f); cell != "" {
				doc[f.Name] = cell
			}
		}
		rows[i] = doc
	}
	return readings.write(to, rows)
}

// cellOf writes a field of a reading.
func cellOf(r reading.Reading, f station.Field) string {
	number := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	if v, ok := r.Number(f.Name); ok {
		return number(v)
	}
	if v, ok := r.Flag(f.Name); ok {
		if v {
			return "yes"
		}
		return "no"
	}
	if v := r.Numbers(f.Name); len(v) > 0 {
		out := make([]string, len(v))
		for i := range v {
			out[i] = number(v[i])
		}
		return strings.Join(out, " ")
	}
	if v := r.Words(f.Name); len(v) > 0 {
		return strings.Join(v, " ")
	}
	return r.Word(f.Name)
}

// ReadBatteries reads batteries from a table. On anything wrong it gives a document.Problems
// error that names line and column, and nothing else.
func ReadBatteries(data []byte) ([]BatteryRow, error) {
	var out []BatteryRow
	seen := map[string]int{}
	err := batteries.read(data, func(line int, raw []byte) document.Problems {
		row := BatteryRow{Line: line}
		if err := json.Unmarshal(raw, &row); err != nil {
			return broke(err)
		}
		tag := strings.ToLower(row.Battery.Tag)
		if first := seen[tag]; first > 0 && tag != "" {
			return document.Problems{{Path: "battery.tag", Message: fmt.Sprintf("%s stands in line %d already", document.Quote(row.Battery.Tag), first)}}
		}
		seen[tag] = line
		if row.Battery.Tag == "" {
			return document.Problems{{Path: "battery.tag", Message: "is missing: every battery has one"}}
		}
		out = append(out, row)
		return checked(reading.Case{Format: reading.CaseFormat, Vehicle: reading.Vehicle{Class: "car"}, Battery: row.Battery, Rules: rules.Default()})
	})
	return whole(out, err)
}

// ReadJobs reads jobs from a table. On anything wrong it gives a document.Problems error that
// names line and column, and nothing else.
func ReadJobs(data []byte) ([]JobRow, error) {
	var out []JobRow
	seen := map[string]int{}
	err := jobs.read(data, func(line int, raw []byte) document.Problems {
		row := JobRow{Line: line}
		if err := json.Unmarshal(raw, &row); err != nil {
			return timesOf(raw, err)
		}
		if row.ID != "" {
			row.ID = strings.ToLower(row.ID)
			if !isID(row.ID) {
				return document.Problems{{Path: "id", Message: document.Quote(row.ID) + " is no id; leave it out for a new one"}}
			}
			if first := seen[row.ID]; first > 0 {
				return document.Problems{{Path: "id", Message: fmt.Sprintf("stands in line %d already", first)}}
			}
			seen[row.ID] = line
		}
		switch {
		case row.Battery.Tag == "":
			return document.Problems{{Path: "battery.tag", Message: "is missing: every job is of a battery with a tag"}}
		case row.OpenedAt.IsZero():
			return document.Problems{{Path: "opened_at", Message: "is missing: when it came, as 2026-11-27T08:30:00Z"}}
		case row.ClosedAt != nil && row.ClosedAt.Before(row.OpenedAt):
			return document.Problems{{Path: "closed_at", Message: "is before it came"}}
		case row.Follows != "" && !isID(row.Follows):
			return document.Problems{{Path: "follows", Message: document.Quote(row.Follows) + " is no id of a job"}}
		case len([]rune(row.Customer)) > 120:
			return document.Problems{{Path: "customer", Message: "has more than 120 letters"}}
		case len([]rune(row.Note)) > 500:
			return document.Problems{{Path: "note", Message: "has more than 500 letters"}}
		}
		row.House = rules.Default()
		if row.Rules != "" {
			if err := json.Unmarshal([]byte(row.Rules), &row.House); err != nil {
				return document.Problems{{Path: "rules", Message: "are not the JSON they were written as: " + err.Error()}}
			}
			if err := row.House.Check(); err != nil {
				return document.Problems{{Path: "rules", Message: err.Error()}}
			}
		}
		out = append(out, row)
		return checked(reading.Case{Format: reading.CaseFormat, Vehicle: row.Vehicle, Battery: row.Battery, Conditions: row.Conditions,
			Complaint: row.Complaint, Rules: row.House})
	})
	return whole(out, err)
}

// ReadReadings reads readings from a table. On anything wrong it gives a document.Problems
// error that names line and column, and nothing else. Whether a reading can be of its job's
// battery is for whoever knows that.
func ReadReadings(data []byte) ([]ReadingRow, error) {
	var out []ReadingRow
	seen := map[string]int{}
	err := readings.read(data, func(line int, raw []byte) document.Problems {
		var cells map[string]string
		if err := json.Unmarshal(raw, &cells); err != nil {
			return broke(err)
		}
		row := ReadingRow{Line: line, ID: strings.ToLower(cells["id"]), Job: strings.ToLower(cells["job"]), Replaces: strings.ToLower(cells["replaces"]), By: cells["by"]}
		for _, id := range [][2]string{{"id", row.ID}, {"job", row.Job}, {"replaces", row.Replaces}} {
			if id[1] != "" && !isID(id[1]) || id[0] == "job" && id[1] == "" {
				return document.Problems{{Path: id[0], Message: document.Quote(id[1]) + " is no id"}}
			}
		}
		if first := seen[row.ID]; row.ID != "" && first > 0 {
			return document.Problems{{Path: "id", Message: fmt.Sprintf("stands in line %d already", first)}}
		}
		seen[row.ID] = line
		if cells["at"] != "" {
			at, err := time.Parse(time.RFC3339Nano, cells["at"])
			if err != nil {
				return document.Problems{{Path: "at", Message: document.Quote(cells["at"]) + " is no time. Write 2026-11-27T08:30:00Z"}}
			}
			row.At = at
		}
		if cells["kind"] == reading.Withdrawn {
			row.Reading = reading.Reading{Kind: reading.Withdrawn}
			out = append(out, row)
			return nil
		}
		k, ok := station.KindOf(cells["kind"])
		if !ok {
			return document.Problems{{Path: "kind", Message: document.Quote(cells["kind"]) + " is no kind of reading. Known: " + strings.Join(station.Kinds(), ", ")}}
		}
		r := reading.Of(k.Code, nil)
		r.Instrument = cells["instrument"]
		var wrong document.Problems
		for _, name := range readings.names() {
			cell := cells[name]
			if cell == "" || slices.Contains(head, name) {
				continue
			}
			i := slices.IndexFunc(k.Fields, func(f station.Field) bool { return f.Name == name })
			if i < 0 {
				wrong = append(wrong, document.Problem{Path: name, Message: "does not belong to a reading of kind " + k.Code})
				continue
			}
			value, err := valueOf(k.Fields[i], cell)
			if err != nil {
				wrong = append(wrong, document.Problem{Path: name, Message: err.Error()})
				continue
			}
			r = r.With(name, value)
		}
		row.Reading = r
		out = append(out, row)
		return wrong
	})
	return whole(out, err)
}

// valueOf reads a cell as a field of a reading.
func valueOf(f station.Field, cell string) (any, error) {
	figure := func(s string) (float64, error) {
		v, err := strconv.ParseFloat(s, 64)
		if err != nil || !json.Valid([]byte(s)) {
			return 0, errors.New(document.Quote(s) + " is not a number")
		}
		return v, nil
	}
	words := len(f.Words.Codes()) > 0
	switch {
	case f.Shape.Kind == "list" && words:
		return strings.Fields(cell), nil
	case f.Shape.Kind == "list":
		var out []float64
		for _, one := range strings.Fields(cell) {
			v, err := figure(one)
			if err != nil {
				return nil, err
			}
			out = append(out, v)
		}
		return out, nil
	case words || f.Shape.Kind == "text" || f.Shape.Kind == "date" || f.Shape.Kind == "month":
		return cell, nil
	case f.Shape.Kind == document.Flag().Kind:
		switch strings.ToLower(cell) {
		case "yes", "true", "1":
			return true, nil
		case "no", "false", "0":
			return false, nil
		}
		return nil, errors.New(document.Quote(cell) + " is not yes or no")
	}
	return figure(cell)
}

// checked reports what is wrong with what a line says, by its places in the line.
func checked(c reading.Case) document.Problems {
	var wrong document.Problems
	if errors.As(casefile.Validate(c), &wrong) {
		return wrong
	}
	return nil
}

func broke(err error) document.Problems {
	return document.Problems{{Message: "cannot be read: " + err.Error()}}
}

// timesOf finds the time that cannot be read.
func timesOf(raw []byte, err error) document.Problems {
	var cells map[string]any
	if json.Unmarshal(raw, &cells) == nil {
		for _, name := range []string{"opened_at", "closed_at", "promised_at"} {
			cell, _ := cells[name].(string)
			if _, bad := time.Parse(time.RFC3339Nano, cell); cell != "" && bad != nil {
				return document.Problems{{Path: name, Message: document.Quote(cell) + " is no time. Write 2026-11-27T08:30:00Z"}}
			}
		}
	}
	return broke(err)
}

// isID reports whether a text is an id: 36 characters, in small letters.
func isID(s string) bool {
	if len(s) != 36 {
		return false
	}
	for i, r := range s {
		dash := i == 8 || i == 13 || i == 18 || i == 23
		if dash != (r == '-') || !dash && !strings.ContainsRune("0123456789abcdef", r) {
			return false
		}
	}
	return true
}

func whole[T any](out []T, err error) ([]T, error) {
	if err != nil {
		return nil, err
	}
	return out, nil
}
