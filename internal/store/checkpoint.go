package store

import (
	"os"
	"sync"

	"gorm.io/gorm"
)

// A commit adds to the log beside the book; a checkpoint copies the log into the book. SQLite would do that within the commit that makes
// the log long, and whoever wrote most would wait for it. Here it is done beside the work, and within a commit only once the log is
// longer by far.
const (
	longLog   = 4 << 20                               // bytes
	tooLong   = "PRAGMA wal_autocheckpoint = 16384"   // pages, 64 MiB
	shortened = "PRAGMA journal_size_limit = 2097152" // bytes that stay of a log that is begun again
)

// checkpoints copies the log of a book into it, whenever it is told to, until it is stopped.
type checkpoints struct {
	log     string
	due     chan struct{}
	quit    chan struct{}
	stopped chan struct{}
	once    sync.Once
}

func startCheckpoints(file string, write, read *gorm.DB) (*checkpoints, error) {
	for _, pragma := range []string{tooLong, shortened} {
		if err := write.Exec(pragma).Error; err != nil {
			return nil, err
		}
	}
	c := &checkpoints{log: file + "-wal", due: make(chan struct{}, 1), quit: make(chan struct{}), stopped: make(chan struct{})}
	go func() {
		defer close(c.stopped)
		for {
			select {
			case <-c.quit:
				return
			case <-c.due:
				// What keeps it from being done is met again by the next write, which says so.
				_ = read.Exec("PRAGMA wal_checkpoint(PASSIVE)").Error
			}
		}
	}()
	return c, nil
}

// written looks at the log after a write.
func (c *checkpoints) written() {
	if log, err := os.Stat(c.log); err != nil || log.Size() <= longLog {
		return
	}
	select {
	case c.due <- struct{}{}:
	default: // there is one to come already
	}
}

// stop ends the checkpoints. A write that is still under way may look at the log afterwards, and a book may be closed twice.
func (c *checkpoints) stop() {
	c.once.Do(func() { close(c.quit) })
	<-c.stopped
}
