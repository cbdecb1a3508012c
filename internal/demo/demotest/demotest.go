// Package demotest has a demo book for tests, which is written once.
package demotest

import (
	"context"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"jarvo/internal/app/book"
	"jarvo/internal/demo"
	"jarvo/internal/post"
	"jarvo/internal/store"
)

// Clock is the moment at which the demo book is written.
func Clock() time.Time { return time.Date(2026, time.November, 25, 9, 0, 0, 0, time.UTC) }

// Bytes are those of the demo book's file.
func Bytes(t testing.TB) []byte {
	t.Helper()
	data, err := written()
	require.NoError(t, err)
	return data
}

// Open opens a copy of the demo book.
func Open(t testing.TB) (*book.Book, *store.Store) {
	t.Helper()
	file := filepath.Join(t.TempDir(), "demo.db")
	require.NoError(t, os.WriteFile(file, Bytes(t), 0o600))
	s, err := store.Open(context.Background(), file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	return book.New(s, Clock), s
}

// written is the file of a demo book. It is written once by the first package that asks, and kept beside other temporary files under the
// state of the code that writes it.
var written = sync.OnceValues(func() ([]byte, error) {
	ctx := context.Background()
	list := exec.CommandContext(ctx, "go", "list", "-export", "-f", "{{.BuildID}}", "jarvo/internal/demo", "jarvo/internal/post")
	built, err := list.Output()
	if err != nil {
		return nil, err
	}
	const begins = "jarvo-demo-book-"
	kept := filepath.Join(os.TempDir(), begins+strings.NewReplacer("/", "_", "\n", "_").Replace(contentIDs(string(built)))+".db")
	if data, err := os.ReadFile(kept); err == nil {
		return data, nil
	}
	folder, err := os.MkdirTemp("", "jarvo-demo-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	copied := filepath.Join(folder, "copy.db")
	if err := writeDemo(ctx, folder, copied); err != nil {
		return nil, err
	}
	data, err := os.ReadFile(copied)
	if err != nil {
		return nil, err
	}
	earlier, err := filepath.Glob(filepath.Join(os.TempDir(), begins+"*.db"))
	for _, file := range earlier {
		err = errors.Join(err, os.RemoveAll(file))
	}
	return data, errors.Join(err, os.Rename(copied, kept))
})

// contentIDs are the last parts of build IDs, a line each: they name the compiled code.
func contentIDs(built string) (parts string) {
	for line := range strings.Lines(built) {
		parts += line[strings.LastIndexByte(line, '/')+1:]
	}
	return parts
}

// writeDemo fills a demo book in a folder, and copies its file once what it has to send has gone out.
func writeDemo(ctx context.Context, folder, copied string) error {
	s, err := store.Open(ctx, filepath.Join(folder, "full.db"))
	if err != nil {
		return err
	}
	a := book.New(s, Clock)
	err = demo.Fill(ctx, a)
	if err == nil {
		_, err = (&post.Office{Book: a, Mail: post.Standin{Folder: filepath.Join(folder, "mail")}}).SendDue(ctx)
	}
	return errors.Join(err, s.Backup(ctx, copied), s.Close())
}
