package store

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"math"
	"slices"
	"sort"
	"strings"
	"sync"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"gorm.io/gorm"
)

// A finder keeps in memory what papers are searched by, so that any part of it is
// found without a look at each paper in the file: some 45 bytes a paper. Papers
// never change, so it only grows; what it knows was committed.
type finder struct {
	mu      sync.RWMutex
	loading sync.Mutex // whoever reads what is new
	blocks  []*block
	last    int64 // the ID of the last paper that is known
	kinds   []posting.Kind
	phrases phrases
	pool    *gorm.DB // from which very many are read, beside whoever searches
}

// A block is a stretch of papers, in the order of their IDs.
type block struct {
	pieces          // of each paper its number, its reference and what else no other says, a line each
	names  []uint32 // phrases
	titles []uint32
	first  int64    // the ID of its first paper
	ids    []uint32 // after that
	days   []int32  // as yyyymmdd
	kinds  []uint8
	totals []int32
	large  map[int]money.Amount // totals beyond that, by place
}

const (
	blockPapers = 10_000
	loadAtOnce  = 20_000 // papers that a search waits for; more are read beside it
)

// ready tells whether the finder knows all papers that r sees, and can look for
// words. What is new it reads; where that is very much it begins to, and is not
// ready yet.
func (f *finder) ready(r Reader, words string) (bool, error) {
	if strings.ContainsAny(words, "\n\x00") { // what it knows is apart, line by line
		return false, nil
	}
	through, err := r.lastPaper()
	if err != nil {
		return false, err
	}
	f.mu.RLock()
	missing := through - f.last
	f.mu.RUnlock()
	if missing <= 0 {
		return true, nil
	}
	if missing <= loadAtOnce {
		return true, f.know(r, through)
	}
	if f.loading.TryLock() {
		beside := Reader{db: f.pool.WithContext(context.Background())}
		go func() {
			defer f.loading.Unlock()
			_ = f.load(beside, through) // whoever searches next goes on with it
		}()
	}
	return false, nil
}

// KnowPapers reads what papers are searched by.
func (r Reader) KnowPapers() error {
	through, err := r.lastPaper()
	if err != nil {
		return err
	}
	return r.finder.know(r, through)
}

// lastPaper is the ID of the paper that was posted last; 0 for none.
func (r Reader) lastPaper() (int64, error) {
	id, _, err := one[int64](r, "SELECT COALESCE(MAX(id), 0) FROM papers")
	return id, err
}

// know reads what is new through a paper, once nobody else does.
func (f *finder) know(r Reader, through int64) error {
	f.loading.Lock()
	defer f.loading.Unlock()
	return f.load(r, through)
}

// load reads what is new through a paper, a block at a time: a long look would
// hold up those who write.
func (f *finder) load(r Reader, through int64) error {
	for f.last < through {
		rows := make([]searched, 0, 1000)
		err := r.rows("SELECT id, day, kind, total, search FROM papers WHERE id > ? AND id <= ? ORDER BY id LIMIT ?", func(r *row) {
			rows = append(rows, searched{id: r.int(0), day: r.day(1), kind: posting.Kind(r.text(2)), total: r.amount(3), words: r.text(4)})
		}, f.last, through, blockPapers)
		if err != nil {
			return err
		}
		f.mu.Lock()
		f.add(rows)
		if len(rows) < blockPapers {
			f.last = through
		}
		f.mu.Unlock()
	}
	return nil
}

// searched is a paper by what it is searched by.
type searched struct {
	id    int64
	day   day.Day
	kind  posting.Kind
	total money.Amount
	words string
}

func (f *finder) add(rows []searched) {
	for _, x := range rows {
		if len(f.blocks) == 0 || f.blocks[len(f.blocks)-1].full(x.id) {
			f.blocks = append(f.blocks, &block{first: x.id})
		}
		kind := slices.Index(f.kinds, x.kind)
		if kind < 0 {
			kind, f.kinds = len(f.kinds), append(f.kinds, x.kind)
		}
		b := f.blocks[len(f.blocks)-1]
		name, title := f.said(b, x.words)
		b.names, b.titles = append(b.names, name), append(b.titles, title)
		b.ids, b.days, b.kinds = append(b.ids, uint32(x.id-b.first)), append(b.days, dayNumber(x.day)), append(b.kinds, uint8(kind))
		b.putTotal(x.total)
		f.last = x.id
		if len(b.ids) == blockPapers {
			b.trim()
		}
	}
}

