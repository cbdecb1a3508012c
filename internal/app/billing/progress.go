package billing

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Schedule is how the fixed price of a job is billed: by a schedule of values or as a whole, or by instalments (calculation.md section 7).
type Schedule struct {
	Job          string          `json:"job"`
	Name         string          `json:"name"`
	Customer     string          `json:"customer"`
	Version      int64           `json:"version" doc:"of the job: its schedule and instalments are changed on it"`
	Contract     string          `json:"contract" format:"decimal" doc:"what is agreed of its fixed work, with approved change orders"`
	Lines        []ScheduleRow   `json:"lines" doc:"without a schedule one line, for all of it"`
	Placed       string          `json:"placed,omitempty" format:"decimal" doc:"what the lines of the schedule come to; absent: there is none"`
	Instalments  []InstalmentRow `json:"instalments,omitempty"`
	Before       string          `json:"before" format:"decimal"`
	Now          string          `json:"now" format:"decimal"`
	Left         string          `json:"left" format:"decimal"`
	Retained     string          `json:"retained" format:"decimal" doc:"of before and now"`
	Done         string          `json:"done" doc:"percent of the contract that is billed and on the draft"`
	DraftID      int64           `json:"draftId,omitempty" doc:"the draft that it is on"`
	DraftVersion int64           `json:"draftVersion,omitempty"`
}

// ScheduleRow is a line of a schedule of values, or the one line of a job without any.
type ScheduleRow struct {
	ID       int64  `json:"id" doc:"0: the job as a whole"`
	Text     string `json:"text"`
	Phase    string `json:"phase,omitempty" doc:"its code"`
	Amount   string `json:"amount" format:"decimal" doc:"what is agreed"`
	Complete string `json:"complete,omitempty" doc:"percent, of the draft or as it was billed last; absent: it was billed by amount"`
	Stored   string `json:"stored,omitempty" format:"decimal"`
	Before   string `json:"before" format:"decimal" doc:"billed, less what was credited to bill again"`
	Now      string `json:"now" format:"decimal" doc:"on the draft"`
	Left     string `json:"left" format:"decimal"`
	Retained string `json:"retained" format:"decimal"`
	On       bool   `json:"on" doc:"it is on the draft"`
}

// InstalmentRow is a part of a fixed price that was agreed beforehand.
type InstalmentRow struct {
	ID      int64  `json:"id"`
	Text    string `json:"text"`
	By      string `json:"by"`
	Value   string `json:"value,omitempty" doc:"an amount or a percentage"`
	Due     string `json:"due,omitempty" doc:"absent: when its milestone is reached"`
	Reached string `json:"reached,omitempty"`
	Amount  string `json:"amount,omitempty" doc:"answered: what it comes to as the contract stands"`
	Billed  string `json:"billed,omitempty" doc:"answered: issued or on a draft"`
	Ready   bool   `json:"ready,omitempty" doc:"answered: its date has come or its milestone is reached, and it is not billed"`
}

// InstalmentWays are what an instalment is of.
var InstalmentWays = []string{"amount", "percent", "rest"}

// fixedJob is a job with what is agreed of its fixed work.
type fixedJob struct {
	store.Job
	Agreed   *money.Amount
	Customer string
}

func fixedJobAt(s *book.Session, number string) (fixedJob, error) {
	rows, err := store.Query[fixedJob](s.Tx, fixedJobs+" WHERE j.number = ?", number)
	switch {
	case err != nil:
		return fixedJob{}, err
	case len(rows) == 0:
		return fixedJob{}, refuse.NotFound("job " + number + " with a fixed price")
	case rows[0].Agreed == nil:
		return rows[0], refuse.Conflict("job %s has no agreed price yet; type its contract in its terms first", number)
	}
	return rows[0], nil
}

// ScheduleOf shows how the fixed price of a job is billed.
func ScheduleOf(ctx context.Context, b *book.Book, actor book.Actor, number string) (Schedule, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (out Schedule, _ error) {
		job, err := fixedJobAt(s, number)
		if err != nil {
			return out, err
		}
		return scheduleOf(s, job)
	})
}

// valueLine is a line of a schedule with what was billed of it.
type valueLine struct {
	ID                                    int64
	PhaseID                               *int64
	Text, Phase                           string
	Amount, Before, Elsewhere, Now, Store money.Amount
	Complete                              *money.Percent
	TypedID                               int64
	LastID                                *int64
	Position                              int
}

