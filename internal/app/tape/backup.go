package tape

import (
	"cmp"
	"context"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/workings"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// Backup is what stands behind one entry or cost line of an invoice, as the customer gets to see it.
type Backup struct {
	Date   string `json:"date" format:"date"`
	What   string `json:"what" doc:"who worked, or what was bought"`
	Detail string `json:"detail"`
	Amount string `json:"amount"`
	// Of hours, a row a class; of a part of them there is none.
	Hours []BackupHours `json:"hours,omitempty"`
	Time  string        `json:"time,omitempty" doc:"of hours: how many"`
	// Of a cost line.
	No       int    `json:"no,omitempty" doc:"its number, which is on its receipts too"`
	Supplier string `json:"supplier,omitempty"`
	Number   string `json:"number,omitempty" doc:"the supplier's"`
	Quantity string `json:"quantity,omitempty"`
	Unit     string `json:"unit,omitempty"`
	Price    string `json:"price,omitempty" doc:"a unit, where it is to the cent"`
	// Charge is how it came about, with what it cost: for a customer whose book is open.
	Charge *workings.Step `json:"charge,omitempty"`
	Scans  []BackupScan   `json:"-"` // of its paper
}

// BackupHours are hours of one class.
type BackupHours struct {
	Class  string `json:"class" doc:"blank: regular"`
	Hours  string `json:"hours"`
	Rate   string `json:"rate,omitempty" doc:"an hour"`
	Charge string `json:"charge"`
}

// BackupScan is a scan of a receipt.
type BackupScan struct {
	Name, Media, SHA256 string
	Data                []byte
}

// BackupOf lists the hours, by day and worker, and then the receipts behind an invoice. Wages, burden, landed costs and markups are in it
// for a customer whose book is open, and for no other.
func BackupOf(ctx context.Context, a *book.Book, actor book.Actor, invoiceID int64) ([]Backup, error) {
	return book.Read(ctx, a, actor, book.Bill, func(s *book.Session) ([]Backup, error) { return Behind(s, invoiceID) })
}

// Behind is [BackupOf] within a use case.
func Behind(s *book.Session, invoiceID int64) ([]Backup, error) {
	invoice, _, err := store.One[store.Invoice](s.Tx, invoiceID)
	if err != nil {
		return nil, err
	}
	customer, _, err := store.One[store.Customer](s.Tx, invoice.CustomerID)
	if err != nil {
		return nil, err
	}
	sources, err := drafting.SourcesOf(s, invoice)
	if err != nil {
		return nil, err
	}
	segments, err := chargedHours(s, invoiceID)
	if err != nil {
		return nil, err
	}
	goods, err := chargedGoods(s, invoiceID)
	if err != nil {
		return nil, err
	}
	papers, err := receiptsOf(s, invoiceID)
	if err != nil {
		return nil, err
	}
	show := workings.Show{Currency: s.Currency}
	var hours, bought []Backup
	for _, src := range sources {
		b := Backup{
			Date: src.Date.String(), What: src.Text, Detail: joinDots(src.JobNumber+" "+src.JobName, src.Phase, src.Trade, src.CostCode),
			Amount: s.Money(src.Amount),
		}
		whole := src.Way == billing.TheRest && src.Amount == src.Charge
		if !whole {
			b.Detail = joinDots(b.Detail, "a part")
		}
		if src.EntryID != 0 {
			b.Time = src.Minutes.Hours()
			if whole {
				b.Hours = hoursBehind(s, segments[src.EntryID])
			}
			if customer.OpenBook {
				b.Charge = show.OfCharge(ratebook.Factors(s), segments[src.EntryID])
			}
			hours = append(hours, b)
			continue
		}
		b.receipt(s, src, papers[src.CostLineID])
		if customer.OpenBook {
			b.Charge = show.OfLine(goods[src.CostLineID]).Charge
		}
		bought = append(bought, b)
	}
	slices.SortStableFunc(hours, func(a, b Backup) int { return cmp.Or(cmp.Compare(a.Date, b.Date), cmp.Compare(a.What, b.What)) })
	slices.SortStableFunc(bought, func(a, b Backup) int { return cmp.Compare(a.Date, b.Date) })
	for i := range bought {
		bought[i].No = i + 1
	}
	return append(hours, bought...), nil
}

// hoursBehind are the hours of an entry by class, with the rate of each where they are charged by the hour.
func hoursBehind(s *book.Session, segments []labour.Segment) (out []BackupHours) {
	factors := ratebook.Factors(s)
	for _, g := range segments {
		if g.Charge == nil {
			return nil
		}
		h := BackupHours{Class: g.Class.String(), Hours: g.Minutes.Hours(), Charge: s.Money(*g.Charge)}
		if g.Class == worktime.Regular {
			h.Class = ""
		}
		if row := g.Detail.Row; row.Method == pricing.Hourly {
			price, err := row.Price(g.Class, factors)
			now, wrong := row.Charge(s.Currency, factors, g.Segment, g.Cost)
			if err == nil && wrong == nil && now != nil && *now == *g.Charge { // the rate is still what they were charged by
				h.Rate = s.Currency.FormatRate(price)
			}
		}
		out = append(out, h)
	}
	return out
}

// receipt is what the paper of a cost line says.
type receipt struct {
	LineID, DocumentID            int64
	Supplier, Number, Description string
	Scans                         []BackupScan `gorm:"-"`
}

func (b *Backup) receipt(s *book.Session, src drafting.DraftSource, r receipt) {
	b.Supplier, b.Number, b.Scans = r.Supplier, r.Number, r.Scans
	b.Quantity, b.Unit = src.Quantity.String(), src.Unit
	if r.Description != "" {
		b.What = r.Description
	}
	if price, exact := billing.PriceEach(src.Amount, src.Quantity); exact {
		b.Price = s.Money(price)
	}
}

// receiptsOf are the papers of an invoice's cost lines with their scans, by line.
func receiptsOf(s *book.Session, invoiceID int64) (map[int64]receipt, error) {
	rows, err := store.Query[receipt](s.Tx, receiptsBehind, invoiceID)
	if err != nil {
		return nil, err
	}
	scans, err := store.Query[struct {
		DocumentID       int64
		Name, Media, Sum string
	}](s.Tx, scansBehind, invoiceID)
	if err != nil {
		return nil, err
	}
	ofDocument, read := map[int64][]BackupScan{}, map[string][]byte{}
	for _, f := range scans {
		if read[f.Sum] == nil {
			if read[f.Sum], err = costs.Contents(s, f.Sum); err != nil {
				return nil, err
			}
		}
		ofDocument[f.DocumentID] = append(ofDocument[f.DocumentID], BackupScan{f.Name, f.Media, f.Sum, read[f.Sum]})
	}
	byLine := make(map[int64]receipt, len(rows))
	for _, r := range rows {
		r.Scans = ofDocument[r.DocumentID]
		byLine[r.LineID] = r
	}
	return byLine, nil
}
