package exchange_test

import (
	"context"
)

var ctx = context.Background()
