package paper

import (
	"codeberg.org/go-pdf/fpdf"

	"grapnel/core/bench"
	"grapnel/core/words"
)

// stickHeight is what a dipstick takes, mm.
const stickHeight = 21.0

// stick draws a gauge as the sheet does: a stick with a cut end, wetted up to the reading,
// hatched where it is uncertain; notches are limits, those of the other school without a
// body; what it was before the work is a dashed mark with an arrow.
func (s *sheet) stick(x, y, w float64, g bench.Gauge, v words.Voice) {
	alt := g.Name + ": " + g.Label.In(v).String()
	if g.Was != nil {
		alt += ", " + v.Figure(digits(g.Was.Best, g.Digits)) + " " + g.Unit + " before"
	}
	s.as(isFigure, alt, func() {
		s.put(x, y+3.2, style{bold, 8.5, dark}, s.short(style{bold, 8.5, dark}, g.Name, w*0.5))
		left, right, top, h := x+5.5, x+w-1, y+9.6, 3.6
		at := func(value float64) float64 {
			value = min(max(value, g.Min), g.Max)
			return left + (value-g.Min)/(g.Max-g.Min)*(right-left-3.2)
		}
		s.draws(dark, 0.6)
		s.Circle(x+2.2, top+h/2, 1.8, "D")
		outline := []fpdf.PointType{{X: left, Y: top}, {X: right - 2.8, Y: top}, {X: right, Y: top + h}, {X: left, Y: top + h}}
		s.ClipPolygon(outline, false)
		s.fills(wet)
		s.Rect(left, top, max(0, at(g.Band.Low)-left), h, "F")
		lo, hi := at(g.Band.Low), max(at(g.Band.Low)+0.7, at(g.Band.High))
		s.draws(wet, 0.45)
		for d := lo - h; d < hi; d += 1.1 {
			s.Line(max(lo, d), min(top+h, top+h-(max(lo, d)-d)), min(hi, d+h), max(top, top+h-(min(hi, d+h)-d)))
		}
		s.ClipEnd()
		s.draws(dark, 0.35)
		s.Polygon(outline, "D")
		s.draws(soft, 0.2)
		for value := g.Min; value <= g.Max+1e-9 && g.Step > 0; value += g.Step {
			s.Line(at(value), top, at(value), top-1.1)
		}
		s.notches(g, v, at, x, w, top+h)
		if g.Was != nil {
			s.was(at(g.Was.Best), at(g.Band.Best), top, h)
		}
		c := signInk[string(g.Level)]
		s.draws(c, 0.6)
		s.Line(at(g.Band.Best), top-2, at(g.Band.Best), top+h)
		st := style{black, 9.5, c}
		label := g.Label.In(v).String()
		st = s.fit(st, label, w*0.62, 7)
		half := s.wide(st, label) / 2
		s.put(min(max(at(g.Band.Best)-half, x+w*0.36), x+w-2*half), top-3, st, label)
	})
}

// notches draws the limits of a gauge with the words that find room under them.
func (s *sheet) notches(g bench.Gauge, v words.Voice, at func(float64) float64, x, w, y float64) {
	end := x - 1
	for _, n := range g.Notches {
		if n.At < g.Min || n.At > g.Max {
			continue
		}
		mx := at(n.At)
		tip := []fpdf.PointType{{X: mx - 1.3, Y: y}, {X: mx, Y: y - 1.9}, {X: mx + 1.3, Y: y}}
		s.fills(white)
		s.draws(dark, 0.3)
		st := style{plain, 7, dark}
		if n.Ghost {
			s.draws(soft, 0.25)
			s.SetDashPattern([]float64{0.7, 0.5}, 0)
			st.ink = soft
		}
		s.Polygon(tip, "FD")
		s.SetDashPattern(nil, 0)
		word := n.Word.In(v).String()
		half := s.wide(st, word) / 2
		from := min(max(mx-half, x), x+w-2*half)
		if from < end+1.2 {
			continue // it stands on the sheet
		}
		s.put(from, y+3.1, st, word)
		end = from + 2*half
	}
}

// was marks what it was before, with an arrow to what it is.
func (s *sheet) was(from, to, top, h float64) {
	s.draws(soft, 0.45)
	s.SetDashPattern([]float64{0.9, 0.6}, 0)
	s.Line(from, top-1.6, from, top+h+0.6)
	s.SetDashPattern(nil, 0)
	if d := to - from; d > 4 || d < -4 {
		way := 1.0
		if d < 0 {
			way = -1
		}
		tip := to - way*1.2
		s.Line(from, top-1.5, tip, top-1.5)
		s.Line(tip-way*1.2, top-2.3, tip, top-1.5)
		s.Line(tip-way*1.2, top-0.7, tip, top-1.5)
	}
}
