package bundle_test

import (
	"archive/zip"
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
		{"trades.csv", "code,nom\n1,x\n", "trades.csv line 1, nom: there is no such column in trades.csv"},
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
