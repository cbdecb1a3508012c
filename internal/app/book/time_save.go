package book

import (
	"fmt"
	"strconv"

	"jarvo/internal/store"
)

// FurthestAhead is how many days ahead hours may be booked: further is a slip of the year.
const FurthestAhead = 31

// FreeRef is a reference for a new row that no imported row has taken.
func (s *Session) FreeRef(table, prefix string, rowID int64) (string, error) {
	text := prefix + strconv.FormatInt(rowID, 10)
	for n := 2; ; n++ {
		taken, err := store.Query[int64](s.Tx, "SELECT count(*) FROM "+table+" WHERE ref = ? AND id <> ?", text, rowID)
		if err != nil || taken[0] == 0 {
			return text, err
		}
		text = fmt.Sprintf("%s%d-%d", prefix, rowID, n)
	}
}
