package statement_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/core/calendar"
	"jarvo/internal/statement"
)

// An older version of the message, with a batch of two, a movement that is not booked yet, one that went out, and a reversal of one.
const older = `<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.02"><BkToCstmrStmt><Stmt>
<Acct><Id><IBAN>DE89370400440532013000</IBAN></Id></Acct>
<Ntry><Amt Ccy="EUR">300.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>2026-03-02</Dt></BookgDt>
 <AcctSvcrRef>A1</AcctSvcrRef>
 <NtryDtls><TxDtls><Refs><EndToEndId>NOTPROVIDED</EndToEndId></Refs><AmtDtls><TxAmt><Amt Ccy="EUR">100.00</Amt></TxAmt></AmtDtls>
   <RltdPties><Dbtr><Nm>Heron Cove</Nm></Dbtr></RltdPties><RmtInf><Ustrd>invoice</Ustrd><Ustrd>1001</Ustrd></RmtInf></TxDtls>
  <TxDtls><Refs><EndToEndId>E2</EndToEndId></Refs><AmtDtls><TxAmt><Amt Ccy="EUR">200.00</Amt></TxAmt></AmtDtls>
   <RmtInf><Strd><CdtrRefInf><Ref>RF18 1002</Ref></CdtrRefInf></Strd></RmtInf></TxDtls></NtryDtls></Ntry>
<Ntry><Amt Ccy="EUR">9.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts>PDNG</Sts><BookgDt><Dt>2026-03-02</Dt></BookgDt></Ntry>
<Ntry><Amt Ccy="EUR">50.00</Amt><CdtDbtInd>DBIT</CdtDbtInd><Sts>BOOK</Sts><ValDt><DtTm>2026-03-03T10:00:00</DtTm></ValDt>
 <AddtlNtryInf>Fee
  of March</AddtlNtryInf></Ntry>
<Ntry><Amt Ccy="EUR">50.00</Amt><CdtDbtInd>DBIT</CdtDbtInd><RvslInd>true</RvslInd><Sts>BOOK</Sts>
 <BookgDt><Dt>2026-03-04</Dt></BookgDt></Ntry>
</Stmt></BkToCstmrStmt></Document>`

func TestAStatementOfAnyVersionIsRead(t *testing.T) {
	lines, err := statement.Camt([]byte(older))
	require.NoError(t, err)
	day := func(d int) calendar.Date { return calendar.On(2026, 3, d) }
	account := "DE89370400440532013000"
	assert.Equal(t, []statement.Line{
		{Account: account, Date: day(2), Amount: "100.00", Currency: "EUR", Name: "Heron Cove", Text: "invoice 1001", Ref: "A1"},
		{Account: account, Date: day(2), Amount: "200.00", Currency: "EUR", Text: "E2 RF18 1002", Ref: "A1"},
		{Account: account, Date: day(3), Amount: "-50.00", Currency: "EUR", Text: "Fee of March"},
		{Account: account, Date: day(4), Amount: "50.00", Currency: "EUR"},
	}, lines)
	for _, wrong := range []string{"", "<html></html>", "<Document", "<Document><BkToCstmrStmt><Stmt></Stmt></BkToCstmrStmt></Document>"} {
		_, err := statement.Camt([]byte(wrong))
		assert.Error(t, err, wrong)
	}
}

func TestWhatTheStandInWritesIsReadAgain(t *testing.T) {
	lines := []statement.Line{
		{Date: calendar.On(2026, 3, 2), Amount: "1234.50", Name: "Heron & <Cove>", Text: "inv 1001", Ref: "B1"},
		{Date: calendar.On(2026, 3, 12), Amount: "-7.00", Name: "Bank", Text: "fee", Ref: "B2"},
	}
	var xml, table bytes.Buffer
	require.NoError(t, statement.WriteCamt(&xml, "2200 4418", "USD", lines))
	read, err := statement.Camt(xml.Bytes())
	require.NoError(t, err)
	for i, l := range read {
		assert.Equal(t, []any{"2200 4418", "USD"}, []any{l.Account, l.Currency})
		l.Account, l.Currency = "", ""
		assert.Equal(t, lines[i], l)
	}
	require.NoError(t, statement.WriteTable(&table, lines))
	rows, err := statement.ReadTable(table.Bytes())
	require.NoError(t, err)
	guess := rows.Guess(true)
	assert.Equal(t, statement.Columns{
		Date: "Date", Amount: "Amount", Name: "Name", Text: "Description", Ref: "Transaction ID", Order: "mdy",
	}, guess)
	read, err = rows.Lines(guess)
	require.NoError(t, err)
	assert.Equal(t, lines, read)
}

// Tables of banks differ in what stands between the cells, above the head, and in how figures and dates are written.
func TestTablesOfOtherBanks(t *testing.T) {
	table, err := statement.ReadTable([]byte("\ufeffAccount;DE89\n\nBooking date;Payer;Purpose;Credit;Debit\n" +
		"31.03.2026;Heron;inv 1001;1.234,50;\n30.03.2026;Bank;fee;;7,00\n01.03.2026;;balance;;\n"))
	require.NoError(t, err)
	guess := table.Guess(true)
	assert.Equal(t, statement.Columns{Date: "Booking date", In: "Credit", Out: "Debit", Name: "Payer", Text: "Purpose", Order: "dmy"}, guess)
	lines, err := table.Lines(guess)
	require.NoError(t, err)
	assert.Equal(t, []statement.Line{
		{Date: calendar.On(2026, 3, 31), Amount: "1234.50", Name: "Heron", Text: "inv 1001"},
		{Date: calendar.On(2026, 3, 30), Amount: "-7.00", Name: "Bank", Text: "fee"},
	}, lines)
	guess.Order = "ymd"
	_, err = table.Lines(guess)
	assert.ErrorContains(t, err, `row 1: "31.03.2026" is not a date, with the year first`)
	for _, figures := range [][2]string{
		{"(1,234.50)", "-1234.50"}, {"$1,234", "1234"}, {"1 234,5", "1234.5"}, {"7.00-", "-7.00"}, {"1'234.50", "1234.50"},
	} {
		table, err := statement.ReadTable([]byte("Date\tAmount\n2026-03-01\t" + figures[0] + "\n"))
		require.NoError(t, err)
		lines, err := table.Lines(table.Guess(false))
		require.NoError(t, err)
		assert.Equal(t, figures[1], lines[0].Amount)
	}
	for _, wrong := range []string{"", "just text", "Date,Amount\n", "\x00\x01\x02"} {
		_, err := statement.ReadTable([]byte(wrong))
		assert.Error(t, err, "%q", wrong)
	}
}
