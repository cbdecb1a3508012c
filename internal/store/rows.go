package store

import (
	"fmt"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
)

// The rows of the tables. Units are those of the core's types; see migrations/0001_book.sql.

// Company is the one row of settings.
type Company struct {
	ID                    int64 `gorm:"primaryKey"`
	CompanyName           string
	Address               string // the lines above the place
	PostCode              string
	City                  string
	Region                string
	Country               string // ISO 3166, two letters; blank: not said
	Email                 string
	Phone                 string
	TaxNumber             string
	Currency              string
	WeekStart             string
	OvertimeWeeklyMinutes *money.Minutes
	OvertimeDailyMinutes  *money.Minutes
	DoubleDailyMinutes    *money.Minutes
	OvertimeDays          string
	DoubleDays            string
	OvertimeFactor        money.Factor
	DoubleFactor          money.Factor
	PurchaseTax           string
	DistanceUnit          string
	InvoicePrefix         string
	NextInvoiceNumber     int64
	NextJobNumber         int64
	TermsDays             int64
	RateCardID            *int64
	TaxCodeID             *int64
	UnbilledAlertDays     int64
	TimeZone              string // IANA name; blank: the server's
	DaysAhead             int64  // how many days ahead hours and papers may be dated: further is a slip of the year
	MissingDays           int64  // how many days back a day without hours is asked about
	Logo                  *string
	Remittance
	Registry
	HolidayClass string // of work on a holiday: double, overtime or regular
	Recost       bool   // what is not billed is to be worked out anew, since the rules have changed
	Version      int64
}

// TableName is company, which holds one row.
func (Company) TableName() string { return "company" }

// Registry is by which numbers a company is known, and where e-invoices reach it.
type Registry struct {
	Registration   string // in the register of companies
	Endpoint       string // where e-invoices go
	EndpointScheme string // what kind of address that is, by the EAS code list; EM is a mail address
}

// Remittance is how the company is paid, its licence, and how its papers look; an issued invoice keeps its own.
type Remittance struct {
	Licence   string
	Payee     string // blank: the company's name
	Bank      string
	Account   string // an IBAN, or a number of the country's own
	BankCode  string // a BIC, or a routing or sort code
	PayNote   string // how else to pay
	PaperSize string // a4 or letter
	Accent    string // the colour of papers, as #2f4575; blank: black
}

// Holiday is a day that the company keeps; what work on it is paid is said by the company.
type Holiday struct {
	Date calendar.Date `gorm:"primaryKey;autoIncrement:false"`
	Name string
}

// CostCode says what kind of work was done.
type CostCode struct {
	ID      int64
	Code    string
	Name    string
	Active  bool
	Version int64
}

// Trade is what a worker is.
type Trade struct {
	ID      int64
	Code    string
	Name    string
	Active  bool
	Version int64
}

// RateCard names a set of labour rates and markups.
type RateCard struct {
	ID   int64
	Code string
}

// BurdenClass names a set of burden components.
type BurdenClass struct {
	ID   int64
	Code string
}

// TaxCode names a set of tax components, and says what kind of tax it is.
type TaxCode struct {
	ID           int64
	Code         string
	Kind         string
	Note         string // printed on invoices
	RetainageTax string // with_invoice, or on_release
	Version      int64
}

// TaxComponent is one version of one part of a tax code.
type TaxComponent struct {
	ID            int64
	TaxCodeID     int64
	Component     string
	EffectiveFrom *calendar.Date // nil: always
	Percent       money.Percent
	AppliesTo     string
	Scheme        string // by UNCL 5153; blank: that of the country
}

// Burden is one version of one component of a burden class; Value is a percent or a rate by Basis.
type Burden struct {
	ID            int64
	BurdenClassID int64
	Component     string
	CostCodeID    *int64 // the work that the row is for; nil: any
	EffectiveFrom calendar.Date
	Basis         string
	Value         int64
	AnnualWageCap *money.Amount
	Version       int64
}

// Worker is somebody whose hours are booked.
type Worker struct {
	ID            int64
	Code          string
	Name          string
	TradeID       *int64
	BurdenClassID *int64
	Crew          string
	Exempt        bool
	Kind          string
	Active        bool
	Version       int64
}

// Wage is one version of a worker's wage.
type Wage struct {
	ID            int64
	WorkerID      int64
	EffectiveFrom calendar.Date
	Rate          money.Rate
	Per           string // hour or week
	Version       int64
}

