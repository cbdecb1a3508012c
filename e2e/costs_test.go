package e2e

import (
	"encoding/base64"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/chromedp/chromedp"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/payback"
	"jarvo/internal/demo"
)

// TestAReceiptIsSplitThreeWays pastes the lines of a receipt from a spreadsheet, sends one back, and splits another over three
// jobs: 100.00 in three is 33.34, 33.33 and 33.33.
func TestAReceiptIsSplitThreeWays(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load("/costs?open=new")
	u.must(u.See(`[aria-label="Lines"]`), u.Click(`input[aria-label="Line 1, what"]`))
	u.must(u.Paste("Diesel\t1\tlot\t100.00\r\nShackles\t4\tpcs\t1,250.50\r\nShackles, sent back\t-1\tpcs\t1250.5"))
	u.must(u.Press("Add 3 lines"))
	u.sees("3,851.50") // 100.00 + 5 002.00 - 1 250.50
	u.fill("", "Supplier", "Hallbrook Fuel", "Invoice no.", "HF-77")
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
	u.load("/approve?span=all")
	u.sees("Hallbrook Fuel")
}

// TestAClaimIsEnteredApprovedAndPaidBack follows what a worker laid out until they have it again.
func TestAClaimIsEnteredApprovedAndPaidBack(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load("/costs?open=new")
	u.must(u.See(`[aria-label="Lines"]`))
	u.fill("", "Kind", "claim")
	u.must(u.Pick("To reimburse", "dina"))
	u.must(u.Type(
		`input[aria-label="Line 1, what"]`, "Gloves",
	), u.Type(`input[aria-label="Line 1, quantity"]`, "3"), u.Type(`input[aria-label="Line 1, unit cost"]`, "7.15"),
		u.Pick("Line 1, job", "1187"))
	u.sees("21.45")
	u.must(u.Press("Hand in"))
	u.sees("Saved")
	u.load("/costs?list=owed")
	u.sees("Dina Oake", "21.45")
	u.must(u.Until(
		`[...document.querySelectorAll('[aria-label="To reimburse"] tr.group')].find(
		b => b.innerText.includes('Dina')).querySelector('button').disabled`,
	))

	owed, err := payback.List(ctx, u.book.Book, book.Console)
	u.must(err)
	at := slices.IndexFunc(owed.People, func(p payback.OwedTo) bool { return p.Worker == "Dina Oake" })
	paper, err := costs.Get(ctx, u.book.Book, book.Console, owed.People[at].Papers[0].ID)
	u.must(err)
	u.must(approve.Approve(
		ctx, u.book.Book, book.Console, approve.Decision{Documents: []approve.Seen{{ID: paper.ID, Version: paper.Version}}},
	))
	u.must(u.ClickIn(`[aria-label="To reimburse"] tr.group`, "Dina", "button"))
	u.sees("Dina Oake has been reimbursed")
	u.must(u.Until(`document.querySelector('[aria-label="Paid back"]').innerText.includes('Dina Oake')`))
}

// paperValue is what the fields of a paper's first line hold.
const paperValue = `[...document.querySelectorAll('tr[data-cost-line="0"] input')].map(i => i.value || i.placeholder).join('|')`

// TestAPaperIsTypedFromThePriceListAndSeenBesideItsScan types a code, which becomes the item with its usual cost, attaches a
// scan, and is told of a file that is none.
func TestAPaperIsTypedFromThePriceListAndSeenBesideItsScan(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load("/costs?open=new")
	u.must(u.Until(`!!document.querySelector("#price-list option")`))
	u.fill("", "Supplier", "Ironholt Fasteners", "Invoice no.", "IF-9")
	u.must(
		u.Type(`input[aria-label="Line 1, what"]`, "drift-24"), u.Type(`input[aria-label="Line 1, quantity"]`, "200"),
		u.Until(paperValue+`.startsWith('Drift bolt, galv., M24 x 400|200|ea|6.85')`),
	)
	u.sees("1,370.00")
	u.must(u.Type(`input[aria-label="Line 1, unit cost"]`, "7.40"))
	u.sees("usual 6.85", "1,480.00")

	folder := t.TempDir()
	scan, note := filepath.Join(folder, "delivery.png"), filepath.Join(folder, "note.pdf")
	u.must(os.WriteFile(scan, onePixel, 0o600), os.WriteFile(note, []byte("<html><script>alert(1)</script></html>"), 0o600))
	u.must(u.Upload(`.strip input[type="file"]`, scan), u.See(`.strip img`)) // the paper is saved first
	u.sees("delivery.png", "Saved")
	u.must(u.Upload(`.strip input[type="file"]`, note))
	u.sees("note.pdf: this is no PDF, PNG or JPEG, whatever its name says")
	u.must(u.Press("Open large"), u.See(".large img"))
	u.accessible("a large scan")
	u.must(u.Press("Remove"))
	u.sees("No scan of it yet")
	u.must(u.Pick("Line 1, job", "1187"), u.Press("Hand in"))
	u.sees("Saved")
}

