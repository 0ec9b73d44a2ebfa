package paper

import (
	"bytes"
	"fmt"
	"strconv"
	"time"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"

	"codeberg.org/go-pdf/fpdf"

	"grapnel/core/bench"
	"grapnel/core/words"
)

// Report is what is told of a job on one or two pages: every sentence was said on its sheet.
type Report struct {
	Size     Size
	At       time.Time // of printing
	Voice    words.Voice
	Workshop string
	Tag      string
	Vehicle  string
	Customer string
	Label    string   // the battery in a line
	Came     []string // what it came for
	Dates    string   // when it came, when it went
	Link     string   // opens the sheet
	Before   *Said    // the verdict before the work
	Now      Said
	Proof    *Said
	Items    []Line // what was shown
	Gauges   []bench.Gauge
	Owner    string // one sentence for who owns it
	Found    []Line // what was found, and why
	Rules    []Line // by which rules it was judged
	Done     []Line
	Next     []Line
	Reset    []Line
	Cost     *Cost
	Notes    []Line
	Photos   []Picture
	Left     string // what is not told here for want of room
}

// Said is a verdict.
type Said struct {
	Head, Text, When string
	Level            string
}

// Line is a line with a sign: what it says, and in smaller letters why.
type Line struct {
	Level      string
	Text, More string
}

// Cost is what it costs.
type Cost struct {
	Lines []Amount
	Net   string // empty where tax is not told apart
	Tax   string
	All   string
	Said  string // who accepted it, when
}

// Amount is a line of a cost.
type Amount struct{ Text, Sum string }

// Picture is a photo.
type Picture struct {
	JPEG          []byte
	Width, Height int
	Text          string
}

// mostPages is how many pages a report has.
const mostPages = 2

// Print draws a report. What does not go on two pages is left out from the end of what
// matters least, and said so.
func (r Report) Print() ([]byte, error) {
	for less := 0; ; less++ {
		s := newSheet(r.Size, "Report "+r.Tag, r.At)
		d := drawing{sheet: s, r: r}
		d.less(less)
		d.draw()
		if s.PageNo() <= mostPages || less >= leastLess {
			d.footers()
			return s.finished()
		}
	}
}

// leastLess is how often a report is made shorter at most.
const leastLess = 12

const margin = 16.0

// drawing is a report on its way down the pages.
type drawing struct {
	*sheet
	r    Report
	y    float64
	w, h float64
}

// less leaves out some of what matters least: first the reasons of what holds, then what is
// only noted, then of everything that comes in many lines; pictures last.
func (d *drawing) less(n int) {
	r := &d.r
	if n == 0 {
		return
	}
	cut := func(all []Line, to int) []Line { return all[:min(len(all), max(0, to))] }
	var found []Line
	for _, l := range r.Found {
		if l.Level == "ok" || l.Level == "note" {
			l.More = ""
		}
		if l.Level != "note" || n < 2 {
			found = append(found, l)
		}
	}
	r.Found = found
	if n > 2 {
		r.Found = cut(r.Found, 22-2*n)
		r.Gauges = r.Gauges[:min(len(r.Gauges), max(2, 10-n))]
	}
	if n > 4 {
		r.Rules, r.Notes, r.Done = cut(r.Rules, 11-n), cut(r.Notes, 13-n), cut(r.Done, 17-n)
	}
	if n > 6 {
		r.Photos = r.Photos[:min(len(r.Photos), max(0, 10-n))]
	}
	r.Left = "More stands on the sheet."
}

func (d *drawing) draw() {
	d.page()
	d.head()
	d.verdicts()
	d.gauges()
	d.lines("What was found, and why", d.r.Found)
	d.lines("What was done", d.r.Done)
	d.lines("What to do next", d.r.Next)
	d.lines("What the vehicle forgot", d.r.Reset)
	d.cost()
	d.lines("Notes", d.r.Notes)
	d.photos()
	d.lines("Judged by these house rules", d.r.Rules)
	if d.r.Left != "" {
		d.room(6)
		d.text(d.r.Left, style{plain, 8, soft}, margin, d.w)
	}
}

func (d *drawing) page() {
	d.AddPage()
	w, h := d.GetPageSize()
	d.w, d.h, d.y = w-2*margin, h, margin
}

// room begins another page where less than so much is left of this one.
func (d *drawing) room(need float64) {
	if d.y+need <= d.h-margin-8 {
		return
	}
	d.page()
	d.as(isText, "", func() {
		d.put(margin, d.y+3, style{bold, 8.5, soft}, d.short(style{bold, 8.5, soft}, d.r.Tag+" · "+d.r.Vehicle, d.w))
	})
	d.rule(margin, margin+d.w, d.y+5, line, 0.3)
	d.y += 9
}

func (d *drawing) text(text string, st style, x, w float64) {
	d.as(isText, "", func() { d.y = d.block(x, d.y, w, st, text) })
}

