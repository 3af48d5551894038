package formats

import (
	"encoding/xml"
	"errors"
	"fmt"
	"strings"
	"time"

	"cleantally/core/day"
	"cleantally/core/money"
)

// CreditTransfers is a run of payments from one account, as a bank takes it: a
// customer credit transfer initiation by ISO 20022 (pain.001.001.09).
type CreditTransfers struct {
	Firm     string
	Account  string // IBAN of the account that is debited
	Day      day.Day
	Made     time.Time
	Currency money.Currency
	Payments []CreditTransfer
}

// CreditTransfer is one payment of a run. Amount is in minor units, above nil.
type CreditTransfer struct {
	ID     string // our own number; it comes back on the statement
	Name   string
	IBAN   string
	BIC    string // "" where the bank is found by the IBAN
	Amount money.Amount
	Text   string
}

// ErrNoPayments says that there is nothing to write.
var ErrNoPayments = errors.New("there are no payments to write")

type transferDocument struct {
	XMLName xml.Name           `xml:"Document"`
	Space   string             `xml:"xmlns,attr"`
	Init    transferInitiation `xml:"CstmrCdtTrfInitn"`
}

type transferInitiation struct {
	ID      string          `xml:"GrpHdr>MsgId"`
	Made    string          `xml:"GrpHdr>CreDtTm"`
	Count   int             `xml:"GrpHdr>NbOfTxs"`
	Sum     string          `xml:"GrpHdr>CtrlSum"`
	Firm    string          `xml:"GrpHdr>InitgPty>Nm"`
	Payment transferPayment `xml:"PmtInf"`
}

type transferPayment struct {
	ID      string         `xml:"PmtInfId"`
	Method  string         `xml:"PmtMtd"`
	Count   int            `xml:"NbOfTxs"`
	Sum     string         `xml:"CtrlSum"`
	Level   *string        `xml:"PmtTpInf>SvcLvl>Cd"`
	Day     string         `xml:"ReqdExctnDt>Dt"`
	Firm    string         `xml:"Dbtr>Nm"`
	Account string         `xml:"DbtrAcct>Id>IBAN"`
	Bank    transferAgent  `xml:"DbtrAgt"`
	Bearer  string         `xml:"ChrgBr"`
	Lines   []transferLine `xml:"CdtTrfTxInf"`
}

type transferAgent struct {
	BIC   string `xml:"FinInstnId>BICFI,omitempty"`
	Other string `xml:"FinInstnId>Othr>Id,omitempty"`
}

type transferLine struct {
	ID      string         `xml:"PmtId>EndToEndId"`
	Amount  transferAmount `xml:"Amt>InstdAmt"`
	Bank    *transferAgent `xml:"CdtrAgt"`
	Name    string         `xml:"Cdtr>Nm"`
	Account string         `xml:"CdtrAcct>Id>IBAN"`
	Text    string         `xml:"RmtInf>Ustrd,omitempty"`
}

type transferAmount struct {
	Currency string `xml:"Ccy,attr"`
	Text     string `xml:",chardata"`
}

// XML returns the file, or ErrNoPayments.
func (c CreditTransfers) XML() ([]byte, error) {
	if len(c.Payments) == 0 {
		return nil, ErrNoPayments
	}
	var sum money.Amount
	id := plainText(fmt.Sprintf("CT-%s-%s", c.Made.UTC().Format("20060102150405"), c.Payments[0].ID), 35)
	pay := transferPayment{ID: id, Method: "TRF", Count: len(c.Payments), Day: string(c.Day), Firm: plainText(c.Firm, 70), Account: c.Account, Bank: transferAgent{Other: "NOTPROVIDED"}, Bearer: "SLEV"}
	if c.Currency.Code == "EUR" {
		level := "SEPA"
		pay.Level = &level
	} else {
		pay.Bearer = "SHAR"
	}
	for _, p := range c.Payments {
		line := transferLine{ID: plainText(p.ID, 35), Amount: transferAmount{c.Currency.Code, c.Currency.Format(p.Amount)}, Name: plainText(p.Name, 70), Account: p.IBAN, Text: plainText(p.Text, 140)}
		if p.BIC != "" {
			line.Bank = &transferAgent{BIC: p.BIC}
		}
		pay.Lines = append(pay.Lines, line)
		sum += p.Amount
	}
	pay.Sum = c.Currency.Format(sum)
	d := transferDocument{Space: "urn:iso:std:iso:20022:tech:xsd:pain.001.001.09", Init: transferInitiation{ID: id, Made: c.Made.UTC().Format("2006-01-02T15:04:05Z"), Count: pay.Count, Sum: pay.Sum, Firm: pay.Firm, Payment: pay}}
	out, err := xml.MarshalIndent(d, "", "  ")
	return append([]byte(xml.Header), append(out, '\n')...), err
}

// plainText keeps of a text what every bank takes: letters, figures and a few
// marks; others become the letter that they are nearest to, or a full stop.
func plainText(text string, most int) string {
	var b strings.Builder
	for _, r := range text {
		switch {
		case r < 128 && (r == ' ' || strings.ContainsRune("/-?:().,'+", r) || r >= '0' && r <= '9' || r >= 'A' && r <= 'Z' || r >= 'a' && r <= 'z'):
			b.WriteRune(r)
		case nearest[r] != "":
			b.WriteString(nearest[r])
		case r == '&':
			b.WriteString("+")
		default:
			b.WriteString(".")
		}
	}
	s := b.String()
	return strings.TrimSpace(s[:min(len(s), most)])
}

var nearest = letters("ä=ae ö=oe ü=ue Ä=Ae Ö=Oe Ü=Ue ß=ss à=a á=a â=a ã=a å=a ă=a ą=a ç=c ć=c č=c ď=d đ=d è=e é=e ê=e ë=e ě=e ę=e ğ=g ì=i í=i î=i ï=i ı=i ł=l ñ=n ń=n ň=n ò=o ó=o ô=o õ=o ø=o ő=o ř=r ś=s š=s ş=s ș=s ť=t ț=t ù=u ú=u û=u ů=u ű=u ý=y ž=z ź=z ż=z À=A Á=A Â=A Å=A Ç=C Č=C È=E É=E Ê=E Í=I Î=I Ł=L Ñ=N Ó=O Ô=O Ø=O Ś=S Š=S Ú=U Ž=Z Ż=Z æ=ae œ=oe Æ=AE ’=' –=- —=-")

func letters(pairs string) map[rune]string {
	m := map[rune]string{}
	for _, p := range strings.Fields(pairs) {
		from, to, _ := strings.Cut(p, "=")
		m[[]rune(from)[0]] = to
	}
	return m
}
