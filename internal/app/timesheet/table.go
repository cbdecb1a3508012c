package timesheet

import (
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// HoursFile is a table of hours from a spreadsheet: CSV, or what was copied from one.
type HoursFile struct {
	Key     string   `json:"key" doc:"made by the client: a retry brings nothing in twice"`
	Text    string   `json:"text" doc:"rows of cells, by comma, semicolon or tab"`
	Columns []string `json:"columns,omitempty" doc:"what each column is, as HoursPreview names them; absent: as it is guessed"`
	Week    string   `json:"week" format:"date" doc:"the week that columns named by weekday are in"`
}

// HoursPreview is a table of hours as it was understood.
type HoursPreview struct {
	Header  bool       `json:"header" doc:"the first row names the columns"`
	Columns []string   `json:"columns" doc:"worker, date, job, phase, cost_code, hours, start, finish, break, billable, note, a date, or blank for none"`
	Names   []string   `json:"names" doc:"the columns as the table names them"`
	Rows    []HoursRow `json:"rows"`
	Good    int        `json:"good" doc:"rows that can be brought in"`
	Bad     int        `json:"bad"`
	Hours   string     `json:"hours" doc:"of the good rows"`
	Brought int        `json:"brought" doc:"entries that were brought in"`
}

// HoursRow is a row of a table of hours.
type HoursRow struct {
	Line  int      `json:"line"`
	Cells []string `json:"cells"`
	Read  []string `json:"read" doc:"what it was read as"`
	Wrong []string `json:"wrong" doc:"what is wrong with it, in sentences"`
}

const (
	mostRows    = 2000
	mostColumns = 40
)

// errPreview takes back what a preview tried.
var errPreview = errors.New("only a preview")

// PreviewHours reads a table of hours and says of each row whether it could be brought in; nothing is.
func PreviewHours(ctx context.Context, b *book.Book, actor book.Actor, f HoursFile) (HoursPreview, error) {
	preview, err := book.Write(ctx, b, actor, book.Capture, func(s *book.Session) (HoursPreview, error) {
		preview, err := readHoursFile(s, f, costing.Begin(s))
		if err == nil {
			err = errPreview
		}
		return preview, err
	})
	if errors.Is(err, errPreview) {
		err = nil
	}
	preview.Brought = 0
	return preview, err
}

// BringHours brings the good rows of a table of hours in as drafts and leaves the bad ones out.
func BringHours(ctx context.Context, b *book.Book, actor book.Actor, f HoursFile) (HoursPreview, error) {
	return book.Write(ctx, b, actor, book.Capture, func(s *book.Session) (preview HoursPreview, err error) {
		step := costing.Begin(s)
		if preview, err = readHoursFile(s, f, step); err != nil {
			return preview, err
		}
		if preview.Good == 0 {
			return preview, refuse.Invalid("text", "there is no row that can be brought in")
		}
		return preview, step.Run()
	})
}

// hoursReader understands the rows of a table of hours.
type hoursReader struct {
	*book.Session
	file    HoursFile
	week    calendar.Date
	columns []string
	monthly bool // slashed dates begin with the month
	workers []store.Worker
	jobs    []store.Job
	phases  []store.Phase
	codes   []store.CostCode
	kept    int // entries that were saved
	step    *costing.Step
}

// readHoursFile reads a table of hours and saves what is good in it, for the costing step of the use case.
func readHoursFile(s *book.Session, f HoursFile, step *costing.Step) (HoursPreview, error) {
	rows, err := readTable(f.Text)
	if err != nil {
		return HoursPreview{}, refuse.Invalid("text", "%s", err)
	}
	c := s.Checks()
	week := c.Date("week", f.Week)
	if err := c.Err(); err != nil {
		return HoursPreview{}, err
	}
	r := &hoursReader{Session: s, file: f, week: week.WeekStart(book.WeekStart(s.Company)), step: step}
	if err := r.load(); err != nil {
		return HoursPreview{}, err
	}
	out := HoursPreview{Columns: f.Columns, Rows: []HoursRow{}}
	guessed, header := r.guess(rows)
	if len(f.Columns) == 0 {
		out.Columns = guessed
	}
	if len(out.Columns) != len(rows[0]) {
		return out, refuse.Invalid("columns", "there are %d columns, and %d are named", len(rows[0]), len(out.Columns))
	}
	r.columns, out.Header = out.Columns, header
	out.Names = make([]string, len(out.Columns))
	for i := range out.Names {
		out.Names[i] = "column " + strconv.Itoa(i+1)
		if header {
			out.Names[i] = rows[0][i]
		}
	}
	first := 0
	if header {
		first = 1
	}
	r.monthly = r.slashesBeginWithMonth(rows[first:])
	var minutes money.Minutes
	for i, cells := range rows[first:] {
		row, worked, err := r.row(first+i+1, cells)
		if err != nil {
			return out, err
		}
		out.Rows = append(out.Rows, row)
		if len(row.Wrong) > 0 {
			out.Bad++
			continue
		}
		out.Good++
		minutes += worked
	}
	out.Hours, out.Brought = minutes.Hours(), r.kept
	return out, nil
}

// readTable reads rows of cells, all of the same length; blank rows are left out.
func readTable(text string) ([][]string, error) {
	if !utf8.ValidString(text) || strings.ContainsRune(text, 0) {
		return nil, fmt.Errorf("this is not a text file; save the spreadsheet as CSV first")
	}
	text = strings.TrimPrefix(text, "\ufeff")
	line, _, _ := strings.Cut(text, "\n")
	delimiter, most := ',', 0
	for _, d := range []rune{'\t', ';', ','} {
		if n := strings.Count(line, string(d)); n > most {
			delimiter, most = d, n
		}
	}
	in := csv.NewReader(strings.NewReader(text))
	in.Comma, in.LazyQuotes, in.FieldsPerRecord = delimiter, true, -1
	var rows [][]string
	width := 0
	for {
		cells, err := in.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("this can't be read as a table: %w", err)
		}
		if strings.TrimSpace(strings.Join(cells, "")) == "" {
			continue
		}
		for i := range cells {
			cells[i] = strings.TrimSpace(cells[i])
		}
		width = max(width, len(cells))
		if rows = append(rows, cells); len(rows) > mostRows {
			return nil, fmt.Errorf("there are more than %d rows; bring them in in parts", mostRows)
		}
	}
	if len(rows) == 0 {
		return nil, fmt.Errorf("there is nothing in it yet; paste rows of hours, or open a CSV file")
	}
	if width > mostColumns {
		return nil, fmt.Errorf("there are %d columns; more than %d are not read", width, mostColumns)
	}
	for i := range rows {
		rows[i] = append(rows[i], make([]string, width-len(rows[i]))...)
	}
	return rows, nil
}

