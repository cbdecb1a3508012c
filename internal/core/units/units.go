// Package units are the units of measure that people write, each with its code of the UN's recommendation 20, by which other programs
// know it.
package units

import "strings"

// Unit is a unit of measure.
type Unit struct {
	Name string // as it is written on a paper: "sq ft"
	Code string // of recommendation 20
	What string // spelled out: "square foot"
	also []string
}

// All are the units that are offered, those of time first.
var All = []Unit{
	{"h", "HUR", "hour", []string{"hr", "hrs", "hour", "hours", "std"}},
	{"day", "DAY", "day", []string{"days", "d"}},
	{"wk", "WEE", "week", []string{"week", "weeks"}},
	{"mo", "MON", "month", []string{"month", "months"}},
	{"ea", "EA", "each", []string{"each", "pc", "pcs", "piece", "pieces", "no", "nr", "stk", "unit", "units"}},
	{"set", "SET", "set", []string{"sets"}},
	{"pair", "PR", "pair", []string{"pr", "pairs"}},
	{"doz", "DZN", "dozen", []string{"dz", "dozen"}},
	{"lot", "LO", "lot", []string{"lots"}},
	{"lump sum", "LS", "lump sum", []string{"ls", "lump", "sum"}},
	{"in", "INH", "inch", []string{"inch", "inches"}},
	{"ft", "FOT", "foot", []string{"foot", "feet"}},
	{"lf", "LF", "linear foot", []string{"lin ft", "lnft", "linear ft", "linear foot", "linear feet"}},
	{"yd", "YRD", "yard", []string{"yds", "yard", "yards"}},
	{"mi", "SMI", "mile", []string{"mile", "miles"}},
	{"mm", "MMT", "millimetre", []string{"millimetre", "millimeter"}},
	{"cm", "CMT", "centimetre", []string{"centimetre", "centimeter"}},
	{"m", "MTR", "metre", []string{"metre", "metres", "meter", "meters"}},
	{"km", "KMT", "kilometre", []string{"kilometre", "kilometres", "kilometer", "kilometers"}},
	{"sq ft", "FTK", "square foot", []string{"sqft", "sf", "ft2", "square foot", "square feet"}},
	{"sq yd", "YDK", "square yard", []string{"sqyd", "sy", "yd2", "square yard", "square yards"}},
	{"m2", "MTK", "square metre", []string{"sqm", "sq m", "square metre", "square metres", "square meter", "square meters"}},
	{"acre", "ACR", "acre", []string{"acres", "ac"}},
	{"ha", "HAR", "hectare", []string{"hectare", "hectares"}},
	{"cu ft", "FTQ", "cubic foot", []string{"cuft", "cf", "ft3", "cubic foot", "cubic feet"}},
	{"cu yd", "YDQ", "cubic yard", []string{"cuyd", "cy", "yd3", "cubic yard", "cubic yards"}},
	{"m3", "MTQ", "cubic metre", []string{"cbm", "cu m", "cubic metre", "cubic metres", "cubic meter", "cubic meters"}},
	{"bd ft", "BFT", "board foot", []string{"bf", "bft", "fbm", "board foot", "board feet"}},
	{"gal", "GLL", "gallon", []string{"gals", "gallon", "gallons"}},
	{"l", "LTR", "litre", []string{"lt", "ltr", "litre", "litres", "liter", "liters"}},
	{"oz", "ONZ", "ounce", []string{"ounce", "ounces"}},
	{"lb", "LBR", "pound", []string{"lbs", "pound", "pounds"}},
	{"ton", "STN", "ton of 2,000 lb", []string{"tons", "tn"}},
	{"kg", "KGM", "kilogram", []string{"kgs", "kilo", "kilogram", "kilograms"}},
	{"t", "TNE", "tonne", []string{"tonne", "tonnes", "mt"}},
	{"kWh", "KWH", "kilowatt hour", []string{"kilowatt hour", "kilowatt hours"}},
}

var byText = func() map[string]Unit {
	known := map[string]Unit{}
	for _, u := range All {
		for _, text := range append([]string{u.Name}, u.also...) {
			known[plain(text)] = u
		}
	}
	return known
}()

// plain is a text without what makes no difference: case, full stops, and how small figures are set.
func plain(text string) string {
	return strings.NewReplacer(".", "", "²", "2", "³", "3").Replace(strings.ToLower(strings.Join(strings.Fields(text), " ")))
}

// Find is the unit that a text means, however it is written; false where it is none of them.
func Find(text string) (Unit, bool) {
	u, found := byText[plain(text)]
	return u, found
}

// Written is a text as its unit is written here; one that is none of them stays as it is.
func Written(text string) string {
	if u, found := Find(text); found {
		return u.Name
	}
	return text
}
