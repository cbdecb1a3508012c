// Package reports makes the tables of docs/bundle.md that others compute with.
package reports

import (
	"cmp"
	"context"
	"math/big"
	"slices"
	"strconv"
	"strings"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/receivable"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/timesheet"
	billed "jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// Report is a table of docs/bundle.md: its columns, and the rows as they are shown.
type Report struct {
	Name    string
	Columns []string
	Rows    [][]string
}

// textColumns are the columns that hold texts and dates; all others hold figures.
var textColumns = []string{
	"ref", "worker", "date", "job", "phase", "cost_code", "status", "document", "line", "category", "customer", "oldest", "number", "due",
	"jobs", "name", "basis",
	"invoice", "section", "text", "unit",
}

// IsNumber says whether a column holds figures.
func (r Report) IsNumber(column int) bool { return !slices.Contains(textColumns, r.Columns[column]) }

// IsDate says whether a column holds dates.
func (r Report) IsDate(column int) bool {
	return slices.Contains([]string{"date", "due", "oldest"}, r.Columns[column])
}

// IsSummed says whether a column has a sum: percentages have none, nor have quantities of unlike units, nor the lines of one invoice, which
// hold their sum.
func (r Report) IsSummed(column int) bool {
	return r.IsNumber(column) && !slices.Contains([]string{"margin", "quantity"}, r.Columns[column]) && r.Columns[0] != "invoice"
}

// Sum is what the figures of a column come to, with as many decimals as they have; blank where there are none.
func (r Report) Sum(column int) string {
	sum, decimals, found := new(big.Rat), 0, false
	for _, row := range r.Rows {
		figure, ok := new(big.Rat).SetString(row[column])
		if !ok {
			continue
		}
		_, fraction, _ := strings.Cut(row[column], ".")
		decimals, found = max(decimals, len(fraction)), true
		sum.Add(sum, figure)
	}
	if !found {
		return ""
	}
	return sum.FloatString(decimals)
}

// ReportQuery limits a report to a job and to dates; zero values do not limit.
type ReportQuery struct {
	Job           string
	From, Through calendar.Date
}

type reportFunc func(*book.Session, scope.Scope) ([][]string, error)

var reports = map[string]struct {
	columns string
	rows    reportFunc
}{
	"labour": {
		"ref,worker,date,job,phase,cost_code,status,hours,regular_minutes,overtime_minutes,double_minutes,leave_minutes,gross,burden," +
			"cost,charge",
		labourReport,
	},
	"costs":    {"document,line,date,category,job,phase,cost_code,status,base,landed,charge", costsReport},
	"unbilled": {"job,customer,labour,material,equipment,subcontract,expense,mileage,total,oldest", unbilledReport},
	"invoices": {
		"number,customer,date,due,jobs,subtotal,tax,retainage,total,prepaid,due_now,credited,paid,balance", invoicesReport,
	},
	"job-profit": {
		"job,customer,name,basis,hours,labour_cost,other_cost,cost,pending_cost,billed,drafted,unbilled,held,earned,provision,profit,margin",
		profitReport,
	},
	"wip": {
		"job,customer,contract,expected,cost,pending_cost,earned,provision,profit,billed,over_billed,under_billed,backlog", wipReport,
	},
	"write-downs": {"date,invoice,customer,job,work,kind,amount,taken_back,left,reason", writeDownsReport},
	"receipts":    {"date,customer,payment,invoice,job,amount", receiptsReport},
	"aging-jobs":  {"customer,job,current,days_1_30,days_31_60,days_61_90,over_90,total,retained", agingJobsReport},
	"tax":         {"tax_code,component,percent,base,tax,papers", taxReport},
	"aging":       {"customer,current,days_1_30,days_31_60,days_61_90,over_90,total,credit,retained", agingReport},
}

// Names lists the reports.
func Names() []string {
	var names []string
	for name := range reports {
		names = append(names, name)
	}
	slices.Sort(names)
	return names
}

// Make makes a report.
func Make(ctx context.Context, b *book.Book, actor book.Actor, name string, q ReportQuery) (Report, error) {
	r, known := reports[name]
	if !known {
		return Report{}, refuse.Invalid("name", "there is no report %q; there are %s", name, strings.Join(Names(), ", "))
	}
	return book.Read(ctx, b, actor, book.SeeMoney, func(s *book.Session) (Report, error) {
		out := Report{Name: name, Columns: strings.Split(r.columns, ",")}
		sc := scope.Scope{From: q.From, To: q.Through}
		if q.From == 0 {
			sc.From = calendar.On(1900, 1, 1)
		}
		if q.Job != "" {
			job, err := register.JobByNumber(s, q.Job)
			if err != nil {
				return out, err
			}
			sc.Job = job.ID
		}
		var err error
		out.Rows, err = r.rows(s, sc)
		return out, err
	})
}

// StatusOf is the status of work as reports give it.
func StatusOf(status string, billed bool) string {
	if billed {
		return "billed"
	}
	return status
}

func labourReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	segments, err := costing.Segments(s, "date BETWEEN ? AND ?", sc.From, sc.End())
	if err != nil {
		return nil, err
	}
	entries, err := store.Query[timesheet.SheetEntry](s.Tx, timesheet.SheetEntries+` AND (? = 0 OR e.job_id = ?)
			ORDER BY e.ref`, sc.From, sc.End(), sc.Job, sc.Job)
	if err != nil {
		return nil, err
	}
	count := func(m money.Minutes) string { return strconv.FormatInt(int64(m), 10) }
	rows := make([][]string, 0, len(entries))
	for _, e := range entries {
		g := labour.Total(segments[e.ID])
		gross, burden := s.Money(g.Gross), s.Money(g.Burden)
		if e.Cost == nil {
			gross, burden = "", ""
		}
		rows = append(rows, []string{
			e.Ref, e.WorkerCode, e.Date.String(), e.JobNumber, e.PhaseCode, e.CodeCode, StatusOf(e.Status, e.Billed), e.Minutes.Hours(),
			count(g.ByClass[worktime.Regular]), count(g.ByClass[worktime.Overtime]), count(g.ByClass[worktime.Double]),
			count(g.ByClass[worktime.Leave]), gross, burden, s.Maybe(e.Cost), s.Maybe(e.Charge),
		})
	}
	return rows, nil
}

func costsReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	type line struct {
		store.CostLine
		Document, Job, Phase, CostCode, Void string
	}
	lines, err := store.Query[line](s.Tx, costRows, sc.From, sc.End(), sc.Job, sc.Job)
	rows := make([][]string, 0, len(lines))
	for _, l := range lines {
		status := StatusOf(l.Status, l.Billed)
		if l.Void != "" {
			status = "void"
		}
		rows = append(rows, []string{
			l.Document, l.Line, l.Date.String(), l.Category, l.Job, l.Phase, l.CostCode, status, s.Money(l.Base),
			s.Money(l.Landed), s.Maybe(l.Charge),
		})
	}
	return rows, err
}

func unbilledReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	sums, err := store.Query[billing.KindSum](s.Tx, readyBetween, sc.From, sc.End(), sc.From, sc.End())
	if err != nil {
		return nil, err
	}
	byJob := map[int64]map[string]billing.KindSum{}
	for _, k := range sums {
		if byJob[k.JobID] == nil {
			byJob[k.JobID] = map[string]billing.KindSum{}
		}
		byJob[k.JobID][k.Category] = k
	}
	jobs, err := store.Query[jobs.Head](s.Tx, jobsInOrder, sc.Job, sc.Job)
	var rows [][]string
	for _, j := range jobs {
		kinds := byJob[j.ID]
		if len(kinds) == 0 {
			continue
		}
		row := []string{j.Number, j.CustomerCode}
		var total money.Amount
		oldest := calendar.Date(1 << 30)
		for _, category := range slices.Concat([]string{billed.Labour}, pricing.Categories) {
			row = append(row, s.Money(kinds[category].Charge))
		}
		for _, k := range kinds {
			total += k.Charge
			oldest = min(oldest, k.Oldest)
		}
		rows = append(rows, append(row, s.Money(total), oldest.String()))
	}
	return rows, err
}

func invoicesReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	type row struct {
		store.Invoice
		Code                 string
		Paid, Credited, Left money.Amount
	}
	query := invoiceRows
	invoices, err := store.Query[row](s.Tx, query, sc.From, sc.End(), sc.Job, sc.Job)
	if err != nil {
		return nil, err
	}
	var rows [][]string
	for _, i := range invoices {
		jobs, err := store.Query[string](s.Tx, jobsOfInvoice, i.ID)
		if err != nil {
			return nil, err
		}
		rows = append(rows, []string{
			i.NumberText(), i.Code, i.Date.String(), i.Due.String(), strings.Join(jobs, " "), s.Money(i.Subtotal), s.Money(i.Tax),
			s.Money(i.Retainage), s.Money(i.Total), s.Money(i.Prepaid), s.Money(i.DueNow), s.Money(i.Credited), s.Money(i.Paid), s.Money(i.Left),
		})
	}
	return rows, nil
}

// writeDownsReport is what issued invoices wrote down and what credit notes allowed, by their date, with what was taken back of it.
func writeDownsReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	type row struct {
		Date                                     calendar.Date
		Invoice, Customer, Job, Work, Kind, Note string
		Amount, Back                             money.Amount
		Number, ID                               int64 // what they are sorted by
	}
	written, err := store.Query[row](s.Tx, writtenDownRows, map[string]any{"from": sc.From, "to": sc.End(), "job": sc.Job})
	rows := make([][]string, len(written))
	for i, w := range written {
		rows[i] = []string{
			w.Date.String(), w.Invoice, w.Customer, w.Job, w.Work, w.Kind, s.Money(w.Amount), s.Money(w.Back), s.Money(w.Amount - w.Back), w.Note,
		}
	}
	return rows, err
}

func profitReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	figures, err := jobs.Figures(s, sc.Job, calendar.Span{From: sc.From, To: sc.End()})
	var rows [][]string
	for _, j := range figures {
		m := jobs.MoneyOf(s, j.Labour, j.Other, j.Money)
		rows = append(rows, []string{
			j.Number, j.CustomerCode, j.Name, j.Basis, j.Minutes.Hours(), m.Labour, m.Other, m.Cost, m.Pending, m.Billed, m.Drafted, m.Unbilled,
			m.Held, m.Earned, m.Provision, m.Profit, m.Margin,
		})
	}
	return rows, err
}

// wipReport is how far fixed work has come: of each job all its fixed parts together. What is agreed, expected, billed over and under, and
// still to do is as of the end of the period.
func wipReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	figures, err := jobs.Figures(s, sc.Job, calendar.Span{From: sc.From, To: sc.End()})
	var rows [][]string
	for _, j := range figures {
		if !j.HasFixed {
			continue
		}
		in, now := j.Fixed, j.FixedNow
		expected, backlog := s.Money(now.Expected), ""
		if now.Unmeasured {
			expected = ""
		}
		if left, known := now.Backlog(); known {
			backlog = s.Money(left)
		}
		over := now.OverBilled()
		rows = append(rows, []string{
			j.Number, j.CustomerCode, s.Maybe(now.Contract), expected, s.Money(in.Cost), s.Money(in.Pending), s.Money(in.Earned),
			s.Money(in.Provision), s.Money(in.Profit), s.Money(in.Billed), s.Money(max(0, over)), s.Money(max(0, -over)), backlog,
		})
	}
	return rows, err
}

