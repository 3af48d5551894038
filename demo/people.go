package demo

import (
	"context"

	"cleantally/core/money"
	"cleantally/core/rights"
	"cleantally/store"
)

// Everybody here is made up.
var customers = []struct {
	name, contact, street, town, mail, terms, note string
}{
	{"Odalys Brandt", "", "3 Lower Quay", "Haverling", "odalys@brandt-home", "30 days", "Homeowner. Prefers a call before anything is delivered."},
	{"Dunmarrow Builders", "Piet Dunmarrow", "Yard 7, Tannery Row", "Ostermere", "accounts@dunmarrow", "30 days", ""},
	{"Lattice House Co-housing", "Ines Okoro-Vale", "18 Orchard Bank", "Haverling", "board@lattice-house", "End of month", ""},
	{"Pemberlow Hotel", "Marit Soelberg", "1 Promenade", "Cray-on-Sea", "office@pemberlow", "30 days", "Pays twice now and then."},
	{"Harrow & Finn Builders", "Tam Finn", "44 Kiln Street", "Ostermere", "office@harrow-finn", "30 days", "In insolvency since September."},
	{"Juniper Lane School", "Office", "Juniper Lane 2", "Haverling", "bursar@juniper-lane", "End of month + 15 days", ""},
	{"Bastien Aldergrove", "", "9 Mill Rise", "Tollbridge", "bastien@aldergrove", "14 days", ""},
	{"Quillon & Daughters Architects", "Hester Quillon", "Studio 3, Rope Walk", "Haverling", "studio@quillon", "30 days", ""},
	{"The Marrowfield Trust", "Estate office", "Marrowfield Hall", "Marrowfield", "estate@marrowfield", "End of month", ""},
	{"Sunniva Thackery-Osei", "", "27 Lantern Hill", "Cray-on-Sea", "sunniva@thackery", "Two halves, 14 and 44 days", ""},
	{"Corvane Interiors", "Dario Corvane", "Unit 12, Dyeworks", "Tollbridge", "hello@corvane", "30 days", ""},
	{"Thornapple & Reed Timber", "Jory Reed", "Sawpit Lane 6", "Ostermere", "orders@thornapple-reed", "30 days", supplies},
	{"Millrace Brewery", "Cellar office", "2 Millrace", "Tollbridge", "office@millrace", "14 days, 2 % within 10", ""},
	{"Vesper Lane Surgery", "Practice desk", "31 Vesper Lane", "Haverling", "desk@vesper-lane", "30 days", "Pays by cheque."},
	{"Aubrey Lindqvist-Moss", "", "7 Chapel Steps", "Cray-on-Sea", "aubrey@lindqvist-moss", "14 days", "Called the stair off in October."},
	{"Granary Row Residents", "Block agent", "Granary Row", "Haverling", "agent@granary-row", "30 days", ""},
	{"Ottoline Featherstonehaugh-Braithwaite and Family Settlement Trustees", "Trustees' clerk", "The Gatehouse, Long Avenue", "Upper Marrowfield", "clerk@ofb-trustees", "30 days", ""},
}

// supplies is the note of a customer from whom we buy as well.
const supplies = "We buy rough-cut stringers from them, and they have a shop stair from us."

