package access

import (
	"cmp"
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
	ID       int64     `json:"id"`
	Name     string    `json:"name"`
	SignIn   string    `json:"signIn"`
	Role     book.Role `json:"role"`
	Crew     string    `json:"crew,omitempty"`
	Worker   string    `json:"worker,omitempty"`
	WorkerID int64     `json:"workerId,omitempty"`
	Active   bool      `json:"active"`
	Version  int64     `json:"version"`
}

// UserChange changes somebody who may sign in.
type UserChange struct {
	Version  int64     `json:"version" doc:"as it was seen"`
	Active   bool      `json:"active"`
	Password string    `json:"password,omitempty" doc:"blank: as it was"`
	Name     string    `json:"name,omitempty" doc:"blank: as it was"`
	Role     book.Role `json:"role,omitempty" enum:"owner,bookkeeper,manager,foreman,worker" doc:"absent: as it was, with crew and worker"`
	Crew     string    `json:"crew,omitempty" doc:"the crew that a foreman is kept to; blank for all"`
	WorkerID int64     `json:"workerId,omitempty" doc:"whose own hours they clock"`
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
		Crew:   c.Text("crew", in.Crew), WorkerID: store.Ref(in.WorkerID), Generation: 1, Version: 1,
	}
	checkRole(c, in.Role, in.Crew, in.WorkerID)
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

func checkRole(c *form.Checks, role book.Role, crew string, workerID int64) {
	if _, known := book.Allowed[role]; !known {
		c.Add("role", "there is no role %q", role)
	}
	if role == book.Worker && workerID == 0 {
		c.Add("workerId", "whose hours do they clock? choose the worker")
	}
	if crew != "" && role != book.Foreman {
		c.Add("crew", "only a foreman is kept to a crew")
	}
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

// ChangeUser changes what somebody is called and may do, lets them in or keeps them out, or gives them another password. Another role,
// password or crew ends their sessions. Only an owner may, and the last owner stays one.
func ChangeUser(ctx context.Context, b *book.Book, actor book.Actor, userID int64, in UserChange) error {
	if err := actor.NeedOwner(); err != nil {
		return err
	}
	c := &form.Checks{}
	hash := ""
	if strings.TrimSpace(in.Password) != "" {
		checkPassword(c, in.Password)
	}
	in.Name, in.Crew = c.Text("name", in.Name), c.Text("crew", in.Crew)
	if in.Role != "" {
		checkRole(c, in.Role, in.Crew, in.WorkerID)
	}
	if err := c.Err(); err != nil {
		return err
	}
	if strings.TrimSpace(in.Password) != "" {
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
		if user.Version != in.Version {
			return refuse.Conflict("somebody else has changed this user since you opened the list; look at it again")
		}
		now := in.over(user, hash)
		if err := keepsAnOwner(s, user, now); err != nil {
			return err
		}
		if now.WorkerID != nil {
			if _, found, err := store.One[store.Worker](s.Tx, *now.WorkerID); err != nil || !found {
				return refuse.OrNotFound(err, "worker")
			}
		}
		ended = now.Generation != user.Generation
		if err := s.Save(&now).Error; err != nil {
			return err
		}
		return s.Record(actionOn(user, now, hash), "user", user.ID, shownUser(user), shownUser(now))
	})
	if err == nil && ended {
		b.EndNews(userID)
	}
	return err
}

// over is a user with a change made; sessions that may no longer do what they did are over.
func (in UserChange) over(user store.User, hash string) store.User {
	now := user
	now.Active, now.Name, now.Version = in.Active, cmp.Or(in.Name, user.Name), user.Version+1
	if in.Role != "" {
		now.Role, now.Crew, now.WorkerID = string(in.Role), in.Crew, store.Ref(in.WorkerID)
	}
	if hash != "" {
		now.PasswordHash = hash
	}
	if hash != "" || !now.Active || now.Role != user.Role || now.Crew != user.Crew || !store.Same(now.WorkerID, user.WorkerID) {
		now.Generation++
	}
	return now
}

func keepsAnOwner(s *book.Session, had, now store.User) error {
	isOwner := func(u store.User) bool { return u.Active && book.Role(u.Role) == book.Owner }
	if !isOwner(had) || isOwner(now) {
		return nil
	}
	owners, err := store.Value[int64](s.Tx, "SELECT count(*) FROM users WHERE role = 'owner' AND active = 1")
	if err == nil && owners < 2 {
		err = refuse.Conflict("this is the last owner; somebody has to be able to get in")
	}
	return err
}

func actionOn(had, now store.User, hash string) string {
	switch {
	case had.Active && !now.Active:
		return "kept out"
	case !had.Active && now.Active:
		return "let in again"
	case hash != "":
		return "gave another password"
	default:
		return "changed"
	}
}

// shownUser is a user as the history keeps it: without anything of the password.
func shownUser(u store.User) map[string]string {
	return map[string]string{"name": u.Name, "role": u.Role, "crew": u.Crew}
}
