package approve

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/holes"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/limits"
	"jarvo/internal/app/looseends"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/outlier"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// Mark is something that stands out, and against what.
type Mark struct {
	What    string `json:"what"`
	Against string `json:"against"`
}

type weekOf struct {
	WorkerID int64
	Week     calendar.Date
}

const (
	weeksBefore = 8  // that a worker's usual day is known from
	dearer      = 10 // percent over the usual cost from which a line stands out
)

// spansOf is the weeks as a table for SQL: spans (worker, week).
func spansOf(weeks []weekOf) string {
	rows := make([]string, len(weeks))
	for i, w := range weeks {
		rows[i] = fmt.Sprintf("(%d, %d)", w.WorkerID, w.Week)
	}
	return "WITH spans (worker, week) AS (VALUES " + strings.Join(rows, ", ") + ")"
}

// heldAgainst reads weeks with all that they are held against: the worker's weeks before, and the rest of the crew.
func heldAgainst(s *book.Session, workers []store.Worker, weeks []weekOf) (map[weekOf]*outlier.Week, error) {
	crewOf, members := map[int64]string{}, map[string][]int64{}
	for _, w := range workers {
		crewOf[w.ID] = w.Crew
		if w.Active && w.Crew != "" {
			members[w.Crew] = append(members[w.Crew], w.ID)
		}
	}
	spans := map[int64][]calendar.Span{}
	for _, w := range weeks {
		spans[w.WorkerID] = append(spans[w.WorkerID], calendar.Span{From: w.Week - 7*weeksBefore, To: w.Week + 6})
		for _, member := range members[crewOf[w.WorkerID]] {
			spans[member] = append(spans[member], calendar.Span{From: w.Week, To: w.Week + 6})
		}
	}
	worked, err := workedDays(s, spans)
	if err != nil {
		return nil, err
	}
	week := func(worker int64, from calendar.Date) (days outlier.Days) {
		for i := range days {
			days[i] = worked[holes.Day{WorkerID: worker, Date: from + calendar.Date(i)}]
		}
		return days
	}
	off, err := looseends.DaysOff(s)
	if err != nil {
		return nil, err
	}
	without := map[holes.Span]bool{} // days on which there can be a hole at all
	for _, w := range weeks {
		crew := crewOf[w.WorkerID]
		for day := w.Week; day < w.Week+7; day++ {
			at := func(member int64) bool { return worked[holes.Day{WorkerID: member, Date: day}] > 0 }
			if !at(w.WorkerID) && slices.ContainsFunc(members[crew], at) {
				without[holes.Span{Crew: crew, From: day, To: day}] = true
			}
		}
	}
	open, err := holes.In(s, slices.Collect(maps.Keys(without))...)
	if err != nil {
		return nil, err
	}
	held := map[weekOf]*outlier.Week{}
	for _, w := range weeks {
		against := &outlier.Week{Days: week(w.WorkerID, w.Week)}
		for day := range against.Off {
			on := holes.Day{WorkerID: w.WorkerID, Date: w.Week + calendar.Date(day)}
			against.Off[day], against.Hole[day] = off[on] != "", open[on]
		}
		for day := w.Week - 7*weeksBefore; day < w.Week; day++ {
			if minutes := worked[holes.Day{WorkerID: w.WorkerID, Date: day}]; minutes > 0 {
				against.Before = append(against.Before, minutes)
			}
		}
		for _, member := range members[crewOf[w.WorkerID]] {
			if member != w.WorkerID {
				against.Others = append(against.Others, week(member, w.Week))
			}
		}
		held[w] = against
	}
	return held, nil
}

// workedDays adds up the minutes worked, leave left out, of each day of some workers' spans; each day is read
// once, in however many spans it is.
func workedDays(s *book.Session, spans map[int64][]calendar.Span) (map[holes.Day]money.Minutes, error) {
	var rows []string
	for worker, all := range spans {
		slices.SortFunc(all, func(a, b calendar.Span) int { return int(a.From - b.From) })
		merged := all[:1]
		for _, next := range all[1:] {
			if last := &merged[len(merged)-1]; next.From <= last.To+1 {
				last.To = max(last.To, next.To)
			} else {
				merged = append(merged, next)
			}
		}
		for _, m := range merged {
			rows = append(rows, fmt.Sprintf("(%d, %d, %d)", worker, m.From, m.To))
		}
	}
	worked := map[holes.Day]money.Minutes{}
	if len(rows) == 0 {
		return worked, nil
	}
	type read struct {
		Worker int64
		Days   string // of each entry its date and its minutes in one number: a row a span, and not one an entry, is what makes it quick
	}
	const dayAt = 11 // bits that the minutes of a day fit in
	found, err := store.Query[read](s.Tx, "WITH spans (worker, first, last) AS (VALUES "+strings.Join(rows, ", ")+`) SELECT s.worker,
		(SELECT ifnull(group_concat((e.date << ?) + iif(e.class IS 3, 0, e.minutes)), '') FROM time_entries e INDEXED BY time_entries_worker
		WHERE e.worker_id = s.worker AND e.date BETWEEN s.first AND s.last) AS days
		FROM spans s`, dayAt)
	if err != nil {
		return nil, err
	}
	for _, r := range found {
		for entry := range strings.FieldsFuncSeq(r.Days, func(c rune) bool { return c == ',' }) {
			n, err := strconv.Atoi(entry)
			if err != nil {
				return nil, err
			}
			worked[holes.Day{WorkerID: r.Worker, Date: calendar.Date(n >> dayAt)}] += money.Minutes(n & (1<<dayAt - 1))
		}
	}
	return worked, nil
}

