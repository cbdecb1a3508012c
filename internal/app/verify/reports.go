package verify

import (
	"fmt"
)

// Difference is a stored figure or an invariant that does not hold.
type Difference struct {
	What     string
	Stored   string
	Computed string
}

func (d Difference) String() string {
	return fmt.Sprintf("%s: stored %s, computed %s", d.What, d.Stored, d.Computed)
}
