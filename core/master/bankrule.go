package master

// BankRule says what lines of a bank's statement become that hold some words: a
// charge, interest, a transfer between own accounts, a standing payment. It fills
// a paper in, which a person takes (docs/rules.md, part 11).
type BankRule struct {
	ID            int64
	Version       int64
	Name          string
	BankAccountID int64  // of the lines; 0 for any
	Text          string // words that the line's text or reference holds; "" for any
	Other         string // words that the other side's name holds; "" for any
	Came          bool   // of money that came
	Went          bool   // of money that went
	Becomes       string // a kind of paper
	AccountID     int64  // of a journal entry: the ledger account against the bank
	ToBankID      int64  // of an own transfer: the firm's other account
	PartyID       int64  // of a standing payment
	Inactive      bool
}
