package app

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// NewDrafts asks for drafts of all that is ready to bill.
type NewDrafts struct {
	Key     string  `json:"key" doc:"made by the client, so that a retry makes nothing twice"`
	Jobs    []int64 `json:"jobs" maxItems:"5000" doc:"ids of the jobs to bill"`
	Through string  `json:"through" format:"date" doc:"work up to this date, inclusive"`
	Date    string  `json:"date" format:"date" doc:"the invoices' date"`
}

// MakeDrafts makes a draft a job, or one a customer where the customer wants it so, of all that is
// ready to bill up to a date. What another draft holds already is not ready.
func (a *App) MakeDrafts(ctx context.Context, actor Actor, in NewDrafts) ([]DraftRow, error) {
	return Write(ctx, a, actor, Bill, func(s *session) ([]DraftRow, error) {
		return once(s, "drafts", in.Key, in, func() ([]DraftRow, error) {
			c := s.checks()
			run := billRun{through: c.date("through", in.Through), date: c.date("date", in.Date), jobs: in.Jobs}
			if len(in.Jobs) == 0 {
				c.add("jobs", "choose at least one job")
			}
			if err := c.err(); err != nil {
				return nil, err
			}
			ids, err := s.runBilling(run)
			if err != nil {
				return nil, err
			}
			if len(ids) == 0 {
				return nil, conflict("nothing of this is ready to bill any more; somebody else may have billed it")
			}
			return s.draftsWith(ids)
		})
	})
}

// BillRun is the bill run of the command line: drafts for all that is ready up to a date and, where
// asked, issues them. It returns the invoices it made, in order.
func (a *App) BillRun(ctx context.Context, actor Actor, through, date calendar.Date, jobNumber string, issue bool) ([]store.Invoice, error) {
	return Write(ctx, a, actor, Bill, func(s *session) (made []store.Invoice, _ error) {
		run := billRun{through: through, date: date}
		if jobNumber != "" {
			job, err := s.jobByNumber(jobNumber)
			if err != nil {
				return made, err
			}
			run.jobs = []int64{job.ID}
		}
		ids, err := s.runBilling(run)
		if err != nil {
			return made, err
		}
		for _, draft := range ids {
			if err := s.Stopped(); err != nil {
				return made, err
			}
			invoice, _, err := store.One[store.Invoice](s.Tx, draft)
			if err == nil && issue {
				invoice, err = s.issue(invoice)
			}
			if err != nil {
				return made, err
			}
			made = append(made, invoice)
		}
		return made, nil
	})
}

type billRun struct {
	through, date calendar.Date
	jobs          []int64 // nil: every job
}

type readyJob struct {
	JobID      int64
	CustomerID int64
	InvoicePer string
	// NumberOrder is what the jobs are sorted by.
	NumberOrder string
}

// runBilling makes the drafts of a run and returns their ids, in the order of their jobs' numbers; a
// customer's draft takes the place of the lowest-numbered job on it.
func (s *session) runBilling(run billRun) ([]int64, error) {
	query := `SELECT DISTINCT j.id AS job_id, j.customer_id, c.invoice_per, j.number_order FROM (
		  SELECT job_id FROM ` + readyEntries + ` AND date <= ? UNION ALL SELECT job_id FROM ` + readyLines + ` AND date <= ?
		) r JOIN jobs j ON j.id = r.job_id JOIN customers c ON c.id = j.customer_id ORDER BY j.number_order`
	jobs, err := store.Query[readyJob](s.Tx, query, run.through, run.through)
	if err != nil {
		return nil, err
	}
	var groups [][]readyJob
	byCustomer := map[int64]int{}
	for _, j := range jobs {
		if run.jobs != nil && !slices.Contains(run.jobs, j.JobID) {
			continue
		}
		if at, ok := byCustomer[j.CustomerID]; ok && j.InvoicePer == "customer" {
			groups[at] = append(groups[at], j)
			continue
		}
		if j.InvoicePer == "customer" {
			byCustomer[j.CustomerID] = len(groups)
		}
		groups = append(groups, []readyJob{j})
	}
	var drafts []int64
	for _, g := range groups {
		if err := s.Stopped(); err != nil {
			return nil, err
		}
		draft, err := s.makeDraft(g, run)
		if errors.Is(err, billing.ErrNegative) {
			continue // left unbilled, to be set against later work
		}
		if err != nil {
			return nil, err
		}
		drafts = append(drafts, draft)
	}
	return drafts, nil
}

