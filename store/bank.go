package store

import (
	"database/sql"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// BankStatement is what was read of a bank's statement.
type BankStatement struct {
	ID            int64
	BankAccountID int64
	Name          string // of the file
	FromDay       day.Day
	ThroughDay    day.Day
	Opening       *money.Amount
	Closing       *money.Amount
	Lines         int // that were new
	ReadAt        string
	ReadBy        int64
}

// BankLine is a line of a bank's statement, with what it is tied to.
type BankLine struct {
	ID             int64
	BankAccountID  int64
	Day            day.Day
	Amount         money.Amount
	Text           string
	Reference      string
	OtherName      string
	OtherAccount   string
	EntryReference string
	StatementID    int64

	Papers  string       `gorm:"->"` // numbers of what it is tied to
	PaperID int64        `gorm:"->"` // the first of them
	Tied    bool         `gorm:"->"`
	Count   int64        `gorm:"->"` // of all that are asked for
	Sum     money.Amount `gorm:"->"`
}

// BankPosition is where a bank account stands.
type BankPosition struct {
	BankAccountID int64
	Ledger        money.Amount
	Bank          *money.Amount // what the bank says; nil where it has never said it
	Through       day.Day       // the last day of which something was read; "" for nothing
	Unexplained   int64         // lines
	Waiting       int64         // movements that the bank has not told of
	WaitingSum    money.Amount
}

const tieStands = "NOT EXISTS (SELECT 1 FROM freed_ties x WHERE x.tie_id = t.id)"

const isTied = "EXISTS (SELECT 1 FROM ties t WHERE t.bank_line_id = l.id AND " + tieStands + ")"

// movementWaits tells of a journal line e on the account of a bank since its first
// statement that no line of it is tied to, and that was not reversed.
const movementWaits = `NOT EXISTS (SELECT 1 FROM ties t WHERE t.movement_id = e.id AND ` + tieStands + `)
	AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = h.paper_id) AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.id = h.paper_id AND r.reverses_id IS NOT NULL)`

// BankPositions returns where each bank account stands, by its ID.
func (r Reader) BankPositions() ([]BankPosition, error) {
	return scan[BankPosition](r, `SELECT k.id AS bank_account_id, COALESCE((SELECT SUM(debit - credit) FROM account_days d WHERE d.account_id = k.account_id), 0) AS ledger,
		(SELECT s.opening + (SELECT COALESCE(SUM(CASE WHEN l.day >= s.from_day THEN l.amount ELSE 0 END), 0) FROM bank_lines l WHERE l.bank_account_id = k.id) FROM bank_statements s WHERE s.bank_account_id = k.id AND s.opening IS NOT NULL ORDER BY s.id LIMIT 1) AS bank,
		COALESCE((SELECT MAX(s.through_day) FROM bank_statements s WHERE s.bank_account_id = k.id), '') AS through,
		(SELECT COUNT(*) FROM bank_lines l WHERE l.bank_account_id = k.id AND NOT `+isTied+`) AS unexplained,
		w.waiting, COALESCE(w.sum, 0) AS waiting_sum
		FROM bank_accounts k LEFT JOIN (SELECT k.id, COUNT(e.id) AS waiting, SUM(e.amount) AS sum FROM bank_accounts k JOIN entry_lines e ON e.account_id = k.account_id JOIN entries h ON h.id = e.entry_id
			WHERE EXISTS (SELECT 1 FROM bank_statements s WHERE s.bank_account_id = k.id) AND e.day >= (SELECT MIN(from_day) FROM bank_statements s WHERE s.bank_account_id = k.id) AND `+movementWaits+` GROUP BY k.id) w ON w.id = k.id ORDER BY k.id`)
}

// BankLines returns lines of a bank account, the oldest first: all, or those that
// nothing explains. After is the ID of the last that is shown already.
func (r Reader) BankLines(bank int64, unexplained bool, q string, after int64, most int) ([]BankLine, error) {
	where := ""
	if unexplained {
		where = " AND NOT " + isTied
	}
	return scan[BankLine](r, `SELECT * FROM (SELECT l.*, COALESCE(l.statement_id, 0) AS statement_id, `+isTied+` AS tied, COUNT(*) OVER () AS count, SUM(l.amount) OVER () AS sum,
		COALESCE((SELECT group_concat(DISTINCT p.number) FROM ties t JOIN entry_lines e ON e.id = t.movement_id JOIN entries h ON h.id = e.entry_id JOIN papers p ON p.id = h.paper_id WHERE t.bank_line_id = l.id AND `+tieStands+`), '') AS papers,
		COALESCE((SELECT MIN(h.paper_id) FROM ties t JOIN entry_lines e ON e.id = t.movement_id JOIN entries h ON h.id = e.entry_id WHERE t.bank_line_id = l.id AND `+tieStands+`), 0) AS paper_id
		FROM bank_lines l WHERE l.bank_account_id = @bank`+where+` AND (@q = '' OR l.text LIKE @like ESCAPE '\' OR l.other_name LIKE @like ESCAPE '\' OR l.reference LIKE @like ESCAPE '\'))
		WHERE @after = 0 OR (day, id) > (SELECT day, id FROM bank_lines WHERE id = @after) ORDER BY day, id LIMIT @most`,
		map[string]any{"bank": bank, "q": q, "like": pattern(q), "after": after, "most": most})
}

// BankLineRow returns a line with what it is tied to.
func (r Reader) BankLineRow(id int64) (BankLine, bool, error) {
	return one[BankLine](r, "SELECT l.*, COALESCE(l.statement_id, 0) AS statement_id, "+isTied+" AS tied FROM bank_lines l WHERE l.id = ?", id)
}

// BankBalance is what the bank says at the end of a day; false where it has never
// said a balance.
func (r Reader) BankBalance(bank int64, through day.Day) (money.Amount, bool, error) {
	return one[money.Amount](r, `SELECT s.opening + (SELECT COALESCE(SUM(CASE WHEN l.day <= @through THEN l.amount ELSE 0 END), 0) - COALESCE(SUM(CASE WHEN l.day < s.from_day THEN l.amount ELSE 0 END), 0)
		FROM bank_lines l WHERE l.bank_account_id = @bank) FROM bank_statements s WHERE s.bank_account_id = @bank AND s.opening IS NOT NULL ORDER BY s.id LIMIT 1`,
		map[string]any{"bank": bank, "through": through})
}

// BankBegins is the first day of the statement to which all balances are held: the
// one that was read first. It is "" for none.
func (r Reader) BankBegins(bank int64) (day.Day, error) {
	d, _, err := one[day.Day](r, "SELECT from_day FROM bank_statements WHERE bank_account_id = ? AND opening IS NOT NULL ORDER BY id LIMIT 1", bank)
	return d, err
}

// Explainable is what a line of a bank's statement may be: something posted that
// no line is tied to, or an open item that it may settle.
type Explainable struct {
	MovementID int64 // 0 for an open item
	ItemID     int64
	PaperID    int64
	Kind       posting.Kind
	Number     string
	Day        day.Day
	Due        day.Day
	PartyID    int64
	Party      string
	IBAN       string
	Reference  string
	Cheque     string
	Amount     money.Amount // signed as the bank would say it
}

// Explaining returns what a line may be: movements of its amount, items of its
// amount or direction whose number, party or account it may name. At most so many
// of each.
func (r Reader) Explaining(l BankLine, most int) ([]Explainable, error) {
	moved, err := r.WaitingMovements(l.BankAccountID, l.Amount, day.EndOfTime, most)
	if err != nil {
		return nil, err
	}
	var all []Explainable
	for _, m := range moved {
		all = append(all, Explainable{MovementID: m.ID, PaperID: m.PaperID, Kind: m.Kind, Number: m.Number, Day: m.Day, PartyID: m.PartyID, Party: m.Party, Reference: m.Reference, Cheque: m.Cheque, Amount: m.Amount})
	}
	register, sign := "receivables", ">"
	if l.Amount < 0 {
		register, sign = "payables", "<"
	}
	said := " " + l.Text + " " + l.Reference + " "
	items, err := scan[Explainable](r, `SELECT i.id AS item_id, i.paper_id, p.kind, p.number, i.day, i.due, i.party_id, c.name AS party, c.iban, p.reference, i.open AS amount FROM open_items i JOIN papers p ON p.id = i.paper_id JOIN parties c ON c.id = i.party_id
		WHERE i.register = @register AND i.open <> 0 AND i.open `+sign+` 0 AND i.day <= @day AND (i.open = @amount OR instr(@said, p.number) > 0 OR (p.reference <> '' AND instr(@said, p.reference) > 0) OR (c.iban <> '' AND c.iban = @account) OR (@name <> '' AND lower(c.name) = lower(@name)))
		ORDER BY instr(@said, p.number) > 0 DESC, i.open = @amount DESC, i.due LIMIT @most`,
		map[string]any{"register": register, "day": l.Day, "amount": l.Amount, "said": said, "account": l.OtherAccount, "name": l.OtherName, "most": most})
	return append(all, items...), err
}

// BankLinesOn returns the lines of a bank account through a span of days.
func (r Reader) BankLinesOn(bank int64, from, through day.Day) ([]BankLine, error) {
	return scan[BankLine](r, "SELECT * FROM bank_lines WHERE bank_account_id = ? AND day BETWEEN ? AND ? ORDER BY id", bank, from, through)
}

// BankStatements returns what was read of an account, the newest first.
func (r Reader) BankStatements(bank int64) ([]BankStatement, error) {
	return scan[BankStatement](r, "SELECT * FROM bank_statements WHERE bank_account_id = ? ORDER BY id DESC LIMIT 200", bank)
}

// AddBankStatement stores a statement with its new lines.
func (tx *Tx) AddBankStatement(s *BankStatement, lines []BankLine) error {
	res, err := tx.exec("INSERT INTO bank_statements (bank_account_id, name, from_day, through_day, opening, closing, lines, read_at, read_by) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
		s.BankAccountID, s.Name, s.FromDay, s.ThroughDay, s.Opening, s.Closing, len(lines), s.ReadAt, s.ReadBy)
	if err != nil {
		return err
	}
	if s.ID, err = res.LastInsertId(); err != nil {
		return err
	}
	for _, l := range lines {
		if _, err := tx.exec("INSERT INTO bank_lines (bank_account_id, day, amount, text, reference, other_name, other_account, entry_reference, statement_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
			s.BankAccountID, l.Day, l.Amount, l.Text, l.Reference, l.OtherName, l.OtherAccount, l.EntryReference, s.ID); err != nil {
			return err
		}
	}
	return nil
}

// BankMapping returns how the columns of an account's CSV are read, as JSON; ""
// where nobody has said it.
func (r Reader) BankMapping(bank int64) (string, error) {
	m, _, err := one[string](r, "SELECT mapping FROM bank_mappings WHERE bank_account_id = ?", bank)
	return m, err
}

// SetBankMapping keeps how they are read.
func (tx *Tx) SetBankMapping(bank int64, mapping string) error {
	_, err := tx.exec("INSERT OR REPLACE INTO bank_mappings (bank_account_id, mapping) VALUES (?, ?)", bank, mapping)
	return err
}

// WaitingMovement is something posted on the account of a bank that no line of
// its statement is tied to.
type WaitingMovement struct {
	ID        int64
	PaperID   int64
	Kind      posting.Kind
	Number    string
	Day       day.Day
	Party     string
	PartyID   int64
	Title     string
	Reference string
	Cheque    string
	Amount    money.Amount
	Count     int64        `gorm:"->"`
	Sum       money.Amount `gorm:"->"`
}

const (
	selectWaiting = "SELECT e.id, h.paper_id, p.kind, p.number, e.day, p.party_name AS party, p.party_id, p.title, p.reference, COALESCE(y.cheque, '') AS cheque, e.amount"
	fromWaiting   = "FROM bank_accounts k JOIN entry_lines e ON e.account_id = k.account_id JOIN entries h ON h.id = e.entry_id JOIN papers p ON p.id = h.paper_id LEFT JOIN paper_payment y ON y.paper_id = p.id "
)

// WaitingMovements returns them, the oldest first; of an amount, where that is
// not nil.
func (r Reader) WaitingMovements(bank int64, amount money.Amount, through day.Day, most int) ([]WaitingMovement, error) {
	return scan[WaitingMovement](r, selectWaiting+`, COUNT(*) OVER () AS count, SUM(e.amount) OVER () AS sum `+fromWaiting+`WHERE k.id = @bank AND (@amount = 0 OR e.amount = @amount) AND e.day <= @through AND `+movementWaits+` ORDER BY e.day, e.id LIMIT @most`,
		sql.Named("bank", bank), sql.Named("amount", amount), sql.Named("through", through), sql.Named("most", most))
}
