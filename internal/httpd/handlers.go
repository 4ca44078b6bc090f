package httpd

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"fmt"
	"io"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	. "mendry/api" //nolint:revive // as the generated server
	"mendry/internal/core/act"
	"mendry/internal/core/may"
	"mendry/internal/desk"
)

// asked is the HTTP request behind a call.
func asked(ctx context.Context) *http.Request {
	if c, ok := ctx.(*gin.Context); ok {
		return c.Request
	}
	return nil
}

// clientOf is the address that a call came from: behind a trusted proxy, the one that the proxy names.
func clientOf(ctx context.Context) string {
	if c, ok := ctx.(*gin.Context); ok {
		return c.ClientIP()
	}
	return ""
}

func (s *Server) me(ctx context.Context, id int64) (Me, error) {
	ctx = asked(ctx).Context()
	p, err := s.desk.Person(ctx, id)
	if err != nil {
		return Me{}, err
	}
	kept, err := s.desk.KeptNotLive(ctx)
	if err != nil {
		return Me{}, err
	}
	clocks, err := s.desk.Clocks(ctx)
	return Me{
		ID: p.ID, Name: p.Name, Initials: p.Initials, Role: PersonRole(p.Role), MayMarkup: may.Markup(may.Role(p.Role)), Csrf: s.sessions.GetString(ctx, "csrf"), Kept: kept,
		Demo: s.desk.Demo, Mailbox: s.desk.MailboxURL, Clocks: clocks,
	}, err
}

// GetSession tells who is signed in.
func (s *Server) GetSession(ctx context.Context, _ GetSessionRequestObject) (GetSessionResponseObject, error) {
	m, err := s.me(ctx, person(ctx).ID)
	return GetSession200JSONResponse{TheMeJSONResponse(m)}, err
}

// SignIn signs a person in, under a session of its own.
func (s *Server) SignIn(ctx context.Context, r SignInRequestObject) (SignInResponseObject, error) {
	req := asked(ctx)
	p, err := s.desk.SignIn(req.Context(), r.Body.SignIn, r.Body.Password, clientOf(ctx))
	if err != nil {
		return nil, err
	}
	if err := s.sessions.RenewToken(req.Context()); err != nil {
		return nil, err
	}
	token := make([]byte, 24)
	_, _ = rand.Read(token)
	s.sessions.Put(req.Context(), "person", p.ID)
	s.sessions.Put(req.Context(), "seen", time.Now().Unix())
	s.sessions.Put(req.Context(), "csrf", hex.EncodeToString(token))
	m, err := s.me(ctx, p.ID)
	return SignIn200JSONResponse{TheMeJSONResponse(m)}, err
}

// SignOut ends the session.
func (s *Server) SignOut(ctx context.Context, _ SignOutRequestObject) (SignOutResponseObject, error) {
	return SignOut204Response{}, s.sessions.Destroy(asked(ctx).Context())
}

// ListDemoPeople gives the demo's sign-in names.
func (s *Server) ListDemoPeople(context.Context, ListDemoPeopleRequestObject) (ListDemoPeopleResponseObject, error) {
	out := ListDemoPeople200JSONResponse{}
	return append(out, s.demoPeople...), nil
}

// GetToday shows what is to be done next.
func (s *Server) GetToday(ctx context.Context, r GetTodayRequestObject) (GetTodayResponseObject, error) {
	whole := ""
	if r.Params.Whole != nil {
		whole = *r.Params.Whole
	}
	b, err := s.answers.get("today "+whole, person(ctx).ID, func() (any, error) { return s.desk.Today(context.WithoutCancel(ctx), whole) })
	return sent(b), err
}

// ListClients lists every client.
func (s *Server) ListClients(ctx context.Context, _ ListClientsRequestObject) (ListClientsResponseObject, error) {
	v, err := s.desk.Clients(ctx)
	return ListClients200JSONResponse(v), err
}

// ListSites lists every site.
func (s *Server) ListSites(ctx context.Context, _ ListSitesRequestObject) (ListSitesResponseObject, error) {
	v, err := s.desk.Sites(ctx)
	return ListSites200JSONResponse(v), err
}

