package paper

import (
	"time"

	"codeberg.org/go-pdf/fpdf"
)

// ResetTag hangs on the mirror: what the owner has to set again.
type ResetTag struct {
	Size     Size
	At       time.Time
	Workshop string
	Tag      string
	Vehicle  string
	Date     string
	Why      string
	Left     []string // what the owner sets
	Done     []string // what was set already
	Foot     string   // by whose instructions
}

// tagW and tagH are the tag, mm: a third of a sheet, cut out along its line.
const (
	tagW = 92.0
	tagH = 232.0
	hook = 34.0 // the opening that goes over the mirror's stem
)

// Print draws the tag on a sheet, with the line to cut along.
func (t ResetTag) Print() ([]byte, error) {
	s := newSheet(t.Size, "Reset tag "+t.Tag, t.At)
	s.AddPage()
	pw, ph := s.GetPageSize()
	x, y := (pw-tagW)/2, (ph-tagH)/2
	s.artifact(func() {
		s.draws(soft, 0.3)
		s.SetDashPattern([]float64{2, 1.5}, 0)
		s.RoundedRect(x, y, tagW, tagH, 6, "1234", "D")
		s.Circle(x+tagW/2, y+hook/2+3, hook/2-3, "D")
		s.Polygon([]fpdf.PointType{{X: x + tagW/2 + 6, Y: y + 9}, {X: x + tagW, Y: y + 14}}, "D") // slit to slip it over
		s.SetDashPattern(nil, 0)
		s.fills(copper)
		s.Rect(x, y+hook+4, tagW, 3, "F")
	})
	in, w := x+7, tagW-14
	at := y + hook + 12
	text := func(is string, st style, what string) {
		s.as(is, "", func() { at = s.block(in, at, w, st, what) })
	}
	text(isTitle, style{black, 27, dark}, "Set these again")
	at += 1
	text(isText, style{plain, 10.5, dark}, t.Why)
	at += 4
	for _, one := range t.Left {
		st := style{bold, 15, dark}
		lines := s.broken(st, one, w-12)
		if at+float64(len(lines))*lead(st)+2 > y+tagH-40 {
			st = style{bold, 11, dark}
		}
		s.artifact(func() {
			s.draws(dark, 0.6)
			s.Rect(in, at+1, 6.5, 6.5, "D")
		})
		s.as(isText, "", func() { at = max(s.block(in+11, at, w-11, st, one), at+8) })
		at += 2.6
	}
	if len(t.Done) > 0 {
		at += 1
		text(isHeading, style{bold, 9.5, soft}, "Set already")
		for _, one := range t.Done {
			text(isText, style{plain, 10, soft}, one)
		}
	}
	at = y + tagH - 30
	s.rule(in, in+w, at, line, 0.3)
	at += 1.5
	text(isText, style{plain, 8.5, soft}, t.Foot)
	at = y + tagH - 13
	s.as(isText, "", func() {
		s.put(in, at, style{bold, 9.5, dark}, s.short(style{bold, 9.5, dark}, t.Tag+" · "+t.Vehicle, w))
	})
	s.as(isText, "", func() {
		s.put(in, at+5, style{plain, 8.5, soft}, s.short(style{plain, 8.5, soft}, t.Workshop+" · "+t.Date, w))
	})
	return s.finished()
}
