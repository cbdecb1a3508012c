package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"
)

// Session is who is signed in, kept by the server so that it can be ended.
type Session struct {
	Token  string `gorm:"primaryKey"` // a hash of it: whoever reads the book can't sign in with what stands there
	Data   []byte
	Expiry int64 // Unix seconds
}

// Sessions keeps signed-in sessions in the book; it is a store for scs.
type Sessions struct{ store *Store }

// Sessions returns the session store of a book.
func (s *Store) Sessions() *Sessions { return &Sessions{s} }

// FindCtx returns the data of a session that has not expired.
func (s *Sessions) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	var rows []Session
	err := s.store.read.WithContext(ctx).Where("token = ? AND expiry > ?", hashOf(token), time.Now().Unix()).Limit(1).Find(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, false, err
	}
	return rows[0].Data, true, nil
}

// CommitCtx keeps a session, and forgets those that have expired.
func (s *Sessions) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	return s.store.Write(ctx, func(tx *Tx) error {
		if err := tx.Where("expiry <= ?", time.Now().Unix()).Delete(&Session{}).Error; err != nil {
			return err
		}
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&Session{hashOf(token), data, expiry.Unix()}).Error
	})
}

// DeleteCtx ends a session.
func (s *Sessions) DeleteCtx(ctx context.Context, token string) error {
	return s.store.Write(ctx, func(tx *Tx) error { return tx.Where("token = ?", hashOf(token)).Delete(&Session{}).Error })
}

// Find is [Sessions.FindCtx] without a context.
func (s *Sessions) Find(token string) ([]byte, bool, error) {
	return s.FindCtx(context.Background(), token)
}

// Commit is [Sessions.CommitCtx] without a context.
func (s *Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return s.CommitCtx(context.Background(), token, data, expiry)
}

// Delete is [Sessions.DeleteCtx] without a context.
func (s *Sessions) Delete(token string) error { return s.DeleteCtx(context.Background(), token) }
