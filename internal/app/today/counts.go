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
		return book.Read(ctx, a, actor, book.Capture, counts)
	})
}

func counts(s *book.Session) (out Counts, err error) {
	if out.Loose, err = looseends.LooseCount(s); err != nil {
		return out, err
	}
	if s.Actor.Can(book.Approve) {
		if out.Waiting, err = store.Value[int64](s.Tx, waitingCount); err != nil {
			return out, err
		}
	}
	if s.Actor.Can(book.Bill) {
		out.Ready, err = store.Value[int64](s.Tx, readyCount)
	}
	return out, err
}