func (r *hoursReader) load() error {
	var err error
	if r.workers, err = store.Query[store.Worker](r.Tx, `SELECT * FROM workers WHERE active = 1 AND (? = '' OR crew = ?)
		ORDER BY id`, r.Actor.Crew, r.Actor.Crew); err != nil {
		return err
	}
	if r.jobs, err = store.Query[store.Job](r.Tx, "SELECT * FROM jobs ORDER BY id"); err != nil {
		return err
	}
	if r.phases, err = store.Query[store.Phase](r.Tx, "SELECT * FROM phases ORDER BY id"); err != nil {
		return err
	}
	r.codes, err = store.Query[store.CostCode](r.Tx, "SELECT * FROM cost_codes ORDER BY id")
	return err
}

// headings are what columns are called, in lower case and without signs.
var headings = map[string]string{
	"worker": "worker", "name": "worker", "employee": "worker", "who": "worker", "date": "date", "day": "date", "job": "job",
	"jobnumber": "job", "jobno": "job", "phase": "phase",
	"costcode": "cost_code", "code": "cost_code", "hours": "hours", "time": "hours", "start": "start", "in": "start", "from": "start",
	"finish": "finish", "out": "finish", "end": "finish", "to": "finish",
	"break": "break", "breakminutes": "break", "billable": "billable", "note": "note", "notes": "note", "comment": "note",
}

// guess says what each column is, by its heading, and where it has none by what is in it.
func (r *hoursReader) guess(rows [][]string) (columns []string, header bool) {
	columns = make([]string, len(rows[0]))
	for i, cell := range rows[0] {
		columns[i] = r.heading(cell)
	}
	named := 0
	for _, c := range columns {
		if c != "" {
			named++
		}
	}
	if header = named >= 2 || named == 1 && len(rows[0]) == 1; header {
		return columns, true
	}
	columns = make([]string, len(rows[0]))
	taken := map[string]bool{}
	var figures []int
	for i := range columns {
		kind := r.kindOf(rows, i)
		if kind == "hours" {
			figures = append(figures, i)
		} else if kind != "" && !taken[kind] {
			columns[i], taken[kind] = kind, true
		}
	}
	for n, i := range figures {
		switch {
		case taken["date"] || len(figures) == 1:
			if !taken["hours"] {
				columns[i], taken["hours"] = "hours", true
			}
		case n < 7:
			columns[i] = (r.week + calendar.Date(n)).String()
		}
	}
	return columns, false
}

