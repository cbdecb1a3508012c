package book

import (
	"slices"

	"jarvo/internal/app/refuse"
)

// Role is what a user may do.
type Role string

// The roles.
const (
	Owner      Role = "owner"
	Bookkeeper Role = "bookkeeper"
	Manager    Role = "manager"
	Foreman    Role = "foreman"
	Worker     Role = "worker"
)

// Permission is one thing a role may or may not do.
type Permission string

// The permissions.
const (
	Clock    Permission = "clock"    // clock one's own hours
	Capture  Permission = "capture"  // type hours
	SeeMoney Permission = "money"    // see wages, costs, prices and profit
	Costs    Permission = "costs"    // enter cost documents
	Approve  Permission = "approve"  // approve and return
	Bill     Permission = "bill"     // drafts and invoices
	Setup    Permission = "setup"    // workers, rates, customers, jobs
	Exchange Permission = "exchange" // bring bundles in and out
)

// Allowed are the permissions of each role.
var Allowed = map[Role][]Permission{
	Owner:      {Clock, Capture, SeeMoney, Costs, Approve, Bill, Setup, Exchange},
	Bookkeeper: {Clock, Capture, SeeMoney, Costs, Approve, Bill, Setup, Exchange},
	Manager:    {Clock, Capture, SeeMoney, Costs, Approve},
	Foreman:    {Clock, Capture},
	Worker:     {Clock},
}

// Actor is who does something.
type Actor struct {
	UserID int64
	Name   string
	SignIn string // what they sign in as
	Role   Role
	// Crew is what a foreman is kept to, blank for all; WorkerID is whose own hours they clock, 0 for nobody's.
	Crew     string
	WorkerID int64
	Window   string // of the browser, where there is one: it need not be told of its own changes
	// Generation is that of the user's sessions: a new password, another role or a deactivation begins the next.
	Generation int64
}

// Console is the actor of the command line, which whoever holds the file may use.
var Console = Actor{Name: "command line", Role: Owner}

// Can says whether the actor has a permission.
func (a Actor) Can(p Permission) bool { return slices.Contains(Allowed[a.Role], p) }

// Anything is a permission that the actor has, whatever their role.
func (a Actor) Anything() Permission { return Allowed[a.Role][0] }

// Need is an error where a person may not do a thing.
func (a Actor) Need(p Permission) error {
	if a.Can(p) {
		return nil
	}
	return &refuse.Error{Kind: refuse.KindForbidden, Message: "you are not allowed to do this; ask the owner of the book"}
}

// NeedOwner is an error where somebody who is not the owner does what only an owner may.
func (a Actor) NeedOwner() error {
	if a.Role == Owner {
		return nil
	}
	return (Actor{}).Need(Setup)
}
