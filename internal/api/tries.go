package api

import (
	"crypto/sha256"
	"fmt"
	"math"
	"net/http"
	"net/netip"
	"strconv"
	"sync"
	"time"

	"github.com/hashicorp/golang-lru/v2/simplelru"
)

// tries limits how often something may go wrong under a key, such as a password from an address. A try that goes right is not counted.
// It is safe for concurrent use, and keeps a bounded number of keys by their hash, however long they are.
type tries struct {
	most int
	span time.Duration

	mu    sync.Mutex
	spell *simplelru.LRU[[sha256.Size]byte, spell]
}

// spell is the tries since the first that went wrong.
type spell struct {
	wrong int
	until time.Time
}

// mostSpells is how many keys are remembered; the one that was not tried for longest is forgotten first.
const mostSpells = 50_000

func newTries(most int, span time.Duration) *tries {
	spells, _ := simplelru.NewLRU[[sha256.Size]byte, spell](mostSpells, nil) // fails for a size below 1 alone
	return &tries{most: most, span: span, spell: spells}
}

// begin counts a try before its outcome is known, so that many at once are no way round the limit. After too many it counts none and
// says how long to wait.
func (t *tries) begin(key string) (wait time.Duration) {
	t.mu.Lock()
	defer t.mu.Unlock()
	now, hashed := time.Now(), sha256.Sum256([]byte(key))
	s, _ := t.spell.Get(hashed)
	if now.After(s.until) {
		s = spell{until: now.Add(t.span)}
	}
	if s.wrong >= t.most {
		return s.until.Sub(now)
	}
	s.wrong++
	t.spell.Add(hashed, s)
	return 0
}

// right takes a try back that went right.
func (t *tries) right(key string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	hashed := sha256.Sum256([]byte(key))
	if s, found := t.spell.Get(hashed); found && s.wrong > 0 {
		s.wrong--
		t.spell.Add(hashed, s)
	}
}

// neighbours is the address that tries are counted under. Who has one address of IPv6 has its whole /64.
func neighbours(address string) string {
	at, err := netip.ParseAddr(address)
	if err != nil || at.Unmap().Is4() {
		return address
	}
	around, err := at.WithZone("").Prefix(64)
	if err != nil {
		return address
	}
	return around.String()
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
