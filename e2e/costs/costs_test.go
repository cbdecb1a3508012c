package costs

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/internal/app/approve"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/payback"
	"jarvo/internal/app/scope"
)

// TestAReceiptIsSplitThreeWays pastes the lines of a receipt from a spreadsheet, sends one back, and splits another over three
// jobs: 100.00 in three is 33.34, 33.33 and 33.33.
func TestAReceiptIsSplitThreeWays(t *testing.T) {
	u := atTheDemo(t)
	u.Load("/costs?open=new")
	u.Must(u.See(`[aria-label="Lines"]`), u.Click(`input[aria-label="Line 1, what"]`))
	u.Must(u.Paste("Diesel\t1\tlot\t100.00\r\nShackles\t4\tpcs\t1,250.50\r\nShackles, sent back\t-1\tpcs\t1250.5"))
	u.Must(u.Press("Add 3 lines"))
	u.Sees("3,851.50") // 100.00 + 5 002.00 - 1 250.50
	u.FillIn("", "Supplier", "Hallbrook Fuel", "Invoice no.", "HF-77")
	u.Must(u.Click(`button[aria-label="Line 1, phase, code, price, split"]`), u.Press("Split over jobs"), u.Press("Another job"))
	for n, job := range []string{"1187", "1192", "1189"} {
		u.Must(u.Pick("Share "+string(rune('1'+n))+", job", job))
	}
	u.Must(u.Press("Split the line"))
	u.Must(u.Until(`[...document.querySelectorAll('[aria-label$="unit cost"]')].slice(0, 3).map(i => i.value).join() === '33.34,33.33,33.33'`))
	u.Sees("3,851.50")
	for n, job := range []string{"4", "5"} {
		u.Must(u.Pick("Line "+job+", job", []string{"1187", "1187"}[n]))
	}
	u.Must(u.Press("Hand in"))
	u.Sees("Saved")
	u.Load("/approve?span=all")
	u.Sees("Hallbrook Fuel")
}

// TestAClaimIsEnteredApprovedAndPaidBack follows what a worker laid out until they have it again.
func TestAClaimIsEnteredApprovedAndPaidBack(t *testing.T) {
	u := atTheDemo(t)
	u.Load("/costs?open=new")
	u.Must(u.See(`[aria-label="Lines"]`))
	u.FillIn("", "Kind", "claim")
	u.Must(u.Pick("To reimburse", "dina"))
	u.Must(u.Type(
		`input[aria-label="Line 1, what"]`, "Gloves",
	), u.Type(`input[aria-label="Line 1, quantity"]`, "3"), u.Type(`input[aria-label="Line 1, unit cost"]`, "7.15"),
		u.Pick("Line 1, job", "1187"))
	u.Sees("21.45")
	u.Must(u.Press("Hand in"))
	u.Sees("Saved")
	u.Load("/costs?list=owed")
	u.Sees("Dina Oake", "21.45")
	u.Must(u.Until(
		`[...document.querySelectorAll('[aria-label="To reimburse"] tr.group')].find(
		b => b.innerText.includes('Dina')).querySelector('button').disabled`,
	))

	owed, err := payback.List(t.Context(), u.Book.Book, book.Console)
	u.Must(err)
	there := slices.IndexFunc(owed.People, func(p payback.OwedTo) bool { return p.Worker == "Dina Oake" })
	paper, err := costs.Get(t.Context(), u.Book.Book, book.Console, owed.People[there].Papers[0].ID)
	u.Must(err)
	_, err = approve.Approve(
		t.Context(), u.Book.Book, book.Console, approve.Decision{Documents: []approve.Seen{{ID: paper.ID, Version: paper.Version}}},
	)
	u.Must(err)
	u.Must(u.ClickIn(`[aria-label="To reimburse"] tr.group`, "Dina", "button"))
	u.Sees("Dina Oake has been reimbursed")
	u.Must(u.Until(`document.querySelector('[aria-label="Paid back"]').innerText.includes('Dina Oake')`))
}

// paperValue is what the fields of a paper's first line hold.
const paperValue = `[...document.querySelectorAll('tr[data-cost-line="0"] input')].map(i => i.value || i.placeholder).join('|')`

