package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"database/sql/driver"
	"encoding/binary"
	"encoding/hex"
	"fmt"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync"

	"cleantally/core/day"
	"cleantally/core/money"
)

// sealed are the tables whose rows are posted once and stay as they are, each
// with the act that wrote a row t. What commit keeps up to date is no part of a
// seal: it is worked out anew.
var sealed = map[string]string{
	"papers":         "t.act_id",
	"paper_billing":  ofPaper,
	"paper_offers":   ofPaper,
	"paper_own_sums": ofPaper,
	"paper_payment":  ofPaper,
	"paper_spans":    ofPaper,
	"paper_lines":    ofPaper,
	"open_items":     ofPaper,
	"allocations":    "t.act_id",
	"item_moves":     "COALESCE((SELECT a.act_id FROM allocations a WHERE a.id = t.allocation_id), (SELECT p.act_id FROM open_items i JOIN papers p ON p.id = i.paper_id WHERE i.id = t.item_id))",
	"entries":        "t.act_id",
	"entry_lines":    "(SELECT e.act_id FROM entries e WHERE e.id = t.entry_id)",
	"uses":           "t.act_id",
	"stock_moves":    "t.act_id",
	"stock_serials":  "(SELECT m.act_id FROM stock_moves m WHERE m.id = t.move_id)",
	"charged_days":   "t.act_id",
	"freed_days":     "t.act_id",
	"ties":           "t.act_id",
	"freed_ties":     "t.act_id",
	"disputes":       "t.act_id",
}

const ofPaper = "(SELECT p.act_id FROM papers p WHERE p.id = t.paper_id)"

// unsealed are columns of them that commit keeps, or that SQLite counts.
var unsealed = map[string]bool{
	"open_items.open": true, "open_items.open_tax": true, "open_items.own_open": true, "open_items.own_open_tax": true, "open_items.moved": true,
	"item_moves.id": true, "entry_lines.id": true, "uses.id": true, "stock_moves.id": true, "charged_days.id": true, "ties.id": true, "disputes.id": true,
}

// content is what an act wrote: the sum of the hashes of its rows, in whatever
// order they are.
type content [4]uint64

// A shape is how rows of a table are read for a seal: their columns by name,
// whatever order they come in.
type shape struct {
	table   string
	columns []string
	order   []int
}

// shapes are the shapes of the statements that write, by what they write into:
// worked out once.
var shapes sync.Map

func shapeInto(into string) shape {
	if s, known := shapes.Load(into); known {
		return s.(shape)
	}
	table, list, _ := strings.Cut(into, " ")
	s := shapeOf(table, strings.Split(strings.Trim(list, "()"), ", "))
	shapes.Store(into, s)
	return s
}

func shapeOf(table string, columns []string) shape {
	s := shape{table: table, columns: columns}
	for n, column := range columns {
		if !unsealed[table+"."+column] {
			s.order = append(s.order, n)
		}
	}
	slices.SortFunc(s.order, func(a, b int) int { return strings.Compare(columns[a], columns[b]) })
	return s
}

// later are columns that came after rows were sealed without them, with what they
// say in those rows: that changes no seal.
var later map[string]string

// add adds a row: its table, and each column with its value; NULL is left out.
func (c *content) add(s shape, values []any) {
	text := append(make([]byte, 0, 512), s.table...)
	for _, n := range s.order {
		before := len(text)
		text = append(append(append(text, 0), s.columns[n]...), '=')
		said := len(text)
		text = appendWritten(text, values[n])
		if len(text) == said || later != nil && later[s.table+"."+s.columns[n]] == string(text[said:]) {
			text = text[:before]
		}
	}
	sum := sha256.Sum256(text)
	for n := range c {
		c[n] += binary.BigEndian.Uint64(sum[8*n:])
	}
}

// appendWritten appends a value as the file holds it; nothing for NULL.
func appendWritten(to []byte, v any) []byte {
	switch x := v.(type) { // what is written most
	case nil:
		return to
	case int64:
		return appendNumber(to, x)
	case int:
		return appendNumber(to, int64(x))
	case money.Amount:
		return appendNumber(to, int64(x))
	case string:
		return appendText(to, x)
	case day.Day:
		return appendText(to, string(x))
	case driver.Valuer:
		of, _ := x.Value()
		return appendWritten(to, of)
	}
	switch x := reflect.ValueOf(v); x.Kind() {
	case reflect.Int, reflect.Int64, reflect.Int32:
		return appendNumber(to, x.Int())
	case reflect.Bool:
		if x.Bool() {
			return appendNumber(to, 1)
		}
		return appendNumber(to, 0)
	case reflect.String:
		return appendText(to, x.String())
	}
	return fmt.Appendf(to, "?%T:%v", v, v)
}

func appendNumber(to []byte, n int64) []byte { return strconv.AppendInt(append(to, 'i'), n, 10) }

func appendText(to []byte, s string) []byte {
	return append(append(strconv.AppendInt(append(to, 's'), int64(len(s)), 10), ':'), s...)
}

// seal is the seal of an act that wrote something, after the seal before it.
func (c content) seal(a Act, before string) string {
	text := func(s *string) string {
		if s == nil {
			return "-"
		}
		return "+" + *s
	}
	h := sha256.New()
	for _, part := range []string{before, strconv.FormatInt(a.ID, 10), a.At, strconv.FormatInt(a.UserID, 10), a.Action, a.Summary, a.Detail, text(a.Key), text(a.KeyHash), text(a.Answer)} {
		h.Write([]byte(strconv.Itoa(len(part)) + ":" + part))
	}
	for _, n := range c {
		var b [8]byte
		binary.BigEndian.PutUint64(b[:], n)
		h.Write(b[:])
	}
	return hex.EncodeToString(h.Sum(nil))
}

