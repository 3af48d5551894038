package formats

import (
	"regexp"
	"strings"

	"github.com/shopspring/decimal"
)

// Where a spreadsheet may take text for a formula: at the beginning of a cell,
// and, where it splits cells otherwise than they were written, after a semicolon,
// a tab or the end of a line. What it does not show may stand before the sign, as
// may an apostrophe that was there already; the sign may be a full-width one.
var (
	unseen  = `\p{Z}\p{Cf}\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x{9f}'` // but for what cells end at
	formula = regexp.MustCompile(`(^|[;\t\r\n])([` + unseen + `]*[=+\-@＝＋－＠])`)
	quoted  = regexp.MustCompile(`(^|[;\t\r\n])'([` + unseen + `]*[=+\-@＝＋－＠])`)
)

// asText is a cell that no spreadsheet runs: an apostrophe stands before what it
// would. A figure stays as it is.
func asText(cell string) string {
	if !strings.ContainsAny(cell, "=+-@＝＋－＠") {
		return cell
	}
	if _, err := decimal.NewFromString(cell); err == nil {
		return cell
	}
	return formula.ReplaceAllString(cell, "$1'$2")
}

// asWritten is what asText was given, and nothing else undone.
func asWritten(cell string) string {
	if !strings.Contains(cell, "'") {
		return cell
	}
	return quoted.ReplaceAllString(cell, "$1$2")
}
