package access

import (
	"context"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// NewUser is somebody who is let in.
type NewUser struct {
	Key      string    `json:"key,omitempty" doc:"made by the client: a retry adds nobody twice"`
	Name     string    `json:"name"`
	SignIn   string    `json:"signIn"`
	Password string    `json:"password"`
	Role     book.Role `json:"role" enum:"owner,bookkeeper,manager,foreman,worker"`
	Crew     string    `json:"crew,omitempty" doc:"the crew that a foreman is kept to; blank for all"`
	WorkerID int64     `json:"workerId,omitempty" doc:"whose own hours they clock"`
}

// UserRow is somebody who may sign in.
type UserRow struct {
	ID     int64     `json:"id"`
	Name   string    `json:"name"`
	SignIn string    `json:"signIn"`
	Role   book.Role `json:"role"`
	Crew   string    `json:"crew,omitempty"`
	Worker string    `json:"worker,omitempty"`
	Active bool      `json:"active"`
}

// UserChange changes somebody who may sign in: a blank password stays as it was.
type UserChange struct {
	Active   bool   `json:"active"`
	Password string `json:"password,omitempty"`
}

// Users lists who may sign in. Only an owner sees it.
func Users(ctx context.Context, b *book.Book, actor book.Actor) ([]UserRow, error) {
	if err := actor.NeedOwner(); err != nil {
		return nil, err
	}
	return book.Read(ctx, b, actor, book.Setup, func(s *book.Session) ([]UserRow, error) {
		return store.Query[UserRow](s.Tx, userRows)
	})
}

// AddUser lets somebody in. Only an owner may.
func AddUser(ctx context.Context, b *book.Book, actor book.Actor, in NewUser) (int64, error) {
	if err := actor.NeedOwner(); err != nil {
		return 0, err
	}
	c := &form.Checks{}
	user := store.User{
		Name: c.Needed("name", in.Name, "a name"), SignIn: c.Needed("signIn", in.SignIn, "a name to sign in with"), Role: string(in.Role),
		Active: true,
		Crew:   c.Text("crew", in.Crew), WorkerID: store.Ref(in.WorkerID), Generation: 1,
	}
	if _, known := book.Allowed[in.Role]; !known {
		c.Add("role", "there is no role %q", in.Role)
	}
	if in.Role == book.Worker && in.WorkerID == 0 {
		c.Add("workerId", "whose hours do they clock? choose the worker")
	}
	if in.Crew != "" && in.Role != book.Foreman {
		c.Add("crew", "only a foreman is kept to a crew")
	}
	checkPassword(c, in.Password)
	if err := c.Err(); err != nil {
		return 0, err
	}
	hash, err := hashPassword(ctx, in.Password)
	if err != nil {
		return 0, err
	}
	user.PasswordHash = hash
	in.Password = "" // no hash of it is kept but the slow one
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (int64, error) {
		return book.Once(s, "user", in.Key, in, func() (int64, error) { return addUser(s, user) })
	})
}

func addUser(s *book.Session, user store.User) (int64, error) {
	taken, err := store.Value[int64](s.Tx, "SELECT count(*) FROM users WHERE sign_in = ?", user.SignIn)
	if err != nil {
		return 0, err
	}
	if taken > 0 {
		return 0, refuse.Invalid("signIn", "somebody signs in with this already")
	}
	if user.WorkerID != nil {
		if _, found, err := store.One[store.Worker](s.Tx, *user.WorkerID); err != nil || !found {
			return 0, refuse.OrNotFound(err, "worker")
		}
	}
	if err := s.Create(&user).Error; err != nil {
		return 0, err
	}
	return user.ID, s.Record("let in", "user", user.ID, nil, map[string]string{"name": user.Name, "role": user.Role})
}

// ChangeUser lets somebody in or keeps them out, or gives them another password, which ends their sessions. Only an owner may, and not
// to the last owner.
func ChangeUser(ctx context.Context, b *book.Book, actor book.Actor, userID int64, in UserChange) error {
	if err := actor.NeedOwner(); err != nil {
		return err
	}
	hash := ""
	if strings.TrimSpace(in.Password) != "" {
		c := &form.Checks{}
		checkPassword(c, in.Password)
		if err := c.Err(); err != nil {
			return err
		}
		var err error
		if hash, err = hashPassword(ctx, in.Password); err != nil {
			return err
		}
	}
	ended := false
	err := book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		user, found, err := store.One[store.User](s.Tx, userID)
		if err != nil || !found {
			return refuse.OrNotFound(err, "user")
		}
		if !in.Active && user.Active && book.Role(user.Role) == book.Owner {
			owners, err := store.Value[int64](s.Tx, "SELECT count(*) FROM users WHERE role = 'owner' AND active = 1")
			if err != nil {
				return err
			}
			if owners < 2 {
				return refuse.Conflict("this is the last owner; somebody has to be able to get in")
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
		return s.Record(action, "user", user.ID, nil, map[string]string{"name": user.Name})
	})
	if err == nil && ended {
		b.EndNews(userID)
	}
	return err
}