// AddSite adds a site.
func (s *Server) AddSite(ctx context.Context, r AddSiteRequestObject) (AddSiteResponseObject, error) {
	v, err := s.desk.AddSite(ctx, who(ctx), *r.Body)
	return AddSite200JSONResponse(v), err
}

// TestSite tries a site's addresses.
func (s *Server) TestSite(ctx context.Context, r TestSiteRequestObject) (TestSiteResponseObject, error) {
	return TestSite200JSONResponse(s.desk.TestSite(ctx, *r.Body)), nil
}

// GetSite shows one site.
func (s *Server) GetSite(ctx context.Context, r GetSiteRequestObject) (GetSiteResponseObject, error) {
	b, err := s.answers.get(fmt.Sprintf("site %d", r.Site), person(ctx).ID, func() (any, error) { return s.desk.Site(context.WithoutCancel(ctx), r.Site) })
	return sent(b), err
}

// TakeInSite reads a site's pages again.
func (s *Server) TakeInSite(ctx context.Context, r TakeInSiteRequestObject) (TakeInSiteResponseObject, error) {
	return TakeInSite204Response{}, s.desk.TakeIn(ctx, r.Site)
}

// TryHost finds out what a site's host does.
func (s *Server) TryHost(ctx context.Context, r TryHostRequestObject) (TryHostResponseObject, error) {
	v, err := s.desk.TryHost(ctx, who(ctx), r.Site, r.Params.AcceptKey != nil && *r.Params.AcceptKey)
	return TryHost200JSONResponse(v), err
}

// LookAtPage compares what the host has with what is known.
func (s *Server) LookAtPage(ctx context.Context, r LookAtPageRequestObject) (LookAtPageResponseObject, error) {
	v, err := s.desk.LookAtPage(ctx, r.Page)
	return LookAtPage200JSONResponse(v), err
}

// TakeInPage takes in a page as the host has it.
func (s *Server) TakeInPage(ctx context.Context, r TakeInPageRequestObject) (TakeInPageResponseObject, error) {
	return TakeInPage204Response{}, s.desk.TakeInPage(ctx, who(ctx), r.Page)
}

// Find finds places.
func (s *Server) Find(ctx context.Context, r FindRequestObject) (FindResponseObject, error) {
	v, err := s.desk.Find(ctx, desk.Sought{Words: r.Params.Words, Site: or0(r.Params.Site), Request: or0(r.Params.Request)})
	return Find200JSONResponse(v), err
}

func or0[T any](v *T) (zero T) {
	if v == nil {
		return zero
	}
	return *v
}

// Elsewhere finds where else the words stand that a change replaced.
func (s *Server) Elsewhere(ctx context.Context, r ElsewhereRequestObject) (ElsewhereResponseObject, error) {
	v, err := s.desk.Elsewhere(ctx, r.Number, r.Change, r.Params.Client != nil && *r.Params.Client)
	return Elsewhere200JSONResponse{TheElsewhereJSONResponse(v)}, err
}

// ChangeElsewhere makes a change in other places too.
func (s *Server) ChangeElsewhere(ctx context.Context, r ChangeElsewhereRequestObject) (ChangeElsewhereResponseObject, error) {
	v, err := s.desk.ChangeElsewhere(ctx, who(ctx), r.Number, r.Change, *r.Body)
	return ChangeElsewhere200JSONResponse{TheElsewhereJSONResponse(v)}, err
}

// Clean cleans pasted markup.
func (s *Server) Clean(_ context.Context, r CleanRequestObject) (CleanResponseObject, error) {
	return Clean200JSONResponse(s.desk.Clean(*r.Body)), nil
}

// TryLink tries an outside address.
func (s *Server) TryLink(ctx context.Context, r TryLinkRequestObject) (TryLinkResponseObject, error) {
	v, err := s.desk.TryLink(ctx, r.Body.Address)
	return TryLink200JSONResponse(v), err
}

