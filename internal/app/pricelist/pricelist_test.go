package pricelist_test

import (
	"bytes"
	"image"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/app/refuse"
	"jarvo/internal/scan"
)

// listed is what the price list has for an item on a date.
func listed(c *apptest.Crew, t *testing.T, itemID int64, on string) pricelist.Listed {
	t.Helper()
	list, err := pricelist.List(ctx, c.Book, c.Owner, on)
	require.NoError(t, err)
	for _, i := range list {
		if i.ID == itemID {
			return i.Listed
		}
	}
	t.Fatalf("item %d is not on the list", itemID)
	return pricelist.Listed{}
}

func TestThePriceListFollowsWhatIsPaid(t *testing.T) {
	c := apptest.NewCrew(t)
	bolt := c.Item(t, "BOLT", "material", "6.85", "9.50")
	line := costs.Line{ItemID: bolt, Category: "material", Quantity: "10"}

	d := c.Buy(t, "2026-11-16", line)
	assert.Equal(t, []string{"The BOLT", "ea", "6.85", "9.50", "68.50", "95.00"},
		[]string{d.Lines[0].Description, d.Lines[0].Unit, d.Lines[0].UnitCost, d.Lines[0].SellPrice, d.Goods, d.Charge},
		"what is blank is the list's")
	line.Markup = "10"
	assert.Empty(t, c.Buy(t, "2026-11-16", line).Lines[0].SellPrice, "a markup of its own comes before the list's price")

	line.Markup, line.UnitCost = "", "8.00"
	dear := c.Buy(t, "2026-11-17", line)
	assert.Equal(t, pricelist.Listed{UnitCost: "6.85", SellPrice: "9.50", Margin: "27.89", Since: "2026-01-01"}, *dear.Lines[0].Listed)
	assert.Equal(t, "6.85", listed(c, t, bolt, "2026-11-20").UnitCost, "not approved, so not paid")
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, dear.ID)})))
	assert.Equal(
		t, pricelist.Listed{UnitCost: "8.00", SellPrice: "9.50", Margin: "15.79", Since: "2026-11-17", Paid: true},
		listed(c, t, bolt, "2026-11-20"),
	)
	assert.Equal(t, "6.85", listed(c, t, bolt, "2026-11-16").UnitCost, "the past stays as it was")

	line.Quantity, line.UnitCost = "-2", "20"
	back := c.Buy(t, "2026-11-18", line)
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, back.ID)})))
	assert.Equal(t, "8.00", listed(c, t, bolt, "2026-11-20").UnitCost, "what went back was not paid")

	require.NoError(t, pricelist.AddPrice(
		ctx, c.Book, c.Owner, bolt, pricelist.NewItemPrice{From: "2026-11-19", UnitCost: "7.20", SellPrice: "7.00"},
	))
	assert.Equal(
		t, pricelist.Listed{UnitCost: "7.20", SellPrice: "7.00", Margin: "-2.86", BelowCost: true, Since: "2026-11-19"},
		listed(c, t, bolt, "2026-11-20"),
	)
	_, err := approve.Return(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, dear.ID), Reason: "not ours"})
	require.NoError(t, err)
	assert.Equal(t, "6.85", listed(c, t, bolt, "2026-11-18").UnitCost, "what is given back was not paid after all")

	err = pricelist.AddPrice(ctx, c.Book, c.Owner, bolt, pricelist.NewItemPrice{From: "2026-11-19", UnitCost: "-1", SellPrice: "x"})
	apptest.Refusal(t, err, refuse.KindInvalid, "unitCost", "can't be below 0")
	err = pricelist.AddPrice(ctx, c.Book, c.Owner, bolt, pricelist.NewItemPrice{From: "2026-11-19", UnitCost: "1"})
	apptest.Refusal(t, err, refuse.KindInvalid, "effectiveFrom", "has a price from 2026-11-19 already")
	_, err = pricelist.Add(ctx, c.Book, c.Owner, pricelist.NewItem{
		Code: "bolt", Description: "Bolt", Category: "material", NewItemPrice: pricelist.NewItemPrice{From: week, UnitCost: "1"},
	})
	apptest.Refusal(t, err, refuse.KindInvalid, "code", "BOLT is on the list already")
	apptest.SameInAnotherBook(t, c.Book)
	apptest.Verified(t, c.Book)
}