// seal seals an act with what it wrote, after the seal before it.
func (tx *Tx) seal(a Act, c content, before string) error {
	_, err := tx.exec("INSERT INTO seals (act_id, seal) VALUES (?, ?)", a.ID, c.seal(a, before))
	return err
}

// sealOlder seals what was recorded before acts were sealed.
func (tx *Tx) sealOlder() error {
	from, older, err := one[int64](tx.Reader, "SELECT a.id FROM acts a WHERE a.id > COALESCE((SELECT MAX(act_id) FROM seals), 0) ORDER BY a.id LIMIT 1")
	if err != nil || !older {
		return err
	}
	wrote, err := tx.contents(from)
	if err != nil {
		return err
	}
	before, _, err := one[string](tx.Reader, "SELECT seal FROM seals ORDER BY act_id DESC LIMIT 1")
	if err != nil {
		return err
	}
	var seals rows
	err = tx.eachAct(from, func(a Act) error {
		before = wrote[a.ID].seal(a, before)
		seals.add(a.ID, before)
		return nil
	})
	w := &writer{tx: tx, err: err}
	w.insert("seals (act_id, seal)", seals)
	return w.err
}

// eachAct goes through the audit record from an act on.
func (r Reader) eachAct(from int64, f func(Act) error) error {
	all, err := r.db.Raw("SELECT id, at, user_id, action, summary, detail, key, key_hash, answer FROM acts WHERE id >= ? ORDER BY id", from).Rows()
	if err != nil {
		return err
	}
	defer all.Close()
	for all.Next() {
		var a Act
		if err := all.Scan(&a.ID, &a.At, &a.UserID, &a.Action, &a.Summary, &a.Detail, &a.Key, &a.KeyHash, &a.Answer); err != nil {
			return err
		}
		if err := f(a); err != nil {
			return err
		}
	}
	return all.Err()
}

// contents reads back what every act from one on wrote.
func (r Reader) contents(from int64) (map[int64]content, error) {
	all := map[int64]content{}
	for table, act := range sealed {
		found, err := r.db.Raw("SELECT " + act + " AS \"act\", t.* FROM " + table + " t").Rows()
		if err != nil {
			return nil, err
		}
		err = addRows(all, table, from, found)
		if err != nil {
			return nil, fmt.Errorf("%s cannot be read: %w", table, err)
		}
	}
	return all, nil
}

func addRows(all map[int64]content, table string, from int64, found *sql.Rows) error {
	defer found.Close()
	columns, err := found.Columns()
	if err != nil {
		return err
	}
	values, to := make([]any, len(columns)), make([]any, len(columns))
	for n := range values {
		to[n] = &values[n]
	}
	of := shapeOf(table, columns[1:])
	for found.Next() {
		if err := found.Scan(to...); err != nil {
			return err
		}
		act, _ := values[0].(int64) // what no act wrote is told with act 0
		if act >= from || act == 0 {
			c := all[act]
			c.add(of, values[1:])
			all[act] = c
		}
	}
	return found.Err()
}

// Seals proves every act, and all that it wrote, by its seal, and returns a
// sentence for each that is not as it was.
func (r Reader) Seals(ctx context.Context) ([]string, error) {
	wrote, err := r.contents(0)
	if err != nil {
		return nil, err
	}
	type mark struct {
		ActID int64
		Seal  string
	}
	marks, err := scan[mark](r, "SELECT act_id, seal FROM seals ORDER BY act_id")
	if err != nil {
		return nil, err
	}
	var found []string
	if _, strange := wrote[0]; strange {
		found = append(found, "something was posted that no act wrote")
		delete(wrote, 0)
	}
	next, before, last := 0, "", int64(0)
	err = r.eachAct(0, func(a Act) error {
		if a.ID != last+1 {
			found = append(found, fmt.Sprintf("acts %d to %d are missing", last+1, a.ID-1))
		}
		last = a.ID
		for ; next < len(marks) && marks[next].ActID < a.ID; next++ {
			before = marks[next].Seal
		}
		if next == len(marks) || marks[next].ActID != a.ID {
			found = append(found, fmt.Sprintf("act %d, %q, bears no seal", a.ID, a.Summary))
			delete(wrote, a.ID)
			return ctx.Err()
		}
		if want := wrote[a.ID].seal(a, before); want != marks[next].Seal {
			found = append(found, r.hurt(a))
		}
		before = marks[next].Seal
		next++
		delete(wrote, a.ID)
		return ctx.Err()
	})
	if len(wrote) > 0 {
		found = append(found, fmt.Sprintf("something was posted by %d acts that are not recorded", len(wrote)))
	}
	return found, err
}

// hurt says what is not as it was posted.
func (r Reader) hurt(a Act) string {
	numbers, err := scan[string](r, "SELECT number FROM papers WHERE act_id = ? ORDER BY id", a.ID)
	if err != nil || len(numbers) == 0 {
		return fmt.Sprintf("act %d, %q, is not as it was recorded", a.ID, a.Summary)
	}
	return fmt.Sprintf("%s is not as it was posted, or what was recorded of it is not (act %d)", strings.Join(numbers, ", "), a.ID)
}
