// Package approve shows the work that waits, with what stands out in it, and approves or returns what the approver has seen.
package approve

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/form"
	"jarvo/internal/app/history"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// WaitingWeek is a worker's handed-in hours of a week.
type WaitingWeek struct {
	WorkerID int64         `json:"workerId"`
	Worker   string        `json:"worker"`
	Trade    string        `json:"trade"`
	Crew     string        `json:"crew"`
	Week     string        `json:"week" format:"date"`
	Days     []string      `json:"days" doc:"hours of each day of the week"`
	Hours    string        `json:"hours" format:"decimal"`
	Cost     string        `json:"cost" format:"decimal"`
	Charge   string        `json:"charge" format:"decimal"`
	Marks    []Mark        `json:"marks"`
	Entries  []Seen        `json:"entries"`
	Trail    history.Trail `json:"trail"`
}

// WaitingPaper is a handed-in cost document.
type WaitingPaper struct {
	DocumentID int64         `json:"documentId"`
	Title      string        `json:"title"`
	Detail     string        `json:"detail"`
	Lines      int64         `json:"lines"`
	Scans      int64         `json:"scans" doc:"attached to it"`
	Cost       string        `json:"cost" format:"decimal"`
	Charge     string        `json:"charge" format:"decimal"`
	Marks      []Mark        `json:"marks"`
	Version    int64         `json:"version"`
	Trail      history.Trail `json:"trail"`
}

// ApproveSheet is what waits for approval in a scope.
type ApproveSheet struct {
	Weeks  []WaitingWeek  `json:"weeks"`
	Papers []WaitingPaper `json:"papers"`
	Hours  string         `json:"hours" format:"decimal"`
	Cost   string         `json:"cost" format:"decimal"`
	Charge string         `json:"charge" format:"decimal"`
	// The lists are one page of it, the oldest first; the totals and these counts are of all.
	WeekCount  int64 `json:"weekCount"`
	PaperCount int64 `json:"paperCount"`
	Pages      int64 `json:"pages" doc:"1 where all of it is listed"`
}

// Question is which part of what waits is asked for.
type Question struct {
	scope.ScopeQuery
	Page int64 `query:"page" minimum:"0" maximum:"10000" doc:"0 for the oldest weeks and papers"`
}

// Seen is a record at the version at which somebody saw it.
type Seen struct {
	ID      int64 `json:"id"`
	Version int64 `json:"version"`
}

// Decision approves or returns handed-in work, as it was seen.
type Decision struct {
	Entries   []Seen `json:"entries" maxItems:"5000"`
	Documents []Seen `json:"documents" maxItems:"1000"`
	Reason    string `json:"reason,omitempty" doc:"needed to return"`
}

// ChangedWork is work that has changed since somebody who decides on it saw it.
type ChangedWork struct {
	Kind string `json:"kind" enum:"time_entry,cost_document"`
	ID   int64  `json:"id"`
	What string `json:"what" doc:"whose, of when, and what stands there now, in a sentence"`
	Who  string `json:"who,omitempty" doc:"who changed it last"`
	At   string `json:"at,omitempty" format:"date-time"`
}

// Waiting is the Approve tab in a scope.
func Waiting(ctx context.Context, b *book.Book, actor book.Actor, q Question) (ApproveSheet, error) {
	return book.Read(ctx, b, actor, book.Approve, func(s *book.Session) (ApproveSheet, error) {
		sheet := ApproveSheet{Weeks: []WaitingWeek{}, Papers: []WaitingPaper{}}
		sc, err := scope.Of(s, q.ScopeQuery)
		if err != nil {
			return sheet, err
		}
		err = waiting(s, &sheet, sc, q.Page)
		return sheet, err
	})
}

// aPage is how many weeks, and how many papers, a page of what waits has.
const aPage = 100

type waitingSum struct {
	WorkerID     int64
	Week         calendar.Date
	Minutes      money.Minutes
	Cost, Charge money.Amount
}

func waiting(s *book.Session, sheet *ApproveSheet, sc scope.Scope, page int64) error {
	sums, err := store.Query[waitingSum](s.Tx, waitingHours, map[string]any{"from": sc.From, "to": sc.End(), "job": sc.Job})
	if err != nil {
		return err
	}
	var total waitingSum
	for _, w := range sums {
		total.Minutes += w.Minutes
		total.Cost += w.Cost
		total.Charge += w.Charge
	}
	sheet.WeekCount = int64(len(sums))
	first := min(page*aPage, sheet.WeekCount)
	if err := waitingWeeks(s, sheet, sc, sums[first:min(first+aPage, sheet.WeekCount)]); err != nil {
		return err
	}
	papers, err := waitingPapers(s, sheet, sc, page)
	if err != nil {
		return err
	}
	sheet.Pages = (max(sheet.WeekCount, sheet.PaperCount, 1) + aPage - 1) / aPage
	sheet.Hours, sheet.Cost, sheet.Charge = total.Minutes.Hours(), s.Money(total.Cost+papers.Cost), s.Money(total.Charge+papers.Charge)
	return nil
}

