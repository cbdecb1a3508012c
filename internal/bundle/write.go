package bundle

import (
	"archive/zip"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"jarvo/internal/durable"
)

// Data is what a bundle is written from: the records of each file, in its columns' order, without the header.
type Data map[string][][]string

// Scans reads a scan that attachments.csv names.
type Scans func(file string) ([]byte, error)

// Write writes a bundle to a new or empty folder, or to a .zip file, that its owner alone may read: the whole of it, or nothing. Files
// without records are left out. Scans may be
// nil where there are no attachments.
func Write(name string, data Data, scans Scans) error {
	if IsZip(name) {
		return durable.File(name, func(part string) error { return writeZip(part, data, scans) })
	}
	return durable.Folder(name, func(part string) error {
		if len(filesIn(data)) > 0 {
			if err := os.Mkdir(filepath.Join(part, ScanFolder), 0o700); err != nil {
				return err
			}
		}
		return write(data, scans, func(file string) (io.WriteCloser, error) {
			return os.OpenFile(filepath.Join(part, file), os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
		})
	})
}

type zipFile struct{ io.Writer }

func (zipFile) Close() error { return nil }

func writeZip(name string, data Data, scans Scans) error {
	f, err := os.OpenFile(name, os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	z := zip.NewWriter(f)
	err = write(data, scans, func(file string) (io.WriteCloser, error) {
		w, err := z.CreateHeader(&zip.FileHeader{Name: file, Method: zip.Deflate})
		return zipFile{w}, err
	})
	return errors.Join(err, z.Close(), f.Close())
}

func write(data Data, scans Scans, create func(file string) (io.WriteCloser, error)) error {
	var written []Table
	for _, table := range Tables {
		if len(data[table.File]) == 0 {
			continue
		}
		w, err := create(table.File)
		if err != nil {
			return err
		}
		out := csv.NewWriter(w)
		err = errors.Join(out.Write(columnNames(table)), out.WriteAll(data[table.File]), w.Close())
		if err != nil {
			return fmt.Errorf("writing %s: %w", table.File, err)
		}
		written = append(written, table)
	}
	if err := writeScans(data, scans, create); err != nil {
		return err
	}
	w, err := create(description)
	if err != nil {
		return err
	}
	out := json.NewEncoder(w)
	out.SetIndent("", "  ")
	return errors.Join(out.Encode(packageOf(packageName, written)), w.Close())
}

// filesIn are the files of the folder [ScanFolder] that rows name, each once: scans of papers, and the marks of the company's papers.
func filesIn(data Data) []string {
	var files []string
	seen := map[string]bool{"": true}
	named := func(file string) {
		if !seen[file] {
			seen[file] = true
			files = append(files, file)
		}
	}
	scans, _ := tableOf(attachments)
	for _, row := range data[attachments] {
		named(row[scans.at("file")])
	}
	for _, row := range data["settings.csv"] {
		if row[0] == "logo" {
			named(row[1])
		}
	}
	put, _ := tableOf(messageFiles)
	for _, row := range data[messageFiles] {
		named(row[put.at("file")])
	}
	heads, _ := tableOf("invoices.csv")
	for _, row := range data["invoices.csv"] {
		named(row[heads.at("company_logo")])
	}
	return files
}

func writeScans(data Data, scans Scans, create func(file string) (io.WriteCloser, error)) error {
	for _, file := range filesIn(data) {
		scan, err := scans(file)
		if err != nil {
			return fmt.Errorf("reading %s: %w", file, err)
		}
		w, err := create(ScanFolder + "/" + file)
		if err != nil {
			return err
		}
		_, err = w.Write(scan)
		if err = errors.Join(err, w.Close()); err != nil {
			return fmt.Errorf("writing %s: %w", file, err)
		}
	}
	return nil
}

// The parts of a Frictionless Data Package that Jarvo writes.
type dataPackage struct {
	Profile     string     `json:"profile"`
	Name        string     `json:"name"`
	Title       string     `json:"title"`
	Description string     `json:"description"`
	Resources   []resource `json:"resources"`
}

type resource struct {
	Name        string  `json:"name"`
	Path        string  `json:"path"`
	Description string  `json:"description"`
	Profile     string  `json:"profile"`
	Format      string  `json:"format"`
	Media       string  `json:"mediatype"`
	Encoding    string  `json:"encoding"`
	Dialect     dialect `json:"dialect"`
	Schema      schema  `json:"schema"`
}

type dialect struct {
	Delimiter   string `json:"delimiter"`
	Terminator  string `json:"lineTerminator"`
	Quote       string `json:"quoteChar"`
	DoubleQuote bool   `json:"doubleQuote"`
	Header      bool   `json:"header"`
}

type schema struct {
	Fields        []field      `json:"fields"`
	PrimaryKey    []string     `json:"primaryKey"`
	ForeignKeys   []foreignKey `json:"foreignKeys,omitempty"`
	MissingValues []string     `json:"missingValues"`
}

type foreignKey struct {
	Fields    []string  `json:"fields"`
	Reference reference `json:"reference"`
}

type reference struct {
	Resource string   `json:"resource"`
	Fields   []string `json:"fields"`
}

type field struct {
	Name        string       `json:"name"`
	Type        string       `json:"type"`
	Description string       `json:"description,omitempty"`
	TrueValues  []string     `json:"trueValues,omitempty"`
	FalseValues []string     `json:"falseValues,omitempty"`
	Constraints *constraints `json:"constraints,omitempty"`
}

type constraints struct {
	Required bool     `json:"required,omitempty"`
	Enum     []string `json:"enum,omitempty"`
}

// packageName is the name of a bundle that was taken out of a book, templateName that of one to be filled in.
const (
	packageName  = "jarvo-bundle"
	templateName = "jarvo-template"
)

// resourceName names a file among the others.
func resourceName(file string) string { return strings.TrimSuffix(file, ".csv") }

// packageOf describes files. A foreign key is stated where the file that it is of is among them and its first column alone is its key.
func packageOf(name string, tables []Table) dataPackage {
	p := dataPackage{
		Profile: "tabular-data-package", Name: name, Title: "A contractor's book", Resources: []resource{},
		Description: "Hours, costs, rates, jobs and invoices of a contractor, a file a kind of record. Money in units of the company's " +
			"currency, percentages as percent.",
	}
	for _, t := range tables {
		r := resource{
			Name: resourceName(t.File), Path: t.File, Description: t.Doc, Profile: "tabular-data-resource", Format: "csv", Media: "text/csv",
			Encoding: "utf-8",
			Dialect:  dialect{Delimiter: ",", Terminator: "\n", Quote: "\"", DoubleQuote: true, Header: true},
			Schema:   schema{MissingValues: []string{""}},
		}
		for _, c := range t.Columns {
			f := field{Name: c.Name, Type: c.Type, Description: c.Doc}
			if c.Type == "boolean" {
				f.TrueValues, f.FalseValues = []string{"yes"}, []string{"no"}
			}
			if c.Required || len(c.Enum) > 0 {
				f.Constraints = &constraints{c.Required, c.Enum}
			}
			if c.Key {
				r.Schema.PrimaryKey = append(r.Schema.PrimaryKey, c.Name)
			}
			r.Schema.Fields = append(r.Schema.Fields, f)
			if to, among := refersTo(c, tables); among {
				r.Schema.ForeignKeys = append(r.Schema.ForeignKeys, foreignKey{[]string{c.Name}, reference{
					resourceName(to.File), []string{to.Columns[0].Name},
				}})
			}
		}
		p.Resources = append(p.Resources, r)
	}
	return p
}

func refersTo(c Column, tables []Table) (Table, bool) {
	at := slices.IndexFunc(tables, func(t Table) bool { return t.File == c.Refers })
	if at < 0 || slices.ContainsFunc(tables[at].Columns[1:], func(c Column) bool { return c.Key }) {
		return Table{}, false
	}
	return tables[at], true
}

// WriteTemplate writes a bundle to be filled in: of each file that a person may write its head and a row as an example, what the files
// are, and what their columns hold.
func WriteTemplate(name string) error {
	return durable.Folder(name, func(part string) error {
		var tables []Table
		var notes strings.Builder
		notes.WriteString(templateNotes)
		for _, t := range Tables {
			if t.Example == nil {
				continue
			}
			tables = append(tables, t)
			var text strings.Builder
			out := csv.NewWriter(&text)
			if err := out.WriteAll([][]string{columnNames(t), t.Example}); err != nil {
				return err
			}
			if err := os.WriteFile(filepath.Join(part, t.File), []byte(text.String()), 0o600); err != nil {
				return err
			}
			notesOf(&notes, t)
		}
		if err := os.WriteFile(filepath.Join(part, notesFile), []byte(notes.String()), 0o600); err != nil {
			return err
		}
		data, err := json.MarshalIndent(packageOf(templateName, tables), "", "  ")
		if err != nil {
			return err
		}
		return os.WriteFile(filepath.Join(part, description), append(data, '\n'), 0o600)
	})
}

const templateNotes = `A bundle to fill in. Each file has its head and a row as an example: write your own rows under it and take the
example out.
Files that you do not need can be left out, and so can columns with a default in brackets. Bring it in with: jarvo import FOLDER

Dates are written 2026-03-02, figures with a decimal point and without thousands separators, percentages as percent (6.25), yes or no.
A key stands once in a file; bringing a row in again brings what is there up to date.
`

func notesOf(w *strings.Builder, t Table) {
	fmt.Fprintf(w, "\n%s: %s\n", t.File, t.Doc)
	for _, c := range t.Columns {
		fmt.Fprintf(w, "  %s", c.Name)
		if c.Key {
			w.WriteString(" (key)")
		}
		if c.Default != "" {
			fmt.Fprintf(w, " [%s]", c.Default)
		} else if !c.Required {
			w.WriteString(" []")
		}
		if len(c.Enum) > 0 {
			fmt.Fprintf(w, ": %s", strings.Join(c.Enum, ", "))
		}
		if c.Refers != "" {
			fmt.Fprintf(w, ": of %s", c.Refers)
		}
		if c.Doc != "" {
			fmt.Fprintf(w, "; %s", c.Doc)
		}
		w.WriteString("\n")
	}
}

func columnNames(t Table) []string {
	names := make([]string, len(t.Columns))
	for i, c := range t.Columns {
		names[i] = c.Name
	}
	return names
}
