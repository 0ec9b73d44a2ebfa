package api

import (
	"bytes"
	"crypto/rand"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"html"
	"io/fs"
	"mime"
	"net/http"
	"net/url"
	"path"
	"strings"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/google/uuid"
)

// noncePlace stands in index.html where each answer's own nonce goes.
const noncePlace = "__CSP_NONCE__"

// aheadPlace stands in index.html where what its page needs first is named, so
// that it comes while the program still loads.
const aheadPlace = "<!-- ahead -->"

// ahead names what the page at an address asks for first.
func ahead(at *url.URL, signedIn bool) []string {
	first := []string{"/api/session"}
	if !signedIn {
		return first
	}
	id, onJob := strings.CutPrefix(at.Path, "/jobs/")
	switch {
	case at.Path == "/" && at.RawQuery == "":
		first = append(first, "/api/jobs?closed=false&find=")
	case onJob && uuid.Validate(id) == nil:
		first = append(first, "/api/jobs/"+id)
	}
	return append(first, "/api/clock")
}

// place is the part of the program that shows the page at an address; the floor's is
// in what every page loads.
func place(at string) string {
	switch {
	case at == "/jobs/new":
		return "src/screens/newjob/NewJob.tsx"
	case strings.HasPrefix(at, "/jobs/"):
		return "src/screens/job/JobSheet.tsx"
	case at == "/jump":
		return "src/screens/jump/Jump.tsx"
	case at == "/rules":
		return "src/screens/rules/HouseRules.tsx"
	}
	return ""
}

// partsOf reads from the build's manifest which files each part of the program
// needs beside what every page loads. Without a manifest nothing is named ahead.
func partsOf(web fs.FS) map[string][]string {
	var manifest map[string]struct {
		File    string   `json:"file"`
		Imports []string `json:"imports"`
	}
	raw, err := fs.ReadFile(web, "manifest.json")
	if err != nil || json.Unmarshal(raw, &manifest) != nil {
		return nil
	}
	parts := map[string][]string{}
	for part := range manifest {
		seen := map[string]bool{}
		var files []string
		var need func(string)
		need = func(name string) {
			if seen[name] {
				return
			}
			seen[name] = true
			for _, other := range manifest[name].Imports {
				need(other)
			}
			files = append(files, manifest[name].File)
		}
		need("index.html")
		files = nil
		need(part)
		parts[part] = files
	}
	return parts
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
	files, parts := http.FileServerFS(s.Web), partsOf(s.Web)
	page := func(w http.ResponseWriter, r *http.Request) {
		raw := make([]byte, 16)
		_, _ = rand.Read(raw) // never fails: crypto/rand stops the program instead
		nonce := base64.RawStdEncoding.EncodeToString(raw)
		w.Header().Set("Content-Security-Policy", policy(nonce))
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		out := bytes.ReplaceAll(index, []byte(noncePlace), []byte(nonce))
		_, err := r.Cookie(s.cookie(sessionCookie))
		var links strings.Builder
		for _, url := range ahead(r.URL, err == nil) {
			_, _ = fmt.Fprintf(&links, `<link rel="preload" as="fetch" crossorigin href="%s" />`, html.EscapeString(url))
		}
		for _, file := range parts[place(r.URL.Path)] {
			_, _ = fmt.Fprintf(&links, `<link rel="modulepreload" crossorigin href="/%s" />`, html.EscapeString(file))
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
			if _, err := fs.Stat(s.Web, name+".br"); err == nil && strings.Contains(r.Header.Get("Accept-Encoding"), "br") {
				w.Header().Set("Content-Encoding", "br")
				w.Header().Set("Content-Type", mime.TypeByExtension(path.Ext(name)))
				w.Header().Add("Vary", "Accept-Encoding")
				http.ServeFileFS(w, r, s.Web, name+".br")
				return
			}
		}
		files.ServeHTTP(w, r)
	})
}