func (s *session) makeDraft(jobs []readyJob, run billRun) (int64, error) {
	ids := make([]int64, len(jobs))
	for i, j := range jobs {
		ids[i] = j.JobID
	}
	sources, err := s.readySources(ids, run.through)
	if err != nil {
		return 0, err
	}
	customer, _, err := store.One[store.Customer](s.Tx, jobs[0].CustomerID)
	if err != nil {
		return 0, err
	}
	terms := s.company.TermsDays
	if customer.TermsDays != nil {
		terms = *customer.TermsDays
	}
	draft := store.Invoice{
		Status: "draft", CustomerID: customer.ID, Date: run.date, Due: run.date + calendar.Date(terms), Grouping: string(billing.ByTrade), Currency: s.currency.Code,
		Title: draftTitle(sources), Version: 1,
	}
	s.address(&draft, customer)
	if _, err := s.totals(sources); err != nil {
		return 0, err
	}
	if err := s.Create(&draft).Error; err != nil {
		return 0, err
	}
	rows := make([]store.InvoiceSource, len(sources))
	for i, src := range sources {
		rows[i] = store.InvoiceSource{InvoiceID: draft.ID, EntryID: store.Ref(src.EntryID), CostLineID: store.Ref(src.CostLineID), Part: 1, Charge: src.Amount, Amount: src.Amount}
	}
	if err := s.CreateInBatches(&rows, 500).Error; err != nil {
		return 0, err
	}
	if err := s.layOut(&draft); err != nil {
		return 0, err
	}
	return draft.ID, s.record("made a draft", "invoice", draft.ID, nil, map[string]string{"total": s.money(draft.Total)})
}

func (s *session) address(draft *store.Invoice, customer store.Customer) {
	draft.CompanyName, draft.CompanyAddress, draft.CompanyEmail = s.company.CompanyName, s.company.Address, s.company.Email
	draft.CustomerName, draft.CustomerAddress = customer.Name, customer.Address
}

func draftTitle(sources []draftSource) string {
	first, last := sources[0].Date, sources[0].Date
	var jobs []string
	for _, src := range sources {
		first, last = min(first, src.Date), max(last, src.Date)
		name := src.JobNumber + " " + src.JobName
		if !slices.Contains(jobs, name) {
			jobs = append(jobs, name)
		}
	}
	if len(jobs) > 3 {
		jobs = append(jobs[:3], fmt.Sprintf("%d more", len(jobs)-3))
	}
	period := last.Time().Format("2 January 2006")
	switch {
	case first.Year() != last.Year():
		period = first.Time().Format("2 January 2006") + " to " + period
	case first != last:
		period = first.Time().Format("2 January") + " to " + period
	}
	return strings.Join(jobs, ", ") + ", " + period
}

// draftSource is an entry or cost line as an invoice names it.
type draftSource struct {
	SourceID   int64 // of invoice_sources, 0 before it is on one
	EntryID    int64
	CostLineID int64
	JobID      int64
	JobNumber  string
	JobName    string
	PhaseID    *int64
	Category   string
	Date       calendar.Date
	Amount     money.Amount
	Minutes    money.Minutes
	Quantity   money.Quantity
	Unit       string
	Worker     string
	Trade      string
	CostCode   string
	Phase      string
	Text       string
	TaxCodeID  *int64
	Retainage  money.Percent
	// What the sources are sorted by.
	NumberOrder string
	KindOrder   int
	InOrder     int64
}

