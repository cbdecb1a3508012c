package paper

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"jarvo/internal/app/reports"
)

// Writers write a report by the name of their format.
var Writers = map[string]func(io.Writer, reports.Report) error{"csv": ReportCSV, "json": ReportJSON, "xlsx": ReportXLSX}

// ReportCSV writes a report for scripts and spreadsheets. Texts that a spreadsheet would run as a formula are defused.
func ReportCSV(w io.Writer, r reports.Report) error {
	out := csv.NewWriter(w)
	err := out.Write(r.Columns)
	for _, row := range r.Rows {
		cells := make([]string, len(row))
		for i, c := range row {
			cells[i] = c
			if !r.IsNumber(i) {
				cells[i] = Defused(c)
			}
		}
		err = errors.Join(err, out.Write(cells))
	}
	out.Flush()
	return errors.Join(err, out.Error())
}

// ReportJSON writes a list of objects; decimals are texts, so that no reader makes floats of them unasked.
func ReportJSON(w io.Writer, r reports.Report) error {
	records := make([]map[string]string, len(r.Rows))
	for i, row := range r.Rows {
		records[i] = map[string]string{}
		for c, name := range r.Columns {
			records[i][name] = row[c]
		}
	}
	out := json.NewEncoder(w)
	out.SetIndent("", "  ")
	return out.Encode(records)
}

// DownloadCSV is [ReportCSV] for a person who opens the file with an office program: it says that it is UTF-8, and its lines end as those
// of RFC 4180 do.
func DownloadCSV(w io.Writer, r reports.Report) error {
	var b bytes.Buffer
	if err := ReportCSV(&b, r); err != nil {
		return err
	}
	rows, err := csv.NewReader(&b).ReadAll()
	if err != nil {
		return err
	}
	if _, err := io.WriteString(w, "\ufeff"); err != nil {
		return err
	}
	out := csv.NewWriter(w)
	out.UseCRLF = true
	return out.WriteAll(rows)
}

const (
	sheetName   = "Jarvo"
	narrowest   = 8.0 // columns, in characters
	widest      = 60.0
	mostMeasure = 2000 // rows that a column's width is measured by
)

// ReportXLSX writes a workbook of one sheet: a head that stays in sight, with filters; figures as numbers, dates as dates, everything else
// as text, which no spreadsheet runs; and under it the sums of what is shown.
func ReportXLSX(w io.Writer, r reports.Report) (err error) {
	b := &workbook{report: r, file: excelize.NewFile(), styles: map[string]int{}}
	defer func() { err = errors.Join(err, b.file.Close()) }()
	if err := errors.Join(b.file.SetSheetName("Sheet1", sheetName), b.file.SetDocProps(&excelize.DocProperties{
		Creator: "Jarvo", LastModifiedBy: "Jarvo", Title: r.Name,
	}),
		b.file.SetAppProps(&excelize.AppProperties{Application: "Jarvo"})); err != nil {
		return err
	}
	if b.rows, err = b.file.NewStreamWriter(sheetName); err != nil {
		return err
	}
	for _, step := range []func() error{b.columns, b.head, b.records, b.sums, b.rows.Flush} {
		if err := step(); err != nil {
			return err
		}
	}
	_, err = b.file.WriteTo(w)
	return err
}

// workbook is a workbook under way, row by row.
type workbook struct {
	report reports.Report
	file   *excelize.File
	rows   *excelize.StreamWriter
	styles map[string]int // by format
}

// columns are as wide as what is in them, and the head stays in sight.
func (b *workbook) columns() error {
	for i, name := range b.report.Columns {
		width := utf8.RuneCountInString(name)
		for _, row := range b.report.Rows[:min(len(b.report.Rows), mostMeasure)] {
			width = max(width, utf8.RuneCountInString(row[i]))
		}
		if err := b.rows.SetColWidth(i+1, i+1, min(widest, max(narrowest, float64(width)+3))); err != nil { // the filter's arrow needs room
			return err
		}
	}
	return b.rows.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"})
}

