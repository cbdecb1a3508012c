// Package today is the Today tab, and the counts beside every tab.
package today

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/holes"
	"jarvo/internal/app/looseends"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// CrewDays is a crew's week: hours a day and a tooth a worker.
type CrewDays struct {
	Crew  string    `json:"crew"`
	State string    `json:"state"`
	Hours string    `json:"hours" format:"decimal"`
	Days  []CrewDay `json:"days"`
}

// CrewDay is a day of a crew.
type CrewDay struct {
	Hours   string `json:"hours" format:"decimal"`
	Workers []int  `json:"workers" doc:"minutes of each worker of the crew, 0 for a hole, -1 where no hours are missing"`
}

// TodaySheet is the Today tab.
type TodaySheet struct {
	LooseEnds []looseends.LooseEnd `json:"looseEnds"`
	Asides    []looseends.Aside    `json:"asides" doc:"loose ends that were set aside"`
	Week      []CrewDays           `json:"week"`
	Days      []string             `json:"days"`
	Hours     string               `json:"hours" format:"decimal"`
}

// TodayQuery asks for Today in the week of a date; with a job, for what is about that job.
type TodayQuery struct {
	Week string `query:"week" doc:"any date of the week; this week where absent"`
	Job  string `query:"job" doc:"number of a job; blank for all"`
}

// Sheet is the Today tab.
func Sheet(ctx context.Context, b *book.Book, actor book.Actor, q TodayQuery) (TodaySheet, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (_ TodaySheet, err error) {
		out := TodaySheet{Week: []CrewDays{}}
		c := s.Checks()
		on := s.Today()
		if q.Week != "" {
			on = c.Date("week", q.Week)
		}
		if err := c.Err(); err != nil {
			return out, err
		}
		sc, err := scope.Of(s, scope.ScopeQuery{Job: q.Job})
		if err != nil {
			return out, err
		}
		if out.LooseEnds, err = looseends.LooseEnds(s, sc.Job); err != nil {
			return out, err
		}
		if out.Asides, err = looseends.Asides(s); err != nil {
			return out, err
		}
		err = crewWeek(s, &out, on.WeekStart(book.WeekStart(s.Company)), sc.Job)
		return out, err
	})
}

func crewWeek(s *book.Session, out *TodaySheet, week calendar.Date, job int64) error {
	for d := week; d < week+7; d++ {
		out.Days = append(out.Days, d.String())
	}
	type row struct {
		WorkerID int64
		Crew     string
		Date     calendar.Date
		Minutes  money.Minutes
		Drafts   int64
	}
	rows, err := store.Query[row](s.Tx, crewDays, week, week+6, job, s.Actor.Crew)
	if err != nil {
		return err
	}
	open, err := holes.In(s, holes.Span{From: week, To: week + 6})
	if err != nil {
		return err
	}
	var total money.Minutes
	crews := map[string]int{}
	workers := map[int64]int{}
	sums := map[string]*[7]money.Minutes{}
	for _, r := range rows {
		at, ok := crews[r.Crew]
		if !ok {
			at = len(out.Week)
			crews[r.Crew] = at
			out.Week = append(out.Week, CrewDays{Crew: register.CrewName(r.Crew), State: "handed in", Days: make([]CrewDay, 7)})
			sums[r.Crew] = &[7]money.Minutes{}
		}
		crew := &out.Week[at]
		tooth, ok := workers[r.WorkerID]
		if !ok {
			tooth = len(crew.Days[0].Workers)
			workers[r.WorkerID] = tooth
			for d := range crew.Days {
				minutes := -1
				if job == 0 && open[holes.Day{WorkerID: r.WorkerID, Date: week + calendar.Date(d)}] {
					minutes = 0 // who is not on a job may be on another
				}
				crew.Days[d].Workers = append(crew.Days[d].Workers, minutes)
			}
		}
		if r.Drafts > 0 {
			crew.State = "not handed in"
		}
		if r.Date == 0 {
			continue
		}
		crew.Days[r.Date-week].Workers[tooth] = int(r.Minutes)
		sums[r.Crew][r.Date-week] += r.Minutes
		total += r.Minutes
	}
	for crew, at := range crews {
		var sum money.Minutes
		for d, m := range sums[crew] {
			out.Week[at].Days[d].Hours = m.Short()
			sum += m
		}
		out.Week[at].Hours = sum.Hours()
		if sum == 0 {
			out.Week[at].State = "no hours yet"
		}
	}
	out.Hours = total.Hours()
	return nil
}