const (
	sourceColumns = `j.id AS job_id, j.number AS job_number, j.name AS job_name, j.retainage, j.number_order,
  CASE WHEN c.tax_exempt = 1 THEN NULL ELSE coalesce(j.tax_code_id, c.tax_code_id, (SELECT tax_code_id FROM company)) END AS tax_code_id,
  ifnull(p.name, '') AS phase, `
	sourceJoins = ` JOIN jobs j ON j.id = x.job_id JOIN customers c ON c.id = j.customer_id LEFT JOIN phases p ON p.id = x.phase_id `

	entrySource = sourceColumns + `x.id AS entry_id, 0 AS cost_line_id, x.phase_id, 'labour' AS category, x.date, x.charge AS amount, x.minutes, 0 AS quantity, 'h' AS unit,
  w.name AS worker, ifnull(t.name, '') AS trade, ifnull(k.name, '') AS cost_code, w.name AS text, x.id AS in_order, 0 AS kind_order`
	entryJoins = sourceJoins + ` JOIN workers w ON w.id = x.worker_id LEFT JOIN trades t ON t.id = w.trade_id LEFT JOIN cost_codes k ON k.id = x.cost_code_id `

	lineSource = sourceColumns + `0 AS entry_id, x.id AS cost_line_id, x.phase_id, x.category, x.date, x.charge AS amount, 0 AS minutes, x.quantity, x.unit,
  '' AS worker, '' AS trade, '' AS cost_code, CASE WHEN x.description = '' THEN d.supplier ELSE x.description END AS text, x.id AS in_order, 1 AS kind_order`
	lineJoins = sourceJoins + ` JOIN cost_documents d ON d.id = x.document_id `

	sourceOrder = ` ORDER BY number_order, kind_order, date, in_order`
)

func (s *session) readySources(jobs []int64, through calendar.Date) ([]draftSource, error) {
	ready := ` WHERE x.status = 'approved' AND x.charge IS NOT NULL AND x.invoice_id IS NULL AND x.job_id IN ? AND x.date <= ?`
	return store.Query[draftSource](s.Tx, `SELECT `+entrySource+` FROM time_entries x`+entryJoins+ready+
		` UNION ALL SELECT `+lineSource+` FROM cost_lines x`+lineJoins+ready+sourceOrder, jobs, through, jobs, through)
}

func (s *session) sourcesOf(invoice int64) ([]draftSource, error) {
	return store.Query[draftSource](s.Tx, `SELECT i.id AS source_id, `+entrySource+` FROM invoice_sources i JOIN time_entries x ON x.id = i.entry_id`+entryJoins+
		` WHERE i.invoice_id = ? UNION ALL SELECT i.id AS source_id, `+lineSource+` FROM invoice_sources i JOIN cost_lines x ON x.id = i.cost_line_id`+lineJoins+
		` WHERE i.invoice_id = ?`+sourceOrder, invoice, invoice)
}

func coreSources(sources []draftSource) []billing.Source {
	out := make([]billing.Source, len(sources))
	for i, src := range sources {
		out[i] = billing.Source{
			Job: src.JobID, TaxCode: store.ID(src.TaxCodeID), Category: src.Category, Date: src.Date, Amount: src.Amount, Minutes: src.Minutes, Quantity: src.Quantity,
			Unit: src.Unit, Worker: src.Worker, Trade: src.Trade, CostCode: src.CostCode, Phase: src.Phase, Text: src.Text,
		}
	}
	return out
}

func (s *session) totals(sources []draftSource) (billing.Totals, error) {
	rows, err := store.All[store.TaxComponent](s.Tx, "tax_code_id, id")
	if err != nil {
		return billing.Totals{}, err
	}
	components := make([]billing.TaxComponent, len(rows))
	for i, r := range rows {
		components[i] = billing.TaxComponent{Code: r.TaxCodeID, Name: r.Component, Percent: r.Percent, AppliesTo: strings.Fields(r.AppliesTo)}
	}
	retainage := map[int64]money.Percent{}
	for _, src := range sources {
		retainage[src.JobID] = src.Retainage
	}
	return billing.Add(coreSources(sources), components, retainage)
}

