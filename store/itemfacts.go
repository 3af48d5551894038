package store

import (
	"errors"
	"iter"
	"slices"
	"strconv"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// itemsFrom selects items out of a table of them.
func itemsFrom(table string) string {
	return selectItems("p.kind, p.number, COALESCE(b.early_until, '')") + table + " i JOIN papers p ON p.id = i.paper_id LEFT JOIN paper_billing b ON b.paper_id = i.paper_id "
}

// selectItems selects items i, with the kind and the number of their papers and
// the last day of their discount.
func selectItems(names string) string {
	return `SELECT i.id, i.register, i.nature, i.paper_id, COALESCE(i.bills_id, 0) AS bills_id, i.instalment, COALESCE(i.party_id, 0) AS party_id, COALESCE(i.job_id, 0) AS job_id, i.day, i.due, COALESCE(i.currency, '') AS currency, i.amount, i.tax, i.own_amount, i.own_tax,
	i.open, i.open_tax, i.own_open, i.own_open_tax, COALESCE(i.tax_code_id, 0) AS tax_code_id, ` + names + " FROM "
}

func (f *Facts) readItems(table, where string, args ...any) []posting.Item {
	return f.itemsOf(itemsFrom(table)+where+" ORDER BY i.id", args...)
}

func (f *Facts) itemsOf(query string, args ...any) []posting.Item {
	items := []posting.Item{}
	f.rows(query, func(r *row) {
		items = append(items, posting.Item{ID: posting.ItemRef(r.int(0)), Register: ledger.Role(r.text(1)), Nature: posting.Nature(r.text(2)), PaperID: r.int(3), Bills: r.int(4), Instalment: int(r.int(5)), PartyID: r.int(6), JobID: r.int(7),
			Day: r.day(8), Due: r.day(9), Currency: r.text(10), Part: posting.Part{Amount: r.worth(11, 13), Tax: r.worth(12, 14)}, Left: posting.Part{Amount: r.worth(15, 17), Tax: r.worth(16, 18)},
			TaxCodeID: r.int(19), Kind: posting.Kind(r.text(20)), Number: r.text(21), EarlyUntil: r.day(22)})
	}, args...)
	return items
}

func (f *Facts) PaperItems(id int64) []posting.Item {
	return f.readItems("open_items", "WHERE i.paper_id = ?", id)
}

func (f *Facts) Item(id posting.ItemRef) (posting.Item, bool) {
	if i, seen := f.items[id]; seen {
		return i, true
	}
	if id <= 0 {
		return posting.Item{}, false
	}
	found := f.readItems("open_items", "WHERE i.id = ?", id)
	if len(found) == 0 {
		return posting.Item{}, false
	}
	f.items[id] = found[0]
	return found[0], true
}

// KnowItems reads items with their moves in one go: a plan may set thousands
// against each other.
func (f *Facts) KnowItems(ids []posting.ItemRef) {
	if len(ids) < 4 {
		return
	}
	var unknown []posting.ItemRef
	for _, id := range ids {
		if _, known := f.moves[id]; !known && id > 0 {
			f.moves[id] = []posting.Move{}
			unknown = append(unknown, id)
		}
	}
	for chunk := range slices.Chunk(unknown, 1000) {
		for _, i := range f.readItems("open_items", "WHERE i.id IN ?", chunk) {
			f.items[i.ID] = i
		}
	}
	f.knowMoves(unknown)
}

// knowMoves reads the moves of items that are known.
func (f *Facts) knowMoves(ids []posting.ItemRef) {
	for chunk := range slices.Chunk(ids, 1000) {
		for _, id := range chunk {
			f.moves[id] = []posting.Move{}
		}
		for _, m := range f.readMoves("INDEXED BY item_moves_item WHERE item_id IN ?", chunk) {
			f.moves[m.Item] = append(f.moves[m.Item], m)
		}
	}
}

func (f *Facts) readMoves(where string, args ...any) []posting.Move {
	moves := []posting.Move{}
	f.rows("SELECT item_id, day, amount, tax, own_amount, own_tax, allocation_id FROM item_moves "+where+" ORDER BY +id", func(r *row) {
		moves = append(moves, posting.Move{Item: posting.ItemRef(r.int(0)), Day: r.day(1), Part: posting.Part{Amount: r.worth(2, 4), Tax: r.worth(3, 5)}, Allocation: r.int(6)})
	}, args...)
	return moves
}

// ItemMoves are read once: a plan may set thousands of items against one.
func (f *Facts) ItemMoves(id posting.ItemRef) []posting.Move {
	if m, seen := f.moves[id]; seen {
		return m
	}
	f.moves[id] = f.readMoves("WHERE item_id = ?", id)
	return f.moves[id]
}

func (f *Facts) ItemLines(id posting.ItemRef) []ledger.Line {
	return all[ledger.Line](f, "SELECT "+lineColumns+" FROM entry_lines l WHERE l.item_id = ? ORDER BY l.id", id)
}

// lineColumns are those of a journal line l.
const lineColumns = "l.account_id, l.amount, COALESCE(l.currency, '') AS currency, COALESCE(l.own_amount, 0) AS own, l.party_id, l.job_id, l.tax_code_id, l.item_id"

func (f *Facts) OpenOn(d day.Day) iter.Seq2[posting.Item, posting.Part] {
	return func(yield func(posting.Item, posting.Part) bool) { f.openOn(d, yield) }
}

// openOn reads each item as often as its paper has codes, one after the other. They
// come in the order of their papers, so that each page of those is read once. A firm
// without other currencies is not asked for amounts in them: of very many items each
// column takes its time.
func (f *Facts) openOn(d day.Day, yield func(posting.Item, posting.Part) bool) {
	abroad, err := f.r.abroad()
	open, err2 := f.r.openDebtsAt(d)
	f.err = errors.Join(f.err, err, err2)
	plain, own := "NOT EXISTS (SELECT 1 FROM uses u WHERE u.of_paper_id = i.bills_id) AND NOT EXISTS (SELECT 1 FROM paper_billing b INDEXED BY paper_billing_rounded WHERE b.paper_id = i.bills_id AND b.rounding <> 0)", ""
	if abroad {
		plain, own = "k.own_net IS NULL AND "+plain, ", i.own_open, i.own_open_tax"
	}
	var i posting.Item
	var of posting.Part
	on := true
	told := func() { on = on && (i.ID == 0 || yield(i, of)) }
	f.rows("SELECT i.id, i.bills_id, i.party_id, i.due, i.open, i.open_tax, CASE WHEN "+plain+" THEN k.net + k.tax END, k.tax"+own+`
		FROM `+open+" i LEFT JOIN paper_codes k ON k.paper_id = i.bills_id", func(r *row) {
		id := posting.ItemRef(r.int(0))
		if id == i.ID {
			of = posting.Part{} // of several codes
			return
		}
		told()
		i = posting.Item{ID: id, Bills: r.int(1), PartyID: r.int(2), Due: r.day(3), Left: posting.Of(r.amount(4), r.amount(5))}
		if abroad {
			i.Left = posting.Part{Amount: r.worth(4, 8), Tax: r.worth(5, 9)}
		}
		if of = (posting.Part{}); !r.null(6) {
			of = posting.Of(r.amount(6), r.amount(7))
		}
	}, asOf(d))
	told()
}

// Debts reads of very many papers only what a debt is made of.
func (f *Facts) Debts(ids []int64) iter.Seq[posting.Paper] {
	return func(yield func(posting.Paper) bool) { f.debts(ids, yield) }
}

func (f *Facts) debts(ids []int64, yield func(posting.Paper) bool) {
	const within = "(SELECT value FROM json_each(?))"
	some := "[" + commas(ids) + "]"
	for _, id := range ids {
		f.uses[id] = nil
	}
	for _, u := range f.readUses("INDEXED BY uses_of WHERE of_paper_id IN "+within, some) {
		f.uses[u.Of.PaperID] = append(f.uses[u.Of.PaperID], u)
	}
	rounded := map[int64]money.Amount{}
	f.rows("SELECT paper_id, rounding FROM paper_billing INDEXED BY paper_billing_rounded WHERE rounding <> 0 AND paper_id IN "+within, func(r *row) {
		rounded[r.int(0)] = r.amount(1)
	}, some)
	on := true
	var abroad []int64
	var p posting.Paper
	told := func() {
		p.Rounding = rounded[p.ID]
		p.Total += p.Rounding
		on = on && (p.ID == 0 || yield(p))
	}
	f.rows("SELECT paper_id, tax_code_id, net, tax, own_net IS NOT NULL FROM paper_codes WHERE paper_id IN "+within+" ORDER BY paper_id, position", func(r *row) {
		id, net, tax := r.int(0), r.amount(2), r.amount(3)
		if r.is(4) {
			abroad = append(abroad, id)
			return
		}
		if id != p.ID {
			told()
			p = posting.Paper{ID: id, Lines: p.Lines[:0]}
		}
		p.Total += net + tax
		p.Lines = append(p.Lines, posting.PaperLine{TaxCodeID: r.int(1), Net: posting.Firm(net), Tax: posting.Firm(tax)})
	}, some)
	told()
	abroad = slices.Compact(abroad)
	f.KnowPapers(abroad) // with their rates
	for _, id := range abroad {
		of, _ := f.Paper(id)
		on = on && yield(of)
	}
}

func (f *Facts) KeptBackBy(partyID int64, d day.Day) []posting.Item {
	open, err := f.r.openOf("party_id", d)
	f.err = errors.Join(f.err, err)
	return f.itemsOf(selectItems("'', '', ''")+open+" i WHERE i.register = 'retention' ORDER BY i.id", asOf(d), whose(partyID))
}

const selectDisputes = "SELECT item_id AS item, day, reason, unfounded FROM disputes "

func (f *Facts) Disputes(id posting.ItemRef) []posting.Dispute {
	if known, ok := f.disputes[id]; ok {
		return known
	}
	return all[posting.Dispute](f, selectDisputes+"WHERE item_id = ? ORDER BY id", id)
}

func (f *Facts) ChequeTaken(bank int64, number string) bool {
	_, taken := value[int64](f, "SELECT paper_id FROM paper_payment WHERE bank_account_id = ? AND cheque = ? AND cheque <> '' LIMIT 1", bank, number)
	return taken
}

// Sent is the day on which a paper was first sent, "" while it was not.
func (f *Facts) Sent(paperID int64) day.Day {
	on, _ := value[day.Day](f, "SELECT day FROM paper_events WHERE paper_id = ? AND event = 'sent' ORDER BY id LIMIT 1", paperID)
	return on
}

// NextCheque is the number after the last cheque of the bank account. Numbers
// of more digits than a cheque has are somebody's own and begin no series.
func (f *Facts) NextCheque(bank int64) string {
	last, ok := value[string](f, "SELECT cheque FROM paper_payment WHERE bank_account_id = ? AND cheque <> '' AND length(cheque) <= 15 AND cheque NOT GLOB '*[^0-9]*' ORDER BY CAST(cheque AS INTEGER) DESC LIMIT 1", bank)
	n, err := strconv.ParseInt(last, 10, 64)
	if !ok || err != nil {
		return firstCheque
	}
	return posting.Padded(n+1, len(last))
}

// firstCheque is the number of a firm's first cheque unless it says otherwise.
const firstCheque = "000101"

const selectAllocation = "SELECT id, debit_id AS debit, credit_id AS credit, amount, tax, day, undoes FROM allocations a "

func (f *Facts) Allocation(id int64) (posting.Allocation, bool) {
	return find[posting.Allocation](f, selectAllocation+"WHERE id = ?", id)
}

func (f *Facts) UndoneOn(id int64) day.Day {
	d, _ := value[day.Day](f, "SELECT day FROM allocations WHERE undoes = ?", id)
	return d
}

func (f *Facts) AllocationsOf(id posting.ItemRef) []posting.Allocation {
	return all[posting.Allocation](f, selectAllocation+`WHERE (debit_id = ? OR credit_id = ?) AND +undoes IS NULL
		AND NOT EXISTS (SELECT 1 FROM allocations u WHERE u.undoes = a.id) ORDER BY id`, id, id)
}
