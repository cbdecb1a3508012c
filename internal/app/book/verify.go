package book

import (
	"context"
)

// Backup writes a consistent copy of the book.
func (a *Book) Backup(ctx context.Context, actor Actor, file string) error {
	if err := actor.Need(Exchange); err != nil {
		return err
	}
	return a.Store.Backup(ctx, file)
}
