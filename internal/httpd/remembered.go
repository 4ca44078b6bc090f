package httpd

import (
	"encoding/json"
	"net/http"
	"sync"
	"time"

	"golang.org/x/sync/singleflight"
)

const (
	// keptFor is how long an answer is given again while this process writes nothing: as late as another process's
	// writes may be seen.
	keptFor = time.Second
	// busyFor is how long it is given again to those who wrote nothing themselves since, while others write.
	busyFor     = 150 * time.Millisecond
	mostAnswers = 2000
)

// answers remembers what lists were sent, as bytes: many people ask for the same ones.
type answers struct {
	wrote func() uint64 // counts what this process has written
	one   singleflight.Group

	mu   sync.Mutex
	last map[string]answer
	own  map[int64]time.Time // when somebody last wrote
}

type answer struct {
	body  []byte
	made  time.Time
	wrote uint64
}

func newAnswers(wrote func() uint64) *answers {
	return &answers{wrote: wrote, last: map[string]answer{}, own: map[int64]time.Time{}}
}

// writes notes that somebody is about to write: they see what they did.
func (a *answers) writes(person int64) {
	a.mu.Lock()
	defer a.mu.Unlock()
	a.own[person] = time.Now()
}

// get gives the answer to a question, made anew where the last one may no longer be right for who asks.
func (a *answers) get(key string, person int64, ask func() (any, error)) ([]byte, error) {
	now := time.Now()
	a.mu.Lock()
	got, ok := a.last[key]
	own := a.own[person]
	a.mu.Unlock()
	age := now.Sub(got.made)
	if ok && got.made.After(own) && (age < busyFor || age < keptFor && got.wrote == a.wrote()) {
		return got.body, nil
	}
	made, err, _ := a.one.Do(key, func() (any, error) {
		fresh := answer{made: time.Now(), wrote: a.wrote()}
		v, err := ask()
		if err != nil {
			return fresh, err
		}
		fresh.body, err = json.Marshal(v)
		a.mu.Lock()
		defer a.mu.Unlock()
		if len(a.last) >= mostAnswers {
			clear(a.last)
		}
		a.last[key] = fresh
		return fresh, err
	})
	if err != nil {
		return nil, err
	}
	if fresh := made.(answer); fresh.made.After(own) {
		return fresh.body, nil
	}
	v, err := ask() // what somebody else had begun to ask before this one wrote
	if err != nil {
		return nil, err
	}
	return json.Marshal(v)
}

// sent is an answer as it was sent before.
type sent []byte

func (b sent) write(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", "application/json")
	_, err := w.Write(b)
	return err
}

// VisitGetTodayResponse implements GetTodayResponseObject.
func (b sent) VisitGetTodayResponse(w http.ResponseWriter) error { return b.write(w) }

// VisitGetSiteResponse implements GetSiteResponseObject.
func (b sent) VisitGetSiteResponse(w http.ResponseWriter) error { return b.write(w) }
