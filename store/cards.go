package store

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// CardGateway says whether customers pay by card on the pages of links.
type CardGateway struct {
	Version       int64
	Way           string // "" for not, stand-in
	BankAccountID int64  // where its takings wait
	Parts         bool   // whether customers may pay a part
}

// The states of a payment by card.
const (
	CardBegun    = "begun"
	CardPaid     = "paid"
	CardDeclined = "declined"
	CardEnded    = "ended" // nobody went on with it
)

// CardPayment is what a customer began to pay by card.
type CardPayment struct {
	ID        int64
	PaperID   int64
	Reference string // as the gateway names it; "" while it is being asked
	Amount    money.Amount
	State     string
	Reason    string // why it was declined, or is not in the books
	MadeAt    string // UTC
	MadeBy    int64
	ReceiptID int64 // in the books by it; 0 for not yet
}

// Unkept tells whether it is paid and not in the books yet.
func (p CardPayment) Unkept() bool { return p.State == CardPaid && p.ReceiptID == 0 }

// CardPayout is what the gateway says that it paid out.
type CardPayout struct {
	ID        int64
	Reference string
	Day       day.Day
	Arrived   money.Amount
	Fee       money.Amount
	Takings   string // references of payments, as a JSON list
	ToldAt    string // UTC
	Away      bool   // put away by hand
}

// CardGateway returns how cards are taken.
func (r Reader) CardGateway() (CardGateway, error) {
	g, _, err := one[CardGateway](r, "SELECT * FROM card_gateways WHERE id = 1")
	return g, err
}

// SetCardGateway replaces it if it still has the version that g bears; false
// when it has another.
func (tx *Tx) SetCardGateway(g CardGateway) (bool, error) {
	now, err := tx.CardGateway()
	if err != nil || now.Version != g.Version {
		return false, err
	}
	_, err = tx.exec("INSERT OR REPLACE INTO card_gateways (id, version, way, bank_account_id, parts) VALUES (1, ?, ?, ?, ?)", g.Version+1, g.Way, g.BankAccountID, g.Parts)
	return true, err
}

const selectCards = "SELECT id, paper_id, COALESCE(reference, '') AS reference, amount, state, reason, made_at, made_by, COALESCE(receipt_id, 0) AS receipt_id FROM card_payments "

// CardPaymentsOf returns what customers began to pay of a paper by card, the
// newest first.
func (r Reader) CardPaymentsOf(paper int64) ([]CardPayment, error) {
	return scan[CardPayment](r, selectCards+"WHERE paper_id = ? ORDER BY id DESC", paper)
}

// CardPaymentBy returns the payment that the gateway names so.
func (r Reader) CardPaymentBy(reference string) (CardPayment, bool, error) {
	return one[CardPayment](r, selectCards+"WHERE reference = ?", reference)
}

// CardPaymentsOpen returns the payments of which it is not known what became of
// them, or that are not in the books yet.
func (r Reader) CardPaymentsOpen() ([]CardPayment, error) {
	return scan[CardPayment](r, selectCards+"WHERE state = 'begun' OR (state = 'paid' AND receipt_id IS NULL) ORDER BY id")
}

// AddCardPayment stores a payment that is begun, and gives it its ID.
func (tx *Tx) AddCardPayment(p *CardPayment) error {
	result, err := tx.exec("INSERT INTO card_payments (paper_id, amount, state, made_at, made_by) VALUES (?, ?, ?, ?, ?)", p.PaperID, p.Amount, p.State, p.MadeAt, p.MadeBy)
	if err != nil {
		return err
	}
	p.ID, err = result.LastInsertId()
	return err
}

// SetCardPayment keeps what became of a payment.
func (tx *Tx) SetCardPayment(p CardPayment) error {
	_, err := tx.exec("UPDATE card_payments SET reference = NULLIF(?, ''), amount = ?, state = ?, reason = ?, receipt_id = NULLIF(?, 0) WHERE id = ?", p.Reference, p.Amount, p.State, p.Reason, p.ReceiptID, p.ID)
	return err
}

// CardPayout returns what the gateway says that it paid out.
func (r Reader) CardPayout(id int64) (CardPayout, bool, error) {
	return one[CardPayout](r, "SELECT * FROM card_payouts WHERE id = ?", id)
}

// AddCardPayout keeps it once.
func (tx *Tx) AddCardPayout(p CardPayout) error {
	_, err := tx.exec("INSERT INTO card_payouts (reference, day, arrived, fee, takings, told_at) VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (reference) DO NOTHING", p.Reference, p.Day, p.Arrived, p.Fee, p.Takings, p.ToldAt)
	return err
}