func scheduleOf(s *book.Session, job fixedJob) (Schedule, error) {
	out := Schedule{
		Job: job.Number, Name: job.Name, Customer: job.Customer, Version: job.Version, Contract: s.Money(*job.Agreed),
	}
	draft, err := fixedDraft(s, job.ID)
	if err != nil {
		return out, err
	}
	out.DraftID, out.DraftVersion = draft.ID, draft.Version
	lines, err := valueLines(s, job, draft.ID)
	if err != nil {
		return out, err
	}
	var placed, before, now, retained money.Amount
	for _, l := range lines {
		held, err := job.Retainage.Of(l.Before + l.Now)
		if err != nil {
			return out, err
		}
		row := ScheduleRow{
			ID: l.ID, Text: l.Text, Phase: l.Phase, Amount: s.Money(l.Amount), Before: s.Money(l.Before), Now: s.Money(l.Now),
			Left: s.Money(l.Amount - l.Before - l.Now), Retained: s.Money(held), On: l.TypedID != 0, Stored: orBlank(s, l.Store),
		}
		if l.Complete != nil {
			row.Complete = l.Complete.String()
		}
		placed, before, now, retained = placed+l.Amount, before+l.Before, now+l.Now, retained+held
		out.Lines = append(out.Lines, row)
	}
	if lines[0].ID != 0 {
		out.Placed = s.Money(placed)
	}
	out.Before, out.Now, out.Left, out.Retained = s.Money(before), s.Money(now), s.Money(*job.Agreed-before-now), s.Money(retained)
	if share, ok := money.Share(before+now, *job.Agreed); ok {
		out.Done = share.Places2()
	}
	out.Instalments, err = instalmentsOf(s, job)
	return out, err
}

// fixedDraft is the draft that bills the fixed price of a job; without one its id is 0.
func fixedDraft(s *book.Session, jobID int64) (store.Invoice, error) {
	rows, err := store.Query[store.Invoice](s.Tx, fixedDrafts, jobID)
	if err != nil || len(rows) == 0 {
		return store.Invoice{}, err
	}
	return rows[0], nil
}

// valueLines are the lines of the schedule of a job, or one for all of it.
func valueLines(s *book.Session, job fixedJob, draftID int64) ([]valueLine, error) {
	args := map[string]any{"job": job.ID, "draft": draftID}
	lines, err := store.Query[valueLine](s.Tx, scheduleLines, args)
	if err != nil || len(lines) > 0 {
		return lines, err
	}
	lines, err = store.Query[valueLine](s.Tx, wholeLine, args)
	if err != nil {
		return nil, err
	}
	lines[0].Text, lines[0].Amount = job.Name, *job.Agreed
	return lines, nil
}

// NewScheduleLine is a line of a schedule as it is typed.
type NewScheduleLine struct {
	ID     int64  `json:"id,omitempty" doc:"absent: it is new"`
	Text   string `json:"text"`
	Phase  string `json:"phase,omitempty" doc:"its code"`
	Amount string `json:"amount"`
}

// NewSchedule is all of a schedule of values, in place of what it was.
type NewSchedule struct {
	Version int64             `json:"version" doc:"of the job, as it was seen"`
	Lines   []NewScheduleLine `json:"lines" maxItems:"500"`
}

// SaveSchedule changes the schedule of values of a job: its lines come to the contract. What was billed before there was any is a line of
// its own, wholly billed.
func SaveSchedule(ctx context.Context, b *book.Book, actor book.Actor, number string, in NewSchedule) (Schedule, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (out Schedule, _ error) {
		job, err := fixedJobSeen(s, number, in.Version)
		if err != nil {
			return out, err
		}
		had, err := store.All[store.ScheduleLine](s.Tx, "position", "job_id = ?", job.ID)
		if err != nil {
			return out, err
		}
		rows, err := readSchedule(s, job, had, in.Lines)
		if err != nil {
			return out, err
		}
		of := func(r *store.ScheduleLine) (*int64, *int) { return &r.ID, &r.Position }
		if err := saveRows(s, "schedule_lines", job.ID, rows, of); err != nil {
			return out, err
		}
		return touched(s, job, "changed the schedule of values")
	})
}

