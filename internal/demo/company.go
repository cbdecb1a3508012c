// Package demo writes the demo book: a marine contractor that does not exist, with a quarter of history up
// to the day it is started. It works through the same use cases as a person does.
package demo

import "jarvo/internal/app/register"

// The demo company and how to sign in to it.
const (
	Company  = "Brackwater Dock & Pile"
	SignIn   = "ada@brackwater.example"
	Password = "slack tide at dawn"
)

type person struct {
	name, trade, crew, wage string
}

// salaried is who is paid by the week.
const salaried = "Lena Stroud"

var demoPeople = []person{
	{"Aldo Renn", "pile foreman", "Pile crew", "41.50"},
	{"Bess Tarrow", "crane operator", "Pile crew", "43.80"},
	{"Cato Brandl", "pile driver", "Pile crew", "34.20"},
	{"Dina Oake", "pile driver", "Pile crew", "33.60"},
	{"Emmet Slade", "welder", "Pile crew", "37.90"},
	{"Fitz Harrow", "deckhand", "Pile crew", "27.40"},
	{"Greta Pell", "deck foreman", "Deck crew", "38.20"},
	{"Hal Ostrow", "carpenter", "Deck crew", "32.10"},
	{"Ines Vale", "carpenter", "Deck crew", "31.40"},
	{"June Kettle", "carpenter", "Deck crew", "31.90"},
	{"Kit Marsh", "labourer", "Deck crew", "25.80"},
	{salaried, "dive supervisor", "Dive crew", "2160.00"},
	{"Moss Tilley", "diver", "Dive crew", "51.60"},
	{"Nell Rowan", "tender", "Dive crew", "30.50"},
}

// Nobody has given the tender a price: a loose end.
var hourly = map[string]string{
	"pile foreman": "104", "crane operator": "108", "pile driver": "90", "welder": "98", "deckhand": "74", "deck foreman": "98",
	"carpenter": "88", "labourer": "66",
	"dive supervisor": "164", "diver": "151",
}

type component struct{ name, basis, value, limit, code string }

// Upkeep in the yard has a cover of its own: it is less dangerous.
var burdens = []component{
	{"Accident cover", "straight", "11.80", "", ""},
	{"Accident cover", "straight", "4.10", "", "910"},
	{"Health plan", "hour", "5.20", "", ""},
	{"Paid leave", "straight", "4", "", ""},
	{"Pension", "gross", "3.50", "", ""},
	{"Social contributions", "gross", "7.65", "", ""},
	{"Unemployment cover", "gross", "2.90", "9000", ""},
}

// demoBudgets are what some jobs are planned to cost; the pontoon's is a loss foreseen.
var demoBudgets = []budget{
	{"1184", "labour", "520", "31000"},
	{"1184", "labour", "510", "15200"},
	{"1184", "material", "", "18600"},
	{"1189", "labour", "320", "142000"},
	{"1189", "material", "", "61000"},
	{"1189", "equipment", "", "34000"},
	{"1194", "labour", "710", "9200"},
}

type budget struct{ job, category, code, cost string }

var costCodes = [][2]string{
	{"210", "Set out"}, {"320", "Drive piles"}, {"330", "Lifting"}, {"340", "Weld splices"}, {"410", "Fenders, ladders"},
	{"510", "Caps and deck"}, {"520", "Decking"},
	{"710", "Diving"}, {"910", "Plant upkeep"},
}

type customer struct{ name, address, terms, email, reference string }

var demoCustomers = []customer{
	{"Gannet Point Ferries", "Works office, 1 Landing Road\nGannet Point", "30", "ap@gannet.example", "GPF 4471"},
	{"Port of Sable Bar", "Harbour House\nSable Bar", "30",
		"Harbour Office <harbour@sablebar.example>, clerk@sablebar.example", "Harbour works"},
	{"Saltmarsh Road Owners", "c/o 9 Saltmarsh Road", "14", "treasurer@saltmarsh.example", ""},
	{"Halloway Oyster Co.", "The Sheds, Halloway Creek", "30", "books@halloway.example", ""},
	{"Corran Reach Yacht Club", "Clubhouse, Corran Reach", "30", "office@corranreach.example", ""},
	{"Tolley Lock Trust", "Lock Cottage, Tolley", "30", "keeper@tolleylock.example", ""},
	{"Pennock Landing", "Pennock Landing", "30", "", ""},
	{"M. and J. Wrenfield", "Wrenfield House", "14", "jay@wrenfeild.invalid", ""}, // slipped in typing: no mail goes there,
	{"E. Quill", "Boathouse Lane", "14", "quill@slipway.example", ""},
}

// demoContacts are the people of a customer; who has none is written to at their general address.
var demoContacts = map[string][]register.Contact{
	"Gannet Point Ferries": {
		{Name: "Ruth Thole", Role: "works manager", Email: "thole@gannet.example", Reminders: true},
		{Role: "accounts", Email: "ap@gannet.example", Invoices: true, Statements: true},
	},
}

