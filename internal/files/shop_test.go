package files

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
)

func num(v float64) *float64 { return &v }

const id1, id2 = "01890a5d-ac96-774b-bcce-b302099a8057", "01890a5d-ac96-774b-bcce-b302099a8058"

// Texts that break tables or run in spreadsheets.
var nasty = []string{"=1+1", "+49 160", "-5", "@SUM(A1)", "'quoted", "a,b;c\td", "line one\nline two", `say "hello"`, "Łódź – Žižkov", "=cmd|' /C calc'!A0"}

// A job comes back as it went out, whatever its texts.
func TestJobsRoundTrip(t *testing.T) {
	opened := time.Date(2026, 11, 27, 8, 30, 1, 234567000, time.UTC)
	closed := opened.Add(26 * time.Hour)
	house := rules.Default()
	house.LoadTestMinSOC = 64.5
	raw, err := json.Marshal(house)
	if err != nil {
		t.Fatal(err)
	}
	var all []JobRow
	for i, s := range nasty {
		all = append(all, JobRow{ID: fmt.Sprintf("01890a5d-ac96-774b-bcce-%012d", i), Customer: s, Note: s, OpenedAt: opened, OpenedBy: s, ClosedAt: &closed, ClosedBy: "Ines",
			Vehicle:   reading.Vehicle{Class: "car", Name: strings.Join(strings.Fields(s), " "), Fuel: "diesel", SystemVolts: 24, Arrangement: "series", MadeYear: 2016, StopStart: true},
			Battery:   reading.Battery{Tag: fmt.Sprint("K-", i), Chemistry: battery.AGM, Caps: "sealed", Rating: reading.Rating{CCA: num(680.5), Standard: rating.EN, Ah20h: num(70)}, Made: "2022-03"},
			Complaint: []string{"slow_crank", "short_trips"}, Conditions: reading.Conditions{AmbientC: num(0), BatteryC: num(-5.25)},
			Rules: string(raw), House: house, Promised: &closed, Follows: id2})
	}
	var out bytes.Buffer
	if err := WriteJobs(&out, all); err != nil {
		t.Fatal(err)
	}
	got, err := ReadJobs(out.Bytes())
	if err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(unlined(got), all) {
		for i := range got {
			if !reflect.DeepEqual(got[i], all[i]) {
				t.Errorf("%+v\n%+v", got[i], all[i])
			}
		}
	}
	noFormula(t, out.Bytes())
}

// unlined leaves out in which lines jobs stood.
func unlined(all []JobRow) []JobRow {
	for i := range all {
		all[i].Line = 0
	}
	return all
}

// noFormula fails where a cell would run in a spreadsheet, or the table is not after RFC 4180:
// lines end in CRLF and have as many cells as the first.
func noFormula(t *testing.T, raw []byte) {
	t.Helper()
	if !bytes.HasSuffix(raw, []byte("\r\n")) || bytes.Contains(bytes.ReplaceAll(raw, []byte("\r\n"), nil), []byte("\n")) {
		t.Error("lines do not end in CRLF")
	}
	rows, err := csv.NewReader(bytes.NewReader(raw)).ReadAll() // as many cells in each
	if err != nil {
		t.Fatal(err)
	}
	for _, row := range rows {
		for _, cell := range row {
			if cell != "" && strings.ContainsRune("=+@\t\r", rune(cell[0])) || strings.HasPrefix(cell, "-") && strings.Trim(cell, "-0123456789.") != "" {
				t.Errorf("%q runs", cell)
			}
		}
	}
}

// Every kind of reading comes back with every field it can have, to the digit: nothing and no
// stand apart from what nobody said.
func TestReadingsRoundTrip(t *testing.T) {
	rnd := rand.New(rand.NewPCG(16, 1))
	var all []ReadingRow
	add := func(r reading.Reading) {
		all = append(all, ReadingRow{ID: fmt.Sprintf("01890a5d-ac96-774b-bcce-%012d", len(all)), Job: id1, By: "Ines",
			At: time.Date(2026, 11, 27, 8, 0, len(all), 1000*rnd.IntN(1000), time.UTC), Reading: r})
	}
	for _, code := range station.Kinds() {
		k, _ := station.KindOf(code)
		for range 20 {
			r := reading.Of(code, nil)
			r.Instrument = nasty[rnd.IntN(len(nasty))]
			if strings.Contains(r.Instrument, "\n") {
				r.Instrument = "load tester"
			}
			for _, f := range k.Fields {
				if !f.Need && rnd.IntN(2) == 0 {
					continue
				}
				codes := f.Words.Codes()
				switch {
				case len(codes) > 0 && f.Shape.Kind == "list":
					r = r.With(f.Name, codes[:1+rnd.IntN(len(codes))])
				case len(codes) > 0:
					r = r.With(f.Name, codes[rnd.IntN(len(codes))])
				case f.Shape.Kind == "list":
					r = r.With(f.Name, []float64{1.265, 1.2, 1.19})
				case f.Shape.Kind == "flag":
					r = r.With(f.Name, rnd.IntN(2) == 0)
				case f.Shape.Kind == "date":
					r = r.With(f.Name, "2027-10-01")
				case f.Shape.Kind == "text":
					r = r.With(f.Name, nasty[rnd.IntN(6)])
				default:
					r = r.With(f.Name, []float64{0, -1.5, 12.65, 1e-7, 123456.789}[rnd.IntN(5)])
				}
			}
			add(r)
		}
	}
	add(reading.Reading{Kind: reading.Withdrawn})
	all[len(all)-1].Replaces = all[0].ID
	var out bytes.Buffer
	if err := WriteReadings(&out, all); err != nil {
		t.Fatal(err)
	}
	got, err := ReadReadings(out.Bytes())
	if err != nil {
		t.Fatal(err)
	}
	for i := range all {
		all[i].Line = i + 2
		if !reflect.DeepEqual(got[i], all[i]) {
			t.Fatalf("%+v\n%+v", got[i], all[i])
		}
	}
	noFormula(t, out.Bytes())
	if n := len(readings.columns); n > mostColumns {
		t.Errorf("%d columns are more than are read", n)
	}
}

