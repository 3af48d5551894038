// Package ratefile reads rates of exchange out of files: CSV, and the reference
// rates that the European Central Bank publishes as XML, which say what one euro
// is worth in other currencies.
package ratefile

import (
	"bytes"
	"encoding/csv"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Most is how many rates one file may have.
const Most = 200_000

// Read reads the rates of a file, each as the value of one unit in the firm's
// currency. What is wrong is told with its line.
func Read(file []byte, firm string) ([]posting.Rate, error) {
	file = bytes.TrimPrefix(file, []byte("\xef\xbb\xbf"))
	if bytes.HasPrefix(bytes.TrimSpace(file), []byte("<")) {
		return readXML(file, firm)
	}
	return readCSV(file, firm)
}

// readCSV reads rows of a currency, a day and a rate, under a head that names them
// in any order: currency, date, rate.
func readCSV(file []byte, firm string) ([]posting.Rate, error) {
	in := csv.NewReader(bytes.NewReader(file))
	in.FieldsPerRecord, in.LazyQuotes, in.TrimLeadingSpace = -1, true, true
	if first, _, _ := bytes.Cut(file, []byte("\n")); bytes.Count(first, []byte(";")) > bytes.Count(first, []byte(",")) {
		in.Comma = ';'
	}
	head, err := in.Read()
	if err != nil {
		return nil, errors.New("the file is empty: it needs a head with currency, date and rate, and a row for each rate")
	}
	at := map[string]int{}
	for n, name := range head {
		at[strings.ToLower(strings.TrimSpace(name))] = n
	}
	for _, name := range []string{"currency", "date", "rate"} {
		if _, ok := at[name]; !ok {
			return nil, fmt.Errorf("there is no column %q: the head of the file names currency, date and rate", name)
		}
	}
	var rates []posting.Rate
	for {
		row, err := in.Read()
		if err == io.EOF {
			return rates, nil
		}
		line, _ := in.FieldPos(0)
		if err != nil {
			return nil, fmt.Errorf("line %d is no row of a CSV file", line)
		}
		cell := func(name string) string {
			if n := at[name]; n < len(row) {
				return strings.TrimSpace(row[n])
			}
			return ""
		}
		if cell("currency")+cell("date")+cell("rate") == "" {
			continue
		}
		rate, err := one(cell("currency"), cell("date"), cell("rate"), firm)
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", line, err)
		}
		if rates = append(rates, rate); len(rates) > Most {
			return nil, fmt.Errorf("the file has more than %d rates: split it", Most)
		}
	}
}

// one reads one rate as it is written.
func one(code, on, text, firm string) (posting.Rate, error) {
	c, err := money.CurrencyOf(strings.ToUpper(code))
	if err != nil {
		return posting.Rate{}, err
	}
	if c.Code == firm {
		return posting.Rate{}, fmt.Errorf("%s is the firm's own currency and needs no rate", firm)
	}
	d, err := day.Parse(on)
	if err != nil {
		return posting.Rate{}, fmt.Errorf("%w: write it as 2026-11-20", err)
	}
	if !strings.Contains(text, ".") {
		text = strings.Replace(text, ",", ".", 1)
	}
	rate, err := decimal.NewFromString(text)
	if err != nil || len(text) > 40 || strings.ContainsAny(text, "eE") {
		return posting.Rate{}, fmt.Errorf("%q is no rate", text)
	}
	if !posting.RateFits(rate) {
		return posting.Rate{}, fmt.Errorf("the rate %s of %s is out of bounds: it is above nil, below %d, with at most %d places", text, c.Code, posting.RateLimit, posting.RatePlaces)
	}
	return posting.Rate{Currency: c.Code, Day: d, Rate: rate}, nil
}

// reference is a file of reference rates: cubes within cubes, a day each, and in
// that a currency each.
type reference struct {
	Days []struct {
		Time  string `xml:"time,attr"`
		Rates []struct {
			Currency string `xml:"currency,attr"`
			Rate     string `xml:"rate,attr"`
		} `xml:"Cube"`
	} `xml:"Cube>Cube"`
}

// readXML turns reference rates round: what one unit is worth in the firm's
// currency, by the euro where that is another.
func readXML(file []byte, firm string) ([]posting.Rate, error) {
	var ref reference
	if err := xml.Unmarshal(file, &ref); err != nil {
		return nil, errors.New("this is no file of reference rates: it is not whole XML")
	}
	if len(ref.Days) == 0 {
		return nil, errors.New("this is no file of reference rates: there is no day in it")
	}
	var rates []posting.Rate
	for _, on := range ref.Days {
		of := map[string]decimal.Decimal{"EUR": decimal.New(1, 0)}
		order := []string{"EUR"}
		for _, r := range on.Rates {
			x, err := one(r.Currency, on.Time, r.Rate, "")
			if err != nil {
				return nil, fmt.Errorf("%s, %s: %w", on.Time, r.Currency, err)
			}
			if _, twice := of[x.Currency]; !twice {
				order = append(order, x.Currency)
			}
			of[x.Currency] = x.Rate
		}
		own, ok := of[firm]
		if !ok {
			return nil, fmt.Errorf("the rates of %s say nothing of %s, the firm's currency", on.Time, firm)
		}
		d, err := day.Parse(on.Time)
		if err != nil {
			return nil, err
		}
		for _, code := range order {
			rate := own.DivRound(of[code], posting.RatePlaces)
			if code == firm || !posting.RateFits(rate) {
				continue // worth less than a rate can say
			}
			rates = append(rates, posting.Rate{Currency: code, Day: d, Rate: rate})
		}
		if len(rates) > Most {
			return nil, fmt.Errorf("the file has more than %d rates: take a shorter one", Most)
		}
	}
	slices.SortStableFunc(rates, func(x, y posting.Rate) int { return strings.Compare(string(x.Day), string(y.Day)) })
	return rates, nil
}
