package store

import (
	"slices"
	"strings"

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
	OtherSide      string // by which the same other side is found again
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
	Reconciled    day.Day // through which; "" for never
	Feed          string  // how its statements are fetched; "" for not
	FetchedAt     string  // UTC
}

// ownMove is what a journal line e moved on the account of a bank, in that
// account's currency, and ownDay what moved there on a day d, on that of k.
const (
	ownMove = "COALESCE(e.own_amount, e.amount)"
	ownDay  = "CASE WHEN k.currency = '' THEN d.debit - d.credit ELSE d.own END"
)

const tieStands = "NOT EXISTS (SELECT 1 FROM freed_ties x WHERE x.tie_id = t.id)"

const isTied = "NOT EXISTS (SELECT 1 FROM lines_unexplained w WHERE w.bank_line_id = l.id)"

// fromWaiting are the journal lines e on the accounts k of banks that no line of a
// statement is tied to; movementWaits leaves out what was reversed, and the
// balance that a firm began with. What the bank took back waits: the bank tells of
// both.
const (
	ofMovement    = " CROSS JOIN entries h ON h.id = e.entry_id CROSS JOIN papers p ON p.id = h.paper_id LEFT JOIN paper_payment y ON y.paper_id = p.id "
	fromWaiting   = "FROM bank_accounts k JOIN movements_waiting w ON w.account_id = k.account_id CROSS JOIN entry_lines e ON e.id = w.movement_id" + ofMovement
	movementWaits = `NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = h.paper_id AND r.kind <> 'returned payment') AND (p.reverses_id IS NULL OR p.kind = 'returned payment') AND (p.kind <> 'opening' OR y.paper_id IS NOT NULL)`
)

// onTheWay are the papers of what was not at the bank when a firm began: of all
// that was posted before the first statement it alone is not in what that begins
// with.
const onTheWay = "FROM papers o CROSS JOIN paper_payment z ON z.paper_id = o.id WHERE o.kind = 'opening'"

// mayWait are, of what waits on the account of a bank k, what was posted from its
// first statement on, and what was on the way when the firm began.
const (
	firstDay = "(SELECT MIN(s.from_day) FROM bank_statements s WHERE s.bank_account_id = k.id)"
	mayWait  = "w.day >= min(" + firstDay + ", COALESCE((SELECT MIN(o.day) " + onTheWay + " AND z.bank_account_id = k.id), " + firstDay + ")) AND (w.day >= " + firstDay + " OR w.movement_id IN (SELECT v.id " + onTheWayLines + "))"
	// onTheWayLines are the journal lines of those papers on the account.
	onTheWayLines = "FROM papers o CROSS JOIN paper_payment z ON z.paper_id = o.id CROSS JOIN entries g ON g.paper_id = o.id CROSS JOIN entry_lines v ON v.entry_id = g.id AND v.account_id = k.account_id WHERE o.kind = 'opening' AND z.bank_account_id = k.id"
)

// BankPositions returns where each bank account stands at the end of a day, by its
// ID. What explains a line is told as it is now.
func (r Reader) BankPositions(at day.Day) ([]BankPosition, error) {
	return scan[BankPosition](r, `SELECT k.id AS bank_account_id, COALESCE((SELECT SUM(`+ownDay+`) FROM account_days d WHERE d.account_id = k.account_id AND d.day <= @asof ), 0) AS ledger,
		(SELECT s.opening + (SELECT COALESCE(SUM(CASE WHEN l.day >= s.from_day THEN l.amount ELSE 0 END), 0) FROM bank_lines l WHERE l.bank_account_id = k.id AND l.day <= @asof ) FROM bank_statements s WHERE s.bank_account_id = k.id AND s.opening IS NOT NULL AND s.from_day <= @asof ORDER BY s.id LIMIT 1) AS bank,
		COALESCE((SELECT MIN(MAX(s.through_day), @asof ) FROM bank_statements s WHERE s.bank_account_id = k.id AND s.from_day <= @asof ), '') AS through,
		(SELECT COUNT(*) FROM lines_unexplained w CROSS JOIN bank_lines l ON l.id = w.bank_line_id WHERE l.bank_account_id = k.id AND l.day <= @asof ) AS unexplained,
		w.waiting, COALESCE(w.sum, 0) AS waiting_sum, COALESCE((SELECT MAX(c.through_day) FROM bank_reconciliations c WHERE c.bank_account_id = k.id AND c.through_day <= @asof ), (SELECT MAX(c.day) FROM cash_counts c WHERE c.bank_account_id = k.id AND c.day <= @asof ), '') AS reconciled, COALESCE(q.way, '') AS feed, COALESCE(q.fetched_at, '') AS fetched_at
		FROM bank_accounts k LEFT JOIN bank_feeds q ON q.bank_account_id = k.id LEFT JOIN (SELECT k.id, COUNT(e.id) AS waiting, SUM(`+ownMove+`) AS sum `+fromWaiting+`
			WHERE `+mayWait+` AND w.day <= @asof AND `+movementWaits+` GROUP BY k.id) w ON w.id = k.id ORDER BY k.id`, asOf(at))
}

