package sheet

// Letterhead is a named layout of the firm's papers (docs/rules.md, part 12).
// The zero value looks good all the same.
type Letterhead struct {
	Name   string
	Logo   []byte // PNG or JPEG; none for the firm's name in letters
	Colour string // of heading and rules, "#9a4a1c"; "" for that
	Foot   string // lines at the foot of each page
	Window Window
	Hidden []string          // columns that are left out, by our names for them
	Words  map[string]string // the firm's words in place of ours
	NoCode bool              // no payment code
	NoBank bool              // nothing of how to pay
}

// Window is where the address stands: where the window of an envelope shows it.
type Window string

// The places of the address. DIN 5008 form B has its field 45 mm from the top and
// 20 mm from the left; envelopes with a window at the right want it there.
const (
	WindowLeft  Window = "left"
	WindowRight Window = "right"
)
