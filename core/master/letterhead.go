package master

// Letterhead is a named layout of the firm's papers (docs/rules.md, part 12).
type Letterhead struct {
	ID       int64
	Version  int64
	Name     string
	Colour   string // "#9a4a1c"; "" for the program's own
	Foot     string // lines at the foot of each page
	Side     string // where the address stands: left or right
	Kinds    string // of papers that take it by themselves, as a JSON list
	Hidden   string // columns that are left out, as a JSON list of our names
	Words    string // the firm's words in place of ours, as a JSON object
	NoCode   bool   // no payment code
	NoBank   bool   // no bank details
	Inactive bool
}
