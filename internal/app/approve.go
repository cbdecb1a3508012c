package app

import (
	"context"
	"fmt"
	"strings"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// WaitingWeek is a worker's handed-in hours of a week.
type WaitingWeek struct {
	WorkerID int64    `json:"workerId"`
	Worker   string   `json:"worker"`
	Trade    string   `json:"trade"`
	Crew     string   `json:"crew"`
	Week     string   `json:"week" format:"date"`
	Days     []string `json:"days" doc:"hours of each day of the week"`
	Hours    string   `json:"hours"`
	Cost     string   `json:"cost"`
	Charge   string   `json:"charge"`
	Marks    []Mark   `json:"marks"`
	EntryIDs []int64  `json:"entryIds"`
	Trail    Trail    `json:"trail"`
}

// WaitingPaper is a handed-in cost document.
type WaitingPaper struct {
	DocumentID int64  `json:"documentId"`
	Title      string `json:"title"`
	Detail     string `json:"detail"`
	Lines      int64  `json:"lines"`
	Cost       string `json:"cost"`
	Charge     string `json:"charge"`
	Marks      []Mark `json:"marks"`
	Version    int64  `json:"version"`
	Trail      Trail  `json:"trail"`
}

// Mark is something that stands out, and against what.
type Mark struct {
	What    string `json:"what"`
	Against string `json:"against"`
}

// ApproveSheet is what waits for approval in a scope.
type ApproveSheet struct {
	Weeks  []WaitingWeek  `json:"weeks"`
	Papers []WaitingPaper `json:"papers"`
	Hours  string         `json:"hours"`
	Cost   string         `json:"cost"`
	Charge string         `json:"charge"`
}

// Decision approves or returns handed-in work.
type Decision struct {
	EntryIDs    []int64 `json:"entryIds"`
	DocumentIDs []int64 `json:"documentIds"`
	Reason      string  `json:"reason,omitempty" doc:"needed to return"`
}

const longDay = 12 * 60

// Waiting is the Approve tab in a scope.
func (a *App) Waiting(ctx context.Context, actor Actor, q ScopeQuery) (ApproveSheet, error) {
	sheet := ApproveSheet{Weeks: []WaitingWeek{}, Papers: []WaitingPaper{}}
	err := a.read(ctx, actor, Approve, func(s *session) error {
		sc, err := s.scope(q)
		if err != nil {
			return err
		}
		return s.waiting(&sheet, sc)
	})
	return sheet, err
}

func (s *session) waiting(sheet *ApproveSheet, sc Scope) error {
	args := []any{sc.From, sc.end()}
	job := ""
	if sc.Job != 0 {
		job, args = " AND e.job_id = ?", append(args, sc.Job)
	}
	entries, err := store.Query[sheetEntry](s.Tx, sheetEntries+" AND e.status = 'submitted'"+job+" ORDER BY w.crew, w.name, w.id, e.date, e.id", args...)
	if err != nil {
		return err
	}
	crews := map[int64]string{}
	workers, err := store.All[store.Worker](s.Tx, "id")
	if err != nil {
		return err
	}
	for _, w := range workers {
		crews[w.ID] = w.Crew
	}
	var minutes money.Minutes
	var cost, charge money.Amount
	for from := 0; from < len(entries); {
		week := entries[from].Date.WeekStart(weekStart(s.company))
		to := from
		var sum lineSums
		for to < len(entries) && entries[to].WorkerID == entries[from].WorkerID && entries[to].Date.WeekStart(weekStart(s.company)) == week {
			sum.add(entries[to])
			to++
		}
		sheet.Weeks = append(sheet.Weeks, s.waitingWeek(entries[from:to], week, crews[entries[from].WorkerID], sum))
		minutes += sum.minutes
		cost += sum.cost
		charge += sum.charge
		from = to
	}
	papers, paperCost, paperCharge, err := s.waitingPapers(sc)
	if err != nil {
		return err
	}
	sheet.Papers = papers
	sheet.Hours, sheet.Cost, sheet.Charge = minutes.Hours(), s.money(cost+paperCost), s.money(charge+paperCharge)
	return nil
}

func (s *session) waitingWeek(entries []sheetEntry, week calendar.Date, crew string, sum lineSums) WaitingWeek {
	first := entries[0]
	out := WaitingWeek{
		WorkerID: first.WorkerID, Worker: first.WorkerName, Trade: first.Trade, Crew: crew, Week: week.String(), Hours: sum.minutes.Hours(),
		Cost: s.money(sum.cost), Charge: s.money(sum.charge), Marks: []Mark{}, Trail: trail("submitted", true, ""),
	}
	days := make([]money.Minutes, 7)
	unpriced := map[string]bool{}
	charged := false
	for _, e := range entries {
		out.EntryIDs = append(out.EntryIDs, e.ID)
		days[e.Date-week] += e.Minutes
		charged = charged || e.Charge != nil
		if e.Charge == nil && e.Billable && e.Basis == "tm" {
			unpriced[e.JobNumber] = true
		}
	}
	if !charged {
		out.Charge = ""
	}
	if sum.noCost {
		out.Marks = append(out.Marks, Mark{"No wage", "not all of it has a cost"})
	}
	for number := range unpriced {
		out.Marks = append(out.Marks, Mark{"No rate", "no card has one, job " + number})
		break
	}
	for i, m := range days {
		out.Days = append(out.Days, shortHours(m))
		if m > longDay {
			out.Marks = append(out.Marks, Mark{"Long day", fmt.Sprintf("%s h on %s", shortHours(m), (week + calendar.Date(i)).Time().Format("Mon 2 Jan"))})
		}
	}
	return out
}

func (s *session) waitingPapers(sc Scope) ([]WaitingPaper, money.Amount, money.Amount, error) {
	type row struct {
		store.CostDocument
		Lines, NoJob, NoMarkup, Twice int64
		Landed                        money.Amount
		Charge                        *money.Amount
	}
	query, args := `SELECT d.*, count(l.id) AS lines, sum(l.job_id IS NULL) AS no_job, ifnull(sum(l.landed), 0) AS landed, sum(l.charge) AS charge,
		(SELECT count(*) FROM cost_documents o WHERE o.supplier = d.supplier AND o.number = d.number AND o.number <> '' AND o.id <> d.id) AS twice
		FROM cost_documents d JOIN cost_lines l ON l.document_id = d.id WHERE d.status = 'submitted' AND d.date BETWEEN ? AND ?`, []any{sc.From, sc.end()}
	if sc.Job != 0 {
		query, args = query+" AND l.job_id = ?", append(args, sc.Job)
	}
	rows, err := store.Query[row](s.Tx, query+" GROUP BY d.id ORDER BY d.date, d.id", args...)
	if err != nil {
		return nil, 0, 0, err
	}
	papers := []WaitingPaper{}
	var cost, charge money.Amount
	for _, r := range rows {
		p := WaitingPaper{DocumentID: r.ID, Title: orElse(r.Supplier, kindNames[r.Kind]), Detail: strings.TrimSpace(kindNames[r.Kind] + " " + r.Number), Lines: r.Lines,
			Cost: s.money(r.Landed), Charge: s.maybe(r.Charge), Marks: []Mark{}, Version: r.Version, Trail: trail("submitted", true, "")}
		if r.NoJob > 0 {
			p.Marks = append(p.Marks, Mark{"No job", fmt.Sprintf("on %d of its %s", r.NoJob, counted(r.Lines, "line"))})
		}
		if r.Twice > 0 {
			p.Marks = append(p.Marks, Mark{"Entered twice", r.Supplier + " has " + r.Number + " already"})
		}
		cost += r.Landed
		if r.Charge != nil {
			charge += *r.Charge
		}
		papers = append(papers, p)
	}
	return papers, cost, charge, nil
}

// ApproveWork approves handed-in hours and documents, all or none.
func (a *App) ApproveWork(ctx context.Context, actor Actor, d Decision) error {
	return a.decide(ctx, actor, d, "approved", "approved")
}

// ReturnWork gives hours and documents back with a reason: handed-in work, or approved work that is not on an invoice.
func (a *App) ReturnWork(ctx context.Context, actor Actor, d Decision) error {
	if strings.TrimSpace(d.Reason) == "" {
		return invalid("reason", "say why, so that it can be put right")
	}
	return a.decide(ctx, actor, d, "draft", "returned")
}

func (a *App) decide(ctx context.Context, actor Actor, d Decision, status, action string) error {
	return a.write(ctx, actor, Approve, func(s *session) error {
		if len(d.EntryIDs)+len(d.DocumentIDs) == 0 {
			return invalid("entryIds", "choose what to decide on first")
		}
		from := []string{"submitted"}
		if status == "draft" {
			from = append(from, "approved")
		}
		changed := "some of this has changed since you opened it; look again"
		var entries, documents int64
		if err := s.Model(&store.TimeEntry{}).Where("id IN ? AND status IN ? AND invoice_id IS NULL", d.EntryIDs, from).Count(&entries).Error; err != nil {
			return err
		}
		if err := s.Model(&store.CostDocument{}).Where("id IN ? AND status IN ? AND NOT EXISTS (SELECT 1 FROM cost_lines l WHERE l.document_id = cost_documents.id AND l.invoice_id IS NOT NULL)",
			d.DocumentIDs, from).Count(&documents).Error; err != nil {
			return err
		}
		if int(entries) != len(d.EntryIDs) || int(documents) != len(d.DocumentIDs) {
			return conflict("%s", changed)
		}
		if err := s.setEntryStatus(d.EntryIDs, status, action, d.Reason); err != nil {
			return err
		}
		for _, documentID := range d.DocumentIDs {
			if err := s.setDocumentStatus(documentID, status, action, d.Reason); err != nil {
				return err
			}
		}
		return nil
	})
}
