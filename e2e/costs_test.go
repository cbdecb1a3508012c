package e2e

import (
	"slices"
	"testing"

	"jarvo/internal/app"
	"jarvo/internal/demo"
)

// TestAReceiptIsSplitThreeWays pastes the lines of a receipt from a spreadsheet, sends one back, and splits another over three
// jobs: 100.00 in three is 33.34, 33.33 and 33.33.
func TestAReceiptIsSplitThreeWays(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.open("/costs?open=new")
	u.must(u.See(`[aria-label="Lines"]`), u.Click(`input[aria-label="Line 1, what"]`))
	u.must(u.Paste("Diesel\t1\tlot\t100.00\r\nShackles\t4\tpcs\t1,250.50\r\nShackles, sent back\t-1\tpcs\t1250.5"))
	u.sees("3,851.50") // 100.00 + 5 002.00 - 1 250.50
	u.fill("", "Supplier", "Hallbrook Fuel", "Their number", "HF-77")
	u.must(u.Click(`button[aria-label="Line 1, phase, code, price, split"]`), u.Press("Split over jobs"), u.Press("Another job"))
	for n, job := range []string{"1187", "1192", "1189"} {
		u.must(u.Pick("Share "+string(rune('1'+n))+", job", job))
	}
	u.must(u.Press("Split the line"))
	u.must(u.Until(`[...document.querySelectorAll('[aria-label$="unit cost"]')].slice(0, 3).map(i => i.value).join() === '33.34,33.33,33.33'`))
	u.sees("3,851.50")
	for n, job := range []string{"4", "5"} {
		u.must(u.Pick("Line "+job+", job", []string{"1187", "1187"}[n]))
	}
	u.must(u.Press("Hand in"))
	u.sees("Saved")
	u.open("/approve?span=all")
	u.sees("Hallbrook Fuel")
}

// TestAClaimIsEnteredApprovedAndPaidBack follows what a worker laid out until they have it again.
func TestAClaimIsEnteredApprovedAndPaidBack(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.open("/costs?open=new")
	u.must(u.See(`[aria-label="Lines"]`))
	u.fill("", "Kind", "claim")
	u.must(u.Pick("To be paid back", "dina"))
	u.must(u.Type(`input[aria-label="Line 1, what"]`, "Gloves"), u.Type(`input[aria-label="Line 1, quantity"]`, "3"), u.Type(`input[aria-label="Line 1, unit cost"]`, "7.15"),
		u.Pick("Line 1, job", "1187"))
	u.sees("21.45")
	u.must(u.Press("Hand in"))
	u.sees("Saved")
	u.open("/costs?list=owed")
	u.sees("Dina Oake", "21.45")
	u.must(u.Until(`[...document.querySelectorAll('[aria-label="To be paid back"] tbody')].find(b => b.innerText.includes('Dina')).querySelector('button').disabled`))

	owed, err := u.book.App.Owed(ctx, app.Console)
	u.must(err)
	at := slices.IndexFunc(owed.People, func(p app.OwedTo) bool { return p.Worker == "Dina Oake" })
	u.must(u.book.App.ApproveWork(ctx, app.Console, app.Decision{DocumentIDs: []int64{owed.People[at].Papers[0].ID}}))
	u.must(u.Until(`(() => { const b = [...document.querySelectorAll('[aria-label="To be paid back"] tbody')].find(b => b.innerText.includes('Dina'))?.querySelector('button'); return b && !b.disabled && (b.click(), true) })()`))
	u.sees("Dina Oake has been paid back")
	u.must(u.Until(`document.querySelector('[aria-label="Paid back"]').innerText.includes('Dina Oake')`))
}
