package bankfile_test

import (
	"fmt"
	"runtime"
	"strings"
	"testing"
	"time"

	"cleantally/core/money"
	"cleantally/formats/bankfile"
)

var eur = money.Currency{Code: "EUR", Places: 2}

// camt is a statement with balances and entries.
func camt(opening, closing string, entries ...string) string {
	balance := func(code, amount string) string {
		side := "CRDT"
		if strings.HasPrefix(amount, "-") {
			side, amount = "DBIT", amount[1:]
		}
		return `<Bal><Tp><CdOrPrtry><Cd>` + code + `</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">` + amount + `</Amt><CdtDbtInd>` + side + `</CdtDbtInd><Dt><Dt>2026-11-20</Dt></Dt></Bal>`
	}
	return `<?xml version="1.0" encoding="UTF-8"?>
<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><GrpHdr><MsgId>1</MsgId></GrpHdr>
<Stmt><Id>7</Id><Acct><Id><IBAN>ZZ42 SPWI 0000</IBAN></Id><Ccy>EUR</Ccy></Acct>` + balance("OPBD", opening) + balance("CLBD", closing) + strings.Join(entries, "\n") + `</Stmt></BkToCstmrStmt></Document>`
}

func entry(amount, side, more string) string {
	return `<Ntry><Amt Ccy="EUR">` + amount + `</Amt><CdtDbtInd>` + side + `</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>2026-11-19</Dt></BookgDt>` + more + `</Ntry>`
}

// The lines of E-23, with who is on the other side and what for.
func TestCamt(t *testing.T) {
	file := camt("10000.00", "11694.00",
		entry("1176.00", "CRDT", `<AcctSvcrRef>B1</AcctSvcrRef><NtryDtls><TxDtls><Refs><EndToEndId>NOTPROVIDED</EndToEndId></Refs><RltdPties><Dbtr><Pty><Nm>Millrace Brewery</Nm></Pty></Dbtr><DbtrAcct><Id><IBAN>ZZ11 0002</IBAN></Id></DbtrAcct><Cdtr><Pty><Nm>Us</Nm></Pty></Cdtr></RltdPties><RmtInf><Ustrd>I26-0007</Ustrd><Ustrd>less 2 %</Ustrd></RmtInf></TxDtls></NtryDtls>`),
		entry("70.00", "DBIT", `<NtryDtls><TxDtls><Refs><EndToEndId>CHQ 101</EndToEndId></Refs><RltdPties><Cdtr><Nm>Vesper Lane Surgery</Nm></Cdtr></RltdPties></TxDtls></NtryDtls>`),
		entry("600.0", "CRDT", `<NtryRef>N3</NtryRef><AddtlNtryInf>DEPOSIT  STAIR</AddtlNtryInf>`),
		entry("12.00", "DBIT", `<AddtlNtryInf>FEES</AddtlNtryInf>`),
		strings.Replace(entry("99.00", "CRDT", ""), "BOOK", "PDNG", 1))
	for name, file := range map[string]string{"version 8": file, "version 2": strings.NewReplacer("<Sts><Cd>BOOK</Cd></Sts>", "<Sts>BOOK</Sts>", "<Pty>", "", "</Pty>", "", "001.08", "001.02").Replace(file)} {
		all, err := bankfile.ReadCamt([]byte(file), eur)
		if err != nil || len(all) != 1 {
			t.Fatalf("%s: %v, %v", name, all, err)
		}
		s := all[0]
		if s.Account != "ZZ42SPWI0000" || s.Currency != "EUR" || s.Opening.Amount != 1000000 || s.Closing.Amount != 1169400 || s.Closing.Day != "2026-11-20" || s.Pending != 1 || len(s.Lines) != 4 {
			t.Fatalf("%s: %+v", name, s)
		}
		l := s.Lines[0]
		if l.Amount != 117600 || l.Day != "2026-11-19" || l.OtherName != "Millrace Brewery" || l.OtherAccount != "ZZ110002" || l.Text != "I26-0007 less 2 %" || l.EntryReference != "B1" || l.Reference != "" || l.Row < 3 {
			t.Errorf("%s: %+v", name, l)
		}
		if l := s.Lines[1]; l.Amount != -7000 || l.OtherName != "Vesper Lane Surgery" || l.Reference != "CHQ 101" {
			t.Errorf("%s: %+v", name, l)
		}
		if l := s.Lines[2]; l.Text != "DEPOSIT STAIR" || l.EntryReference != "N3" {
			t.Errorf("%s: %+v", name, l)
		}
	}
}

