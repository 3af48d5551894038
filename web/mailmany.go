package web

import (
	"context"

	"cleantally/core/posting"
)

// MailLeft is what was not mailed, and why.
type MailLeft struct {
	Name string `json:"name"`
	Why  string `json:"why"`
}

// ManyMails says what becomes of many mails at once.
type ManyMails struct {
	Made int        `json:"made"`
	Left []MailLeft `json:"left"`
}

// ManyWanted are papers, each mailed to its own customer, or statements to
// customers, all with the words that their templates have.
type ManyWanted struct {
	Papers    []int64        `json:"papers,omitempty" maxItems:"500"`
	Customers []int64        `json:"customers,omitempty" maxItems:"500"`
	Statement *MailStatement `json:"statement,omitempty"`
	Link      bool           `json:"link,omitempty"`
	MailWhen
}

// mailMany writes a mail for each; what cannot be mailed is left, with why.
func (s *Server) mailMany(ctx context.Context, in *struct{ Body ManyWanted }) (*struct{ Body ManyMails }, error) {
	b := in.Body
	account, err := s.book.Read(ctx).MailAccount()
	if err != nil {
		return nil, problem(err)
	}
	b.Link = b.Link && account.PagesAt != "" // where customers reach us; else they go without
	var all []MailBody
	for _, id := range b.Papers {
		all = append(all, MailBody{Papers: []int64{id}, PDF: true, Link: b.Link, MailWhen: b.MailWhen})
	}
	for _, id := range b.Customers {
		all = append(all, MailBody{Customer: id, Statement: b.Statement, Link: b.Link, MailWhen: b.MailWhen})
	}
	out := ManyMails{Left: []MailLeft{}}
	for _, one := range all {
		w, err := one.wanted()
		if err == nil {
			if w, err = s.book.ProposeMail(ctx, w); err == nil {
				_, err = s.book.QueueMail(ctx, s.user(ctx), w)
			}
		}
		if why, refused := refusedFor(err); refused {
			name, err := s.nameOf(ctx, one)
			if err != nil {
				return nil, problem(err)
			}
			out.Left = append(out.Left, MailLeft{name, why})
			continue
		}
		if err != nil {
			return nil, problem(err)
		}
		out.Made++
	}
	s.wakeOutbox()
	return &struct{ Body ManyMails }{out}, nil
}

// refusedFor is why something was refused.
func refusedFor(err error) (string, bool) {
	refusals, ok := err.(posting.Refusals)
	if !ok || len(refusals) == 0 {
		return "", false
	}
	return refusals[0].Text, true
}
