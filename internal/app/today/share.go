package today

import (
	"errors"
	"sync"
	"time"
)

// ShareEvery is the least time between two workings-out of the same answer.
const ShareEvery = 100 * time.Millisecond

var errInterrupted = errors.New("what was asked was not worked out to the end") // unless it is

// sharer works an answer out once for all who ask for the same within a moment. What anybody is told was read after they asked.
type sharer[T any] struct {
	mu   sync.Mutex
	next map[string]*shared[T] // asked for, and not begun
	last map[string]time.Time
}

type shared[T any] struct {
	value T
	err   error
	done  chan struct{}
}

// ask gives the answer for a key; work is the same for all who ask with that key.
func (s *sharer[T]) ask(key string, work func() (T, error)) (T, error) {
	s.mu.Lock()
	if s.next == nil {
		s.next, s.last = map[string]*shared[T]{}, map[string]time.Time{}
	}
	if answer, asked := s.next[key]; asked {
		s.mu.Unlock()
		<-answer.done
		return answer.value, answer.err
	}
	answer := &shared[T]{err: errInterrupted, done: make(chan struct{})}
	defer close(answer.done)
	s.next[key] = answer
	pause := ShareEvery - time.Since(s.last[key])
	s.mu.Unlock()

	time.Sleep(pause)

	s.mu.Lock()
	delete(s.next, key)
	s.last[key] = time.Now()
	s.mu.Unlock()
	answer.value, answer.err = work()
	return answer.value, answer.err
}
