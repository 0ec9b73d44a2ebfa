// Package passphrase keeps passphrases as argon2id hashes.
package passphrase

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"flag"
	"fmt"
	"runtime"
	"strings"
	"sync"

	"golang.org/x/crypto/argon2"
)

// cost is what a hash asks for.
type cost struct {
	memoryKiB, passes uint32
}

// paid is what new hashes cost: OWASP's recommendation for argon2id (19 MiB, 2 passes).
var paid = cost{19 * 1024, 2}

// Cheap makes hashes cheap for the tests of this program: they sign in hundreds of times,
// and what they sign in to is thrown away. It refuses, by a panic, anywhere else.
func Cheap() { paid = cheap(flag.Lookup("test.v") != nil) }

func cheap(inTest bool) cost {
	if !inTest {
		panic("outside tests passphrases are hashed at full cost")
	}
	return cost{64, 1}
}

const (
	lanes     = 1
	keyBytes  = 32
	saltBytes = 16
)

// gate lets few hashes be made at once: each takes 19 MiB, and more at once than there
// are processors make none of them earlier.
var gate = make(chan struct{}, max(2, runtime.GOMAXPROCS(0)))

// Hash gives the hash of a passphrase in the PHC string format.
func Hash(passphrase string) string {
	gate <- struct{}{}
	defer func() { <-gate }()
	passphrase = Kept(passphrase)
	salt := make([]byte, saltBytes)
	_, _ = rand.Read(salt) // never fails: crypto/rand stops the program instead
	key := argon2.IDKey([]byte(passphrase), salt, paid.passes, paid.memoryKiB, lanes, keyBytes)
	b64 := base64.RawStdEncoding.EncodeToString
	return fmt.Sprintf(
		"$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s",
		argon2.Version,
		paid.memoryKiB,
		paid.passes,
		lanes,
		b64(salt),
		b64(key),
	)
}

// The most a stored hash may ask for, so that a spoiled one cannot hold up the
// server: a GiB, and passes of a few seconds.
const (
	mostMemoryKiB = 1 << 20
	mostPasses    = 16
)

// kept is a hash taken apart.
type kept struct {
	memory, passes uint32
	lanes          uint8
	salt, key      []byte
}

// read takes a hash apart; false when it is not one, or asks for too much.
func read(hash string) (k kept, ok bool) {
	parts := strings.Split(hash, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return k, false
	}
	var version uint32
	if _, err := fmt.Sscanf(parts[2], "v=%d", &version); err != nil || version != argon2.Version {
		return k, false
	}
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &k.memory, &k.passes, &k.lanes); err != nil {
		return k, false
	}
	if k.memory > mostMemoryKiB || k.passes < 1 || k.passes > mostPasses || k.lanes < 1 {
		return k, false
	}
	var err1, err2 error
	k.salt, err1 = base64.RawStdEncoding.DecodeString(parts[4])
	k.key, err2 = base64.RawStdEncoding.DecodeString(parts[5])
	return k, err1 == nil && err2 == nil && len(k.key) > 0
}

// Matches reports whether a passphrase has the given hash. A hash it cannot
// read matches nothing. The error is that of a context that ended while others
// were compared.
func Matches(ctx context.Context, hash, passphrase string) (bool, error) {
	k, ok := read(hash)
	if !ok {
		return false, nil
	}
	select {
	case gate <- struct{}{}:
		defer func() { <-gate }()
	case <-ctx.Done():
		return false, ctx.Err()
	}
	got := argon2.IDKey([]byte(Kept(passphrase)), k.salt, k.passes, k.memory, k.lanes, uint32(len(k.key)))
	return subtle.ConstantTimeCompare(got, k.key) == 1, nil
}

// nobody is compared with when a name is unknown, so that an unknown name takes
// as long to refuse as a wrong passphrase.
var nobody = sync.OnceValue(func() string { return Hash("nobody has this passphrase") })

// MatchesNobody spends the time a comparison takes and refuses.
func MatchesNobody(ctx context.Context, passphrase string) (bool, error) {
	_, err := Matches(ctx, nobody(), passphrase)
	return false, err
}