// A batch brings its parts where they say what each is.
func TestCamtBatch(t *testing.T) {
	part := func(amount, name string) string {
		return `<TxDtls><Amt Ccy="EUR">` + amount + `</Amt><RltdPties><Dbtr><Nm>` + name + `</Nm></Dbtr></RltdPties></TxDtls>`
	}
	batch := func(parts ...string) string {
		return camt("0.00", "30.00", entry("30.00", "CRDT", `<AcctSvcrRef>B9</AcctSvcrRef><NtryDtls>`+strings.Join(parts, "")+`</NtryDtls>`))
	}
	all, err := bankfile.ReadCamt([]byte(batch(part("10.00", "A"), part("20.00", "B"))), eur)
	if err != nil || len(all[0].Lines) != 2 || all[0].Lines[1].Amount != 2000 || all[0].Lines[1].OtherName != "B" || all[0].Lines[1].EntryReference != "B9/2" || all[0].Lines[0].EntryReference == all[0].Lines[1].EntryReference {
		t.Errorf("%+v, %v", all, err)
	}
	if all, err := bankfile.ReadCamt([]byte(batch(`<TxDtls></TxDtls>`, `<TxDtls></TxDtls>`)), eur); err != nil || len(all[0].Lines) != 1 || all[0].Lines[0].Amount != 3000 {
		t.Errorf("without amounts: %+v, %v", all, err)
	}
	if _, err := bankfile.ReadCamt([]byte(batch(part("10.00", "A"), part("19.00", "B"))), eur); err == nil || !strings.Contains(err.Error(), "come to 29.00, and the batch is 30.00") {
		t.Errorf("parts that do not add up: %v", err)
	}
}

