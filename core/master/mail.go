package master

// MailTemplate are the words of mails: of kinds of papers, in a language
// (docs/rules.md, part 12).
type MailTemplate struct {
	ID       int64
	Version  int64
	Name     string
	Kinds    string // of papers, as a JSON list; none for all
	Language string // as the firm calls it; "" for its own
	Subject  string
	Words    string
	Inactive bool
}
