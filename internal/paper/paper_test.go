package paper

import (
	"bytes"
	"fmt"
	"image"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/words"
	"grapnel/internal/effort"
	"grapnel/internal/fatal"
	"grapnel/internal/paper/papertest"
)

var printed = time.Date(2026, 11, 27, 11, 20, 0, 0, time.UTC)

func gauge(name string) bench.Gauge {
	return bench.Gauge{Quantity: "charge", Unit: "%", Max: 100, Step: 10, Level: bench.OK, Name: name, Label: words.Say("100 % charged, 93 to 100"),
		Band: &battery.Band{Low: 93, Best: 100, High: 100}, Was: &battery.Band{Low: 20, Best: 31, High: 40},
		Notches: []bench.Notch{{At: 75, Word: words.Say("test from 75 %")}, {At: 65, Word: words.Say("eye 65 %"), Ghost: true}}}
}

func report() Report {
	return Report{Size: A4, At: printed, Workshop: "Thornwater Cooperative Garage", Tag: "K-0142", Vehicle: "Bakers’ van",
		Customer: "Łukasz Żółć · Пекарня Ωμέγα", Label: "Flooded · 650 CCA SAE · 62 Ah", Came: []string{"It came for: turns slowly."},
		Dates: "Came 26 Nov 2026, 08:10", Link: "https://bench.example/t/K-0142",
		Before: &Said{Head: "Charge it, then test again.", Text: "About half charged.", When: "26 Nov 2026, 08:30", Level: "act"},
		Now:    Said{Head: "It holds, and is charged. Back to work.", Text: "It passed its test.", Level: "ok"},
		Proof:  &Said{Head: "Proven: it starts again.", Level: "ok"}, Items: []Line{{"ok", "Stop and restart: it starts at once.", ""}},
		Gauges: []bench.Gauge{gauge("Charge"), gauge("Strength")}, Owner: "Your battery is sound.",
		Found: []Line{{"act", "12.10 V rested is about 31 %.", "Under 75 % no load test is believed."}},
		Done:  []Line{{"ok", "Charged: to full, 9 h", "26 Nov 2026, 18:00, Ines"}}, Next: []Line{{"wait", "It is looked at again on 1 October 2027.", ""}},
		Cost:  &Cost{Lines: []Amount{{"Test", "€ 15.00"}}, All: "€ 15.00", Said: "Accepted by Anna, 26 Nov 2026, 09:02."},
		Rules: []Line{{"note", "Fair test: three quarters (75 %)", ""}}}
}

// What stands in a report can be read back by another program, with its headings, its fonts
// and the letters of every alphabet it has; the code on it leads to the sheet.
func TestReport(t *testing.T) {
	raw, err := report().Print()
	fatal.On(t, err)
	f := papertest.Of(t, raw)
	if n := f.Pages(); n != 1 {
		t.Errorf("%d pages", n)
	}
	if got := f.Title(); got != "Report K-0142" {
		t.Errorf("title %q", got)
	}
	f.Embedded()
	text := f.Text()
	for _, want := range []string{"K-0142", "Bakers’ van", "Łukasz Żółć", "Пекарня Ωμέγα", "Charge it, then test again.", "Back to work.",
		"Proven: it starts again.", "12.10 V rested is about 31 %.", "€ 15.00", "Accepted by Anna", "three quarters (75 %)", "1 of 1", "100 % charged"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q is not on it:\n%s", want, text)
		}
	}
	if got := f.Tagged("H1"); !slices.Equal(got, []string{"K-0142 Bakers’ van"}) {
		t.Errorf("H1 %q", got)
	}
	want := []string{"Before the work", "Now", "Proof", "What was read", "What was found, and why", "What was done", "What to do next", "Cost",
		"Judged by these house rules"}
	if got := f.Tagged("H2"); !slices.Equal(got, want) {
		t.Errorf("H2 %q", got)
	}
	if got := f.Tagged("P"); !slices.Contains(got, "It holds, and is charged. Back to work.") {
		t.Errorf("words run together: %q", got)
	}
	if got := papertest.Code(t, papertest.Part(f.Picture(1, 200), 200, 165, 10, 35, 35)); got != "https://bench.example/t/K-0142" {
		t.Errorf("the code says %q", got)
	}
}

