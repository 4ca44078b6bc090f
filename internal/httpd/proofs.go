package httpd

import "context"

// GetProof shows what would change.
func (s *Server) GetProof(ctx context.Context, r GetProofRequestObject) (GetProofResponseObject, error) {
	v, err := s.desk.Proof(ctx, r.Number)
	return GetProof200JSONResponse{TheProofJSONResponse(v)}, err
}

// SendProof sends a proof to the client.
func (s *Server) SendProof(ctx context.Context, r SendProofRequestObject) (SendProofResponseObject, error) {
	v, err := s.desk.SendProof(ctx, who(ctx), r.Number)
	return SendProof200JSONResponse{TheProofJSONResponse(v)}, err
}

// RemindClient reminds the client of a round.
func (s *Server) RemindClient(ctx context.Context, r RemindClientRequestObject) (RemindClientResponseObject, error) {
	v, err := s.desk.RemindClient(ctx, who(ctx), r.Number)
	return RemindClient200JSONResponse{TheProofJSONResponse(v)}, err
}

// LookAtPages looks at the pages of a proof on their host.
func (s *Server) LookAtPages(ctx context.Context, r LookAtPagesRequestObject) (LookAtPagesResponseObject, error) {
	v, err := s.desk.LookAtPages(ctx, r.Number)
	return LookAtPages200JSONResponse(v), err
}

// CarryClearance lets what was cleared stand on pages that others edited since.
func (s *Server) CarryClearance(ctx context.Context, r CarryClearanceRequestObject) (CarryClearanceResponseObject, error) {
	v, err := s.desk.CarryClearance(ctx, who(ctx), r.Number, r.Body.Agreed)
	return CarryClearance200JSONResponse{TheProofJSONResponse(v)}, err
}

// ListReleases lists the releases of a request.
func (s *Server) ListReleases(ctx context.Context, r ListReleasesRequestObject) (ListReleasesResponseObject, error) {
	v, err := s.desk.Releases(ctx, r.Number)
	return ListReleases200JSONResponse(v), err
}

// Publish opens a release.
func (s *Server) Publish(ctx context.Context, r PublishRequestObject) (PublishResponseObject, error) {
	v, err := s.desk.Publish(ctx, who(ctx), r.Number, r.Body.Pages)
	return Publish200JSONResponse{TheReleaseJSONResponse(v)}, err
}

// WatchRelease tells how far a release has come.
func (s *Server) WatchRelease(ctx context.Context, r WatchReleaseRequestObject) (WatchReleaseResponseObject, error) {
	v, err := s.desk.WatchRelease(ctx, r.Release)
	return WatchRelease200JSONResponse(v), err
}

// MarkRelease keeps what a person says of a list.
func (s *Server) MarkRelease(ctx context.Context, r MarkReleaseRequestObject) (MarkReleaseResponseObject, error) {
	v, err := s.desk.MarkRelease(ctx, who(ctx), r.Release, *r.Body)
	return MarkRelease200JSONResponse{TheReleaseJSONResponse(v)}, err
}

// SteerRelease goes on with a release, takes it back or looks again.
func (s *Server) SteerRelease(ctx context.Context, r SteerReleaseRequestObject) (SteerReleaseResponseObject, error) {
	v, err := s.desk.Steer(ctx, who(ctx), r.Release, r.Act)
	return SteerRelease200JSONResponse{TheReleaseJSONResponse(v)}, err
}

// GetRecord shows what happened.
func (s *Server) GetRecord(ctx context.Context, r GetRecordRequestObject) (GetRecordResponseObject, error) {
	v, err := s.desk.Record(ctx, or0(r.Params.Site), or0(r.Params.Request), or0(r.Params.Page))
	return GetRecord200JSONResponse(v), err
}

// ExportRecord gives a record as a file.
func (s *Server) ExportRecord(ctx context.Context, r ExportRecordRequestObject) (ExportRecordResponseObject, error) {
	v, err := s.desk.ExportRecord(ctx, or0(r.Params.Site), or0(r.Params.Request))
	name := `attachment; filename="record.json"`
	return ExportRecord200JSONResponse{Body: v, Headers: ExportRecord200ResponseHeaders{ContentDisposition: &name}}, err
}

// OpenProof shows the client their proof.
func (s *Server) OpenProof(ctx context.Context, r OpenProofRequestObject) (OpenProofResponseObject, error) {
	v, err := s.desk.OpenProof(ctx, r.Token)
	return OpenProof200JSONResponse{TheClientProofJSONResponse(v)}, err
}

// AnswerProof keeps the client's answers.
func (s *Server) AnswerProof(ctx context.Context, r AnswerProofRequestObject) (AnswerProofResponseObject, error) {
	v, err := s.desk.Answer(ctx, r.Token, *r.Body)
	return AnswerProof200JSONResponse{TheClientProofJSONResponse(v)}, err
}
