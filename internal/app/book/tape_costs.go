package book

import (
	"jarvo/internal/core/workings"
)

// Backup is what stands behind one entry or cost line of an invoice: what the customer gets to see of its workings.
type Backup struct {
	Date   string         `json:"date" format:"date"`
	What   string         `json:"what"`
	Detail string         `json:"detail"`
	Charge *workings.Step `json:"charge,omitempty"`
	Amount string         `json:"amount"`
}