// YearOpening is what a worker had earned in a year before Jarvo.
type YearOpening struct {
	WorkerID int64 `gorm:"primaryKey;autoIncrement:false"`
	Year     int   `gorm:"primaryKey;autoIncrement:false"`
	Gross    money.Amount
	Straight money.Amount
}

// LabourRate is one version of a labour row of a card; Value is a rate or a percent by Method.
type LabourRate struct {
	ID             int64
	CardID         int64
	EffectiveFrom  calendar.Date
	WorkerID       *int64
	TradeID        *int64
	CostCodeID     *int64
	Method         string
	Value          int64
	OvertimeFactor *money.Factor
	DoubleFactor   *money.Factor
	Version        int64
}

// Markup is one version of a markup band of a card.
type Markup struct {
	ID            int64
	CardID        int64
	EffectiveFrom calendar.Date
	Category      string
	OverCost      money.Rate
	Percent       money.Percent
	PutOn         string // landed, before_tax or goods
	Version       int64
}

// Customer is who pays.
type Customer struct {
	ID        int64
	Code      string
	Name      string
	Email     string // who gets the mail that no contact gets: addresses, between commas
	Address   string // the lines above the place; where the parts are blank, all of it
	PostCode  string
	City      string
	Region    string
	Country   string // ISO 3166, two letters; blank: not said
	Phone     string
	TaxNumber string
	Reference string // what they want to see on each invoice
	OpenBook  bool   // they see what work cost and what was put on it
	Registry
	TermsDays  *int64
	RateCardID *int64
	TaxCodeID  *int64
	TaxExempt  bool
	InvoicePer string
	Active     bool // offered; a retired one stays in all that it was used for
	Version    int64
}

// Contact is somebody at a customer, and what they get by mail.
type Contact struct {
	ID         int64
	CustomerID int64
	Name       string
	Role       string // what they do there
	Email      string
	Invoices   bool
	Statements bool
	Reminders  bool
}

// Job is a piece of work for a customer.
type Job struct {
	ID            int64
	Number        string
	NumberOrder   string
	CustomerID    *int64
	Name          string
	Type          string
	Status        string
	Basis         string
	Contract      *money.Amount
	RateCardID    *int64
	TaxCodeID     *int64
	Retainage     money.Percent
	Start         *calendar.Date
	Finish        *calendar.Date
	Site          string
	OrderNumber   string // the customer's
	Description   string
	NeedsCostCode bool
	Version       int64
}

// Phase is a part of a job.
type Phase struct {
	ID       int64
	JobID    int64
	Code     string
	Name     string
	Basis    *string
	Contract *money.Amount
	Done     bool
	Version  int64
}

// Budget is what a kind of cost of a job is planned to come to, of a phase and a cost code or of none.
type Budget struct {
	ID         int64
	JobID      int64
	PhaseID    *int64
	Category   string
	CostCodeID *int64
	Minutes    *money.Minutes
	Cost       money.Amount
	Forecast   *money.Amount // typed: what it is expected to cost at completion
	Version    int64
}

// User is somebody who may sign in.
type User struct {
	ID           int64
	Name         string
	SignIn       string
	PasswordHash string
	Role         string
	Active       bool
	Crew         string
	WorkerID     *int64
	Generation   int64 // of sessions: those of an earlier one are over
	Version      int64
}

// Creation remembers what a user's key was used for and what was answered.
type Creation struct {
	UserID  int64
	Key     string
	Content string // a hash of what was asked
	Answer  string // JSON
	At      int64  // Unix milliseconds
}

// Change is one row of the history.
type Change struct {
	ID        int64
	At        int64 // Unix milliseconds
	UserID    *int64
	UserName  string
	Action    string
	Kind      string
	SubjectID int64
	Before    *string
	After     *string
	Decision  *int64 // the id of the first of what was approved or returned at once
	Hash      string // of this row and of the hash before it
}

// TableName is history.
func (Change) TableName() string { return "history" }

