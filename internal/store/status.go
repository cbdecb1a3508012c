package store

// The statuses of work, hours as well as cost documents and their lines.
const (
	Draft     = "draft"
	Submitted = "submitted" // handed in
	Approved  = "approved"
)

// Issued is the status of an invoice that has a number and never changes again; before it is a [Draft].
const Issued = "issued"

// The statuses of jobs.
const (
	Quoting  = "quoting"
	Live     = "live"
	Paused   = "paused"
	Finished = "finished"
	Closed   = "closed" // takes no more work
)

// WorkStatuses and JobStatuses are all of them, in the order in which they follow each other.
var (
	WorkStatuses = []string{Draft, Submitted, Approved}
	JobStatuses  = []string{Quoting, Live, Paused, Finished, Closed}
)

// Hired is the kind of a worker who is paid by somebody else's payroll; the others are the company's own.
const (
	Employee = "employee"
	Hired    = "hired"
)

// What a wage is paid by.
const (
	PerHour = "hour"
	PerWeek = "week"
)

// Which way the money of a payment went.
const (
	Received = "payment"
	Refund   = "refund" // to the customer
)

// The statuses of messages.
const (
	Queued    = "queued"
	Sending   = "sending" // it may have arrived already
	Sent      = "sent"
	Failed    = "failed"
	Cancelled = "cancelled"
)
