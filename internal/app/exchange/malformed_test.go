package exchange_test

import (
	"archive/zip"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/specimen"
)

// spoiled is a bundle with one thing wrong in it: what, and where the sentence about it must point.
type spoiled struct {
	what  string
	files map[string]string
	at    string // the file, and its column where it is of one
}

// wrongCells are texts that a column of a kind can't hold.
var wrongCells = map[string][]string{
	"number":  {"ten", "1,50", "1e3", "99999999999999999999999", "12.3456789", "١٢"},
	"integer": {"x", "1.5", "-3"},
	"date":    {"2025-02-30", "18/18/2025", "03/04/2025", "0001-01-01", "soon"},
	"boolean": {"maybe", "1"},
}

// tables writes records as the texts of apptest.Files.
func tables(data bundle.Data) map[string]string {
	files := map[string]string{}
	for _, t := range bundle.Tables {
		if len(data[t.File]) == 0 {
			continue
		}
		var text strings.Builder
		w := csv.NewWriter(&text)
		_ = w.WriteAll(append([][]string{names(t)}, data[t.File]...)) // a builder never fails
		files[t.File] = text.String()
	}
	return files
}

func names(t bundle.Table) []string {
	var all []string
	for _, c := range t.Columns {
		all = append(all, c.Name)
	}
	return all
}

// with is a copy of a company's files in which one cell of one row is another.
func with(data bundle.Data, file string, row, column int, text string) map[string]string {
	changed := bundle.Data{}
	for name, rows := range data {
		changed[name] = rows
	}
	changed[file] = slices.Clone(data[file])
	changed[file][row] = slices.Clone(data[file][row])
	changed[file][row][column] = text
	return tables(changed)
}

// references are columns that name a row of another file, or one of a few words.
var references = map[string][]string{
	"workers.csv": {"trade", "kind", "exempt", "active"}, "wages.csv": {"worker"}, "burdens.csv": {"basis"},
	"labour_rates.csv": {"worker", "trade", "cost_code", "method"},
	"markups.csv":      {"category"}, "tax_codes.csv": {"applies_to"}, "customers.csv": {"tax_code", "invoice_per"},
	"jobs.csv": {"customer", "status", "basis", "tax_code"}, "phases.csv": {"job", "basis"},
	"time_entries.csv":   {"worker", "job", "phase", "cost_code", "pay_class", "status", "hours"},
	"cost_documents.csv": {"kind", "worker", "status"},
	"cost_lines.csv":     {"document", "category", "job", "phase", "cost_code"},
	"invoices.csv":       {"customer", "status", "grouping", "ref", "issued_at"},
	"invoice_lines.csv":  {"invoice", "job", "category"}, "invoice_taxes.csv": {"invoice"}, "invoice_jobs.csv": {"invoice", "job"},
	"invoice_sources.csv": {"invoice", "time_entry"},
	"labour_segments.csv": {"time_entry", "class"}, "landed_costs.csv": {"document", "line"}, "payments.csv": {"customer"},
	"payment_allocations.csv": {"payment", "invoice"},
}

