package httpd

import (
	"bytes"
	"context"
	"io"
	"net/http"
	"strconv"
	"time"

	"mendry/internal/core/act"
)

// How long browsers keep pictures, in seconds: what was sent to Mendry never changes, a site's files may.
const (
	keepUpload = 86400
	keepSite   = 60
)

// pictureResponse gives a picture's bytes in a way that no browser takes for a page of ours.
type pictureResponse struct {
	media string
	body  []byte
	age   int // seconds that it may be kept by a browser
}

// rangeResponse is a file that is given piece by piece, or a range of it: a film is wound before all of it has come
// (RFC 9110, 14).
type rangeResponse struct {
	call  *http.Request
	media string
	body  io.ReadSeeker
	tag   string
	age   int // seconds that it may be kept by a browser
}

// VisitGetAttachmentResponse implements GetAttachmentResponseObject.
func (f rangeResponse) VisitGetAttachmentResponse(w http.ResponseWriter) error {
	heads(w, f.media, f.age)
	w.Header().Set("ETag", `"`+f.tag+`"`)
	http.ServeContent(w, f.call, "", time.Time{}, f.body)
	return nil
}

// VisitGetSmallPictureResponse implements GetSmallPictureResponseObject.
func (p pictureResponse) VisitGetSmallPictureResponse(w http.ResponseWriter) error {
	return p.write(w)
}

// VisitGetSmallSitePictureResponse implements GetSmallSitePictureResponseObject.
func (p pictureResponse) VisitGetSmallSitePictureResponse(w http.ResponseWriter) error {
	return p.write(w)
}

// VisitGetShotResponse implements GetShotResponseObject.
func (p pictureResponse) VisitGetShotResponse(w http.ResponseWriter) error { return p.write(w) }

// VisitGetClientShotResponse implements GetClientShotResponseObject.
func (p pictureResponse) VisitGetClientShotResponse(w http.ResponseWriter) error { return p.write(w) }

// VisitGetSmallSectionResponse implements GetSmallSectionResponseObject.
func (p pictureResponse) VisitGetSmallSectionResponse(w http.ResponseWriter) error { return p.write(w) }

// VisitGetSmallPageResponse implements GetSmallPageResponseObject.
func (p pictureResponse) VisitGetSmallPageResponse(w http.ResponseWriter) error { return p.write(w) }

// heads says what a file is, that nothing in it runs, and how long it may be kept.
func heads(w http.ResponseWriter, media string, age int) {
	w.Header().Set("Content-Type", media)
	w.Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox")
	w.Header().Set("Cache-Control", "private, max-age="+strconv.Itoa(age))
}

func (p pictureResponse) write(w http.ResponseWriter) error {
	heads(w, p.media, p.age)
	_, err := io.Copy(w, bytes.NewReader(p.body))
	return err
}

// GetAttachment gives a file's bytes.
func (s *Server) GetAttachment(ctx context.Context, r GetAttachmentRequestObject) (GetAttachmentResponseObject, error) {
	a, b, err := s.desk.Attachment(ctx, r.Attachment)
	return rangeResponse{asked(ctx), a.Media, b, a.Hash, keepUpload}, err
}

// TryPicture tells what a picture would be in a place.
func (s *Server) TryPicture(ctx context.Context, r TryPictureRequestObject) (TryPictureResponseObject, error) {
	raw, err := r.Body.MarshalJSON()
	if err != nil {
		return nil, err
	}
	a, err := act.Read(raw)
	if err != nil {
		return nil, err
	}
	v, err := s.desk.TryPicture(ctx, r.Number, r.Page, a)
	return TryPicture200JSONResponse(v), err
}

// GetSmallPicture gives a picture made small.
func (s *Server) GetSmallPicture(
	ctx context.Context,
	r GetSmallPictureRequestObject,
) (GetSmallPictureResponseObject, error) {
	var p act.Pick
	age := keepUpload
	if r.Params.AttachmentID != nil {
		p.Attachment = *r.Params.AttachmentID
	}
	if r.Params.Path != nil {
		p.Path, age = *r.Params.Path, keepSite
	}
	media, b, err := s.desk.Small(ctx, r.Number, p, int(r.Params.Size))
	return pictureResponse{media, b, age}, err
}

// SetPlaces notes how large pictures are shown.
func (s *Server) SetPlaces(ctx context.Context, r SetPlacesRequestObject) (SetPlacesResponseObject, error) {
	return SetPlaces204Response{}, s.desk.SetPlaces(ctx, r.Number, r.Page, *r.Body)
}

// ListPictures lists every site with what is known of its pictures.
func (s *Server) ListPictures(ctx context.Context, _ ListPicturesRequestObject) (ListPicturesResponseObject, error) {
	v, err := s.desk.AllPictures(ctx)
	return ListPictures200JSONResponse(v), err
}

