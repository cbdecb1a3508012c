package money

import (
	"math/big"
	"sort"
)

// Spread splits an amount over weights by the largest remainder: each share is the exact
// one cut toward zero, and the minor units left over go one each to the largest cut-off
// fractions, ties to the earlier weight. The shares always sum to the amount. Weights must
// not be negative; if all are zero they count as equal; a negative amount is spread as its
// size with each share negated. No weights give no shares.
func Spread(a Amount, weights []int64) []Amount {
	shares := make([]Amount, len(weights))
	if len(weights) == 0 {
		return shares
	}
	size, sign := int64(a), Amount(1)
	if a < 0 {
		size, sign = -size, -1
	}
	total := new(big.Int)
	for _, w := range weights {
		total.Add(total, big.NewInt(w))
	}
	weight := func(i int) int64 { return weights[i] }
	if total.Sign() == 0 {
		weight = func(int) int64 { return 1 }
		total.SetInt64(int64(len(weights)))
	}
	left := size
	rest := make([]*big.Int, len(weights))
	order := make([]int, len(weights))
	for i := range weights {
		exact := new(big.Int).Mul(big.NewInt(size), big.NewInt(weight(i)))
		share, remainder := exact.QuoRem(exact, total, new(big.Int))
		shares[i], rest[i], order[i] = Amount(share.Int64()), remainder, i
		left -= share.Int64()
	}
	sort.SliceStable(order, func(x, y int) bool { return rest[order[x]].Cmp(rest[order[y]]) > 0 })
	for _, i := range order[:left] {
		shares[i]++
	}
	for i := range shares {
		shares[i] *= sign
	}
	return shares
}
