package api

import (
	"context"
	"errors"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
)

type reply[O any] struct{ Body O }

// operate registers one operation: who is signed in and the decoded request go to f, its result is the body.
func operate[I, O any](
	api huma.API, method, path, id, summary string, f func(context.Context, book.Actor, *I) (O, error), change ...func(*huma.Operation),
) {
	op := huma.Operation{OperationID: id, Method: method, Path: path, Summary: summary}
	for _, c := range change {
		c(&op)
	}
	huma.Register(api, op, func(ctx context.Context, in *I) (*reply[O], error) {
		out, err := f(ctx, actorIn(ctx), in)
		if errors.Is(err, errUnchanged) {
			return nil, huma.Status304NotModified()
		}
		if err != nil {
			return nil, problem(ctx, err)
		}
		return &reply[O]{out}, nil
	})
}

// mayConflict says of a question that the book may not be in a state to answer it.
func mayConflict(op *huma.Operation) { op.Metadata = map[string]any{"conflicts": true} }

// openToAll lets an operation be called by somebody who is not signed in.
func openToAll(op *huma.Operation) { op.Metadata = map[string]any{"open": true} }

type (
	nothing struct{}
	done    struct {
		ID int64 `json:"id,omitempty"`
	}
	withBody[B any] struct{ Body B }
	byID            struct {
		ID int64 `path:"id"`
	}
	byNumber struct {
		Number string `path:"number"`
	}
	withID[B any] struct {
		ID   int64 `path:"id"`
		Body B
	}
)

// AtVersion says on which version something is done.
type AtVersion struct {
	Version int64 `json:"version" doc:"as it was seen"`
}

func (s *server) register(api huma.API) {
	s.sessionOperations(api)
	s.todayOperations(api)
	s.timeOperations(api)
	s.costsOperations(api)
	s.approveOperations(api)
	s.billOperations(api)
	s.messageOperations(api)
	s.jobsOperations(api)
	s.setupOperations(api)
	s.clockOperations(api)
	s.registerNews(api)
}

// call is what an operation does for whoever is signed in.
type call[I, O any] = func(context.Context, book.Actor, *I) (O, error)

// asks is the call of a use case that is asked for without more.
func asks[O any](s *server, f func(context.Context, *book.Book, book.Actor) (O, error)) call[nothing, O] {
	return func(ctx context.Context, actor book.Actor, _ *nothing) (O, error) { return f(ctx, s.Book, actor) }
}

// asksOf is the call of a use case that is asked a question, which is in the address.
func asksOf[Q, O any](s *server, f func(context.Context, *book.Book, book.Actor, Q) (O, error)) call[Q, O] {
	return func(ctx context.Context, actor book.Actor, in *Q) (O, error) { return f(ctx, s.Book, actor, *in) }
}

// ofID is the call of a use case on the record that the address names.
func ofID[O any](s *server, f func(context.Context, *book.Book, book.Actor, int64) (O, error)) call[byID, O] {
	return func(ctx context.Context, actor book.Actor, in *byID) (O, error) { return f(ctx, s.Book, actor, in.ID) }
}

// ofNumber is the call of a use case on the job that the address names.
func ofNumber[O any](s *server, f func(context.Context, *book.Book, book.Actor, string) (O, error)) call[byNumber, O] {
	return func(ctx context.Context, actor book.Actor, in *byNumber) (O, error) {
		return f(ctx, s.Book, actor, in.Number)
	}
}

// takes is the call of a use case that takes what is sent.
func takes[B, O any](s *server, f func(context.Context, *book.Book, book.Actor, B) (O, error)) call[withBody[B], O] {
	return func(ctx context.Context, actor book.Actor, in *withBody[B]) (O, error) {
		return f(ctx, s.Book, actor, in.Body)
	}
}

// makes is takes for what makes a record: its id is answered.
func makes[B any](s *server, f func(context.Context, *book.Book, book.Actor, B) (int64, error)) call[withBody[B], done] {
	return func(ctx context.Context, actor book.Actor, in *withBody[B]) (done, error) {
		id, err := f(ctx, s.Book, actor, in.Body)
		return done{id}, err
	}
}

// does is takes for what answers nothing.
func does[B any](s *server, f func(context.Context, *book.Book, book.Actor, B) error) call[withBody[B], done] {
	return func(ctx context.Context, actor book.Actor, in *withBody[B]) (done, error) {
		return done{}, f(ctx, s.Book, actor, in.Body)
	}
}

