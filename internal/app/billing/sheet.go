package billing

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/history"
	"jarvo/internal/app/limits"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// ReadyRow is a job with something ready to bill.
type ReadyRow struct {
	JobID       int64             `json:"jobId"`
	Job         string            `json:"job"`
	Name        string            `json:"name"`
	Customer    string            `json:"customer"`
	Kinds       map[string]string `json:"kinds" doc:"charge by category; absent where there is none"`
	Total       string            `json:"total" format:"decimal"`
	Oldest      string            `json:"oldest" format:"date"`
	AgeDays     int64             `json:"ageDays"`
	Late        bool              `json:"late" doc:"waiting longer than the company's limit"`
	BilledSoFar string            `json:"billedSoFar" format:"decimal"`
	OnDraft     string            `json:"onDraft,omitempty" doc:"what drafts hold of this job"`
	Limit       string            `json:"limit,omitempty" format:"decimal" doc:"agreed not to exceed, of the job and its phases; absent: none"`
	Used        string            `json:"used,omitempty" format:"decimal" doc:"of the limit: billed and on drafts"`
	Held        string            `json:"held,omitempty" format:"decimal" doc:"held back by the limit"`
	NearLimit   bool              `json:"nearLimit,omitempty" doc:"a fifth of the limit or less is left"`
}

// NotReadyRow is work that can't go on an invoice yet, why, and where to settle it.
type NotReadyRow struct {
	Reason string        `json:"reason"`
	What   string        `json:"what"`
	Detail string        `json:"detail"`
	Amount string        `json:"amount" format:"decimal" doc:"charge, or cost where AtCost"`
	AtCost bool          `json:"atCost"`
	Step   string        `json:"step" doc:"what settles it"`
	Link   register.Link `json:"link" doc:"where it is settled"`
	HeldOf int64         `json:"heldOf,omitempty" doc:"the job whose work is held, which is let go in place"`
	OverOf string        `json:"overOf,omitempty" doc:"the number of the job whose limit holds work back, which is let go beyond it in place"`
}

// DraftRow is a draft or an issued invoice in a list.
type DraftRow struct {
	ID       int64         `json:"id"`
	Number   string        `json:"number"`
	Customer string        `json:"customer"`
	Title    string        `json:"title"`
	Date     string        `json:"date" format:"date"`
	Due      string        `json:"due" format:"date"`
	Subtotal string        `json:"subtotal" format:"decimal"`
	Tax      string        `json:"tax" format:"decimal"`
	DueNow   string        `json:"dueNow" format:"decimal"`
	Paid     string        `json:"paid" format:"decimal"`
	Balance  string        `json:"balance" format:"decimal"`
	DaysLate int64         `json:"daysLate"`
	Version  int64         `json:"version"`
	Trail    history.Trail `json:"trail"`
	CreditOn string        `json:"creditOn,omitempty" doc:"of a credit note: the number of the invoice that it is on"`
}

// BillSheet is the Bill tab: what is ready, what is not, drafts and issued invoices.
type BillSheet struct {
	Ready    []ReadyRow    `json:"ready"`
	Stages   []StageRow    `json:"stages" doc:"jobs with a fixed price, and what of it comes next"`
	Retained []RetainedRow `json:"retained" doc:"jobs of which customers hold something back"`
	Deposits []DepositRow  `json:"deposits" doc:"deposits of which something is open"`
	NotReady []NotReadyRow `json:"notReady"`
	Drafts   []DraftRow    `json:"drafts"`
	Issued   []DraftRow    `json:"issued"`
	Totals   BillTotals    `json:"totals"`
}

// BillTotals are the sums of the lists of the Bill tab.
type BillTotals struct {
	Kinds       map[string]string `json:"kinds"`
	Ready       string            `json:"ready" format:"decimal"`
	BilledSoFar string            `json:"billedSoFar" format:"decimal"`
	Drafts      string            `json:"drafts" format:"decimal"`
	Issued      string            `json:"issued" format:"decimal"`
	Paid        string            `json:"paid" format:"decimal"`
	Balance     string            `json:"balance" format:"decimal"`
	Overdue     string            `json:"overdue" format:"decimal"`
}

// KindSum is what is ready of one kind of work on a job.
type KindSum struct {
	JobID    int64
	Category string
	Charge   money.Amount
	Oldest   calendar.Date
}

