package words

import (
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// Clean is a line of text as it is kept: composed (NFC), so that one word is always the
// same letters; without control characters and without marks that turn the direction
// of writing or take no room, so that what is read is what stands there; each run of
// white space one space, and none at either end.
func Clean(text string) string {
	return strings.Join(strings.Fields(visible(text)), " ")
}

// CleanLines is the same of a text with lines, which are kept.
func CleanLines(text string) string {
	lines := strings.Split(strings.NewReplacer("\r\n", "\n", "\r", "\n").Replace(text), "\n")
	for i, line := range lines {
		lines[i] = strings.TrimRightFunc(visible(line), unicode.IsSpace)
	}
	return strings.Trim(strings.Join(lines, "\n"), "\n")
}

// visible composes a text and leaves out what cannot be seen.
func visible(text string) string {
	return norm.NFC.String(strings.Map(func(r rune) rune {
		switch {
		case unicode.IsSpace(r):
			return r
		case unicode.IsControl(r),
			unicode.Is(unicode.Bidi_Control, r),
			r == '\u200b',
			r == '\u2060',
			r == '\ufeff',
			r == unicode.ReplacementChar:
			return -1
		}
		return r
	}, text))
}

// Folded is a text as it is looked for: whatever its capitals and accents.
func Folded(text string) string {
	return strings.Map(func(r rune) rune {
		if unicode.Is(unicode.Mn, r) {
			return -1
		}
		return unicode.ToLower(r)
	}, norm.NFKD.String(Clean(text)))
}
