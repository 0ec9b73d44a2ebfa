package passphrase

import (
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"strings"
	"testing"
)

func TestHashAndMatch(t *testing.T) {
	h := Hash("warm copper on paper")
	if !Matches(h, "warm copper on paper") || Matches(h, "warm copper on Paper") || Matches(h, "") {
		t.Error("the hash does not tell its passphrase from others")
	}
	if again := Hash("warm copper on paper"); again == h {
		t.Error("two hashes of one passphrase are alike: the salt is not random")
	}
	if !strings.HasPrefix(h, "$argon2id$v=19$m=19456,t=2,p=1$") { // OWASP's cost
		t.Errorf("kept as %s", h)
	}
	if strings.Contains(h, "copper") || MatchesNobody("nobody has this passphrase") {
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
		if !good && Matches(hash, "x") {
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
	if !Matches(h, "password") || Matches(h, "Password") {
		t.Error("the reference vector does not verify")
	}
}
