package store

import (
	"context"
	"fmt"
	"sync"

	"github.com/mattn/go-sqlite3"
	"gorm.io/gorm"
)

// states tells the states of a book apart while it is open, so that what was worked out from one is known to hold for another.
type states struct {
	watch   *gorm.DB // a connection that sees what all others write
	touched map[string]bool

	mu          sync.Mutex
	seen        int64 // SQLite's own count, after what this store wrote last
	elsewhere   int64 // how often another process was seen to have written
	hours, rest int64 // writes of hours alone, and all others
}

// ofHours are the tables that a write of hours alone changes.
var ofHours = map[string]bool{
	"time_entries": true, "labour_segments": true, "job_sums": true, "kind_sums": true, "ready_sums": true, "unpriced_sums": true,
	"ready_totals": true, "limits_stale": true,
	"history": true, "creations": true, "clockings": true,
}

func watchStates(file string, write *gorm.DB) (*states, error) {
	watch, err := connect(file, "_txlock=deferred&_query_only=on", 1)
	if err != nil {
		return nil, err
	}
	st := &states{watch: watch, touched: map[string]bool{}}
	if st.seen, err = st.count(context.Background()); err != nil {
		return nil, err
	}
	pool, err := write.DB()
	if err != nil {
		return nil, err
	}
	connection, err := pool.Conn(context.Background())
	if err != nil {
		return nil, err
	}
	if err := connection.Raw(func(driver any) error {
		connected, is := driver.(*sqlite3.SQLiteConn)
		if !is {
			return fmt.Errorf("watching what is written: the driver is %T", driver)
		}
		connected.RegisterUpdateHook(func(_ int, database, table string, _ int64) {
			st.touched[table] = st.touched[table] || database == "main"
		})
		return nil
	}); err != nil {
		return nil, err
	}
	return st, connection.Close()
}

// count is another number after each write of any process.
func (st *states) count(ctx context.Context) (int64, error) {
	return Value[int64](&Tx{st.watch.WithContext(context.WithoutCancel(ctx)), ctx}, "PRAGMA data_version")
}

// follow runs a write, which says when it has begun: nobody else writes from then on.
func (st *states) follow(ctx context.Context, write func(begun func() error) error) error {
	clear(st.touched)
	err := write(func() error {
		now, err := st.count(ctx)
		st.mu.Lock()
		defer st.mu.Unlock()
		if now != st.seen {
			st.elsewhere++
			st.seen = now
		}
		return err
	})
	if err != nil {
		return err
	}
	st.mu.Lock()
	defer st.mu.Unlock()
	now, counted := st.count(ctx)
	if counted != nil {
		return nil // it is written; the next write takes it for another process's
	}
	if now == st.seen {
		return nil
	}
	st.seen = now
	if st.onlyHours() {
		st.hours++
	} else {
		st.rest++
	}
	return nil
}

// onlyHours says whether a write changed nothing but hours. The database tells of no table without row ids; none of these is changed
// together with entries alone.
func (st *states) onlyHours() bool {
	for table, of := range st.touched {
		if of && !ofHours[table] {
			return false
		}
	}
	return st.touched["time_entries"]
}

// State is a name for the state that the book is in: another one after each write, of another process too. Beside hours, it is the same
// after a write of hours alone.
func (s *Store) State(ctx context.Context, besideHours bool) (string, error) {
	st := s.states
	st.mu.Lock()
	defer st.mu.Unlock()
	now, err := st.count(ctx)
	if err != nil {
		return "", err
	}
	if now != st.seen { // written just now, or by another process
		return fmt.Sprint("unseen ", now), nil
	}
	if besideHours {
		return fmt.Sprint(st.elsewhere, " ", st.rest), nil
	}
	return fmt.Sprint(st.elsewhere, " ", st.rest, " ", st.hours), nil
}
