// Package durable writes files that are there whole or not at all: made under another name beside the place, synced, and renamed.
package durable

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
)

// ErrExists is a name that is taken already.
var ErrExists = errors.New("is there already; name a new one")

// File makes a new file that only its owner may read. write fills the empty file at part, which takes its name once it is done. Whatever
// stops it, also the end of the process, there is nothing under the name but the whole file.
func File(name string, write func(part string) error) error {
	if err := free(name); err != nil {
		return err
	}
	part := name + ".part"
	if err := os.RemoveAll(part); err != nil { // of a process that was killed
		return err
	}
	f, err := os.OpenFile(part, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	if err := f.Close(); err != nil {
		return err
	}
	return finish(name, part, write)
}

// Folder is [File] for a folder: write fills the empty folder at part. An empty folder that is there already is taken.
func Folder(name string, write func(part string) error) error {
	there, err := os.ReadDir(name)
	switch {
	case err == nil && len(there) > 0:
		return fmt.Errorf("%s is not empty; name a new folder", name)
	case err == nil:
		if err := os.Remove(name); err != nil {
			return err
		}
	default:
		if err := free(name); err != nil {
			return err
		}
	}
	part := filepath.Clean(name) + ".part"
	if err := os.RemoveAll(part); err != nil {
		return err
	}
	if err := os.MkdirAll(part, 0o700); err != nil {
		return err
	}
	return finish(filepath.Clean(name), part, write)
}

func free(name string) error {
	_, err := os.Lstat(name)
	if err == nil {
		return fmt.Errorf("%s %w", name, ErrExists)
	}
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	return err
}

func finish(name, part string, write func(string) error) error {
	err := write(part)
	if err == nil {
		err = syncAll(part)
	}
	if err == nil {
		err = os.Rename(part, name)
	}
	if err != nil {
		return errors.Join(err, os.RemoveAll(part))
	}
	return syncOne(filepath.Dir(name))
}

// syncAll puts a file, or a folder with all that is in it, on the disk.
func syncAll(root string) error {
	return filepath.WalkDir(root, func(path string, _ fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		return syncOne(path)
	})
}

func syncOne(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}