func (b *workbook) head() error {
	bold, err := b.file.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return err
	}
	cells := make([]any, len(b.report.Columns))
	for i, name := range b.report.Columns {
		cells[i] = excelize.Cell{StyleID: bold, Value: name}
	}
	return b.rows.SetRow("A1", cells)
}

func (b *workbook) records() error {
	for n, row := range b.report.Rows {
		cells := make([]any, len(row))
		for i, text := range row {
			var err error
			if cells[i], err = b.cell(i, text, false); err != nil {
				return err
			}
		}
		if err := b.rows.SetRow(fmt.Sprintf("A%d", n+2), cells); err != nil {
			return err
		}
	}
	if len(b.report.Rows) == 0 {
		return nil
	}
	last, err := excelize.CoordinatesToCellName(len(b.report.Columns), len(b.report.Rows)+1)
	if err != nil {
		return err
	}
	stripes := false
	return b.rows.AddTable(&excelize.Table{Range: "A1:" + last, Name: "Records", ShowRowStripes: &stripes}) // a table has filters
}

// sums adds columns up under the table, of the rows that a filter leaves.
func (b *workbook) sums() error {
	if len(b.report.Rows) == 0 {
		return nil
	}
	cells, found := make([]any, len(b.report.Columns)), false
	for i := range b.report.Columns {
		if !b.report.IsSummed(i) {
			continue
		}
		column, err := excelize.ColumnNumberToName(i + 1)
		if err != nil {
			return err
		}
		sum, err := b.cell(i, b.report.Sum(i), true)
		if err != nil {
			return err
		}
		if cell, ok := sum.(excelize.Cell); ok {
			cell.Formula, found = fmt.Sprintf("SUBTOTAL(109,%s2:%s%d)", column, column, len(b.report.Rows)+1), true
			cells[i] = cell
		}
	}
	if !found {
		return nil
	}
	return b.rows.SetRow(fmt.Sprintf("A%d", len(b.report.Rows)+2), cells)
}

// cell is a text as what it is: a number with the decimals that it is written with, a date, or a text.
func (b *workbook) cell(column int, text string, bold bool) (any, error) {
	switch {
	case text == "":
		return nil, nil
	case b.report.IsDate(column):
		day, err := time.Parse(time.DateOnly, text)
		if err != nil {
			return text, nil
		}
		style, err := b.style("yyyy-mm-dd", bold)
		return excelize.Cell{StyleID: style, Value: day}, err
	case !b.report.IsNumber(column):
		return text, nil
	}
	_, fraction, _ := strings.Cut(text, ".")
	format := "#,##0"
	if fraction != "" {
		format += "." + strings.Repeat("0", len(fraction))
	}
	style, err := b.style(format, bold)
	if err != nil {
		return nil, err
	}
	number, err := strconv.ParseFloat(text, 64) // a spreadsheet holds no other numbers; the style shows it as it was written
	if err != nil {
		return nil, fmt.Errorf("%q is not a number: %w", text, err)
	}
	return excelize.Cell{StyleID: style, Value: number}, nil
}

func (b *workbook) style(format string, bold bool) (int, error) {
	key := fmt.Sprint(format, bold)
	if style, made := b.styles[key]; made {
		return style, nil
	}
	style, err := b.file.NewStyle(&excelize.Style{CustomNumFmt: &format, Font: &excelize.Font{Bold: bold}})
	b.styles[key] = style
	return style, err
}

// formulaBegins are what spreadsheets take for the beginning of a formula, also in full width.
const formulaBegins = "=+-@|%\uff1d\uff0b\uff0d\uff20"

// Defused keeps a text from being run as a formula by the spreadsheet that opens it, also behind spaces and ends of lines.
func Defused(s string) string {
	bare := strings.TrimLeftFunc(s, func(r rune) bool { return unicode.IsSpace(r) || unicode.IsControl(r) || r == '\ufeff' || r == '\u200b' })
	if bare == "" {
		return s
	}
	first, _ := utf8.DecodeRuneInString(bare)
	if strings.ContainsRune(formulaBegins, first) || s[0] == '\t' || s[0] == '\r' {
		return "'" + s
	}
	return s
}