// AddRequest takes in a letter.
func (s *Server) AddRequest(ctx context.Context, r AddRequestRequestObject) (AddRequestResponseObject, error) {
	v, err := s.desk.AddRequest(ctx, who(ctx), *r.Body)
	return AddRequest200JSONResponse{TheRequestJSONResponse(v)}, err
}

// GetRequest shows a request.
func (s *Server) GetRequest(ctx context.Context, r GetRequestRequestObject) (GetRequestResponseObject, error) {
	v, err := s.desk.Request(ctx, r.Number)
	return GetRequest200JSONResponse{TheRequestJSONResponse(v)}, err
}

// Proposals lists what a letter seems to ask for.
func (s *Server) Proposals(ctx context.Context, r ProposalsRequestObject) (ProposalsResponseObject, error) {
	v, err := s.desk.Proposals(ctx, r.Number)
	return Proposals200JSONResponse(v), err
}

// MoveRequest moves a request.
func (s *Server) MoveRequest(ctx context.Context, r MoveRequestRequestObject) (MoveRequestResponseObject, error) {
	why := ""
	if r.Body.Why != nil {
		why = *r.Body.Why
	}
	v, err := s.desk.Move(ctx, who(ctx), r.Number, r.Body.To, why)
	return MoveRequest200JSONResponse{TheRequestJSONResponse(v)}, err
}

// AddAttachment keeps a picture that came with a letter.
func (s *Server) AddAttachment(ctx context.Context, r AddAttachmentRequestObject) (AddAttachmentResponseObject, error) {
	b, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, fmt.Errorf("read a file: %w", err)
	}
	v, err := s.desk.AddAttachment(ctx, who(ctx), r.Number, r.Params.Name, b)
	return AddAttachment200JSONResponse(v), err
}

// AddWish marks a wish.
func (s *Server) AddWish(ctx context.Context, r AddWishRequestObject) (AddWishResponseObject, error) {
	v, err := s.desk.AddWish(ctx, r.Number, *r.Body)
	return AddWish200JSONResponse{TheRequestJSONResponse(v)}, err
}

// SetWish places a wish or says what became of it.
func (s *Server) SetWish(ctx context.Context, r SetWishRequestObject) (SetWishResponseObject, error) {
	v, err := s.desk.SetWish(ctx, who(ctx), r.Number, r.Wish, *r.Body)
	return SetWish200JSONResponse{TheRequestJSONResponse(v)}, err
}

// DropWish takes a mark out.
func (s *Server) DropWish(ctx context.Context, r DropWishRequestObject) (DropWishResponseObject, error) {
	v, err := s.desk.DropWish(ctx, r.Number, r.Wish)
	return DropWish200JSONResponse{TheRequestJSONResponse(v)}, err
}

// GetBench shows a page on the bench.
func (s *Server) GetBench(ctx context.Context, r GetBenchRequestObject) (GetBenchResponseObject, error) {
	outbox := ""
	if r.Params.Outbox != nil {
		outbox = *r.Params.Outbox
	}
	v, err := s.desk.BenchFor(ctx, r.Number, r.Page, outbox)
	return GetBench200JSONResponse(v), err
}

// KeepChange keeps a change.
func (s *Server) KeepChange(ctx context.Context, r KeepChangeRequestObject) (KeepChangeResponseObject, error) {
	raw, err := r.Body.Act.MarshalJSON()
	if err != nil {
		return nil, err
	}
	a, err := act.Read(raw)
	if err != nil {
		return nil, err
	}
	ask := desk.Ask{Draft: r.Body.Draft, Wish: r.Body.WishID, Act: a, Beside: r.Body.Everywhere != nil && *r.Body.Everywhere}
	if sent := r.Body.Sent; sent != nil {
		ask.Sent = &desk.Sent{Outbox: sent.Outbox, Number: sent.Number}
	}
	v, err := s.desk.Keep(ctx, who(ctx), r.Number, r.Page, ask)
	return KeepChange200JSONResponse(v), err
}

// MoveToPage moves a section to another page.
func (s *Server) MoveToPage(ctx context.Context, r MoveToPageRequestObject) (MoveToPageResponseObject, error) {
	v, err := s.desk.MoveToPage(ctx, who(ctx), r.Number, r.Page, *r.Body)
	return MoveToPage200JSONResponse(v), err
}

