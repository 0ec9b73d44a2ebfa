package passphrase

import (
	"context"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"
)

func matches(t *testing.T, hash, phrase string) bool {
	t.Helper()
	ok, err := Matches(t.Context(), hash, phrase)
	if err != nil {
		t.Fatal(err)
	}
	return ok
}

func TestHashAndMatch(t *testing.T) {
	h := Hash("warm copper on paper")
	if !matches(t, h, "warm copper on paper") || matches(t, h, "warm copper on Paper") || matches(t, h, "") {
		t.Error("the hash does not tell its passphrase from others")
	}
	if again := Hash("warm copper on paper"); again == h {
		t.Error("two hashes of one passphrase are alike: the salt is not random")
	}
	if !strings.HasPrefix(h, "$argon2id$v=19$m=19456,t=2,p=1$") { // OWASP's cost
		t.Errorf("kept as %s", h)
	}
	if strings.Contains(h, "copper") || nobodyMatches(t) {
		t.Error("a passphrase leaks or nobody signed in")
	}
	for hash, good := range map[string]bool{"": false, "x": false, "$argon2i$v=19$m=64,t=1,p=1$AA$AA": false,
		"$argon2id$v=18$m=64,t=1,p=1$AA$AA": false, "$argon2id$v=19$m=64,t=1,p=1$AA$": false,
		"$argon2id$v=19$m=64,t=1,p=1$!$AA": false, "$argon2id$v=19$m=64,t=1,p=0$AA$AA": false,
		"$argon2id$v=19$m=64,t=0,p=1$AA$AA": false, "$argon2id$v=19$m=64,t=1,p=1$AA$AA": true,
		"$argon2id$v=19$m=64,t=16,p=1$AA$AA": true, "$argon2id$v=19$m=64,t=17,p=1$AA$AA": false,
		"$argon2id$v=19$m=1048576,t=1,p=1$AA$AA": true, "$argon2id$v=19$m=1048577,t=1,p=1$AA$AA": false} {
		if _, ok := read(hash); ok != good {
			t.Errorf("%q is taken: %t", hash, ok)
		}
		if !good && matches(t, hash, "x") {
			t.Errorf("%q matches", hash)
		}
	}
}

// Source: the argon2 reference implementation's own test list (test.c, version
// 0x13, argon2id): "password" with salt "somesalt", 2 passes of 64 MiB, 1 lane.
func TestReferenceVector(t *testing.T) {
	key, err := hex.DecodeString("09316115d5cf24ed5a15a31a3ba326e5cf32edc24702987c02b6566f61913cf7")
	if err != nil {
		t.Fatal(err)
	}
	b64 := base64.RawStdEncoding.EncodeToString
	h := fmt.Sprintf("$argon2id$v=19$m=65536,t=2,p=1$%s$%s", b64([]byte("somesalt")), b64(key))
	if !matches(t, h, "password") || matches(t, h, "Password") {
		t.Error("the reference vector does not verify")
	}
}

func nobodyMatches(t *testing.T) bool {
	ok, err := MatchesNobody(t.Context(), "nobody has this passphrase")
	return ok || err != nil
}

// A passphrase is compared as it is kept: composed, without what pasting leaves around
// it; a space within counts, and so do capitals.
func TestKept(t *testing.T) {
	h := Hash(" cafe\u0301 on the  corner\n")
	for phrase, want := range map[string]bool{"caf\u00e9 on the  corner": true, "\tcafe\u0301 on the  corner ": true, "caf\u00e9 on the corner": false, "Caf\u00e9 on the  corner": false, "cafe on the  corner": false} {
		if matches(t, h, phrase) != want {
			t.Errorf("%q: %t", phrase, !want)
		}
	}
}

// What anybody would try is refused, with what to do instead; four words do well. The
// common ones are of the lists of zxcvbn.
func TestCheck(t *testing.T) {
	for phrase, say := range map[string]string{
		"warm copper on paper": "", "blue kettle morning": "", "elevencharx": "has 11 characters", "twelve-charz": "", " elevencharx  ": "has 11 characters",
		"password123456": "easy to guess", "aaaaaaaaaaaaaaaa": "easy to guess", "123456789012": "easy to guess", "qwertyuiop12": "easy to guess", "letmeinletmein": "easy to guess",
		"Ines Winter 1": "easy to guess", "uplandbattery1": "easy to guess", "grapnelgrapnel": "easy to guess", "éééééééééééé": "easy to guess", "日本語字日本語字字日本語": "easy to guess", "日本語字話日本話語字字日": "",
		strings.Repeat("nine word", 22) + "xy": "", strings.Repeat("nine word", 22) + "xyz": "at most 200",
	} {
		err := Check(phrase, "Ines Winter", "Upland Battery")
		if (err == nil) != (say == "") || err != nil && !strings.Contains(err.Error(), say) {
			t.Errorf("%q: %v, want %q", phrase, err, say)
		}
	}
	for pin, say := range map[string]string{"2580": "", "48151623": "", "481516234": "4 to 8", "481": "4 to 8", "48a1": "4 to 8", "1234": "first", "9876": "first", "0000": "first", "1212": "first",
		"123123": "first", "1235": "", "24681": "", "": "4 to 8", "۴۵۶۷": "4 to 8"} {
		err := CheckPIN(pin)
		if (err == nil) != (say == "") || err != nil && !strings.Contains(err.Error(), say) {
			t.Errorf("PIN %q: %v, want %q", pin, err, say)
		}
	}
}

// However many come at once, few hashes are made at once; who leaves is not waited for.
func TestFewAtOnce(t *testing.T) {
	if n := cap(gate); n < 2 || n > 64 {
		t.Errorf("%d at once", n)
	}
	for range cap(gate) {
		gate <- struct{}{}
	}
	ctx, cancel := context.WithTimeout(t.Context(), 10*time.Millisecond)
	defer cancel()
	if ok, err := Matches(ctx, nobody0, "x"); ok || !errors.Is(err, context.DeadlineExceeded) {
		t.Errorf("while all are busy: %t, %v", ok, err)
	}
	for range cap(gate) {
		<-gate
	}
	if _, err := Matches(t.Context(), nobody0, "x"); err != nil {
		t.Errorf("once one is free: %v", err)
	}
}

const nobody0 = "$argon2id$v=19$m=64,t=1,p=1$AA$AA"

// Hashes are cheap in tests alone, where they say so; what a server hashes with is the
// recommended cost, and stands in the hash.
func TestCheapInTestsAlone(t *testing.T) {
	full := paid
	defer func() { paid = full }()
	if hash := Hash("warm copper on paper"); !strings.Contains(hash, "$m=19456,t=2,p=1$") {
		t.Errorf("a hash of full cost: %s", hash)
	}
	Cheap()
	hash := Hash("warm copper on paper")
	if ok, err := Matches(t.Context(), hash, "warm copper on paper"); !ok || err != nil || !strings.Contains(hash, "$m=64,t=1,p=1$") {
		t.Errorf("a cheap hash: %s, %t, %v", hash, ok, err)
	}
	defer func() {
		if recover() == nil {
			t.Error("a server may hash cheaply")
		}
	}()
	cheap(false)
}