// spoil makes every kind of wrong bundle of one that is right.
func spoil(data bundle.Data) []spoiled {
	var all []spoiled
	for _, t := range bundle.Tables {
		rows := data[t.File]
		if len(rows) == 0 {
			continue
		}
		good := tables(data)
		files := func(text string) map[string]string {
			changed := map[string]string{}
			for name, s := range good {
				changed[name] = s
			}
			changed[t.File] = text
			return changed
		}
		header, body, _ := strings.Cut(good[t.File], "\n")
		all = append(all,
			spoiled{
				t.File + " with a column nobody knows",
				files(header + ",surprise\n" + strings.ReplaceAll(strings.TrimSpace(body), "\n", ",x\n") + ",x\n"), t.File,
			},
			spoiled{t.File + " with its key twice", files(good[t.File] + strings.Split(body, "\n")[0] + "\n"), t.File},
			spoiled{t.File + " with a row cut short", files(good[t.File] + "x\n"), t.File},
			spoiled{t.File + " cut within a quote", files(good[t.File] + "\"half of a"), t.File},
			spoiled{t.File + " that is no text", files(good[t.File] + "\xff\xfe\x00\n"), t.File},
			spoiled{
				t.File + " with a column twice", files(strings.Replace(header, names(t)[0], names(t)[len(t.Columns)-1], 1) + "\n" + body), t.File,
			},
		)
		for i, c := range t.Columns {
			if c.Required {
				all = append(all, spoiled{fmt.Sprintf("%s without %s", t.File, c.Name), with(data, t.File, 0, i, ""), t.File + " " + c.Name})
			}
			for _, text := range wrongCells[c.Type] {
				if t.File != "settings.csv" {
					all = append(all, spoiled{fmt.Sprintf("%s with %s %q", t.File, c.Name, text), with(data, t.File, 0, i, text), t.File + " " + c.Name})
				}
			}
			if slices.Contains(references[t.File], c.Name) {
				all = append(all, spoiled{fmt.Sprintf("%s with an unknown %s", t.File, c.Name), with(data, t.File, 0, i, "nowhere"), t.File})
			}
		}
	}
	for key, texts := range map[string][]string{
		"currency": {"EURO", "usd", ""}, "week_start": {"Montag"}, "overtime_weekly_hours": {"-1", "x", "1000"}, "overtime_factor": {"0.5", "x"},
		"overtime_days": {"everyday"},
		"purchase_tax":  {"maybe"}, "next_invoice_number": {"0", "-5", "1.5"}, "terms_days": {"soon", "-1"}, "tax_code": {"nowhere"},
		"no_such_setting": {"1"}, "distance_unit": {"ell"},
	} {
		for _, text := range texts {
			files := tables(data)
			files["settings.csv"] = "key,value\n" + key + "," + text + "\n"
			all = append(all, spoiled{fmt.Sprintf("setting %s %q", key, text), files, "settings.csv"})
		}
	}
	for _, row := range []struct{ what, file, text, at string }{
		{"hours and clock together", "time_entries.csv", "ref,worker,date,job,hours,start,finish\nX1,W01,2025-03-03,96,8,07:00,15:00\n", "hours"},
		{"a finish without a start", "time_entries.csv", "ref,worker,date,job,finish\nX1,W01,2025-03-03,96,15:00\n", "start"},
		{"a start without a finish", "time_entries.csv", "ref,worker,date,job,start\nX1,W01,2025-03-03,96,07:00\n", "finish"},
		{"neither hours nor clock", "time_entries.csv", "ref,worker,date,job\nX1,W01,2025-03-03,96\n", "hours"},
		{
			"no time left after the break", "time_entries.csv",
			"ref,worker,date,job,start,finish,break_minutes\nX1,W01,2025-03-03,96,07:00,08:00,60\n", "finish",
		},
		{
			"a break with hours' amount", "time_entries.csv",
			"ref,worker,date,job,start,finish,break_minutes\nX1,W01,2025-03-03,96,07:00,08:00,9999\n", "break_minutes",
		},
		{"more than a day", "time_entries.csv", "ref,worker,date,job,hours\nX1,W01,2025-03-03,96,24:01\n", "hours"},
		{"no time at all", "time_entries.csv", "ref,worker,date,job,hours\nX1,W01,2025-03-03,96,0\n", "hours"},
		{"an hour that is none", "time_entries.csv", "ref,worker,date,job,start,finish\nX1,W01,2025-03-03,96,25:00,26:00\n", "start"},
		{"a markup of -100 %", "markups.csv", "card,effective_from,category,percent\nSTD,2020-01-01,material,-100\n", "percent"},
		{
			"a cap on an hour", "burdens.csv", "class,component,effective_from,basis,value,annual_wage_cap\nfield,New,2020-01-01,hour,5,9000\n",
			"annual_wage_cap",
		},
		{"a wage below 0", "wages.csv", "worker,effective_from,rate\nW01,2020-01-01,-1\n", "rate"},
		{"a phase without a job", "cost_lines.csv", "document,line,category,unit_cost,phase\nD00001,99,material,1,A\n", "phase"},
		{"a job for nobody", "jobs.csv", "number,customer,name,basis\n9999,,Nobody's,tm\n", "customer"},
		{"retainage over 100 %", "jobs.csv", "number,customer,name,retainage\n9999,C001,Held,101\n", "retainage"},
		{
			"an amount beyond all bounds", "cost_lines.csv",
			"document,line,category,quantity,unit_cost,job\nD00001,99,material,9999999999,999999999,96\n", "",
		},
	} {
		files := tables(data)
		for _, t := range bundle.Tables[slices.IndexFunc(bundle.Tables, func(t bundle.Table) bool { return t.File == "cost_lines.csv" }):] {
			delete(files, t.File) // nothing else is wrong then
		}
		files[row.file] = row.text
		all = append(all, spoiled{row.what, files, strings.TrimSpace(row.file + " " + row.at)})
	}
	files := tables(data)
	files["payroll.csv"] = "a\n1\n"
	return append(all, spoiled{"a file nobody knows", files, "payroll.csv"})
}