// fixedJobSeen is a job with a fixed price on the version that was seen.
func fixedJobSeen(s *book.Session, number string, version int64) (fixedJob, error) {
	job, err := fixedJobAt(s, number)
	if err == nil && job.Version != version {
		err = refuse.Conflict("job %s has changed since you opened this; look at it again", number)
	}
	return job, err
}

// touched gives a job its next version, lays the draft of its fixed price out again, and answers with how it stands now.
func touched(s *book.Session, job fixedJob, what string) (Schedule, error) {
	job.Version++
	if err := s.Model(&store.Job{}).Where("id = ?", job.ID).Update("version", job.Version).Error; err != nil {
		return Schedule{}, err
	}
	draft, err := fixedDraft(s, job.ID)
	if err != nil {
		return Schedule{}, err
	}
	if draft.ID != 0 {
		draft.Version++
		if err := layOut(s, &draft); err != nil {
			return Schedule{}, err
		}
	}
	if err := s.Record(what, "job", job.ID, nil, map[string]string{"contract": s.Money(*job.Agreed)}); err != nil {
		return Schedule{}, err
	}
	return scheduleOf(s, job)
}

func readSchedule(s *book.Session, job fixedJob, had []store.ScheduleLine, lines []NewScheduleLine) ([]store.ScheduleLine, error) {
	c := s.Checks()
	var sum money.Amount
	rows := make([]store.ScheduleLine, 0, len(lines)+1)
	if len(had) == 0 && len(lines) > 0 {
		whole, err := store.Query[valueLine](s.Tx, wholeLine, map[string]any{"job": job.ID, "draft": 0})
		if err != nil {
			return nil, err
		}
		if billed := whole[0].Before + whole[0].Elsewhere; billed != 0 {
			rows = append(rows, store.ScheduleLine{JobID: job.ID, Text: "Billed before this schedule", Amount: billed, Rest: true})
			sum += billed
		}
	}
	for i, l := range lines {
		path := fmt.Sprintf("lines[%d].", i)
		row := store.ScheduleLine{JobID: job.ID}
		if l.ID != 0 {
			at := slices.IndexFunc(had, func(h store.ScheduleLine) bool { return h.ID == l.ID })
			if at < 0 {
				c.Add(path+"text", "this line is not there any more")
				continue
			}
			row = had[at]
		}
		row.Text, row.Amount = c.Needed(path+"text", l.Text, "what is done"), form.Parsed(c, path+"amount", l.Amount, s.ParseAmount)
		phase, err := fixedPhase(s, c, path+"phase", job, l.Phase)
		if err != nil {
			return nil, err
		}
		row.PhaseID = phase
		sum += row.Amount
		rows = append(rows, row)
	}
	if err := c.Err(); err != nil {
		return nil, err
	}
	if len(rows) > 0 && slices.ContainsFunc(had, func(h store.ScheduleLine) bool { return h.Rest }) &&
		!slices.ContainsFunc(rows, func(r store.ScheduleLine) bool { return r.Rest }) {
		return nil, refuse.Invalid("lines", "what was billed before this schedule stays a line of it")
	}
	if len(rows) > 0 && sum != *job.Agreed {
		return nil, refuse.Invalid("lines", "the lines come to %s, the contract is %s: %s to place", s.Money(sum), s.Money(*job.Agreed),
			s.Money(*job.Agreed-sum))
	}
	return rows, nil
}

// fixedPhase is the phase of a line of a schedule. A job that is not fixed itself has it of its fixed phases, and takes the only one by
// itself.
func fixedPhase(s *book.Session, c *form.Checks, path string, job fixedJob, code string) (*int64, error) {
	phases, err := store.Query[store.Phase](s.Tx, fixedPhases, job.ID)
	if err != nil {
		return nil, err
	}
	for _, p := range phases {
		if p.Code == code {
			return &p.ID, nil
		}
	}
	switch {
	case code != "":
		c.Add(path, "job %s has no fixed phase %q", job.Number, code)
	case billing.Basis(job.Basis) == billing.Fixed:
	case len(phases) == 1:
		return &phases[0].ID, nil
	default:
		c.Add(path, "choose one of its fixed phases")
	}
	return nil, nil
}

