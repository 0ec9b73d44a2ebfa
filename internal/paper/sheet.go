package paper

import (
	"bytes"
	_ "embed"
	"fmt"
	"strings"
	"sync"
	"time"
	"unicode"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/sfnt"
)

//go:embed fonts/archivo-regular.ttf
var regular []byte

//go:embed fonts/archivo-semibold.ttf
var semibold []byte

//go:embed fonts/archivo-heavy.ttf
var heavy []byte

// other has the letters that the house's own font does not.
//
//go:embed fonts/dejavu-sans.ttf
var other []byte

// face is a font by the name it has in the file.
type face string

const (
	plain  face = "archivo"
	bold   face = "archivo-semibold"
	black  face = "archivo-heavy"
	spare  face = "dejavu"
	faceIn      = "" // no style: each weight is a font of its own
)

var faceBytes = map[face][]byte{plain: regular, bold: semibold, black: heavy, spare: other}

// has reports whether a font has a letter.
var has = func() func(f face, r rune) bool {
	load := map[face]func() *sfnt.Font{}
	for f, raw := range faceBytes {
		load[f] = sync.OnceValue(func() *sfnt.Font {
			font, err := sfnt.Parse(raw)
			if err != nil {
				panic(err) // it comes with the program
			}
			return font
		})
	}
	var mu sync.Mutex
	var b sfnt.Buffer
	known := map[face]map[rune]bool{}
	return func(f face, r rune) bool {
		mu.Lock()
		defer mu.Unlock()
		if known[f] == nil {
			known[f] = map[rune]bool{}
		}
		is, seen := known[f][r]
		if !seen {
			i, err := load[f]().GlyphIndex(&b, r)
			is = err == nil && i != 0
			known[f][r] = is
		}
		return is
	}
}()

// ink is a colour.
type ink [3]int

// The colours of the house, as they print.
var (
	dark      = ink{23, 39, 46}
	soft      = ink{86, 103, 108}
	line      = ink{200, 192, 176}
	copper    = ink{169, 80, 42}
	verdigris = ink{44, 117, 103}
	oxide     = ink{142, 42, 34}
	slate     = ink{61, 91, 120}
	wet       = ink{143, 174, 166}
	white     = ink{255, 255, 255}
)

// Size is what is printed on.
type Size string

// The sizes of paper.
const (
	A4     Size = "A4"
	Letter Size = "Letter"
)

// sheet is a document that is being drawn, in mm from the upper left.
type sheet struct {
	*fpdf.Fpdf
	tags   tags
	faces  map[face]bool
	marked bool // a piece is being drawn
	// letters are widths in mm at one point
	letters map[letterOf]float64
}

type style struct {
	face face
	size float64 // points
	ink  ink
}

// newSheet begins a document of a title in English.
func newSheet(size Size, title string, at time.Time) *sheet {
	f := fpdf.New("P", "mm", string(size), "")
	s := &sheet{Fpdf: f, faces: map[face]bool{}}
	f.SetTitle(title, true)
	f.SetLang("en")
	f.SetCreator("Grapnel", true)
	f.SetProducer("Grapnel", true)
	f.SetCreationDate(at)
	f.SetModificationDate(at)
	f.SetCatalogSort(true)
	f.SetCompression(true)
	f.SetAutoPageBreak(false, 0)
	f.SetMargins(0, 0, 0)
	f.SetCellMargin(0)
	return s
}

func (s *sheet) use(f face, size float64) {
	if !s.faces[f] {
		s.AddUTF8FontFromBytes(string(f), faceIn, faceBytes[f])
		s.faces[f] = true
	}
	s.SetFont(string(f), faceIn, size)
}

// run is a piece of text that one font has the letters of.
type run struct {
	face face
	text string
}

// runs parts a text by the fonts that have its letters; what none has stands as a box.
func runs(f face, text string) []run {
	var out []run
	for _, r := range text {
		one := f
		switch {
		case unicode.IsControl(r):
			continue
		case r > 0xFFFF: // beyond what the file's fonts can be asked for
			one, r = spare, '□'
		case has(f, r):
		case has(spare, r):
			one = spare
		default:
			one, r = spare, '□'
		}
		if n := len(out); n > 0 && out[n-1].face == one {
			out[n-1].text += string(r)
		} else {
			out = append(out, run{one, string(r)})
		}
	}
	return out
}

// wide gives the width of a text in mm.
func (s *sheet) wide(st style, text string) float64 {
	w := 0.0
	for _, r := range text {
		w += s.letter(st, r)
	}
	return w
}

