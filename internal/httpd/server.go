package httpd

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/hex"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"runtime/debug"
	"strings"
	"time"

	"github.com/alexedwards/scs/mysqlstore"
	"github.com/alexedwards/scs/v2"
	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/gin-gonic/gin"

	. "mendry/api" //nolint:revive // the generated server speaks of these types without a package name
	"mendry/internal/core/may"
	"mendry/internal/core/picture"
	"mendry/internal/core/refusal"
	"mendry/internal/desk"
	"mendry/internal/store"
)

// Limits of what is taken in, in bytes.
const (
	maxJSON = 1 << 20
	maxFile = picture.MaxBytes + 1<<10
)

// Server speaks HTTP for a desk.
type Server struct {
	desk       *desk.Desk
	sessions   *scs.SessionManager
	router     routers.Router
	log        *slog.Logger
	demoPeople []DemoPerson
	frames     string // where previews come from, for the Content-Security-Policy
	proxies    []string
	answers    *answers
	stopping   context.Context // ends answers that go on
	stop       context.CancelFunc
}

// Options of a server.
type Options struct {
	Secure     bool // cookies over TLS only
	PreviewURL string
	DemoPeople []DemoPerson // shown on the sign-in page
	Proxies    []string     // addresses or networks of proxies whose X-Forwarded-For is believed
	Log        *slog.Logger
}

// New makes a server.
func New(d *desk.Desk, s *store.Store, o Options) (*Server, error) {
	gin.SetMode(gin.ReleaseMode)
	raw, err := rawSpec()
	if err != nil {
		return nil, err
	}
	spec, err := openapi3.NewLoader().LoadFromData(raw)
	if err != nil {
		return nil, fmt.Errorf("read the interface's description: %w", err)
	}
	router, err := gorillamux.NewRouter(spec)
	if err != nil {
		return nil, err
	}
	m := scs.New()
	m.Store = mysqlstore.New(s.DB())
	m.Lifetime = sessionFor // an idle one ends earlier, see who: the library would write at every call
	m.Cookie.Name, m.Cookie.HttpOnly, m.Cookie.SameSite, m.Cookie.Secure = "mendry", true, http.SameSiteLaxMode, o.Secure
	m.HashTokenInStore = true
	srv := &Server{desk: d, sessions: m, router: router, log: o.Log, demoPeople: o.DemoPeople, proxies: o.Proxies, answers: newAnswers(s.Wrote)}
	m.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		o.Log.Error("session", "path", r.URL.Path, "err", err)
		http.Error(w, `{"say":"Your session could not be read. Try again in a moment."}`, http.StatusServiceUnavailable)
	}
	if err := gin.New().SetTrustedProxies(o.Proxies); err != nil {
		return nil, fmt.Errorf("read the trusted proxies: %w", err)
	}
	u, err := url.Parse(strings.ReplaceAll(o.PreviewURL, "{token}", "token"))
	if err != nil {
		return nil, err
	}
	srv.stopping, srv.stop = context.WithCancel(context.Background())
	srv.frames = u.Scheme + "://" + strings.Replace(u.Host, "token", "*", 1)
	return srv, nil
}

// How long somebody stays signed in: at all, without a call, and how often a call is noted.
const (
	sessionFor = 14 * 24 * time.Hour
	idleFor    = 3 * 24 * time.Hour
	seenEvery  = 5 * time.Minute
)

// Stop ends answers that go on by themselves, so that a server can be shut down.
func (s *Server) Stop() { s.stop() }

type key int

const whoKey key = 1