// TimeEntry is one stretch of work.
type TimeEntry struct {
	ID              int64
	Ref             string
	WorkerID        int64
	Date            calendar.Date
	JobID           int64
	PhaseID         *int64
	CostCodeID      *int64
	Minutes         money.Minutes
	Start           *money.Minutes
	Finish          *money.Minutes
	BreakMinutes    money.Minutes
	Billable        bool
	PayClass        worktime.PayClass
	Rate            *money.Rate
	Status          string
	Note            string
	Version         int64
	OvertimeMinutes money.Minutes
	Cost            *money.Amount
	Charge          *money.Amount
	Unpriced        bool
	InvoiceID       *int64
	Billed          bool
	Straight        money.Amount
	Gross           money.Amount
	Class           *worktime.Class // of all the hours; nil where they are split into segments
	Drafted         money.Amount    // what drafts hold of the charge, and issued invoices; kept by triggers
	Invoiced        money.Amount
	Written         money.Amount  // written down, less what is written up
	Held            money.Amount  // what a limit holds back of it
	Ready           *money.Amount `gorm:"->"` // what is left to bill, from the other columns
}

// LabourSegment is a part of an entry in one pay class. Only those of entries whose hours are split are rows of this table; the view
// segments_of_hours has all.
type LabourSegment struct {
	EntryID  int64          `gorm:"primaryKey;autoIncrement:false"`
	Class    worktime.Class `gorm:"primaryKey;autoIncrement:false"`
	Minutes  money.Minutes
	Straight money.Amount
	Gross    money.Amount
	Burden   money.Amount
	Cost     *money.Amount
	Charge   *money.Amount
}

// Workday is when somebody was at work on a day, by the clock.
type Workday struct {
	WorkerID     int64         `gorm:"primaryKey;autoIncrement:false"`
	Date         calendar.Date `gorm:"primaryKey;autoIncrement:false"`
	Start        money.Minutes
	Finish       money.Minutes
	BreakMinutes money.Minutes
	Minutes      money.Minutes
	Version      int64
}

// Clocking is a stretch of work that goes on.
type Clocking struct {
	WorkerID     int64 `gorm:"primaryKey;autoIncrement:false"`
	Date         calendar.Date
	Start        money.Minutes
	JobID        int64
	PhaseID      *int64
	CostCodeID   *int64
	BreakMinutes money.Minutes
	Key          string
	StartedAt    int64  // Unix milliseconds, of a whole minute
	BreakAt      *int64 // the same, where a break is under way
}

// Unit is a unit of measure of the company's own.
type Unit struct {
	ID      int64
	Name    string
	Code    string // of the UN's recommendation 20
	Version int64
}

// Logo is a mark that papers carry; what an invoice was issued with stays.
type Logo struct {
	SHA256 string `gorm:"primaryKey;column:sha256"`
	Media  string
	Data   []byte
}

// Supplier is who things are bought from, with what is usual for it.
type Supplier struct {
	ID         int64
	Name       string
	Category   string // of what is usually bought; blank: as it was lately
	CostCodeID *int64
	TermsDays  *int64 // nil: not known
	Active     bool
	Version    int64
}

// CostDocument is a supplier's invoice, a receipt, a claim, a mileage or a plant log.
type CostDocument struct {
	ID         int64
	Ref        string
	Kind       string
	SupplierID *int64
	WorkerID   *int64
	Date       calendar.Date
	Number     string
	Freight    money.Amount
	Tax        money.Amount
	Status     string
	Note       string
	Total      *money.Amount // as printed on it; nil where it was not typed
	Crew       string        // whose day a plant log is; blank for all other papers
	Void       string        // why it does not count; blank: it does
	Version    int64
}

// Paper is a cost document with the name of its supplier, blank where it has none; it is only read.
type Paper struct {
	CostDocument
	Supplier string
}

// CostLine is one line of a cost document.
type CostLine struct {
	ID          int64
	DocumentID  int64
	Line        string
	LineOrder   string
	Category    string
	Description string
	Quantity    money.Quantity
	Unit        string
	UnitCost    money.Rate
	JobID       *int64
	PhaseID     *int64
	CostCodeID  *int64
	Billable    bool
	Markup      *money.Percent
	SellPrice   *money.Rate
	ItemID      *int64
	Taxable     bool
	Status      string
	Date        calendar.Date
	Base        money.Amount
	Freight     money.Amount
	Tax         money.Amount
	Landed      money.Amount
	Charge      *money.Amount
	Unmarked    bool
	InvoiceID   *int64
	Billed      bool
	Drafted     money.Amount // what drafts hold of the charge, and issued invoices; kept by triggers
	Invoiced    money.Amount
	Written     money.Amount  // written down, less what is written up
	Held        money.Amount  // what a limit holds back of it
	Ready       *money.Amount `gorm:"->"` // what is left to bill, from the other columns
}

