// Package browser starts the application on a book of its own and a headless Chromium to use it with.
package browser

import (
	"context"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"time"

	gomail "github.com/wneessen/go-mail"

	"jarvo/internal/api"
	"jarvo/internal/app/book"
	"jarvo/internal/post"
	"jarvo/internal/store"
	"jarvo/web"
)

// Book is a running application on a book in a temporary folder.
type Book struct {
	URL    string
	Book   *book.Book
	File   string
	Mail   string // the folder that messages are kept in
	mail   atomic.Pointer[post.Sender]
	now    func() time.Time
	server *http.Server
	idle   func() // ends the sending of messages
	store  *store.Store
	folder string
}

// Start runs the application on an empty book.
func Start(ctx context.Context, now func() time.Time) (*Book, error) { return StartOn(ctx, now, nil) }

// StartOn runs the application on a copy of a book: the bytes of its file, or an empty one where there are none.
func StartOn(ctx context.Context, now func() time.Time, copied []byte) (*Book, error) {
	folder, err := os.MkdirTemp("", "jarvo-e2e-")
	if err != nil {
		return nil, err
	}
	b := &Book{folder: folder, File: filepath.Join(folder, "jarvo.db"), Mail: filepath.Join(folder, "mail"), now: now}
	b.MailBy(post.Standin{Folder: b.Mail})
	if len(copied) > 0 {
		if err := os.WriteFile(b.File, copied, 0o600); err != nil {
			return nil, err
		}
	}
	return b, b.start(ctx, "127.0.0.1:0")
}

func (b *Book) start(ctx context.Context, address string) (err error) {
	if b.store, err = store.Open(ctx, b.File); err != nil {
		return err
	}
	b.Book = book.New(b.store, b.now)
	handler, err := api.New(api.Options{
		Book: b.Book, Sessions: b.store.Sessions(), Files: web.Files(), Log: slog.New(slog.NewTextHandler(io.Discard, nil)),
	})
	if err != nil {
		return err
	}
	listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", address)
	if err != nil {
		return err
	}
	b.URL = "http://" + listener.Addr().String()
	b.server = &http.Server{Handler: handler, ReadHeaderTimeout: time.Minute}
	go func() { _ = b.server.Serve(listener) }()
	b.send(ctx)
	return nil
}

// sendEvery is how often it is looked whether a message is due.
const sendEvery = 200 * time.Millisecond

// send sends messages beside the application.
func (b *Book) send(ctx context.Context) {
	ctx, cancel := context.WithCancel(ctx)
	looks, done := time.NewTicker(sendEvery), make(chan struct{})
	go func() {
		defer close(done)
		(&post.Office{Book: b.Book, Mail: b}).Run(ctx, looks.C)
	}()
	b.idle = func() { looks.Stop(); cancel(); <-done }
}

// MailBy has messages handed to something else from now on.
func (b *Book) MailBy(mail post.Sender) { b.mail.Store(&mail) }

// Mailer is what messages are handed to.
func (b *Book) Mailer() post.Sender { return *b.mail.Load() }

// Send hands a message to it.
func (b *Book) Send(ctx context.Context, m *gomail.Msg) error { return b.Mailer().Send(ctx, m) }

// Stop ends the application as a power cut would.
func (b *Book) Stop() {
	b.idle()
	b.Book.StopNews()
	_ = b.server.Close()
	_ = b.store.Close()
}

// Restart runs the application again at the same address.
func (b *Book) Restart(ctx context.Context) error {
	return b.start(ctx, strings.TrimPrefix(b.URL, "http://"))
}

// Close ends the application and removes its book.
func (b *Book) Close() {
	b.Stop()
	_ = os.RemoveAll(b.folder)
}