// saveRows puts rows in the place of those that a job has in a table: what has an id is kept, what is not there any more is deleted.
func saveRows[R any](s *book.Session, table string, jobID int64, rows []R, of func(*R) (id *int64, position *int)) error {
	kept := []int64{0}
	for i := range rows {
		id, _ := of(&rows[i])
		kept = append(kept, *id)
	}
	if err := s.Exec("DELETE FROM "+table+" WHERE job_id = ? AND id NOT IN ?", jobID, kept).Error; err != nil {
		return err
	}
	if err := s.Exec("UPDATE "+table+" SET position = -position WHERE job_id = ?", jobID).Error; err != nil {
		return err
	}
	for i := range rows {
		_, position := of(&rows[i])
		*position = i + 1
		if err := s.Save(&rows[i]).Error; err != nil {
			return err
		}
	}
	return nil
}

// ProgressOf bills a line of a schedule, or the job as a whole: at a percentage complete with what is stored, or by an amount; neither
// takes it off the draft.
type ProgressOf struct {
	Line    int64  `json:"line" doc:"0: the job as a whole"`
	Percent string `json:"percent,omitempty" doc:"complete to date"`
	Stored  string `json:"stored,omitempty" doc:"materials that are not built in yet"`
	Keep    bool   `json:"keep,omitempty" doc:"what was stored is so still, as far as it is not built in by now"`
	Amount  string `json:"amount,omitempty"`
}

// NewProgress bills the fixed price of a job, on its draft or on a new one.
type NewProgress struct {
	Draft   int64        `json:"draft,omitempty" doc:"the draft that was seen; absent: there is none"`
	Version int64        `json:"version,omitempty" doc:"of the draft, as it was seen"`
	Date    string       `json:"date,omitempty" doc:"of a new draft"`
	Lines   []ProgressOf `json:"lines" minItems:"1" maxItems:"500"`
	Beyond  bool         `json:"beyond,omitempty" doc:"more than the contract is meant"`
}

// BillProgress bills the fixed price of a job by how far it has come, or by amounts.
func BillProgress(ctx context.Context, b *book.Book, actor book.Actor, number string, in NewProgress) (Schedule, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (out Schedule, _ error) {
		job, err := fixedJobAt(s, number)
		if err != nil {
			return out, err
		}
		draft, err := draftForFixed(s, job, in)
		if err != nil {
			return out, err
		}
		if err := progress(s, job, draft, in); err != nil {
			return out, err
		}
		left, err := drafting.LeftOn(s, draft.ID)
		if err != nil {
			return out, err
		}
		if left == 0 {
			err = drafting.DropDraft(s, draft)
		} else {
			err = layFixed(s, job, &draft, in.Beyond)
		}
		if err != nil {
			return out, err
		}
		return scheduleOf(s, job)
	})
}

// draftForFixed is the draft that the fixed price of a job goes on: the one that was seen, else one of the job, else a new one.
func draftForFixed(s *book.Session, job fixedJob, in NewProgress) (store.Invoice, error) {
	draft, err := fixedDraft(s, job.ID)
	if err != nil {
		return draft, err
	}
	switch {
	case draft.ID != in.Draft || draft.ID != 0 && draft.Version != in.Version:
		return draft, refuse.Conflict("the draft of job %s has changed since you opened this; look at it again", job.Number)
	case draft.ID != 0:
		return draft, nil
	case job.CustomerID == nil:
		return draft, refuse.Conflict("job %s has no customer", job.Number)
	}
	drafts, err := store.Query[store.Invoice](s.Tx, draftsOfJob, job.ID)
	if err != nil {
		return draft, err
	}
	if len(drafts) > 0 {
		return drafts[0], nil
	}
	c := s.Checks()
	date := s.Today()
	if in.Date != "" {
		date = c.Date("date", in.Date)
	}
	if err := c.Err(); err != nil {
		return draft, err
	}
	draft, err = newDraft(s, *job.CustomerID, date)
	if err != nil {
		return draft, err
	}
	return draft, madeDraft(s, draft)
}

// progress keeps what is typed of lines of the schedule on a draft.
func progress(s *book.Session, job fixedJob, draft store.Invoice, in NewProgress) error {
	lines, err := valueLines(s, job, draft.ID)
	if err != nil {
		return err
	}
	c := s.Checks()
	for i, p := range in.Lines {
		path := fmt.Sprintf("lines[%d].", i)
		at := slices.IndexFunc(lines, func(l valueLine) bool { return l.ID == p.Line })
		if at < 0 {
			c.Add(path+"line", "this line is not there any more")
			continue
		}
		if err := progressOf(s, c, path, job, draft, lines[at], p); err != nil {
			return err
		}
	}
	return c.Err()
}

