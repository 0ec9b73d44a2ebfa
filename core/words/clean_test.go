package words

import "testing"

// What is seen is what is kept. The marks are those of Unicode: U+202E turns the
// direction, U+200E and U+2066 set it, U+200B and U+FEFF take no room.
func TestClean(t *testing.T) {
	for in, want := range map[string]string{
		"K-0102": "K-0102", " K-0102\t ": "K-0102", "Cafe\u0301": "Caf\u00e9", "Caf\u00e9": "Caf\u00e9", "CAFE": "CAFE",
		"van\u202e 21-K": "van 21-K", "\u200eInes\u2066": "Ines", "a\u200bb\ufeffc\u0000d\u001b[2J": "abcd[2J", "two  \n words": "two words",
		"": "", "\u00a0\u2003": "", "日本": "日本", "\ufffdx": "x",
	} {
		if got := Clean(in); got != want {
			t.Errorf("%q: %q, want %q", in, got, want)
		}
		if again := Clean(Clean(in)); again != Clean(in) {
			t.Errorf("%q is not clean yet: %q", Clean(in), again)
		}
	}
	if got := CleanLines("\n turns slowly \r\n\r\n\u202esince\u0007 May\t\n"); got != " turns slowly\n\nsince May" {
		t.Errorf("lines: %q", got)
	}
}

func TestFolded(t *testing.T) {
	for in, want := range map[string]string{"Café ÅNGSTRÖM": "cafe angstrom", "K-0102": "k-0102", "ﬁx": "fix", "Ines\u0301": "ines"} {
		if got := Folded(in); got != want {
			t.Errorf("%q: %q, want %q", in, got, want)
		}
	}
}