// said adds what a paper is searched by, which is its number, its name, its
// reference, its title and its cheque, a line each: name and title as phrases.
func (f *finder) said(b *block, words string) (name, title uint32) {
	lines := append(strings.SplitN(words, "\n", 5), "", "", "", "")[:5]
	var known bool
	if name, known = f.phrases.put(lines[1]); known {
		lines[1] = ""
	}
	if title, known = f.phrases.put(lines[3]); known {
		lines[3] = ""
	}
	b.text = append(append(append(b.text, lines[0]...), '\n'), lines[2]...)
	for _, more := range []string{lines[1], lines[3], lines[4]} {
		if more != "" {
			b.text = append(append(b.text, '\n'), more...)
		}
	}
	b.end()
	return name, title
}

// full tells whether a paper belongs into the next block.
func (b *block) full(id int64) bool {
	return len(b.ids) == blockPapers || id-b.first > math.MaxUint32
}

func (b *block) putTotal(total money.Amount) {
	if small := int32(total); money.Amount(small) == total {
		b.totals = append(b.totals, small)
		return
	}
	if b.large == nil {
		b.large = map[int]money.Amount{}
	}
	b.large[len(b.totals)] = total
	b.totals = append(b.totals, 0)
}

func (b *block) id(n int) int64 { return b.first + int64(b.ids[n]) }

func (b *block) total(n int) money.Amount {
	if large, there := b.large[n]; there {
		return large
	}
	return money.Amount(b.totals[n])
}

// trim gives back what a block that is full will not need.
func (b *block) trim() {
	b.text, b.ends, b.names, b.titles = slices.Clone(b.text), slices.Clone(b.ends), slices.Clone(b.names), slices.Clone(b.titles)
	b.ids, b.days, b.kinds, b.totals = slices.Clone(b.ids), slices.Clone(b.days), slices.Clone(b.kinds), slices.Clone(b.totals)
}

// dayNumber is a day as a number in the same order; 0 for none.
func dayNumber(d day.Day) (n int32) {
	for _, c := range []byte(d) {
		if c >= '0' && c <= '9' {
			n = n*10 + int32(c-'0')
		}
	}
	return n
}

// A wanted is what papers are searched by.
type wanted struct {
	words    string // in small letters
	numbers  bool   // in numbers and references alone
	from, to money.Amount
	amounts  bool // or by an amount from, to, without its sign
	since    day.Day
	until    day.Day
	kind     posting.Kind
	newest   bool // are looked at first
}

// amount tells whether a total is one that is searched for.
func (w wanted) amount(total money.Amount) bool {
	return w.amounts && total.Abs() >= w.from && total.Abs() <= w.to
}

// A hit is a paper that was found.
type hit struct {
	id     int64
	day    int32
	total  money.Amount
	begins bool // its number begins so, or it is found by its amount
}

// find calls yield with each paper that is found: block by block, the newest
// first where that is wanted, and within one in the order of their IDs.
func (f *finder) find(w wanted, yield func(hit)) {
	f.mu.RLock()
	defer f.mu.RUnlock()
	kind := -1
	if w.kind != "" {
		if kind = slices.Index(f.kinds, w.kind); kind < 0 {
			return
		}
	}
	since, until := dayNumber(w.since), cmp.Or(dayNumber(w.until), 99991231)
	var said []bool
	if !w.numbers {
		said = f.phrases.say(w.words)
	}
	for n := range f.blocks {
		b := f.blocks[n]
		if w.newest {
			b = f.blocks[len(f.blocks)-1-n]
		}
		next := b.matches(w, said)
		for n := next(0); n < len(b.ids); n = next(n + 1) {
			if b.days[n] >= since && b.days[n] <= until && (kind < 0 || int(b.kinds[n]) == kind) {
				yield(hit{b.id(n), b.days[n], b.total(n), w.amount(b.total(n)) || bytes.HasPrefix(b.of(n), []byte(w.words))})
			}
		}
	}
}