func progressOf(s *book.Session, c *form.Checks, path string, job fixedJob, draft store.Invoice, line valueLine, p ProgressOf) error {
	if line.TypedID != 0 {
		if err := s.Exec("DELETE FROM typed_lines WHERE id = ?", line.TypedID).Error; err != nil {
			return err
		}
	}
	if p.Percent == "" && p.Amount == "" && p.Stored == "" {
		return nil
	}
	phase := line.PhaseID
	if line.ID == 0 {
		var err error
		if phase, err = fixedPhase(s, c, path+"line", job, ""); err != nil {
			return err
		}
	}
	row := store.TypedLine{
		InvoiceID: draft.ID, Kind: drafting.ProgressLine, JobID: &job.ID, PhaseID: phase, Category: "fixed", Text: line.Text,
		ScheduleLineID: store.Ref(line.ID),
	}
	if p.Amount != "" {
		row.Amount = form.Parsed(c, path+"amount", p.Amount, s.ParseAmount)
	} else {
		complete := form.OrZero(c, path+"percent", p.Percent, form.ParsePercent)
		row.Complete, row.Stored = &complete, form.OrZero(c, path+"stored", p.Stored, s.ParseAmount)
		row.Quantity, row.Unit = money.Quantity(complete/10), "% done"
		if p.Keep {
			left, err := billing.Progress{Contract: line.Amount}.ToBill(complete, 0)
			if err != nil {
				return err
			}
			row.Stored = min(line.Store, max(0, line.Amount-left))
		}
		if complete < 0 || complete > money.Whole {
			c.Add(path+"percent", "complete is 0 to 100 %%")
		}
		_, err := billing.Progress{Contract: line.Amount, Before: line.Before + line.Elsewhere}.ToBill(complete, row.Stored)
		if errors.Is(err, billing.ErrStored) {
			c.Add(path+"stored", "%s", err)
		}
	}
	if len(c.Fields) > 0 {
		return nil
	}
	position, err := store.Value[int](s.Tx, lastTyped, draft.ID)
	if err != nil {
		return err
	}
	row.Position = position + 1
	return s.Create(&row).Error
}

// layFixed lays a draft out, and refuses to bill beyond the contract of a job unless that is meant.
func layFixed(s *book.Session, job fixedJob, draft *store.Invoice, beyond bool) error {
	draft.Version++
	before := draft.Total
	if err := layOut(s, draft); err != nil {
		return err
	}
	type sums struct{ Billed, Drafted money.Amount }
	now, err := store.Value[sums](s.Tx, billedOfFixed, job.ID)
	if err != nil {
		return err
	}
	if err := billing.Within(*job.Agreed, now.Billed, now.Drafted, beyond); err != nil {
		return refuse.Invalid("beyond", "%s", err)
	}
	if err := s.Exec("UPDATE typed_lines SET beyond = ? WHERE invoice_id = ? AND job_id = ? AND kind = 'progress'",
		beyond && now.Billed+now.Drafted > *job.Agreed, draft.ID, job.ID).Error; err != nil {
		return err
	}
	return s.Record("changed a draft", "invoice", draft.ID, map[string]string{"total": s.Money(before)},
		map[string]string{"total": s.Money(draft.Total)})
}

// dueInstalments are the instalments of some jobs whose date has come, or whose milestone is reached, and that are not billed, in order.
func dueInstalments(s *book.Session, jobs []int64, through calendar.Date) ([]store.Instalment, error) {
	return store.Query[store.Instalment](s.Tx, instalmentsDue+" AND n.job_id IN @jobs ORDER BY j.number_order, n.position",
		map[string]any{"through": through, "jobs": jobs})
}

// billInstalments puts instalments on a draft; what they come to follows when it is laid out.
func billInstalments(s *book.Session, draft store.Invoice, due []store.Instalment) error {
	for i, n := range due {
		job, err := store.Query[fixedJob](s.Tx, fixedJobs+" WHERE j.id = ?", n.JobID)
		if err != nil {
			return err
		}
		if err := register.RefuseInstalmentsAstray(s, n.JobID); err != nil {
			return err
		}
		phase, err := fixedPhase(s, s.Checks(), "", job[0], "")
		if err != nil {
			return err
		}
		row := store.TypedLine{
			InvoiceID: draft.ID, Position: i + 1, Kind: drafting.InstalmentLine, JobID: &n.JobID, PhaseID: phase, Category: "fixed", Text: n.Text,
			InstalmentID: &n.ID,
		}
		if err := s.Create(&row).Error; err != nil {
			return err
		}
	}
	return nil
}

