package form

import (
	"jarvo/internal/app/refuse"
)

func WholeDays(s string) (int64, error) {
	q, err := ParseQuantity(s)
	if err != nil || q < 0 || q%1000 != 0 {
		return 0, &refuse.Error{Message: "type a whole number of days"}
	}
	return int64(q) / 1000, nil
}
