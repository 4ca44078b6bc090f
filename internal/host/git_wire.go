package host

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/go-git/go-git/v5/plumbing"
	"github.com/go-git/go-git/v5/plumbing/format/packfile"
	"github.com/go-git/go-git/v5/plumbing/format/pktline"
	"github.com/go-git/go-git/v5/plumbing/protocol/packp"
	"github.com/go-git/go-git/v5/plumbing/protocol/packp/capability"
	"github.com/go-git/go-git/v5/plumbing/protocol/packp/sideband"
	"github.com/go-git/go-git/v5/storage/memory"
)

// wire fetches from a repository and pushes to it (gitprotocol-pack, version 0).
type wire struct {
	line line
	name string // of the repository, for people
}

// line carries the protocol: SSH, or HTTP (gitprotocol-http).
type line interface {
	// call begins a service.
	call(ctx context.Context, service string) (*exchange, error)
	key() string // of the host, as in known_hosts; empty where it has none
}

// exchange is a service that has begun.
type exchange struct {
	*packp.AdvRefs                                         // what the repository advertises
	send           func(request []byte) (io.Reader, error) // gives it a request and reads the answer, once
	said           func() string                           // what it said beside its answers
	end            func()
}

const (
	fetchPack   = "git-upload-pack"
	receivePack = "git-receive-pack"
)

// likeSCP is an address as scp writes it, which git knows too.
var likeSCP = regexp.MustCompile(`^(?:([^@/:]+)@)?([^/:@]+):([^/].*)$`)

// newWire reads a repository's address; at is what stands behind the #.
func newWire(n Network, r Reach, timeout time.Duration) (w wire, at string, err error) {
	address, at, _ := strings.Cut(strings.TrimSpace(r.URL), "#")
	if m := likeSCP.FindStringSubmatch(address); m != nil && !strings.Contains(address, "://") {
		address = "ssh://" + m[2] + "/" + m[3]
		r.User = cmp.Or(r.User, m[1])
	}
	u, err := url.Parse(address)
	if err != nil || u.Host == "" || strings.Trim(u.Path, "/") == "" || !slices.Contains([]string{"ssh", "https", "http"}, u.Scheme) {
		return w, "", &Problem{Kind: Odd, Say: fmt.Sprintf(
			"“%s” is no address of a repository. Write it like ssh://git.example.org/site.git#main or https://git.example.org/site.git#main.", r.URL,
		)}
	}
	w.name = u.Host + u.Path
	if u.User != nil {
		r.User = cmp.Or(r.User, u.User.Username())
	}
	if u.Scheme != "ssh" {
		u.User = nil
		w.line = &webLine{client: n.Client(10*timeout, 3), url: strings.TrimSuffix(u.String(), "/"), reach: r}
		return w, at, nil
	}
	r.User = cmp.Or(r.User, "git")
	to := u.Path
	if rest, ok := strings.CutPrefix(to, "/~"); ok { // in a home folder
		to = "~" + rest
	}
	w.line = &shellLine{secureLine{net: n, address: net.JoinHostPort(u.Hostname(), cmp.Or(u.Port(), "22")), reach: r, timeout: timeout}, to}
	return w, at, nil
}

func (w wire) key() string { return w.line.key() }

// failed says what went wrong with a call.
func (w wire) failed(err error) error {
	var p *Problem
	switch {
	case errors.As(err, &p) || errors.Is(err, context.Canceled):
		return err
	case errors.Is(err, packp.ErrEmptyInput) || errors.Is(err, packp.ErrEmptyAdvRefs):
		return &Problem{Kind: Gone, Say: fmt.Sprintf("There is no repository %s, or nothing in it yet. Check the address.", w.name)}
	}
	var odd *packp.ErrUnexpectedData
	if errors.As(err, &odd) {
		return &Problem{Kind: Odd, Say: fmt.Sprintf("What answers at %s does not speak git. Check the address.", w.name)}
	}
	return fromError(err, w.name)
}