func waitingWeeks(s *book.Session, sheet *ApproveSheet, sc scope.Scope, weeks []waitingSum) error {
	if len(weeks) == 0 {
		return nil
	}
	keys := make([]weekOf, len(weeks))
	for i, w := range weeks {
		keys[i] = weekOf{w.WorkerID, w.Week}
	}
	entries, err := store.Query[timesheet.SheetEntry](s.Tx, spansOf(keys)+timesheet.SheetEntriesFrom(
		"spans JOIN time_entries e ON e.worker_id = spans.worker AND e.date BETWEEN spans.week AND spans.week + 6",
	)+
		" AND e.status = 'submitted' AND (? = 0 OR e.job_id = ?) ORDER BY w.crew, w.name, w.id, e.date, e.id", sc.From, sc.End(), sc.Job, sc.Job)
	if err != nil {
		return err
	}
	workers, err := store.All[store.Worker](s.Tx, "id")
	if err != nil {
		return err
	}
	held, err := heldAgainst(s, workers, keys)
	if err != nil {
		return err
	}
	ofJobs, err := jobMarks(s)
	if err != nil {
		return err
	}
	crews := map[int64]string{}
	for _, w := range workers {
		crews[w.ID] = w.Crew
	}
	for from := 0; from < len(entries); {
		week := entries[from].Date.WeekStart(book.WeekStart(s.Company))
		to := from
		var sum timesheet.LineSums
		for to < len(entries) && entries[to].WorkerID == entries[from].WorkerID && entries[to].Date.WeekStart(book.WeekStart(s.Company)) == week {
			sum.Add(entries[to])
			to++
		}
		out := waitingWeek(s, entries[from:to], week, crews[entries[from].WorkerID], sum, ofJobs)
		for _, o := range held[weekOf{entries[from].WorkerID, week}].Find() {
			out.Marks = append(out.Marks, markOf(o, week))
		}
		sheet.Weeks = append(sheet.Weeks, out)
		from = to
	}
	return nil
}

func waitingWeek(
	s *book.Session, entries []timesheet.SheetEntry, week calendar.Date, crew string, sum timesheet.LineSums, ofJobs map[int64][]Mark,
) WaitingWeek {
	first := entries[0]
	out := WaitingWeek{
		WorkerID: first.WorkerID, Worker: first.WorkerName, Trade: first.Trade, Crew: crew, Week: week.String(), Hours: sum.Minutes.Hours(),
		Cost: s.Money(sum.Cost), Charge: s.Money(sum.Charge), Marks: []Mark{}, Trail: history.TrailOf("submitted", true, ""),
	}
	days := make([]money.Minutes, 7)
	var unpriced string
	var ofJob []Mark
	charged := false
	for _, e := range entries {
		out.Entries = append(out.Entries, Seen{e.ID, e.Version})
		days[e.Date-week] += e.Minutes
		charged = charged || e.Charge != nil
		if e.Unpriced {
			unpriced = e.JobNumber
		}
		for _, m := range ofJobs[e.JobID] {
			if !slices.Contains(ofJob, m) {
				ofJob = append(ofJob, m)
			}
		}
	}
	if !charged {
		out.Charge = ""
	}
	if sum.NoCost {
		out.Marks = append(out.Marks, Mark{"No wage", "not all of it has a cost"})
	}
	if unpriced != "" {
		out.Marks = append(out.Marks, Mark{"No rate", "no card has one, job " + unpriced})
	}
	if last := entries[len(entries)-1].Date; last > s.Today() {
		out.Marks = append(out.Marks, Mark{"Dated ahead", "up to " + last.Time().Format("Mon 2 Jan")})
	}
	out.Marks = append(out.Marks, ofJob...)
	for _, m := range days {
		out.Days = append(out.Days, m.Short())
	}
	return out
}

