package posting

import (
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
)

// Token names an effect as it was shown, with the command that it is of, its
// warnings and the second word that it asks for: whoever posts with a token
// posts what was on screen, or nothing.
//
// The balances before and after are not in it, for others move them; nor are
// numbers that posting gives, which another paper may take first. A number that
// was chosen is part of the command.
func (e Effect) Token(command []byte) string {
	papers := make([]Paper, len(e.Papers))
	for i, p := range e.Papers {
		papers[i] = *p
		papers[i].Number = ""
	}
	items := make([]Item, len(e.Items))
	for i, item := range e.Items {
		item.Number = ""
		items[i] = item
	}
	entries := make([]Entry, len(e.Entries))
	for i, entry := range e.Entries {
		entry.Text = "" // bears the number
		entries[i] = entry
	}
	e.Papers, e.Items, e.Entries, e.Balances, e.Summary = nil, nil, nil, nil, ""
	shown, err := json.Marshal(struct {
		Command json.RawMessage
		Papers  []Paper
		Items   []Item
		Entries []Entry
		Rest    Effect
	}{command, papers, items, entries, e})
	if err != nil {
		panic(err) // an effect is plain data
	}
	sum := sha256.Sum256(shown)
	return base64.RawURLEncoding.EncodeToString(sum[:18])
}