var jobs = []struct {
	number, name, customer, site string
	sum                          money.Amount
	closed                       bool
}{
	{"174", "Reception stair, brass rail", "Pemberlow Hotel", "1 Promenade, Cray-on-Sea", 1860000, true},
	{"177", "Loft stair", "Bastien Aldergrove", "9 Mill Rise, Tollbridge", 540000, true},
	{"181", "Assembly hall steps", "Juniper Lane School", "Juniper Lane 2, Haverling", 2240000, true},
	{"185", "Gallery stair", "Quillon & Daughters Architects", "Rope Walk, Haverling", 1275000, true},
	{"188", "Kiln Street flats, stair B", "Harrow & Finn Builders", "44 Kiln Street, Ostermere", 960000, false},
	{"190", "Servants' stair, repair", "The Marrowfield Trust", "Marrowfield Hall", 725000, true},
	{"193", "Cut-string stair, beech", "Sunniva Thackery-Osei", "27 Lantern Hill, Cray-on-Sea", 1180000, false},
	{"195", "Showroom steps", "Corvane Interiors", "Unit 12, Dyeworks, Tollbridge", 330000, true},
	{"198", "Tannery Row stairs", "Dunmarrow Builders", "Tannery Row, Ostermere", 4800000, false},
	{"200", "Library ladder and rail", "The Marrowfield Trust", "Marrowfield Hall", 415000, false},
	{"201", "Weir Cottages, four flights", "Dunmarrow Builders", "Weir Lane, Ostermere", 3120000, false},
	{"203", "Back stair", "Pemberlow Hotel", "1 Promenade, Cray-on-Sea", 890000, false},
	{"205", "Common house stair", "Lattice House Co-housing", "18 Orchard Bank, Haverling", 3240000, false},
	{"207", "Mezzanine stair, steel and oak", "Corvane Interiors", "Unit 12, Dyeworks, Tollbridge", 1495000, false},
	{"209", "Music room steps", "Juniper Lane School", "Juniper Lane 2, Haverling", 610000, false},
	{"210", "Gatehouse winder stair", "Ottoline Featherstonehaugh-Braithwaite and Family Settlement Trustees", "The Gatehouse, Upper Marrowfield", 2785000, false},
	{"212", "Oak helical stair", "Odalys Brandt", "3 Lower Quay, Haverling", 620000, false},
	{"214", "Harbour office stair", "Quillon & Daughters Architects", "Fish Quay, Haverling", 1950000, false},
	{"216", "Attic conversion", "Bastien Aldergrove", "9 Mill Rise, Tollbridge", 680000, false},
	{"215", "Spiral stair, called off", "Aubrey Lindqvist-Moss", "7 Chapel Steps, Cray-on-Sea", 960000, true},
	{"217", "Cellar steps", "Millrace Brewery", "2 Millrace, Tollbridge", 250000, false},
	{"218", "Shop stair", "Thornapple & Reed Timber", "Sawpit Lane 6, Ostermere", 75000, false},
	{"220", "Sail Loft flats", "Dunmarrow Builders", "Sail Loft, Ostermere", 1860000, false},
	{"221", "Ropery mews", "Dunmarrow Builders", "Ropery, Ostermere", 2475000, false},
	{"222", "Ferry house", "Dunmarrow Builders", "Ferry Stairs, Ostermere", 940000, false},
	{"223", "Chandlery stair", "Quillon & Daughters Architects", "Fish Quay, Haverling", 0, false},
	{"225", "Three winder flights", "Granary Row Residents", "Granary Row, Haverling", 2100000, false},
	{"224", "Estate treads", "The Marrowfield Trust", "Marrowfield Hall", 0, false},
	{"219", "Handrail repair, landing", "Odalys Brandt", "3 Lower Quay, Haverling", 31000, false},
}

// A Person of the demo firm may sign in.
type Person struct {
	Name, Email, Password string
	Role                  rights.Role
}

// People are those who may sign in to the demo firm, the owner first.
func People() []Person {
	return []Person{
		{"Wren Sparrow", Email, Password, rights.Owner},
		{"Tobias Winder", "books@sparrow-winder.example", "newel and baluster", rights.Bookkeeper},
		{"Isla Marsh-Kettle", "bills@sparrow-winder.example", "tread over riser", rights.Biller},
		{"Juno Fairweather", "till@sparrow-winder.example", "nosing and handrail", rights.Cashier},
	}
}

// invite lets everybody else in, as an owner would.
func (t *teller) invite(ctx context.Context) error {
	for _, p := range People()[1:] {
		secret, err := t.book.Invite(ctx, 1, store.Invitation{Name: p.Name, Email: p.Email, Role: p.Role})
		if err != nil {
			return err
		}
		if _, err := t.book.Accept(ctx, secret, p.Password, ""); err != nil {
			return err
		}
	}
	return nil
}
