package httpd

import (
	"context"
	"mime"
	"net/http"
)

// fileResponse gives a file's bytes to be kept on the person's machine.
type fileResponse struct {
	name string
	body []byte
}

// VisitGetStepFileResponse implements GetStepFileResponseObject.
func (f fileResponse) VisitGetStepFileResponse(w http.ResponseWriter) error { return f.write(w) }

// VisitGetChangedFileResponse implements GetChangedFileResponseObject.
func (f fileResponse) VisitGetChangedFileResponse(w http.ResponseWriter) error { return f.write(w) }

// VisitGetClientFileResponse implements GetClientFileResponseObject.
func (f fileResponse) VisitGetClientFileResponse(w http.ResponseWriter) error { return f.write(w) }

func (f fileResponse) write(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", "application/octet-stream")
	w.Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": f.name}))
	_, err := w.Write(f.body)
	return err
}

// GetStepFile gives a file that a person puts in.
func (s *Server) GetStepFile(ctx context.Context, r GetStepFileRequestObject) (GetStepFileResponseObject, error) {
	name, b, err := s.desk.StepFile(ctx, r.Release, r.Step)
	return fileResponse{name, b}, err
}

// GetChangedFile gives a file that a change brings, or what stood in its place.
func (s *Server) GetChangedFile(
	ctx context.Context,
	r GetChangedFileRequestObject,
) (GetChangedFileResponseObject, error) {
	name, b, err := s.desk.ChangedFile(ctx, r.Number, r.Change, r.N, or0(r.Params.Before))
	return fileResponse{name, b}, err
}

// GetClientFile gives a file that the client is shown, or what stood in its place.
func (s *Server) GetClientFile(ctx context.Context, r GetClientFileRequestObject) (GetClientFileResponseObject, error) {
	name, b, err := s.desk.ClientFile(ctx, r.Token, r.Change, r.N, or0(r.Params.Before))
	return fileResponse{name, b}, err
}

// FilesAt tells of the files that a part leads to.
func (s *Server) FilesAt(ctx context.Context, r FilesAtRequestObject) (FilesAtResponseObject, error) {
	v, err := s.desk.FilesAt(ctx, r.Number, r.Page, r.Params.Part)
	return FilesAt200JSONResponse(v), err
}

// TryVideo tells what plays at an address of another site.
func (s *Server) TryVideo(ctx context.Context, r TryVideoRequestObject) (TryVideoResponseObject, error) {
	v, err := s.desk.Video(ctx, r.Body.Address)
	return TryVideo200JSONResponse(v), err
}