// NewInstalments are all instalments of a job, in place of those there were.
type NewInstalments struct {
	Version     int64           `json:"version" doc:"of the job, as it was seen"`
	Instalments []InstalmentRow `json:"instalments" maxItems:"200"`
}

// SaveInstalments changes the instalments that were agreed for a job.
func SaveInstalments(ctx context.Context, b *book.Book, actor book.Actor, number string, in NewInstalments) (Schedule, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (out Schedule, _ error) {
		job, err := fixedJobSeen(s, number, in.Version)
		if err != nil {
			return out, err
		}
		rows, err := readInstalments(s, job, in.Instalments)
		if err != nil {
			return out, err
		}
		of := func(r *store.Instalment) (*int64, *int) { return &r.ID, &r.Position }
		if err := saveRows(s, "instalments", job.ID, rows, of); err != nil {
			return out, err
		}
		if err := register.RefuseInstalmentsAstray(s, job.ID); err != nil {
			return out, err
		}
		return touched(s, job, "changed the instalments")
	})
}

func readInstalments(s *book.Session, job fixedJob, in []InstalmentRow) ([]store.Instalment, error) {
	c := s.Checks()
	scheduled, err := store.Value[int64](s.Tx, "SELECT count(*) FROM schedule_lines WHERE job_id = ?", job.ID)
	if err != nil {
		return nil, err
	}
	if scheduled > 0 && len(in) > 0 {
		return nil, refuse.Conflict("job %s has a schedule of values; it is billed by that, or by instalments", job.Number)
	}
	had, err := store.All[store.Instalment](s.Tx, "position", "job_id = ?", job.ID)
	if err != nil {
		return nil, err
	}
	rows := make([]store.Instalment, len(in))
	for i, n := range in {
		path := fmt.Sprintf("instalments[%d].", i)
		row := store.Instalment{ID: n.ID, JobID: job.ID, Text: c.Needed(path+"text", n.Text, "what it is for")}
		if n.ID != 0 && !slices.ContainsFunc(had, func(h store.Instalment) bool { return h.ID == n.ID }) {
			c.Add(path+"text", "this instalment is not there any more")
		}
		switch c.OneOf(path+"by", n.By, InstalmentWays...) {
		case "rest":
			row.Rest = true
			if i != len(in)-1 {
				c.Add(path+"by", "only the last instalment takes the rest")
			}
		case "percent":
			row.Percent = form.Parsed(c, path+"value", n.Value, form.ParsePercent)
			if row.Percent <= 0 || row.Percent > money.Whole {
				c.Add(path+"value", "a percentage is above 0 and at most 100")
			}
		default:
			if row.Amount = form.Parsed(c, path+"value", n.Value, s.ParseAmount); row.Amount == 0 {
				c.Add(path+"value", "an instalment is not 0")
			}
		}
		row.Due, row.Reached = form.Optional(c, path+"due", n.Due, calendar.Parse), form.Optional(c, path+"reached", n.Reached, calendar.Parse)
		rows[i] = row
	}
	return rows, c.Err()
}

// instalmentsOf are the instalments of a job, with what each comes to as the contract stands.
func instalmentsOf(s *book.Session, job fixedJob) ([]InstalmentRow, error) {
	type row struct {
		store.Instalment
		Billed, OfJob money.Amount
	}
	rows, err := store.Query[row](s.Tx, instalmentRows, job.ID)
	if err != nil {
		return nil, err
	}
	out := make([]InstalmentRow, len(rows))
	var before money.Amount
	for i, r := range rows {
		of := billing.Instalment{Amount: r.Amount, Percent: r.Percent, Rest: r.Rest}
		amount, err := of.ToBill(*job.Agreed, before, 0)
		if err != nil {
			return nil, err
		}
		before += amount
		n := InstalmentRow{
			ID: r.ID, Text: r.Text, By: InstalmentWays[0], Value: s.Money(r.Amount), Amount: s.Money(amount), Billed: orBlank(s, r.Billed),
			Due: dateOf(r.Due), Reached: dateOf(r.Reached),
		}
		switch {
		case r.Rest:
			n.By, n.Value = "rest", ""
		case r.Percent != 0:
			n.By, n.Value = "percent", r.Percent.String()
		}
		n.Ready = r.Billed == 0 && (r.Due != nil && *r.Due <= s.Today() || r.Reached != nil)
		out[i] = n
	}
	return out, nil
}

