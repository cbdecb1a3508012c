package bundle

import (
	"archive/zip"
	"bytes"
	"errors"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
)

// checkRead asserts what holds of every reading: problems of a file that there is, or rows with all that is required.
func checkRead(t *testing.T, b *Bundle, err error) {
	t.Helper()
	var problems Problems
	if errors.As(err, &problems) {
		assert.LessOrEqual(t, len(problems), mostProblems)
		for _, p := range problems {
			assert.NotEmpty(t, p.File)
			assert.NotEmpty(t, p.Message)
		}
		return
	}
	if err != nil {
		return
	}
	for _, table := range Tables {
		keys := map[string]bool{}
		for _, row := range b.Rows(table.File) {
			assert.Len(t, row.Values(), len(table.Columns))
			assert.False(t, keys[table.key(row.Values())], "a key is there once")
			keys[table.key(row.Values())] = true
			for _, c := range table.Columns {
				assert.False(t, c.Required && row.Get(c.Name) == "", c.Name)
			}
		}
	}
}

func FuzzReadCSV(f *testing.F) {
	for _, seed := range []string{
		"code,name\n1,x\n", "\ufeffcode;name\r\n1;x\r\n", "code,name\n\"a\nb\",\"c\"\"d\"\n", "code\n\n\n", "code,name\n1\n", "name,code\n,1\n",
		"code,code\n", "\x00", "code,name\n1,x\n1,y\n", "",
	} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		b, err := read(fstest.MapFS{"trades.csv": {Data: text}, "wages.csv": {Data: text}})
		checkRead(t, b, err)
	})
}

func FuzzReadZip(f *testing.F) {
	for _, names := range [][]string{
		{"trades.csv"}, {"a/trades.csv"}, {"../trades.csv"}, {"trades.csv", "trades.csv"}, {"a/", "a/trades.csv"}, {},
	} {
		var buffer bytes.Buffer
		z := zip.NewWriter(&buffer)
		for _, name := range names {
			w, err := z.Create(name)
			if err != nil {
				f.Fatal(err)
			}
			_, _ = w.Write([]byte("code,name\n1,x\n"))
		}
		if err := z.Close(); err != nil {
			f.Fatal(err)
		}
		f.Add(buffer.Bytes())
	}
	f.Add([]byte("PK\x05\x06not a zip"))
	f.Fuzz(func(t *testing.T, data []byte) {
		z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
		if err != nil {
			return
		}
		b, err := readZip(z)
		checkRead(t, b, err)
	})
}
