// Package words turns codes and quantities into what people read: vocabularies,
// which pair the words of the open formats with those of the trade, and texts,
// which are sentences with figures in them, spoken in the reader's units. It
// knows no rule.
package words

import (
	"slices"
	"strings"
)

// Term pairs a word of an open format with the words people use for it.
type Term struct {
	Code string `json:"code"`
	Word string `json:"word" doc:"as a choice"`
	Said string `json:"-"` // inside a sentence; Word in small letters when empty
	// Against are codes of another list that answer it with no, where it is a question.
	Against []string `json:"against,omitempty" doc:"findings that answer it with no"`
}

// List is a vocabulary: the only words a field may hold, in the order they are
// offered. It cannot be changed once made.
type List struct{ terms []Term }

// ListOf makes a vocabulary.
func ListOf(terms ...Term) List { return List{terms} }

// Plain makes a vocabulary whose words are the codes themselves with spaces for
// underscores.
func Plain(codes ...string) List {
	l := List{}
	for _, c := range codes {
		l.terms = append(l.terms, Term{Code: c, Word: Spaced(c)})
	}
	return l
}

// With gives a list with more terms at its end; a term of the same code takes the place of
// the one there is.
func (l List) With(more ...Term) List {
	out := List{slices.Clone(l.terms)}
	for _, t := range more {
		if i := slices.IndexFunc(out.terms, func(o Term) bool { return o.Code == t.Code }); i >= 0 {
			out.terms[i] = t
			continue
		}
		out.terms = append(out.terms, t)
	}
	return out
}

// Terms gives all terms; the caller may keep them.
func (l List) Terms() []Term { return slices.Clone(l.terms) }

// Codes gives the format words.
func (l List) Codes() []string {
	out := make([]string, len(l.terms))
	for i, t := range l.terms {
		out[i] = t.Code
	}
	return out
}

// Has reports whether a format word is in the list.
func (l List) Has(code string) bool {
	return slices.ContainsFunc(l.terms, func(t Term) bool { return t.Code == code })
}

// Word gives the words for a code as a choice, or the code with spaces when the
// list does not have it.
func (l List) Word(code string) string {
	for _, t := range l.terms {
		if t.Code == code {
			return t.Word
		}
	}
	return Spaced(code)
}

// Said gives the words for a code as they stand inside a sentence.
func (l List) Said(code string) string {
	for _, t := range l.terms {
		if t.Code == code && t.Said != "" {
			return t.Said
		}
	}
	return strings.ToLower(l.Word(code))
}

// Spaced is a format word with spaces for underscores.
func Spaced(code string) string { return strings.ReplaceAll(code, "_", " ") }
