package book

import (
	"context"
	"errors"
)

type watching struct{}

// watcher is told of a use case before its transaction ends, which it takes back where it is only tried.
type watcher struct {
	only bool
	told func(*Session)
}

// Watch has told look at the use cases that are run with the context, at the end of each. Where they are only tried all that they did is
// taken back: what they would do is seen, and nothing of it is kept.
func Watch(ctx context.Context, onlyTry bool, told func(*Session)) context.Context {
	return context.WithValue(ctx, watching{}, watcher{onlyTry, told})
}

var errTried = errors.New("it was only tried")

// watched tells who watches, and is errTried where the use case is to be taken back.
func (s *Session) watched(ctx context.Context) error {
	w, ok := ctx.Value(watching{}).(watcher)
	if !ok {
		return nil
	}
	w.told(s)
	if w.only {
		return errTried
	}
	return nil
}