// LineFilter says which lines of a bank account are asked for.
type LineFilter struct {
	BankAccountID int64
	Unexplained   bool // only those that nothing explains
	Through       day.Day
	Search        string        // a part of what the bank says
	Amount        *money.Amount // or, where that is an amount, lines of it, either way
	Newest        bool          // the newest first
	After         int64         // the ID of the last that is shown already
}

// BankLines returns lines of a bank account, the oldest first or the newest, at
// most so many, with the count and the sum of all.
func (r Reader) BankLines(f LineFilter, most int) ([]BankLine, error) {
	from, beyond, order := "bank_lines l", ">", "day, id"
	if f.Unexplained {
		from = "lines_unexplained u CROSS JOIN bank_lines l ON l.id = u.bank_line_id"
	}
	if f.Newest {
		beyond, order = "<", "day DESC, id DESC"
	}
	return scan[BankLine](r, `WITH found AS (SELECT l.id, l.day, l.amount FROM `+from+` WHERE l.bank_account_id = @bank AND l.day <= @through
			AND (@q = '' OR l.text LIKE @like ESCAPE '\' OR l.other_name LIKE @like ESCAPE '\' OR l.reference LIKE @like ESCAPE '\' OR abs(l.amount) = abs(@amount)))
		SELECT l.*, COALESCE(l.statement_id, 0) AS statement_id, `+isTied+` AS tied, (SELECT COUNT(*) FROM found) AS count, (SELECT SUM(amount) FROM found) AS sum,
		COALESCE((SELECT group_concat(DISTINCT p.number) FROM ties t JOIN entry_lines e ON e.id = t.movement_id JOIN entries h ON h.id = e.entry_id JOIN papers p ON p.id = h.paper_id WHERE t.bank_line_id = l.id AND `+tieStands+`), '') AS papers,
		COALESCE((SELECT MIN(h.paper_id) FROM ties t JOIN entry_lines e ON e.id = t.movement_id JOIN entries h ON h.id = e.entry_id WHERE t.bank_line_id = l.id AND `+tieStands+`), 0) AS paper_id
		FROM (SELECT id FROM found WHERE @after = 0 OR (day, id) `+beyond+` (SELECT day, id FROM bank_lines WHERE id = @after) ORDER BY `+order+` LIMIT @most) f CROSS JOIN bank_lines l ON l.id = f.id ORDER BY l.`+strings.ReplaceAll(order, ", ", ", l."),
		map[string]any{"bank": f.BankAccountID, "through": f.Through, "q": f.Search, "like": pattern(f.Search), "amount": f.Amount, "after": f.After, "most": most})
}

// BankLineRow returns a line with what it is tied to.
func (r Reader) BankLineRow(id int64) (BankLine, bool, error) {
	return one[BankLine](r, "SELECT l.*, COALESCE(l.statement_id, 0) AS statement_id, "+isTied+" AS tied FROM bank_lines l WHERE l.id = ?", id)
}