// Item is something of the price list.
type Item struct {
	ID          int64
	Code        string
	Description string
	Category    string
	Unit        string
	Active      bool
	Version     int64
}

// ItemPrice is one version of what an item costs a unit and sells at.
type ItemPrice struct {
	ID            int64
	ItemID        int64
	EffectiveFrom calendar.Date
	UnitCost      money.Rate
	SellPrice     *money.Rate
	Version       int64
}

// Reimbursement is a payment to a worker for what they laid out.
type Reimbursement struct {
	ID       int64
	Ref      string
	WorkerID int64
	Date     calendar.Date
	Amount   money.Amount
	Note     string
}

// Invoice is a draft or an issued invoice.
type Invoice struct {
	ID               int64
	Status           string
	Number           *int64
	Prefix           string
	CustomerID       int64
	Date             calendar.Date
	Due              calendar.Date
	Grouping         string
	ShowRates        bool   // hours with their rate, where the grouping shows them
	TaxNotes         string // what the tax codes of its jobs say, a line each
	Title            string
	Subtotal         money.Amount
	Tax              money.Amount
	Total            money.Amount
	Retainage        money.Amount
	Prepaid          money.Amount // deposits applied
	DueNow           money.Amount
	CreditOf         *int64 // the invoice that this is a credit note on
	Currency         string
	CompanyName      string
	CompanyAddress   string
	CompanyEmail     string
	CompanyTaxNumber string
	CompanyPhone     string
	CompanyCountry   string
	CompanyLogo      *string // a checksum of logos
	Remittance
	CustomerName    string
	CustomerAddress string
	OrderNumber     string // the customer's
	Reference       string // what they want to see on each invoice
	Opening         string // above the lines
	Closing         string // below them
	IssuedAt        *int64
	Seal            string // a hash of the head as it was issued
	Version         int64
}

// NumberText is the number of an invoice with its prefix, blank for a draft.
func (i Invoice) NumberText() string {
	if i.Number == nil {
		return ""
	}
	return fmt.Sprintf("%s%d", i.Prefix, *i.Number)
}

// Printed is an amount as the paper of an invoice says it: of a credit note, whose amounts are kept below 0, above 0.
func (i Invoice) Printed(a money.Amount) money.Amount {
	if i.CreditOf != nil {
		return -a
	}
	return a
}

// InvoiceLine is one line that the customer sees.
type InvoiceLine struct {
	ID        int64
	InvoiceID int64
	Position  int
	JobID     int64
	Category  string
	Text      string
	Minutes   money.Minutes
	Quantity  money.Quantity
	Unit      string
	Rate      money.Rate // an hour, where hours and rate are shown; else 0
	Amount    money.Amount

	TypedLineID *int64 // that it stands for
}

// TypedLine is what a person typed on an invoice: a line that no work stands behind, or a discount.
type TypedLine struct {
	ID        int64
	InvoiceID int64
	Position  int
	Kind      string // line, discount, progress, instalment or deposit
	JobID     *int64 // nil: a discount on all jobs
	PhaseID   *int64
	Category  string // blank: a discount on all kinds
	Text      string
	Quantity  money.Quantity
	Unit      string
	Percent   money.Percent // of a discount; 0: the amount
	Amount    money.Amount  // what it comes to on the invoice: of a discount below 0
	// Of a fixed price: the line of its schedule or the instalment, how complete it is (nil: an amount), with what is stored, and whether
	// more than the contract is meant.
	ScheduleLineID *int64
	InstalmentID   *int64
	Complete       *money.Percent
	Stored         money.Amount
	Beyond         bool
}

// ScheduleLine is a line of the schedule of values of a job.
type ScheduleLine struct {
	ID       int64
	JobID    int64
	PhaseID  *int64
	Position int
	Text     string
	Amount   money.Amount
	Rest     bool // what was billed before there was a schedule is of this line
}

// AppliedDeposit is what of a deposit is applied to an invoice, before tax.
type AppliedDeposit struct {
	InvoiceID int64
	DepositID int64
	Amount    money.Amount
}