func (r *hoursReader) heading(cell string) string {
	plain := strings.Map(func(c rune) rune {
		if strings.ContainsRune(" _-.:/", c) {
			return -1
		}
		return c
	}, strings.ToLower(cell))
	if kind, ok := headings[plain]; ok {
		return kind
	}
	if d, err := calendar.Parse(cell); err == nil {
		return d.String()
	}
	weekday := strings.TrimRight(plain, "0123456789")
	for d := r.week; d < r.week+7; d++ {
		if len(weekday) >= 3 && strings.HasPrefix(strings.ToLower(d.Time().Weekday().String()), weekday) {
			return d.String()
		}
	}
	return ""
}

// kindOf guesses what a column holds by its first cells.
func (r *hoursReader) kindOf(rows [][]string, column int) string {
	tests := []struct {
		kind string
		is   func(string) bool
	}{
		{"worker", func(s string) bool { _, err := match(r.workers, s, workerNames, "worker"); return err == nil }},
		{"job", func(s string) bool { _, err := match(r.jobs, s, jobNames, "job"); return err == nil }},
		{"date", func(s string) bool { _, err := r.date(s); return err == nil }},
		{"cost_code", func(s string) bool { _, err := match(r.codes, s, codeNames, "cost code"); return err == nil }},
		{"hours", func(s string) bool { _, err := worktime.Read(s); return err == nil }},
	}
	for _, t := range tests {
		seen, fits := 0, 0
		for _, row := range rows[:min(len(rows), 20)] {
			if row[column] != "" {
				seen++
				if t.is(row[column]) {
					fits++
				}
			}
		}
		if seen > 0 && fits*3 >= seen*2 {
			return t.kind
		}
	}
	return ""
}

func workerNames(w store.Worker) []string { return []string{w.Code, w.Name} }

func jobNames(j store.Job) []string { return []string{j.Number, j.Name, j.Number + " " + j.Name} }

func phaseNames(p store.Phase) []string { return []string{p.Code, p.Name} }

func codeNames(c store.CostCode) []string { return []string{c.Code, c.Name, c.Code + " " + c.Name} }

// match finds the one record that a text names: by its code or name, or by a part of the name that no other has.
func match[R any](records []R, text string, names func(R) []string, what string) (R, error) {
	var none R
	wanted := strings.ToLower(text)
	var parts []R
	for _, record := range records {
		for i, name := range names(record) {
			if strings.ToLower(name) == wanted {
				return record, nil
			}
			if i == 1 && len(wanted) >= 3 && strings.Contains(strings.ToLower(name), wanted) {
				parts = append(parts, record)
			}
		}
	}
	switch len(parts) {
	case 1:
		return parts[0], nil
	case 0:
		return none, fmt.Errorf("there is no %s %q", what, text)
	default:
		return none, fmt.Errorf("%q could be more than one %s", text, what)
	}
}

// slashesBeginWithMonth says how 11/12/2026 is meant: as the dates around it show, or else as where the currency is used.
func (r *hoursReader) slashesBeginWithMonth(rows [][]string) bool {
	for _, row := range rows {
		for i, cell := range row {
			parts := strings.Split(cell, "/")
			if r.columns[i] != "date" || len(parts) != 3 {
				continue
			}
			first, _ := strconv.Atoi(parts[0])
			second, _ := strconv.Atoi(parts[1])
			if first > 12 || second > 12 {
				return second > 12
			}
		}
	}
	return r.Company.Currency == "USD"
}

func (r *hoursReader) date(s string) (calendar.Date, error) {
	if d, err := calendar.Parse(s); err == nil {
		return d, nil
	}
	layouts := []string{"2.1.2006", "2/1/2006", "2 Jan 2006", "2-Jan-2006", "Jan 2, 2006"}
	if r.monthly {
		layouts[1] = "1/2/2006"
	}
	for _, layout := range layouts {
		if t, err := time.Parse(layout, s); err == nil {
			return calendar.Of(t), nil
		}
	}
	return 0, fmt.Errorf("%q is not a date such as 2026-11-16", s)
}