// fetch gets the commit that a branch is, without its history, unless it is known.
func (w wire) fetch(ctx context.Context, ref plumbing.ReferenceName, known plumbing.Hash) (*memory.Storage, plumbing.Hash, error) {
	x, err := w.line.call(ctx, fetchPack)
	if err != nil {
		return nil, known, w.failed(err)
	}
	defer func() { x.end() }()
	head, ok := x.References[ref.String()]
	if !ok {
		var all []string
		for name := range x.References {
			if b, is := strings.CutPrefix(name, "refs/heads/"); is {
				all = append(all, b)
			}
		}
		slices.Sort(all)
		return nil, known, &Problem{Kind: Gone, Say: fmt.Sprintf(
			"The repository %s has no branch %s. It has: %s. Write the one that is built behind a # in the address.",
			w.name, ref.Short(), strings.Join(all[:min(len(all), 8)], ", "),
		)}
	}
	if head == known {
		return nil, known, nil
	}
	req := packp.NewUploadPackRequestFromCapabilities(x.Capabilities)
	if x.Capabilities.Supports(capability.Shallow) {
		_ = req.Capabilities.Set(capability.Shallow) // known to the package: it does not fail
		req.Depth = packp.DepthCommits(1)
	}
	req.Wants = append(req.Wants, head)
	var b bytes.Buffer
	if err := errors.Join(req.UploadRequest.Encode(&b), req.UploadHaves.Encode(&b, false), pktline.NewEncoder(&b).EncodeString("done\n")); err != nil {
		return nil, known, err
	}
	answer, err := x.send(b.Bytes())
	if err != nil {
		return nil, known, w.failed(err)
	}
	res := packp.NewUploadPackResponse(req)
	if err := res.Decode(io.NopCloser(answer)); err != nil {
		return nil, known, w.failed(err)
	}
	var pack io.Reader = res
	switch {
	case req.Capabilities.Supports(capability.Sideband64k):
		pack = sideband.NewDemuxer(sideband.Sideband64k, res)
	case req.Capabilities.Supports(capability.Sideband):
		pack = sideband.NewDemuxer(sideband.Sideband, res)
	}
	store, err := unpack(pack)
	if errors.Is(err, errMuch) {
		return nil, known, w.tooMuch()
	}
	if err != nil {
		return nil, known, w.failed(err)
	}
	return store, head, nil
}

func (w wire) tooMuch() error {
	return &Problem{Kind: Odd, Say: fmt.Sprintf(
		"The repository %s is larger than %d MB, or names or unpacks to more than Mendry holds. Ask whoever runs it whether it is whole.", w.name, mostPack>>20,
	)}
}

// mayPush asks whether Mendry may push.
func (w wire) mayPush(ctx context.Context) error {
	x, err := w.line.call(ctx, receivePack)
	if err != nil {
		return w.failed(err)
	}
	x.end()
	return nil
}

// push makes a branch that is at old one at c. The host refuses it where it is not.
func (w wire) push(ctx context.Context, ref plumbing.ReferenceName, old plumbing.Hash, c commit) error {
	x, err := w.line.call(ctx, receivePack)
	if err != nil {
		return w.failed(err)
	}
	defer func() { x.end() }()
	var pack, b bytes.Buffer
	if _, err := packfile.NewEncoder(&pack, c.store, false).Encode(c.objects, 0); err != nil {
		return err
	}
	req := packp.NewReferenceUpdateRequestFromCapabilities(x.Capabilities)
	beside := x.Capabilities.Supports(capability.Sideband64k)
	if beside {
		_ = req.Capabilities.Set(capability.Sideband64k) // known to the package: it does not fail
	}
	req.Commands = []*packp.Command{{Name: ref, Old: old, New: c.head}}
	req.Packfile = io.NopCloser(&pack)
	if err := req.Encode(&b); err != nil {
		return err
	}
	answer, err := x.send(b.Bytes())
	if err != nil {
		return w.failed(err)
	}
	var told limitedBuffer
	reported := answer
	if beside {
		mux := sideband.NewDemuxer(sideband.Sideband64k, answer)
		mux.Progress = &told
		reported = mux
	}
	report := packp.NewReportStatus()
	broken := report.Decode(reported) // by a host that died of what it told
	if broken == nil && report.Error() == nil {
		// Hooks that build the pages run after the report, and die where nobody listens to them (githooks,
		// post-receive).
		_, _ = io.Copy(io.Discard, answer)
		return nil
	}
	return w.refused(ref, report.Error(), broken, strings.Join(strings.Fields(told.String()+" "+x.said()), " "))
}

// refused says why a host did not take a push: by its report, or by how that broke off, and by what it told beside it.
func (w wire) refused(ref plumbing.ReferenceName, report, broken error, told string) error {
	switch {
	case strings.Contains(told, "No space left"):
		return fromStatus(http.StatusInsufficientStorage, "the push")
	case strings.Contains(told, "exceeds maximum allowed size"): // its receive.maxInputSize
		return &Problem{Kind: Full, Say: fmt.Sprintf(
			"The host of %s takes no push as large as this one. Nothing was published. Ask whoever runs it to take larger ones, or publish smaller files.", w.name,
		)}
	case broken != nil:
		return w.failed(broken)
	case strings.Contains(report.Error(), "failed to update ref"), strings.Contains(report.Error(), "lock"):
		return &Problem{Kind: Locked, Say: fmt.Sprintf("Somebody else is pushing to %s just now. Nothing was published; try again.", w.name)}
	case strings.Contains(told, "Read-only file system"), strings.Contains(report.Error(), "unable to create temporary"):
		return &Problem{Kind: Forbidden, Say: fmt.Sprintf(
			"The host of %s cannot store anything: its disk is read-only, or its user may not write there. Nothing was published. Ask whoever runs it.", w.name,
		)}
	}
	if told != "" {
		told = fmt.Sprintf(" It says: “%s”.", strings.TrimSuffix(strings.ToValidUTF8(told[:min(len(told), mostQuoted)], ""), "."))
	}
	return &Problem{Kind: Forbidden, Say: fmt.Sprintf(
		"The host refused the push to %s: %s.%s Nothing was published. Ask whoever runs the repository for the right to push to that branch.",
		ref.Short(), report, told,
	)}
}