// WriteBack is what was taken back of what an issued invoice had written down: it is ready to bill again.
type WriteBack struct {
	ID       int64
	SourceID int64
	Date     calendar.Date
	Amount   money.Amount // with the sign of what was written down
	Note     string
}

// Recurring is an invoice that comes again.
type Recurring struct {
	ID      int64
	Ref     string
	Text    string
	First   calendar.Date
	Every   int
	Step    string
	Until   *calendar.Date // the last date that it can have
	Made    int            // occurrences so far
	Version int64
}

// TableName is recurring, as a recurring invoice is called.
func (Recurring) TableName() string { return "recurring" }

// RecurringLine is a line of an invoice that comes again.
type RecurringLine struct {
	ID          int64
	RecurringID int64
	Position    int
	JobID       int64
	Category    string
	Text        string
	Quantity    money.Quantity
	Unit        string
	Amount      money.Amount
}

// Release is what of the retainage of a job an invoice releases.
type Release struct {
	InvoiceID int64 `gorm:"primaryKey;autoIncrement:false"`
	JobID     int64 `gorm:"primaryKey;autoIncrement:false"`
	Amount    money.Amount
}

// ReleasePart is from which invoice what is released was held.
type ReleasePart struct {
	InvoiceID int64 `gorm:"primaryKey;autoIncrement:false"` // the release
	JobID     int64 `gorm:"primaryKey;autoIncrement:false"`
	FromID    int64 `gorm:"primaryKey;autoIncrement:false"`
	Amount    money.Amount
}

// Instalment is a part of the fixed price of a job that was agreed beforehand: an amount, a percentage, or the rest.
type Instalment struct {
	ID       int64
	JobID    int64
	Position int
	Text     string
	Amount   money.Amount
	Percent  money.Percent
	Rest     bool
	Due      *calendar.Date // nil: when its milestone is reached
	Reached  *calendar.Date
}

// InvoiceTax is one tax component of an invoice.
type InvoiceTax struct {
	ID        int64
	InvoiceID int64
	Position  int
	TaxCode   string
	Component string
	Percent   money.Percent
	Base      money.Amount
	Amount    money.Amount
	AppliesTo string // the categories that it is on
	Scheme    string // by UNCL 5153, as the invoice was issued; blank: that of the country
	OnRelease bool   // that of what is retained is due when that is released
	DepositID *int64 // of what is deducted: the deposit that it was charged on
}

// InvoiceJob is one job's share of an invoice.
type InvoiceJob struct {
	InvoiceID        int64 `gorm:"primaryKey;autoIncrement:false"`
	JobID            int64 `gorm:"primaryKey;autoIncrement:false"`
	Subtotal         money.Amount
	RetainagePercent money.Percent
	Retainage        money.Amount
	TaxCode          string // its work is taxed by, as the invoice was issued
	// Where the job stood as the invoice was issued: of its fixed price, where the invoice bills of that, and what was retained of it.
	Contract     *money.Amount
	BilledToDate *money.Amount
	HeldToDate   *money.Amount
	Site         string // of the job, as it was issued
	OrderNumber  string // of the customer, for the job, as it was issued
	TaxKind      string // of its tax code, as it was issued
	TaxNote      string
}

// InvoiceParty is the seller or the buyer of an issued invoice, as an e-invoice names them.
type InvoiceParty struct {
	InvoiceID int64  `gorm:"primaryKey;autoIncrement:false"`
	Side      string `gorm:"primaryKey"`
	Street    string
	PostCode  string
	City      string
	Region    string
	Country   string
	TaxNumber string
	Email     string
	Registry
}

// The sides of an invoice.
const (
	Seller = "seller"
	Buyer  = "buyer"
)

// Credit is what a credit note credits: an amount of a part that the invoice billed, or of a line that was typed on it.
type Credit struct {
	ID        int64
	InvoiceID int64 // the note
	Position  int   // of the line on the note
	SourceID  *int64
	LineID    *int64
	Amount    money.Amount // with the sign of what was billed
	Up        money.Amount // of it: what had been written up
	Again     bool         // to bill again; else it is allowed, and written down
	Reason    string
}

// InvoicePhase is what an invoice bills of a job's phase.
type InvoicePhase struct {
	ID        int64
	InvoiceID int64
	JobID     int64
	PhaseID   *int64
	Amount    money.Amount
}

