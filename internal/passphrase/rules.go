package passphrase

import (
	"fmt"
	"math"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/unicode/norm"
)

// How many characters a passphrase may have.
const Least, Most = 12, 200

// Kept is a passphrase as it is hashed and compared: composed (NFKC, as NIST SP 800-63B
// asks), without the space that pasting leaves at its ends. Everything within counts.
func Kept(phrase string) string { return strings.TrimSpace(norm.NFKC.String(phrase)) }

// strong is how many bits a passphrase needs: score 3 of zxcvbn, "safely unguessable" for
// offline attacks on a slow hash, which is a million seconds for half of all tries at ten
// thousand a second.
var strong = math.Log2(2e10)

// fewest is how many different characters there are at least.
const fewest = 5

// Check says what is wrong with a passphrase somebody chooses: too short or long, or
// easy to guess, among others for who knows the words about: names of person and
// workshop. The error is fit to be shown.
func Check(phrase string, about ...string) error {
	phrase = Kept(phrase)
	n := utf8.RuneCountInString(phrase)
	switch {
	case n < Least:
		return fmt.Errorf("the passphrase has %d characters; at least %d are needed. Four words do well", n, Least)
	case n > Most:
		return fmt.Errorf("the passphrase has %d characters; at most %d are taken", n, Most)
	}
	known := []string{"grapnel"}
	for _, a := range about {
		known = append(known, strings.Fields(strings.ToLower(a))...)
		known = append(known, strings.ToLower(a), strings.ToLower(strings.ReplaceAll(a, " ", "")))
	}
	different := map[rune]bool{}
	for _, r := range phrase {
		different[r] = true
	}
	if len(different) < fewest || bits(phrase, known) < strong {
		return fmt.Errorf(
			"this passphrase is easy to guess: it is a common one, a name, or a pattern. Four words that have nothing to do with each other do well",
		)
	}
	return nil
}

// CheckPIN says what is wrong with a PIN: it has 4 to 8 digits, and is none of those
// everybody tries. The error is fit to be shown.
func CheckPIN(pin string) error {
	if len(pin) < 4 || len(pin) > 8 || strings.Trim(pin, "0123456789") != "" {
		return fmt.Errorf("a PIN has 4 to 8 digits")
	}
	up, down, same := true, true, true
	for i := 1; i < len(pin); i++ {
		step := int(pin[i]) - int(pin[i-1])
		up, down, same = up && step == 1, down && step == -1, same && step == 0
	}
	if half := len(pin) / 2; up || down || same || len(pin)%2 == 0 && pin[:half] == pin[half:] {
		return fmt.Errorf("this PIN is one of the first that anybody tries. Choose another")
	}
	return nil
}