func dateOf(d *calendar.Date) string {
	if d == nil {
		return ""
	}
	return d.String()
}

// Reach says on which day the milestone of an instalment was reached; blank takes that back.
type Reach struct {
	Version int64  `json:"version" doc:"of the job, as it was seen"`
	Date    string `json:"date,omitempty"`
}

// ReachInstalment marks the milestone of an instalment as reached, so that it is ready to bill.
func ReachInstalment(ctx context.Context, b *book.Book, actor book.Actor, instalmentID int64, in Reach) (Schedule, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (out Schedule, _ error) {
		row, found, err := store.One[store.Instalment](s.Tx, instalmentID)
		if err != nil || !found {
			return out, refuse.OrNotFound(err, "instalment")
		}
		number, err := store.Value[string](s.Tx, "SELECT number FROM jobs WHERE id = ?", row.JobID)
		if err != nil {
			return out, err
		}
		job, err := fixedJobSeen(s, number, in.Version)
		if err != nil {
			return out, err
		}
		c := s.Checks()
		reached := form.Optional(c, "date", in.Date, calendar.Parse)
		if err := c.Err(); err != nil {
			return out, err
		}
		if err := s.Model(&row).Update("reached", reached).Error; err != nil {
			return out, err
		}
		return touched(s, job, "marked a milestone")
	})
}

// StageRow is a job with a fixed price that is not wholly billed: what of it comes next.
type StageRow struct {
	JobID      int64  `json:"jobId"`
	Job        string `json:"job"`
	Name       string `json:"name"`
	Customer   string `json:"customer"`
	Version    int64  `json:"version" doc:"of the job"`
	Instalment int64  `json:"instalment,omitempty" doc:"the next one; absent: it is billed by how far it has come"`
	Next       string `json:"next" doc:"what comes next"`
	Due        string `json:"due,omitempty" doc:"absent: when its milestone is reached"`
	Amount     string `json:"amount,omitempty"`
	Ready      bool   `json:"ready" doc:"a bill run bills it"`
	Billed     string `json:"billed" format:"decimal"`
	OnDraft    string `json:"onDraft,omitempty"`
	Contract   string `json:"contract" format:"decimal"`
	Done       string `json:"done" doc:"percent of the contract that is billed or on a draft"`
}

// stages are the jobs with a fixed price of which something is left to bill, and what comes next of each.
func stages(s *book.Session, jobID int64, through calendar.Date) ([]StageRow, error) {
	type row struct {
		ID, Version            int64
		Number, Name, Customer string
		Agreed                 money.Amount
		Lines, Planned         int64
		Billed, Drafted        money.Amount
	}
	rows, err := store.Query[row](s.Tx, fixedToBill, map[string]any{"job": jobID})
	if err != nil {
		return nil, err
	}
	out := []StageRow{}
	for _, r := range rows {
		stage := StageRow{
			JobID: r.ID, Job: r.Number, Name: r.Name, Customer: r.Customer, Version: r.Version, Contract: s.Money(r.Agreed),
			Billed: s.Money(r.Billed), OnDraft: orBlank(s, r.Drafted),
			Next: "by how far it has come",
		}
		if r.Lines > 0 {
			stage.Next = fmt.Sprintf("by its schedule of %d lines", r.Lines)
		}
		if share, ok := money.Share(r.Billed+r.Drafted, r.Agreed); ok {
			stage.Done = share.Places2()
		}
		var instalments []InstalmentRow
		if r.Planned > 0 {
			job, err := fixedJobAt(s, r.Number)
			if err != nil {
				return nil, err
			}
			if instalments, err = instalmentsOf(s, job); err != nil {
				return nil, err
			}
		}
		if at := slices.IndexFunc(instalments, func(n InstalmentRow) bool { return n.Billed == "" }); at >= 0 {
			n := instalments[at]
			stage.Instalment, stage.Next, stage.Due, stage.Amount = n.ID, n.Text, n.Due, n.Amount
			stage.Ready = n.Reached != "" && n.Reached <= through.String() || n.Due != "" && n.Due <= through.String()
		}
		out = append(out, stage)
	}
	return out, nil
}
