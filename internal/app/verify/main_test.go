package verify_test

import (
	"context"
)

var ctx = context.Background()
