package register

import (
	"jarvo/internal/app/book"
	"jarvo/internal/store"
)

// Named is a record that a line refers to.
type Named struct {
	ID   int64  `json:"id"`
	Code string `json:"code"`
	Name string `json:"name"`
	Sub  string `json:"sub,omitempty"`
}

func Crews(s *book.Session) ([]string, error) {
	if s.Actor.Crew != "" {
		return []string{s.Actor.Crew}, nil
	}
	return store.Query[string](s.Tx, "SELECT DISTINCT crew FROM workers WHERE active = 1 AND crew <> '' ORDER BY crew")
}

func Members(s *book.Session, crew string) ([]Named, error) {
	return store.Query[Named](s.Tx, `SELECT w.id, w.code, w.name, ifnull(t.name, '') AS sub FROM workers w LEFT JOIN trades t ON t.id = w.trade_id
		WHERE w.active = 1 AND (? = '' OR w.crew = ?) ORDER BY w.name, w.id`, crew, crew)
}