// agingReport is what customers owe at the end of a day, the last of the scope or today, by how long it is overdue, with what they have
// as credit and hold back.
func agingReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	type aside struct {
		Code             string
		Credit, Retained money.Amount
	}
	asOf := cmp.Or(sc.To, s.Today())
	invoices, err := receivable.OpenOn(s, receivable.InvoicesOf{From: sc.From, To: asOf, JobID: sc.Job})
	if err != nil {
		return nil, err
	}
	sums := map[string]*[5]money.Amount{}
	for _, i := range invoices {
		if sums[i.Customer] == nil {
			sums[i.Customer] = &[5]money.Amount{}
		}
		sums[i.Customer][billed.Aged(asOf-i.Due)] += i.Left
	}
	asides, err := store.Query[aside](s.Tx, besideOpen, map[string]any{"job": sc.Job, "from": sc.From, "day": asOf})
	var rows [][]string
	for _, a := range asides {
		if sums[a.Code] == nil {
			sums[a.Code] = &[5]money.Amount{}
		}
		row, total, owes := []string{a.Code}, money.Amount(0), a.Credit != 0 || a.Retained != 0
		for _, due := range sums[a.Code] {
			row = append(row, s.Money(due))
			total += due
			owes = owes || due != 0
		}
		if owes {
			rows = append(rows, append(row, s.Money(total), s.Money(a.Credit), s.Money(a.Retained)))
		}
	}
	return rows, err
}

// receiptsReport is what each job received of what was paid of its invoices (calculation.md section 12).
func receiptsReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	receipts, err := receivable.Receipts(s, receivable.InvoicesOf{From: sc.From, To: sc.End(), JobID: sc.Job})
	rows := make([][]string, len(receipts))
	for i, r := range receipts {
		rows[i] = []string{r.Date.String(), r.Customer, r.Payment, r.Invoice, r.Job, s.Money(r.Amount)}
	}
	return rows, err
}

// agingJobsReport is what is owed of each job, by how long it is overdue, and what is held back of it.
func agingJobsReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	asOf := cmp.Or(sc.To, s.Today())
	owed, err := receivable.OwedByJob(s, receivable.InvoicesOf{From: sc.From, To: asOf, JobID: sc.Job})
	if err != nil {
		return nil, err
	}
	type job struct {
		ID           int64
		Number, Code string
		Retained     money.Amount
		due          [5]money.Amount
		total        money.Amount
		hasOpen      bool
	}
	jobs, err := store.Query[job](s.Tx, retainedByJob, map[string]any{"from": sc.From, "day": asOf, "job": sc.Job})
	if err != nil {
		return nil, err
	}
	at := map[int64]*job{}
	for i := range jobs {
		at[jobs[i].ID] = &jobs[i]
	}
	for _, o := range owed {
		j := at[o.JobID]
		j.due[billed.Aged(asOf-o.Due)] += o.Amount
		j.total += o.Amount
		j.hasOpen = true
	}
	var rows [][]string
	for _, j := range jobs {
		if !j.hasOpen && j.Retained == 0 {
			continue
		}
		row := []string{j.Code, j.Number}
		for _, due := range j.due {
			row = append(row, s.Money(due))
		}
		rows = append(rows, append(row, s.Money(j.total), s.Money(j.Retained)))
	}
	return rows, nil
}

// taxReport is what was charged of each component of each tax code, and what was billed under codes without any, by the date of invoice or
// credit note.
func taxReport(s *book.Session, sc scope.Scope) ([][]string, error) {
	type row struct {
		TaxCode, Component string
		Percent            money.Percent
		Base, Tax          money.Amount
		Papers             int64
	}
	found, err := store.Query[row](s.Tx, taxRows, map[string]any{"from": sc.From, "to": sc.End(), "job": sc.Job})
	rows := make([][]string, len(found))
	for i, r := range found {
		rows[i] = []string{r.TaxCode, r.Component, r.Percent.String(), s.Money(r.Base), s.Money(r.Tax), strconv.FormatInt(r.Papers, 10)}
	}
	return rows, err
}
