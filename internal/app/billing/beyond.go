package billing

import (
	"cmp"
	"context"
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/app/limits"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// HeldSource is work that a limit holds back, all or some of it, or that was let go beyond it and waits.
type HeldSource struct {
	Kind     string `json:"kind" enum:"time_entry,cost_line"`
	ID       int64  `json:"id"`
	Date     string `json:"date" format:"date"`
	Text     string `json:"text"`
	Detail   string `json:"detail"`
	Quantity string `json:"quantity"`
	Left     string `json:"left" format:"decimal" doc:"to bill"`
	Held     string `json:"held" format:"decimal" doc:"of that: held back"`
	LetGo    bool   `json:"letGo" doc:"beyond the limit"`
	Note     string `json:"note,omitempty"`
}

// HeldByLimits lists what limits hold back of a job, the oldest first, and what was let go beyond them; the first 500 of it.
func HeldByLimits(ctx context.Context, b *book.Book, actor book.Actor, number string) ([]HeldSource, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) ([]HeldSource, error) {
		job, err := register.JobByNumber(s, number)
		if err != nil {
			return nil, err
		}
		held, err := limits.HeldOf(s.Tx, job.ID)
		out := make([]HeldSource, len(held))
		for i, h := range held {
			out[i] = HeldSource{
				Kind: line, ID: h.CostLineID, Date: h.Date.String(), Text: h.Text, Detail: h.Detail, Left: s.Money(h.Left), Held: s.Money(h.Held),
				LetGo: h.LetGo, Note: h.Note,
			}
			switch {
			case h.EntryID != 0:
				out[i].Kind, out[i].ID, out[i].Quantity = hours, h.EntryID, h.Minutes.Hours()+" h"
			case h.Quantity != 0:
				out[i].Quantity = h.Quantity.String() + " " + h.Unit
			}
		}
		return out, err
	})
}

// WorkRef names a piece of work.
type WorkRef struct {
	Kind string `json:"kind"`
	ID   int64  `json:"id"`
}

// LetSource is a piece of work that is let go.
type LetSource struct {
	Kind string `json:"kind"`
	ID   int64  `json:"id"`
	Left string `json:"left" doc:"what is left to bill of it, as it was seen"`
}

// LettingBeyond lets work of a job go beyond its limit, or back within it.
type LettingBeyond struct {
	Sources []LetSource `json:"sources" minItems:"1" maxItems:"500"`
	Note    string      `json:"note,omitempty" doc:"why"`
	Back    bool        `json:"back,omitempty" doc:"back within the limit"`
}

// LetBeyond lets work of a job go beyond its limit: it counts before all other and in full (calculation.md section 7). Said twice it does
// no more, and a reason that somebody else gave stays.
func LetBeyond(ctx context.Context, b *book.Book, actor book.Actor, number string, in LettingBeyond) ([]HeldSource, error) {
	if err := book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error { return letBeyond(s, number, in) }); err != nil {
		return nil, err
	}
	return HeldByLimits(ctx, b, actor, number)
}

func letBeyond(s *book.Session, number string, in LettingBeyond) error {
	job, err := register.JobByNumber(s, number)
	if err != nil {
		return err
	}
	c := s.Checks()
	note := c.Text("note", in.Note)
	for i, src := range in.Sources {
		c.OneOf(fmt.Sprintf("sources[%d].kind", i), src.Kind, SourceKinds...)
	}
	if err := c.Err(); err != nil {
		return err
	}
	if err := in.asSeen(s, job); err != nil {
		return err
	}
	for _, src := range in.Sources {
		args := map[string]any{"id": src.ID, "job": job.ID, "note": note, "at": s.Book.Now().UnixMilli(), "who": s.Actor.Name}
		query := letGoOf[src.Kind]
		if in.Back {
			query = keepWithin[src.Kind]
		}
		done := s.Exec(query, args)
		if done.Error != nil {
			return done.Error
		}
		if done.RowsAffected == 0 && !in.Back {
			return notLetGo(s, job.Number, src)
		}
	}
	what := "let go beyond the limit"
	if in.Back {
		what = "kept within the limit"
	}
	return s.Record(what, "job", job.ID, nil, map[string]string{"sources": fmt.Sprint(len(in.Sources)), "reason": note})
}

// asSeen refuses to let work go of which there is more or less to bill than was seen. Work that waits no more is left to what is done.
func (in LettingBeyond) asSeen(s *book.Session, job store.Job) error {
	held, err := limits.HeldOf(s.Tx, job.ID)
	if err != nil {
		return err
	}
	for _, h := range held {
		for _, src := range in.Sources {
			same := src.Kind == hours && h.EntryID == src.ID || src.Kind == line && h.EntryID == 0 && h.CostLineID == src.ID
			if now := s.Money(h.Left); same && now != src.Left {
				return refuse.Conflict("of %s %s is left to bill now, and not %s; look at it again", h.Text, now, words.Shortened(src.Left))
			}
		}
	}
	return nil
}

// notLetGo says why a piece of work was not let go: it is not on the job, or somebody did so before with another reason.
func notLetGo(s *book.Session, job string, src LetSource) error {
	notes, err := store.Query[string](s.Tx, "SELECT note FROM let_beyond WHERE "+columnOf(src.Kind)+" = ?", src.ID)
	switch {
	case err != nil:
		return err
	case len(notes) == 0:
		return refuse.NotFound("work on job " + job)
	default:
		return refuse.Conflict("some of this was let go by somebody else meanwhile (%s); look at it again", cmp.Or(notes[0], "no reason given"))
	}
}