// Handler is the application: the interface under /api, the built front end everywhere else.
func (s *Server) Handler() http.Handler {
	g := gin.New()
	g.HandleMethodNotAllowed = true
	_ = g.SetTrustedProxies(s.proxies) // looked at in New
	g.Use(s.requestID, s.recover, s.headers)
	api := g.Group("/api", s.limit, s.who, s.validate)
	strict := NewStrictHandlerWithOptions(s, nil, StrictGinServerOptions{
		RequestErrorHandlerFunc:  func(c *gin.Context, err error) { s.problem(c, http.StatusBadRequest, unreadable) },
		HandlerErrorFunc:         s.fail,
		ResponseErrorHandlerFunc: s.fail,
	})
	RegisterHandlersWithOptions(api, strict, GinServerOptions{
		ErrorHandler: func(c *gin.Context, err error, _ int) { s.problem(c, http.StatusBadRequest, unreadable) },
	})
	g.NoRoute(s.frontEnd)
	g.NoMethod(func(c *gin.Context) { s.problem(c, http.StatusMethodNotAllowed, "That cannot be done here.") })
	return s.sessions.LoadAndSave(g)
}

const unreadable = "What was sent could not be read. Load the page again and try once more."

func (s *Server) requestID(c *gin.Context) {
	b := make([]byte, 8)
	_, _ = rand.Read(b)
	id := hex.EncodeToString(b)
	c.Set("id", id)
	c.Header("X-Request-Id", id)
	start := time.Now()
	c.Next()
	if strings.HasPrefix(c.Request.URL.Path, "/api/") {
		s.log.Debug("call", "id", id, "method", c.Request.Method, "path", c.FullPath(), "status", c.Writer.Status(), "took", time.Since(start))
	}
}

func (s *Server) recover(c *gin.Context) {
	defer func() {
		if r := recover(); r != nil {
			if err, ok := r.(error); ok && errors.Is(err, http.ErrAbortHandler) {
				panic(r)
			}
			s.internal(c, fmt.Errorf("panic: %v\n%s", r, debug.Stack()))
		}
	}()
	c.Next()
}

func (s *Server) headers(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob: "+s.frames+
		"; media-src 'self'; font-src 'self'; connect-src 'self'; frame-src "+s.frames+"; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
	h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
}

func (s *Server) limit(c *gin.Context) {
	n := int64(maxJSON)
	if strings.HasSuffix(c.Request.URL.Path, "/attachments") {
		n = maxFile
	}
	if c.Request.ContentLength > n {
		s.problem(c, http.StatusRequestEntityTooLarge, fmt.Sprintf("That is too much at once: %d MB at most.", n>>20))
		c.Abort()
		return
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, n)
	c.Header("Cache-Control", "no-store")
}

// who finds out who asks, and refuses calls that change something without the token that only our own pages know.
func (s *Server) who(c *gin.Context) {
	p := c.FullPath()
	if strings.HasPrefix(p, "/api/proof/") || p == "/api/people" || p == "/api/session" && c.Request.Method == http.MethodPost {
		return
	}
	ctx := c.Request.Context()
	id := s.sessions.GetInt64(ctx, "person")
	now := time.Now().Unix()
	switch idle := now - s.sessions.GetInt64(ctx, "seen"); {
	case id != 0 && idle > int64(idleFor.Seconds()):
		id = 0
	case strings.HasSuffix(p, "/news"): // a page that lies open is nobody's act
	case id != 0 && idle > int64(seenEvery.Seconds()):
		s.sessions.Put(ctx, "seen", now)
	}
	if id == 0 {
		s.problem(c, http.StatusUnauthorized, "Sign in first.")
		c.Abort()
		return
	}
	if c.Request.Method != http.MethodGet {
		s.answers.writes(id)
		want := s.sessions.GetString(ctx, "csrf")
		if want == "" || subtle.ConstantTimeCompare([]byte(want), []byte(c.GetHeader("X-Mendry-Token"))) != 1 {
			s.problem(c, http.StatusForbidden, "This page is from an earlier session. Load it again.")
			c.Abort()
			return
		}
	}
	switch person, err := s.desk.Person(ctx, id); {
	case err == nil:
		c.Request = c.Request.WithContext(context.WithValue(ctx, whoKey, person))
	case errors.Is(err, store.ErrNone):
		s.problem(c, http.StatusUnauthorized, "Sign in first.")
		c.Abort()
	default: // nobody is signed out because somebody could not be looked up
		s.fail(c, err)
		c.Abort()
	}
}

// person is whoever a call comes from.
func person(call context.Context) store.Person {
	p, _ := asked(call).Context().Value(whoKey).(store.Person)
	return p
}