// layOut works a draft out again from its sources as they are now: lines, taxes, shares, totals.
func (s *session) layOut(draft *store.Invoice) error {
	sources, err := s.sourcesOf(draft.ID)
	if err != nil {
		return err
	}
	totals, err := s.totals(sources)
	if err != nil {
		return err
	}
	for _, table := range []string{"invoice_lines", "invoice_taxes", "invoice_jobs", "invoice_phases"} {
		if err := s.Exec("DELETE FROM "+table+" WHERE invoice_id = ?", draft.ID).Error; err != nil {
			return err
		}
	}
	if err := s.layLines(draft, sources); err != nil {
		return err
	}
	if err := s.layShares(draft.ID, sources, totals); err != nil {
		return err
	}
	draft.Subtotal, draft.Tax, draft.Total, draft.Retainage, draft.DueNow = totals.Subtotal, totals.Tax, totals.Total, totals.Retainage, totals.DueNow
	draft.Title = draftTitle(sources)
	return s.Model(draft).Select("subtotal", "tax", "total", "retainage", "due_now", "grouping", "title", "version").Updates(draft).Error
}

func (s *session) layLines(draft *store.Invoice, sources []draftSource) error {
	for position, line := range billing.Group(coreSources(sources), billing.Grouping(draft.Grouping)) {
		row := store.InvoiceLine{
			InvoiceID: draft.ID, Position: position + 1, JobID: line.Job, Category: line.Category, Text: line.Text, Minutes: line.Minutes,
			Quantity: line.Quantity, Unit: line.Unit, Amount: line.Amount,
		}
		if err := s.Create(&row).Error; err != nil {
			return err
		}
		ids := make([]int64, len(line.Sources))
		for i, at := range line.Sources {
			ids[i] = sources[at].SourceID
		}
		for chunk := range slices.Chunk(ids, 500) {
			if err := s.Exec("UPDATE invoice_sources SET invoice_line_id = ? WHERE id IN ?", row.ID, chunk).Error; err != nil {
				return err
			}
		}
	}
	for _, src := range sources {
		if err := s.Exec("UPDATE invoice_sources SET charge = ?, amount = ? WHERE id = ? AND amount <> ?", src.Amount, src.Amount, src.SourceID, src.Amount).Error; err != nil {
			return err
		}
	}
	return nil
}

func (s *session) layShares(invoice int64, sources []draftSource, totals billing.Totals) error {
	codes, err := store.All[store.TaxCode](s.Tx, "id")
	if err != nil {
		return err
	}
	for i, tax := range totals.Taxes {
		code := codes[slices.IndexFunc(codes, func(c store.TaxCode) bool { return c.ID == tax.Component.Code })].Code
		row := store.InvoiceTax{InvoiceID: invoice, Position: i + 1, TaxCode: code, Component: tax.Component.Name, Percent: tax.Component.Percent, Base: tax.Base, Amount: tax.Tax}
		if err := s.Create(&row).Error; err != nil {
			return err
		}
	}
	for _, j := range totals.Jobs {
		row := store.InvoiceJob{InvoiceID: invoice, JobID: j.Job, Subtotal: j.Subtotal, RetainagePercent: j.RetainagePercent, Retainage: j.Retainage}
		if err := s.Create(&row).Error; err != nil {
			return err
		}
	}
	return s.layParts(invoice, sources)
}

// layParts keeps what an invoice bills of each phase, so that a phase with a basis of its own earns its own.
func (s *session) layParts(invoice int64, sources []draftSource) error {
	type part struct{ job, phase int64 }
	amounts := map[part]money.Amount{}
	var parts []part
	for _, src := range sources {
		p := part{src.JobID, store.ID(src.PhaseID)}
		if _, ok := amounts[p]; !ok {
			parts = append(parts, p)
		}
		amounts[p] += src.Amount
	}
	for _, p := range parts {
		if err := s.Create(&store.InvoicePhase{InvoiceID: invoice, JobID: p.job, PhaseID: store.Ref(p.phase), Amount: amounts[p]}).Error; err != nil {
			return err
		}
	}
	return nil
}

// refreshDraft brings a draft up to date after the costing step moved what is on it. What has no charge
// any more leaves it; a draft with nothing left, or below 0, is dropped.
func (s *session) refreshDraft(draftID int64) error {
	draft, found, err := store.One[store.Invoice](s.Tx, draftID)
	if err != nil || !found || draft.Status != "draft" {
		return err
	}
	err = s.Exec(`DELETE FROM invoice_sources WHERE invoice_id = ? AND (
		entry_id IN (SELECT id FROM time_entries WHERE invoice_id = ? AND charge IS NULL) OR
		cost_line_id IN (SELECT id FROM cost_lines WHERE invoice_id = ? AND charge IS NULL))`, draftID, draftID, draftID).Error
	if err != nil {
		return err
	}
	var left int64
	if err := s.Model(&store.InvoiceSource{}).Where("invoice_id = ?", draftID).Count(&left).Error; err != nil {
		return err
	}
	if left == 0 {
		return s.dropDraft(draft)
	}
	draft.Version++
	if err := s.layOut(&draft); !errors.Is(err, billing.ErrNegative) {
		return err
	}
	return s.dropDraft(draft)
}

