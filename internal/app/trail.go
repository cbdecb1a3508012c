package app

// Trail is how far an hour, a receipt line or an invoice has come: four marks, and the same in words.
type Trail struct {
	Stage    string `json:"stage" enum:"captured,submitted,approved,drafted,billed,paid"`
	Billable bool   `json:"billable"`
	Text     string `json:"text"`
}

var stageTexts = map[string]string{
	"captured":  "captured, not handed in",
	"submitted": "captured and handed in, waits for approval",
	"approved":  "captured and approved, ready to bill",
	"drafted":   "captured and approved, on a draft invoice",
	"billed":    "billed",
	"paid":      "billed and paid",
}

func trail(stage string, billable bool, invoice string) Trail {
	t := Trail{Stage: stage, Billable: billable, Text: stageTexts[stage]}
	if invoice != "" {
		t.Text += " on invoice " + invoice
	}
	if !billable {
		t.Text += ", not billable"
	}
	return t
}

// stageOf is the stage of work by its approval status and its invoice.
func stageOf(status string, onInvoice, billed, paid bool) string {
	switch {
	case paid:
		return "paid"
	case billed:
		return "billed"
	case onInvoice:
		return "drafted"
	case status == "draft":
		return "captured"
	default:
		return status
	}
}
