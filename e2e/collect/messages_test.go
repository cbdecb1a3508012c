package collect

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	gomail "github.com/wneessen/go-mail"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/messages"
	"jarvo/internal/post"
)

func (u user) box() messages.Outbox {
	u.T.Helper()
	box, err := messages.Box(u.T.Context(), u.Book.Book, book.Console)
	require.NoError(u.T, err)
	return box
}

const letterText = `[aria-label="The message"] .text`

// An invoice is sent with its PDF, its e-invoice and what is behind it, and read in the stand-in as the customer would.
func TestAnInvoiceIsSentWithAllThatBelongsToIt(t *testing.T) {
	u := atTheDemo(t)
	before := u.box().Counts.Sent
	u.Open("/bill?list=issued&span=all")
	u.Must(u.See(".invoice .due"), u.Press("Save as"), u.SeeText("E-invoice by EN 16931"))
	u.Accessible("what an invoice is saved as")
	u.Must(u.Press("E-invoice by EN 16931"), u.Press("Send"), u.See(`textarea[name="body"]`))
	u.Accessible("a message with an invoice")
	form := `form[aria-label="Send Invoice 2627"]`
	u.Must(u.Type(form+` input[name="to"]`, "nobody"), u.Click(form+` button[type="submit"]`))
	u.Sees(`"nobody" is not a mail address, such as name@firm.example`)
	u.Must(u.Type(form+` input[name="to"]`, "Ap Desk <ap@gannet.example>; boss@gannet.example"))
	for _, what := range []string{"Hours and receipts", "EN 16931", "plain UBL"} {
		u.Must(u.ClickIn(form+" .put label", what, "input"))
	}
	u.Must(u.Click(form + ` button[type="submit"]`))
	u.Must(u.Until(`document.querySelector('.sent')?.innerText.includes('Ap Desk')`),
		u.Until(`/2627 sent/.test(document.querySelector('.sent p').innerText)`))
	assert.Equal(t, before+1, u.box().Counts.Sent)

	u.Must(u.Click(`.sent p:first-child a`), u.See(letterText))
	u.Sees("invoice 2627 of Nov", "Ap Desk <ap@gannet.example>, boss@gannet.example", "invoice-2627.pdf",
		"invoice-2627-with-backup.pdf", "invoice-2627.xml",
		"invoice-2627.en16931.xml")
	u.Accessible("the outbox")
	sent := u.box().Sent[0]
	files, err := filepath.Glob(filepath.Join(u.Book.Mail, sent.Ref+".*.eml"))
	require.NoError(t, err)
	require.Len(t, files, 1, "it is a file as well, which mail programs open")
	data, err := os.ReadFile(files[0])
	require.NoError(t, err)
	read, err := post.Read(data)
	require.NoError(t, err)
	assert.Len(t, read.Files, 4)
	apptest.Verified(t, u.Book.Book)
}

// What an e-invoice lacks is said where it is asked for, and where it is typed; once it is there the e-invoice is written. It is sent to
// the customer's person who gets invoices.
func TestWhatAnEInvoiceLacksIsSaid(t *testing.T) {
	u := atTheDemo(t)
	u.Open("/bill?list=issued&span=all")
	u.Must(u.See(".invoice .due"), u.ClickIn(`[aria-label="Issued invoices"] tbody tr`, "2624", "td"), u.SeeText("Tolley Lock Trust"),
		u.Until(`document.querySelector('.invoice')?.innerText.includes('2624')`), u.Press("Save as"), u.Press("E-invoice by EN 16931"))
	u.Sees("EN 16931 asks for what is missing: the customer's city (Setup, Customers); the customer's reference (Setup, Customers)")
	u.Open("/setup?part=customers")
	u.Must(u.ClickIn(`[aria-label="Customers"] tbody tr`, "Tolley", "button.lnk"))
	u.FillIn("Change Tolley Lock Trust", "City", "Tolley", "Their reference, on e-invoices", "TLT 9")
	u.Must(u.Press("Add a person"), u.Type(`[aria-label="E-mail of row 1"]`, "treasurer@tolley"),
		u.Click(`[aria-label="Invoices of row 1"]`), u.Press("Save"))
	u.Sees(`"treasurer@tolley" has no domain, such as firm.example`)
	u.Accessible("a customer with what e-invoices need")
	u.Must(u.Type(`[aria-label="E-mail of row 1"]`, "treasurer@tolley.example"), u.Press("Save"),
		u.Until(`!document.querySelector('form[aria-label="Change Tolley Lock Trust"]')`))
	u.Load("/bill?list=issued&span=all")
	u.Must(u.See(".invoice .due"), u.ClickIn(`[aria-label="Issued invoices"] tbody tr`, "2624", "td"),
		u.Until(`document.querySelector('.invoice')?.innerText.includes('2624')`), u.Press("Send"), u.See(`textarea[name="body"]`))
	u.Must(u.Until(`!document.querySelector('form[aria-label="Send Invoice 2624"] .put').innerText.includes('missing')`),
		u.Until(`document.querySelector('form[aria-label="Send Invoice 2624"] [name="to"]').value === 'treasurer@tolley.example'`))
}

