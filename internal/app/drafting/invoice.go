package drafting

var CategoryTitles = map[string]string{
	"labour": "Labour", "material": "Material", "equipment": "Equipment", "subcontract": "Subcontract", "expense": "Expense", "mileage": "Mileage",
	"fixed": "Fixed price", "other": "Other", "": "Work and materials",
}
