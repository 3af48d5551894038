package store

import (
	"bytes"
	"cmp"
	"hash/maphash"
	"sort"
)

// pieces of text are one stretch, each with a NUL behind it: of many thousand
// strings each would be looked at whenever memory is tidied up.
type pieces struct {
	text []byte
	ends []uint32
}

// end ends the piece that was added to the text.
func (p *pieces) end() {
	p.text = append(p.text, 0)
	p.ends = append(p.ends, uint32(len(p.text)))
}

// of is the nth, from 0.
func (p *pieces) of(n int) []byte { return p.text[p.start(n) : p.ends[n]-1] }

func (p *pieces) start(n int) uint32 {
	if n == 0 {
		return 0
	}
	return p.ends[n-1]
}

// with is the first from the nth on that contains words; their count where none does.
func (p *pieces) with(words []byte, n int) int {
	if n >= len(p.ends) {
		return len(p.ends)
	}
	start := p.start(n)
	at := bytes.Index(p.text[start:], words)
	if at < 0 {
		return len(p.ends)
	}
	return sort.Search(len(p.ends), func(k int) bool { return int(p.ends[k]) > int(start)+at })
}

// phrases are what many papers say alike: names of customers, titles. Each is
// kept once, up to so many of them, for whoever writes another title each time,
// and found again by its hash.
type phrases struct {
	pieces
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
		p.add("", maphash.String(p.seed, ""))
	}
	hash := maphash.String(p.seed, phrase)
	at, known := p.at[hash]
	full := len(p.ends) >= cmp.Or(p.most, mostPhrases) || len(p.text)+len(phrase) >= mostPhraseText
	switch {
	case !known && !full:
		return p.add(phrase, hash), true
	case known && string(p.of(int(at))) == phrase: // two may have one hash
		return at, true
	}
	return 0, false
}

func (p *phrases) add(phrase string, hash uint64) uint32 {
	at := uint32(len(p.ends))
	p.text = append(p.text, phrase...)
	p.end()
	p.at[hash] = at
	return at
}

// say tells by place which of them contain words; nil where none does.
func (p *phrases) say(words string) []bool {
	var found []bool
	for n := p.with([]byte(words), 0); n < len(p.ends); n = p.with([]byte(words), n+1) {
		if found == nil {
			found = make([]bool, len(p.ends))
		}
		found[n] = true
	}
	return found
}
