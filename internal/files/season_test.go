package files

import (
	"bytes"
	"reflect"
	"strings"
	"testing"

	"grapnel/core/season"
)

// Weather in, with what is wrong in its place.
func TestReadWeather(t *testing.T) {
	days, err := ReadWeather([]byte("Date;mean_c;low_c\n2026-12-01;-3,5;-9\n2026-12-02;;-11,25\n\n"))
	if err != nil || len(days) != 2 || days[0].LowC != -9 || *days[0].MeanC != -3.5 || days[1].LowC != -11.25 ||
		days[1].MeanC != nil {
		t.Fatalf("%+v, %v", days, err)
	}
	for in, says := range map[string]string{
		"": "the file is empty", "date,low_c\n": "has no day under them", "day,low_c\n2026-12-01,1\n": `"day" is no column here`,
		"date\n2026-12-01\n": "there is no column low_c: every day has one", "date,low_c\n1.12.2026,-4\n": "line 2, column date",
		"date,low_c\n2026-12-01,cold\n": `line 2, column low_c: "cold" is not a number`, "date,low_c\n2026-12-01,-61\n": "line 2, column low_c",
		"date,low_c\n2026-12-01,-4\n2026-12-01,-5\n":                      "line 3, column date: 2026-12-01 stands in line 2 already",
		"date,low_c\n" + strings.Repeat("2026-12-01,-4\n", MostWeather+1): "stands in line 2 already",
	} {
		if _, err := ReadWeather([]byte(in)); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%.40q: %v", in, err)
		}
	}
}

func TestReadClimate(t *testing.T) {
	var whole strings.Builder
	whole.WriteString("month,mean_c,low_c\n")
	for _, line := range strings.Fields("1,-2,-14 2,0,-11 3,4,-6 4,8,-1 5,13,3 6,17,7 7,19,10 8,18,9 9,14,5 10,9,0 11,4,-5 12,0,-11") {
		whole.WriteString(line + "\n")
	}
	o, err := ReadClimate([]byte(whole.String()))
	if err != nil || o.Mean[6] != 19 || o.Low[0] != -14 {
		t.Fatalf("%+v, %v", o, err)
	}
	for in, says := range map[string]string{
		strings.Replace(whole.String(), "12,0,-11\n", "", 1):          "12 is missing",
		strings.Replace(whole.String(), "12,0", "11,0", 1):            "line 13, column month: 11 stands twice",
		strings.Replace(whole.String(), "12,0", "13,0", 1):            "line 13, column month",
		strings.Replace(whole.String(), "1,-2,-14", "1,-14,-2", 1):    "coldest night of January, -2 °C, is warmer",
		strings.Replace(whole.String(), "1,-2,-14", "1.5,-14,-20", 1): "line 2, column month",
		strings.Replace(whole.String(), "month,mean_c", "month,m", 1): `"m" is no column here`,
		whole.String() + "1,0,0\n":                                    "more than twelve months",
	} {
		if _, err := ReadClimate([]byte(in)); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%q: %v", says, err)
		}
	}
}

// A lot written and read is the same lot; what a line leaves out is as usual.
func TestLot(t *testing.T) {
	usual := season.Stored{
		Start:  season.Start{SOCPct: 100, HealthPct: 100},
		From:   "2026-10-01",
		To:     "2027-04-01",
		AtHand: []string{"mains"},
		Way:    "connected",
		Lot:    "North",
	}
	in := "tag,vehicle,chemistry,ah_20h,row,bay,promised,arrived\nL-1,Van 1,agm,70,A,3,2026-12-01,2026-11-20\n,=Car,flooded_sealed,60,B,12,,\n"
	all, err := ReadLot([]byte(in), usual)
	if err != nil {
		t.Fatal(err)
	}
	if d := all[0]; d.Battery.Tag != "L-1" || d.Vehicle.Class != "car" || d.Lot != "North" || d.Row != "A" || d.Bay != 3 || d.Promised != "2026-12-01" || d.Arrived != "2026-11-20" ||
		d.Start.SOCPct != 100 || d.To != "2027-04-01" ||
		*d.Battery.Rating.Ah20h != 70 {
		t.Errorf("%+v", d)
	}
	var out bytes.Buffer
	if err := WriteLot(&out, all); err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(out.String(), "'=Car") {
		t.Errorf("a spreadsheet would run %s", out.String())
	}
	back, err := ReadLot(out.Bytes(), usual)
	if err != nil || !reflect.DeepEqual(all, back) {
		t.Errorf("%v\n%+v\n%+v", err, all, back)
	}
	for in, says := range map[string]string{
		"tag\nL-1\n": "there is no column chemistry", "chemistry,bay\nagm,1.5\n": "line 2, column bay", "chemistry,bay\nagm,10000\n": "line 2, column bay",
		"chemistry,tag\nagm,L-1\nagm,l-1\n": "line 3, column tag: \"l-1\" stands in line 2 already", "chemistry,promised\nagm,soon\n": "line 2, column promised",
		"chemistry,way\nagm,indoors\n": "line 2, column way: Take it indoors: say in at_hand", "chemistry,class\nagm,spaceship\n": "line 2, column class",
		"chemistry,from\nagm,2027-05-01\n": "line 2, column to",
	} {
		if _, err := ReadLot([]byte(in), usual); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%q: %v", in, err)
		}
	}
}

func FuzzReadLot(f *testing.F) {
	f.Add([]byte("chemistry;tag;bay\nagm;L-1;3\n"))
	f.Add([]byte("chemistry,vehicle\nagm,{}\n,,,\n"))
	usual := season.Stored{
		Start:  season.Start{SOCPct: 100},
		From:   "2026-10-01",
		To:     "2027-04-01",
		AtHand: []string{"mains"},
		Way:    "connected",
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		all, err := ReadLot(data, usual)
		if err == nil && len(all) == 0 {
			t.Error("neither batteries nor an error")
		}
		_, _ = ReadWeather(data)
		_, _ = ReadClimate(data)
	})
}
