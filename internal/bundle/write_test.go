package bundle_test

import (
	"archive/zip"
	"encoding/json"
	"io"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/bundle"
)

var written = bundle.Data{
	"trades.csv":  {{"carp", "Dock \"carpenter\", afloat", "yes"}, {"diver", "Diver\nof depth", "no"}},
	"workers.csv": {{"W1", "Cato", "carp", "", "", "no", "employee", "yes"}},
}

func TestWhatIsWrittenIsReadBack(t *testing.T) {
	folder := filepath.Join(t.TempDir(), "bundle")
	for _, name := range []string{folder, folder + ".zip"} {
		require.NoError(t, bundle.Write(name, written, nil))
		require.Error(t, bundle.Write(name, written, nil), "what is there is not written over")
		b, err := bundle.Read(name)
		require.NoError(t, err)
		for file, rows := range written {
			var got [][]string
			for _, r := range b.Rows(file) {
				got = append(got, r.Values())
			}
			assert.Equal(t, rows, got, file)
		}
	}
}

func TestTheSameBookGivesTheSameBytes(t *testing.T) {
	folder := t.TempDir()
	var bytes [2][]byte
	for i := range bytes {
		name := filepath.Join(folder, string(rune('a'+i))+".zip")
		require.NoError(t, bundle.Write(name, written, nil))
		var err error
		bytes[i], err = os.ReadFile(name)
		require.NoError(t, err)
	}
	assert.Equal(t, bytes[0], bytes[1])
}

// The description is a Frictionless tabular data package: a resource a file, with the fields of its columns and its key.
func TestAPackageDescribesItsFiles(t *testing.T) {
	name := filepath.Join(t.TempDir(), "b.zip")
	require.NoError(t, bundle.Write(name, written, nil))
	z, err := zip.OpenReader(name)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, z.Close()) })
	f, err := z.Open("datapackage.json")
	require.NoError(t, err)
	text, err := io.ReadAll(f)
	require.NoError(t, err)
	require.NoError(t, f.Close())
	var described struct {
		Profile   string
		Resources []struct {
			Name, Path, Profile, Encoding string
			Schema                        struct {
				PrimaryKey []string
				Fields     []struct {
					Name, Type  string
					TrueValues  []string
					Constraints struct{ Required bool }
				}
			}
		}
	}
	require.NoError(t, json.Unmarshal(text, &described))
	assert.Equal(t, "tabular-data-package", described.Profile)
	require.Len(t, described.Resources, len(written), "files without records are left out")
	workers := described.Resources[1]
	assert.Equal(
		t, []string{"workers", "workers.csv", "tabular-data-resource", "utf-8"},
		[]string{workers.Name, workers.Path, workers.Profile, workers.Encoding},
	)
	assert.Equal(t, []string{"code"}, workers.Schema.PrimaryKey)
	require.Len(t, workers.Schema.Fields, 8)
	assert.True(t, workers.Schema.Fields[1].Constraints.Required)
	assert.Equal(t, []string{"yes"}, workers.Schema.Fields[5].TrueValues)
	assert.Equal(t, "boolean", workers.Schema.Fields[5].Type)
}

func TestDefaultsStandInForWhatIsBlankOrAbsent(t *testing.T) {
	b, err := bundle.Read(folder(t, map[string]string{"workers.csv": "name,code,exempt\n Cato , W1 ,\n"}))
	require.NoError(t, err)
	row := b.Rows("workers.csv")[0]
	assert.Equal(t, []string{"W1", "Cato", "", "no", "employee", "yes"}, []string{
		row.Get("code"), row.Get("name"), row.Get("trade"), row.Get("exempt"), row.Get("kind"), row.Get("active"),
	})
	assert.Equal(t, 2, row.Line)
	assert.Empty(t, b.Rows("jobs.csv"), "every file is optional")
}

func TestAtMostAHundredProblemsAreListedAtOnce(t *testing.T) {
	text := "code,name\n"
	for range 500 {
		text += ",nobody\n"
	}
	_, err := bundle.Read(folder(t, map[string]string{"trades.csv": text}))
	var problems bundle.Problems
	require.ErrorAs(t, err, &problems)
	assert.Len(t, problems, 100)
	assert.Equal(t, "trades.csv line 2, code: this can't be blank", problems[0].String())
}
