package record

import (
	"os"
	"regexp"
	"strings"
	"testing"
)

// What Grapnel says of the cases is what the record holds. Where it differs, the
// first few cases are shown in full, old against new.
func TestRecordHolds(t *testing.T) {
	want, err := os.ReadFile("testdata/record.txt")
	if err != nil {
		t.Fatal(err)
	}
	before := read(string(want))
	cases, b, err := judgeAll(step())
	if err != nil {
		t.Fatal(err)
	}
	if len(before.cases) != Count || len(cases) != Count {
		t.Fatalf("the record holds %d cases, %d were judged", len(before.cases), len(cases))
	}
	after := recorded{templates: b.templates, cases: cases}
	docs := Documents()
	differ := 0
	for i := 0; i < Count; i += step() {
		cases[i] = strings.TrimSuffix(cases[i], "\n")
		if before.cases[i] == cases[i] {
			continue
		}
		if differ++; differ <= 5 {
			t.Errorf("case %d\n%s\n%s", i, docs[i].Case, difference(before.spoken(i), after.spoken(i)))
		}
	}
	if differ == 0 {
		return
	}
	t.Fatalf(
		"%d of %d cases are judged otherwise than the record says. If that is meant, `make record` writes it anew; "+
			"name in the commit what changed",
		differ,
		Count,
	)
}

// recorded is a record read back.
type recorded struct {
	templates map[string]string
	cases     []string
}

func read(text string) recorded {
	parts := strings.Split(text, "\n\n")
	r := recorded{templates: map[string]string{}}
	for _, l := range strings.Split(parts[0], "\n") {
		if name, template, ok := strings.Cut(l, " "); ok {
			r.templates[name] = template
		}
	}
	for _, c := range parts[1:] {
		r.cases = append(r.cases, strings.TrimSuffix(c, "\n"))
	}
	return r
}

var named = regexp.MustCompile(`\b([a-z2-7]{6})(?:\(([^)]*)\))?`)

// spoken is a case with its sentences written out.
func (r recorded) spoken(i int) []string {
	var out []string
	for _, l := range strings.Split(r.cases[i], "\n") {
		out = append(out, named.ReplaceAllStringFunc(l, func(m string) string {
			part := named.FindStringSubmatch(m)
			template, ok := r.templates[part[1]]
			if !ok {
				return m
			}
			figures := strings.Fields(part[2])
			for _, f := range figures {
				template = strings.Replace(template, "#", f, 1)
			}
			return "“" + template + "”"
		}))
	}
	return out
}

// difference lists the lines that one side has and the other has not.
func difference(before, after []string) string {
	count := map[string]int{}
	for _, l := range before {
		count[l]++
	}
	for _, l := range after {
		count[l]--
	}
	var out []string
	for _, l := range before {
		if count[l] > 0 {
			out = append(out, "- "+l)
		}
	}
	for _, l := range after {
		if count[l] < 0 {
			out = append(out, "+ "+l)
		}
	}
	return strings.Join(out, "\n")
}

// A record that shows nothing of a verdict, or of a class of finding, guards
// nothing there.
func TestRecordIsVaried(t *testing.T) {
	text, err := os.ReadFile("testdata/record.txt")
	if err != nil {
		t.Fatal(err)
	}
	for _, code := range []string{"good", "good_after_charge", "charge_and_retest", "replace", "stop",
		"look_elsewhere", "more_readings"} {
		if n := strings.Count(string(text), " "+code+" "); n < 10 {
			t.Errorf("verdict %s stands %d times in the record", code, n)
		}
	}
	for _, code := range []string{"rest_voltage.low_after_full_charge", "load_test.narrow",
		"load_test.light", "freeze.frozen", "freeze.doubt",
		"freeze.margin", "strength.disagree", "strength.agree", "rating.doubt", "rating.converted", "contacts.clean_first", "return.charge_first", "rest_voltage.five_cells"} {
		if n := strings.Count(string(text), " "+code+" "); n < 8 {
			t.Errorf("finding %s stands %d times in the record", code, n)
		}
	}
}
