// Package people adds workers.
package people

import (
	"context"

	"jarvo/internal/app/book"
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
	Wage        string `json:"wage" doc:"an hour"`
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
	wage := form.Optional(c, "wage", in.Wage, form.ParseRate)
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
		if err := s.Create(&store.Wage{WorkerID: w.ID, EffectiveFrom: from, Rate: *wage}).Error; err != nil {
			return 0, err
		}
	}
	return w.ID, s.Record("added", "worker", w.ID, nil, map[string]string{"name": w.Name, "wage": in.Wage, "from": in.WageFrom})
}