type job struct {
	number, name string
	customer     int // -1: our own
	basis        string
	contract     string
	retainage    string
	status       string
	crew         string
	codes        []string
	weight       int // how often its crew is there
}

var demoJobs = []job{
	{"1176", "Old Pilot Steps", 1, "fixed", "128000", "", "finished", "", nil, 0},
	{"1177", "Harbour ladder survey", 1, "tm", "", "", "closed", "", nil, 0},
	{"1178", "Net loft piles", 3, "tm", "", "", "closed", "", nil, 0},
	{"1179", "Lock guide piles", 5, "tm", "", "", "live", "Dive crew", []string{"710"}, 3},
	{"1180", "Swing mooring checks", 4, "tm", "", "", "finished", "Dive crew", []string{"710"}, 0},
	{"1181", "Saltmarsh Road bulkhead", 2, "tm", "", "", "live", "Pile crew", []string{"320", "210"}, 2},
	{"1182", "Kittle Bank ladders", 1, "tm", "", "", "finished", "Deck crew", []string{"410"}, 1},
	{"1184", "Oyster jetty", 3, "fixed", "84500", "", "live", "Deck crew", []string{"520", "510"}, 2},
	{"1185", "Slipway winch bed", 8, "tm", "", "", "paused", "", nil, 0},
	{"1187", "Ferry landing", 0, "tm", "275000", "5", "live", "Pile crew", []string{"320", "330", "340"}, 6},
	{"1189", "Mooring dolphins", 1, "fixed", "312000", "", "live", "Pile crew", []string{"320"}, 2},
	{"1191", "Boathouse slip", 8, "tm", "", "", "live", "Deck crew", []string{"520"}, 2},
	{"1192", "Wrenfield pier", 7, "tm", "", "", "live", "Pile crew", []string{"210", "320"}, 1},
	{"1193", "Fuel berth survey", 4, "tm", "", "", "live", "Dive crew", []string{"710"}, 1},
	{"1194", "Pontoon repair", 6, "fixed", "6400", "", "live", "Dive crew", []string{"710"}, 1},
	{"1195", "Finger docks", 4, "tm", "", "", "live", "Deck crew", []string{"520", "510"}, 5},
	{"1196", "Landing stage anodes", 0, "tm", "", "", "live", "Dive crew", []string{"710"}, 2},
	{"1197", "Creek fenders", 1, "fixed", "67400", "", "quoting", "", nil, 0},
	{"1198", "Quay rail renewal", 1, "tm", "", "10", "quoting", "", nil, 0},
	{"1200", "Yard and plant", -1, "none", "", "", "live", "", []string{"910"}, 0},
}

type good struct {
	code, supplier, description, unit string
	cost                              int // cents
	most                              int
	category                          string
}

var goods = []good{
	{"PILE-14", "Pellmore Timber & Piling", "Greenheart pile, 350 sq, 14 m", "ea", 61240, 12, "material"},
	{"SHOE-350", "Pellmore Timber & Piling", "Pile shoe, cast, 350", "ea", 8450, 12, "material"},
	{"SLEEVE-350", "Pellmore Timber & Piling", "HDPE sleeve, 350", "m", 3875, 30, "material"},
	{"DRIFT-24", "Ironholt Fasteners", "Drift bolt, galv., M24 x 400", "ea", 685, 160, "material"},
	{"HANGER", "Ironholt Fasteners", "Joist hanger, 316", "ea", 940, 80, "material"},
	{"DECK-145", "Sable Bar Decking", "Decking board, 145 x 32", "m", 1120, 220, "material"},
	{"CAP-300", "Sable Bar Decking", "Cap beam, 300 x 300", "m", 9630, 24, "material"},
	{"", "Kestrel Bay Survey", "Bed survey, two passes", "day", 120000, 2, "subcontract"},
	{"", "Heron House", "Lodging, crew", "night", 10600, 6, "expense"},
}

type rate struct {
	code, description, category, unit, cost, sell string
}

// rates are what the company charges its own for: plant and miles.
var demoRates = []rate{
	{"BARGE", "Barge Mudlark", "equipment", "day", "1150", "1420"},
	{"CRANE-60", "Crawler crane, 60 t", "equipment", "h", "96", "125"},
	{"MILE", "Miles, own car or van", "mileage", "mi", "0.67", ""},
	{"DIESEL", "Diesel, red", "material", "l", "1.33", ""},
	{"FENDER-D150", "Fender strip, D 150", "material", "m", "52.10", "49.00"},
}

// sites are where some of the jobs are.
var sites = map[string]string{
	"1193": "Corran Reach, fuel berth", "1195": "Corran Reach, north basin", "1196": "Gannet Point, east pier",
	"1189": "Sable Bar, inner harbour",
}
