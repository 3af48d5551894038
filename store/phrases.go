package store

import (
	"cmp"
	"strings"
)

// phrases are what many papers say alike: names of customers, titles. Each is
// kept once, up to so many of them, for whoever writes another title each time.
type phrases struct {
	all  []string
	at   map[string]uint32
	most int // 0 for mostPhrases
}

const mostPhrases = 200_000

// put is the place of a phrase, and whether it is kept.
func (p *phrases) put(phrase string) (uint32, bool) {
	if p.at == nil {
		p.all, p.at = []string{""}, map[string]uint32{"": 0}
	}
	at, known := p.at[phrase]
	if !known && len(p.all) < cmp.Or(p.most, mostPhrases) {
		at, known = uint32(len(p.all)), true
		phrase = strings.Clone(phrase)
		p.all = append(p.all, phrase)
		p.at[phrase] = at
	}
	return at, known
}

// with tells by place which of them contain words; nil where none does.
func (p *phrases) with(words string) []bool {
	var found []bool
	for n, phrase := range p.all {
		if strings.Contains(phrase, words) {
			if found == nil {
				found = make([]bool, len(p.all))
			}
			found[n] = true
		}
	}
	return found
}
