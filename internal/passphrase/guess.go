package passphrase

import (
	"encoding/json"
	"math"
	"regexp"
	"slices"
	"strings"
	"sync"
	"unicode"

	"github.com/ccojocar/zxcvbn-go/data"
)

// ranks gives the places of common passwords, words and names in the lists of zxcvbn. They
// are read when they are first asked for: the library reads them as a program starts, and
// then every command would wait a tenth of a second for them.
var ranks = sync.OnceValue(func() map[string]int {
	out := map[string]int{}
	for _, name := range []string{"Passwords", "English", "MaleNames", "FemaleNames", "Surnames"} {
		var list struct{ List []string }
		if err := json.Unmarshal(data.MustAsset("data/"+name+".json"), &list); err != nil {
			panic(err) // it is built in
		}
		for i, word := range list.List {
			out[strings.ToLower(word)] = i + 1 // each stands in one list alone
		}
	}
	return out
})

// longest is the longest piece that is looked up.
const longest = 40

// What a finger runs along: alphabet, digits, and the rows of keyboards.
var runs = []string{"abcdefghijklmnopqrstuvwxyz", "1234567890", "0123456789", "qwertyuiop", "asdfghjkl", "zxcvbnm", "qwertzuiop", "yxcvbnm", "azertyuiop"}

// Letters written as digits and signs.
var plain = strings.NewReplacer("0", "o", "1", "i", "3", "e", "4", "a", "5", "s", "7", "t", "@", "a", "$", "s", "!", "i")

var years = regexp.MustCompile(`^(19|20)\d\d$`)

// bits is how hard a passphrase is to guess: the binary logarithm of the tries it takes
// whoever knows what people choose, and the words about. It is the cheapest way to put the
// passphrase together, as zxcvbn reckons it: of common words by their place in the lists,
// of runs along a keyboard, of years, of what stood just before once more, and of single
// characters.
func bits(phrase string, about []string) float64 {
	text := []rune(phrase)
	lower := []rune(strings.ToLower(phrase))
	if len(lower) != len(text) {
		lower = text // a letter whose small form is two; no list has it
	}
	one := math.Log2(alphabet(text))
	best := make([]float64, len(text)+1)
	for end := 1; end <= len(text); end++ {
		best[end] = best[end-1] + one
		for start := max(0, end-longest); start < end; start++ {
			best[end] = min(best[end], best[start]+known(string(lower[start:end]), about)+capitals(text[start:end]))
		}
		for period := 1; 2*period <= end; period++ {
			last := lower[end-period : end]
			for n := 2; n*period <= end && slices.Equal(lower[end-n*period:end-(n-1)*period], last); n++ {
				best[end] = min(best[end], best[end-(n-1)*period]+math.Log2(float64(n)))
			}
		}
	}
	return best[len(text)]
}

// known is how hard one piece is to guess that people choose; infinitely, where nobody does.
func known(piece string, about []string) float64 {
	cost := math.Inf(1)
	for i, word := range []string{piece, plain.Replace(piece)} {
		if i == 1 && word == piece {
			break
		}
		if slices.Contains(about, word) {
			cost = min(cost, float64(i))
		}
		if rank, is := ranks()[word]; is {
			cost = min(cost, math.Log2(float64(rank))+float64(i)) // written with signs: a bit more
		}
	}
	if years.MatchString(piece) {
		cost = min(cost, math.Log2(200))
	}
	if n := len(piece); n >= 3 {
		back := reversed(piece)
		for _, run := range runs {
			if strings.Contains(run, piece) {
				cost = min(cost, math.Log2(float64(len(run)*n)))
			}
			if strings.Contains(run, back) {
				cost = min(cost, math.Log2(float64(len(run)*n))+1)
			}
		}
	}
	return cost
}

// capitals is what the capitals of a piece add: little where they stand as usual.
func capitals(piece []rune) float64 {
	upper := 0
	for _, r := range piece {
		if unicode.IsUpper(r) {
			upper++
		}
	}
	switch {
	case upper == 0:
		return 0
	case upper == len(piece), upper == 1 && unicode.IsUpper(piece[0]), upper == 1 && unicode.IsUpper(piece[len(piece)-1]):
		return 1
	}
	return float64(min(upper, len(piece)-upper)) + 1
}

// alphabet is from how many characters a passphrase seems to take its own.
func alphabet(text []rune) (n float64) {
	var lower, upper, digit, other float64
	for _, r := range text {
		switch {
		case unicode.IsLower(r):
			lower = 26
		case unicode.IsUpper(r):
			upper = 26
		case unicode.IsDigit(r):
			digit = 10
		default:
			other = 33
		}
	}
	return lower + upper + digit + other
}

func reversed(s string) string {
	r := []rune(s)
	slices.Reverse(r)
	return string(r)
}