// shellLine is git over SSH.
type shellLine struct {
	secureLine
	path string
}

func (s *shellLine) key() string { return s.met }

func (s *shellLine) call(ctx context.Context, service string) (*exchange, error) {
	until := time.Now().Add(s.timeout) // no later than the connection's own deadline
	client, conn, err := s.dial(ctx)
	if err != nil {
		return nil, err
	}
	stop := context.AfterFunc(ctx, func() { _ = conn.Close() })
	x := &exchange{AdvRefs: packp.NewAdvRefs(), end: func() {
		stop()
		_ = client.Close()
	}}
	session, err := client.NewSession()
	if err != nil {
		x.end()
		return nil, err
	}
	in, err1 := session.StdinPipe()
	out, err2 := session.StdoutPipe()
	var said limitedBuffer
	session.Stderr = &said
	if err := errors.Join(err1, err2, session.Start(service+" "+quoted(s.path))); err != nil {
		x.end()
		return nil, &Problem{Kind: Odd, Say: fmt.Sprintf("%s lets Mendry in but offers no git.", s.address)}
	}
	x.said = func() string {
		_ = session.Wait() // it is whole then
		return strings.Join(strings.Fields(said.String()), " ")
	}
	answers := &io.LimitedReader{R: out, N: mostRefs}
	if err := x.Decode(answers); err != nil {
		defer x.end()
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if !time.Now().Before(until) { // what is read from a session ends there like an answer that is empty
			return nil, fromError(os.ErrDeadlineExceeded, s.address)
		}
		kind := Gone
		if service == receivePack {
			kind = Forbidden
		}
		_ = in.Close() // it may wait for a request
		if words := x.said(); words != "" {
			return nil, &Problem{Kind: kind, Say: fmt.Sprintf("The host does not give the repository %s: %s", s.path, words)}
		}
		return nil, err
	}
	x.send = func(request []byte) (io.Reader, error) {
		_ = conn.SetDeadline(time.Now().Add(10 * s.timeout)) // a pack is large, and its making takes the host a while
		// A host that has no room stops reading before the end, and says so.
		if _, err := in.Write(request); err != nil && !errors.Is(err, io.EOF) {
			return nil, err
		}
		answers.N = 2 * mostPack
		if err := in.Close(); err != nil && !errors.Is(err, io.EOF) {
			return nil, err
		}
		return answers, nil
	}
	return x, nil
}

// quoted is a word for the host's shell.
func quoted(s string) string { return "'" + strings.ReplaceAll(s, "'", `'\''`) + "'" }

// limitedBuffer keeps the beginning of what is written to it.
type limitedBuffer struct{ bytes.Buffer }

const (
	mostSaid   = 4096 // bytes that a host says beside its answers and that are kept
	mostQuoted = 300  // bytes of them that a person is shown
)

func (l *limitedBuffer) Write(p []byte) (int, error) {
	l.Buffer.Write(p[:min(len(p), max(0, mostSaid-l.Len()))])
	return len(p), nil
}

// webLine is git over HTTP.
type webLine struct {
	client *http.Client
	url    string
	reach  Reach
}

func (h *webLine) key() string { return "" }

func (h *webLine) do(ctx context.Context, method, address string, body []byte, service string) (*http.Response, error) {
	req, err := http.NewRequestWithContext(ctx, method, address, bytes.NewReader(body))
	if err != nil {
		return nil, err
	}
	if h.reach.User != "" || h.reach.Pass != "" {
		req.SetBasicAuth(h.reach.User, h.reach.Pass)
	}
	req.Header.Set("User-Agent", "git/2 (Mendry)")
	if body != nil {
		req.Header.Set("Content-Type", "application/x-"+service+"-request")
		req.Header.Set("Accept", "application/x-"+service+"-result")
	}
	r, err := h.client.Do(req)
	if err != nil {
		return nil, err
	}
	if r.StatusCode != http.StatusOK {
		_ = r.Body.Close()
		return nil, fromStatus(r.StatusCode, "the repository")
	}
	return r, nil
}

func (h *webLine) call(ctx context.Context, service string) (*exchange, error) {
	r, err := h.do(ctx, http.MethodGet, h.url+"/info/refs?service="+service, nil, service)
	if err != nil {
		return nil, err
	}
	defer r.Body.Close()
	x := &exchange{AdvRefs: packp.NewAdvRefs(), said: func() string { return "" }, end: func() {}}
	if err := x.Decode(io.LimitReader(r.Body, mostRefs)); err != nil {
		return nil, err
	}
	x.send = func(request []byte) (io.Reader, error) {
		r, err := h.do(ctx, http.MethodPost, h.url+"/"+service, request, service)
		if err != nil {
			return nil, err
		}
		x.end = func() { _ = r.Body.Close() }
		return r.Body, nil
	}
	return x, nil
}
