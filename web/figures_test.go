package web_test

import (
	"fmt"
	"testing"
)

// step is a command with the entries that were worked out by hand.
type step struct {
	path, body string
	want       []string
}

func entry(text ...string) []string { return text }

// Figures that stand in no example, worked out by hand before they were run:
// three rates, tax inside prices, portions that do not divide, what is taken
// back in between. Each is previewed, posted, and the books tie out.
func TestOddFigures(t *testing.T) {
	two := `{"customer":1,"day":"2026-10-02","lines":[{"text":"a","unitPrice":"333.33","taxCode":1},{"text":"b","unitPrice":"111.11","taxCode":2}]}`
	off := func(day, amount string) string {
		return fmt.Sprintf(`{"day":%q,"reason":"x","relief":true,"items":[{"item":1,"amount":%q}]}`, day, amount)
	}
	against := func(day string, debit, credit int, amount string) string {
		return fmt.Sprintf(`{"day":%q,"pairs":[{"debit":%d,"credit":%d,"amount":%q}]}`, day, debit, credit, amount)
	}
	discount := receipt(1, "2026-10-05", "506.55", `,"placements":[{"item":1,"amount":"506.55","discount":true}]`)
	for name, steps := range map[string][]step{
		// 100.00 − 83.33; 55.55 − 50.50; none of 10.00.
		"three rates inside the prices": {
			{"/invoices", `{"customer":1,"day":"2026-10-01","includes":true,"lines":[{"text":"a","unitPrice":"100","taxCode":1},{"text":"b","unitPrice":"55.55","taxCode":2},{"text":"c","unitPrice":"10","taxCode":3}]}`,
				entry("Dr 120 165.55, Cr 401 83.33, Cr 401 50.50, Cr 401 10.00, Cr 241 16.67, Cr 241 5.05")},
		},
		// 400.00 with 66.67 inside and 122.22 with 11.11: 3 % are 15.67, of them 12.00 with 2.00 and 3.67 with 0.33.
		"an early discount over two rates, undone and earned again": {
			{"/invoices", two, entry("Dr 120 522.22, Cr 401 333.33, Cr 401 111.11, Cr 241 66.67, Cr 241 11.11")},
			{"/receipts", discount, entry("Dr 101 506.55, Dr 491 13.34, Dr 241 2.00, Dr 241 0.33, Cr 120 522.22")},
			{"/allocations/undo", `{"day":"2026-10-06","allocations":[1]}`, entry("Dr 120 15.67, Cr 491 13.34, Cr 241 2.00, Cr 241 0.33")},
			// The whole tax is inside again, and goes with the debt in thirds.
			{"/write-offs", off("2026-10-07", "174.07"), entry("Dr 631 148.15, Dr 241 22.22, Dr 241 3.70, Cr 120 174.07")},
			{"/write-offs", off("2026-10-07", "174.07"), entry("Dr 631 148.15, Dr 241 22.22, Dr 241 3.70, Cr 120 174.07")},
			{"/write-offs", off("2026-10-07", "174.08"), entry("Dr 631 148.14, Dr 241 22.23, Dr 241 3.71, Cr 120 174.08")},
		},
		// The credit of the first line carries all of its discount: what is left to take back is of the second code alone.
		"an early discount over two rates, one line credited, the rest undone": {
			{"/invoices", two, entry("Dr 120 522.22, Cr 401 333.33, Cr 401 111.11, Cr 241 66.67, Cr 241 11.11")},
			{"/receipts", discount, entry("Dr 101 506.55, Dr 491 13.34, Dr 241 2.00, Dr 241 0.33, Cr 120 522.22")},
			{"/credit-notes", `{"paper":1,"day":"2026-10-06","cause":"fault","text":"x","what":"lines","lines":[{"position":1}]}`, entry("Dr 401 333.33, Dr 241 64.67, Cr 491 10.00, Cr 120 388.00")},
			{"/allocations/undo", `{"day":"2026-10-07","allocations":[1]}`, entry("Dr 120 3.67, Cr 491 3.34, Cr 241 0.33")},
		},
		// 333.33 with 55.55 inside, a third at a time: 18.52, 18.52 and the rest.
		"a deposit with tax inside over three invoices": {
			{"/deposits", `{"customer":1,"day":"2026-10-01","amount":"333.33","taxCode":1,"bank":1,"method":"cash"}`, entry("Dr 101 333.33, Cr 221 277.78, Cr 241 55.55")},
			{"/invoices", invoice(1, "2026-10-02", "1000"), entry("Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")},
			{"/allocations", against("2026-10-10", 2, 1, "111.11"), entry("Dr 221 92.59, Dr 241 18.52, Cr 120 111.11")},
			{"/allocations", against("2026-10-12", 2, 1, "111.11"), entry("Dr 221 92.59, Dr 241 18.52, Cr 120 111.11")},
			{"/allocations/undo", `{"day":"2026-10-13","allocations":[1]}`, entry("Dr 120 111.11, Cr 221 92.59, Cr 241 18.52")},
			// Dated back between the two: least is left on that day, 111.11 with what the others leave.
			{"/allocations", against("2026-10-11", 2, 1, "111.11"), entry("Dr 221 92.60, Dr 241 18.51, Cr 120 111.11")},
			{"/forfeits", `{"deposit":1,"day":"2026-10-20","amount":"111.11","outsideTax":true}`, entry("Dr 221 92.59, Dr 241 18.52, Cr 421 111.11")},
		},
		"a forfeit that bears the reduced rate": {
			{"/deposits", deposit(1, "2026-10-01", "100.00"), entry("Dr 101 100.00, Cr 221 100.00")},
			{"/forfeits", `{"deposit":1,"day":"2026-10-02","amount":"33.33","taxCode":2}`, entry("Dr 221 33.33, Cr 421 30.30, Cr 241 3.03")},
		},
		// Rounding bears no tax: 10.01 + 2.00 to 12.00.
		"relief of an invoice that was rounded": {
			{"/invoices", `{"customer":1,"day":"2026-10-01","roundTo":"0.05","lines":[{"text":"a","unitPrice":"10.01","taxCode":1}]}`, entry("Dr 120 12.00, Dr 641 0.01, Cr 401 10.01, Cr 241 2.00")},
			{"/write-offs", off("2026-10-07", "6.00"), entry("Dr 631 5.00, Dr 241 1.00, Cr 120 6.00")},
			{"/write-offs", off("2026-10-07", "6.00"), entry("Dr 631 5.00, Dr 241 1.00, Cr 120 6.00")},
			{"/recoveries", `{"writeOff":3,"day":"2026-10-20","amount":"2.00","bank":1,"method":"cash"}`, entry("Dr 101 2.00, Cr 441 1.67, Cr 241 0.33")},
			{"/recoveries", `{"writeOff":3,"day":"2026-10-21","amount":"2.00","bank":1,"method":"cash"}`, entry("Dr 101 2.00, Cr 441 1.66, Cr 241 0.34")},
			{"/recoveries", `{"writeOff":3,"day":"2026-10-22","amount":"2.00","bank":1,"method":"cash"}`, entry("Dr 101 2.00, Cr 441 1.67, Cr 241 0.33")},
		},
		"the bank takes a discounted receipt back, its fee passed on": {
			{"/invoices", two, entry("Dr 120 522.22, Cr 401 333.33, Cr 401 111.11, Cr 241 66.67, Cr 241 11.11")},
			{"/receipts", discount, entry("Dr 101 506.55, Dr 491 13.34, Dr 241 2.00, Dr 241 0.33, Cr 120 522.22")},
			{"/returned-payments", `{"paper":2,"day":"2026-10-09","fee":"8.00","passOn":true}`, entry("Cr 101 514.55, Dr 120 530.22, Cr 491 13.34, Cr 241 2.00, Cr 241 0.33")},
			{"/receipts", receipt(1, "2026-10-11", "514.55", `,"placements":[{"item":1,"amount":"506.55","discount":true},{"item":6,"amount":"8.00"}]`), entry("Dr 101 514.55, Dr 491 13.34, Dr 241 2.00, Dr 241 0.33, Cr 120 530.22")},
		},
		"a tax shared over the supplier's lines": {
			{"/supplier-bills", `{"supplier":1,"day":"2026-10-01","lines":[{"text":"a","account":39,"net":"0.33","taxCode":1},{"text":"b","account":39,"net":"0.33","taxCode":1},{"text":"c","account":40,"net":"0.33","taxCode":1}]}`, entry("Dr 601 0.66, Dr 621 0.33, Dr 151 0.20, Cr 201 1.19")},
		},
	} {
		t.Run(name, func(t *testing.T) {
			c := newClient(t)
			c.put("/customers/1", `{"name":"Odalys Brandt","supplier":true}`).want(200)
			c.put("/terms/1", `{"name":"30 days","kind":"days","days":30,"discountPercent":"3","discountDays":10}`).want(200)
			for _, s := range steps {
				c.try(s.path, s.body, s.want...)
			}
			c.tiesOut()
		})
	}
}
