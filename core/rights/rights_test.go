package rights_test

import (
	"testing"

	"cleantally/core/rights"
)

// A refusal names who may, and only them.
func TestNotYours(t *testing.T) {
	for right, want := range map[rights.Right]string{
		rights.ToOwn:       "To unlock, set up and say who may do what is not among what you may do: ask an owner.",
		rights.ToKeepBooks: "To give money back, write off, reverse and keep the bank is not among what you may do: ask an owner or a bookkeeper.",
		rights.ToTakeMoney: "To take money is not among what you may do: ask an owner, a bookkeeper or a cashier.",
	} {
		if got := rights.NotYours(right, rights.Choices{}).Error(); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}

// What the firm chose for billers changes nothing for anybody else, and is not
// kept from one question to the next.
func TestChoices(t *testing.T) {
	for range 2 {
		with, without := len(rights.Who(rights.ToBill, rights.Choices{BillerPosts: true})), len(rights.Who(rights.ToBill, rights.Choices{}))
		if with != 3 || without != 2 {
			t.Errorf("%d may post invoices, %d where a biller may not", with, without)
		}
	}
	for _, right := range rights.Rights() {
		if !rights.Owner.May(right, rights.Choices{}) {
			t.Errorf("an owner may not %s", right)
		}
		if rights.Role("chief").May(right, rights.Choices{BillerPosts: true, BillerChooses: true}) {
			t.Errorf("an unknown role may %s", right)
		}
	}
	if rights.Role("").Known() || !rights.Reader.Known() {
		t.Error("which roles are known")
	}
}