// onePixel is the smallest PNG.
var onePixel, _ = base64.StdEncoding.DecodeString(
	"iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==",
)

// TestTwoWindowsChangeOnePaper saves in one window what another has changed meanwhile: both versions stand side by side.
func TestTwoWindowsChangeOnePaper(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	address := u.scanned()
	u.load(address)
	u.must(u.Until(paperValue + `.includes('612.40')`))
	other, err := u.Window()
	u.must(err)
	t.Cleanup(other.Close)
	u.must(other.Go(u.url+address), other.Until(paperValue+`.includes('612.40')`))
	collide := func(quantity, total string) {
		u.must(u.Type(`input[aria-label="Line 1, quantity"]`, "10"))
		u.sees("1 paper not saved")
		u.must(other.Type(
			`input[aria-label="Line 1, quantity"]`, quantity,
		), other.Until(`document.querySelector('.head-fields b').innerText.includes('`+total+`')`),
			other.Press("Save"), other.Until(`[...document.querySelectorAll("button")].find(b => b.innerText === "Save").disabled`))
		u.must(u.Press("Save"))
		u.sees("Somebody else has changed this paper", "10 ea, at 612.40, job 1187", quantity+" ea, at 612.40, job 1187")
	}
	collide("11", "12,123.00")
	u.accessible("two versions of a paper")
	u.must(u.Press("Use theirs"), u.Until(paperValue+`.includes('|11|')`), u.Until(`!document.querySelector('.stale')`))
	collide("12", "12,735.40")
	u.must(u.Press("Save mine"))
	u.sees("Saved")
	u.must(u.Until(paperValue + `.includes('|10|')`))
	u.load(address)
	u.must(u.Until(paperValue + `.includes('|10|')`))
}

// TestAPaperThatIsNotSavedIsKept leaves a paper half typed for another tab and another paper, loads the window anew, and drops it.
func TestAPaperThatIsNotSavedIsKept(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load("/costs?open=new")
	u.must(u.See(`[aria-label="Lines"]`))
	u.fill("", "Supplier", "Half Way Stores")
	u.must(u.Type(`input[aria-label="Line 1, what"]`, "Rope"), u.Type(`input[aria-label="Line 1, unit cost"]`, "12"))
	u.sees("1 paper not saved")
	u.must(u.Click(`.tabs a[href^="/approve"]`), u.See(`[aria-label="Waiting for approval"]`), u.Click(`.tabs a[href^="/costs"]`))
	u.sees("Half Way Stores", "not saved yet")
	u.must(u.ClickIn(`[aria-label="Papers"] tbody tr`, "Half Way", "td"))
	u.must(u.Until(paperValue + `.startsWith('Rope')`))
	u.load("/costs?open=new")
	u.must(u.Until(paperValue + `.startsWith('Rope')`))
	u.sees("1 paper not saved")
	u.must(u.Press("Drop changes"), u.Until(`!document.querySelector('[aria-label="Papers"]').innerText.includes('Half Way')`))
	u.must(u.Press("Undo"), u.Until(paperValue+`.startsWith('Rope')`))
	u.sees("Half Way Stores", "1 paper not saved")
	u.must(u.Chord(chromedp.ModifierCtrl, "y"), u.Until(`!document.querySelector('[aria-label="Papers"]').innerText.includes('Half Way')`))
	u.must(u.Press("Undo"), u.Until(paperValue+`.startsWith('Rope')`))
	u.sees("Half Way Stores", "1 paper not saved")
	u.must(u.Press("Drop changes"), u.See(".undo"))
	u.must(
		u.Click(`.tabs a[href^="/approve"]`), u.See(`[aria-label="Waiting for approval"]`), u.Until(`!document.querySelector('.undo')`),
	) // undo is of the sheet in hand
}
