package bundle

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"slices"
	"strings"
	"unicode/utf8"
)

const (
	mostProblems = 100
	largestFile  = 1 << 28
	mostCells    = 60_000_000 // of a file
	mostPacked   = 100        // times that a zip may make a file smaller
	smallFile    = 1 << 20    // which may be packed as it is
	largestScan  = 1 << 25    // what is attached to a message comes to 20 MB at most
	description  = "datapackage.json"
	notesFile    = "README.txt"
)

// Problem is what is wrong at one place of a bundle.
type Problem struct {
	File    string
	Line    int // 0: the file as a whole
	Column  string
	Message string
}

func (p Problem) String() string {
	at := p.File
	if p.Line > 0 {
		at += fmt.Sprintf(" line %d", p.Line)
	}
	if p.Column != "" {
		at += ", " + p.Column
	}
	return at + ": " + p.Message
}

// Problems are all that is wrong with a bundle, up to 100 at once.
type Problems []Problem

func (p Problems) Error() string {
	lines := make([]string, 0, len(p)+1)
	lines = append(lines, "the bundle can't be brought in; nothing was changed")
	for _, problem := range p {
		lines = append(lines, "  "+problem.String())
	}
	return strings.Join(lines, "\n")
}

// Add notes a problem, as long as there are not too many.
func (p *Problems) Add(file string, line int, column, format string, args ...any) {
	if len(*p) < mostProblems {
		*p = append(*p, Problem{file, line, column, fmt.Sprintf(format, args...)})
	}
}

// Err is nil where nothing is wrong.
func (p Problems) Err() error {
	if len(p) == 0 {
		return nil
	}
	return p
}

// Row is one row of a file, with defaults filled in.
type Row struct {
	File   string
	Line   int
	at     map[string]int // the places of the columns, shared by all rows of a file
	values []string
}

// Get is the text of a column, trimmed.
func (r Row) Get(column string) string { return r.values[r.at[column]] }

// Values are the texts of all columns, in the order of the file's [Table].
func (r Row) Values() []string { return r.values }

// KeyOf is the key of a row of a file, of its texts in the order of the file's columns.
func KeyOf(file string, values []string) string {
	table, _ := tableOf(file)
	return table.key(values)
}

func (t Table) key(values []string) string {
	var key []string
	for i, c := range t.Columns {
		if c.Key {
			key = append(key, values[i])
		}
	}
	return strings.Join(key, "\x00")
}

// Bundle is a bundle that has been read: rows by file. Scans are read when they are asked for, until it is closed.
type Bundle struct {
	files map[string][]Row
	root  fs.FS
	close func() error
	// SmallPercents says that percentages below a half are meant as they are: so they are where Jarvo wrote the bundle.
	SmallPercents bool
}

// Close ends the reading of scans.
func (b *Bundle) Close() error {
	if b.close == nil {
		return nil
	}
	return b.close()
}

// Scan reads a scan that attachments.csv names.
func (b *Bundle) Scan(file string) ([]byte, error) {
	if b.root == nil || file != path.Base(file) || !fs.ValidPath(file) {
		return nil, fmt.Errorf("%q is no file of the folder %s", file, ScanFolder)
	}
	f, err := b.root.Open(ScanFolder + "/" + file)
	if err != nil {
		return nil, fmt.Errorf("there is no file %s in the folder %s", file, ScanFolder)
	}
	data, err := io.ReadAll(io.LimitReader(f, largestScan+1))
	return data, errors.Join(err, f.Close())
}

// Rows are the rows of a file, in its order.
func (b *Bundle) Rows(file string) []Row { return b.files[file] }

// Release lets the rows of a file go, whose texts take much of the memory. There are none of them afterwards.
func (b *Bundle) Release(file string) { delete(b.files, file) }

// ErrNoBundle is what a file is that is no bundle.
var ErrNoBundle = errors.New("neither a folder nor a zip file")