func (d *drawing) head() {
	side := 24.0
	if d.r.Link == "" {
		side = 0
	} else {
		d.qr(margin+d.w-side, d.y-1, side, d.r.Link, "Opens the sheet of "+d.r.Tag)
	}
	w := d.w - side - 4
	d.as(isText, "", func() {
		d.put(margin, d.y+3, style{bold, 8.5, copper}, d.short(style{bold, 8.5, copper}, d.r.Workshop+" · battery report", w))
	})
	d.as(isTitle, "", func() {
		st := d.fit(style{black, 30, dark}, d.r.Tag, w, 14)
		end := d.put(margin, d.y+14.5, st, d.short(st, d.r.Tag, w)+" ")
		if rest := margin + w - end - 4; rest > 25 {
			st := style{bold, 13, dark}
			d.put(end+4, d.y+14.5, st, d.short(st, d.r.Vehicle, rest))
		}
	})
	d.y += 17
	for _, one := range []struct {
		text string
		st   style
	}{{d.r.Customer, style{bold, 10, dark}}, {d.r.Label, style{plain, 9.5, dark}}, {d.r.Dates, style{plain, 9, soft}}} {
		if one.text != "" {
			d.text(one.text, one.st, margin, w)
		}
	}
	d.y = max(d.y, margin+side+1) + 2
	d.rule(margin, margin+d.w, d.y, dark, 0.5)
	d.y += 2
	for _, came := range d.r.Came {
		d.text(came, style{plain, 9.5, dark}, margin, d.w)
	}
	d.y += 1.5
}

// verdicts stand beside each other: before the work and now.
func (d *drawing) verdicts() {
	gap := 5.0
	w := d.w
	if d.r.Before != nil {
		w = (d.w - gap) / 2
	}
	top := d.y
	one := func(x float64, name string, v Said) float64 {
		d.y = top
		d.as(isHeading, "", func() { d.put(x, d.y+3.4, style{bold, 8.5, soft}, name) })
		d.y += 4.6
		d.sign(x, d.y+1.1, 4.6, v.Level)
		st := style{black, 15, signInk[v.Level]}
		d.as(isText, "", func() { d.y = d.block(x+6.5, d.y, w-6.5, st, v.Head) })
		if v.Text != "" {
			d.text(v.Text, style{plain, 9, dark}, x+6.5, w-6.5)
		}
		if v.When != "" {
			d.text(v.When, style{plain, 8, soft}, x+6.5, w-6.5)
		}
		return d.y
	}
	var end float64
	if d.r.Before != nil {
		end = one(margin, "Before the work", *d.r.Before)
		end = max(end, one(margin+w+gap, "Now", d.r.Now))
		d.artifact(func() { d.draws(line, 0.3); d.Line(margin+w+gap/2, top+1, margin+w+gap/2, end) })
	} else {
		end = one(margin, "Verdict", d.r.Now)
	}
	d.y = end + 2.5
	if d.r.Owner != "" {
		d.room(8)
		d.text(d.r.Owner, style{bold, 10.5, dark}, margin, d.w)
		d.y += 2
	}
	if d.r.Proof != nil {
		d.proof()
	}
}

// proof is the verdict on the work, and what was shown.
func (d *drawing) proof() {
	d.room(16)
	d.heading("Proof")
	d.sign(margin, d.y+0.9, 3.8, d.r.Proof.Level)
	d.as(isText, "", func() {
		d.y = d.block(margin+5.5, d.y, d.w-5.5, style{black, 12, signInk[d.r.Proof.Level]}, d.r.Proof.Head)
	})
	d.y++
	col := d.w / 2
	for i := 0; i < len(d.r.Items); i += 2 {
		d.room(6)
		top, end := d.y, d.y
		for k := range min(2, len(d.r.Items)-i) {
			item := d.r.Items[i+k]
			d.y = top
			x := margin + float64(k)*col
			d.sign(x, d.y+1, 2.6, item.Level)
			d.text(item.Text, style{plain, 9, dark}, x+5.5, col-8)
			end = max(end, d.y)
		}
		d.y = end
	}
	d.y += 2
}

func (d *drawing) heading(text string) {
	d.y += 1.5
	d.as(isHeading, "", func() { d.put(margin, d.y+3.6, style{bold, 10.5, copper}, text) })
	d.rule(margin+d.wide(style{bold, 10.5, copper}, text)+3, margin+d.w, d.y+2.4, line, 0.3)
	d.y += 5.4
}

// gauges stand two beside each other.
func (d *drawing) gauges() {
	if len(d.r.Gauges) == 0 {
		return
	}
	d.room(8 + stickHeight)
	d.heading("What was read")
	w := (d.w - 8) / 2
	for i, g := range d.r.Gauges {
		if i%2 == 0 {
			d.room(stickHeight)
		}
		d.stick(margin+float64(i%2)*(w+8), d.y, w, g, d.r.Voice)
		if i%2 == 1 || i == len(d.r.Gauges)-1 {
			d.y += stickHeight
		}
	}
}

