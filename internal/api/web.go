package api

import (
	"bytes"
	"crypto/rand"
	"encoding/base64"
	"fmt"
	"html"
	"io/fs"
	"net/http"
	"strings"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/google/uuid"
)

// noncePlace stands in index.html where each answer's own nonce goes.
const noncePlace = "__CSP_NONCE__"

// aheadPlace stands in index.html where what a signed-in person's page asks for
// first is named, so that it comes while the program still loads.
const aheadPlace = "<!-- ahead -->"

// ahead names what the page at a path asks for first.
func ahead(path string) []string {
	first := []string{"/api/session", "/api/clock"}
	id, onJob := strings.CutPrefix(path, "/jobs/")
	switch {
	case path == "/":
		first = append(first, "/api/jobs?closed=false&find=")
	case onJob && uuid.Validate(id) == nil:
		first = append(first, "/api/jobs/"+id)
	}
	return first
}

// web serves the built front end: files by name, and index.html for every
// address that is a place in the interface.
func (s *server) web(r chi.Router) {
	index, err := fs.ReadFile(s.Web, "index.html")
	if err != nil {
		index = []byte(
			"<!doctype html><title>Grapnel</title><p>The front end is not built. Run <code>make build</code>, or " +
				"<code>make demo</code> to build and start.</p>",
		)
	}
	files := http.FileServerFS(s.Web)
	page := func(w http.ResponseWriter, r *http.Request) {
		raw := make([]byte, 16)
		_, _ = rand.Read(raw) // never fails: crypto/rand stops the program instead
		nonce := base64.RawStdEncoding.EncodeToString(raw)
		w.Header().Set("Content-Security-Policy", policy(nonce))
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		out := bytes.ReplaceAll(index, []byte(noncePlace), []byte(nonce))
		var links strings.Builder
		if _, err := r.Cookie(s.sessions.Cookie.Name); err == nil {
			for _, url := range ahead(r.URL.Path) {
				_, _ = fmt.Fprintf(&links, `<link rel="preload" as="fetch" crossorigin href="%s" />`, html.EscapeString(url))
			}
		}
		_, _ = w.Write(bytes.ReplaceAll(out, []byte(aheadPlace), []byte(links.String())))
	}
	compressed := r.With(middleware.Compress(6))
	compressed.Get("/api/docs", func(w http.ResponseWriter, r *http.Request) {
		http.ServeFileFS(w, r, s.Web, "docs/page.html")
	})
	compressed.Get("/*", func(w http.ResponseWriter, r *http.Request) {
		name := strings.TrimPrefix(r.URL.Path, "/")
		if info, err := fs.Stat(s.Web, name); err != nil || info.IsDir() || name == "index.html" {
			if strings.HasPrefix(name, "assets/") {
				http.NotFound(w, r)
				return
			}
			page(w, r)
			return
		}
		if strings.HasPrefix(name, "assets/") {
			// Built files have their content's hash in the name.
			w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		}
		files.ServeHTTP(w, r)
	})
}
