package api

import (
	"context"
	"mime"
	"net/http"
	"strconv"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"jarvo/internal/app/book"
	"jarvo/internal/app/messages"
	"jarvo/internal/app/refuse"
	"jarvo/internal/paper"
	"jarvo/internal/post"
)

// outboxSheet is what was written to customers, and where it goes.
type outboxSheet struct {
	messages.Outbox
	Server string `json:"server,omitempty" doc:"the mail server that messages go to; absent: they are kept as files"`
}

// messageRead is a message as whoever gets it reads it, and what became of it.
type messageRead struct {
	messages.MessageRow
	Letter post.Letter `json:"letter"`
}

// messageOperations are the messages of the Bill tab.
func (s *server) messageOperations(api huma.API) {
	operate(api, http.MethodGet, "/api/messages", "outbox", "What was written to customers, and what became of it",
		func(ctx context.Context, actor book.Actor, _ *nothing) (outboxSheet, error) {
			box, err := messages.Box(ctx, s.Book, actor)
			return outboxSheet{box, s.MailServer}, err
		})
	operate(api, http.MethodGet, "/api/messages/about", "messagesAbout", "What was sent about an invoice, or of a customer's account",
		asksOf(s, messages.About))
	operate(api, http.MethodGet, "/api/messages/proposal", "proposeMessage", "A message as it is proposed",
		func(ctx context.Context, actor book.Actor, in *messages.Asked) (messages.Proposal, error) {
			return messages.Propose(ctx, s.Book, actor, paper.Press{}, *in)
		})
	operate(api, http.MethodPost, "/api/messages", "sendMessage", "Send a message",
		func(ctx context.Context, actor book.Actor, in *withBody[messages.NewMessage]) (messages.Queued, error) {
			return messages.Send(ctx, s.Book, actor, paper.Press{}, in.Body)
		})
	operate(api, http.MethodPost, "/api/messages/resume", "resumeMessages", "Send what waits in a book that is a copy", does(s,
		messages.Resume))
	operate(api, http.MethodGet, "/api/messages/{id}", "message", "A message as whoever gets it reads it",
		func(ctx context.Context, actor book.Actor, in *byID) (messageRead, error) {
			m, err := messages.Message(ctx, s.Book, actor, in.ID)
			if err != nil {
				return messageRead{}, err
			}
			read, err := post.As(m)
			return messageRead{m.MessageRow, read}, err
		})
	operate(api, http.MethodPost, "/api/messages/{id}/again", "tryAgain", "Send a message now that failed or waits",
		doesTo(s, messages.TryAgain))
	operate(api, http.MethodPost, "/api/messages/{id}/cancel", "cancelMessage", "Take a message out of the queue", atVersion(s,
		func(ctx context.Context, b *book.Book, actor book.Actor, id, version int64) (done, error) {
			return done{}, messages.Cancel(ctx, b, actor, id, version)
		}))
	operate(api, http.MethodGet, "/api/reminders", "reminders", "What customers would be reminded of today", asks(s, messages.Reminders))
	operate(api, http.MethodPost, "/api/reminders", "remind", "Send reminders in one go",
		func(ctx context.Context, actor book.Actor, in *withBody[messages.NewReminders]) ([]messages.Queued, error) {
			return messages.Remind(ctx, s.Book, actor, paper.Press{}, in.Body)
		})
	operate(api, http.MethodGet, "/api/message-texts", "messageTexts", "The texts that messages are made from", asks(s, messages.Texts))
	operate(api, http.MethodPut, "/api/message-texts", "saveMessageText", "Write a text in the company's own words",
		takes(s, messages.SaveText))
}

// eml sends a message as a file that mail programs open.
func (s *server) eml(w http.ResponseWriter, r *http.Request) {
	m, ok := s.messageIn(w, r)
	if !ok {
		return
	}
	data, err := post.EML(m)
	if !s.wrote(w, r, err) {
		return
	}
	kept(w, m.Ref+".eml", "message/rfc822", data)
}

// put sends what is attached to a message.
func (s *server) put(w http.ResponseWriter, r *http.Request) {
	m, ok := s.messageIn(w, r)
	if !ok {
		return
	}
	n, err := strconv.Atoi(chi.URLParam(r, "position"))
	if err != nil || n < 1 || n > len(m.Files) {
		s.wrote(w, r, refuse.NotFound("file"))
		return
	}
	kept(w, m.Files[n-1].Name, m.Files[n-1].Media, m.Files[n-1].Data)
}

func (s *server) messageIn(w http.ResponseWriter, r *http.Request) (m messages.Outgoing, ok bool) {
	actor, ok := s.signedIn(w, r)
	if !ok {
		return m, false
	}
	id, _ := strconv.ParseInt(chi.URLParam(r, "id"), 10, 64)
	m, err := messages.Message(r.Context(), s.Book, actor, id)
	return m, s.wrote(w, r, err)
}

// kept sends a file to be kept, and never to be opened in the place of the application.
func kept(w http.ResponseWriter, name, media string, data []byte) {
	h := w.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; sandbox")
	h.Set("Content-Type", media)
	h.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	_, _ = w.Write(data)
}