// letter gives the width of a letter in mm: asked of the font once, since lines are broken by
// trying what fits.
func (s *sheet) letter(st style, r rune) float64 {
	if unicode.IsControl(r) {
		return 0
	}
	key := letterOf{st.face, r}
	w, known := s.letters[key]
	if !known {
		one := runs(st.face, string(r))
		s.use(one[0].face, 100)
		w = s.GetStringWidth(one[0].text) / 100
		if s.letters == nil {
			s.letters = map[letterOf]float64{}
		}
		s.letters[key] = w
	}
	return w * st.size
}

type letterOf struct {
	face face
	rune rune
}

// put writes one line of text with its base line at y, and gives where it ends.
func (s *sheet) put(x, y float64, st style, text string) float64 {
	s.SetTextColor(st.ink[0], st.ink[1], st.ink[2])
	for _, r := range runs(st.face, text) {
		s.use(r.face, st.size)
		s.Text(x, y, r.text)
		x += s.GetStringWidth(r.text)
	}
	return x
}

// lead is the height of a line in mm.
func lead(st style) float64 { return st.size * 0.3528 * 1.28 }

// broken parts a text into lines no wider than w; a word that is wider is cut.
func (s *sheet) broken(st style, text string, w float64) []string {
	var out []string
	space := s.letter(st, ' ')
	for _, part := range strings.Split(text, "\n") {
		at, wide := "", 0.0
		for _, word := range strings.FieldsFunc(part, func(r rune) bool { return r == ' ' || r == '\t' }) {
			own := s.wide(st, word)
			if at != "" && wide+space+own <= w {
				at, wide = at+" "+word, wide+space+own
				continue
			}
			if at != "" {
				out = append(out, at)
			}
			at, wide = "", 0
			if own <= w {
				at, wide = word, own
				continue
			}
			for _, r := range word { // cut where it is full
				one := s.letter(st, r)
				if at != "" && wide+one > w {
					out = append(out, at)
					at, wide = "", 0
				}
				at, wide = at+string(r), wide+one
			}
		}
		out = append(out, at)
	}
	return out
}

// block writes a text in lines from the upper edge at y, and gives the lower edge.
func (s *sheet) block(x, y, w float64, st style, text string) float64 {
	all := s.broken(st, text, w)
	for i, one := range all {
		y += lead(st)
		if i < len(all)-1 {
			one += " " // whoever has it read aloud hears two words
		}
		s.put(x, y-0.26*lead(st), st, one)
	}
	return y
}

// fit gives the style in which a text is no wider than w, no smaller than least points.
func (s *sheet) fit(st style, text string, w, least float64) style {
	for st.size > least && s.wide(st, text) > w {
		st.size = max(least, st.size-0.5)
	}
	return st
}

// short cuts a text to what is no wider than w.
func (s *sheet) short(st style, text string, w float64) string {
	if s.wide(st, text) <= w {
		return text
	}
	room := w - s.letter(st, '…')
	for i, r := range text {
		if room -= s.letter(st, r); room < 0 {
			return strings.TrimRight(text[:i], " ,·") + "…"
		}
	}
	return text
}

func (s *sheet) draws(c ink, width float64) {
	s.SetDrawColor(c[0], c[1], c[2])
	s.SetLineWidth(width)
}

func (s *sheet) fills(c ink) { s.SetFillColor(c[0], c[1], c[2]) }

// rule draws a line across.
func (s *sheet) rule(x1, x2, y float64, c ink, width float64) {
	s.artifact(func() {
		s.draws(c, width)
		s.Line(x1, y, x2, y)
	})
}

// Levels of a sign.
var signInk = map[string]ink{"ok": verdigris, "act": copper, "stop": oxide, "note": dark, "wait": slate}

// sign draws the mark of a level in a square of side d: a circle holds, an open diamond acts,
// a bar stops, a dot notes, a half circle waits.
func (s *sheet) sign(x, y, d float64, level string) {
	c := signInk[level]
	s.fills(c)
	s.draws(c, d*0.14)
	mx, my, r := x+d/2, y+d/2, d*0.42
	s.artifact(func() {
		switch level {
		case "ok":
			s.Circle(mx, my, r, "F")
		case "act":
			s.Polygon([]fpdf.PointType{{X: mx, Y: my - r}, {X: mx + r, Y: my}, {X: mx, Y: my + r}, {X: mx - r, Y: my}}, "D")
		case "stop":
			s.Rect(x+d*0.06, y+d*0.28, d*0.88, d*0.44, "F")
		case "wait":
			s.Circle(mx, my, r, "D")
			s.Arc(mx, my, r, r, 0, -90, 90, "F")
		default:
			s.Circle(mx, my, d*0.17, "F")
		}
	})
}

// finished gives the document as a file.
func (s *sheet) finished() ([]byte, error) {
	var out bytes.Buffer
	if err := s.Output(&out); err != nil {
		return nil, fmt.Errorf("draw a paper: %w", err)
	}
	return s.tags.into(out.Bytes())
}