// ListSitePictures lists the pictures of a site.
func (s *Server) ListSitePictures(
	ctx context.Context,
	r ListSitePicturesRequestObject,
) (ListSitePicturesResponseObject, error) {
	v, err := s.desk.SitePictures(ctx, r.Site)
	return ListSitePictures200JSONResponse(v), err
}

// LookAtPictures asks for a look at a site's pictures.
func (s *Server) LookAtPictures(
	ctx context.Context,
	r LookAtPicturesRequestObject,
) (LookAtPicturesResponseObject, error) {
	return LookAtPictures204Response{}, s.desk.LookAtPictures(ctx, r.Site)
}

// TakeAway asks for a file of a site to be taken away.
func (s *Server) TakeAway(ctx context.Context, r TakeAwayRequestObject) (TakeAwayResponseObject, error) {
	return TakeAway204Response{}, s.desk.TakeAway(ctx, who(ctx), r.Site, r.Body.Path)
}

// BringBack asks for a file that was taken away to be brought back.
func (s *Server) BringBack(ctx context.Context, r BringBackRequestObject) (BringBackResponseObject, error) {
	return BringBack204Response{}, s.desk.BringBack(ctx, who(ctx), r.Site, r.Away)
}

// GetSmallSitePicture gives a picture of a site made small.
func (s *Server) GetSmallSitePicture(
	ctx context.Context,
	r GetSmallSitePictureRequestObject,
) (GetSmallSitePictureResponseObject, error) {
	media, b, err := s.desk.SmallOfSite(ctx, r.Site, r.Params.Path, int(r.Params.Size))
	return pictureResponse{media, b, keepSite}, err
}

// GetShots shows the pictures of a page before and after its draft.
func (s *Server) GetShots(ctx context.Context, r GetShotsRequestObject) (GetShotsResponseObject, error) {
	v, err := s.desk.Shots(ctx, r.Number, r.Page)
	return GetShots200JSONResponse(v), err
}

// AskShots asks for the pictures of a page before and after its draft.
func (s *Server) AskShots(ctx context.Context, r AskShotsRequestObject) (AskShotsResponseObject, error) {
	v, err := s.desk.AskShots(ctx, r.Number, r.Page)
	return AskShots200JSONResponse(v), err
}

// GetShot gives a picture of a page.
func (s *Server) GetShot(ctx context.Context, r GetShotRequestObject) (GetShotResponseObject, error) {
	b, err := s.desk.ShotOf(ctx, r.Number, r.Png)
	return pictureResponse{"image/png", b, keepUpload}, err
}

// GetClientShot gives a picture of a page that the client is shown.
func (s *Server) GetClientShot(ctx context.Context, r GetClientShotRequestObject) (GetClientShotResponseObject, error) {
	b, err := s.desk.ClientShot(ctx, r.Token, r.Png)
	return pictureResponse{"image/png", b, keepUpload}, err
}

// AskSmallFronts asks for small pictures of the sites' start pages.
func (s *Server) AskSmallFronts(ctx context.Context, _ AskSmallFrontsRequestObject) (AskSmallFrontsResponseObject, error) {
	return AskSmallFronts204Response{}, s.desk.AskSmallFronts(ctx)
}

// AskSmallPages asks for small pictures of a site's pages.
func (s *Server) AskSmallPages(ctx context.Context, r AskSmallPagesRequestObject) (AskSmallPagesResponseObject, error) {
	return AskSmallPages204Response{}, s.desk.AskSmallPages(ctx, r.Site)
}

// GetSmallPage gives a small picture of a page.
func (s *Server) GetSmallPage(ctx context.Context, r GetSmallPageRequestObject) (GetSmallPageResponseObject, error) {
	b, err := s.desk.SmallPage(ctx, r.Page)
	return pictureResponse{"image/jpeg", b, keepUpload}, err
}

// ListSections lists the sections that a site's pages can lend to each other.
func (s *Server) ListSections(ctx context.Context, r ListSectionsRequestObject) (ListSectionsResponseObject, error) {
	v, err := s.desk.Sections(ctx, r.Site)
	return ListSections200JSONResponse(v), err
}

// AskSections asks for them to be found and drawn.
func (s *Server) AskSections(ctx context.Context, r AskSectionsRequestObject) (AskSectionsResponseObject, error) {
	return AskSections204Response{}, s.desk.AskSections(ctx, r.Site)
}

// GetSmallSection gives a small picture of a section.
func (s *Server) GetSmallSection(ctx context.Context, r GetSmallSectionRequestObject) (GetSmallSectionResponseObject, error) {
	b, err := s.desk.SmallSection(ctx, r.Site, r.Small)
	return pictureResponse{"image/jpeg", b, keepUpload}, err
}
