package paper

import (
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"

	"jarvo/internal/app"
)

// Writers write a report by the name of their format.
var Writers = map[string]func(io.Writer, app.Report) error{"csv": ReportCSV, "json": ReportJSON, "xlsx": ReportXLSX}

// ReportCSV writes a report for scripts and spreadsheets. Texts that a spreadsheet would run as a formula are defused.
func ReportCSV(w io.Writer, r app.Report) error {
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
func ReportJSON(w io.Writer, r app.Report) error {
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

// ReportXLSX writes a workbook of one sheet: figures as numbers, everything else as text, which no spreadsheet runs.
func ReportXLSX(w io.Writer, r app.Report) error {
	return writeBook(w, func(b *book) error {
		if err := b.row(r.Columns, nil); err != nil {
			return err
		}
		for _, row := range r.Rows {
			if err := b.row(row, r.IsNumber); err != nil {
				return err
			}
		}
		return nil
	})
}

const sheetName = "Jarvo"

// book is a workbook under way, row by row.
type book struct {
	file    *excelize.File
	rows    *excelize.StreamWriter
	styles  map[int]int // by decimals
	written int
}

func writeBook(w io.Writer, fill func(*book) error) (err error) {
	b := &book{file: excelize.NewFile(), styles: map[int]int{}}
	defer func() { err = errors.Join(err, b.file.Close()) }()
	if err := b.file.SetSheetName("Sheet1", sheetName); err != nil {
		return err
	}
	if b.rows, err = b.file.NewStreamWriter(sheetName); err != nil {
		return err
	}
	if err := fill(b); err != nil {
		return err
	}
	if err := b.rows.Flush(); err != nil {
		return err
	}
	_, err = b.file.WriteTo(w)
	return err
}

// row writes a row; the cells of numeric columns become numbers with the decimals that they are written with.
func (b *book) row(cells []string, isNumber func(int) bool) error {
	values := make([]any, len(cells))
	for i, c := range cells {
		values[i] = c
		if c == "" || isNumber == nil || !isNumber(i) {
			continue
		}
		style, err := b.style(c)
		if err != nil {
			return err
		}
		number, err := strconv.ParseFloat(c, 64) // a spreadsheet holds no other numbers; the style shows it as it was written
		if err != nil {
			return fmt.Errorf("%q is not a number: %w", c, err)
		}
		values[i] = excelize.Cell{StyleID: style, Value: number}
	}
	b.written++
	return b.rows.SetRow(fmt.Sprintf("A%d", b.written), values)
}

func (b *book) style(number string) (int, error) {
	_, fraction, _ := strings.Cut(number, ".")
	if style, made := b.styles[len(fraction)]; made {
		return style, nil
	}
	format := "0"
	if fraction != "" {
		format += "." + strings.Repeat("0", len(fraction))
	}
	style, err := b.file.NewStyle(&excelize.Style{CustomNumFmt: &format})
	b.styles[len(fraction)] = style
	return style, err
}

// Defused keeps a text from being run as a formula by the spreadsheet that opens it.
func Defused(s string) string {
	if s != "" && strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return "'" + s
	}
	return s
}