// Sheet is the Bill tab in a scope: work up to the scope's last date since whenever, all drafts, and the invoices issued in its dates.
func Sheet(ctx context.Context, b *book.Book, actor book.Actor, q scope.ScopeQuery) (BillSheet, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (sheet BillSheet, _ error) {
		sc, err := scope.Of(s, q)
		if err != nil {
			return sheet, err
		}
		uses, err := limits.Of(s.Tx, sc.Job)
		if err != nil {
			return sheet, err
		}
		if err := ready(s, &sheet, sc, uses); err != nil {
			return sheet, err
		}
		if sheet.Stages, err = stages(s, sc.Job, sc.End()); err != nil {
			return sheet, err
		}
		if sheet.Retained, err = retained(s, sc.Job); err != nil {
			return sheet, err
		}
		if sheet.Deposits, err = openDeposits(s, sc.Job); err != nil {
			return sheet, err
		}
		if sheet.NotReady, err = notReady(s, sc); err != nil {
			return sheet, err
		}
		held, err := heldBack(s, uses)
		if err != nil {
			return sheet, err
		}
		later, err := heldForLater(s, sc)
		if err != nil {
			return sheet, err
		}
		sheet.NotReady = append(append(held, later...), sheet.NotReady...)
		if sheet.Drafts, err = drafts(s, sc); err != nil {
			return sheet, err
		}
		err = issuedList(s, &sheet, sc)
		return sheet, err
	})
}

type jobHead struct {
	JobID                  int64
	Number, Name, Customer string
	Billed, OnDraft        money.Amount
}

func ready(s *book.Session, sheet *BillSheet, sc scope.Scope, uses []limits.Use) error {
	// Ready to bill asks up to when, not since when: what waits longest must not fall out of sight.
	sums, err := readySums(s, sc)
	if err != nil {
		return err
	}
	if sums, err = withoutHeld(s, sums, sc); err != nil {
		return err
	}
	slices.SortStableFunc(sums, func(a, b KindSum) int { return cmp.Compare(a.JobID, b.JobID) })
	byJob := make(map[int64][]KindSum, len(sums)/2)
	for from := 0; from < len(sums); {
		to := from + 1
		for to < len(sums) && sums[to].JobID == sums[from].JobID {
			to++
		}
		byJob[sums[from].JobID] = sums[from:to]
		from = to
	}
	sheet.Ready = make([]ReadyRow, 0, len(byJob))
	heads, err := store.Query[jobHead](s.Tx, jobHeads, map[string]any{"job": sc.Job})
	if err != nil {
		return err
	}
	ofJob := map[int64][]limits.Use{}
	for _, u := range uses {
		ofJob[u.JobID] = append(ofJob[u.JobID], u)
	}
	today := s.Today()
	totals := map[string]money.Amount{}
	var all, billed money.Amount
	for _, h := range heads {
		kinds := byJob[h.JobID]
		if len(kinds) == 0 {
			continue
		}
		row := ReadyRow{
			JobID: h.JobID, Job: h.Number, Name: h.Name, Customer: h.Customer, Kinds: make(map[string]string, len(kinds)),
			BilledSoFar: s.Money(h.Billed),
		}
		if h.OnDraft != 0 {
			row.OnDraft = s.Money(h.OnDraft)
		}
		row.limited(s, ofJob[h.JobID])
		var total money.Amount
		oldest := kinds[0].Oldest
		for _, k := range kinds {
			if k.Charge != 0 {
				row.Kinds[k.Category] = s.Money(k.Charge)
			}
			totals[k.Category] += k.Charge
			total += k.Charge
			oldest = min(oldest, k.Oldest)
		}
		row.Total, row.Oldest, row.AgeDays = s.Money(total), oldest.String(), int64(today-oldest)
		row.Late = row.AgeDays > s.Company.UnbilledAlertDays
		all += total
		billed += h.Billed
		sheet.Ready = append(sheet.Ready, row)
	}
	sheet.Totals = BillTotals{Kinds: map[string]string{}, Ready: s.Money(all), BilledSoFar: s.Money(billed)}
	for k, v := range totals {
		sheet.Totals.Kinds[k] = s.Money(v)
	}
	return nil
}

