package money

import (
	"math/big"
	"sort"
)

// Spread splits an amount over weights by the largest remainder: each share is the exact share of the amount's size
// cut toward minus infinity, the minor units left over go one each to the largest cut-off fractions, ties to the
// earlier weight, and every share then takes the amount's sign. So the shares always sum to the amount.
//
// Weights may have both signs, as the lines of a paper with returns do: a share is then in proportion to the sum of the
// weights, and one whose weight is against that sum is against the amount. Weights that sum to 0 count by their size, and
// if all are 0 they count as equal. No weights give no shares (calculation.md section 1).
func Spread(a Amount, weights []int64) []Amount {
	shares := make([]Amount, len(weights))
	if len(weights) == 0 {
		return shares
	}
	size, sign := int64(a), Amount(1)
	if a < 0 {
		size, sign = -size, -1
	}
	weight, total := normal(weights)
	left := size
	rest := make([]*big.Int, len(weights))
	order := make([]int, len(weights))
	for i := range weights {
		exact := new(big.Int).Mul(big.NewInt(size), big.NewInt(weight(i)))
		share, remainder := exact.DivMod(exact, total, new(big.Int)) // total is above 0: toward minus infinity
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

// normal gives weights as they count, and their sum, which is above 0.
func normal(weights []int64) (weight func(int) int64, total *big.Int) {
	total, sizes := new(big.Int), new(big.Int)
	for _, w := range weights {
		total.Add(total, big.NewInt(w))
		sizes.Add(sizes, big.NewInt(max(w, -w)))
	}
	switch {
	case total.Sign() > 0:
		return func(i int) int64 { return weights[i] }, total
	case total.Sign() < 0:
		return func(i int) int64 { return -weights[i] }, total.Neg(total)
	case sizes.Sign() > 0:
		return func(i int) int64 { return max(weights[i], -weights[i]) }, sizes
	default:
		return func(int) int64 { return 1 }, big.NewInt(int64(len(weights)))
	}
}

// UpTo is what the parts of a whole come to together once so much of it has been parted, the whole rounded by done of all: a
// part is what this grew by, so that parts always sum to the whole (calculation.md section 1). All must be above 0.
func UpTo(whole Amount, done, all int64) (Amount, error) {
	n, err := Ratio(all, int64(whole), done)
	return Amount(n), err
}
