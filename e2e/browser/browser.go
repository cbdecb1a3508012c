// Package browser starts the application on a book of its own and a headless Chromium to use it with.
package browser

import (
	"context"
	"io"
	"log/slog"
	"net/http/httptest"
	"os"
	"path/filepath"
	"time"

	"jarvo/internal/api"
	"jarvo/internal/app"
	"jarvo/internal/store"
	"jarvo/web"
)

// Book is a running application on a book in a temporary folder.
type Book struct {
	URL    string
	App    *app.App
	File   string
	server *httptest.Server
	store  *store.Store
	folder string
}

// Start runs the application on an empty book.
func Start(ctx context.Context, now func() time.Time) (*Book, error) {
	folder, err := os.MkdirTemp("", "jarvo-e2e-")
	if err != nil {
		return nil, err
	}
	b := &Book{folder: folder, File: filepath.Join(folder, "jarvo.db")}
	if b.store, err = store.Open(ctx, b.File); err != nil {
		return nil, err
	}
	b.App = app.New(b.store, now)
	handler, err := api.New(api.Options{App: b.App, Sessions: b.store.Sessions(), Files: web.Files(), Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	if err != nil {
		return nil, err
	}
	b.server = httptest.NewServer(handler)
	b.URL = b.server.URL
	return b, nil
}

// Close ends the application and removes its book.
func (b *Book) Close() {
	b.server.Close()
	_ = b.store.Close()
	_ = os.RemoveAll(b.folder)
}
