package today

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/looseends"
	"jarvo/internal/store"
)

// Counts are what waits, whatever the scope: for the tabs and the foot of the window.
type Counts struct {
	Loose   int64 `json:"looseEnds"`
	Waiting int64 `json:"waiting" doc:"workers' weeks and papers that wait for approval"`
	Ready   int64 `json:"ready" doc:"jobs with something ready to bill"`
}

// Counter counts what waits. Every window asks for it after a change, many at the same moment: those who would be told the same share
// one answer.
type Counter struct{ sharer[Counts] }

// Counts counts loose ends, and what waits in Approve and in Bill for those who work there.
func (c *Counter) Counts(ctx context.Context, a *book.Book, actor book.Actor) (Counts, error) {
	return c.ask(string(actor.Role)+" "+actor.Crew, func() (Counts, error) {
		return book.Read(ctx, a, actor, book.Capture, func(s *book.Session) (out Counts, err error) { return out, counts(s, &out) })
	})
}

func counts(s *book.Session, f *Counts) error {
	loose, err := looseends.LooseCount(s)
	if err != nil {
		return err
	}
	f.Loose = loose
	if s.Actor.Can(book.Approve) {
		waiting, err := store.Value[int64](s.Tx, countsWaiting)
		if err != nil {
			return err
		}
		f.Waiting = waiting
	}
	if !s.Actor.Can(book.Bill) {
		return nil
	}
	ready, err := store.Value[int64](s.Tx, countsReady)
	if err == nil {
		f.Ready = ready
	}
	return err
}
