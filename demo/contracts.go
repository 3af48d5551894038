package demo

import (
	"context"
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// contracts are jobs that are billed in pieces: what a builder keeps back on
// three sites, one share of it due this week; an order that was billed in
// advance in part, whose final invoice is due; an order of many pieces.
func (t *teller) contracts() {
	builder := "Dunmarrow Builders"
	for _, site := range []struct {
		job, text string
		day       day.Day
		net       int64
	}{
		{"220", "Sail Loft flats, stairs A and B", "2025-07-04", 1860000},
		{"221", "Ropery mews, five flights", "2025-09-12", 2475000},
		{"222", "Ferry house, winder stair", "2025-11-21", 940000},
	} {
		name := "site " + site.job
		t.do(site.day, name, t.invoice(builder, site.job, site.day, posting.Line{Text: site.text, Quantity: decimal.New(1, 0), UnitPrice: decimal.New(site.net, -2), TaxCodeID: t.codes["STD"]}))
		paid := site.day.Add(30)
		t.at(paid, name+" paid", func() (posting.Command, error) {
			open, err := t.open(name)
			return t.receipt(builder, paid, open, "DB "+site.job, name), err
		})
	}

	gallery := "Quillon & Daughters Architects"
	t.do("2026-09-14", "chandlery order", billing.Order{PartyID: t.parties[gallery], JobID: t.jobs["223"], Day: "2026-09-14", Reference: "QD 41/26",
		Lines: []posting.Line{t.line("Chandlery stair, drawn, made and fitted", "1", 700000, "STD", false), t.line("Handrail, oak, bent", "8", 12500, "STD", true)}})
	t.at("2026-09-15", "chandlery in advance", func() (posting.Command, error) {
		return billing.DepositInvoice{PartyID: t.parties[gallery], JobID: t.jobs["223"], Day: "2026-09-15", OrderID: t.papers["chandlery order"], Percent: decimal.New(30, 0)}, nil
	})
	t.at("2026-10-09", "chandlery in advance paid", func() (posting.Command, error) {
		return t.receipt(gallery, "2026-10-09", 288000, "QD ADV 41", "chandlery in advance"), nil
	})

	trust := "The Marrowfield Trust"
	t.do("2026-11-05", "treads ordered", billing.Order{PartyID: t.parties[trust], JobID: t.jobs["224"], Day: "2026-11-05", Reference: "Estate 117",
		Lines: []posting.Line{t.line("Oak treads, 40 mm, bullnosed", "40", 11800, "STD", true), t.line("Fitting, two people", "3", 92000, "STD", false)}})
	surgery := "Vesper Lane Surgery"
	t.do("2026-10-30", "ramp offered", billing.Quote{PartyID: t.parties[surgery], Day: "2026-10-30", Holds: "2026-11-30", Note: "Fitted over a weekend, so that the practice stays open.",
		Lines: []posting.Line{t.line("Entrance steps and ramp, oak", "1", 465000, "STD", false), t.line("Handrail, both sides", "6", 16450, "STD", true)}})
	t.at("2026-11-02", "ramp deposit asked", func() (posting.Command, error) {
		return billing.Request{PartyID: t.parties[surgery], Day: "2026-11-02", Due: "2026-11-16", OfID: t.papers["ramp offered"], Percent: decimal.New(25, 0)}, nil
	})
	t.at("2026-11-12", "treads delivered", func() (posting.Command, error) {
		return billing.Delivery{OrderID: t.papers["treads ordered"], Day: "2026-11-12", Reference: "Estate 117", Lines: []billing.OrderShare{{Position: 1, Quantity: decimal.New(25, 0)}}}, nil
	})
	rows := "Granary Row Residents"
	t.do("2025-10-06", "rows first stage", billing.Claim{JobID: t.jobs["225"], Day: "2025-10-06", Percent: decimal.New(30, 0)})
	t.at("2025-12-05", "winder recut", func() (posting.Command, error) {
		return billing.Credit{PaperID: t.papers["site 222"], Day: "2025-12-05", Cause: billing.Fault, Text: "the first winder was cut twice", Work: 24000, Own: true}, nil
	})
	t.do("2025-12-22", "site guaranteed", settling.Guarantee{PartyID: t.parties[builder], JobID: t.jobs["220"], Day: "2025-12-22", LastDay: "2026-12-22", Issuer: "Guild of Joiners Insurance", Reference: "GJ 220", Amount: 55800})
	t.at("2025-11-03", "rows first stage paid", func() (posting.Command, error) {
		open, err := t.open("rows first stage")
		return t.receipt(rows, "2025-11-03", open, "GRR 1", "rows first stage"), err
	})
	t.at("2025-12-20", "first release", func() (posting.Command, error) {
		return settling.Release{PartyID: t.parties[builder], Day: "2025-12-20", JobID: t.jobs["220"], Amount: 55800, Note: "Completed on 12 December, as agreed."}, nil
	})
	t.at("2026-01-19", "first release paid", func() (posting.Command, error) {
		return t.receipt(builder, "2026-01-19", 55800, "DB REL 220", "first release"), nil
	})
}

// keepsBack gives the builder's three sites their terms of retention.
func (t *teller) keepsBack(ctx context.Context) error {
	half, five := decimal.New(50, 0), decimal.New(5, 0)
	for _, site := range []struct {
		number   string
		releases []master.ReleaseShare
	}{
		{"220", []master.ReleaseShare{{Name: "at completion", Percent: half, Day: "2025-12-12"}, {Name: "end of defects period", Percent: half, Day: "2026-11-24"}}},
		{"221", []master.ReleaseShare{{Name: "at completion", Percent: half, Day: "2026-12-18"}, {Name: "end of defects period", Percent: half, Day: "2027-12-18"}}},
		{"222", []master.ReleaseShare{{Name: "after a year", Percent: decimal.New(100, 0), Day: "2027-03-31"}}},
	} {
		facts, err := t.book.Read(ctx).Facts(t.book.Today())
		if err != nil {
			return err
		}
		j, _ := facts.Job(t.jobs[site.number])
		j.RetentionPercent, j.RetentionGross, j.Releases = five, true, site.releases
		if err := t.book.SaveJob(ctx, 1, &j); err != nil {
			return err
		}
	}
	return t.plan(ctx)
}

// plan gives a job its billing plan: a first stage is billed, the next is due.
func (t *teller) plan(ctx context.Context) error {
	facts, err := t.book.Read(ctx).Facts(t.book.Today())
	if err != nil {
		return err
	}
	j, _ := facts.Job(t.jobs["225"])
	j.Stages = []master.Stage{{Name: "when the strings are cut", Percent: decimal.New(30, 0), Day: "2025-10-06"}, {Name: "when the first flight stands", Percent: decimal.New(40, 0), Day: "2026-11-16"},
		{Name: "when all is fitted", Percent: decimal.New(30, 0), Day: "2027-02-26"}}
	return t.book.SaveJob(ctx, 1, &j)
}

// recurs lets the yearly look over a stair recur.
func (t *teller) recurs(ctx context.Context) error {
	customer := t.parties["Vesper Lane Surgery"]
	body := fmt.Sprintf(`{"customer":%d,"subject":"Stair looked over","lines":[{"text":"Stair looked over, treads oiled","quantity":"1","unitPrice":"240.00","taxCode":%d}]}`, customer, t.codes["STD"])
	return t.book.SaveSchedule(ctx, &store.Schedule{Name: "Stair looked over", PartyID: customer, Body: body, Every: 3, Unit: billing.Monthly, First: "2026-12-31"}, 1)
}
