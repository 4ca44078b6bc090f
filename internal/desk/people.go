package desk

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"net/netip"
	"strings"
	"time"

	"golang.org/x/crypto/argon2"

	"mendry/internal/core/refusal"
	"mendry/internal/store"
)

// argon2id by OWASP's Password Storage Cheat Sheet: 19 MiB, two passes, one lane. Hashes made by other figures carry
// theirs.
const (
	argonTime, argonMemory, argonLanes, argonKey = 2, 19 << 10, 1, 32
)

// HashPassword hashes a password in the PHC string form.
func HashPassword(password string) string {
	salt := make([]byte, 16)
	_, _ = rand.Read(salt)
	key := argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonLanes, argonKey)
	enc := base64.RawStdEncoding.EncodeToString
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonTime, argonLanes, enc(salt), enc(key))
}

func rightPassword(hashed, password string) bool {
	var version, memory, passes int
	var lanes uint8
	fields := strings.Split(hashed, "$")
	if len(fields) != 6 || fields[1] != "argon2id" {
		return false
	}
	if _, err := fmt.Sscanf(fields[2], "v=%d", &version); err != nil || version != argon2.Version {
		return false
	}
	if _, err := fmt.Sscanf(fields[3], "m=%d,t=%d,p=%d", &memory, &passes, &lanes); err != nil {
		return false
	}
	salt, errSalt := base64.RawStdEncoding.DecodeString(fields[4])
	key, errKey := base64.RawStdEncoding.DecodeString(fields[5])
	if errSalt != nil || errKey != nil || len(key) == 0 {
		return false
	}
	got := argon2.IDKey([]byte(password), salt, uint32(passes), uint32(memory), lanes, uint32(len(key)))
	return subtle.ConstantTimeCompare(got, key) == 1
}

// nobody is compared with where no person has the name, so that the answer takes as long.
var nobody = HashPassword("nobody")

const (
	triesByName    = 5  // that fail, within triesWithin
	triesByAddress = 20 // that fail, within triesWithin
	triesWithin    = 15 * time.Minute

	hashedAtOnce = 2 // passwords; each takes 19 MiB
	waitToHash   = 8 // sign-ins that wait their turn
)

// SignIn checks a name and password. Five tries under one name, or twenty from one address, within a quarter of an
// hour make the next one wait; they are counted before the password is looked at. An address of a private network, as
// a proxy has that nobody named, is not held against anybody.
func (d *Desk) SignIn(ctx context.Context, name, password, from string) (store.Person, error) {
	name = strings.ToLower(strings.TrimSpace(name))
	byName, byAddress := fmt.Sprintf("name %.190s", name), "from "+from
	now := d.now()
	since := now.Add(-triesWithin)
	tries, err := d.store.CountSignIn(ctx, byName, now, since)
	if err != nil {
		return store.Person{}, err
	}
	often := tries > triesByName
	if a, err := netip.ParseAddr(from); err == nil && !a.IsLoopback() && !a.IsPrivate() {
		if tries, err = d.store.CountSignIn(ctx, byAddress, now, since); err != nil {
			return store.Person{}, err
		}
		often = often || tries > triesByAddress
	}
	if often {
		return store.Person{}, refusal.New(refusal.TooMany, "Too many attempts. Wait a quarter of an hour, then try again.")
	}
	p, err := d.store.PersonBySignIn(ctx, name)
	hashed := p.PasswordHash
	if errors.Is(err, store.ErrNone) {
		hashed = nobody
	} else if err != nil {
		return p, err
	}
	right, turn := d.turnToHash(ctx, hashed, password)
	if turn != nil {
		return store.Person{}, turn
	}
	if !right || err != nil {
		return store.Person{}, refusal.New(refusal.Forbidden, "Name and password do not fit together. Try again.")
	}
	return p, d.store.UncountSignIn(ctx, byName, byAddress, since)
}

// turnToHash checks a password when its turn has come: few at a time, since each takes much memory, and few that wait.
func (d *Desk) turnToHash(ctx context.Context, hashed, password string) (right bool, err error) {
	select {
	case d.hashes <- struct{}{}:
	default:
		return false, refusal.New(refusal.TooMany, "Too many people sign in just now. Try again in a moment.")
	}
	defer func() { <-d.hashes }()
	select {
	case d.hashing <- struct{}{}:
	case <-ctx.Done():
		return false, ctx.Err()
	}
	defer func() { <-d.hashing }()
	return rightPassword(hashed, password), nil
}

// Person finds who is signed in.
func (d *Desk) Person(ctx context.Context, id int64) (store.Person, error) {
	return d.store.Person(ctx, id)
}

// KeptNotLive counts the changes that are kept and not live.
func (d *Desk) KeptNotLive(ctx context.Context) (int, error) { return d.store.KeptNotLive(ctx) }

// AddPerson takes in somebody of the studio.
func (d *Desk) AddPerson(ctx context.Context, signIn, name, role, password string) (int64, error) {
	return d.store.AddPerson(ctx, store.Person{
		SignIn: strings.ToLower(signIn), Name: name, Initials: initials(name), Role: role,
		PasswordHash: HashPassword(password), CreatedAt: d.now(),
	})
}

// initials are the first letters of the first two words.
func initials(name string) string {
	s := ""
	for _, w := range strings.Fields(name) {
		if len([]rune(s)) < 2 {
			s += strings.ToUpper(string([]rune(w)[0]))
		}
	}
	return s
}