// lines is a heading with lines under it.
func (d *drawing) lines(heading string, all []Line) {
	if len(all) == 0 {
		return
	}
	text, more := style{bold, 9.2, dark}, style{plain, 8.8, soft}
	high := func(l Line) float64 {
		n := len(d.broken(text, l.Text, d.w-5.5))
		m := 0
		if l.More != "" {
			m = len(d.broken(more, l.More, d.w-5.5))
		}
		return float64(n)*lead(text) + float64(m)*lead(more) + 1
	}
	d.room(8 + high(all[0]))
	d.heading(heading)
	for _, l := range all {
		d.room(high(l))
		d.sign(margin, d.y+1, 2.6, l.Level)
		d.as(isText, "", func() {
			d.y = d.block(margin+5.5, d.y, d.w-5.5, text, l.Text)
			if l.More != "" {
				d.y = d.block(margin+5.5, d.y, d.w-5.5, more, l.More)
			}
		})
		d.y++
	}
	d.y++
}

func (d *drawing) cost() {
	c := d.r.Cost
	if c == nil {
		return
	}
	st := style{plain, 9.5, dark}
	d.room(14 + float64(len(c.Lines)+3)*lead(st))
	d.heading("Cost")
	row := func(text, sum string, st style) {
		d.as(isText, "", func() {
			d.put(margin, d.y+3.6, st, d.short(st, text, d.w-40))
			d.put(margin+d.w-d.wide(st, sum), d.y+3.6, st, sum)
		})
		d.y += lead(st) + 0.6
	}
	for _, l := range c.Lines {
		row(l.Text, l.Sum, st)
	}
	d.rule(margin+d.w-46, margin+d.w, d.y+0.6, dark, 0.3)
	d.y += 1
	if c.Tax != "" {
		row("Net", c.Net, style{plain, 9, soft})
		row("Tax", c.Tax, style{plain, 9, soft})
	}
	row("Total", c.All, style{black, 12, dark})
	if c.Said != "" {
		d.text(c.Said, style{plain, 9, soft}, margin, d.w)
	}
	d.y += 2
}

func (d *drawing) photos() {
	if len(d.r.Photos) == 0 {
		return
	}
	gap := 5.0
	w := (d.w - gap) / 2
	most := 52.0
	d.room(most + 18)
	d.heading("Pictures")
	for i, p := range d.r.Photos {
		if i%2 == 0 {
			d.room(most + 8)
		}
		x := margin + float64(i%2)*(w+gap)
		iw, ih := w, w*float64(p.Height)/float64(p.Width)
		if ih > most {
			iw, ih = most*float64(p.Width)/float64(p.Height), most
		}
		name := "photo" + strconv.Itoa(i)
		d.as(isFigure, p.Text, func() {
			d.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "JPG"}, bytes.NewReader(p.JPEG))
			d.ImageOptions(name, x, d.y, iw, ih, false, fpdf.ImageOptions{ImageType: "JPG"}, 0, "")
		})
		d.as(isText, "", func() {
			st := style{plain, 8.5, soft}
			d.put(x, d.y+most+3.6, st, d.short(st, p.Text, w))
		})
		if i%2 == 1 || i == len(d.r.Photos)-1 {
			d.y += most + 7
		}
	}
}

// footers number the pages and leave room to sign on the last.
func (d *drawing) footers() {
	pages := d.PageNo()
	if d.y+14 > d.h-margin-8 && pages < mostPages {
		d.page()
		pages++
	}
	for n := 1; n <= pages; n++ {
		d.SetPage(n)
		d.use(plain, 1) // what is set on the last page is not set on this one
		st := style{plain, 8, soft}
		text := fmt.Sprintf("%s · %d of %d", d.r.Tag, n, pages)
		d.as(isText, "", func() { d.put(margin+d.w-d.wide(st, text), d.h-margin+4, st, text) })
		if n == pages {
			y := d.h - margin
			d.rule(margin, margin+70, y, dark, 0.3)
			d.as(isText, "", func() { d.put(margin, y+4, st, "Signed") })
		}
	}
}

// qr draws a code that leads somewhere.
func (s *sheet) qr(x, y, side float64, link, alt string) {
	code, err := qr.Encode(link, qr.M, qr.Auto)
	if err != nil {
		s.SetError(err)
		return
	}
	s.as(isFigure, alt, func() { s.modules(x, y, side, code) })
	s.LinkString(x, y, side, side, link)
}

// modules draws the dark squares of a code, those in one row that touch as one.
func (s *sheet) modules(x, y, side float64, code barcode.Barcode) {
	n := code.Bounds().Dx()
	quiet := 2 // the rest of the four it needs is the paper around it
	d := side / float64(n+2*quiet)
	s.fills(dark)
	for row := range n {
		for from := 0; from < n; from++ {
			if r, _, _, _ := code.At(from, row).RGBA(); r != 0 {
				continue
			}
			to := from
			for to < n {
				if r, _, _, _ := code.At(to, row).RGBA(); r != 0 {
					break
				}
				to++
			}
			s.Rect(x+float64(from+quiet)*d, y+float64(row+quiet)*d, float64(to-from)*d+0.01, d+0.01, "F")
			from = to
		}
	}
}

func digits(v float64, n int) string { return strconv.FormatFloat(v, 'f', n, 64) }