func who(call context.Context) desk.Who {
	p := person(call)
	return desk.Who{ID: p.ID, Name: p.Name, Role: may.Role(p.Role)}
}

// validate holds a call against the interface's description.
func (s *Server) validate(c *gin.Context) {
	route, params, err := s.router.FindRoute(c.Request)
	if err != nil {
		s.problem(c, http.StatusNotFound, "There is no such call.")
		c.Abort()
		return
	}
	in := &openapi3filter.RequestValidationInput{Request: c.Request, PathParams: params, Route: route, Options: &openapi3filter.Options{
		AuthenticationFunc: openapi3filter.NoopAuthenticationFunc, ExcludeRequestBody: strings.HasSuffix(c.FullPath(), "/attachments"),
	}}
	if err := openapi3filter.ValidateRequest(c.Request.Context(), in); err != nil {
		say := inWords(err) // the error itself would hold what was sent, passwords too
		s.log.Info("call refused", "id", c.GetString("id"), "path", c.FullPath(), "say", say)
		s.problem(c, http.StatusBadRequest, say)
		c.Abort()
	}
}

// inWords says which field of a call is wrong.
func inWords(err error) string {
	var schema *openapi3.SchemaError
	if errors.As(err, &schema) {
		field := strings.Join(schema.JSONPointer(), " ")
		var request *openapi3filter.RequestError
		if field == "" && errors.As(err, &request) && request.Parameter != nil { // of the address
			field = request.Parameter.Name
		}
		if schema.SchemaField == "maxLength" {
			return fmt.Sprintf("The field “%s” is too long.", strings.ReplaceAll(field, "_", " "))
		}
		if field != "" {
			return fmt.Sprintf("The field “%s” does not hold what it should.", strings.ReplaceAll(field, "_", " "))
		}
	}
	return unreadable
}

// statusOf is how HTTP says each kind of refusal.
var statusOf = map[refusal.Why]int{
	refusal.Rule: http.StatusUnprocessableEntity, refusal.Nothing: http.StatusNotFound, refusal.Stale: http.StatusConflict,
	refusal.Forbidden: http.StatusForbidden, refusal.TooMany: http.StatusTooManyRequests, refusal.Away: http.StatusBadGateway,
}

// fail says in words why a call was refused. What is nobody's business is logged and not shown.
func (s *Server) fail(c *gin.Context, err error) {
	var tooLarge *http.MaxBytesError
	var line *net.OpError
	switch no := refusal.Of(err); {
	case no != nil:
		s.problem(c, statusOf[no.Why], no.Say)
	case errors.Is(err, context.Canceled):
		s.problem(c, 499, "The call was broken off.")
	case errors.As(err, &line) && line.Addr != nil && line.Addr.String() == c.Request.RemoteAddr:
		return // whoever asked has gone in the middle of the answer
	case errors.As(err, &tooLarge):
		s.problem(c, http.StatusRequestEntityTooLarge, fmt.Sprintf("That is too much at once: %d MB at most.", tooLarge.Limit>>20))
	case errors.Is(err, store.ErrLost):
		s.log.Error("the database is away", "id", c.GetString("id"), "method", c.Request.Method, "path", c.FullPath(), "err", err)
		c.Header("Retry-After", "1")
		s.problem(c, http.StatusServiceUnavailable, "Mendry’s database is not there just now. Nothing that was kept is lost; try again in a moment.")
	default:
		s.internal(c, err)
	}
}

func (s *Server) internal(c *gin.Context, err error) {
	s.log.Error("call failed", "id", c.GetString("id"), "method", c.Request.Method, "path", c.FullPath(), "err", err)
	s.problem(c, http.StatusInternalServerError, "Something went wrong on our side. Nothing was lost; try again. If it stays so, tell whoever runs Mendry the number "+c.GetString("id")+".")
}

func (s *Server) problem(c *gin.Context, status int, say string) {
	id := c.GetString("id")
	if c.Writer.Written() {
		return
	}
	c.JSON(status, Problem{Say: say, RequestID: &id})
}