func TestBatteriesRoundTrip(t *testing.T) {
	all := []BatteryRow{{Battery: reading.Battery{Tag: "=K-1", Chemistry: battery.Gel, Eye: true, Rating: reading.Rating{RCMin: num(110), CA: num(675), ChargeAmps: num(6), Typical: true}, Fitted: "2023-01"}},
		{Battery: reading.Battery{Tag: "K-2", Chemistry: battery.Flooded}, Twin: "=K-1"}}
	var out bytes.Buffer
	if err := WriteBatteries(&out, all); err != nil {
		t.Fatal(err)
	}
	got, err := ReadBatteries(out.Bytes())
	if err != nil || len(got) != 2 || got[0].Line != 2 || got[1].Line != 3 {
		t.Fatalf("%v %+v", err, got)
	}
	if got[0].Line, got[1].Line = 0, 0; !reflect.DeepEqual(got, all) {
		t.Errorf("%+v\n%+v", got, all)
	}
	noFormula(t, out.Bytes())
}

// What is wrong is named by line and column, and nothing of the table is taken.
func TestBadShopTables(t *testing.T) {
	for _, c := range []struct{ name, table, says string }{
		{"jobs: no tag", "tag,class,chemistry,opened_at\n,car,agm,2026-11-27T08:00:00Z\n", "line 2, column tag: is missing"},
		{"jobs: no column", "tag,class,chemistry\nK-1,car,agm\n", "there is no column opened_at"},
		{"jobs: time", "tag,class,chemistry,opened_at\nK-1,car,agm,yesterday\n", `line 2, column opened_at: "yesterday" is no time`},
		{"jobs: other class", "tag,class,chemistry,opened_at\nK-1,plane,agm,2026-11-27T08:00:00Z\n", "line 2, column class"},
		{"jobs: closed before", "tag,class,chemistry,opened_at,closed_at\nK-1,car,agm,2026-11-27T08:00:00Z,2026-11-27T07:59:59Z\n", "line 2, column closed_at: is before it came"},
		{"jobs: id", "id,tag,class,chemistry,opened_at\nx,K-1,car,agm,2026-11-27T08:00:00Z\n", "line 2, column id"},
		{"jobs: twice", "id,tag,class,chemistry,opened_at\n" + id1 + ",K-1,car,agm,2026-11-27T08:00:00Z\n" + id1 + ",K-1,car,agm,2026-11-27T08:00:00Z\n", "line 3, column id: stands in line 2 already"},
		{"jobs: rules", "tag,class,chemistry,opened_at,rules\nK-1,car,agm,2026-11-27T08:00:00Z,{\n", "line 2, column rules"},
		{"jobs: rule out of range", "tag,class,chemistry,opened_at,rules\nK-1,car,agm,2026-11-27T08:00:00Z,\"{\"\"load_test_min_soc_pct\"\":7}\"\n", "line 2, column rules"},
		{"readings: kind", "job,kind\n" + id1 + ",guess\n", `line 2, column kind: "guess" is no kind`},
		{"readings: no job", "job,kind\n,rest_voltage\n", "line 2, column job"},
		{"readings: not its field", "job,kind,colour\n" + id1 + ",rest_voltage,green\n", "line 2, column colour: does not belong"},
		{"readings: no number", "job,kind,volts\n" + id1 + ",rest_voltage,high\n", `line 2, column volts: "high" is not a number`},
		{"readings: time", "job,kind,volts,at\n" + id1 + ",rest_voltage,12.6,noon\n", "line 2, column at"},
		{"readings: flag", "job,kind,started\n" + id1 + ",jump_result,perhaps\n", "line 2, column started"},
		{"batteries: twice", "tag,chemistry\nK-1,agm\nk-1,agm\n", "line 3, column tag: \"k-1\" stands in line 2 already"},
		{"batteries: chemistry", "tag,chemistry\nK-1,zinc\n", "line 2, column chemistry"},
	} {
		read := map[string]func([]byte) (int, error){
			"jobs":      func(b []byte) (int, error) { v, err := ReadJobs(b); return len(v), err },
			"readings":  func(b []byte) (int, error) { v, err := ReadReadings(b); return len(v), err },
			"batteries": func(b []byte) (int, error) { v, err := ReadBatteries(b); return len(v), err },
		}[strings.SplitN(c.name, ":", 2)[0]]
		n, err := read([]byte(c.table))
		if err == nil || !strings.Contains(err.Error(), c.says) || n != 0 {
			t.Errorf("%s: %v, want %q", c.name, err, c.says)
		}
	}
	full := "tag,chemistry\n" + strings.Repeat("K,agm\n", MostLines+1)
	if _, err := ReadBatteries([]byte(full)); err == nil {
		t.Error("too many lines were taken")
	}
	if !slices.Contains(jobs.names(), "rules") || rules.Default().Check() != nil {
		t.Error("the rules a job was judged by are not taken out")
	}
}