// TestAPaperIsTypedFromThePriceListAndSeenBesideItsScan types a code, which becomes the item with its usual cost, attaches a
// scan, and is told of a file that is none.
func TestAPaperIsTypedFromThePriceListAndSeenBesideItsScan(t *testing.T) {
	u := atTheDemo(t)
	u.Load("/costs?open=new")
	u.Must(u.Until(`!!document.querySelector("#price-list option")`))
	u.FillIn("", "Supplier", "Ironholt Fasteners", "Invoice no.", "IF-9")
	u.Must(
		u.Type(`input[aria-label="Line 1, what"]`, "drift-24"), u.Type(`input[aria-label="Line 1, quantity"]`, "200"),
		u.Until(paperValue+`.startsWith('Drift bolt, galv., M24 x 400|200|ea|6.85')`),
	)
	u.Sees("1,370.00")
	u.Must(u.Type(`input[aria-label="Line 1, unit cost"]`, "7.40"))
	u.Sees("usual 6.85", "1,480.00")

	folder := t.TempDir()
	scan, note := filepath.Join(folder, "delivery.png"), filepath.Join(folder, "note.pdf")
	u.Must(os.WriteFile(scan, at.OnePixel, 0o600), os.WriteFile(note, []byte("<html><script>alert(1)</script></html>"), 0o600))
	u.Must(u.Upload(`.strip input[type="file"]`, scan), u.See(`.strip img`)) // the paper is saved first
	u.Sees("delivery.png", "Saved")
	u.Must(u.Upload(`.strip input[type="file"]`, note))
	u.Sees("note.pdf: this is no PDF, PNG or JPEG, whatever its name says")
	u.Must(u.Press("Open large"), u.See(".large img"))
	u.Accessible("a large scan")
	u.Must(u.Press("Remove"))
	u.Sees("No scan of it yet")
	u.Must(u.Pick("Line 1, job", "1187"), u.Press("Hand in"))
	u.Sees("Saved")
}

// TestTwoWindowsChangeOnePaper saves in one window what another has changed meanwhile: both versions stand side by side.
func TestTwoWindowsChangeOnePaper(t *testing.T) {
	u := atTheDemo(t)
	address := u.scanned()
	u.Load(address)
	u.Must(u.Until(paperValue + `.includes('612.40')`))
	other, err := u.Window()
	u.Must(err)
	t.Cleanup(other.Close)
	u.Must(other.Go(u.URL+address), other.Until(paperValue+`.includes('612.40')`))
	collide := func(quantity, total string) {
		u.Must(u.Type(`input[aria-label="Line 1, quantity"]`, "10"))
		u.Sees("1 paper not saved")
		u.Must(other.Type(
			`input[aria-label="Line 1, quantity"]`, quantity,
		), other.Until(`document.querySelector('.head-fields b').innerText.includes('`+total+`')`),
			other.Press("Save"), other.Until(`[...document.querySelectorAll("button")].find(b => b.innerText === "Save").disabled`))
		u.Must(u.Press("Save"))
		u.Sees("Somebody else has changed this paper", "10 ea, at 612.40, job 1187", quantity+" ea, at 612.40, job 1187")
	}
	collide("11", "12,123.00")
	u.Accessible("two versions of a paper")
	u.Must(u.Press("Use theirs"), u.Until(paperValue+`.includes('|11|')`), u.Until(`!document.querySelector('.stale')`))
	collide("12", "12,735.40")
	u.Must(u.Press("Save mine"))
	u.Sees("Saved")
	u.Must(u.Until(paperValue + `.includes('|10|')`))
	u.Load(address)
	u.Must(u.Until(paperValue + `.includes('|10|')`))
}

// TestAPaperThatIsNotSavedIsKept leaves a paper half typed for another tab and another paper, loads the window anew, and drops it.
func TestAPaperThatIsNotSavedIsKept(t *testing.T) {
	u := atTheDemo(t)
	u.Load("/costs?open=new")
	u.Must(u.See(`[aria-label="Lines"]`))
	u.FillIn("", "Supplier", "Half Way Stores")
	u.Must(u.Type(`input[aria-label="Line 1, what"]`, "Rope"), u.Type(`input[aria-label="Line 1, unit cost"]`, "12"))
	u.Sees("1 paper not saved")
	u.Must(u.Click(`.tabs a[href^="/approve"]`), u.See(`[aria-label="Waiting for approval"]`), u.Click(`.tabs a[href^="/costs"]`))
	u.Sees("Half Way Stores", "not saved yet")
	u.Must(u.ClickIn(`[aria-label="Papers"] tbody tr`, "Half Way", "td"))
	u.Must(u.Until(paperValue + `.startsWith('Rope')`))
	u.Load("/costs?open=new")
	u.Must(u.Until(paperValue + `.startsWith('Rope')`))
	u.Sees("1 paper not saved")
	u.Must(u.Press("Drop changes"), u.Until(`!document.querySelector('[aria-label="Papers"]').innerText.includes('Half Way')`))
	u.Must(u.Press("Undo"), u.Until(paperValue+`.startsWith('Rope')`))
	u.Sees("Half Way Stores", "1 paper not saved")
	u.Must(u.Chord(chromedp.ModifierCtrl, "y"), u.Until(`!document.querySelector('[aria-label="Papers"]').innerText.includes('Half Way')`))
	u.Must(u.Press("Undo"), u.Until(paperValue+`.startsWith('Rope')`))
	u.Sees("Half Way Stores", "1 paper not saved")
	u.Must(u.Press("Drop changes"), u.See(".undo"))
	u.Must(
		u.Click(`.tabs a[href^="/approve"]`), u.See(`[aria-label="Waiting for approval"]`), u.Until(`!document.querySelector('.undo')`),
	) // undo is of the sheet in hand
}

