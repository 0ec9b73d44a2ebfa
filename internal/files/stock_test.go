package files

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"reflect"
	"strings"
	"testing"

	"grapnel/core/document"
	"grapnel/core/fit"
)

func ptr(v float64) *float64 { return &v }

// A shelf written and read is the same shelf, whatever its words are.
func TestRoundTrip(t *testing.T) {
	full := fit.Item{Tag: "S-01", Chemistry: "efb", Volts: 12, Group: "L2", SizeMM: []float64{242, 175, 190.5},
		HoldDown: "base", Positive: "right", Terminals: "top",
		Vent: "both", Made: "2026-08", DryCharge: true, Tested: &fit.Tested{RestVolts: 12.74, BatteryC: ptr(-3.5), CCA: 660,
			Standard: "EN", On: "2026-11-20", Verdict: "good"}}
	full.Rating.CCA, full.Rating.Standard, full.Rating.Ah20h, full.Rating.RCMin = ptr(680), "EN", ptr(65), ptr(110)
	full.Rating.CA, full.Rating.ChargeAmps = ptr(850), ptr(6.5)
	items := []fit.Item{full, {Tag: "bare", Chemistry: "agm"}}
	for i, odd := range []string{"=HYPERLINK(\"x\")", "+1", "-2", "@SUM(A1)", "'quoted", "a,b;c", `say "so"`, "ÄÖ 漢字", "'=1"} {
		items = append(items, fit.Item{Tag: odd, Chemistry: "gel", Made: fmt.Sprintf("2026-%02d", i+1)})
	}
	var out bytes.Buffer
	if err := WriteStock(&out, items); err != nil {
		t.Fatal(err)
	}
	rows, err := csv.NewReader(bytes.NewReader(out.Bytes())).ReadAll()
	if err != nil || len(rows) != len(items)+1 {
		t.Fatalf("%d rows: %v", len(rows), err)
	}
	for _, row := range rows {
		for _, cell := range row {
			if cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])) && cell != "-3.5" {
				t.Errorf("a spreadsheet would run %q", cell)
			}
		}
	}
	back, err := ReadStock(out.Bytes())
	if err != nil {
		t.Fatal(err)
	}
	for i := range items {
		if !reflect.DeepEqual(items[i], back[i]) {
			t.Errorf("out\n%+v\nback\n%+v", items[i], back[i])
		}
	}
	if got := strings.Count(out.String(), "\r\n"); got != len(items)+1 {
		t.Errorf("%d lines end as RFC 4180 asks", got)
	}
}

// Tables as other programs write them.
func TestOtherTables(t *testing.T) {
	for name, table := range map[string]string{
		"commas":        "tag,chemistry,rest_volts\nS-01,agm,12.74\n",
		"semicolons":    "tag;chemistry;rest_volts\nS-01;agm;12,74\n",
		"tabs":          "tag\tchemistry\trest_volts\nS-01\tagm\t12.74\n",
		"a mark":        "\ufefftag,chemistry,rest_volts\nS-01,agm,12.74\n",
		"another order": "Rest_Volts, Chemistry ,TAG\n12.74,agm,S-01\n",
		"empty lines":   "tag,chemistry,rest_volts\n\n,,\nS-01,agm,12.74\n,,\n",
		"fewer cells":   "tag,chemistry,rest_volts,made\nS-01,agm,12.74\n",
		"quoted":        "\"tag\",\"chemistry\",\"rest_volts\"\r\n\"S-01\",\"agm\",\"12.74\"\r\n",
	} {
		got, err := ReadStock([]byte(table))
		if err != nil || len(got) != 1 || got[0].Tag != "S-01" || got[0].Tested == nil || got[0].Tested.RestVolts != 12.74 {
			t.Errorf("%s: %+v, %v", name, got, err)
		}
	}
}

// What is wrong is named by line and column, and nothing is taken.
func TestBadTables(t *testing.T) {
	var many strings.Builder
	many.WriteString("tag,chemistry\n")
	for i := range fit.MostStock + 1 {
		fmt.Fprintf(&many, "S-%d,agm\n", i)
	}
	for table, says := range map[string]string{
		"":                                            "the file is empty",
		" \r\n":                                       "the file is empty",
		"tag,chemistry\n":                             "has no battery under them",
		"tag\nS-01\n":                                 "there is no column chemistry",
		"chemistry\nagm\n":                            "there is no column tag",
		"tag,chemistry,colour\nS-01,agm,red\n":        `line 1, column 3: "colour" is no column here`,
		"tag,chemistry,tag\nS-01,agm,S-02\n":          `line 1, column 3: "tag" stands twice`,
		"tag,chemistry\nS-01,agm\n,agm\n":             "line 3, column tag: is missing",
		"tag,chemistry\nS-01,agm\ns-01,agm\n":         "line 3, column tag: \"s-01\" stands in line 2 already",
		"tag,chemistry,cca\nS-01,agm,many\n":          `line 2, column cca: "many" is not a number`,
		"tag,chemistry,cca\nS-01,agm,1e999\n":         `line 2, column cca: "1e999" is not a number`,
		"tag,chemistry,cca\nS-01,agm,0x1F\n":          `line 2, column cca: "0x1F" is not a number`,
		"tag,chemistry,cca\nS-01,agm,2\n":             "line 2, column cca: 2 is outside 5 to 3000 A",
		"tag,chemistry,length_mm\nS-01,agm,242\n":     "say all three, or none",
		"tag,chemistry,dry_charged\nS-01,agm,wet\n":   `column dry_charged: "wet" is not yes or no`,
		"tag,chemistry\nS-01,agm,x\n":                 "line 2, column 3: has no name in line 1",
		"tag,chemistry\n\"S-01,agm\n":                 "broken table",
		"tag,chemistry\n\xff\xfe,agm\n":               "UTF-8",
		strings.Repeat("tag,", 101) + "\n":            "line 1: has 102 cells",
		"tag,chemistry\n" + strings.Repeat("a,", 150): "line 2: has 151 cells; at most 100",
		many.String():                                 "more than 500",
	} {
		got, err := ReadStock([]byte(table))
		var problems document.Problems
		if got != nil || !errors.As(err, &problems) || !strings.Contains(err.Error(), says) {
			t.Errorf("%.60q: %d taken, %v; want %q", table, len(got), err, says)
		}
	}
}

func FuzzReadStock(f *testing.F) {
	f.Add([]byte("tag;chemistry;rest_volts\nS-01;agm;12,74\n"))
	f.Add([]byte("tag,chemistry\n'=1,agm\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		items, err := ReadStock(data)
		if err != nil {
			return
		}
		var out bytes.Buffer
		if err := WriteStock(&out, items); err != nil {
			t.Fatal(err)
		}
		back, err := ReadStock(out.Bytes())
		if err != nil || len(back) != len(items) {
			t.Fatalf("%q: %v", data, err)
		}
		for i := range items {
			if back[i].Tag != items[i].Tag {
				t.Fatalf("%q came back as %q", items[i].Tag, back[i].Tag)
			}
		}
	})
}
