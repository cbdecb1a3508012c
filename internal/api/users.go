package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/register"
)

// sessionOperations are signing in, users and the company.
func (s *server) sessionOperations(api huma.API) {
	operate(api, http.MethodGet, "/api/state", "state", "Whose book this is",
		func(ctx context.Context, _ book.Actor, _ *nothing) (BookState, error) {
			state, err := access.State(ctx, s.Book)
			return BookState{state, s.DemoSignIn, s.DemoPassword}, err
		}, openToAll)
	operate(api, http.MethodPost, "/api/book", "openBook", "Open a new book",
		s.openBook, openToAll, func(op *huma.Operation) { op.Middlewares = huma.Middlewares{s.limitTries} })
	operate(api, http.MethodPost, "/api/session/password", "changePassword", "Change one's own password",
		s.changePassword,
		func(op *huma.Operation) { op.Middlewares = huma.Middlewares{s.limitTries} })
	operate(api, http.MethodGet, "/api/session", "whoAmI", "Who is signed in",
		func(_ context.Context, actor book.Actor, _ *nothing) (Who, error) {
			return whoOf(actor), nil
		})
	operate(api, http.MethodDelete, "/api/session", "signOut", "Sign out",
		func(ctx context.Context, _ book.Actor, _ *nothing) (done, error) {
			return done{}, s.leave(ctx)
		})
	operate(api, http.MethodGet, "/api/choices", "choices", "What fields choose from", steady(s, asks(s, register.ChoicesFor)))
	operate(api, http.MethodGet, "/api/users", "users", "Who may sign in", asks(s, access.Users))
	operate(api, http.MethodPost, "/api/users", "addUser", "Let somebody in", makes(s, access.AddUser))
	operate(api, http.MethodPut, "/api/users/{id}", "changeUser", "Keep somebody out, or give another password",
		doesTo(s, access.ChangeUser))
}

// BookState says whose book this is; in the demo also how to sign in.
type BookState struct {
	access.BookState
	DemoSignIn   string `json:"demoSignIn,omitempty"`
	DemoPassword string `json:"demoPassword,omitempty"`
}
