package api

import (
	"context"
	"encoding/json"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app"
)

// Who is the person who is signed in.
type Who struct {
	Name        string           `json:"name"`
	Role        string           `json:"role"`
	Permissions []app.Permission `json:"permissions"`
	Crew        string           `json:"crew,omitempty" doc:"the crew that a foreman is kept to"`
}

func whoOf(a app.Actor) Who {
	w := Who{Name: a.Name, Role: string(a.Role), Permissions: []app.Permission{}, Crew: a.Crew}
	if a.WorkerID != 0 {
		w.Permissions = append(w.Permissions, app.Clock)
	}
	for _, p := range []app.Permission{app.Capture, app.SeeMoney, app.Costs, app.Approve, app.Bill, app.Setup, app.Exchange} {
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

func writeProblem(w http.ResponseWriter, p *Problem) {
	w.Header().Set("Content-Type", p.ContentType(""))
	w.WriteHeader(p.Status)
	_ = json.NewEncoder(w).Encode(p)
}

// signInRaw is outside the described operations, since a limit stands before it.
func (s *server) signInRaw(w http.ResponseWriter, r *http.Request) {
	var in SignIn
	if err := json.NewDecoder(r.Body).Decode(&in); err != nil {
		writeProblem(w, &Problem{Title: "Bad request", Status: http.StatusBadRequest, Detail: "this is not a name and a password"})
		return
	}
	actor, err := s.App.SignIn(r.Context(), in.SignIn, in.Password)
	if err == nil {
		err = s.enter(r.Context(), actor)
	}
	if err != nil {
		writeProblem(w, problem(r.Context(), err))
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(whoOf(actor))
}

func (s *server) enter(ctx context.Context, actor app.Actor) error {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return err
	}
	s.sessions.Put(ctx, userInSession, actor.UserID)
	return nil
}

// identify finds who is signed in, and refuses operations that are not open to everybody.
func (s *server) identify(api huma.API) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		userID := s.sessions.GetInt64(ctx.Context(), userInSession)
		actor, found, err := s.App.User(ctx.Context(), userID)
		if err != nil {
			_ = huma.WriteErr(api, ctx, http.StatusInternalServerError, "something went wrong on our side; nothing was changed")
			return
		}
		open := ctx.Operation().Metadata["open"] == true
		if !found && !open {
			_ = huma.WriteErr(api, ctx, http.StatusUnauthorized, "sign in first")
			return
		}
		actor.Window = ctx.Header("X-Window")
		next(huma.WithValue(ctx, actorKey, actor))
	}
}

func actorIn(ctx context.Context) app.Actor {
	actor, _ := ctx.Value(actorKey).(app.Actor)
	return actor
}
