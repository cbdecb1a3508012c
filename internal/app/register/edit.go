package register

import (
	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// Seen reads a record that is to be changed. It is refused where it has been changed since the version that was seen; what is it in a
// sentence: "worker".
func Seen[R any](s *book.Session, recordID, version int64, what string, versionOf func(R) int64) (R, error) {
	had, found, err := store.One[R](s.Tx, recordID)
	if err != nil || !found {
		return had, refuse.OrNotFound(err, what)
	}
	if versionOf(had) != version {
		return had, &refuse.Error{
			Kind: refuse.KindConflict, Message: "somebody else has changed this " + what + " since you opened it; look at it again", Current: had,
		}
	}
	return had, nil
}

// Delete deletes a record that nothing rests on, after what is only its own: rows of tables, by the column that refers to it. The
// database knows what else rests on it; where something does it is refused, with what to do instead.
func Delete(s *book.Session, table string, recordID int64, what, instead string, own ...[2]string) error {
	for _, of := range append(own, [2]string{table, "id"}) {
		err := s.Run("DELETE FROM "+of[0]+" WHERE "+of[1]+" = ?", recordID)
		if store.IsUsed(err) {
			return refuse.Conflict("this %s is in use, so it stays; %s", what, instead)
		}
		if err != nil {
			return err
		}
	}
	return nil
}
