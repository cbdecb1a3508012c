package costs_test

import (
	"context"

	"jarvo/internal/app/apptest"
)

var ctx = context.Background()

const week = apptest.Week
