package form

import (
	"fmt"
	"strconv"

	"jarvo/internal/core/money"
)

func WholeNumber(s string) (int64, error) {
	n, err := strconv.ParseInt(s, 10, 64)
	if err != nil || n < 0 || n > money.Largest {
		return 0, fmt.Errorf("%q is not a whole number", s)
	}
	return n, nil
}
