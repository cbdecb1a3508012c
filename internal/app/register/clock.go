package register

import (
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// OwnCrew keeps a foreman to their crew: what they ask for of another is a refusal, and all crews are theirs alone.
func OwnCrew(s *book.Session, crew string) (string, error) {
	if s.Actor.Crew == "" || crew == s.Actor.Crew {
		return crew, nil
	}
	if crew == "" {
		return s.Actor.Crew, nil
	}
	return "", &refuse.Error{Kind: refuse.KindForbidden, Message: fmt.Sprintf("you see the hours of %s only", s.Actor.Crew)}
}

// OwnWorker refuses a worker who is not of a foreman's crew.
func OwnWorker(s *book.Session, worker store.Worker) error {
	if s.Actor.Crew == "" || worker.Crew == s.Actor.Crew {
		return nil
	}
	return &refuse.Error{Kind: refuse.KindForbidden, Message: "this worker is not in " + s.Actor.Crew}
}