// readySums is what is ready by job and kind.
func readySums(s *book.Session, sc scope.Scope) ([]KindSum, error) {
	type jobSum struct {
		JobID                                                      int64
		Oldest                                                     calendar.Date
		Labour, Material, Equipment, Subcontract, Expense, Mileage money.Amount
	}
	rows, err := store.Query[jobSum](s.Tx, readyKinds, map[string]any{"through": sc.End(), "job": sc.Job})
	sums := make([]KindSum, 0, 4*len(rows))
	for _, r := range rows {
		sums = append(sums, KindSum{r.JobID, billing.Labour, r.Labour, r.Oldest})
		for i, charge := range []money.Amount{r.Material, r.Equipment, r.Subcontract, r.Expense, r.Mileage} {
			if charge != 0 {
				sums = append(sums, KindSum{r.JobID, pricing.Categories[i], charge, r.Oldest})
			}
		}
	}
	return sums, err
}

// withoutHeld leaves out what is held for later.
func withoutHeld(s *book.Session, sums []KindSum, sc scope.Scope) ([]KindSum, error) {
	jobs, err := store.Query[int64](s.Tx, "SELECT DISTINCT job_id FROM held_work")
	if err != nil || len(jobs) == 0 {
		return sums, err
	}
	if sc.Job != 0 {
		jobs = slices.DeleteFunc(jobs, func(id int64) bool { return id != sc.Job })
	}
	unheld, err := store.Query[KindSum](s.Tx, unheldKinds, map[string]any{"jobs": jobs, "through": sc.End()})
	sums = slices.DeleteFunc(sums, func(k KindSum) bool { return slices.Contains(jobs, k.JobID) })
	return append(sums, unheld...), err
}

// limited says how much of the limits of a job is used.
func (r *ReadyRow) limited(s *book.Session, uses []limits.Use) {
	var agreed, used, held money.Amount
	for _, u := range uses {
		agreed, used, held = agreed+u.Agreed, used+u.Used, held+u.Held
		r.NearLimit = r.NearLimit || u.Near()
	}
	if len(uses) > 0 {
		r.Limit, r.Used = s.Money(agreed), s.Money(used)
	}
	if held != 0 {
		r.Held = s.Money(held)
	}
}

// heldBack are the jobs of which a limit holds something back, and why.
func heldBack(s *book.Session, uses []limits.Use) ([]NotReadyRow, error) {
	uses = slices.DeleteFunc(slices.Clone(uses), func(u limits.Use) bool { return u.Held == 0 })
	ids := make([]int64, len(uses))
	for i, u := range uses {
		ids[i] = u.JobID
	}
	type name struct {
		ID           int64
		Number, Name string
	}
	names, err := store.Query[name](s.Tx, "SELECT id, number, name FROM jobs WHERE id IN ?", ids)
	if err != nil {
		return nil, err
	}
	byID := make(map[int64]name, len(names))
	for _, j := range names {
		byID[j.ID] = j
	}
	var rows []NotReadyRow
	for _, u := range uses {
		job := byID[u.JobID]
		rows = append(rows, NotReadyRow{
			Reason: "Over the limit", What: job.Number + " " + job.Name,
			Detail: fmt.Sprintf("%s agreed, %s billed or on drafts, %s ready", s.Money(u.Agreed), s.Money(u.Used), s.Money(u.Ready)),
			Amount: s.Money(u.Held), Step: "Raise the limit", Link: register.Link{Kind: "terms", ID: job.Number}, OverOf: job.Number,
		})
	}
	return rows, nil
}

func notReady(s *book.Session, sc scope.Scope) ([]NotReadyRow, error) {
	type waiting struct {
		ID           int64
		Status       string
		Number, Who  string
		Lines        int64
		Minutes      money.Minutes
		Charge, Cost money.Amount
		First        calendar.Date
	}
	args := map[string]any{"through": sc.End(), "job": sc.Job}
	var rows []NotReadyRow
	hours, err := store.Query[waiting](s.Tx, notReadyHours, args)
	if err != nil {
		return nil, err
	}
	for _, h := range hours {
		row := NotReadyRow{
			Reason: "Not approved", What: register.CrewName(h.Who), Detail: fmt.Sprintf("%s h since %s", h.Minutes.Hours(), h.First),
			Amount: s.Money(h.Charge), Step: "Open in Approve", Link: register.Link{Kind: "approve"},
		}
		if h.Status == store.Draft {
			row.Reason, row.Step = "Not handed in", "Open the crew sheet"
			row.Link = register.Link{Kind: "crew_week", Crew: h.Who, ID: h.First.WeekStart(book.WeekStart(s.Company)).String()}
		}
		rows = append(rows, row)
	}
	papers, err := store.Query[waiting](s.Tx, notReadyPapers, args)
	if err != nil {
		return nil, err
	}
	for _, p := range papers {
		rows = append(rows, NotReadyRow{
			Reason: "Not approved", What: p.Who, Detail: strings.TrimSpace(p.Number + " " + words.Counted(p.Lines, "line")),
			Amount: s.Money(p.Charge), Step: "Open in Approve", Link: register.Link{Kind: "approve"},
		})
	}
	unpriced, err := store.Query[waiting](s.Tx, notReadyUnpriced, args)
	if err != nil {
		return nil, err
	}
	for _, u := range unpriced {
		args["worker"] = u.ID
		on, err := store.Query[string](s.Tx, jobsUnpriced, args)
		if err != nil {
			return nil, err
		}
		where := "job " + strings.Join(on, "")
		switch {
		case len(on) > 3:
			where = "jobs " + strings.Join(on[:3], ", ") + " and others"
		case len(on) > 1:
			where = "jobs " + strings.Join(on, ", ")
		}
		rows = append(rows, NotReadyRow{
			Reason: "No rate", What: u.Who,
			Detail: fmt.Sprintf("%s h on %s; no card has a rate", u.Minutes.Hours(), where),
			Amount: s.Money(u.Cost), AtCost: true, Step: "Add the rate", Link: register.Link{Kind: "labour_rate"},
		})
	}
	return rows, nil
}

