// Package pages gives suppliers, customers, workers and items of the price list a page each: what it is, what rests on it, and its history.
package pages

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/history"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Asked says whose page is asked for.
type Asked struct {
	Kind string `path:"kind" enum:"supplier,customer,worker,item"`
	ID   int64  `path:"id" minimum:"1"`
}

// Page is the page of a record.
type Page struct {
	Kind    string                `json:"kind" enum:"supplier,customer,worker,item"`
	ID      int64                 `json:"id"`
	Title   string                `json:"title"`
	Retired bool                  `json:"retired" doc:"not offered any more"`
	Facts   []Fact                `json:"facts" doc:"what it is"`
	Rests   []Rest                `json:"rests" doc:"what rests on it, in all"`
	Rows    []Row                 `json:"rows" doc:"what of it is newest"`
	History []history.HistoryLine `json:"history"`
	Account *Account              `json:"account,omitempty" doc:"of a customer"`
}

// Fact is one thing that is known of a record.
type Fact struct {
	What string `json:"what"`
	Text string `json:"text"`
}

// Rest is one kind of what rests on a record, with what it comes to.
type Rest struct {
	What   string `json:"what" doc:"in the singular: time entry, paper, job, invoice"`
	Count  int64  `json:"count"`
	Hours  string `json:"hours,omitempty" format:"decimal"`
	Amount string `json:"amount,omitempty" format:"decimal"`
	Of     string `json:"of,omitempty" doc:"what the amount is: cost, invoiced, owed, paid"`
	Last   string `json:"last,omitempty" format:"date"`
}

// Row is one of the newest things that rest on a record.
type Row struct {
	Date   string        `json:"date,omitempty" format:"date"`
	Title  string        `json:"title"`
	Detail string        `json:"detail"`
	Amount string        `json:"amount,omitempty" format:"decimal"`
	Link   register.Link `json:"link"`
}

// newest is how many things of a record its page lists.
const newest = 100

// Of is the page of a record.
func Of(ctx context.Context, b *book.Book, actor book.Actor, asked Asked) (Page, error) {
	return book.Read(ctx, b, actor, book.SeeMoney, func(s *book.Session) (Page, error) {
		p := Page{Kind: asked.Kind, ID: asked.ID, Facts: []Fact{}, Rests: []Rest{}, Rows: []Row{}}
		about := map[string]func(*book.Session, *Page) error{
			"supplier": ofSupplier, "customer": ofCustomer, "worker": ofWorker, "item": ofItem,
		}[asked.Kind]
		if err := about(s, &p); err != nil {
			return p, err
		}
		if err := p.rest(s, rests[asked.Kind]); err != nil {
			return p, err
		}
		_, shift := book.InZone(s.Book.Now(), s.Company.TimeZone).Zone() // the day of a message is that of the company's clocks
		args := map[string]any{"id": asked.ID, "newest": newest, "shift": shift * 1000, "bill": s.Actor.Can(book.Bill)}
		rows, err := store.Query[found](s.Tx, rowsOf[asked.Kind], args)
		if err != nil {
			return p, err
		}
		for _, r := range rows {
			p.Rows = append(p.Rows, r.row(s))
		}
		if asked.Kind == "customer" {
			if p.Account, err = accountOf(s, asked.ID); err != nil {
				return p, err
			}
		}
		p.History, err = history.OfRecord(s, asked.Kind, asked.ID)
		return p, err
	})
}

func (p *Page) fact(what, text string) {
	if text != "" {
		p.Facts = append(p.Facts, Fact{what, text})
	}
}

// found is a row as the database gives it.
type found struct {
	Kind, Key, Crew, Title, Detail string
	Date                           *calendar.Date
	Amount                         *money.Amount
	Rate                           *money.Rate
	Quantity                       *money.Quantity
	Minutes                        *money.Minutes
}

func (r found) row(s *book.Session) Row {
	row := Row{Title: r.Title, Detail: r.Detail, Link: register.Link{Kind: r.Kind, ID: r.Key, Crew: r.Crew}, Amount: s.Maybe(r.Amount)}
	if r.Date != nil {
		row.Date = r.Date.String()
		if r.Kind == "crew_week" {
			row.Link.ID = row.Date
		}
	}
	if r.Minutes != nil {
		row.Detail = r.Minutes.Hours() + " h"
	}
	if r.Quantity != nil {
		row.Detail = strings.TrimSpace(r.Quantity.String() + " " + r.Detail)
	}
	if r.Rate != nil {
		row.Amount = s.Currency.FormatRate(*r.Rate)
	}
	return row
}

