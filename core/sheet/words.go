package sheet

import "strings"

// Words are all that a sheet says of its own, in the order of a paper: a
// letterhead may have others in their place, in another language for example.
// %s stands for what a word is said of, and keeps its number and order.
var Words = []string{
	"Invoice", "Deposit invoice", "Stage invoice", "Final invoice", "Late charge", "Credit note", "Quote", "Order", "Delivery", "Request for a deposit", "Release of retention", "Receipt", "Deposit", "Refund", "Purchase order",
	"Currency", "Tax in %s: %s, at %s.", "Date", "Service date", "Due date", "Job", "Your order", "Reference", "Your contact", "Method", "Cheque", "Expected", "Holds through", "Version", "Early payment", "%s %%, %s, by %s", "Claim", "Why", "Disputed", "Last date",
	"What", "Quantity", "Unit price", "Discount", "Tax", "Net", "With tax", "none", "paid on your behalf",
	"Net at %s %%", "On your behalf, without tax", "Tax %s %%", "Rounding", "Total", "%s: %s net, %s tax at %s %%", "Discount for early payment", "Difference", "Tax withheld", "Written off", "Set off", "Credited by", "Paid", "Off what you keep back", "Kept back by you",
	"Left to pay", "Left to pay by %s", "Nothing left to pay", "Reversed, nothing to pay", "by %s: %s", "Left to you", "Used up", "set against %s", "out of %s", "Of %s, which is taken off here, %s is still to be paid.",
	"Received", "On account", "Deposit received", "Still held", "Given back", "Deposit asked for", "No longer asked for", "Released, to be paid", "kept back of %s", "Paid %s", "Arrived", "Bank charges taken off", "Tax inside", "Owed to us, due %s", "Reversal of %s",
	"Certificate", "Of the claim", "Contract", "Claimed before", "This claim", "To date", "Share", "Work done to date", "Less claimed before", "This claim, net", "Tax of it", "Less advances billed, with tax", "To be paid", "Kept back to date",
	"Agreed without an order", "Claimed by __________________, date ________", "Certified by __________________, date ________", "Paid out", "Card takings", "Fee taken off", "Paper", "From", "Amount",
	"Tax number %s", "Carried forward", "Brought forward", "%s of %s", "DRAFT",
	"Received by ________________________", "Received by ________________________, date ____________", "Received by %s, %s", "of order %s", "Please pay to %s, IBAN %s, quoting %s.",
}

// Columns are those that a letterhead may leave out.
var Columns = []string{"Quantity", "Unit price", "Discount", "Tax"}

// Fits tells whether words may stand in the place of ours: they say the same
// things, and no others.
func Fits(ours, theirs string) bool {
	return strings.Count(theirs, "%s") == strings.Count(ours, "%s") && !strings.Contains(strings.NewReplacer("%s", "", "%%", "").Replace(theirs), "%")
}
