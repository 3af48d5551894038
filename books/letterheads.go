package books

import (
	"bytes"
	"cleantally/core/rights"
	"context"
	"encoding/json"
	"fmt"
	"image"
	_ "image/jpeg" // logos are PNG or JPEG
	_ "image/png"
	"net/http"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/sheet"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// Chosen says in which letterhead a paper goes out.
const chosenLetterhead = "letterhead"

// mostLogo is how large a logo may be, in bytes.
const mostLogo = 1_000_000

var aColour = regexp.MustCompile(`^#[0-9a-f]{6}$`)

// SaveLetterhead stores a letterhead: a new one when its ID is 0.
func (b *Book) SaveLetterhead(ctx context.Context, user int64, l *master.Letterhead) error {
	return save(ctx, b, user, "letterhead", l, func(tx *store.Tx, l *master.Letterhead) error {
		var v validation
		v.text("name", &l.Name, true, 80)
		v.text("foot", &l.Foot, false, 600)
		l.Colour = strings.ToLower(strings.TrimSpace(l.Colour))
		if l.Colour != "" && !aColour.MatchString(l.Colour) {
			v.refuse("colour", "form", "A colour is written as # and six figures or letters, for example #9a4a1c.")
		}
		if strings.Count(l.Foot, "\n") > 4 {
			v.refuse("foot", "too long", "The foot has room for 5 lines.")
		}
		other, there, err := store.IDBy[master.Letterhead](&tx.Reader, "name", l.Name)
		if err != nil {
			return err
		}
		v.unique("name", l.Name, l.ID, other, there)
		if err := checkLetterhead(&v, &tx.Reader, *l); err != nil {
			return err
		}
		if err := v.err(); err != nil {
			return err
		}
		return put(tx, l.ID, l.Version, l)
	})
}

// checkLetterhead refuses kinds that another letterhead has, and words and
// columns that there are none of.
func checkLetterhead(v *validation, r *store.Reader, l master.Letterhead) error {
	own, err := letterheadOf(l)
	if err != nil {
		v.refuse("words", "form", "The words cannot be read.")
		return nil
	}
	for _, c := range own.Hidden {
		if !slices.Contains(sheet.Columns, c) {
			v.refuse("hidden", "unknown", "There is no column %q.", c)
		}
	}
	for ours, theirs := range own.Words {
		switch {
		case !slices.Contains(sheet.Words, ours):
			v.refuse("words", "unknown", "The papers do not say %q.", ours)
		case len(theirs) > 200:
			v.refuse("words", "too long", "In place of %q at most 200 characters fit.", ours)
		case theirs != "" && !sheet.Fits(ours, theirs):
			v.refuse("words", "form", "%q keeps %d times %%s, for what is told there.", ours, strings.Count(ours, "%s"))
		}
	}
	kinds, err := kindsOf(l)
	if err != nil {
		v.refuse("kinds", "form", "The kinds cannot be read.")
		return nil
	}
	all, err := store.All[master.Letterhead](r, "id")
	for _, k := range kinds {
		if _, known := posting.Describe(k); !known {
			v.refuse("kinds", "unknown", "There is no kind of paper %q.", k)
		}
		for _, other := range all {
			if theirs, _ := kindsOf(other); other.ID != l.ID && !other.Inactive && !l.Inactive && slices.Contains(theirs, k) {
				v.refuse("kinds", "taken", "%s goes out in %s. Take it off there first.", posting.Sentence(string(k)), other.Name)
			}
		}
	}
	return err
}

func kindsOf(l master.Letterhead) (kinds []posting.Kind, err error) {
	if l.Kinds != "" {
		err = json.Unmarshal([]byte(l.Kinds), &kinds)
	}
	return kinds, err
}

// letterheadOf is a letterhead as sheets are drawn in it, without its logo.
func letterheadOf(l master.Letterhead) (sheet.Letterhead, error) {
	s := sheet.Letterhead{Name: l.Name, Colour: l.Colour, Foot: l.Foot, Window: sheet.Window(l.Side), NoCode: l.NoCode, NoBank: l.NoBank}
	for _, part := range []struct {
		text string
		to   any
	}{{l.Hidden, &s.Hidden}, {l.Words, &s.Words}} {
		if part.text == "" {
			continue
		}
		if err := json.Unmarshal([]byte(part.text), part.to); err != nil {
			return s, err
		}
	}
	return s, nil
}

// letterheadFor is the letterhead that a paper goes out in, with its logo.
func letterheadFor(r *store.Reader, p posting.Paper) (sheet.Letterhead, error) {
	l, there, err := r.LetterheadOf(p)
	if err != nil || !there {
		return sheet.Letterhead{}, err
	}
	s, err := letterheadOf(l)
	if err != nil {
		return s, err
	}
	s.Logo, err = r.Logo(l.ID)
	return s, err
}

// SetLogo replaces the logo of a letterhead by a PNG or JPEG; with no bytes it
// has none. It returns posting.Refusals or store.ErrNoRecord.
func (b *Book) SetLogo(ctx context.Context, user, letterhead int64, picture []byte) error {
	var v validation
	if len(picture) > mostLogo {
		v.refuse("logo", "too large", "A logo has at most 1 MB. Save it smaller.")
	} else if len(picture) > 0 {
		size, kind, err := image.DecodeConfig(bytes.NewReader(picture))
		switch {
		case err != nil || kind != "png" && kind != "jpeg":
			v.refuse("logo", "no picture", "A logo is a picture, PNG or JPEG.")
		case size.Width*size.Height > mostPixels:
			v.refuse("logo", "too large", "The logo would unfold to %d × %d points. Save it smaller.", size.Width, size.Height)
		}
	}
	if err := v.err(); err != nil {
		return err
	}
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		l, ok, err := store.Find[master.Letterhead](&tx.Reader, letterhead)
		if err != nil {
			return err
		}
		if !ok {
			return store.ErrNoRecord
		}
		if err := tx.SetLogo(letterhead, picture); err != nil {
			return err
		}
		did := "Set the logo of the letterhead "
		if len(picture) == 0 {
			did = "Took the logo off the letterhead "
		}
		return b.record(tx, user, "save letterhead", did+l.Name, nil)
	})
}

