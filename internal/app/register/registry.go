package register

import (
	"regexp"
	"strings"

	"jarvo/internal/app/form"
	"jarvo/internal/store"
)

// eas is the shape of a code of the EAS list: a number of four digits, or two letters.
var eas = regexp.MustCompile(`^([0-9]{4}|[A-Z]{2})$`)

// ReadRegistry reads by which numbers a company is known, and where e-invoices reach it.
func ReadRegistry(c *form.Checks, registration, endpoint, scheme string) store.Registry {
	out := store.Registry{
		Registration: c.Text("registration", registration), Endpoint: c.Text("endpoint", endpoint),
		EndpointScheme: strings.ToUpper(c.Text("endpointScheme", scheme)),
	}
	switch {
	case out.Endpoint == "" && out.EndpointScheme != "":
		c.Add("endpoint", "type the address as well")
	case out.Endpoint != "" && !eas.MatchString(out.EndpointScheme):
		c.Add("endpointScheme", "type the kind of address by the EAS list, such as 0088, 9930 or EM")
	}
	return out
}
