package api

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"

	"jarvo/internal/app/book"
)

// newsPause is the least time between two messages to a window: what happens meanwhile goes together.
const newsPause = 500 * time.Millisecond

// Changed is what others have changed since the last message.
type Changed struct {
	News []book.News `json:"news"`
}

func (s *server) registerNews(api huma.API) {
	op := huma.Operation{
		OperationID: "news", Method: http.MethodGet, Path: "/api/news", Summary: "What is changed, as it happens",
		Middlewares: huma.Middlewares{s.listening(api)},
	}
	sse.Register(api, op, map[string]any{"message": Changed{}}, func(ctx context.Context, _ *nothing, send sse.Sender) {
		listener, _ := ctx.Value(listenerKey).(*book.Listener)
		if send.Data(Changed{News: []book.News{}}) != nil { // the window knows that it is connected
			return
		}
		for {
			news, more := listener.Next(ctx)
			if !more || send.Data(Changed{news}) != nil {
				return
			}
			select {
			case <-ctx.Done():
				return
			case <-time.After(newsPause):
			}
		}
	})
}

// listening begins to listen before the stream does, so that a refusal is an answer.
func (s *server) listening(api huma.API) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		listener, err := s.Book.Listen(actorIn(ctx.Context()))
		if err != nil {
			p := problem(ctx.Context(), err)
			_ = huma.WriteErr(api, ctx, p.Status, p.Detail)
			return
		}
		defer listener.Stop()
		next(huma.WithValue(ctx, listenerKey, listener))
	}
}
