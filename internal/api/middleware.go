package api

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"runtime/debug"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5/middleware"

	"grapnel/internal/photo"
	"grapnel/internal/store"
)

// problem answers with a problem+json error outside an operation.
func problem(w http.ResponseWriter, status int, detail string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: detail})
}

// logged writes one line for each request.
func logged(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		start := time.Now()
		ww := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		next.ServeHTTP(ww, r)
		level := slog.LevelDebug
		if ww.Status() >= 500 {
			level = slog.LevelError
		} else if r.Method != http.MethodGet {
			level = slog.LevelInfo
		}
		slog.Log(r.Context(), level, "request", "method", r.Method, "path", pathToLog(r), "status", ww.Status(),
			"ms", time.Since(start).Milliseconds(), "id", middleware.GetReqID(r.Context()))
	})
}

// pathToLog is the path of a request without the secret that a calendar's address is.
func pathToLog(r *http.Request) string {
	if strings.HasPrefix(r.URL.Path, feedPath) {
		return feedPath + "…"
	}
	return r.URL.Path
}

// recovered turns a panic into an answer and a log line with its stack.
func recovered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() {
			if v := recover(); v != nil && v != http.ErrAbortHandler {
				slog.ErrorContext(r.Context(), "panic", "value", fmt.Sprint(v), "stack", string(debug.Stack()))
				problem(w, http.StatusInternalServerError,
					"Something broke here. What you entered is still on your screen; try again.")
			}
		}()
		next.ServeHTTP(w, r)
	})
}

// headers sets what every answer carries.
func (s *server) headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("X-Frame-Options", "DENY")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(self), geolocation=(), microphone=()")
		h.Set("Content-Security-Policy", policy(""))
		if s.MoveClock != nil {
			h.Set("Date", s.Now().UTC().Format(http.TimeFormat)) // what devices take the time from
		}
		if s.SecureCookie {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		if r.URL.Path != "/healthz" {
			h.Set("Cache-Control", "no-store")
		}
		next.ServeHTTP(w, r)
	})
}

// policy is the Content-Security-Policy: everything from here, no inline
// script. The nonce, when there is one, is for the style element that a dialog
// of the interface adds while it is open.
func policy(nonce string) string {
	style := "'self'"
	if nonce != "" {
		style += " 'nonce-" + nonce + "'"
	}
	return "default-src 'none'; script-src 'self'; style-src " + style +
		"; img-src 'self' data:; font-src 'self'; connect-src 'self'; manifest-src 'self'; form-action 'self'; " +
		"base-uri 'none'; frame-ancestors 'none'"
}

// mostTable is the largest table or collection of case files taken: years of a workshop.
const mostTable = 32 << 20

// bodyOf gives how much a request may bring, and what it is told of more.
func bodyOf(r *http.Request) (most int64, why string) {
	switch {
	case r.Method == http.MethodPost && strings.HasSuffix(r.URL.Path, "/photos"):
		return photo.MostBytes, "Take the picture at a lower resolution."
	case r.Method == http.MethodPost && strings.HasPrefix(r.URL.Path, "/api/import/"):
		return mostTable, "Part the file."
	}
	return mostBody, "A case file is far smaller: check that it is the right file."
}

// largeAtOnce is how many requests may bring more than usual at a time: each is held in
// memory while it is read.
const largeAtOnce = 4

// largeFromKnown takes what is larger than usual from people who are signed in alone, and of
// so many at a time.
func (s *server) largeFromKnown(next http.Handler) http.Handler {
	turns := make(chan struct{}, largeAtOnce)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if most, _ := bodyOf(r); most <= mostBody {
			next.ServeHTTP(w, r)
			return
		}
		ctx, cancel := context.WithTimeout(r.Context(), patience)
		defer cancel()
		switch _, err := s.signedIn(ctx); {
		case errors.Is(err, store.ErrNotFound):
			problem(w, http.StatusUnauthorized, "Sign in first. What you entered is kept on this device.")
			return
		case err != nil:
			problem(w, http.StatusServiceUnavailable, nothingSaved)
			return
		}
		select {
		case turns <- struct{}{}:
			defer func() { <-turns }()
			next.ServeHTTP(w, r)
		case <-ctx.Done():
			problem(w, http.StatusServiceUnavailable, "Too much is being sent at once. Nothing was saved; try again in a moment.")
		}
	})
}

// limitBody refuses a body that says it is too large before reading any of it, and
// stops reading one that does not say so. What is taken has been read whole before
// anything else is done, so that a slow line takes none of an operation's time.
func limitBody(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		most, why := bodyOf(r)
		if r.ContentLength > most {
			problem(w, http.StatusRequestEntityTooLarge,
				fmt.Sprintf("This is %.1f MB; at most %d MB are taken. %s", float64(r.ContentLength)/1e6, most>>20, why))
			return
		}
		body, err := io.ReadAll(http.MaxBytesReader(w, r.Body, most))
		var large *http.MaxBytesError
		switch {
		case errors.As(err, &large):
			problem(w, http.StatusRequestEntityTooLarge, fmt.Sprintf("At most %d MB are taken. %s", most>>20, why))
			return
		case err != nil:
			problem(w, http.StatusBadRequest, "The request broke off. Nothing was saved; try again.")
			return
		}
		r.Body = io.NopCloser(bytes.NewReader(body))
		next.ServeHTTP(w, r)
	})
}

// patience is how long an operation may take: a database that hangs is told of in five
// seconds.
const patience = 4500 * time.Millisecond

// longPatience is how long taking out all that a workshop owns, or bringing it in, may take.
const longPatience = 50 * time.Second

func patienceOf(r *http.Request) time.Duration {
	if strings.HasPrefix(r.URL.Path, "/api/import/") || strings.HasPrefix(r.URL.Path, "/api/export/") {
		return longPatience
	}
	return patience
}

// inTime ends what takes too long. Streams have times of their own.
func inTime(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path == "/api/events" {
			next.ServeHTTP(w, r)
			return
		}
		ctx, cancel := context.WithTimeout(r.Context(), patienceOf(r))
		defer cancel()
		next.ServeHTTP(w, r.WithContext(ctx))
	})
}

// onlySignIn applies a limiter to signing in alone.
func onlySignIn(limit func(http.Handler) http.Handler) func(http.Handler) http.Handler {
	return func(next http.Handler) http.Handler {
		limited := limit(next)
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.Method == http.MethodPost && (r.URL.Path == "/api/session" || r.URL.Path == "/api/session/switch") {
				limited.ServeHTTP(w, r)
				return
			}
			next.ServeHTTP(w, r)
		})
	}
}
