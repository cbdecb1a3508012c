package main

import (
	"context"
	"fmt"
	"os"
	"time"

	"github.com/spf13/cobra"

	"jarvo/internal/app/book"
	"jarvo/internal/post"
)

// mailing is where messages go.
type mailing struct{ server, folder string }

// passwordFrom is what the password of the mail server is read from: what stands in a command can be seen by others.
const passwordFrom = "JARVO_SMTP_PASSWORD"

// queueEvery is how often it is looked whether a message is due.
const queueEvery = time.Second

func (m *mailing) flags(cmd *cobra.Command) {
	cmd.Flags().StringVar(&m.server, "smtp", "",
		"the mail server, as smtp://user@mail.example:587 or smtps://…; its password is in "+passwordFrom)
	cmd.Flags().StringVar(&m.folder, "mail", "",
		"where there is no mail server: a folder that messages are kept in, by default beside the book")
}

// sender is what messages are handed to, and the name of the server where there is one.
func (m *mailing) sender(file string) (post.Sender, string, error) {
	if m.server == "" {
		folder := m.folder
		if folder == "" {
			folder = file + ".mail"
		}
		return post.Standin{Folder: folder}, "", nil
	}
	server, err := post.ParseServer(m.server, os.Getenv(passwordFrom))
	if err != nil {
		return nil, "", usageError{fmt.Errorf("--smtp: %w", err)}
	}
	return server, server.Name, nil
}

// beside runs something beside the server that looks at a book now and then; end ends it, before the book is closed.
func beside(ctx context.Context, b *book.Book, every time.Duration, run func(context.Context, *book.Book, <-chan time.Time)) (end func()) {
	looks := time.NewTicker(every)
	ctx, cancel := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() { defer close(done); run(ctx, b, looks.C) }()
	return func() { looks.Stop(); cancel(); <-done }
}

// sending sends what is queued.
func sending(mail post.Sender) func(context.Context, *book.Book, <-chan time.Time) {
	return func(ctx context.Context, b *book.Book, looks <-chan time.Time) {
		(&post.Office{Book: b, Mail: mail}).Run(ctx, looks)
	}
}