// Every bundle with something wrong in it is refused with a sentence that says where, and leaves the book as it was,
// byte for byte when it is taken out.
func TestMalformedBundlesChangeNothing(t *testing.T) {
	data := specimen.Company(7, specimen.Size{Workers: 3, Jobs: 6, Entries: 30, CostLines: 14, Days: 30})
	data["settings.csv"] = slices.DeleteFunc(data["settings.csv"], func(row []string) bool { return row[0] == "currency" })
	a := apptest.NewBook(t)
	apptest.Import(t, a, apptest.WriteBundle(t, data))
	end := specimen.Begin + calendar.Date(30)
	_, err := billing.Run(ctx, a, book.Console, end, end, "", true)
	require.NoError(t, err)
	apptest.PayFirst(t, a)
	before, err := exchange.Export(ctx, a, book.Console)
	require.NoError(t, err)

	// What the book has itself, and what an empty book would be given, are both spoiled.
	fresh := apptest.NewBook(t)
	all := spoil(before)
	assert.GreaterOrEqual(t, len(all), 300)
	folder := filepath.Join(t.TempDir(), "bundle")
	for _, s := range all {
		require.NoError(t, os.RemoveAll(folder))
		require.NoError(t, os.Mkdir(folder, 0o700))
		for name, text := range s.files {
			require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte(text), 0o600))
		}
		assertRefused(t, fresh, folder, s)
		s.at, _, _ = strings.Cut(s.at, " ") // of a row that never changes it is enough to say so
		assertRefused(t, a, folder, s)
	}
	after, err := exchange.Export(ctx, a, book.Console)
	require.NoError(t, err)
	assert.Equal(t, before, after)
	_, err = exchange.Export(ctx, fresh, book.Console)
	require.Error(t, err, "the empty book is still empty")
}

func assertRefused(t *testing.T, a *book.Book, folder string, s spoiled) {
	t.Helper()
	b, err := bundle.Read(folder)
	if err == nil {
		b.SmallPercents = true // the made-up companies have some
		_, err = exchange.Import(ctx, a, book.Console, b)
	}
	file, column, _ := strings.Cut(s.at, " ")
	var problems bundle.Problems
	if !assert.ErrorAs(t, err, &problems, "%s: %v", s.what, err) {
		return
	}
	assert.True(
		t, slices.ContainsFunc(problems, func(p bundle.Problem) bool { return p.File == file && (column == "" || p.Column == column) }),
		"%s is said of another place:\n%v", s.what, err,
	)
	for _, p := range problems {
		assert.NotContains(t, p.Message, "constraint", s.what)
		assert.Greater(t, len(p.Message), 10, s.what)
	}
}

func zipOf(t *testing.T, fill func(*zip.Writer)) string {
	t.Helper()
	name := filepath.Join(t.TempDir(), "b.zip")
	f, err := os.Create(name)
	require.NoError(t, err)
	z := zip.NewWriter(f)
	fill(z)
	require.NoError(t, errors.Join(z.Close(), f.Close()))
	return name
}

func TestZipsThatAreNotBundles(t *testing.T) {
	entry := func(name, text string) func(*zip.Writer) {
		return func(z *zip.Writer) {
			w, err := z.Create(name)
			require.NoError(t, err)
			_, err = io.WriteString(w, text)
			require.NoError(t, err)
		}
	}
	bomb := zipOf(t, func(z *zip.Writer) {
		w, err := z.Create("trades.csv")
		require.NoError(t, err)
		line := strings.Repeat("x", 1<<20)
		for range 300 {
			_, err = io.WriteString(w, line)
			require.NoError(t, err)
		}
	})
	whole := zipOf(t, entry("trades.csv", "code,name\n1,x\n"))
	bytes, err := os.ReadFile(whole)
	require.NoError(t, err)
	cut := filepath.Join(t.TempDir(), "cut.zip")
	require.NoError(t, os.WriteFile(cut, bytes[:len(bytes)/2], 0o600))
	for what, c := range map[string]struct{ name, sentence string }{
		"a bomb":                {bomb, "unpacks to more than"},
		"a path out of it":      {zipOf(t, entry("../trades.csv", "code,name\n")), "outside its folder"},
		"a path from the root":  {zipOf(t, entry("/etc/trades.csv", "code,name\n")), "outside its folder"},
		"a path with backslash": {zipOf(t, entry(`..\trades.csv`, "code,name\n")), "outside its folder"},
		"half of a zip":         {cut, "neither a folder nor a zip"},
		"nothing there":         {filepath.Join(t.TempDir(), "none.zip"), "there is no bundle"},
		"a folder in the folder": {
			zipOf(t, func(z *zip.Writer) { entry("a/trades.csv", "x")(z); entry("b/trades.csv", "x")(z) }), "not a file of a bundle",
		},
	} {
		_, err := bundle.Read(c.name)
		assert.ErrorContains(t, err, c.sentence, what)
	}
}
