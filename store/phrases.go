package store

import (
	"bytes"
	"cmp"
	"hash/maphash"
	"sort"
)

// phrases are what many papers say alike: names of customers, titles. Each is
// kept once, up to so many of them, for whoever writes another title each time.
// They are one stretch of text, and found again by their hash: of many thousand
// pieces each would be looked at whenever memory is tidied up.
type phrases struct {
	text []byte // with a NUL behind each
	ends []uint32
	at   map[uint64]uint32 // by hash
	seed maphash.Seed
	most int // 0 for mostPhrases
}

const (
	mostPhrases    = 200_000
	mostPhraseText = 1 << 30
)

// put is the place of a phrase, and whether it is kept.
func (p *phrases) put(phrase string) (uint32, bool) {
	if p.at == nil {
		p.at, p.seed = map[uint64]uint32{}, maphash.MakeSeed()
		p.add("")
	}
	at, known := p.at[maphash.String(p.seed, phrase)]
	full := len(p.ends) >= cmp.Or(p.most, mostPhrases) || len(p.text)+len(phrase) >= mostPhraseText
	switch {
	case !known && !full:
		return p.add(phrase), true
	case known && string(p.of(at)) == phrase: // two may have one hash
		return at, true
	}
	return 0, false
}

func (p *phrases) add(phrase string) uint32 {
	at := uint32(len(p.ends))
	p.text = append(append(p.text, phrase...), 0)
	p.ends = append(p.ends, uint32(len(p.text)))
	p.at[maphash.String(p.seed, phrase)] = at
	return at
}

func (p *phrases) of(at uint32) []byte { return p.text[p.start(int(at)) : p.ends[at]-1] }

func (p *phrases) start(at int) uint32 {
	if at == 0 {
		return 0
	}
	return p.ends[at-1]
}

// with tells by place which of them contain words; nil where none does.
func (p *phrases) with(words string) []bool {
	var found []bool
	for start := 0; start < len(p.text); {
		next := bytes.Index(p.text[start:], []byte(words))
		if next < 0 {
			break
		}
		n := sort.Search(len(p.ends), func(k int) bool { return int(p.ends[k]) > start+next })
		if found == nil {
			found = make([]bool, len(p.ends))
		}
		found[n], start = true, int(p.ends[n])
	}
	return found
}
