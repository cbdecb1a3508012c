package api

import (
	"fmt"
	"math"
	"net/http"
	"strconv"
	"sync"
	"time"
)

// tries limits how often something may go wrong under a key, such as a password for a name. What goes right is not counted.
type tries struct {
	most int
	span time.Duration

	mu    sync.Mutex
	spell map[string]spell
}

// spell is the tries since the first that went wrong.
type spell struct {
	wrong int
	until time.Time
}

// forgetFrom is the number of keys from which those that are over are forgotten.
const forgetFrom = 10_000

// begin counts a try before it is known how it goes, so that many at once are no way round the limit. Where there were too many it
// counts none and says how long to wait.
func (t *tries) begin(key string) (wait time.Duration) {
	t.mu.Lock()
	defer t.mu.Unlock()
	now := time.Now()
	if t.spell == nil {
		t.spell = map[string]spell{}
	}
	if len(t.spell) >= forgetFrom {
		for k, s := range t.spell {
			if now.After(s.until) {
				delete(t.spell, k)
			}
		}
	}
	s := t.spell[key]
	if now.After(s.until) {
		s = spell{until: now.Add(t.span)}
	}
	if s.wrong >= t.most {
		return s.until.Sub(now)
	}
	s.wrong++
	t.spell[key] = s
	return 0
}

// right takes a try back that went right.
func (t *tries) right(key string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if s := t.spell[key]; s.wrong > 0 {
		s.wrong--
		t.spell[key] = s
	}
}

// tooMany refuses a try and says when to try again.
func tooMany(w http.ResponseWriter, what string, wait time.Duration) {
	minutes := int(math.Ceil(wait.Minutes()))
	w.Header().Set("Retry-After", strconv.Itoa(int(math.Ceil(wait.Seconds()))))
	again := fmt.Sprintf("in %d minutes", minutes)
	if minutes == 1 {
		again = "in a minute"
	}
	writeProblem(w, &Problem{Title: "Too many tries", Status: http.StatusTooManyRequests, Detail: what + "; try again " + again})
}
