package desk

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/host"
)

const hostTimeout = 30 * time.Second // for one answer

func (d *Desk) seal(s string) []byte {
	nonce := make([]byte, d.aead.NonceSize())
	_, _ = rand.Read(nonce)
	return d.aead.Seal(nonce, nonce, []byte(s), nil)
}

func (d *Desk) unseal(b []byte) (string, error) {
	n := d.aead.NonceSize()
	if len(b) < n {
		return "", refused("The site's password cannot be read. Enter it again in the site's settings.")
	}
	s, err := d.aead.Open(nil, b[:n], b[n:], nil)
	if err != nil {
		return "", refused("The site's password was sealed with another secret. Enter it again in the site's settings.")
	}
	return string(s), nil
}

// Unseals reports whether this secret is one that a host's password was sealed with, or none was.
func (d *Desk) Unseals(ctx context.Context) (bool, error) {
	all, err := d.store.HostSecrets(ctx)
	return len(all) == 0 || slices.ContainsFunc(all, func(b []byte) bool {
		_, err := d.unseal(b)
		return err == nil
	}), err
}

// secrets are what signs in at a host with a key.
type secrets struct {
	Password string `json:"password"`
	Key      string `json:"key"`
}

// keyed begins the sealed text of secrets; what was sealed before there were keys is a password.
const keyed = "\x00"

func (d *Desk) sealReach(r host.Reach) []byte {
	if r.Key == "" {
		return d.seal(r.Pass)
	}
	b, _ := json.Marshal(secrets{r.Pass, r.Key}) // two strings: it does not fail
	return d.seal(keyed + string(b))
}

// reachOf is how a host is reached by what was entered.
func reachOf(f api.SiteForm) host.Reach {
	r := host.Reach{Kind: "webdav", URL: strings.TrimSpace(f.HostURL), User: f.HostUser, Pass: f.HostPassword}
	if f.HostKind != nil {
		r.Kind = string(*f.HostKind)
	}
	if r.Kind == "hand" {
		r.Public = f.PublicURL
	}
	if f.HostKey != nil {
		r.Key = strings.TrimSpace(*f.HostKey)
		if r.Key != "" {
			r.Key += "\n"
		}
	}
	return r
}

// reach is how a site's live host is reached.
func (d *Desk) reach(ctx context.Context, site int64) (host.Reach, error) {
	h, err := d.store.SiteHost(ctx, site, "live")
	if err != nil {
		return host.Reach{}, missing(err, "host")
	}
	pass, err := d.unseal(h.Secret)
	if err != nil {
		return host.Reach{}, err
	}
	k := knowsOf(h.Knows)
	r := host.Reach{
		Kind:   h.Kind,
		URL:    h.URL,
		User:   h.User,
		Pass:   pass,
		Pinned: k.Key,
		Unheld: k.MayWrite && !k.Locks,
		By:     "Mendry at " + d.PublicURL,
	}
	if r.Kind == "hand" {
		s, err := d.store.Site(ctx, site)
		if err != nil {
			return r, err
		}
		r.Public = s.PublicURL
	}
	if text, ok := strings.CutPrefix(pass, keyed); ok {
		var s secrets
		if err := json.Unmarshal([]byte(text), &s); err != nil {
			return r, refused("The site's key cannot be read. Enter it again in the site's settings.")
		}
		r.Pass, r.Key = s.Password, s.Key
	}
	return r, nil
}

// liveHost reaches a site's live host. One that was reached before is used again, with its connections.
func (d *Desk) liveHost(ctx context.Context, site int64) (host.Host, error) {
	r, err := d.reach(ctx, site)
	if err != nil {
		return nil, err
	}
	b, _ := json.Marshal(r) // of strings: it does not fail
	key := hash(b)
	if h, ok := d.hosts.Get(key); ok {
		return h, nil
	}
	h, err := host.Open(d.Network, r, hostTimeout)
	if err == nil {
		d.hosts.Add(key, h)
	}
	return h, err
}

// knowsOf reads what was kept of a host.
func knowsOf(b []byte) (k host.Knows) {
	_ = json.Unmarshal(b, &k) // of an older form: it is found out anew
	return k
}

// findOut tries a site's host and keeps what was found.
func (d *Desk) findOut(ctx context.Context, site int64, h host.Host) (host.Knows, error) {
	k, err := h.Try(ctx)
	if err != nil {
		return k, err
	}
	if k.Key == "" { // it stays known by the key that it showed
		before, err := d.store.SiteHost(ctx, site, "live")
		if err != nil {
			return k, err
		}
		k.Key = knowsOf(before.Knows).Key
	}
	b, err := json.Marshal(k)
	if err != nil {
		return k, err
	}
	return k, d.store.SetHostKnows(ctx, site, "live", b, d.now())
}

// TryHost finds out what a site's host does. With newKey the key that it shows now is accepted in the place of the one
// that it showed first.
func (d *Desk) TryHost(ctx context.Context, who Who, site int64, newKey bool) (api.Site, error) {
	if _, err := d.store.SiteRow(ctx, site); err != nil {
		return api.Site{}, missing(err, "site")
	}
	r, err := d.reach(ctx, site)
	if err != nil {
		return api.Site{}, err
	}
	old := r.Pinned
	if newKey {
		r.Pinned = ""
	}
	h, err := host.Open(d.Network, r, hostTimeout)
	if err != nil {
		return api.Site{}, err
	}
	ctx, cancel := context.WithTimeout(ctx, 25*time.Second)
	defer cancel()
	k, err := d.findOut(ctx, site, h)
	if err != nil {
		return api.Site{}, err
	}
	if newKey && k.Key != old {
		say := fmt.Sprintf("%s in the place of %s", host.Fingerprint(k.Key), host.Fingerprint(old))
		if err := d.note(ctx, d.store.Queries, site, nil, nil, event{Who: who.Name, What: "host's new key accepted", Say: say}); err != nil {
			return api.Site{}, err
		}
	}
	s, err := d.store.SiteRow(ctx, site)
	return siteView(s), err
}