// matches returns what finds the first paper that matches from the nth on, where
// some phrases are what is looked for.
func (b *block) matches(w wanted, said []bool) func(n int) int {
	words := []byte(w.words)
	found := -1 // the next by its words
	return func(n int) int {
		if found < n {
			found = b.with(words, n)
		}
		for w.numbers && found < len(b.ids) && !inNumbers(b.of(found), words) {
			found = b.with(words, found+1)
		}
		for ; (w.amounts || said != nil) && n < found; n++ {
			if w.amount(b.total(n)) || said != nil && (said[b.names[n]] || said[b.titles[n]]) {
				return n
			}
		}
		return found
	}
}

// inNumbers tells whether words stand in a paper's number or reference.
func inNumbers(of, words []byte) bool {
	number, rest, _ := bytes.Cut(of, []byte{'\n'})
	reference, _, _ := bytes.Cut(rest, []byte{'\n'})
	return bytes.Contains(number, words) || bytes.Contains(reference, words)
}

// listed is a list as SQL reads it by json_each: IDs, texts, or rows of them.
func listed[T any](all []T) string {
	text, _ := json.Marshal(all)
	return string(text)
}

// fewFound are so few that they are looked at one by one.
const fewFound = 5000

// found are the IDs of what is found, as SQL reads them by json_each, where they
// are few.
func (f *finder) found(w wanted) (ids string, few bool) {
	all := []int64{}
	f.find(w, func(h hit) {
		if len(all) <= fewFound {
			all = append(all, h.id)
		}
	})
	return listed(all), len(all) <= fewFound
}

// paper is one as if it was found; nil where there is none.
func (f *finder) paper(id int64) *hit {
	f.mu.RLock()
	defer f.mu.RUnlock()
	for _, b := range f.blocks {
		if id < b.first || id-b.first > math.MaxUint32 {
			continue
		}
		if n, there := slices.BinarySearch(b.ids, uint32(id-b.first)); there {
			return &hit{id: id, day: b.days[n], total: b.total(n)}
		}
	}
	return nil
}

// A foundPage is a page of what is found by day, with the count and the sum of
// the whole.
type foundPage struct {
	ids   []int64
	count int64
	sum   money.Amount
}

// page returns the first of what is found after a paper, 0 for none, by day.
func (f *finder) page(w wanted, desc bool, after int64, limit int) foundPage {
	var p foundPage
	first := firstHits{limit: limit, before: func(x, y hit) bool {
		c := cmp.Or(cmp.Compare(x.day, y.day), cmp.Compare(x.id, y.id))
		return c < 0 != desc && c != 0
	}}
	var last *hit
	if after != 0 {
		last = f.paper(after)
	}
	w.newest = desc
	f.find(w, func(h hit) {
		p.count, p.sum = p.count+1, p.sum+h.total
		if last == nil || first.before(*last, h) {
			first.add(h)
		}
	})
	p.ids = first.ids()
	return p
}

// best returns the first of what is found, as SQL reads them by json_each: what
// begins so, then the newest.
func (f *finder) best(w wanted, limit int) string {
	w.newest = true
	first := firstHits{limit: limit, before: func(x, y hit) bool {
		if x.begins != y.begins {
			return x.begins
		}
		return cmp.Or(cmp.Compare(x.day, y.day), cmp.Compare(x.id, y.id)) > 0
	}}
	f.find(w, first.add)
	return listed(first.ids())
}

// firstHits are the first of many in some order, and no more of them.
type firstHits struct {
	limit  int
	before func(x, y hit) bool
	hits   []hit
}

func (t *firstHits) add(h hit) {
	if len(t.hits) == t.limit && !t.before(h, t.hits[t.limit-1]) {
		return
	}
	at := sort.Search(len(t.hits), func(n int) bool { return t.before(h, t.hits[n]) })
	t.hits = slices.Insert(t.hits, at, h)
	t.hits = t.hits[:min(len(t.hits), t.limit)]
}

func (t *firstHits) ids() []int64 {
	ids := make([]int64, len(t.hits))
	for n, h := range t.hits {
		ids[n] = h.id
	}
	return ids
}
