package app

import (
	"context"

	"jarvo/internal/store"
)

// TimeZone is where the company is, by the clock: it says which day is today, and what time it is for those who clock in.
type TimeZone struct {
	TimeZone string `json:"timeZone" doc:"IANA name, such as America/Chicago"`
	Version  int64  `json:"version" doc:"of the company's settings, as they were seen"`
}

// SetTimeZone says in which time zone the company is.
func (a *App) SetTimeZone(ctx context.Context, actor Actor, in TimeZone) (TimeZone, error) {
	return Write(ctx, a, actor, Setup, func(s *session) (TimeZone, error) {
		c := s.checks()
		zone := c.zone("timeZone", in.TimeZone)
		if zone == "" && c.err() == nil {
			c.add("timeZone", "a time zone is needed, such as America/Chicago")
		}
		if err := c.err(); err != nil {
			return in, err
		}
		had := TimeZone{s.company.TimeZone, s.company.Version}
		if in.Version != had.Version {
			return had, &Error{Kind: KindConflict, Message: "somebody else has changed the company's settings since you opened them", Current: had}
		}
		in = TimeZone{zone, had.Version + 1}
		if err := s.Model(&store.Company{ID: 1}).Select("time_zone", "version").Updates(&store.Company{TimeZone: zone, Version: in.Version}).Error; err != nil {
			return had, err
		}
		return in, s.record("changed", "company", 1, had, in)
	})
}
