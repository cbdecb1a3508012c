// Package people adds workers, changes them, and lets them go.
package people

import (
	"cmp"
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

// NewWorker is a worker with a first wage.
type NewWorker struct {
	Key         string `json:"key,omitempty"`
	Name        string `json:"name"`
	Trade       string `json:"trade" doc:"name of a trade; made where there is none"`
	Crew        string `json:"crew"`
	BurdenClass string `json:"burdenClass" doc:"name of a burden class; made where there is none, blank for none"`
	Kind        string `json:"kind" doc:"employee or hired"`
	Exempt      bool   `json:"exempt"`
	Wage        string `json:"wage" doc:"an hour, or a week where WagePer says so"`
	WagePer     string `json:"wagePer,omitempty" doc:"hour (where it is blank) or week"`
	WageFrom    string `json:"wageFrom" format:"date"`
}

// Add adds a worker with a wage from a date on.
func Add(ctx context.Context, b *book.Book, actor book.Actor, in NewWorker) (int64, error) {
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (int64, error) {
		return book.Once(s, "worker", in.Key, in, func() (int64, error) { return addWorker(s, in) })
	})
}

func addWorker(s *book.Session, in NewWorker) (int64, error) {
	c := s.Checks()
	w := store.Worker{
		Name: c.Needed("name", in.Name, "a name"), Crew: c.Text("crew", in.Crew), Exempt: in.Exempt, Active: true, Version: 1, Kind: "employee",
	}
	if in.Kind != "" {
		w.Kind = c.OneOf("kind", in.Kind, store.Employee, store.Hired)
	}
	per, parse := c.OneOf("wagePer", cmp.Or(in.WagePer, store.PerHour), store.PerHour, store.PerWeek), form.ParseRate
	if per == store.PerWeek {
		parse = s.WeekRate
	}
	wage := form.Optional(c, "wage", in.Wage, parse)
	var from calendar.Date
	if wage != nil {
		form.NotNegative(c, "wage", *wage, "a wage")
		from = c.Date("wageFrom", in.WageFrom)
	}
	trade, class := c.Text("trade", in.Trade), c.Text("burdenClass", in.BurdenClass)
	if err := c.Err(); err != nil {
		return 0, err
	}
	var err error
	if w.TradeID, err = register.Reference(s, "trades", trade); err != nil {
		return 0, err
	}
	if w.BurdenClassID, err = register.Reference(s, "burden_classes", class); err != nil {
		return 0, err
	}
	if w.Code, err = register.Code(s, "workers", w.Name); err != nil {
		return 0, err
	}
	if err := s.Create(&w).Error; err != nil {
		return 0, err
	}
	if wage != nil {
		if err := s.Create(&store.Wage{WorkerID: w.ID, EffectiveFrom: from, Rate: *wage, Per: per, Version: 1}).Error; err != nil {
			return 0, err
		}
	}
	return w.ID, s.Record("added", "worker", w.ID, nil, map[string]string{"name": w.Name, "wage": in.Wage, "from": in.WageFrom})
}

// WorkerChange is a worker as they are to be.
type WorkerChange struct {
	Version     int64  `json:"version" doc:"as it was seen"`
	Name        string `json:"name"`
	Trade       string `json:"trade" doc:"name of a trade; made where there is none"`
	Crew        string `json:"crew"`
	BurdenClass string `json:"burdenClass" doc:"name of a burden class; made where there is none, blank for none"`
	Kind        string `json:"kind" doc:"employee or hired"`
	Exempt      bool   `json:"exempt" doc:"paid no overtime"`
	Active      bool   `json:"active" doc:"offered; one who has left stays in all hours and reports"`
}

// Change changes a worker. Trade, burden class and overtime alter what hours that are not billed cost and are charged.
func Change(ctx context.Context, b *book.Book, actor book.Actor, workerID int64, in WorkerChange) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seen(s, workerID, in.Version)
		if err != nil {
			return err
		}
		c := s.Checks()
		now := had
		now.Name, now.Crew = c.Needed("name", in.Name, "a name"), c.Text("crew", in.Crew)
		now.Kind = c.OneOf("kind", in.Kind, store.Employee, store.Hired)
		now.Exempt, now.Active, now.Version = in.Exempt, in.Active, had.Version+1
		trade, class := c.Text("trade", in.Trade), c.Text("burdenClass", in.BurdenClass)
		if err := c.Err(); err != nil {
			return err
		}
		if now.TradeID, err = register.Reference(s, "trades", trade); err != nil {
			return err
		}
		if now.BurdenClassID, err = register.Reference(s, "burden_classes", class); err != nil {
			return err
		}
		if err := s.Save(&now).Error; err != nil {
			return err
		}
		step := costing.Begin(s)
		if err := book.InOrder(
			func() error { return step.Hours("e.worker_id = ?", workerID) },
			func() error { return step.DraftsOfHours("w.id = ?", workerID) },
			step.Run,
		); err != nil {
			return err
		}
		return s.Record("changed", "worker", workerID, had, now)
	})
}

// Delete deletes a worker nobody has typed anything for.
func Delete(ctx context.Context, b *book.Book, actor book.Actor, workerID, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seen(s, workerID, version)
		if err != nil {
			return err
		}
		if err := register.Delete(
			s, "workers", workerID, "worker", "mark them as having left instead", [2]string{"wages", "worker_id"},
			[2]string{"year_openings", "worker_id"},
		); err != nil {
			return err
		}
		return s.Record("deleted", "worker", workerID, had, nil)
	})
}

func seen(s *book.Session, workerID, version int64) (store.Worker, error) {
	return register.Seen(s, workerID, version, "worker", func(w store.Worker) int64 { return w.Version })
}