// markOf says an outlier in words.
func markOf(o outlier.Outlier, week calendar.Date) Mark {
	on := (week + calendar.Date(o.Day)).Time()
	more := ""
	if o.Days > 1 {
		more = ", and " + words.Counted(int64(o.Days-1), "more day")
	}
	hours := fmt.Sprintf("%s h on %s", o.Minutes.Short(), on.Format("Mon 2 Jan"))
	switch o.Kind {
	case outlier.Hole:
		return Mark{"No " + on.Format("Monday"), "the rest of the crew had " + o.Against.Short() + " h" + more}
	case outlier.LongDay:
		return Mark{"Long day", hours + more}
	case outlier.BesideCrew:
		what := "Less than the crew"
		if o.Minutes > o.Against {
			what = "More than the crew"
		}
		return Mark{what, hours + ", the others " + o.Against.Short() + more}
	default:
		return Mark{"Unusual day", hours + ", usually " + o.Against.Short() + more}
	}
}

// jobMarks is what stands out of jobs that work is for, by their id: that they are expected to cost more than was agreed, or that what
// waits goes beyond their limit or into its last fifth.
func jobMarks(s *book.Session) (map[int64][]Mark, error) {
	marks := map[int64][]Mark{}
	works, err := jobs.Fixed(s, 0)
	if err != nil {
		return nil, err
	}
	for _, w := range works {
		if w.Over > 0 {
			marks[w.Job.ID] = append(marks[w.Job.ID], Mark{
				"Over contract", fmt.Sprintf("%s will cost %s of the %s agreed", w.Job.Number, s.Money(w.Expected), s.Money(w.Contract)),
			})
		}
	}
	uses, err := limits.Of(s.Tx, 0)
	for _, u := range uses {
		all := u.Ready + u.Held + u.Waiting
		if !u.Limit().Near(all) {
			continue
		}
		mark := Mark{"Near the limit", fmt.Sprintf("with it %s of the %s agreed", s.Money(u.Used+all), s.Money(u.Agreed))}
		if u.Used+all > u.Agreed {
			mark.What = "Over the limit"
		}
		marks[u.JobID] = append(marks[u.JobID], mark)
	}
	return marks, err
}

// paperMarks finds what stands out in cost documents, by their id.
func paperMarks(s *book.Session, documentIDs []int64) (map[int64][]Mark, error) {
	marks := map[int64][]Mark{}
	ofJobs, err := jobMarks(s)
	if err != nil {
		return nil, err
	}
	type paper struct {
		ID                                   int64
		Supplier, Number                     string
		Lines, NoJob, Unmarked, Below, Twice int64
		Alike                                string
	}
	papers, err := store.Query[paper](s.Tx, markedPapers, map[string]any{"ids": documentIDs})
	if err != nil {
		return nil, err
	}
	for _, p := range papers {
		add := func(when bool, what, against string) {
			if when {
				marks[p.ID] = append(marks[p.ID], Mark{what, against})
			}
		}
		add(p.NoJob > 0, "No job", fmt.Sprintf("on %d of its %s", p.NoJob, words.Counted(p.Lines, "line")))
		add(p.Twice > 0, "Entered twice", p.Supplier+" has "+p.Number+" already")
		add(p.Twice == 0 && p.Alike != "", "Same amount, same day", "as "+p.Alike)
		add(p.Unmarked > 0, "No markup", "charged at cost, on "+words.Counted(p.Unmarked, "line"))
		add(p.Below > 0, "Below cost", words.Counted(p.Below, "line")+" charged at less than landed cost")
	}
	type booked struct{ DocumentID, JobID int64 }
	papersOf, err := store.Query[booked](s.Tx, jobsOfPapers, documentIDs)
	for _, b := range papersOf {
		marks[b.DocumentID] = append(marks[b.DocumentID], ofJobs[b.JobID]...)
	}
	if err != nil {
		return nil, err
	}
	return marks, dearLines(s, marks, documentIDs)
}

// dearLines marks lines that cost more than the price list has for them.
func dearLines(s *book.Session, marks map[int64][]Mark, documentIDs []int64) error {
	type bought struct {
		DocumentID, ItemID int64
		Date               calendar.Date
		UnitCost           money.Rate
	}
	lines, err := store.Query[bought](s.Tx, listedLines, documentIDs)
	if err != nil || len(lines) == 0 {
		return err
	}
	known := map[int64]pricelist.ItemRow{}
	latest := lines[0].Date
	for _, l := range lines {
		latest = max(latest, l.Date)
	}
	items, err := pricelist.Items(s, 0, latest, 0) // of papers that wait none is approved, so none is held against itself
	for _, i := range items {
		known[i.ID] = i
	}
	told := map[int64]bool{}
	for _, l := range lines {
		usual, found := known[l.ItemID].On(l.Date)
		if found && !told[l.DocumentID] && dear(l.UnitCost, usual) {
			told[l.DocumentID] = true
			marks[l.DocumentID] = append(marks[l.DocumentID], Mark{"Dear", fmt.Sprintf(
				"%s at %s, usually %s", known[l.ItemID].Description, s.Currency.FormatRate(l.UnitCost), s.Currency.FormatRate(usual.Cost),
			)})
		}
	}
	return err
}

func dear(paid money.Rate, usual pricing.Listed) bool {
	return usual.Cost > 0 && (paid-usual.Cost)*100 >= usual.Cost*dearer
}
