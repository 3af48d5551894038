package formats

import (
	"encoding/xml"
	"strings"
	"testing"
	"time"

	"cleantally/core/money"
)

func TestCreditTransfers(t *testing.T) {
	c := CreditTransfers{Firm: "Sparrow & Winder", Account: "ZZ69SPWI000000000001", Day: "2026-11-25", Made: time.Date(2026, 11, 20, 9, 30, 0, 0, time.UTC), Currency: money.Currency{Code: "EUR", Places: 2},
		Payments: []CreditTransfer{{ID: "P26-0001", Name: "Łąka Hölzer", IBAN: "ZZ17LARK00000000778", BIC: "LARKZZ22", Amount: 117600, Text: "778, 779"}, {ID: "P26-0002", Name: "Crane", IBAN: "ZZ17LARK00000000778", Amount: 5, Text: strings.Repeat("x", 200)}}}
	out, err := c.XML()
	if err != nil {
		t.Fatal(err)
	}
	if err := xml.Unmarshal(out, new(struct{})); err != nil {
		t.Fatalf("%v in %s", err, out)
	}
	for _, want := range []string{"<NbOfTxs>2</NbOfTxs>", "<CtrlSum>1176.05</CtrlSum>", `<InstdAmt Ccy="EUR">1176.00</InstdAmt>`, "<Nm>Laka Hoelzer</Nm>", "<Nm>Sparrow + Winder</Nm>", "<EndToEndId>P26-0001</EndToEndId>",
		"<BICFI>LARKZZ22</BICFI>", "<Ustrd>778, 779</Ustrd>", "<Dt>2026-11-25</Dt>", "<IBAN>ZZ69SPWI000000000001</IBAN>", "<Cd>SEPA</Cd>", "pain.001.001.09", "<Ustrd>" + strings.Repeat("x", 140) + "</Ustrd>"} {
		if !strings.Contains(string(out), want) {
			t.Errorf("the file lacks %s", want)
		}
	}
	c.Payments = nil
	if _, err := c.XML(); err != ErrNoPayments {
		t.Errorf("a file of nothing: %v", err)
	}
}
