// Package passphrase keeps passphrases as argon2id hashes.
package passphrase

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"
	"sync"

	"golang.org/x/crypto/argon2"
)

// Cost of a hash: OWASP's recommendation for argon2id (19 MiB, 2 passes).
const (
	memoryKiB = 19 * 1024
	passes    = 2
	lanes     = 1
	keyBytes  = 32
	saltBytes = 16
)

// Least is the fewest characters a passphrase may have.
const Least = 12

// Hash gives the hash of a passphrase in the PHC string format.
func Hash(passphrase string) string {
	salt := make([]byte, saltBytes)
	_, _ = rand.Read(salt) // never fails: crypto/rand stops the program instead
	key := argon2.IDKey([]byte(passphrase), salt, passes, memoryKiB, lanes, keyBytes)
	b64 := base64.RawStdEncoding.EncodeToString
	return fmt.Sprintf(
		"$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s",
		argon2.Version,
		memoryKiB,
		passes,
		lanes,
		b64(salt),
		b64(key),
	)
}

// Matches reports whether a passphrase has the given hash. A hash it cannot
// read matches nothing.
func Matches(hash, passphrase string) bool {
	parts := strings.Split(hash, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	var version, memory, time uint32
	var threads uint8
	if _, err := fmt.Sscanf(parts[2], "v=%d", &version); err != nil || version != argon2.Version {
		return false
	}
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &memory, &time, &threads); err != nil || memory > 1<<20 ||
		time == 0 ||
		threads == 0 {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	want, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil || len(want) == 0 {
		return false
	}
	got := argon2.IDKey([]byte(passphrase), salt, time, memory, threads, uint32(len(want)))
	return subtle.ConstantTimeCompare(got, want) == 1
}

// nobody is compared with when a name is unknown, so that an unknown name takes
// as long to refuse as a wrong passphrase.
var nobody = sync.OnceValue(func() string { return Hash("nobody has this passphrase") })

// MatchesNobody spends the time a comparison takes and refuses.
func MatchesNobody(passphrase string) bool {
	Matches(nobody(), passphrase)
	return false
}