func (s *session) dropDraft(draft store.Invoice) error {
	if err := s.Exec("DELETE FROM invoice_sources WHERE invoice_id = ?", draft.ID).Error; err != nil {
		return err
	}
	if err := s.Delete(&store.Invoice{}, draft.ID).Error; err != nil {
		return err
	}
	return s.record("dropped a draft", "invoice", draft.ID, map[string]string{"total": s.money(draft.Total)}, nil)
}

// draftAt loads a draft that a person saw at a version; what has changed since comes with the refusal.
func (s *session) draftAt(draftID, version int64) (store.Invoice, error) {
	draft, found, err := store.One[store.Invoice](s.Tx, draftID)
	switch {
	case err != nil:
		return draft, err
	case !found:
		return draft, notFound("invoice")
	case draft.Status != "draft":
		return draft, conflict("this invoice has been issued and never changes")
	case draft.Version != version:
		current, err := s.invoice(draftID)
		if err != nil {
			return draft, err
		}
		return draft, &Error{Kind: KindConflict, Message: "this draft has changed since you opened it; here it is as it stands now", Current: current}
	}
	return draft, nil
}

// Regroup changes how much detail the customer sees. The total stays.
func (a *App) Regroup(ctx context.Context, actor Actor, draftID, version int64, grouping string) (InvoiceView, error) {
	return Write(ctx, a, actor, Bill, func(s *session) (view InvoiceView, _ error) {
		if !slices.Contains(billing.Groupings, billing.Grouping(grouping)) {
			return view, invalid("grouping", "%q is not a grouping", grouping)
		}
		draft, err := s.draftAt(draftID, version)
		if err != nil {
			return view, err
		}
		draft.Grouping = grouping
		draft.Version++
		if err := s.layOut(&draft); err != nil {
			return view, err
		}
		view, err = s.invoice(draftID)
		return view, err
	})
}

// DropDraft takes a draft away; what was on it is ready to bill again. No number is used up.
func (a *App) DropDraft(ctx context.Context, actor Actor, draftID, version int64) error {
	return Change(ctx, a, actor, Bill, func(s *session) error {
		draft, err := s.draftAt(draftID, version)
		if err != nil {
			return err
		}
		return s.dropDraft(draft)
	})
}

// Issue gives a draft its number. From then on it and what it bills never change.
func (a *App) Issue(ctx context.Context, actor Actor, draftID, version int64) (InvoiceView, error) {
	return Write(ctx, a, actor, Bill, func(s *session) (view InvoiceView, _ error) {
		draft, err := s.draftAt(draftID, version)
		if err != nil {
			return view, err
		}
		if _, err := s.issue(draft); err != nil {
			return view, err
		}
		view, err = s.invoice(draftID)
		return view, err
	})
}

func (s *session) issue(draft store.Invoice) (store.Invoice, error) {
	customer, _, err := store.One[store.Customer](s.Tx, draft.CustomerID)
	if err != nil {
		return draft, err
	}
	number, at := s.company.NextInvoiceNumber, s.app.now().UnixMilli()
	s.company.NextInvoiceNumber++
	if err := s.Model(&s.company).Update("next_invoice_number", s.company.NextInvoiceNumber).Error; err != nil {
		return draft, err
	}
	s.address(&draft, customer)
	draft.Status, draft.Number, draft.Prefix, draft.IssuedAt = "issued", &number, s.company.InvoicePrefix, &at
	draft.Version++
	draft.Seal = draft.Sealed()
	if err := s.Save(&draft).Error; err != nil {
		return draft, err
	}
	return draft, s.record("issued", "invoice", draft.ID, nil, map[string]string{"number": draft.NumberText(), "dueNow": s.money(draft.DueNow)})
}
