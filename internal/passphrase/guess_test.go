package passphrase

import (
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/ccojocar/zxcvbn-go"
)

// One piece by hand, from the lists: "password" is the first of all, "blue" stands in its
// place, what is capital, written with signs, run along a keyboard or said again adds what
// is written beside it.
func TestBits(t *testing.T) {
	rank := func(word string) float64 { return math.Log2(float64(ranks()[word])) }
	letters := math.Log2(26)
	for _, c := range []struct {
		phrase string
		want   float64
	}{
		{"", 0},
		{"password", 0},
		{"Password", 1},
		{"PASSWORD", 1},
		{"p4ssw0rd", 1},
		{"blue", rank("blue")},
		{"bLUe", rank("blue") + 3},
		{"ines", 0}, // a name about
		{"inesines", 0},
		{"bluekettle", rank("blue") + rank("kettle")},
		{"q", letters},
		{"xkqv", 4 * letters}, // no word holds two of these
		{"xkqvxkqv", 4*letters + 1},
		{"kkkkkkkk", letters + 3},
		{"hijklmno", math.Log2(26 * 8)},
		{"onmlkjih", math.Log2(26*8) + 1},
		{"1987", math.Log2(200)},
		{"ﬁﬁ", letters + 1},
	} {
		if got := bits(c.phrase, []string{"ines"}); math.Abs(got-c.want) > 1e-9 {
			t.Errorf("%q: %.3f bits, want %.3f", c.phrase, got, c.want)
		}
	}
}

// Against zxcvbn itself, whose lists and limit these are, over phrases such as people
// choose: what it refuses is refused but for a few, which it would hardly take itself, and
// what it takes is taken but for a few.
func TestBitsAgainstReference(t *testing.T) {
	words := []string{}
	for word, rank := range ranks() {
		if rank < 3000 && len(word) > 3 {
			words = append(words, word)
		}
	}
	slices.Sort(words)
	rng := rand.New(rand.NewPCG(4, 7))
	pick := func(from []string) string { return from[rng.IntN(len(from))] }
	letters := func(n int) string {
		out := make([]byte, n)
		for i := range out {
			out[i] = "abcdefghijklmnopqrstuvwxyz0123456789"[rng.IntN(36)]
		}
		return string(out)
	}
	makers := map[string]func() string{
		"a word and digits":  func() string { return pick(words) + letters(4) },
		"a word and a year":  func() string { return pick(words) + "198" + string(rune('0'+rng.IntN(10))) + "!" },
		"two words":          func() string { return pick(words) + pick(words) },
		"three words":        func() string { return pick(words) + " " + pick(words) + " " + pick(words) },
		"four words":         func() string { return strings.Join([]string{pick(words), pick(words), pick(words), pick(words)}, " ") },
		"letters":            func() string { return letters(12) },
		"a capital and sign": func() string { return strings.ToUpper(pick(words)[:1]) + pick(words)[1:] + "!" + pick(words) },
		"runs":               func() string { return "qwertyuiop"[:4+rng.IntN(6)] + "123456789"[:3+rng.IntN(6)] },
	}
	const each = 250
	for _, name := range slices.Sorted(maps.Keys(makers)) {
		weaker, stricter := 0, 0
		for n := 0; n < each; {
			p := makers[name]()
			if len(p) < Least {
				continue
			}
			n++
			own, theirs := bits(p, nil), zxcvbn.PasswordStrength(p, nil)
			switch {
			case own >= strong && theirs.Score < 3:
				weaker++
				if own > strong+12 || theirs.Score < 2 {
					t.Errorf("%s: %q has %.1f bits, and %.1f by zxcvbn", name, p, own, theirs.Entropy)
				}
			case own < strong && theirs.Score >= 3:
				stricter++
			}
		}
		if weaker > each/12 || stricter > each/20 {
			t.Errorf("%s: of %d are %d taken that zxcvbn refuses, and %d refused that it takes", name, each, weaker, stricter)
		}
	}
}

// No passphrase is harder than its single characters are, nor said twice harder than once
// by more than a bit.
func TestBitsAreSane(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for range 500 {
		var s strings.Builder
		for range rng.IntN(40) {
			s.WriteRune([]rune("abcxyz019 -éß日")[rng.IntN(14)])
		}
		p := s.String()
		got, most := bits(p, nil), float64(len([]rune(p)))*math.Log2(alphabet([]rune(p)))
		if got < 0 || math.IsNaN(got) || p != "" && got > most+1e-9 {
			t.Errorf("%q: %f of at most %f", p, got, most)
		}
		if twice := bits(p+p, nil); p != "" && twice > got+1+1e-9 {
			t.Errorf("%q: %f, and twice %f", p, got, twice)
		}
	}
}

func BenchmarkCheck(b *testing.B) {
	long := strings.Repeat("nine words ", 18)
	for b.Loop() {
		_ = Check(long, "Ines Winter", "Upland Battery")
	}
}