// doesTo is does for the record that the address names, and what is sent of it.
func doesTo[B any](s *server, f func(context.Context, *book.Book, book.Actor, int64, B) error) call[withID[B], done] {
	return func(ctx context.Context, actor book.Actor, in *withID[B]) (done, error) {
		return done{}, f(ctx, s.Book, actor, in.ID, in.Body)
	}
}

// takesOn is takes for the record that the address names.
func takesOn[B, O any](s *server, f func(context.Context, *book.Book, book.Actor, int64, B) (O, error)) call[withID[B], O] {
	return func(ctx context.Context, actor book.Actor, in *withID[B]) (O, error) {
		return f(ctx, s.Book, actor, in.ID, in.Body)
	}
}

// takesAt is takes for the job that the address names.
func takesAt[B, O any](s *server, f func(context.Context, *book.Book, book.Actor, string, B) (O, error)) call[withNumber[B], O] {
	return func(ctx context.Context, actor book.Actor, in *withNumber[B]) (O, error) {
		return f(ctx, s.Book, actor, in.Number, in.Body)
	}
}

// atVersion is the call of a use case on a record as it was seen.
func atVersion[O any](s *server, f func(context.Context, *book.Book, book.Actor, int64, int64) (O, error)) call[withID[AtVersion], O] {
	return func(ctx context.Context, actor book.Actor, in *withID[AtVersion]) (O, error) {
		return f(ctx, s.Book, actor, in.ID, in.Body.Version)
	}
}

// withNumber is what is sent of the job that the address names.
type withNumber[B any] struct {
	Number string `path:"number"`
	Body   B
}

// tried is what is sent to change something that work rests on.
type tried[B any] struct {
	Try  bool `query:"try" doc:"only say what it would alter, and keep nothing of it"`
	Body B
}

// triedOn is [tried] for a record that the address names.
type triedOn[B any] struct {
	ID   int64 `path:"id"`
	Try  bool  `query:"try" doc:"only say what it would alter, and keep nothing of it"`
	Body B
}

// alters is the call of a use case that changes what work rests on: what that alters is answered.
func alters[B any](s *server, f func(context.Context, *book.Book, book.Actor, B) error) call[tried[B], costing.Altered] {
	return func(ctx context.Context, actor book.Actor, in *tried[B]) (out costing.Altered, _ error) {
		ctx = book.Watch(ctx, in.Try, func(s *book.Session) { out = costing.AlteredIn(s) })
		err := f(ctx, s.Book, actor, in.Body)
		return out, err
	}
}

// altersOn is alters for the record that the address names.
func altersOn[B any](s *server, f func(context.Context, *book.Book, book.Actor, int64, B) error) call[triedOn[B], costing.Altered] {
	return func(ctx context.Context, actor book.Actor, in *triedOn[B]) (out costing.Altered, _ error) {
		ctx = book.Watch(ctx, in.Try, func(s *book.Session) { out = costing.AlteredIn(s) })
		err := f(ctx, s.Book, actor, in.ID, in.Body)
		return out, err
	}
}

// triedAt is [tried] for the job that the address names.
type triedAt[B any] struct {
	Number string `path:"number"`
	Try    bool   `query:"try" doc:"only say what it would alter, and keep nothing of it"`
	Body   B
}

// altersNumber is alters for the job that the address names.
func altersNumber[B any](s *server, f func(context.Context, *book.Book, book.Actor, string, B) error) call[triedAt[B], costing.Altered] {
	return func(ctx context.Context, actor book.Actor, in *triedAt[B]) (out costing.Altered, _ error) {
		ctx = book.Watch(ctx, in.Try, func(s *book.Session) { out = costing.AlteredIn(s) })
		err := f(ctx, s.Book, actor, in.Number, in.Body)
		return out, err
	}
}

// atSeen gives a use case on a version the shape of one that takes what is sent.
func atSeen(f func(context.Context, *book.Book, book.Actor, int64, int64) error) func(
	context.Context, *book.Book, book.Actor, int64, AtVersion,
) error {
	return func(ctx context.Context, b *book.Book, actor book.Actor, id int64, in AtVersion) error {
		return f(ctx, b, actor, id, in.Version)
	}
}