// Read reads a bundle from a folder or a zip file. Its error is [Problems] where the data is wrong.
func Read(name string) (*Bundle, error) {
	info, err := os.Stat(name)
	if err != nil {
		return nil, fmt.Errorf("there is no bundle at %s", name)
	}
	if info.IsDir() {
		return read(os.DirFS(name))
	}
	z, err := zip.OpenReader(name)
	if err != nil && !errors.Is(err, zip.ErrFormat) {
		return nil, err
	}
	if err != nil {
		return nil, fmt.Errorf("%s is %w", name, ErrNoBundle)
	}
	b, err := readZip(&z.Reader)
	if err != nil {
		return nil, errors.Join(err, z.Close())
	}
	b.close = z.Close
	return b, nil
}

func readZip(z *zip.Reader) (*Bundle, error) {
	var total uint64
	for _, f := range z.File {
		if !fs.ValidPath(strings.TrimSuffix(f.Name, "/")) || strings.Contains(f.Name, `\`) {
			return nil, fmt.Errorf("the zip holds %q, which is outside its folder", f.Name)
		}
		if f.UncompressedSize64 > smallFile && f.UncompressedSize64 > mostPacked*f.CompressedSize64 {
			return nil, fmt.Errorf("%s in the zip unpacks to more than %d times its size; bring it in unpacked", f.Name, mostPacked)
		}
		if strings.HasSuffix(f.Name, ".csv") {
			total += f.UncompressedSize64 // a scan is read one at a time
		}
		if total > largestFile {
			return nil, fmt.Errorf("the zip unpacks to more than %d MB", largestFile>>20)
		}
	}
	var root fs.FS = z
	entries, err := fs.ReadDir(z, ".")
	if err != nil {
		return nil, fmt.Errorf("the zip can't be read: %w", err)
	}
	if len(entries) == 1 && entries[0].IsDir() { // a folder was zipped as a whole
		if root, err = fs.Sub(z, entries[0].Name()); err != nil {
			return nil, err
		}
	}
	return read(root)
}

func read(root fs.FS) (*Bundle, error) {
	b := &Bundle{files: map[string][]Row{}, root: root}
	var problems Problems
	entries, err := fs.ReadDir(root, ".")
	if err != nil {
		return nil, err
	}
	for _, e := range entries {
		name := e.Name()
		if name == description {
			b.SmallPercents = writtenByUs(root)
		}
		if name == description || name == notesFile || strings.HasPrefix(name, ".") || name == ScanFolder && e.IsDir() {
			continue
		}
		table, known := tableOf(name)
		if !known {
			problems.Add(name, 0, "", "this is not a file of a bundle")
			continue
		}
		rows, err := readFile(root, table, &problems)
		if err != nil {
			return nil, err
		}
		b.files[name] = rows
	}
	return b, problems.Err()
}

// writtenByUs says that a bundle is one that was taken out of a book.
func writtenByUs(root fs.FS) bool {
	data, err := fs.ReadFile(root, description)
	var p dataPackage
	return err == nil && json.Unmarshal(data, &p) == nil && p.Name == packageName
}

func readFile(root fs.FS, table Table, problems *Problems) ([]Row, error) {
	f, err := root.Open(table.File)
	if err != nil {
		return nil, err
	}
	data, err := io.ReadAll(io.LimitReader(f, largestFile+1))
	if err = errors.Join(err, f.Close()); err != nil {
		return nil, fmt.Errorf("reading %s: %w", table.File, err)
	}
	if len(data) > largestFile {
		return nil, fmt.Errorf("%s is larger than %d MB", table.File, largestFile>>20)
	}
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	if !utf8.Valid(data) || bytes.IndexByte(data, 0) >= 0 {
		problems.Add(table.File, 0, "", "this is not UTF-8 text; save it as CSV in UTF-8")
		return nil, nil
	}
	return parse(table, data, problems), nil
}

func parse(table Table, data []byte, problems *Problems) []Row {
	header, _, _ := bytes.Cut(data, []byte("\n"))
	r := csv.NewReader(bytes.NewReader(data))
	if bytes.IndexByte(header, ';') >= 0 && bytes.IndexByte(header, ',') < 0 {
		r.Comma = ';' // as an office program saves it in some countries
	}
	r.FieldsPerRecord = -1
	names, err := r.Read()
	if err != nil {
		if !errors.Is(err, io.EOF) {
			problems.Add(table.File, 1, "", "%s", csvReason(err))
		}
		return nil
	}
	for i := range names {
		names[i] = strings.ToLower(strings.TrimSpace(names[i]))
	}
	for len(names) > 0 && names[len(names)-1] == "" { // commas that trail
		names = names[:len(names)-1]
	}
	if !checkHeader(table, names, problems) {
		return nil
	}
	var rows []Row
	seen := map[string]int{}
	at := make(map[string]int, len(table.Columns))
	for i, c := range table.Columns {
		at[c.Name] = i
	}
	for {
		record, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			var p *csv.ParseError
			line := 0
			if errors.As(err, &p) {
				line = p.Line
			}
			problems.Add(table.File, line, "", "%s", csvReason(err))
			return rows
		}
		line, _ := r.FieldPos(0)
		record, ok := fitted(record, len(names))
		if !ok {
			problems.Add(table.File, line, "", "this row has more or fewer cells than the header")
		}
		if record == nil {
			continue
		}
		row := Row{File: table.File, Line: line, at: at, values: make([]string, len(table.Columns))}
		for i, name := range names {
			row.values[at[name]] = strings.TrimSpace(record[i])
		}
		if r.Comma == ';' {
			table.pointed(row)
		}
		rows = append(rows, row)
		if len(rows)*len(table.Columns) > mostCells {
			problems.Add(table.File, line, "", "this file has more than %d cells; bring it in in parts", mostCells)
			return nil
		}
	}
	for i, c := range table.Columns {
		if c.Type == "date" {
			readDates(table, rows, i, problems)
		}
	}
	return slices.DeleteFunc(rows, func(row Row) bool { return !table.fill(row, problems) || !table.once(row, seen, problems) })
}

// fitted is a row with as many cells as there are columns; nil where it is empty, or false as well where it can't be.
func fitted(record []string, columns int) ([]string, bool) {
	blank := func(cell string) bool { return strings.TrimSpace(cell) == "" }
	if !slices.ContainsFunc(record, func(cell string) bool { return !blank(cell) }) {
		return nil, true
	}
	if len(record) < columns || slices.ContainsFunc(record[columns:], func(cell string) bool { return !blank(cell) }) {
		return nil, false
	}
	return record[:columns], true
}

// pointed gives the figures of a row decimal points in place of commas.
func (t Table) pointed(row Row) {
	for i, c := range t.Columns {
		if c.Type == "number" || c.Name == "hours" || c.Name == "value" {
			row.values[i] = decimalComma(row.values[i])
		}
	}
}

func csvReason(err error) string {
	return "this is not CSV: " + strings.TrimPrefix(err.Error(), "parse error on ")
}

func checkHeader(table Table, names []string, problems *Problems) bool {
	before := len(*problems)
	for i, name := range names {
		if slices.Index(names, name) < i {
			problems.Add(table.File, 1, name, "this column is there twice")
		}
		if table.at(name) < 0 {
			problems.Add(table.File, 1, name, "there is no such column in %s%s", table.File, table.didYouMean(name))
		}
	}
	for _, c := range table.Columns {
		if c.Required && !slices.Contains(names, c.Name) {
			problems.Add(table.File, 1, c.Name, "this column is missing")
		}
	}
	return len(*problems) == before
}

func (t Table) fill(row Row, problems *Problems) bool {
	ok := true
	for i, c := range t.Columns {
		if row.values[i] != "" {
			continue
		}
		if c.Required {
			problems.Add(t.File, row.Line, c.Name, "this can't be blank")
			ok = false
		}
		row.values[i] = c.Default
	}
	return ok
}

func (t Table) once(row Row, seen map[string]int, problems *Problems) bool {
	key := t.key(row.values)
	if first, twice := seen[key]; twice {
		name := strings.Join(strings.Fields(strings.ReplaceAll(key, "\x00", " ")), " ")
		problems.Add(t.File, row.Line, "", "%s is there already, in line %d", name, first)
		return false
	}
	seen[key] = row.Line
	return true
}

// IsZip says whether a bundle of this name is a zip file rather than a folder.
func IsZip(name string) bool { return strings.EqualFold(path.Ext(name), ".zip") }
