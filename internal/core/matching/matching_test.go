package matching_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jarvo/internal/core/matching"
	"jarvo/internal/core/money"
)

func open() *matching.Book {
	return matching.NewBook([]matching.Invoice{
		{ID: 1, Customer: 7, Number: "SG-2615", Order: 2615, Due: 30, Balance: 57_120_00},
		{ID: 2, Customer: 7, Number: "SG-2618", Order: 2618, Due: 20, Balance: 1_000_00},
		{ID: 3, Customer: 8, Number: "SG-2620", Order: 2620, Due: 10, Balance: 2_740_50},
		{ID: 4, Customer: 9, Number: "SG-2621", Order: 2621, Due: 10, Balance: 1_000_00},
	}, map[int64]string{7: "Port of Sable Bar", 8: "M. and J. Wrenfield", 9: "Gannet Point Ferries Ltd", 10: "Café Étoile"})
}

func TestWhatGivesAReceiptAway(t *testing.T) {
	for what, c := range map[string]struct {
		receipt  matching.Receipt
		customer int64
		parts    []matching.Part
		over     money.Amount
		sure     bool
		why      []matching.Why
	}{
		"its number and amount": {
			matching.Receipt{Amount: 57_120_00, Text: "inv. sg-2615, thanks"}, 7, []matching.Part{{1, 57_120_00}}, 0, true,
			[]matching.Why{matching.ByNumber, matching.ByAmount},
		},
		"two numbers, both paid": {
			matching.Receipt{Amount: 58_120_00, Text: "SG-2618/SG-2615", Name: "PORT OF SABLE BAR"}, 7,
			[]matching.Part{{2, 1_000_00}, {1, 57_120_00}}, 0, true, []matching.Why{matching.ByNumber, matching.ByName},
		},
		"a number, paid in part": {
			matching.Receipt{Amount: 500_00, Text: "SG-2615"}, 7, []matching.Part{{1, 500_00}}, 0, false, []matching.Why{matching.ByNumber},
		},
		"a number, paid too much": {
			matching.Receipt{Amount: 1_000_10, Text: "SG-2621"}, 9, []matching.Part{{4, 1_000_00}}, 10, false, []matching.Why{matching.ByNumber},
		},
		"a number in a longer one": {matching.Receipt{Amount: 1, Text: "SG-26151 2615"}, 0, nil, 0, false, nil},
		"a number, from somebody else": {
			matching.Receipt{Amount: 57_120_00, Text: "SG-2615", Name: "Gannet Point Ferries"}, 7, []matching.Part{{1, 57_120_00}}, 0, false,
			[]matching.Why{matching.ByNumber, matching.ByAmount},
		},
		"name and amount": {
			matching.Receipt{Amount: 1_000_00, Name: "GANNET POINT FERRIES LTD"}, 9, []matching.Part{{4, 1_000_00}}, 0, true,
			[]matching.Why{matching.ByAmount, matching.ByName},
		},
		"an amount that one has": {
			matching.Receipt{Amount: 2_740_50}, 8, []matching.Part{{3, 2_740_50}}, 0, false, []matching.Why{matching.ByAmount},
		},
		"an amount that two have": {matching.Receipt{Amount: 1_000_00}, 0, nil, 0, false, nil},
		"all that they owe": {
			matching.Receipt{Amount: 58_120_00, Name: "port of sable bar"}, 7, []matching.Part{{2, 1_000_00}, {1, 57_120_00}}, 0, true,
			[]matching.Why{matching.ByName},
		},
		"a name, the oldest first": {
			matching.Receipt{Amount: 1_500_00, Name: "Port of Sable Bar"}, 7, []matching.Part{{2, 1_000_00}, {1, 500_00}}, 0, false,
			[]matching.Why{matching.ByName},
		},
		"a name with accents": {matching.Receipt{Amount: 5, Name: "CAFE ETOILE"}, 10, nil, 5, false, []matching.Why{matching.ByName}},
		"nobody":              {matching.Receipt{Amount: 33, Name: "Interest"}, 0, nil, 0, false, nil},
		"money that went out": {matching.Receipt{Amount: -57_120_00, Text: "SG-2615"}, 0, nil, 0, false, nil},
	} {
		p := open().Propose(c.receipt)
		got := map[int64]money.Amount{}
		for _, part := range p.Parts {
			got[part.Invoice] = part.Amount
		}
		want := map[int64]money.Amount{}
		for _, part := range c.parts {
			want[part.Invoice] = part.Amount
		}
		assert.Equal(t, want, got, what)
		assert.Equal(t, []any{c.customer, c.over, c.sure, c.why}, []any{p.Customer, p.Over, p.Sure, p.Why}, what)
	}
}

// What is surely paid is not proposed for the next receipt, and no cent of a receipt is lost.
func TestNothingIsProposedTwice(t *testing.T) {
	b := open()
	assert.True(t, b.Propose(matching.Receipt{Amount: 57_120_00, Text: "SG-2615"}).Sure)
	assert.Zero(t, b.Propose(matching.Receipt{Amount: 57_120_00, Text: "SG-2615"}).Customer)
	rapid.Check(t, func(t *rapid.T) {
		b := open()
		paid := map[int64]money.Amount{}
		for range 6 {
			r := matching.Receipt{
				Amount: money.Amount(rapid.SampledFrom([]int64{1_000_00, 57_120_00, 58_120_00, 2_740_50, 77}).Draw(t, "amount")),
				Text:   rapid.SampledFrom([]string{"", "SG-2615", "SG-2618 SG-2615", "SG-2621"}).Draw(t, "text"),
				Name:   rapid.SampledFrom([]string{"", "Port of Sable Bar", "Gannet Point Ferries"}).Draw(t, "name"),
			}
			p := b.Propose(r)
			sum := p.Over
			for _, part := range p.Parts {
				sum += part.Amount
				if p.Sure {
					paid[part.Invoice] += part.Amount
				}
			}
			if p.Customer != 0 {
				assert.Equal(t, r.Amount, sum)
			}
		}
		for id, most := range map[int64]money.Amount{1: 57_120_00, 2: 1_000_00, 3: 2_740_50, 4: 1_000_00} {
			assert.LessOrEqual(t, paid[id], most)
		}
	})
}