// DropChange takes back a change that is not live.
func (s *Server) DropChange(ctx context.Context, r DropChangeRequestObject) (DropChangeResponseObject, error) {
	v, err := s.desk.Drop(ctx, who(ctx), r.Number, r.Change)
	return DropChange200JSONResponse{TheRequestJSONResponse(v)}, err
}

// Styles lists the site's own styles that a part may be given.
func (s *Server) Behind(ctx context.Context, r BehindRequestObject) (BehindResponseObject, error) {
	v, err := s.desk.Behind(ctx, r.Number, r.Page, r.Params.Part)
	return Behind200JSONResponse(v), err
}

// Looks shows how the site makes parts like one look.
func (s *Server) Looks(ctx context.Context, r LooksRequestObject) (LooksResponseObject, error) {
	v, err := s.desk.Looks(ctx, r.Number, r.Page, r.Params.Part)
	return Looks200JSONResponse(v), err
}

// Icons shows the icons in a part, and what may take the place of one.
func (s *Server) Icons(ctx context.Context, r IconsRequestObject) (IconsResponseObject, error) {
	at := 0
	if r.Params.At != nil {
		at = *r.Params.At
	}
	v, err := s.desk.Icons(ctx, r.Number, r.Page, r.Params.Part, at)
	return Icons200JSONResponse(v), err
}

// Versions lists every version of a page that stood on its host.
func (s *Server) Versions(ctx context.Context, r VersionsRequestObject) (VersionsResponseObject, error) {
	v, err := s.desk.Versions(ctx, r.Number, r.Page)
	return Versions200JSONResponse(v), err
}

// CompareVersion tells what an earlier version of a page had where the draft differs.
func (s *Server) CompareVersion(ctx context.Context, r CompareVersionRequestObject) (CompareVersionResponseObject, error) {
	v, err := s.desk.CompareVersion(ctx, r.Number, r.Page, r.Version)
	return CompareVersion200JSONResponse(v), err
}

// Markup shows the markup of a part, as it is written.
func (s *Server) Markup(ctx context.Context, r MarkupRequestObject) (MarkupResponseObject, error) {
	v, err := s.desk.Markup(ctx, who(ctx), r.Number, r.Page, r.Params.Part)
	return Markup200JSONResponse(v), err
}

// TryMarkup tells what would become of markup that somebody writes.
func (s *Server) TryMarkup(ctx context.Context, r TryMarkupRequestObject) (TryMarkupResponseObject, error) {
	v, err := s.desk.TryMarkup(ctx, who(ctx), r.Number, r.Page, *r.Body)
	return TryMarkup200JSONResponse(v), err
}

// Shared tells on which pages a part is the same.
func (s *Server) Shared(ctx context.Context, r SharedRequestObject) (SharedResponseObject, error) {
	v, err := s.desk.Shared(ctx, r.Number, r.Page, r.Params.Part)
	return Shared200JSONResponse(v), err
}

// ChooseShared says whether a shared part is changed on all pages or on one.
func (s *Server) ChooseShared(ctx context.Context, r ChooseSharedRequestObject) (ChooseSharedResponseObject, error) {
	v, err := s.desk.ChooseShared(ctx, who(ctx), r.Number, r.Page, r.Body.Part, r.Body.Everywhere)
	return ChooseShared200JSONResponse(v), err
}

// ChangePages tells on which other pages a change is made.
func (s *Server) ChangePages(ctx context.Context, r ChangePagesRequestObject) (ChangePagesResponseObject, error) {
	v, err := s.desk.ChangePages(ctx, r.Number, r.Change)
	return ChangePages200JSONResponse{TheChangePagesJSONResponse(v)}, err
}

// ChooseChangePage makes a change of a shared part on a page too, or leaves the page.
func (s *Server) ChooseChangePage(ctx context.Context, r ChooseChangePageRequestObject) (ChooseChangePageResponseObject, error) {
	v, err := s.desk.ChoosePage(ctx, who(ctx), r.Number, r.Change, r.Body.PageID, r.Body.Made)
	return ChooseChangePage200JSONResponse{TheChangePagesJSONResponse(v)}, err
}

