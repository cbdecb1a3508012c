package api

import (
	"context"
	"encoding/json"
	"net/http"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"

	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
)

// Who is the person who is signed in.
type Who struct {
	Name        string            `json:"name"`
	SignIn      string            `json:"signIn" doc:"what they sign in as"`
	Role        string            `json:"role"`
	Permissions []book.Permission `json:"permissions"`
	Crew        string            `json:"crew,omitempty" doc:"the crew that a foreman is kept to"`
}

func whoOf(a book.Actor) Who {
	w := Who{Name: a.Name, SignIn: a.SignIn, Role: string(a.Role), Permissions: []book.Permission{}, Crew: a.Crew}
	if a.WorkerID != 0 {
		w.Permissions = append(w.Permissions, book.Clock)
	}
	for _, p := range []book.Permission{book.Capture, book.SeeMoney, book.Costs, book.Approve, book.Bill, book.Setup, book.Exchange} {
		if a.Can(p) {
			w.Permissions = append(w.Permissions, p)
		}
	}
	return w
}

// SignIn is a name and a password.
type SignIn struct {
	SignIn   string `json:"signIn"`
	Password string `json:"password"`
}

// NewPassword takes the place of the password that a user has.
type NewPassword struct {
	Had      string `json:"had" doc:"the password that is changed"`
	Password string `json:"password"`
}

func writeProblem(w http.ResponseWriter, p *Problem) {
	w.Header().Set("Content-Type", p.ContentType(""))
	w.WriteHeader(p.Status)
	_ = json.NewEncoder(w).Encode(p)
}

// signIn is an operation of its own making, since limits stand before it: that of the address before anything is read. A name is limited
// by address, so that nobody keeps its owner out from elsewhere.
func (s *server) signIn(w http.ResponseWriter, r *http.Request) {
	address := neighbours(addressOf(r.Context()))
	if wait := s.addresses.begin(address); wait > 0 {
		tooMany(w, "too many wrong passwords from your address", wait)
		return
	}
	var in SignIn
	if err := json.NewDecoder(r.Body).Decode(&in); err != nil {
		writeProblem(w, &Problem{Title: "Bad request", Status: http.StatusBadRequest, Detail: "this is not a name and a password"})
		return
	}
	account := strings.ToLower(strings.TrimSpace(in.SignIn)) + "\n" + address
	if wait := s.accounts.begin(account); wait > 0 {
		s.addresses.right(address)
		tooMany(w, "too many wrong passwords for this name", wait)
		return
	}
	actor, err := access.SignIn(r.Context(), s.Book, in.SignIn, in.Password)
	if err == nil || !access.WrongSecret(err) {
		s.accounts.right(account)
		s.addresses.right(address)
	}
	if err == nil {
		note(r.Context(), actor)
		err = s.enter(r.Context(), actor)
	}
	if !s.wrote(w, r, err) {
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(whoOf(actor))
}

// openBook lets somebody who has the code open a new book; wrong codes are limited as wrong passwords are.
func (s *server) openBook(ctx context.Context, _ book.Actor, in *withBody[access.NewBook]) (Who, error) {
	actor, err := access.OpenBook(ctx, s.Book, in.Body)
	s.tried(ctx, err)
	if err != nil {
		return Who{}, err
	}
	return whoOf(actor), s.enter(ctx, actor)
}

// changePassword gives the user another password. The session goes on under a new token; all others of the user are over.
func (s *server) changePassword(ctx context.Context, actor book.Actor, in *withBody[NewPassword]) (done, error) {
	now, err := access.ChangePassword(ctx, s.Book, actor, in.Body.Had, in.Body.Password)
	s.tried(ctx, err)
	if err != nil {
		return done{}, err
	}
	return done{}, s.enter(ctx, now)
}

// limitTries counts a try of an operation that asks for a secret; the operation takes it back where the secret was right.
func (s *server) limitTries(ctx huma.Context, next func(huma.Context)) {
	if wait := s.addresses.begin(neighbours(addressOf(ctx.Context()))); wait > 0 {
		_, w := humachi.Unwrap(ctx)
		tooMany(w, "too many wrong tries from your address", wait)
		return
	}
	next(ctx)
}

// tried takes a try back where the secret was right, whatever else was wrong.
func (s *server) tried(ctx context.Context, err error) {
	if !access.WrongSecret(err) {
		s.addresses.right(neighbours(addressOf(ctx)))
	}
}

// remembered finds the session of a request. It is kept where it is changed, by enter and leave, before anything is answered.
func (s *server) remembered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Add("Vary", "Cookie")
		token := ""
		if cookie, err := r.Cookie(s.sessions.Cookie.Name); err == nil {
			token = cookie.Value
		}
		ctx, err := s.sessions.Load(r.Context(), token)
		if !s.wrote(w, r, refuse.Told(err)) {
			return
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(ctx, writerKey, w)))
	})
}

// enter begins a session under a new token, and ends the one that there was.
func (s *server) enter(ctx context.Context, actor book.Actor) error {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return refuse.Told(err)
	}
	s.sessions.Put(ctx, userInSession, actor.UserID)
	s.sessions.Put(ctx, generationInSession, actor.Generation)
	token, until, err := s.sessions.Commit(ctx)
	return s.cookie(ctx, token, until, err)
}

// leave ends the session.
func (s *server) leave(ctx context.Context) error {
	return s.cookie(ctx, "", time.Time{}, s.sessions.Destroy(ctx))
}

func (s *server) cookie(ctx context.Context, token string, until time.Time, err error) error {
	if err != nil {
		return refuse.Told(err)
	}
	if w, ok := ctx.Value(writerKey).(http.ResponseWriter); ok {
		s.sessions.WriteSessionCookie(ctx, w, token, until)
	}
	return nil
}

// who finds who is signed in.
func (s *server) who(ctx context.Context) (book.Actor, bool, error) {
	userID := s.sessions.GetInt64(ctx, userInSession)
	if userID == 0 {
		return book.Actor{}, false, nil
	}
	actor, found, err := access.User(ctx, s.Book, userID, s.sessions.GetInt64(ctx, generationInSession))
	if found {
		note(ctx, actor)
	}
	return actor, found, err
}

// identify finds who is signed in, and refuses operations that are not open to everybody.
func (s *server) identify(api huma.API) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		actor, found, err := s.who(ctx.Context())
		if err != nil {
			p := problem(ctx.Context(), err)
			_ = huma.WriteErr(api, ctx, p.Status, p.Detail)
			return
		}
		open := ctx.Operation().Metadata["open"] == true
		if !found && !open {
			_ = huma.WriteErr(api, ctx, http.StatusUnauthorized, "sign in first")
			return
		}
		actor.Window = windowName(ctx.Header("X-Window"))
		next(huma.WithValue(ctx, actorKey, actor))
	}
}

const longestWindow = 64 // characters that a window calls itself

func windowName(name string) string {
	if utf8.RuneCountInString(name) > longestWindow {
		return string([]rune(name)[:longestWindow])
	}
	return name
}

func actorIn(ctx context.Context) book.Actor {
	actor, _ := ctx.Value(actorKey).(book.Actor)
	return actor
}