// rest adds what rests on the record, as far as there is any.
func (p *Page) rest(s *book.Session, kinds []restKind) error {
	for _, k := range kinds {
		type sum struct {
			Count   int64
			Minutes money.Minutes
			Amount  *money.Amount
			Last    *calendar.Date
		}
		of, err := store.Value[sum](s.Tx, k.query, map[string]any{"id": p.ID})
		if err != nil {
			return err
		}
		if of.Count == 0 {
			continue
		}
		r := Rest{What: k.what, Count: of.Count, Amount: s.Maybe(of.Amount), Of: k.of}
		if of.Minutes != 0 {
			r.Hours = of.Minutes.Hours()
		}
		if of.Last != nil {
			r.Last = of.Last.String()
		}
		p.Rests = append(p.Rests, r)
	}
	return nil
}

// one reads the record of a page with the codes that it refers to.
func one[R any](s *book.Session, p *Page, query, what string) (R, error) {
	rows, err := store.Query[R](s.Tx, query, map[string]any{"id": p.ID, "today": s.Today()})
	if err != nil || len(rows) == 0 {
		var none R
		return none, refuse.OrNotFound(err, what)
	}
	return rows[0], nil
}

func ofSupplier(s *book.Session, p *Page) error {
	r, err := one[struct {
		store.Supplier
		CostCode string
	}](s, p, supplierOf, "supplier")
	p.Title, p.Retired = r.Name, !r.Active
	p.fact("usual kind", r.Category)
	p.fact("usual cost code", r.CostCode)
	if r.TermsDays != nil {
		p.fact("terms", s.English().Terms(*r.TermsDays))
	}
	return err
}

func ofCustomer(s *book.Session, p *Page) error {
	r, err := one[struct {
		store.Customer
		Card, Tax string
	}](s, p, customerOf, "customer")
	if err != nil {
		return err
	}
	p.Title, p.Retired = r.Name, !r.Active
	p.fact("code", r.Code)
	p.fact("address", register.CustomerAddress(r.Customer, s.Company.Country))
	p.fact("general e-mail", r.Email)
	contacts, err := register.ContactsOf(s, r.ID)
	if err != nil {
		return err
	}
	for _, c := range contacts {
		p.fact(cmp.Or(c.Role, "person"), strings.TrimSpace(fmt.Sprintf("%s\n%s\ngets %s", c.Name, c.Email, c.Gets())))
	}
	p.fact("phone", r.Phone)
	p.fact("tax number", r.TaxNumber)
	p.fact("their reference", r.Reference)
	p.fact("number in the register", r.Registration)
	p.fact("e-invoices", r.Endpoint)
	if r.OpenBook {
		p.fact("book", "open: sees costs and markups")
	}
	terms := "the company's"
	if r.TermsDays != nil {
		terms = s.English().Terms(*r.TermsDays)
	}
	p.fact("terms", terms)
	p.fact("rate card", r.Card)
	p.fact("tax code", r.Tax)
	if r.TaxExempt {
		p.fact("tax", "exempt")
	}
	p.fact("invoices", map[string]string{"job": "one a job", "customer": "one for all jobs"}[r.InvoicePer])
	return err
}

func ofWorker(s *book.Session, p *Page) error {
	r, err := one[struct {
		store.Worker
		Trade, Class string
		Wage         *money.Rate
		Since        *calendar.Date
	}](s, p, workerOf, "worker")
	p.Title, p.Retired = r.Name, !r.Active
	p.fact("code", r.Code)
	p.fact("trade", r.Trade)
	p.fact("crew", r.Crew)
	p.fact("kind", r.Kind)
	p.fact("burden class", r.Class)
	if r.Exempt {
		p.fact("overtime", "exempt")
	}
	if r.Wage != nil {
		p.fact("wage", fmt.Sprintf("%s an hour since %s", s.Currency.FormatRate(*r.Wage), r.Since))
	}
	return err
}

func ofItem(s *book.Session, p *Page) error {
	r, err := one[store.Item](s, p, "SELECT * FROM items WHERE id = @id", "item")
	p.Title, p.Retired = r.Description, !r.Active
	p.fact("code", r.Code)
	p.fact("kind", r.Category)
	p.fact("unit", r.Unit)
	if err != nil {
		return err
	}
	prices, err := store.All[store.ItemPrice](s.Tx, "effective_from DESC", "item_id = ?", p.ID)
	for _, price := range prices {
		text := "costs " + s.Currency.FormatRate(price.UnitCost)
		if price.SellPrice != nil {
			text += ", sells at " + s.Currency.FormatRate(*price.SellPrice)
		}
		p.fact("from "+price.EffectiveFrom.String(), text)
	}
	return err
}