// drafts lists all drafts, of a job or of all, whatever their dates: one that is out of sight is money that is not asked for.
func drafts(s *book.Session, sc scope.Scope) ([]DraftRow, error) {
	rows, err := store.Query[InvoiceRow](s.Tx, InvoiceRows+` WHERE i.status = 'draft' AND (@job = 0 OR i.id IN (SELECT invoice_id
		FROM invoice_jobs WHERE job_id = @job)) ORDER BY i.id`,
		map[string]any{"job": sc.Job})
	return draftRows(s, rows), err
}

// draftsWith lists drafts by their ids.
func draftsWith(s *book.Session, ids []int64) ([]DraftRow, error) {
	rows, err := store.Query[InvoiceRow](s.Tx, InvoiceRows+" WHERE i.id IN ? ORDER BY i.id", ids)
	return draftRows(s, rows), err
}

func draftRows(s *book.Session, rows []InvoiceRow) []DraftRow {
	out := make([]DraftRow, len(rows))
	for i, r := range rows {
		out[i] = draftRow(s, r)
	}
	return out
}

func issuedList(s *book.Session, sheet *BillSheet, sc scope.Scope) error {
	rows, err := store.Query[InvoiceRow](s.Tx, InvoiceRows+` WHERE i.status = 'issued' AND i.date BETWEEN @from AND @to
		AND (@job = 0 OR i.id IN (SELECT invoice_id FROM invoice_jobs WHERE job_id = @job))
		ORDER BY i.number DESC`, map[string]any{"from": sc.From, "to": sc.End(), "job": sc.Job})
	if err != nil {
		return err
	}
	var issued, paid, open, overdue money.Amount
	for _, r := range rows {
		row := draftRow(s, r)
		issued += r.DueNow
		paid += r.Paid
		open += r.Left
		if row.DaysLate > 0 {
			overdue += r.Left
		}
		sheet.Issued = append(sheet.Issued, row)
	}
	drafts, err := store.Value[money.Amount](s.Tx, draftsDue, map[string]any{"job": sc.Job})
	if err != nil {
		return err
	}
	t := &sheet.Totals
	t.Drafts, t.Issued, t.Paid, t.Balance, t.Overdue = s.Money(drafts), s.Money(issued), s.Money(paid), s.Money(open),
		s.Money(overdue)
	return nil
}

func draftRow(s *book.Session, r InvoiceRow) DraftRow {
	row := DraftRow{
		ID: r.ID, Version: r.Version, Number: r.NumberText(), Customer: r.Customer, Title: r.Title, Date: r.Date.String(), Due: r.Due.String(),
		Subtotal: s.Money(r.Subtotal), Tax: s.Money(r.Tax), DueNow: s.Money(r.DueNow), Paid: s.Money(r.Paid),
		Balance: s.Money(r.Left), CreditOn: r.CreditOn,
	}
	stage := "drafted"
	if r.Status == store.Issued {
		stage = "billed"
		if r.Settled {
			stage = "paid"
		} else if today := s.Today(); today > r.Due {
			row.DaysLate = int64(today - r.Due)
		}
	}
	row.Trail = history.TrailOf(stage, true, row.Number)
	return row
}