func TestMileageAndPlantHaveTheirRatesByDate(t *testing.T) {
	c := apptest.NewCrew(t)
	mile, barge := c.Item(t, "MILE", "mileage", "0.67", ""), c.Item(t, "BARGE", "equipment", "1150", "1400")
	require.NoError(t, pricelist.AddPrice(ctx, c.Book, c.Owner, mile, pricelist.NewItemPrice{From: "2026-11-18", UnitCost: "0.70"}))
	for date, each := range map[string]string{"2026-11-17": "0.67", "2026-11-18": "0.70"} {
		assert.Equal(t, each, c.Buy(t, date, costs.Line{ItemID: mile, Category: "mileage", Quantity: "212"}).Lines[0].UnitCost, date)
	}
	used := c.Buy(t, "2026-11-17", costs.Line{ItemID: barge, Category: "equipment", Quantity: "2", UnitCost: "999"})
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, used.ID)})))
	assert.Equal(t, []string{"1998.00", "2800.00"}, []string{used.Landed, used.Charge}, "it sells at its own rate")
	assert.Equal(t, "1150.00", listed(c, t, barge, "2026-11-20").UnitCost, "its own rate is not what was written on a log")

	_, err := costs.Save(ctx, c.Book, c.Owner, costs.Document{
		Kind: "plant", Date: "2025-12-31", Lines: []costs.Line{{ItemID: barge, Category: "equipment", Quantity: "1"}},
	})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].unitCost", "BARGE has no price on 2025-12-31 yet")
	_, err = costs.Save(ctx, c.Book, c.Owner, costs.Document{
		Kind: "plant", Date: week, Lines: []costs.Line{{ItemID: 99, Category: "equipment", Quantity: "1"}},
	})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].itemId", "not on the price list any more")
	renamed := pricelist.ItemChange{Version: 1, Description: "Barge, 30 m", Unit: "day"}
	require.NoError(t, pricelist.Change(ctx, c.Book, c.Owner, barge, renamed))
	list, err := pricelist.List(ctx, c.Book, c.Owner, "")
	require.NoError(t, err)
	assert.Equal(t, []any{"Barge, 30 m", "day", false}, []any{list[0].Description, list[0].Unit, list[0].Active})
}

// picture is a PNG of a size.
func picture(t *testing.T, width, height int) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, image.NewGray(image.Rect(0, 0, width, height))))
	return b.Bytes()
}

func TestAScanIsJudgedByWhatIsInIt(t *testing.T) {
	c := apptest.NewCrew(t)
	d := c.Buy(t, week, costs.Line{Category: "material", Description: "Bolts", Quantity: "1", UnitCost: "5"})
	whole := []byte("%PDF-1.4\n1 0 obj << >> endobj\ntrailer << >>\n%%EOF\n")
	for said, data := range map[string][]byte{
		"this is no PDF, PNG or JPEG": []byte("<html><script>alert(1)</script>"),
		"this file is empty":          nil,
		"breaks off before its end":   whole[:20],
		"larger than 10 MB":           make([]byte, scan.Largest+1),
		"whatever its name says":      []byte("GIF89a\x01\x00\x01\x00"),
		"make it smaller first":       picture(t, 20000, 5001),
		"or JPEG, whatever":           []byte("\x89PNG\r\n\x1a\n and then nothing"),
	} {
		_, err := costs.Attach(ctx, c.Book, c.Owner, d.ID, "scan.pdf", data)
		apptest.Refusal(t, err, refuse.KindInvalid, "file", said)
	}
	scan := picture(t, 4, 4)
	kept, err := costs.Attach(ctx, c.Book, c.Owner, d.ID, "C:\\scans\\receipt\n.pdf", scan)
	require.NoError(t, err)
	assert.Equal(t, []any{"receipt .pdf", "image/png"}, []any{kept.Name, kept.Media}, "its name does not matter")
	again, err := costs.Attach(ctx, c.Book, c.Owner, d.ID, "receipt .pdf", scan)
	require.NoError(t, err)
	assert.Equal(t, kept, again, "a retry makes nothing twice")
	_, err = costs.Attach(ctx, c.Book, c.Owner, 99, "x", scan)
	apptest.Refusal(t, err, refuse.KindNotFound, "", "document")

	_, data, err := costs.Scan(ctx, c.Book, c.Owner, kept.ID)
	require.NoError(t, err)
	assert.Equal(t, scan, data)
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, d.ID)})))
	second, err := costs.Attach(ctx, c.Book, c.Owner, d.ID, "delivery note.pdf", whole)
	require.NoError(t, err, "what is approved can still be shown to be so")
	version := func() int64 { return c.Papers(t, d.ID)[0].Version }
	apptest.Refusal(t, costs.Detach(ctx, c.Book, c.Owner, second.ID, version()), refuse.KindConflict, "", "this attachment stays")
	apptest.SameInAnotherBook(t, c.Book)
	apptest.Verified(t, c.Book)
	_, err = approve.Return(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, d.ID), Reason: "which job?"})
	require.NoError(t, err)
	err = costs.Detach(ctx, c.Book, c.Owner, second.ID, version()-1)
	apptest.Refusal(t, err, refuse.KindConflict, "", "somebody else has changed this paper")
	require.NoError(t, costs.Detach(ctx, c.Book, c.Owner, second.ID, version()))
	shown, err := costs.Get(ctx, c.Book, c.Owner, d.ID)
	require.NoError(t, err)
	assert.Equal(t, []costs.Attachment{kept}, shown.Attachments)
}
