package paper

import (
	"fmt"
	"strings"
	"time"
)

// LabelSheet is a sheet of labels as shops sell them, by its measures in mm: common sizes,
// from memory; a shop measures its own and prints one on plain paper first.
type LabelSheet struct {
	Code   string  `json:"code"`
	Name   string  `json:"name"`
	Size   Size    `json:"size" enum:"A4,Letter"`
	Across int     `json:"across"`
	Down   int     `json:"down"`
	W      float64 `json:"label_w_mm"`
	H      float64 `json:"label_h_mm"`
	Left   float64 `json:"left_mm"`
	Top    float64 `json:"top_mm"`
	StepX  float64 `json:"step_x_mm"`
	StepY  float64 `json:"step_y_mm"`
}

// Places is how many labels a sheet has.
func (l LabelSheet) Places() int { return l.Across * l.Down }

var labelSheets = []LabelSheet{
	{Code: "a4-21", Name: "A4, 21 labels of 63.5 × 38.1 mm", Size: A4, Across: 3, Down: 7, W: 63.5, H: 38.1, Left: 7.2, Top: 15.1, StepX: 66, StepY: 38.1},
	{Code: "a4-24", Name: "A4, 24 labels of 70 × 37 mm", Size: A4, Across: 3, Down: 8, W: 70, H: 37, Left: 0, Top: 0.5, StepX: 70, StepY: 37},
	{Code: "a4-65", Name: "A4, 65 labels of 38.1 × 21.2 mm, for keys", Size: A4, Across: 5, Down: 13, W: 38.1, H: 21.2, Left: 4.7, Top: 10.7, StepX: 40.6, StepY: 21.2},
	{Code: "letter-10", Name: "Letter, 10 labels of 4 × 2 in", Size: Letter, Across: 2, Down: 5, W: 101.6, H: 50.8, Left: 4, Top: 12.7, StepX: 106.4, StepY: 50.8},
	{Code: "letter-30", Name: "Letter, 30 labels of 2⅝ × 1 in", Size: Letter, Across: 3, Down: 10, W: 66.7, H: 25.4, Left: 4.8, Top: 12.7, StepX: 69.8, StepY: 25.4},
}

// LabelSheets gives the sheets that can be printed on. The caller may keep it.
func LabelSheets() []LabelSheet { return append([]LabelSheet{}, labelSheets...) }

// LabelSheetOf gives the sheet of a code.
func LabelSheetOf(code string) (LabelSheet, bool) {
	for _, l := range labelSheets {
		if l.Code == code {
			return l, true
		}
	}
	return LabelSheet{}, false
}

// Label is what stands on a label: of a battery, or of the key of its vehicle.
type Label struct {
	Tag      string
	Vehicle  string
	Battery  string // chemistry and rating, in short
	Date     string // of the work
	Next     string // when it is looked at again; empty where nobody has said
	Link     string // opens the sheet
	Workshop string
	Key      bool // a key tag
}

// PrintLabels draws labels on sheets, the first on place from of the first, counted from 1:
// what was used before is left out.
func PrintLabels(on LabelSheet, from int, all []Label, at time.Time) ([]byte, error) {
	if from < 1 || from > on.Places() {
		return nil, fmt.Errorf("a sheet has places 1 to %d; this is %d", on.Places(), from)
	}
	tags := make([]string, 0, len(all))
	for _, l := range all {
		tags = append(tags, l.Tag)
	}
	s := newSheet(on.Size, "Labels "+strings.Join(tags[:min(4, len(tags))], ", "), at)
	for i, l := range all {
		place := (from - 1 + i) % on.Places()
		if i == 0 || place == 0 {
			s.AddPage()
		}
		x := on.Left + float64(place%on.Across)*on.StepX
		y := on.Top + float64(place/on.Across)*on.StepY
		s.label(x, y, on.W, on.H, l)
	}
	return s.finished()
}

// inset is kept free round a label: printers are off by a millimetre or two.
const inset = 2.2

func (s *sheet) label(x, y, w, h float64, l Label) {
	x, y, w, h = x+inset, y+inset, w-2*inset, h-2*inset
	bottom := y + h
	small := h < 20
	side := min(h, w*0.42)
	if small {
		side = min(h, w*0.4)
	}
	s.qr(x+w-side, y+(h-side)/2, side, l.Link, "Opens the sheet of "+l.Tag)
	room := w - side - 1.5
	s.as(isTitle, "", func() {
		size := min(26, 0.95*h)
		if small {
			size = 15
		}
		st := s.fit(style{black, size, dark}, l.Tag, room, 7)
		s.put(x, y+st.size*0.3528*0.86, st, s.short(st, l.Tag, room))
		y += st.size*0.3528*0.86 + 0.6
	})
	for _, one := range l.lines(small) {
		st := s.fit(one.st, one.text, room, 5.5)
		text := s.short(st, one.text, room)
		if text == "" || y+lead(st)*0.8 > bottom+0.2 {
			continue // no room: what matters more stands above
		}
		s.as(isText, "", func() { s.put(x, y+lead(st)*0.78, st, text) })
		y += lead(st) * 0.98
	}
}

// labelLine is a line of a label, the one that matters most first.
type labelLine struct {
	text string
	st   style
}

func (l Label) lines(small bool) []labelLine {
	vehicle, workshop := labelLine{l.Vehicle, style{bold, 9, dark}}, labelLine{l.Workshop, style{plain, 6.5, soft}}
	next := labelLine{nextLook(l.Next), style{bold, 8, copper}}
	switch {
	case l.Key && small:
		return []labelLine{{l.Vehicle, style{bold, 8, dark}}, workshop}
	case l.Key:
		return []labelLine{{l.Vehicle, style{bold, 12, dark}}, workshop}
	case small:
		next.st.size = 7
		return []labelLine{{l.Vehicle, style{bold, 7.5, dark}}, {l.Date, style{plain, 7, dark}}, next}
	}
	return []labelLine{vehicle, {l.Date, style{plain, 7.5, dark}}, next, {l.Battery, style{plain, 7.5, dark}}, workshop}
}

func nextLook(on string) string {
	if on == "" {
		return ""
	}
	return "Next " + on
}
