package api

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"hash/fnv"
	"net/http"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/singleflight"

	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
)

// answers are those that rest on nothing but the book, the day and the rights of who asks: they are worked out once for all who ask, until
// the book changes, and are not sent again to a window that has them.
type answers struct {
	since string // when the server started: the states of the book are counted from then on
	known *lru.Cache[string, answer]
	asked singleflight.Group
}

type answer struct {
	state string
	value any
}

const (
	answersKnown = 128
	// betweenMidnights is the least time between two midnights of anywhere.
	betweenMidnights = 15 * time.Minute
)

func newAnswers() *answers {
	known, err := lru.New[string, answer](answersKnown)
	if err != nil {
		panic("keeping answers: " + err.Error()) // the size is positive
	}
	return &answers{since: rand.Text(), known: known}
}

// errUnchanged says that a window has the answer that it asks for.
var errUnchanged = errors.New("it has not changed")

// steady is a call whose answer is kept until the book changes.
func steady[I, O any](s *server, f call[I, O]) call[I, O] { return keptUntil(s, false, f) }

// besideHours is a call whose answer is kept until something else than hours changes.
func besideHours[I, O any](s *server, f call[I, O]) call[I, O] { return keptUntil(s, true, f) }

func keptUntil[I, O any](s *server, besideHours bool, f call[I, O]) call[I, O] {
	return func(ctx context.Context, actor book.Actor, in *I) (out O, err error) {
		stored, err := s.Book.Store.State(ctx, besideHours)
		if err != nil {
			return out, refuse.Told(err)
		}
		request := requestOf(ctx)
		state := fmt.Sprint(s.answers.since, stored, s.Book.Now().Truncate(betweenMidnights).Unix())
		question := fmt.Sprint(actor.Role, "\n", actor.Crew, "\n", request.target)
		tag := tagOf(state, question)
		name := func() {
			if w, ok := ctx.Value(writerKey).(http.ResponseWriter); ok {
				w.Header().Set("ETag", tag)
			}
		}
		if request.has == tag {
			name()
			return out, errUnchanged
		}
		if had, found := s.answers.known.Get(question); found && had.state == state {
			name()
			return had.value.(O), nil
		}
		value, err, _ := s.answers.asked.Do(state+question, func() (any, error) {
			value, err := f(context.WithoutCancel(ctx), actor, in) // others wait for it too
			if err == nil {
				s.answers.known.Add(question, answer{state, value})
			}
			return value, err
		})
		if err != nil {
			return out, err
		}
		name()
		return value.(O), nil
	}
}

// tagOf names an answer as an ETag does.
func tagOf(state, question string) string {
	sum := fnv.New128a()
	_, _ = fmt.Fprint(sum, state, "\n", question) // a hash takes all
	return `"` + hex.EncodeToString(sum.Sum(nil)) + `"`
}
