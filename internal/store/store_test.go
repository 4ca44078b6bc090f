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
	client, err := s.AddClient(ctx, Client{Name: "Larkspur", CreatedAt: now()})
	if err != nil {
		t.Fatal(err)
	}
	siteID, err = s.AddSite(ctx, Site{ClientID: client, Name: "Larkspur", Initials: "L", Colour: "#24547a", Zone: "UTC", State: "new", CreatedAt: now()})
	if err != nil {
		t.Fatal(err)
	}
	person, err = s.AddPerson(ctx, Person{SignIn: "ines", Name: "Ines", Initials: "I", Role: "lead", CreatedAt: now()})
	if err != nil {
		t.Fatal(err)
	}
	return siteID, person
}

func TestTimesKeepTheirMicroseconds(t *testing.T) {
	s := open(t)
	_, id := site(t, s)
	at := time.Date(2026, 11, 24, 9, 0, 0, 123456000, time.UTC)
	for i, c := range []struct {
		since time.Duration
		want  int
	}{{0, 1}, {0, 2}, {-time.Microsecond, 3}, {time.Microsecond, 1}} {
		if n, err := s.CountSignIn(context.Background(), "x", at, at.Add(c.since)); err != nil || n != c.want {
			t.Errorf("%d: %d tries, want %d, %v", i, n, c.want, err)
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
					return q.AppendRecord(ctx, id, nil, nil, now(), map[string]string{"what": "£6.90 becomes £7.40"})
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

func now() time.Time { return At(time.Now()) }

func TestAJobIsClaimedByOneOnly(t *testing.T) {
	s := open(t)
	ctx := context.Background()
	kinds := []string{"mail"}
	if err := s.AskJob(ctx, "mail", "1", "mail", now()); err != nil {
		t.Fatal(err)
	}
	var mu sync.Mutex
	var got []Job
	var wg sync.WaitGroup
	for _, by := range []string{"a", "b", "c", "d"} {
		wg.Go(func() {
			if j, err := s.ClaimJob(ctx, by, kinds, now(), now().Add(time.Minute)); err == nil {
				mu.Lock()
				got = append(got, j)
				mu.Unlock()
			} else if !errors.Is(err, ErrNone) {
				t.Error(err)
			}
		})
	}
	wg.Wait()
	if len(got) != 1 || got[0].About != "1" {
		t.Fatalf("claimed: %+v", got)
	}
	late := now().Add(2 * time.Minute)
	j, err := s.ClaimJob(ctx, "e", kinds, late, late.Add(time.Minute))
	if err != nil {
		t.Fatalf("a claim that ran out is not given on: %v", err)
	}
	for _, by := range []string{"a", "b", "c", "d"} {
		if err := s.HoldJob(ctx, j.ID, by, late); !errors.Is(err, ErrNone) {
			t.Errorf("%s still holds it: %v", by, err)
		}
	}
	if err := s.AskJob(ctx, "mail", "1", "mail", now()); err != nil { // while it is under way
		t.Fatal(err)
	}
	if err := s.EndJob(ctx, j, "e"); err != nil {
		t.Fatal(err)
	}
	if j, err = s.ClaimJob(ctx, "f", kinds, late, late.Add(time.Minute)); err != nil {
		t.Fatalf("asked for again while it was under way, and forgotten: %v", err)
	}
	if err := s.EndJob(ctx, j, "f"); err != nil {
		t.Fatal(err)
	}
	if _, err := s.JobOf(ctx, "mail", "1"); !errors.Is(err, ErrNone) {
		t.Errorf("a job that is done stays: %v", err)
	}
}

func TestOneJobOfALaneAtATime(t *testing.T) {
	s := open(t)
	ctx := context.Background()
	for _, about := range []string{"1", "2"} {
		for _, lane := range []string{"site 1", "site 2"} {
			if err := s.AskJob(ctx, "release", lane+" "+about, lane, now()); err != nil {
				t.Fatal(err)
			}
		}
	}
	var mu sync.Mutex
	lanes := map[string]int{}
	var wg sync.WaitGroup
	for i := range 8 {
		wg.Go(func() {
			for range 4 {
				if j, err := s.ClaimJob(ctx, strconv.Itoa(i), []string{"release"}, now(), now().Add(time.Minute)); err == nil {
					mu.Lock()
					lanes[j.Lane]++
					mu.Unlock()
				} else if !errors.Is(err, ErrNone) {
					t.Error(err)
				}
			}
		})
	}
	wg.Wait()
	if lanes["site 1"] != 1 || lanes["site 2"] != 1 {
		t.Errorf("claimed at once: %v", lanes)
	}
}

// What two processes do to jobs at the same moment is no error of either.
func TestJobsThatMeet(t *testing.T) {
	s := open(t)
	ctx := context.Background()
	for i := range 12 {
		lane := "site " + strconv.Itoa(i%4)
		if err := s.AskJob(ctx, "release", strconv.Itoa(i), lane, now()); err != nil {
			t.Fatal(err)
		}
	}
	var wg sync.WaitGroup
	for i := range 8 {
		wg.Go(func() {
			by := strconv.Itoa(i)
			for n := range 20 {
				late := now().Add(time.Duration(n) * time.Second)
				j, err := s.ClaimJob(ctx, by, []string{"release"}, late, late.Add(time.Second/2))
				if errors.Is(err, ErrNone) {
					continue
				}
				if err == nil {
					err = s.HoldJob(ctx, j.ID, by, late.Add(time.Second/2))
				}
				if (err == nil || errors.Is(err, ErrNone)) && n%2 == 0 { // the others are left to run out
					err = s.LetJob(ctx, j, by, late, 1, "")
				}
				if err != nil && !errors.Is(err, ErrNone) {
					t.Error(err)
				}
			}
		})
	}
	wg.Wait()
}

func TestBytesAreKeptOnce(t *testing.T) {
	s := open(t)
	ctx := context.Background()
	for range 2 {
		if hash, err := s.KeepBytes(ctx, []byte("abc")); err != nil || hash != abc {
			t.Fatalf("%s %v", hash, err)
		}
	}
	if b, err := s.Bytes(ctx, abc); err != nil || string(b) != "abc" {
		t.Errorf("%q %v", b, err)
	}
	if _, err := s.Bytes(ctx, "none"); !errors.Is(err, ErrNone) {
		t.Errorf("err = %v", err)
	}
}

func TestSearchingWithSignsThatMeanSomethingToMariaDB(t *testing.T) {
	s := open(t)
	id, _ := site(t, s)
	ctx := context.Background()
	if err := s.KeepPage(ctx, Page{SiteID: id, Path: "fares.html", Address: "/fares.html", Title: "Fares 100%", Words: "The adult single is £6.90, café_x", SeenAt: now()}); err != nil {
		t.Fatal(err)
	}
	for words, want := range map[string]int{
		"fares.html": 1, "/fares.html": 1, "ares.html": 1, "adult sing": 1, "sing adult": 1, "6.90 GBP": 1, "£6.9": 1, "£6.8": 0, "cafe": 1, "100%": 1, `"(+-~*@<>`: 0,
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

// Pages that are gone, and those of other sites that have the very word, do not stand in the way of those that are
// meant.
func TestFindingPassesOverWhatIsGoneOrElsewhere(t *testing.T) {
	s := open(t)
	id, _ := site(t, s)
	ctx := context.Background()
	other, err := s.AddSite(ctx, Site{ClientID: 1, Name: "Osprey", Initials: "O", Colour: "#24547a", Zone: "UTC", State: "new", CreatedAt: now()})
	if err != nil {
		t.Fatal(err)
	}
	keep := func(site int64, n int, words string) {
		t.Helper()
		path := fmt.Sprintf("%d.html", n)
		if err := s.KeepPage(ctx, Page{SiteID: site, Path: path, Address: "/" + path, Title: path, Words: words, SeenAt: now()}); err != nil {
			t.Fatal(err)
		}
	}
	for n := range 130 {
		keep(id, n, "boats sing")
	}
	if err := s.GoneExcept(ctx, id, now().Add(time.Second), now()); err != nil {
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
					return q.KeepPage(ctx, Page{SiteID: id, Path: name, Address: "/" + name, Title: name, Words: said, SeenAt: now()})
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