// However much there is to tell it has two pages, says so, and leaves out what matters least:
// the verdict, the proof and the cost are there.
func TestReportOfMuch(t *testing.T) {
	for _, n := range []int{1, 8, 30, 200} {
		r := report()
		for i := range n {
			long := strings.Repeat("a reason that takes its room on the page, ", 4)
			r.Found = append(r.Found, Line{"note", fmt.Sprintf("Finding %d", i), long})
			r.Done, r.Notes = append(r.Done, Line{"ok", fmt.Sprintf("Work %d", i), long}), append(r.Notes, Line{"note", long, "Ines"})
			r.Rules, r.Gauges = append(r.Rules, Line{"note", "A rule", long}), append(r.Gauges, gauge(fmt.Sprint("Gauge ", i)))
		}
		raw, err := r.Print()
		fatal.On(t, err)
		f := papertest.Of(t, raw)
		text := f.Text()
		if pages := f.Pages(); pages > 2 {
			t.Errorf("%d of each: %d pages", n, pages)
		}
		for _, want := range []string{"Back to work.", "Proven: it starts again.", "€ 15.00", "It is looked at again on 1 October 2027."} {
			if !strings.Contains(text, want) {
				t.Errorf("%d of each: %q is left out", n, want)
			}
		}
		if left := strings.Contains(text, "More stands on the sheet."); left != (n >= 8) {
			t.Errorf("%d of each: says that more stands on the sheet: %v", n, left)
		}
	}
}

// Odd texts break nothing: no letters, letters nobody has, one word wider than the page.
func TestReportOfOddTexts(t *testing.T) {
	for _, s := range []string{"", "漢字 😀 مرحبا", strings.Repeat("x", 900), "a\nb\tc\x00d", "(((\\)", strings.Repeat("wide words ", 200)} {
		r := report()
		r.Tag, r.Vehicle, r.Customer, r.Now.Head, r.Owner = s, s, s, s, s
		r.Found, r.Cost.Lines = []Line{{"act", s, s}}, []Amount{{s, "€ 1.00"}}
		raw, err := r.Print()
		fatal.On(t, err)
		f := papertest.Of(t, raw)
		if pages := f.Pages(); pages < 1 || pages > 2 {
			t.Errorf("%.20q: %d pages", s, pages)
		}
		f.Embedded()
	}
}

// Every code on every sheet of labels leads where it should, wherever the sheet was begun, and
// every label lies on its place.
func TestLabels(t *testing.T) {
	for _, on := range LabelSheets() {
		from := on.Places() - 2
		var all []Label
		for i := range 6 {
			tag := fmt.Sprintf("K-%04d", 140+i)
			all = append(all, Label{Tag: tag, Vehicle: "Bakers’ van", Battery: "Flooded · 650 CCA", Date: "Tested 27 Nov 2026", Next: "1 Oct 2027",
				Link: "https://bench.thornwater.example/t/" + tag, Workshop: "Thornwater Cooperative Garage", Key: i%2 == 1})
		}
		raw, err := PrintLabels(on, from, all, printed)
		fatal.On(t, err)
		f := papertest.Of(t, raw)
		if n := f.Pages(); n != 2 { // three on the first, three on the second
			t.Errorf("%s: %d pages", on.Code, n)
		}
		if size := f.Size(); strings.Contains(size, "A4") != (on.Size == A4) {
			t.Errorf("%s is %s", on.Code, size)
		}
		f.Embedded()
		dpi := effort.Of(150, 150, 300)
		pictures := []image.Image{f.Picture(1, dpi), f.Picture(2, dpi)}
		for i, l := range all {
			place := (from - 1 + i) % on.Places()
			page := 0
			if from-1+i >= on.Places() {
				page = 1
			}
			x, y := on.Left+float64(place%on.Across)*on.StepX, on.Top+float64(place/on.Across)*on.StepY
			if got := papertest.Code(t, papertest.Part(pictures[page], dpi, x, y, on.W, on.H)); got != l.Link {
				t.Errorf("%s, label %d: the code says %q", on.Code, i, got)
			}
		}
		text := f.Text()
		for _, l := range all {
			if !strings.Contains(text, l.Tag) {
				t.Errorf("%s: %s is not on it", on.Code, l.Tag)
			}
		}
		if strings.Count(text, "Next 1 Oct 2027") != 3 { // keys carry no date
			t.Errorf("%s: %s", on.Code, text)
		}
		if right, bottom := on.Left+float64(on.Across-1)*on.StepX+on.W, on.Top+float64(on.Down-1)*on.StepY+on.H; on.Size == A4 && (right > 210.01 || bottom > 297.01) ||
			on.Size == Letter && (right > 215.91 || bottom > 279.41) {
			t.Errorf("%s runs over the paper: %.1f × %.1f", on.Code, right, bottom)
		}
		for _, bad := range []int{0, -1, on.Places() + 1} {
			if _, err := PrintLabels(on, bad, all, printed); err == nil {
				t.Errorf("%s: place %d was taken", on.Code, bad)
			}
		}
	}
}

