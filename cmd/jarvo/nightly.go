package main

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"time"

	"jarvo/internal/app/book"
)

// nightly copies the book into a folder, once a day of the company's: the first time that it looks on that day.
type nightly struct {
	folder string
	keep   int // copies; older ones are deleted
}

// lookEvery is how often it is looked whether a day has its copy.
const lookEvery = 15 * time.Minute

// run keeps copies until the context ends. A copy that fails is told in the log, and tried again at the next look.
func (n nightly) run(ctx context.Context, b *book.Book, looks <-chan time.Time) {
	for {
		if file, err := n.copy(ctx, b); err != nil && ctx.Err() == nil {
			slog.ErrorContext(ctx, "the nightly backup failed; it is tried again", "folder", n.folder, "error", err)
		} else if file != "" {
			slog.InfoContext(ctx, "backup", "file", file)
		}
		select {
		case <-ctx.Done():
			return
		case <-looks:
		}
	}
}

// copy writes the copy of the day where there is none yet, and returns its name.
func (n nightly) copy(ctx context.Context, b *book.Book) (string, error) {
	today, err := b.Today(ctx)
	if err != nil {
		return "", err
	}
	if err := os.MkdirAll(n.folder, 0o700); err != nil {
		return "", err
	}
	file := filepath.Join(n.folder, fmt.Sprintf("jarvo-%s.db", today))
	if _, err := os.Stat(file); err == nil {
		return "", nil
	}
	if err := b.Backup(ctx, book.Console, file); err != nil {
		return "", err
	}
	return file, n.prune()
}

// prune deletes the oldest copies, and nothing else that lies in the folder.
func (n nightly) prune() error {
	copies, err := filepath.Glob(filepath.Join(n.folder, "jarvo-[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9].db"))
	if err != nil {
		return err
	}
	slices.Sort(copies)
	for len(copies) > n.keep {
		if err := os.Remove(copies[0]); err != nil {
			return err
		}
		copies = copies[1:]
	}
	return nil
}
