package store

import (
	"errors"
	"fmt"
	"os"
	"syscall"
)

// Alone holds the book for the one server that may run on it, until release is called or the process ends. Commands may still work on the
// book; a second server is refused.
func (s *Store) Alone() (release func() error, err error) {
	f, err := os.OpenFile(s.file+".lock", os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		_ = f.Close()
		if errors.Is(err, syscall.EWOULDBLOCK) {
			return nil, fmt.Errorf("another server runs on %s; stop it first", s.file)
		}
		return nil, err
	}
	return f.Close, nil
}