// The tag names what is to be set, each with a box, and whose it is.
func TestResetTag(t *testing.T) {
	tag := ResetTag{Size: Letter, At: printed, Workshop: "Thornwater", Tag: "K-0142", Vehicle: "Bakers’ van", Date: "27 Nov 2026", Why: "The battery was off.",
		Left: []string{"Clock", "Radio code", "Windows, each held up and down"}, Done: []string{"The new battery told to its monitor"}, Foot: "As the maker’s handbook says."}
	raw, err := tag.Print()
	fatal.On(t, err)
	f := papertest.Of(t, raw)
	f.Embedded()
	text := f.Text()
	for _, want := range []string{"Set these again", "Clock", "Radio code", "Windows, each held up and down", "Set already", "The new battery told", "K-0142", "handbook"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q is not on it: %s", want, text)
		}
	}
	if f.Pages() != 1 || !slices.Equal(f.Tagged("H1"), []string{"Set these again"}) {
		t.Errorf("%d pages, H1 %q", f.Pages(), f.Tagged("H1"))
	}
	tag.Left = nil
	for range 15 { // all there is
		tag.Left = append(tag.Left, "Readiness monitors: an emissions test fails until they have run")
	}
	if raw, err = tag.Print(); err != nil || papertest.Of(t, raw).Pages() != 1 {
		t.Errorf("all there is: %v", err)
	}
}

// A dipstick tells what it shows to whoever cannot see it.
func TestStickIsTold(t *testing.T) {
	raw, err := report().Print()
	fatal.On(t, err)
	for _, want := range []string{"Charge: 100 % charged, 93 to 100, 31 % before", "Opens the sheet of K-0142"} {
		if !altOf(t, raw, want) {
			t.Errorf("no picture is told as %q", want)
		}
	}
}

// altOf reports whether a picture in a file is told so: as UTF-16 in its tree.
func altOf(t *testing.T, raw []byte, want string) bool {
	t.Helper()
	ctx, err := api.ReadContext(bytes.NewReader(raw), nil)
	fatal.On(t, err)
	for _, entry := range ctx.Table {
		d, ok := entry.Object.(types.Dict)
		if !ok || d["Alt"] == nil {
			continue
		}
		if text, err := types.StringOrHexLiteral(d["Alt"]); err == nil && text != nil && *text == want {
			return true
		}
	}
	return false
}

func BenchmarkPrint(b *testing.B) {
	r := report()
	for range 10 {
		r.Found = append(r.Found, r.Found[0])
	}
	for b.Loop() {
		if _, err := r.Print(); err != nil {
			b.Fatal(err)
		}
	}
}
