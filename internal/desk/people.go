package desk

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"time"

	"golang.org/x/crypto/argon2"

	"mendry/internal/core/refusal"
	"mendry/internal/store"
)

// argon2id with the second recommended parameter set of RFC 9106, 4: 64 MiB, three passes, four lanes.
const (
	argonTime, argonMemory, argonLanes, argonKey = 3, 64 << 10, 4, 32
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

// SignIn checks a name and password. Five failures under one name, or twenty from one address, within a quarter of an
// hour make the next one wait.
func (d *Desk) SignIn(ctx context.Context, name, password, from string) (store.Person, error) {
	name = strings.ToLower(strings.TrimSpace(name))
	now := d.now()
	byName, byAddress, err := d.store.SignInTries(ctx, name, from, now.Add(-15*time.Minute))
	if err != nil {
		return store.Person{}, err
	}
	if byName >= 5 || byAddress >= 20 {
		return store.Person{}, refusal.New(refusal.TooMany, "Too many attempts. Wait a quarter of an hour, then try again.")
	}
	p, err := d.store.PersonBySignIn(ctx, name)
	hashed := p.PasswordHash
	if errors.Is(err, store.ErrNone) {
		hashed = nobody
	} else if err != nil {
		return p, err
	}
	if !rightPassword(hashed, password) || err != nil {
		if err := d.store.AddSignInTry(ctx, name, from, now); err != nil {
			return p, err
		}
		return store.Person{}, refusal.New(refusal.Forbidden, "Name and password do not fit together. Try again.")
	}
	return p, d.store.ClearSignInTries(ctx, name, now)
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
