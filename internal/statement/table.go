package statement

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"

	"jarvo/internal/core/calendar"
)

// Columns say in which column of a table each thing stands, by their heads; blank is none.
type Columns struct {
	Date   string
	Amount string // or what came in, and what went out
	In     string
	Out    string
	Name   string
	Text   string
	Ref    string
	Order  string // how dates are written: ymd, dmy or mdy
}

// Table is a table as a bank writes it.
type Table struct {
	Head []string
	Rows [][]string
}

// ReadTable reads a table with a head, whatever stands between its cells; rows above the head that are shorter are left out.
func ReadTable(data []byte) (Table, error) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	if !utf8.Valid(data) {
		if decoded, err := charmap.Windows1252.NewDecoder().Bytes(data); err == nil {
			data = decoded
		}
	}
	var best Table
	most := 0 // cells in rows that are as wide as the widest
	for _, comma := range []rune{',', ';', '\t'} {
		r := csv.NewReader(bytes.NewReader(data))
		r.Comma, r.FieldsPerRecord, r.LazyQuotes = comma, -1, true
		rows, err := r.ReadAll()
		if err != nil {
			continue
		}
		widest := 0
		for _, row := range rows {
			widest = max(widest, len(row))
		}
		at := slices.IndexFunc(rows, func(row []string) bool { return len(row) == widest })
		cells := 0
		for _, row := range rows {
			if len(row) == widest {
				cells += widest - 1
			}
		}
		if cells > most {
			most, best = cells, Table{trimmed(rows[at]), nil}
			for _, row := range rows[at+1:] {
				if len(row) == widest {
					best.Rows = append(best.Rows, trimmed(row))
				}
			}
		}
	}
	if len(best.Head) == 0 {
		return best, ErrNotStatement
	}
	if len(best.Rows) == 0 {
		return best, ErrEmpty
	}
	return best, nil
}

func trimmed(cells []string) []string {
	out := make([]string, len(cells))
	for i, c := range cells {
		out[i] = clean(c)
	}
	return out
}

// heads are what banks call their columns.
var heads = []struct {
	is    func(*Columns) *string
	words []string
}{
	{func(c *Columns) *string { return &c.Date }, []string{"booking date", "posted", "transaction date", "date"}},
	{func(c *Columns) *string { return &c.In }, []string{"credit", "money in", "deposit", "paid in"}},
	{func(c *Columns) *string { return &c.Out }, []string{"debit", "money out", "withdrawal", "paid out"}},
	{func(c *Columns) *string { return &c.Amount }, []string{"amount", "value"}},
	{func(c *Columns) *string { return &c.Name }, []string{"name", "payer", "counterparty", "payee", "from"}},
	{func(c *Columns) *string { return &c.Text }, []string{"description", "details", "memo", "text", "purpose", "reference"}},
	{func(c *Columns) *string { return &c.Ref }, []string{"transaction id", "bank reference", "id"}},
}

// Guess says which column could be which by their heads, and how dates are written by the rows.
func (t Table) Guess(monthFirst bool) Columns {
	var c Columns
	taken := map[string]bool{}
	for _, h := range heads {
		for _, word := range h.words {
			at := slices.IndexFunc(t.Head, func(head string) bool {
				return !taken[head] && (strings.EqualFold(head, word) || strings.Contains(" "+strings.ToLower(head)+" ", " "+word+" "))
			})
			if at >= 0 {
				*h.is(&c), taken[t.Head[at]] = t.Head[at], true
				break
			}
		}
	}
	if c.In != "" && c.Out != "" {
		c.Amount = ""
	} else if c.Amount != "" {
		c.In, c.Out = "", ""
	}
	orders := []string{"ymd", "dmy", "mdy"}
	if monthFirst {
		orders = []string{"ymd", "mdy", "dmy"}
	}
	for _, order := range orders {
		c.Order = order
		if !slices.ContainsFunc(t.Rows, func(row []string) bool { _, err := parseDay(t.cell(row, c.Date), order); return err != nil }) {
			return c
		}
	}
	return c
}

func (t Table) cell(row []string, head string) string {
	if i := slices.Index(t.Head, head); i >= 0 && head != "" {
		return row[i]
	}
	return ""
}

// Lines reads the movements of a table. A fault names the row, counted from the head.
func (t Table) Lines(c Columns) ([]Line, error) {
	if c.Date == "" || c.Amount == "" && c.In == "" {
		return nil, ErrNotStatement
	}
	var lines []Line
	for n, row := range t.Rows {
		day, err := parseDay(t.cell(row, c.Date), c.Order)
		if err != nil {
			return nil, fmt.Errorf("row %d: %q is not a date, with %s first", n+1, t.cell(row, c.Date), orderNames[c.Order])
		}
		amount := plainFigure(t.cell(row, c.Amount))
		if c.Amount == "" {
			if amount = plainFigure(t.cell(row, c.In)); amount == "" || strings.Trim(amount, "0.") == "" {
				if out := strings.TrimPrefix(plainFigure(t.cell(row, c.Out)), "-"); out != "" {
					amount = "-" + out
				}
			}
		}
		if amount == "" {
			continue // a row without a movement, such as a balance brought forward
		}
		lines = append(lines, Line{Date: day, Amount: amount, Name: t.cell(row, c.Name), Text: t.cell(row, c.Text), Ref: t.cell(row, c.Ref)})
	}
	if len(lines) == 0 {
		return nil, ErrEmpty
	}
	return lines, nil
}

var orderNames = map[string]string{"ymd": "the year", "dmy": "the day", "mdy": "the month"}

// layouts are how dates are written, by what comes first.
var layouts = map[string][]string{
	"ymd": {"2006-1-2", "2006/1/2", "2006.1.2", "20060102"},
	"dmy": {"2.1.2006", "2/1/2006", "2-1-2006", "2.1.06", "2/1/06", "2 Jan 2006", "2-Jan-2006"},
	"mdy": {"1/2/2006", "1-2-2006", "1/2/06", "Jan 2, 2006", "Jan 2 2006"},
}

func parseDay(text, order string) (calendar.Date, error) {
	for _, layout := range layouts[order] {
		if t, err := time.Parse(layout, text); err == nil {
			return calendar.On(t.Year(), t.Month(), t.Day()), nil
		}
	}
	return 0, ErrNotStatement
}

// plainFigure is a figure as a bank writes it, in any country, as a plain decimal: the last point or comma with one or two digits after it
// parts the cents.
func plainFigure(text string) string {
	text = strings.TrimSpace(strings.NewReplacer(" ", "", "\u00a0", "", "'", "", "$", "", "€", "", "£", "", "−", "-", "+", "").Replace(text))
	if strings.HasPrefix(text, "(") && strings.HasSuffix(text, ")") {
		text = "-" + strings.Trim(text, "()")
	}
	if rest, back := strings.CutSuffix(text, "-"); back {
		text = "-" + rest
	}
	at := strings.LastIndexAny(text, ".,")
	if at < 0 {
		return text
	}
	bare := strings.NewReplacer(".", "", ",", "")
	if after := len(text) - at - 1; after == 3 && strings.Count(text, ".")+strings.Count(text, ",") == 1 || after > 3 || after == 0 {
		return bare.Replace(text)
	}
	return bare.Replace(text[:at]) + "." + text[at+1:]
}
