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

// Fit gives what of each source still fits within the limit: what is below 0 is never held and makes room, whatever follows the
// source that crosses the limit is held whole. The sources are what is left to bill of each, in the order in which they count.
func (l Limit) Fit(left []money.Amount) []money.Amount {
	room := l.Agreed - l.Used
	fits := make([]money.Amount, len(left))
	for i, a := range left {
		fits[i] = min(a, max(0, room))
		room -= fits[i]
		if a > fits[i] {
			room = 0
		}
	}
	return fits
}
