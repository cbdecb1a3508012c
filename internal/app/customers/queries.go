package customers

// moveAll gives another customer what one has, but for issued invoices: that they are one comes first, which the guards ask for.
var moveAll = []string{
	"INSERT INTO merged_customers (id, into_id) VALUES (@from, @into)",
	"UPDATE merged_customers SET into_id = @into WHERE into_id = @from",
	"UPDATE jobs SET customer_id = @into, version = version + 1 WHERE customer_id = @from",
	"UPDATE invoices SET customer_id = @into, version = version + 1 WHERE customer_id = @from AND status = 'draft'",
	"UPDATE payments SET customer_id = @into WHERE customer_id = @from",
	"UPDATE messages SET customer_id = @into WHERE customer_id = @from",
	"UPDATE OR IGNORE contacts SET customer_id = @into WHERE customer_id = @from",
	"DELETE FROM contacts WHERE customer_id = @from",
}
