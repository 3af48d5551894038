package web

import (
	"context"

	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// BankRule is a rule of the firm's own for lines of its banks.
type BankRule struct {
	ID       int64  `json:"id,omitempty"`
	Version  int64  `json:"version,omitempty"`
	Name     string `json:"name"`
	Bank     int64  `json:"bank,omitempty" doc:"The bank account of the lines; 0 for any"`
	Text     string `json:"text,omitempty" doc:"Words that the line's text holds"`
	Other    string `json:"other,omitempty" doc:"Words that the other side's name holds"`
	Came     bool   `json:"came,omitempty" doc:"Of money that came"`
	Went     bool   `json:"went,omitempty" doc:"Of money that went"`
	Becomes  string `json:"becomes" enum:"journal,own transfer,supplier payment,expense,receipt"`
	Account  int64  `json:"account,omitempty" doc:"Of an entry: the ledger account against the bank"`
	ToBank   int64  `json:"toBank,omitempty" doc:"Of a transfer between own accounts: the other one"`
	Party    int64  `json:"party,omitempty" doc:"Of a payment: who is paid, or pays"`
	Inactive bool   `json:"inactive,omitempty"`
	Used     int64  `json:"used,omitempty" doc:"How often it was taken"`
	Last     string `json:"last,omitempty" doc:"When last; UTC"`
}

// RuleUse is what a rule did: a line that a person took by it.
type RuleUse struct {
	Day     string `json:"day"`
	Amount  string `json:"amount"`
	Text    string `json:"text"`
	PaperID int64  `json:"paperId"`
	Number  string `json:"number"`
	At      string `json:"at" doc:"UTC"`
	User    string `json:"user"`
}

func (s *Server) registerBankRules() {
	records(s, "bank-rules", "rule for lines of the banks", s.bankRules, func(r BankRule, v int64) BankRule { r.Version = v; return r }, func(ctx context.Context, id int64, x BankRule, _ *parser) error {
		return s.book.SaveBankRule(ctx, s.user(ctx), &master.BankRule{ID: id, Version: x.Version, Name: x.Name, BankAccountID: x.Bank, Text: x.Text, Other: x.Other, Came: x.Came, Went: x.Went,
			Becomes: x.Becomes, AccountID: x.Account, ToBankID: x.ToBank, PartyID: x.Party, Inactive: x.Inactive})
	})
	type of struct {
		ID int64 `path:"id"`
	}
	huma.Register(s.api, describe("rule-uses", "GET", "/api/v1/bank-rules/{id}/uses", "What a rule did: the lines that somebody took by it, the newest first"), func(ctx context.Context, in *of) (*struct{ Body Records[RuleUse] }, error) {
		cur, err := s.book.Currency(ctx)
		if err != nil {
			return nil, problem(err)
		}
		rows, err := s.book.Read(ctx).RuleUses(in.ID)
		return &struct{ Body Records[RuleUse] }{Records[RuleUse]{ruleUses(rows, cur)}}, problem(err)
	})
}

func ruleUses(rows []store.RuleUse, cur money.Currency) []RuleUse {
	all := make([]RuleUse, len(rows))
	for n, x := range rows {
		all[n] = RuleUse{string(x.Day), cur.Format(x.Amount), x.Text, x.PaperID, x.Number, x.At, x.User}
	}
	return all
}

func (s *Server) bankRules(ctx context.Context) ([]BankRule, error) {
	r := s.book.Read(ctx)
	all, err := store.All[master.BankRule](r, "name")
	if err != nil {
		return nil, err
	}
	used, err := r.RulesUsed()
	of := map[int64]store.RuleUsed{}
	for _, u := range used {
		of[u.RuleID] = u
	}
	rows := make([]BankRule, len(all))
	for n, x := range all {
		rows[n] = BankRule{ID: x.ID, Version: x.Version, Name: x.Name, Bank: x.BankAccountID, Text: x.Text, Other: x.Other, Came: x.Came, Went: x.Went, Becomes: x.Becomes,
			Account: x.AccountID, ToBank: x.ToBankID, Party: x.PartyID, Inactive: x.Inactive, Used: of[x.ID].Used, Last: of[x.ID].Last}
	}
	return rows, err
}