// Styles lists the styles that chosen words of a part may be given.
func (s *Server) Styles(ctx context.Context, r StylesRequestObject) (StylesResponseObject, error) {
	v, err := s.desk.Styles(ctx, r.Number, r.Page, r.Params.Part)
	return Styles200JSONResponse(v), err
}

// Settings shows the settings of a set.
func (s *Server) Settings(ctx context.Context, r SettingsRequestObject) (SettingsResponseObject, error) {
	v, err := s.desk.Settings(ctx, r.Number, r.Page, r.Params.Part)
	return Settings200JSONResponse(v), err
}

// Everywhere finds where words stand on a request's site.
func (s *Server) Everywhere(ctx context.Context, r EverywhereRequestObject) (EverywhereResponseObject, error) {
	v, err := s.desk.Everywhere(ctx, r.Number, r.Params.Words)
	return Everywhere200JSONResponse{TheElsewhereJSONResponse(v)}, err
}

// ReplaceEverywhere replaces words in chosen places of a request's site.
func (s *Server) ReplaceEverywhere(ctx context.Context, r ReplaceEverywhereRequestObject) (ReplaceEverywhereResponseObject, error) {
	v, err := s.desk.ReplaceEverywhere(ctx, who(ctx), r.Number, *r.Body)
	return ReplaceEverywhere200JSONResponse{TheElsewhereJSONResponse(v)}, err
}

// PartHistory lists every wording that a part had on the live page.
func (s *Server) PartHistory(ctx context.Context, r PartHistoryRequestObject) (PartHistoryResponseObject, error) {
	v, err := s.desk.History(ctx, r.Number, r.Page, r.Params.Part)
	return PartHistory200JSONResponse(v), err
}

// Mend gives a part the words that a finding offers.
func (s *Server) Mend(ctx context.Context, r MendRequestObject) (MendResponseObject, error) {
	return Mend204Response{}, s.desk.Mend(ctx, who(ctx), r.Number, *r.Body)
}

// LearnWord makes a word right on a site.
func (s *Server) LearnWord(ctx context.Context, r LearnWordRequestObject) (LearnWordResponseObject, error) {
	return LearnWord204Response{}, s.desk.LearnWord(ctx, who(ctx), r.Site, r.Word)
}

// ForgetWord takes a word from a site's own.
func (s *Server) ForgetWord(ctx context.Context, r ForgetWordRequestObject) (ForgetWordResponseObject, error) {
	return ForgetWord204Response{}, s.desk.ForgetWord(ctx, who(ctx), r.Site, r.Word)
}

// PageLinks lists every link of a page's draft, tried.
func (s *Server) PageLinks(ctx context.Context, r PageLinksRequestObject) (PageLinksResponseObject, error) {
	v, err := s.desk.PageLinks(asked(ctx).Context(), r.Number, r.Page)
	return PageLinks200JSONResponse(v), err
}

// PagePlaces lists the headings of a page that a link can lead to.
func (s *Server) PagePlaces(ctx context.Context, r PagePlacesRequestObject) (PagePlacesResponseObject, error) {
	v, err := s.desk.Places(ctx, r.Page)
	return PagePlaces200JSONResponse(v), err
}

// RefusedActs tells which acts on a part would be refused.
func (s *Server) RefusedActs(ctx context.Context, r RefusedActsRequestObject) (RefusedActsResponseObject, error) {
	v, err := s.desk.RefusedActs(asked(ctx).Context(), r.Number, r.Page, r.Params.Part)
	return RefusedActs200JSONResponse(v), err
}

// WhileTyping says what the rules about words find in what was changed on a page so far.
func (s *Server) WhileTyping(ctx context.Context, r WhileTypingRequestObject) (WhileTypingResponseObject, error) {
	v, err := s.desk.WhileTyping(asked(ctx).Context(), r.Number, r.Page)
	return WhileTyping200JSONResponse(v), err
}