// ChooseLetterhead says in which letterhead a posted paper goes out; with 0 in
// that of its customer or kind. It returns posting.Refusals or store.ErrNoRecord.
func (b *Book) ChooseLetterhead(ctx context.Context, user, paper, letterhead int64) error {
	return b.change(ctx, rights.ToSell, func(tx *store.Tx) error {
		p, ok, err := tx.Paper(paper)
		if err != nil {
			return err
		}
		if !ok {
			return store.ErrNoRecord
		}
		name := "that of its customer or kind"
		if letterhead != 0 {
			l, there, err := store.Find[master.Letterhead](&tx.Reader, letterhead)
			if err != nil {
				return err
			}
			if !there || l.Inactive {
				return posting.Refusals{{Field: "letterhead", Rule: "missing", Text: "There is no such letterhead in use. Choose another."}}
			}
			name = l.Name
		}
		act := store.Act{UserID: user, Action: "choose letterhead", Summary: fmt.Sprintf("%s goes out in the letterhead %s", p.Number, name)}
		if err := tx.Record(&act, b.clock()); err != nil {
			return err
		}
		return tx.RecordEvent(act.ID, store.Event{PaperID: paper, Day: b.Today(), Event: chosenLetterhead, Text: name, Reference: strconv.FormatInt(letterhead, 10)})
	})
}

// PictureType is the type of a picture as its content says.
func PictureType(picture []byte) string { return http.DetectContentType(picture) }

// TryLetterhead is the newest invoice, or where there is none a made-up one, as
// it would go out in a letterhead, which need not be stored yet.
func (b *Book) TryLetterhead(ctx context.Context, l master.Letterhead) (sheet.Sheet, error) {
	own, err := letterheadOf(l)
	if err != nil {
		return sheet.Sheet{}, posting.Refusals{{Field: "words", Rule: "form", Text: "The words cannot be read."}}
	}
	var d sheet.Data
	err = b.db.Snapshot(ctx, func(r *store.Reader) error {
		id, there, err := r.NewestInvoice()
		if err != nil {
			return err
		}
		if there {
			d, _, err = sheetData(r, id, b.Today())
			return err
		}
		d, err = sheetFirm(r)
		d.Paper = sample(b.Today())
		d.Deducts = func(posting.PaperLine) bool { return false }
		d.Open = d.Paper.Total
		return err
	})
	d.Words = own.Words
	return sheet.Of(d), err
}

// sample is an invoice as it might be, for a firm that has billed nothing yet.
func sample(today day.Day) posting.Paper {
	line := func(text string, net money.Amount) posting.PaperLine {
		return posting.PaperLine{Text: text, Quantity: decimal.New(1, 0), UnitPrice: decimal.New(int64(net), -2), TaxCodeID: 1, TaxPercent: decimal.New(20, 0), Before: net, Net: posting.Firm(net), Tax: posting.Firm(net / 5)}
	}
	p := posting.Paper{Kind: posting.Invoice, Number: "0001", Day: today, PartyName: "A customer", PartyAddress: "1 High Street\nTown", Total: 600000, Lines: []posting.PaperLine{line("Helical stair, oak, made and fitted", 400000), line("Handrail", 100000)}}
	p.Due = today.Add(30)
	return p
}