// ExplainedAlone returns the line that a paper explains, or explained until it
// was reversed, and no other does; false where there is none.
func (r Reader) ExplainedAlone(paper int64) (BankLine, bool, error) {
	return one[BankLine](r, `SELECT l.*, COALESCE(l.statement_id, 0) AS statement_id FROM bank_lines l WHERE l.id = (
		SELECT t.bank_line_id FROM entries h JOIN entry_lines e ON e.entry_id = h.id JOIN ties t ON t.movement_id = e.id
		WHERE h.paper_id = @paper AND NOT EXISTS (SELECT 1 FROM freed_ties x JOIN papers p ON p.id = @paper WHERE x.tie_id = t.id AND NOT EXISTS (SELECT 1 FROM papers v WHERE v.reverses_id = @paper AND v.act_id = x.act_id))
		AND NOT EXISTS (SELECT 1 FROM ties o JOIN entry_lines oe ON oe.id = o.movement_id JOIN entries oh ON oh.id = oe.entry_id
			WHERE o.bank_line_id = t.bank_line_id AND oh.paper_id <> @paper AND NOT EXISTS (SELECT 1 FROM freed_ties x WHERE x.tie_id = o.id))
		ORDER BY t.id LIMIT 1)`, map[string]any{"paper": paper})
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
	// Many at a time, so that a file of tens of thousands does not hold the one
	// writer long.
	for chunk := range slices.Chunk(lines, 400) {
		var values []any
		for _, l := range chunk {
			values = append(values, s.BankAccountID, l.Day, l.Amount, l.Text, l.Reference, l.OtherName, l.OtherAccount, l.EntryReference, l.OtherSide, s.ID)
		}
		if _, err := tx.exec("INSERT INTO bank_lines (bank_account_id, day, amount, text, reference, other_name, other_account, entry_reference, other_side, statement_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"+
			strings.Repeat(", (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", len(chunk)-1), values...); err != nil {
			return err
		}
	}
	return nil
}

// DropBankStatement takes away what was read by mistake, with its lines. None of
// them may ever have been tied.
func (tx *Tx) DropBankStatement(id int64) error {
	if _, err := tx.exec("DELETE FROM bank_lines WHERE statement_id = ?", id); err != nil {
		return err
	}
	_, err := tx.exec("DELETE FROM bank_statements WHERE id = ?", id)
	return err
}

// EverTied tells whether a line of a statement was ever tied.
func (r Reader) EverTied(statement int64) (bool, error) {
	_, ever, err := one[int](r, "SELECT 1 FROM bank_lines l JOIN ties t ON t.bank_line_id = l.id WHERE l.statement_id = ? LIMIT 1", statement)
	return ever, err
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

const selectWaiting = "SELECT e.id, h.paper_id, p.kind, p.number, e.day, p.party_name AS party, p.party_id, p.title, p.reference, COALESCE(y.cheque, '') AS cheque, " + ownMove + " AS amount"

// BankStatement returns what was read once.
func (r Reader) BankStatement(id int64) (BankStatement, bool, error) {
	return one[BankStatement](r, "SELECT * FROM bank_statements WHERE id = ?", id)
}

// FirstRead is the statement that was read first, to which all others are held.
type FirstRead struct {
	ID     int64
	Others int64 // read after it
}

// FirstStatement returns that of an account.
func (r Reader) FirstStatement(bank int64) (FirstRead, error) {
	first, _, err := one[FirstRead](r, `SELECT s.id, (SELECT COUNT(*) FROM bank_statements o WHERE o.bank_account_id = s.bank_account_id AND o.id > s.id) AS others
		FROM bank_statements s WHERE s.bank_account_id = ? AND s.opening IS NOT NULL ORDER BY s.id LIMIT 1`, bank)
	return first, err
}

// HeldToIt is the last day of a statement that says a balance and was read later
// than one whose lines that counts; "" for none.
func (r Reader) HeldToIt(s BankStatement) (day.Day, error) {
	d, _, err := one[day.Day](r, "SELECT COALESCE(MAX(through_day), '') FROM bank_statements WHERE bank_account_id = ? AND id > ? AND closing IS NOT NULL AND through_day >= ?", s.BankAccountID, s.ID, s.FromDay)
	return d, err
}

// BankThrough is the last day of which something was read; "" for none.
func (r Reader) BankThrough(bank int64) (day.Day, error) {
	d, _, err := one[day.Day](r, "SELECT COALESCE(MAX(through_day), '') FROM bank_statements WHERE bank_account_id = ?", bank)
	return d, err
}

// BankFeed is how the statements of an account are fetched: "" for not.
func (r Reader) BankFeed(bank int64) (string, error) {
	way, _, err := one[string](r, "SELECT way FROM bank_feeds WHERE bank_account_id = ?", bank)
	return way, err
}

// SetBankFeed says how they are.
func (tx *Tx) SetBankFeed(bank int64, way string) error {
	_, err := tx.exec("INSERT INTO bank_feeds (bank_account_id, way, fetched_at) VALUES (?, ?, '') ON CONFLICT (bank_account_id) DO UPDATE SET way = excluded.way", bank, way)
	return err
}

// Fetched keeps when they were, in UTC.
func (tx *Tx) Fetched(bank int64, at string) error {
	_, err := tx.exec("UPDATE bank_feeds SET fetched_at = ? WHERE bank_account_id = ?", at, bank)
	return err
}
