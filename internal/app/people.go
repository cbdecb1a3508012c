package app

import (
	"context"
	"strings"

	"jarvo/internal/store"
)

// NewUser is somebody who is let in.
type NewUser struct {
	Key      string `json:"key,omitempty" doc:"made by the client: a retry adds nobody twice"`
	Name     string `json:"name"`
	SignIn   string `json:"signIn"`
	Password string `json:"password"`
	Role     Role   `json:"role" enum:"owner,bookkeeper,manager,foreman,worker"`
	Crew     string `json:"crew,omitempty" doc:"the crew that a foreman is kept to; blank for all"`
	WorkerID int64  `json:"workerId,omitempty" doc:"whose own hours they clock"`
}

// UserRow is somebody who may sign in.
type UserRow struct {
	ID     int64  `json:"id"`
	Name   string `json:"name"`
	SignIn string `json:"signIn"`
	Role   Role   `json:"role"`
	Crew   string `json:"crew,omitempty"`
	Worker string `json:"worker,omitempty"`
	Active bool   `json:"active"`
}

// UserChange changes somebody who may sign in: a blank password stays as it was.
type UserChange struct {
	Active   bool   `json:"active"`
	Password string `json:"password,omitempty"`
}

func (a Actor) needOwner() error {
	if a.Role == Owner {
		return nil
	}
	return (Actor{}).Need(Setup)
}

// Users lists who may sign in. Only an owner sees it.
func (a *App) Users(ctx context.Context, actor Actor) ([]UserRow, error) {
	if err := actor.needOwner(); err != nil {
		return nil, err
	}
	return Read(ctx, a, actor, Setup, func(s *session) ([]UserRow, error) {
		return store.Query[UserRow](s.Tx, "SELECT u.id, u.name, u.sign_in, u.role, u.crew, ifnull(w.name, '') AS worker, u.active FROM users u LEFT JOIN workers w ON w.id = u.worker_id ORDER BY u.name, u.id")
	})
}

// AddUser lets somebody in. Only an owner may.
func (a *App) AddUser(ctx context.Context, actor Actor, in NewUser) (int64, error) {
	if err := actor.needOwner(); err != nil {
		return 0, err
	}
	c := &checks{}
	user := store.User{
		Name: c.needed("name", in.Name, "a name"), SignIn: c.needed("signIn", in.SignIn, "a name to sign in with"), Role: string(in.Role), Active: true,
		Crew: c.text("crew", in.Crew), WorkerID: store.Ref(in.WorkerID), Generation: 1,
	}
	if _, known := allowed[in.Role]; !known {
		c.add("role", "there is no role %q", in.Role)
	}
	if in.Role == Worker && in.WorkerID == 0 {
		c.add("workerId", "whose hours do they clock? choose the worker")
	}
	if in.Crew != "" && in.Role != Foreman {
		c.add("crew", "only a foreman is kept to a crew")
	}
	checkPassword(c, in.Password)
	if err := c.err(); err != nil {
		return 0, err
	}
	hash, err := hashPassword(ctx, in.Password)
	if err != nil {
		return 0, err
	}
	user.PasswordHash = hash
	in.Password = "" // no hash of it is kept but the slow one
	return Write(ctx, a, actor, Setup, func(s *session) (int64, error) {
		return once(s, "user", in.Key, in, func() (int64, error) { return s.addUser(user) })
	})
}

func (s *session) addUser(user store.User) (int64, error) {
	taken, err := store.Query[int64](s.Tx, "SELECT count(*) FROM users WHERE sign_in = ?", user.SignIn)
	if err != nil {
		return 0, err
	}
	if taken[0] > 0 {
		return 0, invalid("signIn", "somebody signs in with this already")
	}
	if user.WorkerID != nil {
		if _, found, err := store.One[store.Worker](s.Tx, *user.WorkerID); err != nil || !found {
			return 0, orNotFound(err, "worker")
		}
	}
	if err := s.Create(&user).Error; err != nil {
		return 0, err
	}
	return user.ID, s.record("let in", "user", user.ID, nil, map[string]string{"name": user.Name, "role": user.Role})
}

// ChangeUser lets somebody in or keeps them out, or gives them another password, which ends their sessions. Only an owner may, and not
// to the last owner.
func (a *App) ChangeUser(ctx context.Context, actor Actor, userID int64, in UserChange) error {
	if err := actor.needOwner(); err != nil {
		return err
	}
	hash := ""
	if strings.TrimSpace(in.Password) != "" {
		c := &checks{}
		checkPassword(c, in.Password)
		if err := c.err(); err != nil {
			return err
		}
		var err error
		if hash, err = hashPassword(ctx, in.Password); err != nil {
			return err
		}
	}
	ended := false
	err := Change(ctx, a, actor, Setup, func(s *session) error {
		user, found, err := store.One[store.User](s.Tx, userID)
		if err != nil || !found {
			return orNotFound(err, "user")
		}
		if !in.Active && user.Active && Role(user.Role) == Owner {
			owners, err := store.Query[int64](s.Tx, "SELECT count(*) FROM users WHERE role = 'owner' AND active = 1")
			if err != nil {
				return err
			}
			if owners[0] < 2 {
				return conflict("this is the last owner; somebody has to be able to get in")
			}
		}
		action := "let in again"
		switch {
		case !in.Active:
			action = "kept out"
		case hash != "":
			action = "gave another password"
		}
		user.Active = in.Active
		if hash != "" {
			user.PasswordHash = hash
		}
		if ended = hash != "" || !in.Active; ended {
			user.Generation++
		}
		if err := s.Model(&user).Select("active", "password_hash", "generation").Updates(&user).Error; err != nil {
			return err
		}
		return s.record(action, "user", user.ID, nil, map[string]string{"name": user.Name})
	})
	if err == nil && ended {
		a.news.end(userID)
	}
	return err
}
