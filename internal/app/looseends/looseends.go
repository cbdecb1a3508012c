// Package looseends finds what somebody has still to look at before the work is billed.
package looseends

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/holes"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/limits"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// LooseEnd is something that could slip: what it is, its age, the money at stake, and the step that settles it, with
// what that step needs to know.
type LooseEnd struct {
	Kind    string        `json:"kind"`
	Title   string        `json:"title"`
	Why     string        `json:"why"`
	Where   string        `json:"where"`
	Detail  string        `json:"detail"`
	Date    string        `json:"date,omitempty" format:"date" doc:"the day it is about, or the first of them"`
	AgeDays int64         `json:"ageDays"`
	AtStake string        `json:"atStake,omitempty" format:"decimal"`
	Step    string        `json:"step"`
	Link    register.Link `json:"link" doc:"where it is settled"`
	Subject string        `json:"subject" doc:"which of its kind it is"`
	Aside   bool          `json:"aside" doc:"it can be set aside with a reason"`

	WorkerID   int64  `json:"workerId,omitempty"`
	JobID      int64  `json:"jobId,omitempty"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
	LineID     int64  `json:"lineId,omitempty"`
	Crew       string `json:"crew,omitempty"`
	Trade      string `json:"trade,omitempty"`
	Category   string `json:"category,omitempty"`
	Hours      string `json:"hours,omitempty" format:"decimal" doc:"what the rest of the crew had"`
	HandIn     bool   `json:"handIn,omitempty" doc:"the rest of the crew's week has been handed in"`
	Mark       string `json:"mark,omitempty" doc:"of hours that are not handed in; it is another whenever they are"`
	Entries    int64  `json:"entries,omitempty" doc:"how many it is about, where one step settles them all"`
	Version    int64  `json:"version,omitempty" doc:"of the paper that it is about"`
}

// looseArgs are what a query for loose ends asks for: the dates that decide, and the crew that the actor is kept to.
func looseArgs(s *book.Session, query string) []any {
	if !strings.Contains(query, "@") {
		return nil
	}
	today, first := s.Today(), book.WeekStart(s.Company)
	return []any{map[string]any{
		"spans": holes.Arg(s, holes.Span{From: today - calendar.Date(s.Company.MissingDays), To: today - 1}), "today": today,
		"late": today - calendar.Date(s.Company.UnbilledAlertDays), "week": today.WeekStart(first),
		"crew": s.Actor.Crew,
	}}
}

// looseSeen are the kinds that a person is shown.
func looseSeen(s *book.Session) []looseKind {
	return slices.DeleteFunc(slices.Clone(looseKinds), func(k looseKind) bool { return !k.forCrew && !s.Actor.Can(book.SeeMoney) })
}

// LooseCount counts the loose ends that [LooseEnds] lists.
func LooseCount(s *book.Session) (int64, error) {
	var total int64
	for _, k := range looseSeen(s) {
		if k.find != nil {
			found, err := k.find(s)
			if err != nil {
				return 0, err
			}
			total += int64(len(found))
			continue
		}
		count := k.count
		if count == "" {
			count = "SELECT count(*) FROM (" + k.rows + ")"
		}
		found, err := store.Value[int64](s.Tx, count, looseArgs(s, count)...)
		if err != nil {
			return 0, err
		}
		total += found
	}
	return total, nil
}

// LooseEnds lists what could slip, of a job or of all (0), grouped by what it is, most money first, as far as a sheet of it goes.
func LooseEnds(s *book.Session, job int64) ([]LooseEnd, error) {
	type group struct {
		ends  []LooseEnd
		stake money.Amount
	}
	var groups []group
	for _, k := range looseSeen(s) {
		if job != 0 && !k.ofJob {
			continue
		}
		rows, err := k.of(s, job)
		if err != nil {
			return nil, err
		}
		g := group{}
		for _, r := range rows {
			g.ends = append(g.ends, looseEnd(s, k, r))
			if r.Stake != nil {
				g.stake = max(g.stake, *r.Stake)
			}
		}
		groups = append(groups, g)
	}
	slices.SortStableFunc(groups, func(a, b group) int { return int(max(-1, min(1, b.stake-a.stake))) })
	ends := []LooseEnd{}
	for _, g := range groups {
		ends = append(ends, g.ends...)
	}
	return ends, nil
}

// of are the loose ends of a kind, of a job or of all (0), most money first.
func (k looseKind) of(s *book.Session, job int64) ([]looseRow, error) {
	if k.find == nil {
		query := k.rows
		if job != 0 {
			query = "SELECT * FROM (" + k.rows + fmt.Sprintf(") WHERE job_id = %d", job)
		}
		query += fmt.Sprintf(" ORDER BY stake IS NULL, stake DESC, first LIMIT %d", mostLoose)
		return store.Query[looseRow](s.Tx, query, looseArgs(s, k.rows)...)
	}
	rows, err := k.find(s)
	rows = slices.DeleteFunc(rows, func(r looseRow) bool { return job != 0 && *r.JobID != job })
	slices.SortStableFunc(rows, func(a, b looseRow) int { return cmp.Compare(*b.Stake, *a.Stake) })
	return rows[:min(len(rows), mostLoose)], err
}

// there says whether there is a loose end of a kind about a subject.
func (k looseKind) there(s *book.Session, subject string) (bool, error) {
	if k.find != nil {
		rows, err := k.find(s)
		return slices.ContainsFunc(rows, func(r looseRow) bool { return r.Subject == subject }), err
	}
	args := looseArgs(s, k.rows+"@")[0].(map[string]any)
	args["subject"] = subject
	found, err := store.Value[int64](s.Tx, "SELECT count(*) FROM ("+k.rows+") WHERE subject = @subject", args)
	return found > 0, err
}

// ofFixedWork finds the jobs with fixed work that something is at stake of.
func ofFixedWork(kind string, stake func(jobs.FixedWork) money.Amount) func(*book.Session) ([]looseRow, error) {
	return func(s *book.Session) ([]looseRow, error) {
		works, err := book.Keep(s, func() ([]jobs.FixedWork, error) { return jobs.Fixed(s, 0) })
		if err != nil {
			return nil, err
		}
		aside, err := setAside(s, kind)
		var rows []looseRow
		for _, w := range works {
			if amount := stake(w); amount > 0 && !aside[w.Job.Number] {
				rows = append(rows, ofJob(w.Job, amount))
			}
		}
		return rows, err
	}
}

// nearLimits finds the jobs of whose limit a fifth or less is left; at stake is what it holds back.
func nearLimits(s *book.Session) ([]looseRow, error) {
	uses, err := limits.Of(s.Tx, 0)
	if err != nil {
		return nil, err
	}
	uses = slices.DeleteFunc(uses, func(u limits.Use) bool { return !u.Near() })
	if len(uses) == 0 {
		return nil, nil
	}
	aside, err := setAside(s, "limit")
	if err != nil {
		return nil, err
	}
	open, err := store.All[store.Job](s.Tx, "id", "status <> ? AND id IN (SELECT job_id FROM limits)", store.Closed)
	if err != nil {
		return nil, err
	}
	byID := map[int64]store.Job{}
	for _, j := range open {
		byID[j.ID] = j
	}
	var rows []looseRow
	for _, u := range uses {
		job, found := byID[u.JobID]
		if !found || aside[job.Number] {
			continue
		}
		row := ofJob(job, u.Held)
		row.Detail = fmt.Sprintf("%s of %s used, %s ready, %s held back", s.Money(u.Used), s.Money(u.Agreed), s.Money(u.Ready), s.Money(u.Held))
		rows = append(rows, row)
	}
	return rows, nil
}

func ofJob(job store.Job, stake money.Amount) looseRow {
	return looseRow{
		Subject: job.Number, Key: job.Number, Where: job.Number + " " + job.Name, First: job.Start, Stake: &stake, JobID: &job.ID,
	}
}

// setAside are the subjects of a kind that were set aside.
func setAside(s *book.Session, kind string) (map[string]bool, error) {
	subjects, err := store.Query[string](s.Tx, "SELECT subject FROM dismissals WHERE kind = ?", kind)
	aside := make(map[string]bool, len(subjects))
	for _, subject := range subjects {
		aside[subject] = true
	}
	return aside, err
}

func looseEnd(s *book.Session, k looseKind, r looseRow) LooseEnd {
	end := LooseEnd{
		Kind: k.name, Title: k.title, Why: k.why, Where: r.Where, Detail: r.Detail, Step: k.step, Link: register.Link{Kind: k.link, ID: r.Key},
		Subject:  r.Subject,
		Aside:    k.aside,
		WorkerID: store.ID(r.WorkerID), JobID: store.ID(r.JobID), CostCodeID: store.ID(r.CostCodeID), LineID: store.ID(r.LineID), Crew: r.Crew,
		Trade: r.Trade, Category: r.Category, Version: r.Version,
	}
	if r.First != nil {
		end.Date, end.AgeDays = r.First.String(), max(0, int64(s.Today()-*r.First))
	}
	if s.Actor.Can(book.SeeMoney) {
		end.AtStake = s.Maybe(r.Stake)
	}
	switch k.name {
	case "hole":
		end.Hours, end.HandIn = r.Least.Short(), r.N > 0
		end.Detail = "the crew had " + r.Least.Short() + " h"
		if r.Most > r.Least {
			end.Detail = "the crew had " + r.Least.Short() + " to " + r.Most.Short() + " h"
		}
		end.Link.Crew, end.Link.ID = r.Crew, end.Date
	case "not_handed_in":
		end.Where, end.Detail = register.CrewName(r.Crew), r.Most.Short()+" h"
		end.Link.Crew, end.Link.ID = r.Crew, end.Date
		end.Mark = timesheet.MarkOf(int(r.N), r.Versions)
	case "no_code":
		end.Detail, end.Entries = words.Counted(r.N, "entry"), r.N
	case "owed":
		end.Detail = words.Counted(r.N, "paper")
	}
	return end
}

// Aside is a loose end that was set aside.
type Aside struct {
	Kind    string `json:"kind"`
	Title   string `json:"title"`
	Subject string `json:"subject"`
	Reason  string `json:"reason"`
	Who     string `json:"who"`
	At      string `json:"at" format:"date-time"`
}

// SetAside is the reason why nothing has to be done about a loose end.
type SetAside struct {
	Kind    string `json:"kind"`
	Subject string `json:"subject"`
	Reason  string `json:"reason"`
}

// KindOf finds a kind of loose end by its name.
func KindOf(name string) (looseKind, bool) {
	at := slices.IndexFunc(looseKinds, func(k looseKind) bool { return k.name == name && k.aside })
	if at < 0 {
		return looseKind{}, false
	}
	return looseKinds[at], true
}

// mayAside refuses those who do not settle such a loose end; a foreman only sets holes of the own crew aside.
func mayAside(s *book.Session, kind, subject string) error {
	k, found := KindOf(kind)
	if !found {
		return refuse.Invalid("kind", "this is settled, and not set aside")
	}
	if !k.forCrew {
		return s.Actor.Need(book.Approve)
	}
	code := subject[:max(0, strings.LastIndexByte(subject, ' '))] // the date behind it has no space, a code may have
	workers, err := store.All[store.Worker](s.Tx, "id", "code = ?", code)
	if err != nil || len(workers) == 0 {
		return refuse.OrNotFound(err, "worker")
	}
	return register.OwnWorker(s, workers[0])
}

// PutAside takes a loose end off the list, with the reason why nothing has to be done; it can be brought back.
func PutAside(ctx context.Context, b *book.Book, actor book.Actor, in SetAside) error {
	return book.Change(ctx, b, actor, book.Capture, func(s *book.Session) error {
		c := s.Checks()
		reason := c.Needed("reason", in.Reason, "a reason")
		subject := c.Needed("subject", in.Subject, "what it is")
		if err := c.Err(); err != nil {
			return err
		}
		if err := mayAside(s, in.Kind, subject); err != nil {
			return err
		}
		k, _ := KindOf(in.Kind)
		there, err := k.there(s, subject)
		if err != nil {
			return err
		}
		if !there {
			return refuse.Conflict("this is no loose end any more")
		}
		row := store.Dismissal{Kind: in.Kind, Subject: subject, Reason: reason, At: s.Book.Now().UnixMilli(), Who: actor.Name}
		if err := s.Exec(keepDismissal,
			row.Kind, row.Subject, row.Reason, row.At, row.Who).Error; err != nil {
			return err
		}
		return s.Record("set aside", "loose_end", 0, nil, in)
	})
}

// BringBack puts what was set aside on the list again.
func BringBack(ctx context.Context, b *book.Book, actor book.Actor, kind, subject string) error {
	return book.Change(ctx, b, actor, book.Capture, func(s *book.Session) error {
		if err := mayAside(s, kind, subject); err != nil {
			return err
		}
		if err := s.Exec("DELETE FROM dismissals WHERE kind = ? AND subject = ?", kind, subject).Error; err != nil {
			return err
		}
		return s.Record("brought back", "loose_end", 0, SetAside{Kind: kind, Subject: subject}, nil)
	})
}

// Asides lists what was set aside, the last one first.
func Asides(s *book.Session) ([]Aside, error) {
	list := []Aside{}
	rows, err := store.Query[store.Dismissal](s.Tx, asideRows,
		map[string]any{"money": s.Actor.Can(book.SeeMoney), "crew": s.Actor.Crew, "most": mostLoose})
	for _, r := range rows {
		k, _ := KindOf(r.Kind)
		list = append(list, Aside{r.Kind, k.title, r.Subject, r.Reason, r.Who, book.TimeText(r.At)})
	}
	return list, err
}

// DaysOff are the holes that were set aside: why, by worker and day.
func DaysOff(s *book.Session) (map[holes.Day]string, error) {
	type row struct {
		WorkerID int64
		Day      string
		Reason   string
	}
	rows, err := store.Query[row](s.Tx, holesAside)
	off := map[holes.Day]string{}
	for _, r := range rows {
		if day, err := calendar.Parse(r.Day); err == nil {
			off[holes.Day{WorkerID: r.WorkerID, Date: day}] = r.Reason
		}
	}
	return off, err
}