// InvoiceSource is an entry or a cost line on an invoice.
type InvoiceSource struct {
	ID            int64
	InvoiceID     int64
	InvoiceLineID *int64
	EntryID       *int64
	CostLineID    *int64
	Part          int
	Way           string // how it was chosen
	Typed         int64  // minutes, 1/1 000 of a unit, 1/10 000 of a percent, or an amount, by the way
	Runs          string // the minutes of an entry that it holds
	Charge        money.Amount
	Amount        money.Amount
	Up            money.Amount // of the amount: beyond what was left
	Down          money.Amount // of what it leaves: written down
	AllDown       bool         // all that it leaves is
	Reason        string       // why it is written up or down
	Released      bool
}

// Hold keeps work off drafts until somebody bills it or lets it go.
type Hold struct {
	ID         int64
	EntryID    *int64
	CostLineID *int64
	Note       string
	HeldBy     string
	HeldAt     int64
}

// Payment is money from a customer.
type Payment struct {
	ID          int64
	Ref         string
	Kind        string // Received or Refund
	CustomerID  int64
	Date        calendar.Date
	Amount      money.Amount
	Note        string
	Method      string
	Reference   string
	TakenBack   *string        // why it was, where it was
	TakenBackOn *calendar.Date // when
}

// PaymentAllocation is what of a payment, or of the customer's credit, is set against an invoice on a day; below 0 what is lifted again.
type PaymentAllocation struct {
	ID        int64
	PaymentID *int64 // none: from the credit
	InvoiceID int64
	Date      calendar.Date
	Amount    money.Amount
}

// BankLine is what the bank tells of one movement on the company's account.
type BankLine struct {
	ID        int64
	Ref       string // a hash of what the bank says, and of which it is among its equals
	Account   string
	Date      calendar.Date
	Amount    money.Amount // below 0: it went out
	Name      string
	Text      string
	BankRef   string
	PaymentID *int64 // that it was recorded as
	Aside     string // why it is set aside
}

// BankFormat is how a bank's table is read: in which column each thing stands, by the heads of all of them.
type BankFormat struct {
	Head     string `gorm:"primaryKey"`
	Date     string
	Amount   string
	In       string
	Out      string
	Name     string
	Text     string
	BankRef  string
	DayOrder string // ymd, dmy or mdy
}

// ChargedOtherwise is what locked work would be charged today, where that is not what it was.
type ChargedOtherwise struct {
	EntryID    *int64
	CostLineID *int64
	Charge     money.Amount
}

// TableName is the table of a [ChargedOtherwise].
func (ChargedOtherwise) TableName() string { return "charged_otherwise" }

// Attachment is a scan or a photo of a cost document; its data is in the table scans, under its checksum.
type Attachment struct {
	ID         int64
	DocumentID int64
	SHA256     string `gorm:"column:sha256"`
	Name       string
	Media      string
	Size       int64
	AddedAt    int64 // Unix milliseconds
	AddedBy    string
}

// Dismissal is a loose end that was set aside, with the reason.
type Dismissal struct {
	Kind    string
	Subject string
	Reason  string
	At      int64 // Unix milliseconds
	Who     string
}

// Message is what is sent to a customer.
type Message struct {
	ID         int64
	Ref        string
	Kind       string // invoice, reminder, statement
	Stage      int    // of a reminder: which of the three
	CustomerID int64
	Sender     string // as a mail address, with a name
	Recipients string // mail addresses, between commas
	Subject    string
	Body       string
	Status     string // Queued and the others
	Tries      int
	NextTry    *int64 // of a queued one, milliseconds since 1970
	TriedAt    *int64
	Problem    string // what was said at the last try
	MadeAt     int64
	MadeBy     string
	Version    int64
}

// MessageInvoice is an invoice that a message is about.
type MessageInvoice struct {
	MessageID int64 `gorm:"primaryKey"`
	InvoiceID int64 `gorm:"primaryKey"`
}

// MessageFile is what is attached to a message.
type MessageFile struct {
	MessageID int64 `gorm:"primaryKey"`
	Position  int   `gorm:"primaryKey"`
	Name      string
	Media     string
	SHA256    string `gorm:"column:sha256"`
	Data      []byte
}

// MessageText is a text that the company writes in its own words.
type MessageText struct {
	Kind    string `gorm:"primaryKey"`
	Subject string
	Body    string
	Version int64
}
