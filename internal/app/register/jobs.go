package register

import (
	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

func JobByNumber(s *book.Session, number string) (store.Job, error) {
	jobs, err := store.All[store.Job](s.Tx, "id", "number = ?", number)
	if err != nil {
		return store.Job{}, err
	}
	if len(jobs) == 0 {
		return store.Job{}, refuse.NotFound("job as " + number)
	}
	return jobs[0], nil
}