// refusing is a mail server that takes nothing, until it is left alone.
type refusing struct{ post.Sender }

func (refusing) Send(_ context.Context, _ *gomail.Msg) error {
	return &post.Refusal{Why: "452 the mailbox is full", MayPass: true}
}

// A message that a server refuses waits and is sent later; one whose address is wrong is put right, and the address kept.
func TestAMessageThatIsRefusedIsTriedAgain(t *testing.T) {
	u := atTheDemo(t)
	before := u.box().Counts
	u.Open("/bill?list=messages")
	u.Must(u.See(`form[aria-label="Try again"]`))
	u.Sees("550 there is no such domain: jay@wrenfeild.invalid")
	u.Must(u.Type(`form[aria-label="Try again"] input[name="to"]`, "jay@wrenfield.example\r"),
		u.Until(`!document.querySelector('form[aria-label="Try again"]')`))
	u.Sees("jay@wrenfield.example")
	gone := `!document.querySelector('[aria-label="Waiting"]') && !document.querySelector('[aria-label="Failed"]')`
	u.Must(u.Until(gone))
	assert.Equal(t, messages.OutboxCounts{Sent: before.Sent + before.Failed}, u.box().Counts)

	was := u.Book.Mailer()
	u.Book.MailBy(refusing{was})
	u.Open("/bill?list=issued&span=all")
	u.Must(u.See(".invoice .due"), u.Press("Send"), u.See(`textarea[name="body"]`),
		u.Click(`form[aria-label="Send Invoice 2627"] button[type="submit"]`))
	u.Open("/bill?list=messages")
	u.Sees("452 the mailbox is full", "Send now")
	u.Accessible("a message that waits")
	u.Book.MailBy(was)
	u.Must(u.Press("Send now"), u.Until(gone))
	assert.Equal(t, messages.OutboxCounts{Sent: before.Sent + before.Failed + 1}, u.box().Counts)
}

// Who is overdue is reminded in one go; what would be sent is read, and changed, first.
func TestRemindersAreReadAndSentInOneGo(t *testing.T) {
	u := atTheDemo(t)
	before := u.box().Counts.Sent
	u.Open("/bill?list=messages")
	u.Must(u.See(`[aria-label="Reminders"] tbody tr`), u.ClickIn(`[aria-label="Reminders"] tbody tr`, "E. Quill", ".two"))
	letter := `[aria-label="Reminder to E. Quill"]`
	u.Must(u.See(letter + " textarea"))
	u.Accessible("a reminder in hand")
	u.Must(u.Type(letter+" input", "quill"), u.Press("Send 2 reminders, 73,492.05"))
	u.Sees(`"quill" is not a mail address, such as name@firm.example`)
	assert.Equal(t, before, u.box().Counts.Sent)
	u.Must(u.Type(letter+" input", "quill@boathouse.example"), u.Press("Send 2 reminders, 73,492.05"), u.SeeText("2 reminders on the way."))
	u.Must(u.Until(`[...document.querySelectorAll('[aria-label="Sent"] tbody tr')]
		.filter(r => r.innerText.includes('reminder')).length === 2`))
	first := u.box().Sent[:2]
	assert.ElementsMatch(t, []string{"quill@boathouse.example", "Ruth Thole <thole@gannet.example>"}, []string{first[0].To, first[1].To})
	boxes, err := browser.Eval[int](u.Page, `document.querySelectorAll('[aria-label="Reminders"] tbody input:checked').length`)
	u.Must(err)
	assert.Zero(t, boxes, "nobody is reminded of it once more")
	u.Must(u.Press("Texts of messages"), u.See(`textarea[name="body"]`), u.Press("First reminder, up to 14 days late"))
	u.Must(u.Type(`input[name="subject"]`, "Please pay {amont}"), u.Press("Keep this text"))
	u.Sees("{amont} can't be filled; there are {customer}, {number}, {invoices}")
	u.Accessible("texts of messages")
	u.Must(u.Type(`input[name="subject"]`, "Please pay {amount}"), u.Press("Keep this text"), u.SeeText("Kept."))
}

// The statement of account of a customer is sent from their page.
func TestAStatementOfAccountIsSentFromTheCustomersPage(t *testing.T) {
	u := atTheDemo(t)
	u.Open("/setup?part=customers")
	u.Must(u.ClickIn(`[aria-label="Customers"] tbody tr`, "Gannet", "a"), u.Press("Send statement"), u.See(`textarea[name="body"]`))
	u.Must(u.Until(`document.querySelector('textarea').value.includes('your statement of account of Nov 25, 2026 is attached')`))
	u.Accessible("a statement to be sent")
	u.Must(u.Press("Send"), u.Until(`/Statement of account sent/.test(document.querySelector('.sent')?.innerText ?? '')`))
	assert.Equal(t, "Statement of account", u.box().Sent[0].What)
}