// row reads a row and tries to save what it says; what is wrong with any of it leaves all of it out.
func (r *hoursReader) row(line int, cells []string) (HoursRow, money.Minutes, error) {
	row := HoursRow{Line: line, Cells: cells, Read: []string{}, Wrong: []string{}}
	edits := r.edits(&row)
	if len(edits) == 0 && len(row.Wrong) == 0 {
		row.Wrong = append(row.Wrong, "there are no hours in this row")
	}
	if len(row.Wrong) > 0 {
		return row, 0, nil
	}
	c := saver(r.Session, len(edits), r.step)
	if err := r.SavePoint("row").Error; err != nil {
		return row, 0, err
	}
	var worked money.Minutes
	for i, edit := range edits {
		if r.file.Key != "" {
			edit.Key = book.KeyOf(r.file.Key, line, i)
		}
		if err := c.save(i, edit); err != nil {
			return row, 0, err
		}
		if reading, err := worktime.Read(edit.Text); err == nil {
			worked += reading.Minutes
		}
	}
	for _, s := range c.stale {
		for f, field := range c.Fields {
			if field.Path == fmt.Sprintf("edits[%d].text", s.Edit) {
				c.Fields[f].Message = fmt.Sprintf("%s stands on this line and day already", s.Text)
			}
		}
	}
	for _, f := range c.Fields {
		row.Wrong = append(row.Wrong, f.Message)
	}
	if len(row.Wrong) > 0 {
		return row, 0, r.RollbackTo("row").Error
	}
	r.kept += len(edits)
	return row, worked, nil
}

// edits are what a row asks for: one entry, or one for each day that has a column.
func (r *hoursReader) edits(row *HoursRow) []CellEdit {
	wrong := func(err error) { row.Wrong = append(row.Wrong, err.Error()) }
	cell := map[string]string{}
	days := map[string]string{}
	for i, column := range r.columns {
		if _, err := calendar.Parse(column); err == nil {
			days[column] = row.Cells[i]
		} else if column != "" {
			cell[column] = row.Cells[i]
		}
	}
	edit := r.place(cell, wrong)
	var edits []CellEdit
	add := func(date calendar.Date, text string) {
		reading, err := worktime.Read(text)
		if err != nil {
			wrong(err)
			return
		}
		e := edit
		e.Date, e.Text = date.String(), reading.Text()
		edits = append(edits, e)
		row.Read = append(row.Read, fmt.Sprintf("%s %s", date.Time().Format("Mon 2 Jan"), reading))
	}
	for _, column := range r.columns {
		if text := days[column]; text != "" && text != "0" {
			date, _ := calendar.Parse(column)
			add(date, text)
		}
	}
	if text := rowText(cell); text != "" {
		date, err := r.date(cell["date"])
		if cell["date"] == "" {
			err = fmt.Errorf("there is no date in this row")
		}
		if err != nil {
			wrong(err)
		} else {
			add(date, text)
		}
	}
	return edits
}

// place is an edit of what a row says of it beside its dates and hours.
func (r *hoursReader) place(cell map[string]string, wrong func(error)) CellEdit {
	worker, err := match(r.workers, cell["worker"], workerNames, "worker")
	if cell["worker"] == "" {
		err = fmt.Errorf("there is no worker in this row")
	}
	if err != nil {
		wrong(err)
	}
	job, err := match(r.jobs, cell["job"], jobNames, "job")
	if cell["job"] == "" {
		err = fmt.Errorf("there is no job in this row")
	}
	if err != nil {
		wrong(err)
	}
	edit := CellEdit{WorkerID: worker.ID, JobID: job.ID, Billable: true}
	if cell["phase"] != "" && job.ID != 0 {
		var own []store.Phase
		for _, p := range r.phases {
			if p.JobID == job.ID {
				own = append(own, p)
			}
		}
		phase, err := match(own, cell["phase"], phaseNames, "phase of job "+job.Number)
		if err != nil {
			wrong(err)
		}
		edit.PhaseID = phase.ID
	}
	if cell["cost_code"] != "" {
		code, err := match(r.codes, cell["cost_code"], codeNames, "cost code")
		if err != nil {
			wrong(err)
		}
		edit.CostCodeID = code.ID
	}
	switch strings.ToLower(cell["billable"]) {
	case "", "yes", "y", "true", "1", "x":
	case "no", "n", "false", "0":
		edit.Billable = false
	default:
		wrong(fmt.Errorf("%q is not yes or no", cell["billable"]))
	}
	if note := cell["note"]; note != "" {
		edit.Note = &note
	}
	return edit
}

// rowText is the hours of a row as they would be typed: hours, or start, finish and break.
func rowText(cell map[string]string) string {
	if cell["start"] == "" && cell["finish"] == "" {
		return cell["hours"]
	}
	text := cell["start"] + "-" + cell["finish"]
	if pause := cell["break"]; pause != "" && pause != "0" {
		text += "/" + pause
	}
	return text
}
