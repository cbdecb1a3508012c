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
	"net/netip"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"

	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/company"
	"jarvo/internal/app/today"
	"jarvo/internal/scan"
)

// Options are what a server is made of.
type Options struct {
	Book     *book.Book
	Sessions scs.Store
	Files    fs.FS // the built front end
	Log      *slog.Logger
	// Hosts are the names that the server is reached by, beside localhost and addresses. A page that claims another is refused.
	Hosts []string
	// TrustProxy is the address of a proxy that says from where a request came, where there is one.
	TrustProxy string
	// Encrypted is set where the server speaks TLS itself: the cookie is sent over nothing else then.
	Encrypted bool
	// MailServer is the name of the mail server that messages go to; blank: they are kept as files.
	MailServer string
	// DemoSignIn and DemoPassword are shown on the sign-in page of the demo, and nowhere else.
	DemoSignIn, DemoPassword string
}

type server struct {
	Options
	sessions  *scs.SessionManager
	index     []byte
	accounts  *tries
	addresses *tries
	counter   today.Counter
	answers   *answers
	imports   sync.Map // of exchange.Progress, by the id of the user
}

const (
	sessionLife      = 14 * 24 * time.Hour
	accountTries     = 10 // wrong passwords for a name from an address
	addressTries     = 30 // and from an address for any name
	triesSpan        = 15 * time.Minute
	largestBody      = 4 << 20
	largestSignIn    = 4 << 10
	largestStatement = 16 << 20 // of a bank, in base64

	userInSession       = "user"
	generationInSession = "generation"
)

// New returns the handler of the whole application.
func New(o Options) (http.Handler, error) {
	s := &server{
		Options: o, sessions: scs.New(), accounts: newTries(accountTries, triesSpan),
		addresses: newTries(addressTries, triesSpan), answers: newAnswers(),
	}
	s.sessions.Store = o.Sessions
	s.sessions.Lifetime = sessionLife
	s.sessions.Cookie.Name = cookieName
	s.sessions.Cookie.SameSite = http.SameSiteStrictMode
	s.sessions.Cookie.HttpOnly = true
	s.sessions.Cookie.Secure = o.Encrypted
	if index, err := fs.ReadFile(o.Files, "index.html"); err == nil {
		s.index = index
	}
	r := chi.NewRouter()
	r.Use(patient, s.numbered, s.log, middleware.Recoverer, secure, s.named, http.NewCrossOriginProtection().Handler, sized,
		middleware.Compress(5))
	r.Get("/healthz", s.health)
	r.Get("/openapi.json", s.description)
	r.Group(func(r chi.Router) {
		r.Use(s.remembered)
		r.Post("/api/session", s.signIn)
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
	config.OpenAPIPath = "" // Describe is what is served
	return config
}

type contextKey int

const (
	actorKey contextKey = iota
	nonceKey
	requestKey
	listenerKey
	writerKey
)

// request is what is known of a request: its number, from where it came, what it asks for, the answer that the window has, and the user
// once that is known.
type request struct{ id, address, target, has, who string }

func requestOf(ctx context.Context) *request {
	if r, ok := ctx.Value(requestKey).(*request); ok {
		return r
	}
	return &request{}
}

func requestID(ctx context.Context) string { return requestOf(ctx).id }

// addressOf is the address that a request came from.
func addressOf(ctx context.Context) string { return requestOf(ctx).address }

// note tells the log whose request it is.
func note(ctx context.Context, actor book.Actor) { requestOf(ctx).who = actor.Name }

// numbered gives a request a number of our own, and finds the address it came from: that of the connection or, where the connection is
// the proxy's that is trusted, the last one that the proxy names.
func (s *server) numbered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		req := &request{
			id: rand.Text()[:12], address: r.RemoteAddr, target: r.URL.RequestURI(), has: r.Header.Get("If-None-Match"),
		}
		if host, _, err := net.SplitHostPort(r.RemoteAddr); err == nil {
			req.address = host
		}
		if s.TrustProxy != "" && req.address == s.TrustProxy {
			forwarded := strings.Split(r.Header.Get("X-Forwarded-For"), ",")
			if from, err := netip.ParseAddr(strings.TrimSpace(forwarded[len(forwarded)-1])); err == nil {
				req.address = from.String()
			}
		}
		w.Header().Set("X-Request-Id", req.id)
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), requestKey, req)))
	})
}

// log writes a line a request: its number, from where and by whom, and never what was sent.
func (s *server) log(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		begin := time.Now()
		ww := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		next.ServeHTTP(ww, r)
		req := requestOf(r.Context())
		s.Log.InfoContext(r.Context(), "request", "request", req.id, "address", req.address, "user", req.who,
			"method", r.Method, "path", r.URL.Path, "status", ww.Status(), "ms", time.Since(begin).Milliseconds())
	})
}

// named refuses requests for a name that the server was not told of: a page from elsewhere could otherwise reach it under its own name.
func (s *server) named(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host := r.Host
		if name, _, err := net.SplitHostPort(host); err == nil {
			host = name
		}
		host = strings.ToLower(strings.Trim(host, "[]"))
		_, notAddress := netip.ParseAddr(host)
		if notAddress != nil && host != "localhost" && !slices.Contains(s.Hosts, host) {
			writeProblem(w, &Problem{
				Title: "Misdirected request", Status: http.StatusMisdirectedRequest,
				Detail: "this server does not know that name as its own; whoever starts it can add it with --host",
			})
			return
		}
		next.ServeHTTP(w, r)
	})
}

// secure sets the headers that keep the page to itself. Styles that the component library makes carry the nonce.
func secure(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		nonce := newNonce()
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-"+nonce+
			"'; font-src 'self'; img-src 'self' data:; connect-src 'self'; "+
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

// sized bounds what is sent; a scan and a bundle may be larger than all else.
func sized(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		most := int64(largestBody)
		switch {
		case r.URL.Path == "/api/session":
			most = largestSignIn
		case strings.HasSuffix(r.URL.Path, "/attachments"):
			most = scan.Largest + 1
		case r.URL.Path == "/api/company/logo":
			most = company.LargestLogo + 1
		case r.URL.Path == "/api/bank/statement":
			most = largestStatement
		case r.URL.Path == "/api/book/bring-in":
			most = largestBundle
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
	if _, err := access.State(r.Context(), s.Book); err != nil {
		http.Error(w, problem(r.Context(), err).Detail, http.StatusServiceUnavailable)
		return
	}
	_, _ = fmt.Fprintln(w, "ok")
}

var described = sync.OnceValues(Describe)

func (s *server) description(w http.ResponseWriter, r *http.Request) {
	data, err := described()
	if !s.wrote(w, r, err) {
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_, _ = w.Write(data)
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
