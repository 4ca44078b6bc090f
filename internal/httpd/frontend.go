package httpd

import (
	"embed"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"

	"github.com/gin-gonic/gin"
)

//go:embed all:dist
var built embed.FS

// frontEnd serves the built interface: files as they are, the client's page under /p/, the application everywhere
// else.
func (s *Server) frontEnd(c *gin.Context) {
	if strings.HasPrefix(c.Request.URL.Path, "/api/") {
		s.problem(c, http.StatusNotFound, "There is no such call.")
		return
	}
	if c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
		s.problem(c, http.StatusMethodNotAllowed, "That cannot be done here.")
		return
	}
	name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
	if strings.HasPrefix(name, "assets/") {
		b, err := fs.ReadFile(built, "dist/"+name)
		if err != nil {
			s.problem(c, http.StatusNotFound, "There is no such file.")
			return
		}
		c.Header("Cache-Control", "public, max-age=31536000, immutable") // named by their contents
		c.Data(http.StatusOK, mime.TypeByExtension(path.Ext(name)), b)
		return
	}
	file := "dist/index.html"
	if strings.HasPrefix(name, "p/") {
		file = "dist/client.html"
	}
	b, err := fs.ReadFile(built, file)
	if err != nil {
		c.String(http.StatusServiceUnavailable, "The interface has not been built: run make build.")
		return
	}
	c.Header("Cache-Control", "no-cache")
	c.Data(http.StatusOK, "text/html; charset=utf-8", b)
}