// waitingPapers lists the handed-in documents of a scope and returns what all of them cost and are charged at.
func waitingPapers(s *book.Session, sheet *ApproveSheet, sc scope.Scope, page int64) (waitingSum, error) {
	type row struct {
		store.Paper
		WorkerName     string
		Scans, Lines   int64
		Landed, Charge *money.Amount
	}
	type sums struct {
		Landed, Charge money.Amount
		Documents      int64
	}
	args := map[string]any{"from": sc.From, "to": sc.End(), "job": sc.Job, "most": aPage, "skip": page * aPage}
	totals, err := store.Value[sums](s.Tx, waitingPaperSums, args)
	if err != nil {
		return waitingSum{}, err
	}
	sheet.PaperCount = totals.Documents
	rows, err := store.Query[row](s.Tx, waitingPaperRows, args)
	if err != nil || len(rows) == 0 {
		return waitingSum{Cost: totals.Landed, Charge: totals.Charge}, err
	}
	documents := make([]int64, len(rows))
	for i, r := range rows {
		documents[i] = r.ID
	}
	marks, err := paperMarks(s, documents)
	if err != nil {
		return waitingSum{}, err
	}
	for _, r := range rows {
		sheet.Papers = append(sheet.Papers, WaitingPaper{
			DocumentID: r.ID, Title: cmp.Or(r.Supplier, r.WorkerName, costs.KindNames[r.Kind]),
			Detail: strings.TrimSpace(costs.KindNames[r.Kind] + " " + r.Number), Lines: r.Lines, Scans: r.Scans,
			Cost: s.Maybe(r.Landed), Charge: s.Maybe(r.Charge), Marks: append([]Mark{}, marks[r.ID]...), Version: r.Version,
			Trail: history.TrailOf("submitted", true, ""),
		})
	}
	return waitingSum{Cost: totals.Landed, Charge: totals.Charge}, nil
}

// Approve approves handed-in hours and documents, all or none, and answers them as they are now.
func Approve(ctx context.Context, b *book.Book, actor book.Actor, d Decision) (Decision, error) {
	return decide(ctx, b, actor, d, store.Approved, "approved")
}

// Return gives hours and documents back with a reason: handed-in work, or approved work that is not on an invoice.
func Return(ctx context.Context, b *book.Book, actor book.Actor, d Decision) (Decision, error) {
	return decide(ctx, b, actor, d, store.Draft, "returned")
}

func decide(ctx context.Context, b *book.Book, actor book.Actor, d Decision, status, action string) (Decision, error) {
	return book.Write(ctx, b, actor, book.Approve, func(s *book.Session) (Decision, error) {
		c := s.Checks()
		reason := c.Text("reason", d.Reason)
		if status == store.Draft && reason == "" {
			c.Add("reason", "say why, so that it can be put right")
		}
		if err := some(c, d); err != nil {
			return d, err
		}
		next, err := store.Value[int64](s.Tx, "SELECT ifnull(max(id), 0) + 1 FROM history")
		if err != nil {
			return d, err
		}
		s.Decision = next
		open := func(is string) bool { return is == store.Submitted || status == store.Draft && is == store.Approved }
		if err := asSeen(s, d, open); err != nil {
			return d, err
		}
		if err := timesheet.SetEntryStatus(s, idsOf(d.Entries), status, action, reason); err != nil {
			return d, err
		}
		for _, seen := range d.Documents {
			if err := costs.SetDocumentStatus(s, seen.ID, status, action, reason); err != nil {
				return d, err
			}
		}
		return asItIs(s, d)
	})
}

// some refuses a decision on nothing.
func some(c *form.Checks, d Decision) error {
	if len(d.Entries)+len(d.Documents) == 0 {
		c.Add("entries", "choose what to decide on first")
	}
	return c.Err()
}

// TakeBack undoes the last decision on hours and documents, all or none: each has the status that it had before. Nothing may have
// happened to them since.
func TakeBack(ctx context.Context, b *book.Book, actor book.Actor, d Decision) (Decision, error) {
	return book.Write(ctx, b, actor, book.Approve, func(s *book.Session) (Decision, error) {
		if err := some(s.Checks(), d); err != nil {
			return d, err
		}
		if err := asSeen(s, d, func(string) bool { return true }); err != nil {
			return d, err
		}
		entries, err := undecided(s, "time_entry", idsOf(d.Entries))
		if err != nil {
			return d, err
		}
		for _, e := range entries {
			if err := timesheet.SetEntryStatus(s, []int64{e.SubjectID}, e.Was, e.takenBack(), ""); err != nil {
				return d, err
			}
		}
		documents, err := undecided(s, "cost_document", idsOf(d.Documents))
		if err != nil {
			return d, err
		}
		for _, o := range documents {
			if err := costs.SetDocumentStatus(s, o.SubjectID, o.Was, o.takenBack(), ""); err != nil {
				return d, err
			}
		}
		return asItIs(s, d)
	})
}

// lastDecision is the decision on a record that nothing has followed, and the status that it had before.
type lastDecision struct {
	SubjectID   int64
	Action, Was string
}

// takenBack is the action of undoing it.
func (l lastDecision) takenBack() string {
	if l.Action == "approved" {
		return "approval taken back"
	}
	return "return taken back"
}