// PutCardPayoutAway takes it off the Desk; false where there is none.
func (tx *Tx) PutCardPayoutAway(id int64) (bool, error) {
	result, err := tx.exec("UPDATE card_payouts SET away = 1 WHERE id = ?", id)
	if err != nil {
		return false, err
	}
	n, err := result.RowsAffected()
	return n > 0, err
}

// TakingsIn returns the papers by which payments are in the books.
func (r Reader) TakingsIn(references []string) ([]int64, error) {
	return scan[int64](r, "SELECT receipt_id FROM card_payments WHERE reference IN ? AND receipt_id IS NOT NULL ORDER BY id", references)
}

// Taking is what came to card takings, or went from there, and was not paid out
// yet.
type Taking struct {
	PaperID   int64
	Kind      posting.Kind
	Number    string
	Day       day.Day
	PartyID   int64
	Party     string
	Reference string
	BankID    int64
	Bank      string
	Amount    money.Amount // below nil for what went from there
	Sum       money.Amount `gorm:"->"` // of all
	Count     int64
}

// Takings returns what waits in card takings at the end of a day, the oldest
// first, and at most so many; those named are among them in any case. What a
// payout cleared that is taken back (0 for none) waits again.
func (r Reader) Takings(through day.Day, named []int64, again int64, most int) ([]Taking, error) {
	var kinds []posting.Kind
	for _, d := range posting.Kinds() {
		if d.ByCard {
			kinds = append(kinds, d.Kind)
		}
	}
	return scan[Taking](r, `WITH waits AS (
		SELECT p.id AS paper_id, p.kind, p.number, p.day, p.party_id, p.party_name AS party, p.reference, k.id AS bank_id, k.name AS bank, SUM(l.amount) AS amount
		FROM bank_accounts k CROSS JOIN entry_lines l INDEXED BY entry_lines_account ON l.account_id = k.account_id CROSS JOIN entries e ON e.id = l.entry_id CROSS JOIN papers p ON p.id = e.paper_id CROSS JOIN paper_payment y ON y.paper_id = p.id AND y.bank_account_id = k.id
		WHERE k.takings = 1 AND p.kind IN @kinds AND p.day <= @asof
			AND NOT EXISTS (SELECT 1 FROM uses u WHERE u.of_paper_id = p.id AND u.of_position = 0 AND u.as_kind IN ('paid out', 'cancelled') AND u.undoes IS NULL AND u.paper_id <> @again AND NOT EXISTS (SELECT 1 FROM uses o WHERE o.undoes = u.id))
		GROUP BY p.id)
		SELECT *, SUM(amount) OVER () AS sum, COUNT(*) OVER () AS count FROM waits ORDER BY paper_id IN @named DESC, day, paper_id LIMIT @most`,
		asOf(through), map[string]any{"kinds": kinds, "again": again, "named": append(named, 0), "most": max(most, len(named))})
}

// looseLines are lines of a bank's statements that nothing explains, by account.
func (r Reader) looseLines(at day.Day) (LooseEnds, error) {
	rows, err := scan[struct {
		LooseEnd
		Count int64
	}](r, `SELECT k.id AS item_id, k.name AS title, MIN(l.day) AS day, MIN(l.day) AS due, COUNT(*) AS count, SUM(abs(l.amount)) AS open FROM lines_unexplained w CROSS JOIN bank_lines l ON l.id = w.bank_line_id JOIN bank_accounts k ON k.id = l.bank_account_id
		WHERE l.day <= ? GROUP BY k.id ORDER BY k.id`, at)
	g := LooseEnds{Group: "bank line"}
	for _, x := range rows {
		x.Number = fmt.Sprint(x.Count)
		g.Rows, g.Count, g.Sum = append(g.Rows, x.LooseEnd), g.Count+1, g.Sum+x.Open
	}
	return g, err
}

// looseCards are payouts that nobody took into the books, and payments by card
// that could not be recorded.
func (r Reader) looseCards(at day.Day, most int) ([]LooseEnds, error) {
	payouts, err := scan[LooseEnd](r, `SELECT w.id AS item_id, w.reference AS number, w.day, w.day AS due, w.arrived AS open FROM card_payouts w WHERE w.away = 0 AND w.day <= ?
		AND NOT EXISTS (SELECT 1 FROM papers p WHERE p.kind = 'card payout' AND p.reference = w.reference AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id)) ORDER BY w.day, w.id`, at)
	if err != nil {
		return nil, err
	}
	unkept, err := scan[LooseEnd](r, `SELECT c.id AS item_id, p.id AS paper_id, p.kind, p.number, p.party_id, p.party_name AS party, date(c.made_at) AS day, c.amount AS open, c.reason FROM card_payments c CROSS JOIN papers p ON p.id = c.paper_id
		WHERE c.state = 'paid' AND c.receipt_id IS NULL ORDER BY c.id`)
	return []LooseEnds{grouped("card payment", unkept, most), grouped("card payout", payouts, most)}, err
}
