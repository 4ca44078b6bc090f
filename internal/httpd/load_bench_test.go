package httpd

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"strconv"
	"strings"
	"testing"

	"github.com/gin-gonic/gin"

	"mendry/internal/store"
)

// load fills a database with sites, pages and requests of some years: 200 sites, 2,000 open and 20,000 ended requests,
// 250 pages a site where MENDRY_PAGES does not say otherwise.
func load(tb testing.TB, s *store.Store) {
	tb.Helper()
	perSite, err := strconv.Atoi(os.Getenv("MENDRY_PAGES"))
	if err != nil {
		perSite = 250
	}
	for _, q := range []string{
		`INSERT INTO client (id, name, contact_name, contact_mail, may_clear, created_at)
			SELECT seq, CONCAT('Client ', seq), 'Maren Quayle', CONCAT('c', seq, '@client.example'), seq % 2, NOW(6) FROM seq_1_to_200`,
		`INSERT INTO site (id, client_id, name, initials, colour, public_url, zone, state, said, created_at)
			SELECT seq, seq, CONCAT('Site of client ', seq), 'SC', '#24547a', CONCAT('https://s', seq, '.example/'), 'Europe/London', 'ready', '', NOW(6) FROM seq_1_to_200`,
		`INSERT INTO site_host (site_id, role, kind, url, user, secret) SELECT seq, 'live', 'webdav', 'https://dav.example/', 'keeper', '' FROM seq_1_to_200`,
		`INSERT INTO page (site_id, path, address, title, description, hash, media, size, encoding, locked, words, seen_at, findable)
			SELECT s.seq, CONCAT('p', p.seq, '.html'), CONCAT('/p', p.seq, '.html'), CONCAT('Page ', p.seq, ' of a site with a name'), '', '', 'text/html', 9000, 'utf-8', '', 'Words', NOW(6), TRUE
			FROM seq_1_to_200 s JOIN seq_1_to_` + strconv.Itoa(perSite) + ` p`,
		`INSERT INTO request (site_id, subject, letter, kind, from_name, state, due_on, received_at, created_by)
			SELECT 1 + seq % 200, CONCAT('Winter fares, letter ', seq), REPEAT('Dear studio, the adult single goes to £7.40 on 1 December. ', 8), 'mail', 'Maren Quayle',
			ELT(1 + seq % 10, 'signed off', 'signed off', 'signed off', 'signed off', 'signed off', 'signed off', 'signed off', 'declined', 'signed off', 'signed off'),
			CURDATE() - INTERVAL seq % 1800 DAY, NOW(6) - INTERVAL seq % 1800 DAY, 1 FROM seq_1_to_20000`,
		`INSERT INTO request (site_id, subject, letter, kind, from_name, state, due_on, received_at, created_by)
			SELECT 1 + seq % 200, CONCAT('Open letter ', seq), REPEAT('Dear studio, the adult single goes to £7.40 on 1 December. ', 8), 'mail', 'Maren Quayle',
			ELT(1 + seq % 7, 'new', 'placed', 'in hand', 'with client', 'cleared', 'live', 'on hold'), CURDATE() + INTERVAL seq % 40 DAY, NOW(6), 1 FROM seq_1_to_2000`,
		`INSERT INTO wish (request_id, start_at, end_at, words, state, why) SELECT r.id, 5, 20, 'the adult single', IF(r.state IN ('signed off', 'declined'), 'done', 'open'), '' FROM request r`,
		`INSERT INTO page_change (id, request_id, kind, part_name, op, before_html, after_html, before_words, after_words, say, made_by, made_at, changed_at)
			SELECT r.id, r.id, 'words', 'Adult, Single', '[]', '', '', '£6.90', '£7.40', 'Adult, Single: £6.90 becomes £7.40', 1, NOW(6), NOW(6) FROM request r`,
		`INSERT INTO change_page (change_id, page_id, request_id, state) SELECT c.id, p.id, r.id, IF(r.state IN ('signed off', 'live'), 'sure', 'kept')
			FROM page_change c JOIN request r ON r.id = c.request_id JOIN page p ON p.site_id = r.site_id AND p.path = 'p1.html'`,
		`ANALYZE TABLE request, page, change_page, wish`,
	} {
		if _, err := s.DB().ExecContext(context.Background(), q); err != nil {
			tb.Fatalf("%v: %.80s", err, q)
		}
	}
}

// Today and a site's page, with 200 sites, 2,000 open and 20,000 ended requests, beside a bare Gin handler that
// answers from one indexed SELECT. The metric of-bare is what counts.
func BenchmarkListsBesideABareHandler(b *testing.B) {
	c, _, s := serve(b)
	load(b, s)
	c.signIn()
	bare := gin.New()
	bare.GET("/request/:id", func(g *gin.Context) {
		var subject, state string
		if err := s.DB().QueryRowContext(g.Request.Context(), `SELECT subject, state FROM request WHERE id = ?`, g.Param("id")).Scan(&subject, &state); err != nil {
			g.Status(http.StatusNotFound)
			return
		}
		g.JSON(http.StatusOK, gin.H{"subject": subject, "state": state})
	})
	yard := httptest.NewServer(bare)
	b.Cleanup(yard.Close)
	transport := &http.Transport{MaxIdleConnsPerHost: 64}
	c.http.Transport = transport
	calls := func(b *testing.B, path string) float64 {
		b.Helper()
		b.ReportAllocs()
		b.SetParallelism(16)
		b.RunParallel(func(pb *testing.PB) {
			for pb.Next() {
				r, err := c.http.Get(path)
				if err != nil {
					b.Error(err)
					return
				}
				_, _ = io.Copy(io.Discard, r.Body)
				_ = r.Body.Close()
				if r.StatusCode != http.StatusOK {
					b.Errorf("%s: %d", path, r.StatusCode)
					return
				}
			}
		})
		return float64(b.N) / b.Elapsed().Seconds()
	}
	var yardstick float64
	b.Run("bare", func(b *testing.B) { yardstick = calls(b, yard.URL+"/request/300") })
	for name, path := range map[string]string{"today": "/api/today", "site": "/api/sites/7"} {
		b.Run(name, func(b *testing.B) {
			b.ReportMetric(calls(b, c.base+path)/yardstick, "of-bare")
		})
	}
}

// A new request is on Today however many were ended before it.
func TestANewRequestIsSeenBehindAllThatAreOver(t *testing.T) {
	t.Setenv("MENDRY_PAGES", "1")
	c, _, s := serve(t)
	load(t, s)
	c.signIn()
	if _, err := s.DB().Exec(`UPDATE request SET state = 'signed off'`); err != nil {
		t.Fatal(err)
	}
	status, v, _ := c.call("POST", "/api/requests", `{"site_id":1,"letter":"The new one","subject":"The new one","kind":"mail"}`)
	if status != http.StatusOK {
		t.Fatalf("%d %v", status, v)
	}
	_, today, _ := c.call("GET", "/api/today", "")
	_, site, _ := c.call("GET", "/api/sites/1", "")
	if said := fmt.Sprint(today["groups"]); today["open"] != 1.0 || !strings.Contains(said, "The new one") {
		t.Errorf("today: %v", said)
	}
	requests, _ := site["requests"].([]any)
	if len(requests) != 21 || !strings.Contains(fmt.Sprint(requests[0]), "The new one") {
		t.Errorf("the site lists %d requests", len(requests))
	}
}
