package statement

import (
	"encoding/csv"
	"encoding/xml"
	"fmt"
	"io"
	"strings"
)

// WriteCamt writes movements as a bank would, as the stand-in of one: a camt.053 statement of an account.
func WriteCamt(w io.Writer, account, currency string, lines []Line) error {
	var b strings.Builder
	escaped := func(text string) string {
		var e strings.Builder
		_ = xml.EscapeText(&e, []byte(text)) // a builder takes all
		return e.String()
	}
	b.WriteString(`<?xml version="1.0" encoding="UTF-8"?>
<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><GrpHdr><MsgId>1</MsgId></GrpHdr><Stmt><Id>1</Id>
`)
	fmt.Fprintf(&b, "<Acct><Id><Othr><Id>%s</Id></Othr></Id><Ccy>%s</Ccy></Acct>\n", escaped(account), escaped(currency))
	for _, l := range lines {
		amount, out := strings.CutPrefix(l.Amount, "-")
		way, party := "CRDT", "Dbtr"
		if out {
			way, party = "DBIT", "Cdtr"
		}
		fmt.Fprintf(&b, `<Ntry><Amt Ccy="%s">%s</Amt><CdtDbtInd>%s</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>%s</Dt></BookgDt>`+
			`<AcctSvcrRef>%s</AcctSvcrRef><NtryDtls><TxDtls><RltdPties><%s><Pty><Nm>%s</Nm></Pty></%s></RltdPties>`+
			`<RmtInf><Ustrd>%s</Ustrd></RmtInf></TxDtls></NtryDtls></Ntry>`+"\n",
			escaped(currency), amount, way, l.Date, escaped(l.Ref), party, escaped(l.Name), party, escaped(l.Text))
	}
	b.WriteString("</Stmt></BkToCstmrStmt></Document>\n")
	_, err := io.WriteString(w, b.String())
	return err
}

// WriteTable writes movements as a table, as the stand-in of a bank.
func WriteTable(w io.Writer, lines []Line) error {
	c := csv.NewWriter(w)
	if err := c.Write([]string{"Date", "Name", "Description", "Amount", "Transaction ID"}); err != nil {
		return err
	}
	for _, l := range lines {
		if err := c.Write([]string{l.Date.Time().Format("01/02/2006"), l.Name, l.Text, l.Amount, l.Ref}); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}