func TestBadCamt(t *testing.T) {
	good := camt("0.00", "1.00", entry("1.00", "CRDT", ""))
	deep := strings.Repeat("<a>", 200_000)
	for name, x := range map[string]struct{ file, says string }{
		"sums":             {strings.Replace(good, "<Amt Ccy=\"EUR\">1.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts>", "<Amt Ccy=\"EUR\">1.01</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts>", 1), "does not add up: 0.00 and its lines come to 1.01, and it says 1.00, which is −0.01 off"},
		"three places":     {strings.Replace(good, "<Amt Ccy=\"EUR\">1.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts>", "<Amt Ccy=\"EUR\">1.001</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts>", 1), `Line 3: "1.001" is no amount in EUR`},
		"below nil":        {strings.ReplaceAll(good, ">1.00<", ">-1.00<"), `"-1.00" is no amount`},
		"a word":           {strings.ReplaceAll(good, ">1.00<", ">one<"), `"one" is no amount`},
		"endless":          {strings.ReplaceAll(good, ">1.00<", ">1e9999999<"), `is no amount`},
		"another currency": {strings.ReplaceAll(good, `Ccy="EUR"`, `Ccy="USD"`), "An amount is in USD, and the account is kept in EUR"},
		"no side":          {strings.ReplaceAll(good, "CRDT", ""), "It is not said whether"},
		"no day":           {strings.ReplaceAll(good, "<BookgDt><Dt>2026-11-19</Dt></BookgDt>", ""), "no day on which it was booked"},
		"no such day":      {strings.ReplaceAll(good, "2026-11-19", "2026-02-30"), `"2026-02-30" is no day`},
		"cut off":          {good[:len(good)-30], "cannot be read"},
		"entities":         {`<!DOCTYPE x [<!ENTITY a "&b;&b;"><!ENTITY b "&c;&c;">]><Document><BkToCstmrStmt><Stmt>&a;</Stmt></BkToCstmrStmt></Document>`, "cannot be read"},
		"nothing":          {"<Document/>", "no statement"},
		"empty":            {"", "no statement"},
		"deep":             {`<Document><Stmt>` + deep, "cannot be read"},
		"other letters":    {`<?xml version="1.0" encoding="utf-16"?><Document/>`, "utf-16"},
	} {
		_, err := bankfile.ReadCamt([]byte(x.file), eur)
		if err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// 20,000 lines are read in seconds, in little memory.
func TestLargeCamt(t *testing.T) {
	entries := make([]string, 20_000)
	for n := range entries {
		entries[n] = entry("1.00", "CRDT", fmt.Sprintf(`<AcctSvcrRef>B%d</AcctSvcrRef><NtryDtls><TxDtls><RltdPties><Dbtr><Nm>Customer %d</Nm></Dbtr></RltdPties><RmtInf><Ustrd>I26-%04d</Ustrd></RmtInf></TxDtls></NtryDtls>`, n, n, n))
	}
	file := []byte(camt("0.00", "20000.00", entries...))
	var before, after runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	start := time.Now()
	all, err := bankfile.ReadCamt(file, eur)
	took := time.Since(start)
	runtime.GC()
	runtime.ReadMemStats(&after)
	if err != nil || len(all[0].Lines) != 20_000 || took > 5*time.Second {
		t.Fatalf("%v, in %v", err, took)
	}
	if held := int64(after.HeapAlloc) - int64(before.HeapAlloc); held > 30<<20 {
		t.Errorf("%d MB are held", held>>20)
	}
	t.Logf("%d lines of %d MB in %v", len(all[0].Lines), len(file)>>20, took)
}

// OFX of 1998, whose tags are not closed, and of today.
func TestOFX(t *testing.T) {
	old := "OFXHEADER:100\r\nDATA:OFXSGML\r\nVERSION:102\r\nSECURITY:NONE\r\nENCODING:USASCII\r\nCHARSET:1252\r\nCOMPRESSION:NONE\r\nOLDFILEUID:NONE\r\nNEWFILEUID:NONE\r\n\r\n" + `<OFX><SIGNONMSGSRSV1><SONRS><STATUS><CODE>0<SEVERITY>INFO</STATUS><DTSERVER>20261120<LANGUAGE>ENG</SONRS></SIGNONMSGSRSV1>
<BANKMSGSRSV1><STMTTRNRS><TRNUID>1<STATUS><CODE>0<SEVERITY>INFO</STATUS><STMTRS><CURDEF>EUR<BANKACCTFROM><BANKID>1<ACCTID>ZZ42 SPWI<ACCTTYPE>CHECKING</BANKACCTFROM>
<BANKTRANLIST><DTSTART>20261101<DTEND>20261130
<STMTTRN><TRNTYPE>CREDIT<DTPOSTED>20261119120000<TRNAMT>1176.00<FITID>A1<NAME>Millrace Brewery<MEMO>I26-0007</STMTTRN>
<STMTTRN><TRNTYPE>CHECK<DTPOSTED>20261119<TRNAMT>-70.5<FITID>A2<CHECKNUM>101<NAME>Surgery</STMTTRN>
</BANKTRANLIST><LEDGERBAL><BALAMT>1105.50<DTASOF>20261120</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>`
	all, err := bankfile.ReadOFX([]byte(old), eur)
	if err != nil || len(all) != 1 {
		t.Fatalf("%v, %v", all, err)
	}
	s := all[0]
	if s.Account != "ZZ42SPWI" || s.Closing.Amount != 110550 || s.Closing.Day != "2026-11-20" || len(s.Lines) != 2 {
		t.Fatalf("%+v", s)
	}
	if l := s.Lines[0]; l.Amount != 117600 || l.Day != "2026-11-19" || l.OtherName != "Millrace Brewery" || l.Text != "I26-0007" || l.EntryReference != "A1" {
		t.Errorf("%+v", l)
	}
	if l := s.Lines[1]; l.Amount != -7050 || l.Reference != "101" {
		t.Errorf("%+v", l)
	}
	for name, file := range map[string]string{
		"another currency": strings.Replace(old, "<CURDEF>EUR", "<CURDEF>USD", 1), "three places": strings.Replace(old, "1176.00", "1176.001", 1), "cut off": old[:len(old)-200],
		"nothing": "OFXHEADER:100\r\n\r\n<OFX></OFX>", "no day": strings.Replace(old, "<DTPOSTED>20261119120000", "", 1), "junk": "<OFX>" + strings.Repeat("<A>", 5000),
	} {
		if all, err := bankfile.ReadOFX([]byte(file), eur); err == nil {
			t.Errorf("%s was read: %+v", name, all)
		}
	}
}

// CSV as banks write it: one column for the amount or two, commas and points, days
// in any form.
func TestCSV(t *testing.T) {
	for name, x := range map[string]struct {
		file string
		m    bankfile.Mapping
		want []money.Amount
	}{
		"one column":  {"Date;What;Amount\n20.11.2026;A;1.176,00\n19.11.2026;B;-70,5\n", bankfile.Mapping{Day: "Date", Amount: "Amount", Text: "What", Form: "20.11.2026", Comma: true}, []money.Amount{117600, -7050}},
		"two columns": {"Day,Out,In\n11/20/2026,,\"1,176.00\"\n11/19/2026,70.50,\n11/18/2026,-3.00,\n11/17/2026,,\n", bankfile.Mapping{Day: "Day", Debit: "Out", Credit: "In", Form: "11/20/2026"}, []money.Amount{117600, -7050, -300}},
		"minus last":  {"D\tA\n20261120\t70.50-\n20261120\t+5\n", bankfile.Mapping{Day: "D", Amount: "A", Form: "20261120"}, []money.Amount{-7050, 500}},
	} {
		s, err := bankfile.ReadCSV([]byte(x.file), x.m, eur)
		if err != nil || len(s.Lines) != len(x.want) {
			t.Errorf("%s: %+v, %v", name, s, err)
			continue
		}
		for n, want := range x.want {
			if s.Lines[n].Amount != want {
				t.Errorf("%s: %+v", name, s.Lines[n])
			}
		}
	}
	m := bankfile.Mapping{Day: "D", Amount: "A", Form: "2026-11-20"}
	for name, x := range map[string]struct {
		file string
		m    bankfile.Mapping
		says string
	}{
		"no such day": {"D,A\n2026-02-30,1\n", m, `Line 2: "2026-02-30" is no day in the form 2026-11-20.`}, "another form": {"D,A\n20.11.2026,1\n", m, "is no day"}, "a formula": {"D,A\n2026-11-20,=1+1\n", m, `Line 2: "=1+1" is no amount`},
		"three places": {"D,A\n2026-11-20,1.001\n", m, "is no amount"}, "no column": {"D,B\n2026-11-20,1\n", m, `There is no column "A".`}, "no mapping": {"D,A\n2026-11-20,1\n", bankfile.Mapping{Day: "D", Form: "2026-11-20"}, "in which column the amount"},
		"no form": {"D,A\n2026-11-20,1\n", bankfile.Mapping{Day: "D", Amount: "A"}, "in which form"}, "nothing": {"", m, "no rows"}, "no text": {"\x00\x01", m, "no text"},
	} {
		if _, err := bankfile.ReadCSV([]byte(x.file), x.m, eur); err == nil || !strings.Contains(err.Error(), x.says) && name != "nothing" && name != "no text" {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte(camt("0.00", "1.00", entry("1.00", "CRDT", ""))))
	f.Add([]byte("OFXHEADER:100\r\n\r\n<OFX><STMTTRN><TRNAMT>1</OFX>"))
	f.Add([]byte("D,A\n2026-11-20,1\n"))
	f.Fuzz(func(t *testing.T, file []byte) {
		for _, read := range []func([]byte, money.Currency) ([]bankfile.Statement, error){bankfile.ReadCamt, bankfile.ReadOFX} {
			if all, err := read(file, eur); err == nil && len(all) == 0 {
				t.Error("nothing was read, and nothing said")
			}
		}
		_, _ = bankfile.ReadCSV(file, bankfile.Mapping{Day: "D", Amount: "A", Form: "2026-11-20"}, eur)
	})
}
