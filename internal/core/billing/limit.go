package billing

import (
	"jarvo/internal/core/money"
)

// Limit is an agreed amount of time and materials that is not to be exceeded, and what of it is used: billed and on drafts
// (calculation.md section 7).
type Limit struct{ Agreed, Used money.Amount }

// warned is from what share of a limit on it is said, in percent.
const warned = 80

// Near says that a fifth of the limit or less is left, with what is waiting counted as used.
func (l Limit) Near(waiting money.Amount) bool { return (l.Used+waiting)*100 >= l.Agreed*warned }

// Waiting is what is left to bill of a source that counts toward a limit.
type Waiting struct {
	Left  money.Amount
	LetGo bool // beyond the limit, by the bookkeeper: it counts before all others and in full
}

// Fit gives what of each source still fits within the limit: what was let go fits whole and takes its room first, what is below 0 is never
// held and makes room, whatever follows the source that crosses the limit is held whole. The sources are in the order in which they count.
func (l Limit) Fit(sources []Waiting) []money.Amount {
	room := l.Agreed - l.Used
	fits := make([]money.Amount, len(sources))
	for i, w := range sources {
		if w.LetGo {
			fits[i] = w.Left
			room -= w.Left
		}
	}
	for i, w := range sources {
		if w.LetGo {
			continue
		}
		fits[i] = min(w.Left, max(0, room))
		room -= fits[i]
		if w.Left > fits[i] {
			room = 0
		}
	}
	return fits
}
