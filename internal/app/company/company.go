// Package company keeps what the company says of itself.
package company

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// TimeZone is where the company is, by the clock: it says which day is today, and what time it is for those who clock in.
type TimeZone struct {
	TimeZone string `json:"timeZone" doc:"IANA name, such as America/Chicago"`
	Version  int64  `json:"version" doc:"of the company's settings, as they were seen"`
}

// SetTimeZone says in which time zone the company is.
func SetTimeZone(ctx context.Context, b *book.Book, actor book.Actor, in TimeZone) (TimeZone, error) {
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (TimeZone, error) {
		c := s.Checks()
		zone := c.Zone("timeZone", in.TimeZone)
		if zone == "" && c.Err() == nil {
			c.Add("timeZone", "a time zone is needed, such as America/Chicago")
		}
		if err := c.Err(); err != nil {
			return in, err
		}
		had := TimeZone{s.Company.TimeZone, s.Company.Version}
		if in.Version != had.Version {
			return had, &refuse.Error{
				Kind: refuse.KindConflict, Message: "somebody else has changed the company's settings since you opened them", Current: had,
			}
		}
		in = TimeZone{zone, had.Version + 1}
		if err := s.Model(&store.Company{ID: 1}).Select("time_zone", "version").Updates(&store.Company{
			TimeZone: zone, Version: in.Version,
		}).Error; err != nil {
			return had, err
		}
		return in, s.Record("changed", "company", 1, had, in)
	})
}
