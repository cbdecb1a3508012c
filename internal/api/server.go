// Package api serves the use cases over HTTP: it decodes, calls app and encodes.
package api

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/base64"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/go-chi/httprate"

	"jarvo/internal/app"
)

// Options are what a server is made of.
type Options struct {
	App      *app.App
	Sessions scs.Store
	Files    fs.FS // the built front end
	Log      *slog.Logger
	// DemoSignIn and DemoPassword are shown on the sign-in page of the demo, and nowhere else.
	DemoSignIn, DemoPassword string
}

type server struct {
	Options
	sessions *scs.SessionManager
	index    []byte
}

const (
	sessionLife   = 14 * 24 * time.Hour
	signInTries   = 10 // a minute and address
	largestBody   = 4 << 20
	userInSession = "user"
)

// New returns the handler of the whole application.
func New(o Options) (http.Handler, error) {
	s := &server{Options: o, sessions: scs.New()}
	s.sessions.Store = o.Sessions
	s.sessions.Lifetime = sessionLife
	s.sessions.Cookie.Name = "jarvo"
	s.sessions.Cookie.SameSite = http.SameSiteStrictMode
	s.sessions.Cookie.HttpOnly = true
	if index, err := fs.ReadFile(o.Files, "index.html"); err == nil {
		s.index = index
	}
	r := chi.NewRouter()
	r.Use(middleware.RequestID, s.log, middleware.Recoverer, secure, http.NewCrossOriginProtection().Handler, sized, middleware.Compress(5))
	r.Get("/healthz", s.health)
	r.Group(func(r chi.Router) {
		r.Use(s.sessions.LoadAndSave)
		r.With(httprate.LimitBy(signInTries, time.Minute, byPeer, httprate.WithLimitHandler(tooMany))).Post("/api/session", s.signInRaw)
		api := humachi.New(r, Config())
		api.UseMiddleware(s.identify(api))
		s.register(api)
		s.files(r)
	})
	r.NotFound(s.serveFile)
	return r, nil
}

// Config is the OpenAPI description's head.
func Config() huma.Config {
	config := huma.DefaultConfig("Jarvo", "1")
	config.DocsPath = ""
	config.SchemasPath = ""
	config.CreateHooks = nil
	config.OpenAPIPath = "/openapi"
	return config
}

// byPeer is the address that opened the connection; no header can change it.
func byPeer(r *http.Request) (string, error) {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	return host, err
}

func tooMany(w http.ResponseWriter, _ *http.Request) {
	writeProblem(w, &Problem{Title: "Too many tries", Status: http.StatusTooManyRequests, Detail: "too many tries to sign in; wait a minute and try again"})
}

type contextKey int

const (
	actorKey contextKey = iota
	nonceKey
)

func requestID(ctx context.Context) string { return middleware.GetReqID(ctx) }

// log writes a line a request, with its id.
func (s *server) log(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		begin := time.Now()
		ww := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		w.Header().Set("X-Request-Id", requestID(r.Context()))
		next.ServeHTTP(ww, r)
		s.Log.InfoContext(r.Context(), "request", "request", requestID(r.Context()), "method", r.Method, "path", r.URL.Path, "status", ww.Status(), "ms", time.Since(begin).Milliseconds())
	})
}

// secure sets the headers that keep the page to itself. Styles that the component library makes carry the nonce.
func secure(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		nonce := newNonce()
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-"+nonce+"'; font-src 'self'; img-src 'self' data:; connect-src 'self'; "+
			"base-uri 'none'; form-action 'self'; frame-ancestors 'none'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		if strings.HasPrefix(r.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), nonceKey, nonce)))
	})
}

// sized bounds what is sent; a scan may be larger than all else.
func sized(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		most := int64(largestBody)
		if strings.HasSuffix(r.URL.Path, "/attachments") {
			most = app.LargestScan + 1
		}
		r.Body = http.MaxBytesReader(w, r.Body, most)
		next.ServeHTTP(w, r)
	})
}

func newNonce() string {
	var b [16]byte
	_, _ = rand.Read(b[:]) // never fails
	return base64.StdEncoding.EncodeToString(b[:])
}

func (s *server) health(w http.ResponseWriter, r *http.Request) {
	if _, err := s.App.State(r.Context()); err != nil {
		http.Error(w, "the book can't be read", http.StatusServiceUnavailable)
		return
	}
	_, _ = fmt.Fprintln(w, "ok")
}

// serveFile serves the front end: its files by name, and its page for every other address.
func (s *server) serveFile(w http.ResponseWriter, r *http.Request) {
	if strings.HasPrefix(r.URL.Path, "/api/") {
		writeProblem(w, &Problem{Title: "Not found", Status: http.StatusNotFound, Detail: "there is nothing at this address"})
		return
	}
	if name := strings.TrimPrefix(r.URL.Path, "/"); name != "" && name != "index.html" {
		if info, err := fs.Stat(s.Files, name); err == nil && !info.IsDir() {
			if strings.HasPrefix(name, "assets/") {
				w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
			}
			http.ServeFileFS(w, r, s.Files, name)
			return
		}
		if strings.HasPrefix(name, "assets/") {
			http.NotFound(w, r)
			return
		}
	}
	if s.index == nil {
		http.Error(w, "the front end has not been built; run make build", http.StatusServiceUnavailable)
		return
	}
	nonce, _ := r.Context().Value(nonceKey).(string)
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Cache-Control", "no-cache")
	_, _ = w.Write(bytes.ReplaceAll(s.index, []byte("NONCE"), []byte(nonce)))
}