// TestAPaperMustComeToWhatIsPrintedOnIt types a paper short of its printed total: what is missing is said, it is not handed in, and a line
// without tax has none of it.
func TestAPaperMustComeToWhatIsPrintedOnIt(t *testing.T) {
	u := atTheDemo(t)
	u.Open("/costs?open=new")
	u.Must(u.See(`[aria-label="Lines"] tfoot`), u.Fill("", "Supplier", "Sable Bar Decking"), u.Fill("", "Invoice no.", "SBD-1"))
	u.Must(u.Fill("", "Tax", "10"))
	u.Must(u.Type(`input[aria-label="Line 1, what"]`, "Boards"), u.Type(`input[aria-label="Line 1, unit cost"]`, "100"))
	u.Must(u.Press("Add a line"), u.Type(`input[aria-label="Line 2, what"]`, "Stamps"), u.Type(`input[aria-label="Line 2, unit cost"]`, "40"))
	u.Must(u.Click(`input[aria-label="Line 2, taxable"]`))
	u.Must(u.Until(`(() => { document.querySelector('.printed label').control.focus(); return true })()`), u.Keys("160\t"))
	u.Sees("10.00 is missing here")
	u.Accessible("a paper that falls short")
	u.Must(u.Press("Hand in"))
	u.Sees("and not to the 160.00 printed on it")
	u.Must(u.Click(`input[aria-label="Line 2, unit cost"]`), u.Chord(chromedp.ModifierCtrl, "a"), u.Keys("50\t"))
	u.Sees("In balance with the paper")
	u.Must(u.Press("Hand in"), u.Until(`![...document.querySelectorAll('.v-btn')].some(b => b.innerText.trim() === 'Hand in')`))
	list, err := costs.List(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	for _, d := range list.Documents {
		if !strings.Contains(d.Title+d.Detail, "SBD-1") {
			continue
		}
		paper, err := costs.Get(t.Context(), u.Book.Book, book.Console, d.ID)
		require.NoError(t, err)
		assert.Equal(t, "160.00", paper.Printed)
		assert.Equal(t, []string{"110.00", "50.00"}, []string{paper.Lines[0].Landed, paper.Lines[1].Landed})
		return
	}
	assert.Fail(t, "the paper is not there")
}

// TestAMarkupIsPutOnTheGoodsAlone adds a markup on material that is put on the goods from today on: of a paper with freight and tax these
// are passed on at cost.
func TestAMarkupIsPutOnTheGoodsAlone(t *testing.T) {
	u := atTheDemo(t)
	u.Open("/setup?part=markups&add=yes")
	u.Must(u.See(`form[aria-label="New markup"]`))
	u.FillIn("New markup", "Markup", "18", "Percent of", "goods")
	u.Must(u.Press("Add markup"), u.Until(`document.querySelectorAll('[aria-label="Markups"] tbody tr').length >= 5`))
	u.Sees("the goods alone")
	u.Accessible("a markup on the goods alone")
	u.Open("/costs?open=new")
	u.Must(u.See(`[aria-label="Lines"] tfoot`))
	u.FillIn("", "Supplier", "Sable Bar Decking", "Invoice no.", "SBD-2", "Freight", "20", "Tax", "10")
	u.Must(u.Type(`input[aria-label="Line 1, what"]`, "Boards"), u.Type(`input[aria-label="Line 1, unit cost"]`, "100"))
	u.Must(u.Pick("Line 1, job", "1187"))
	u.Sees("130.00", "148.00") // 100 + 18 %, and 30 at cost
	u.Must(u.Press("Hand in"))
	u.Sees("Saved")
	u.Must(u.Press("Workings"))
	u.Sees("18 % of 100.00")
}

// TestFiguresAreReadAsTheyAreShown types a paper as it is written in Germany, by somebody whose own day is the next one already.
func TestFiguresAreReadAsTheyAreShown(t *testing.T) {
	u := atTheDemo(t)
	u.Must(u.Locale("de-DE", "Pacific/Auckland"))
	u.Load("/costs?open=new")
	u.Must(u.See(`[aria-label="Lines"]`), u.Until(`document.querySelector('.head-fields .date input').value === '25. Nov. 2026'`))
	u.FillIn("", "Supplier", "Half Way Stores", "Date", "9.3.", "Freight", "1.500,25")
	u.Must(u.Type(`input[aria-label="Line 1, what"]`, "Rope"), u.Type(`input[aria-label="Line 1, quantity"]`, "1.500"),
		u.Type(`input[aria-label="Line 1, unit cost"]`, "1.250,50"))
	u.Sees("1.875.750,00", "1.877.250,25") // 1 500 x 1 250.50, and the freight
	u.Must(u.Until(`document.querySelector('.head-fields .date input').value === '9. März 2026'`))
	u.Must(u.Type(`input[aria-label="Line 1, quantity"]`, "abc"))
	u.Sees("abc")
	u.Must(u.See(`input[aria-label="Line 1, quantity"][aria-invalid="true"]`))
}

// scanned is the address of a paper with a scan.
func (u user) scanned() string {
	u.T.Helper()
	list, err := costs.List(u.T.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	u.Must(err)
	there := slices.IndexFunc(list.Documents, func(d costs.DocumentRow) bool { return strings.HasSuffix(d.Detail, "PM-20418") })
	return fmt.Sprintf("/costs?span=all&open=%d", list.Documents[there].ID)
}
