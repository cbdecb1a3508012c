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
		if len(data[attachments]) > 0 {
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
		header := make([]string, len(table.Columns))
		for i, c := range table.Columns {
			header[i] = c.Name
		}
		err = errors.Join(out.Write(header), out.WriteAll(data[table.File]), w.Close())
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
	return errors.Join(out.Encode(packageOf(written)), w.Close())
}

func writeScans(data Data, scans Scans, create func(file string) (io.WriteCloser, error)) error {
	table, _ := tableOf(attachments)
	written := map[string]bool{}
	for _, row := range data[attachments] {
		file := row[table.at("file")]
		if written[file] {
			continue
		}
		written[file] = true
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
	Profile   string     `json:"profile"`
	Name      string     `json:"name"`
	Resources []resource `json:"resources"`
}

type resource struct {
	Name     string `json:"name"`
	Path     string `json:"path"`
	Profile  string `json:"profile"`
	Format   string `json:"format"`
	Encoding string `json:"encoding"`
	Schema   schema `json:"schema"`
}

type schema struct {
	Fields     []field  `json:"fields"`
	PrimaryKey []string `json:"primaryKey"`
}

type field struct {
	Name        string          `json:"name"`
	Type        string          `json:"type"`
	TrueValues  []string        `json:"trueValues,omitempty"`
	FalseValues []string        `json:"falseValues,omitempty"`
	Constraints map[string]bool `json:"constraints,omitempty"`
}

// packageName is the name of a bundle that was taken out of a book.
const packageName = "jarvo-bundle"

func packageOf(tables []Table) dataPackage {
	p := dataPackage{Profile: "tabular-data-package", Name: packageName, Resources: []resource{}}
	for _, t := range tables {
		r := resource{Name: t.File[:len(t.File)-len(".csv")], Path: t.File, Profile: "tabular-data-resource", Format: "csv", Encoding: "utf-8"}
		for _, c := range t.Columns {
			f := field{Name: c.Name, Type: c.Type}
			if c.Type == "boolean" {
				f.TrueValues, f.FalseValues = []string{"yes"}, []string{"no"}
			}
			if c.Required {
				f.Constraints = map[string]bool{"required": true}
			}
			if c.Key {
				r.Schema.PrimaryKey = append(r.Schema.PrimaryKey, c.Name)
			}
			r.Schema.Fields = append(r.Schema.Fields, f)
		}
		p.Resources = append(p.Resources, r)
	}
	return p
}
