package store

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"mendry/internal/core/find"
	"mendry/internal/core/record"
	"mendry/internal/localdb/dbtest"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

func open(t *testing.T) *Store {
	t.Helper()
	dsn := dbtest.DSN(t)
	s, err := Open(context.Background(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	again, err := Open(context.Background(), dsn) // tables that are up to date stay as they are
	if err != nil {
		t.Fatal(err)
	}
	_ = again.Close()
	return s
}

func site(t *testing.T, s *Store) (siteID, person int64) {
	t.Helper()
	ctx := context.Background()
	client, err := s.AddClient(ctx, Client{Name: "Larkspur", CreatedAt: Now()})
	if err != nil {
		t.Fatal(err)
	}
	siteID, err = s.AddSite(ctx, Site{ClientID: client, Name: "Larkspur", Initials: "L", Colour: "#24547a", HostSecret: []byte{1}, Zone: "UTC", State: "new", CreatedAt: Now()})
	if err != nil {
		t.Fatal(err)
	}
	person, err = s.AddPerson(ctx, Person{SignIn: "ines", Name: "Ines", Initials: "I", Role: "lead", CreatedAt: Now()})
	if err != nil {
		t.Fatal(err)
	}
	return siteID, person
}

func TestTimesKeepTheirMicroseconds(t *testing.T) {
	s := open(t)
	_, id := site(t, s)
	at := time.Date(2026, 11, 24, 9, 0, 0, 123456000, time.UTC)
	if err := s.AddSignInTry(context.Background(), "x", "192.0.2.1", at); err != nil {
		t.Fatal(err)
	}
	for _, since := range []time.Duration{-time.Microsecond, 0} {
		n, _, err := s.SignInTries(context.Background(), "x", "", at.Add(since))
		if want := map[time.Duration]int{-time.Microsecond: 1, 0: 0}[since]; err != nil || n != want {
			t.Errorf("since %v: %d, %v", since, n, err)
		}
	}
	p, err := s.Person(context.Background(), id)
	if err != nil || p.CreatedAt.Location() != time.UTC {
		t.Errorf("%v %v", p.CreatedAt, err)
	}
}

// Many writers at once must give one chain without gaps.
func TestTheRecordOfManyWritersIsOneChain(t *testing.T) {
	s := open(t)
	id, _ := site(t, s)
	ctx := context.Background()
	var wg sync.WaitGroup
	for range 8 {
		wg.Go(func() {
			for range 5 {
				if err := s.Tx(ctx, func(q Queries) error {
					return q.AppendRecord(ctx, id, nil, nil, Now(), map[string]string{"what": "£6.90 becomes £7.40"})
				}); err != nil {
					t.Error(err)
				}
			}
		})
	}
	wg.Wait()
	rows, err := s.Chain(ctx, id)
	if err != nil || len(rows) != 40 {
		t.Fatalf("%d entries, %v", len(rows), err)
	}
	es := make([]record.Entry, len(rows))
	for i, r := range rows {
		es[i] = r.Entry()
	}
	if err := record.Verify(es); err != nil {
		t.Error(err)
	}
	if err := s.Tx(ctx, func(q Queries) error {
		_, err := q.do(ctx, `UPDATE record_entry SET body = REPLACE(body, '7.40', '7.10') WHERE site_id = ? AND n = 17`, id)
		return err
	}); err != nil {
		t.Fatal(err)
	}
	rows, err = s.Chain(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	for i, r := range rows {
		es[i] = r.Entry()
	}
	var fault *record.Fault
	if err := record.Verify(es); !errors.As(err, &fault) || fault.N != 17 {
		t.Errorf("an altered row: %v", err)
	}
}

func TestAReleaseIsClaimedByOneOnly(t *testing.T) {
	s := open(t)
	id, person := site(t, s)
	ctx := context.Background()
	req, err := s.AddRequest(ctx, Request{SiteID: id, Subject: "x", Kind: "mail", State: "cleared", ReceivedAt: Now(), CreatedBy: person})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.AddRelease(ctx, Release{RequestID: req, SiteID: id, State: "waiting", MadeBy: person, MadeAt: Now()}); err != nil {
		t.Fatal(err)
	}
	var mu sync.Mutex
	got := 0
	var wg sync.WaitGroup
	for _, by := range []string{"a", "b", "c", "d"} {
		wg.Go(func() {
			if _, err := s.ClaimRelease(ctx, by, Now(), time.Minute); err == nil {
				mu.Lock()
				got++
				mu.Unlock()
			} else if !errors.Is(err, ErrNone) {
				t.Error(err)
			}
		})
	}
	wg.Wait()
	if got != 1 {
		t.Errorf("%d processes hold the release", got)
	}
	if _, err := s.ClaimRelease(ctx, "e", Now().Add(2*time.Minute), time.Minute); err != nil {
		t.Errorf("a claim that ran out is not given on: %v", err)
	}
}

func TestSearchingWithSignsThatMeanSomethingToMariaDB(t *testing.T) {
	s := open(t)
	id, _ := site(t, s)
	ctx := context.Background()
	if err := s.KeepPage(ctx, Page{SiteID: id, Path: "fares.html", Address: "/fares.html", Title: "Fares 100%", Words: "The adult single is £6.90, café_x", SeenAt: Now()}); err != nil {
		t.Fatal(err)
	}
	for words, want := range map[string]int{
		"fares.html": 1, "/fares.html": 1, "ares.html": 1, "adult sing": 1, "sing adult": 1, "6.90 GBP": 1, "£6.9": 0, "cafe": 1, "100%": 1, `"(+-~*@<>`: 0,
		"it's": 0, `\`: 0, "%": 0, "nothing": 0, "adlut single": 1, "sinlge adult": 1, "the": 0,
	} {
		q := find.Read(words)
		near, err := s.WordsNear(ctx, q.Terms)
		if err != nil {
			t.Fatal(err)
		}
		if got, err := s.FindPages(ctx, id, q, near, 10); err != nil || len(got) != want {
			t.Errorf("%q: %d pages, %v", words, len(got), err)
		}
	}
}

// Pages that are gone, and those of other sites that have the very word, do not stand in the way of those that are meant.
func TestFindingPassesOverWhatIsGoneOrElsewhere(t *testing.T) {
	s := open(t)
	id, _ := site(t, s)
	ctx := context.Background()
	other, err := s.AddSite(ctx, Site{ClientID: 1, Name: "Osprey", Initials: "O", Colour: "#24547a", HostSecret: []byte{1}, Zone: "UTC", State: "new", CreatedAt: Now()})
	if err != nil {
		t.Fatal(err)
	}
	keep := func(site int64, n int, words string) {
		t.Helper()
		path := fmt.Sprintf("%d.html", n)
		if err := s.KeepPage(ctx, Page{SiteID: site, Path: path, Address: "/" + path, Title: path, Words: words, SeenAt: Now()}); err != nil {
			t.Fatal(err)
		}
	}
	for n := range 130 {
		keep(id, n, "boats sing")
	}
	if err := s.GoneExcept(ctx, id, Now().Add(time.Second), Now()); err != nil {
		t.Fatal(err)
	}
	keep(id, 200, "boats single")
	for n := range 60 {
		keep(other, n, "boats sing")
	}
	for words, want := range map[string]int{"boats sing": 1, "sing boats": 1, "boats": 1} {
		if got, err := s.FindPages(ctx, id, find.Read(words), nil, 50); err != nil || len(got) != want {
			t.Errorf("%q on one site: %d pages, %v", words, len(got), err)
		}
		if got, err := s.FindPages(ctx, 0, find.Read(words), nil, 50); err != nil || len(got) != mostAsked {
			t.Errorf("%q on all: %d pages, %v", words, len(got), err)
		}
	}
}

func TestPagesAreMadeFindableBySeveralAtOnce(t *testing.T) {
	s := open(t)
	id, _ := site(t, s)
	ctx := context.Background()
	words := strings.Fields("alder birch cedar elm hazel linden maple rowan willow oak ash beech holly hornbeam larch pine spruce yew aspen poplar")
	var wg sync.WaitGroup
	for worker := range 6 {
		wg.Go(func() {
			random := rand.New(rand.NewPCG(uint64(worker), 1))
			for n := range 12 {
				said := "tree" + strconv.Itoa(worker)
				for range 12 {
					said += " " + words[random.IntN(len(words))]
				}
				name := fmt.Sprintf("%d-%d.html", worker, n)
				if err := s.Tx(ctx, func(q Queries) error {
					return q.KeepPage(ctx, Page{SiteID: id, Path: name, Address: "/" + name, Title: name, Words: said, SeenAt: Now()})
				}); err != nil {
					t.Error(err)
				}
			}
		})
	}
	wg.Wait()
	for worker := range 6 {
		if got, err := s.FindPages(ctx, id, find.Read("tree"+strconv.Itoa(worker)), nil, 50); err != nil || len(got) != 12 {
			t.Errorf("worker %d: %d pages, %v", worker, len(got), err)
		}
	}
}
