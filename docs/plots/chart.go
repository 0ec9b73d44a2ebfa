package main

import (
	"fmt"
	"html"
	"math"
	"os"
	"strings"
)

// chart is one picture: lines over a common axis, each with its word at its end.
type chart struct {
	title, x, y    string
	xFrom, xTo     float64
	yFrom, yTo     float64
	xStep, yStep   float64
	lines          []curve
	marks          []mark
	scaleX, scaleY func(float64) string // words of the ticks, nil for plain numbers
}

type curve struct {
	word   string
	colour string
	dash   string
	xs, ys []float64
	at     float64 // part of the picture's width where the word stands; the end when zero
	dy     float64 // nudge of the word, px
}

// mark is a level worth a word.
type mark struct {
	y    float64
	word string
}

// The colours of the interface.
const (
	paper, card, ink, soft, rule         = "#F5F2EA", "#FFFDF8", "#17272E", "#56676C", "#D9D2C3"
	copper, verdigris, oxide, slate, mud = "#A9502A", "#2C7567", "#8E2A22", "#3D5B78", "#7A6A3A"
)

const (
	wide, high               = 760.0, 400.0
	left, right, top, bottom = 62.0, 118.0, 46.0, 50.0
)

func (c chart) px(x float64) float64 {
	return left + (x-c.xFrom)/(c.xTo-c.xFrom)*(wide-left-right)
}

func (c chart) py(y float64) float64 {
	return high - bottom - (y-c.yFrom)/(c.yTo-c.yFrom)*(high-top-bottom)
}

func plain(v float64) string { return strings.Replace(fmt.Sprintf("%g", v), "-", "−", 1) }

// write draws the chart as an SVG file.
func (c chart) write(file string) error {
	var b strings.Builder
	p := func(format string, v ...any) { fmt.Fprintf(&b, format+"\n", v...) }
	words := func(f func(float64) string) func(float64) string {
		if f == nil {
			return plain
		}
		return f
	}
	p(
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %g %g" font-family="Archivo, Helvetica, Arial, sans-serif" font-size="13" fill="%s" role="img" aria-label="%s">`,
		wide,
		high,
		ink,
		html.EscapeString(c.title),
	)
	p(`<rect width="%g" height="%g" fill="%s"/>`, wide, high, paper)
	p(`<rect x="%g" y="%g" width="%g" height="%g" fill="%s"/>`, left, top, wide-left-right, high-top-bottom, card)
	p(`<text x="%g" y="28" font-size="17" font-weight="700">%s</text>`, left, html.EscapeString(c.title))
	for x := c.xFrom; x <= c.xTo+1e-9; x += c.xStep {
		p(`<path d="M%.1f %gV%g" stroke="%s"/>`, c.px(x), top, high-bottom, rule)
		p(
			`<text x="%.1f" y="%g" text-anchor="middle" fill="%s">%s</text>`,
			c.px(x),
			high-bottom+18,
			soft,
			words(c.scaleX)(round(x)),
		)
	}
	for y := c.yFrom; y <= c.yTo+1e-9; y += c.yStep {
		p(`<path d="M%g %.1fH%g" stroke="%s"/>`, left, c.py(y), wide-right, rule)
		p(
			`<text x="%g" y="%.1f" text-anchor="end" fill="%s">%s</text>`,
			left-8,
			c.py(y)+4.5,
			soft,
			words(c.scaleY)(round(y)),
		)
	}
	p(
		`<text x="%g" y="%g" text-anchor="middle" fill="%s">%s</text>`,
		(left+wide-right)/2,
		high-12,
		soft,
		html.EscapeString(c.x),
	)
	p(
		`<text transform="translate(16 %g) rotate(-90)" text-anchor="middle" fill="%s">%s</text>`,
		(top+high-bottom)/2,
		soft,
		html.EscapeString(c.y),
	)
	for _, m := range c.marks {
		p(`<path d="M%g %.1fH%g" stroke="%s" stroke-dasharray="2 4"/>`, left, c.py(m.y), wide-right, ink)
		p(`<text x="%g" y="%.1f" fill="%s">%s</text>`, wide-right+6, c.py(m.y)+4.5, soft, html.EscapeString(m.word))
	}
	p(
		`<clipPath id="in"><rect x="%g" y="%g" width="%g" height="%g"/></clipPath>`,
		left,
		top-1,
		wide-left-right,
		high-top-bottom+2,
	)
	for _, l := range c.lines {
		var d strings.Builder
		for i := range l.xs {
			letter := 'L'
			if i == 0 {
				letter = 'M'
			}
			fmt.Fprintf(&d, "%c%.1f %.1f", letter, c.px(l.xs[i]), c.py(l.ys[i]))
		}
		p(
			`<path d="%s" fill="none" stroke="%s" stroke-width="2.4" stroke-linejoin="round" stroke-dasharray="%s" clip-path="url(#in)"/>`,
			d.String(),
			l.colour,
			l.dash,
		)
		n := len(l.xs) - 1
		x, y, anchor := wide-right+6, c.py(l.ys[n])+4.5, "start"
		if l.at > 0 {
			i := 0
			for i < n && l.xs[i] < c.xFrom+l.at*(c.xTo-c.xFrom) {
				i++
			}
			x, y, anchor = c.px(l.xs[i]), c.py(l.ys[i])-8, "middle"
		}
		p(
			`<text x="%.1f" y="%.1f" text-anchor="%s" font-weight="600" fill="%s">%s</text>`,
			x,
			y+l.dy,
			anchor,
			l.colour,
			html.EscapeString(l.word),
		)
	}
	p(`</svg>`)
	return os.WriteFile(file, []byte(b.String()), 0o644)
}

// round takes the dust of repeated addition off a tick.
func round(v float64) float64 { return math.Round(v*1e6) / 1e6 }
