package billing

import (
	"jarvo/internal/app/book"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// StandRow is where a job stands with an invoice: of a fixed price how much of it is billed, and what is held back of the job.
type StandRow struct {
	Job          string `json:"job"`
	Contract     string `json:"contract,omitempty" format:"decimal"`
	BilledToDate string `json:"billedToDate,omitempty" format:"decimal" doc:"with this invoice"`
	Left         string `json:"left,omitempty" format:"decimal"`
	HeldToDate   string `json:"heldToDate,omitempty" format:"decimal" doc:"retained of the job, with this invoice"`
}

// freezeStands keeps where the jobs of a draft stand as it is issued.
func freezeStands(s *book.Session, draftID int64) error {
	return s.Exec(keepStands, map[string]any{"invoice": draftID}).Error
}

// stands shows where the jobs of an invoice stand: of a draft now, else as it was issued.
func stands(s *book.Session, v *InvoiceView) error {
	type row struct {
		Number, Name                       string
		Contract, BilledToDate, HeldToDate *money.Amount
	}
	query := standsIssued
	if v.Status == store.Draft {
		query = standsNow
	}
	rows, err := store.Query[row](s.Tx, query, v.ID)
	for _, r := range rows {
		out := StandRow{Job: r.Number + " " + r.Name, Contract: s.Maybe(r.Contract), HeldToDate: s.Maybe(r.HeldToDate)}
		if r.Contract != nil && r.BilledToDate != nil {
			out.BilledToDate, out.Left = s.Money(*r.BilledToDate), s.Money(*r.Contract-*r.BilledToDate)
		}
		v.Stands = append(v.Stands, out)
	}
	return err
}