// undecided are the decisions that were the last thing done to each of some records of a kind.
func undecided(s *book.Session, kind string, ids []int64) ([]lastDecision, error) {
	if len(ids) == 0 {
		return nil, nil
	}
	last, err := store.Query[lastDecision](s.Tx, lastDecisionsOn, kind, ids)
	if err == nil && len(last) != len(ids) {
		err = refuse.Conflict("other things were done since it was decided, so it is not taken back; return it with a reason instead")
	}
	return last, err
}

func idsOf(list []Seen) []int64 {
	ids := make([]int64, len(list))
	for i, seen := range list {
		ids[i] = seen.ID
	}
	return ids
}

// asItIs is the work of a decision at the versions that it has by now.
func asItIs(s *book.Session, d Decision) (now Decision, err error) {
	now = Decision{Entries: []Seen{}, Documents: []Seen{}}
	if len(d.Entries) > 0 {
		now.Entries, err = store.Query[Seen](s.Tx, "SELECT id, version FROM time_entries WHERE id IN (?) ORDER BY id", idsOf(d.Entries))
	}
	if len(d.Documents) > 0 && err == nil {
		now.Documents, err = store.Query[Seen](s.Tx, "SELECT id, version FROM cost_documents WHERE id IN (?) ORDER BY id", idsOf(d.Documents))
	}
	return now, err
}

// asSeen refuses a decision on work that is not as it was seen, is on an invoice or has a status that is not decided on, and says what
// has changed.
func asSeen(s *book.Session, d Decision, open func(status string) bool) error {
	var changed []ChangedWork
	for _, seen := range d.Entries {
		if len(changed) >= mostTold {
			break
		}
		found, err := store.Query[timesheet.SheetEntry](
			s.Tx, timesheet.SheetEntries+" AND e.id = ?", calendar.Always.From, calendar.Always.To, seen.ID,
		)
		if err != nil {
			return err
		}
		if len(found) == 1 && found[0].Version == seen.Version && found[0].InvoiceID == nil && open(found[0].Status) {
			continue
		}
		what := "hours that were taken away"
		if len(found) == 1 {
			e := found[0]
			what = fmt.Sprintf(
				"%s, %s, job %s: %s, %s", e.WorkerName, e.Date.Time().Format("Mon 2 Jan"), e.JobNumber, timesheet.ReadingOf(e.TimeEntry),
				statusWords[reports.StatusOf(e.Status, e.InvoiceID != nil)],
			)
		}
		if changed, err = changedWork(s, changed, ChangedWork{Kind: "time_entry", ID: seen.ID, What: what}); err != nil {
			return err
		}
	}
	for _, seen := range d.Documents {
		if len(changed) >= mostTold {
			break
		}
		row, found, err := store.One[store.Paper](s.Tx, seen.ID)
		if err != nil {
			return err
		}
		what := "a paper that was taken away"
		if found {
			document, err := costs.View(s, row.ID)
			if err != nil {
				return err
			}
			onInvoice := document.OnInvoice
			if row.Version == seen.Version && row.Void == "" && !onInvoice && open(row.Status) {
				continue
			}
			status := statusWords[reports.StatusOf(row.Status, onInvoice)]
			if row.Void != "" {
				status = "void"
			}
			what = fmt.Sprintf("%s %s: %s, %s", cmp.Or(row.Supplier, costs.KindNames[row.Kind]), row.Number, document.Total, status)
		}
		if changed, err = changedWork(s, changed, ChangedWork{Kind: "cost_document", ID: seen.ID, What: what}); err != nil {
			return err
		}
	}
	if len(changed) == 0 {
		return nil
	}
	more := ""
	if len(changed) > 1 {
		more = ", and " + words.Counted(int64(len(changed)-1), "more change")
	}
	return &refuse.Error{
		Kind: refuse.KindConflict, Message: "this has changed since you opened it, so nothing was decided. Now: " + changed[0].What + more,
		Current: changed,
	}
}

var statusWords = map[string]string{"draft": "not handed in", "submitted": "handed in", "approved": "approved", "billed": "on an invoice"}

// mostTold is how many changes a refusal tells of.
const mostTold = 50

func changedWork(s *book.Session, list []ChangedWork, now ChangedWork) ([]ChangedWork, error) {
	last, err := store.Query[store.Change](s.Tx, `SELECT * FROM history WHERE kind = ? AND subject_id = ?
		ORDER BY id DESC LIMIT 1`, now.Kind, now.ID)
	if len(last) > 0 {
		now.Who, now.At = last[0].UserName, book.TimeText(last[0].At)
	}
	return append(list, now), err
}
