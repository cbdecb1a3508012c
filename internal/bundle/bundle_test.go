package bundle_test

import (
	"archive/zip"
	"bytes"
	"errors"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/bundle"
)

func folder(t *testing.T, files map[string]string) string {
	t.Helper()
	dir := t.TempDir()
	for name, text := range files {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o600))
	}
	return dir
}

func TestSaysWhatIsWrongAndWhere(t *testing.T) {
	for _, c := range []struct{ file, text, sentence string }{
		{"invoicing.csv", "a\n", "invoicing.csv: this is not a file of a bundle"},
		{"trades.csv", "code,nom\n1,x\n", "trades.csv line 1, nom: there is no such column in trades.csv; did you mean name?"},
		{"trades.csv", "name\nx\n", "trades.csv line 1, code: this column is missing"},
		{"trades.csv", "code,name,name\n1,x,y\n", "trades.csv line 1, name: this column is there twice"},
		{"trades.csv", "code,name\n,x\n", "trades.csv line 2, code: this can't be blank"},
		{"trades.csv", "code,name\n1,x\n1,y\n", "trades.csv line 3: 1 is there already, in line 2"},
		{"trades.csv", "code,name\n1\n", "trades.csv line 2: this row has more or fewer cells than the header"},
		{"trades.csv", "code,name\n1,\"x\n", "this is not CSV"},
		{"trades.csv", "code,name\n1,\xff\n", "trades.csv: this is not UTF-8 text; save it as CSV in UTF-8"},
	} {
		_, err := bundle.Read(folder(t, map[string]string{c.file: c.text}))
		assert.ErrorContains(t, err, c.sentence)
	}
}

func TestReadsWhatAnOfficeProgramSaves(t *testing.T) {
	b, err := bundle.Read(folder(t, map[string]string{"trades.csv": "\ufeffcode;name\r\ncarp;Dock carpenter\r\n"}))
	require.NoError(t, err)
	rows := b.Rows("trades.csv")
	require.Len(t, rows, 1)
	assert.Equal(t, "Dock carpenter", rows[0].Get("name"))
}

// A spreadsheet rewrites dates and figures when it saves a file; what leaves no doubt is read as it was meant.
func TestReadsDatesAndFiguresAsASpreadsheetRewritesThem(t *testing.T) {
	read := func(text string) ([]string, error) {
		b, err := bundle.Read(folder(t, map[string]string{"wages.csv": text}))
		if err != nil {
			return nil, err
		}
		var cells []string
		for _, row := range b.Rows("wages.csv") {
			cells = append(cells, row.Get("effective_from")+" "+row.Get("rate"))
		}
		return cells, nil
	}
	for text, want := range map[string][]string{
		"worker,effective_from,rate\na,03/25/2026,1\na,03/09/2026,2\n":                   {"2026-03-25 1", "2026-03-09 2"},
		"worker,effective_from,rate\na,25/03/2026,1\na,03/09/2026,2\n":                   {"2026-03-25 1", "2026-09-03 2"},
		"worker,effective_from,rate\na,9.3.2026,1\nb,46090,2\na,04/04/2026,3\n":          {"2026-03-09 1", "2026-03-09 2", "2026-04-04 3"},
		"Worker;EFFECTIVE_FROM; Rate \r\na;2026-01-01;1.234,50\r\na;2026-02-01;-0,5\r\n": {"2026-01-01 1234.50", "2026-02-01 -0.5"},
		"worker,effective_from,rate,,\n\na,2026-01-01,1,,\n,,,,\n":                       {"2026-01-01 1"},
	} {
		cells, err := read(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, cells, text)
	}
	_, err := read("worker,effective_from,rate\na,03/09/2026,1\nb,04/10/2026,1\n")
	require.ErrorContains(
		t, err, `wages.csv line 2, effective_from: "03/09/2026" could be 3 September 2026 or 9 March 2026; write it as 2026-09-03`,
	)
	require.ErrorContains(t, err, "line 3")
	_, err = read("worker,effective from,rate\na,2026-01-01,1\n")
	require.ErrorContains(t, err, "did you mean effective_from?")
	_, err = read("worker,effective_from,rate\na,2026-01-01,1,2\n")
	require.ErrorContains(t, err, "more or fewer cells than the header")
}

func TestAZipCantReachOutOfItsFolder(t *testing.T) {
	name := filepath.Join(t.TempDir(), "b.zip")
	f, err := os.Create(name)
	require.NoError(t, err)
	z := zip.NewWriter(f)
	_, err = z.Create("../trades.csv")
	require.NoError(t, err)
	require.NoError(t, z.Close())
	require.NoError(t, f.Close())
	_, err = bundle.Read(name)
	assert.Error(t, err)
	_, err = bundle.Read(filepath.Join(folder(t, map[string]string{"x.zip": "not a zip"}), "x.zip"))
	assert.ErrorContains(t, err, "is neither a folder nor a zip file")
}

// A zip that unpacks to far more than itself is refused before it is unpacked.
func TestAZipIsUnpackedWithinBounds(t *testing.T) {
	name := filepath.Join(t.TempDir(), "b.zip")
	f, err := os.Create(name)
	require.NoError(t, err)
	z := zip.NewWriter(f)
	w, err := z.Create("cost_codes.csv")
	require.NoError(t, err)
	_, err = w.Write(append([]byte("code,name\n"), bytes.Repeat([]byte("a,b\n"), 4<<20)...))
	require.NoError(t, err)
	require.NoError(t, errors.Join(z.Close(), f.Close()))
	_, err = bundle.Read(name)
	assert.ErrorContains(t, err, "cost_codes.csv in the zip unpacks to more than 100 times its size; bring it in unpacked")
}
