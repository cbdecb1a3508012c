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

// Merge says which record another one turned out to be.
type Merge struct {
	Version     int64 `json:"version" doc:"of the one that goes, as it was seen"`
	Into        int64 `json:"into"`
	IntoVersion int64 `json:"intoVersion" doc:"of the one that stays, as it was seen"`
}

// ToMerge reads the record that goes and the one that stays, as they were seen.
func ToMerge[R any](
	s *book.Session, recordID int64, in Merge, seen func(s *book.Session, recordID, version int64) (R, error),
) (from, into R, err error) {
	if from, err = seen(s, recordID, in.Version); err != nil {
		return from, into, err
	}
	if in.Into == recordID {
		return from, into, refuse.Invalid("into", "choose another one: this one stays as it is")
	}
	into, err = seen(s, in.Into, in.IntoVersion)
	return from, into, err
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
