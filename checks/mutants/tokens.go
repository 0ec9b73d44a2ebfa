package main

import (
	"go/scanner"
	"go/token"
	"regexp"
	"strings"
)

// piece is one token of a source, and where it stands there.
type piece struct {
	text     string
	from, to int
	name     bool // an identifier, which may have been renamed
}

// goPieces are the tokens of Go, as a reader minds them: without comments, without the
// semicolons and last commas that come and go as lines are wrapped.
func goPieces(src string) []piece {
	var s scanner.Scanner
	files := token.NewFileSet()
	file := files.AddFile("", -1, len(src))
	s.Init(file, []byte(src), func(token.Position, string) {}, 0)
	var out []piece
	for {
		pos, tok, text := s.Scan()
		if tok == token.EOF {
			return withoutLastCommas(out)
		}
		if tok == token.SEMICOLON {
			continue
		}
		if text == "" {
			text = tok.String()
		}
		at := file.Offset(pos)
		if tok == token.STRING { // by its words, so that a query may be wrapped otherwise
			for _, p := range textPieces(text) {
				out = append(out, piece{p.text, at + p.from, at + p.to, false})
			}
			continue
		}
		out = append(out, piece{text, at, at + len(text), tok == token.IDENT})
	}
}

var word = regexp.MustCompile(`[\pL\d_$]+|\S`)
var identifier = regexp.MustCompile(`^[\pL_$][\pL\d_$]*$`)

// textPieces are the words and signs of any other source.
func textPieces(src string) []piece {
	var out []piece
	for _, at := range word.FindAllStringIndex(src, -1) {
		text := src[at[0]:at[1]]
		if text != ";" {
			out = append(out, piece{text, at[0], at[1], identifier.MatchString(text)})
		}
	}
	return withoutLastCommas(out)
}

func withoutLastCommas(in []piece) []piece {
	out := in[:0]
	for i, p := range in {
		if p.text == "," && i+1 < len(in) && strings.Contains(")]}", in[i+1].text) {
			continue
		}
		out = append(out, p)
	}
	return out
}

// sameFrom reports whether some tokens stand in a source from the i-th of its own on. With
// loose, names may all have been changed, each to one other: renamed says to which.
func sameFrom(in []piece, i int, some []piece, loose bool) (renamed map[string]string, same bool) {
	if i+len(some) > len(in) {
		return nil, false
	}
	renamed, taken := map[string]string{}, map[string]string{}
	for k, want := range some {
		got := in[i+k]
		switch {
		case got.text == want.text && !loose:
		case !loose || got.name != want.name:
			return nil, false
		case !want.name:
			if got.text != want.text {
				return nil, false
			}
		default:
			if to, known := renamed[want.text]; known && to != got.text {
				return nil, false
			}
			if from, known := taken[got.text]; known && from != want.text {
				return nil, false
			}
			renamed[want.text], taken[got.text] = got.text, want.text
		}
	}
	return renamed, true
}
