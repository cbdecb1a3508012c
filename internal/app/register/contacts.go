package register

import (
	"cmp"
	"fmt"
	"net/mail"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// Contact is somebody at a customer, and what they get by mail.
type Contact struct {
	Name       string `json:"name,omitempty"`
	Role       string `json:"role,omitempty" doc:"what they do there"`
	Email      string `json:"email"`
	Invoices   bool   `json:"invoices,omitempty" doc:"gets invoices and credit notes"`
	Statements bool   `json:"statements,omitempty"`
	Reminders  bool   `json:"reminders,omitempty"`
}

// mailbox is the contact as a mail address.
func (c Contact) mailbox() string { return form.Mailbox(&mail.Address{Name: c.Name, Address: c.Email}) }

// Gets says in words what a contact gets.
func (c Contact) Gets() string {
	var gets []string
	for _, of := range mailed {
		if *of.ticked(&c) {
			gets = append(gets, of.what)
		}
	}
	if len(gets) == 0 {
		return "nothing by itself"
	}
	return strings.Join(gets, ", ")
}

// Mailed is a kind of mail that customers get.
type Mailed struct {
	what   string
	ticked func(*Contact) *bool
}

// What customers get by mail.
var (
	Invoices   = Mailed{"invoices", func(c *Contact) *bool { return &c.Invoices }}
	Statements = Mailed{"statements", func(c *Contact) *bool { return &c.Statements }}
	Reminders  = Mailed{"reminders", func(c *Contact) *bool { return &c.Reminders }}

	mailed = []Mailed{Invoices, Statements, Reminders}
)

// ReadContacts reads the contacts of a customer, as rows that are typed; a row with nothing in it is none.
func ReadContacts(c *form.Checks, typed []Contact) (contacts []Contact) {
	for i, t := range typed {
		at := func(field string) string { return fmt.Sprintf("contacts[%d].%s", i, field) }
		if t == (Contact{}) {
			continue
		}
		t.Name, t.Role, t.Email = c.Text(at("name"), t.Name), c.Text(at("role"), t.Role), strings.TrimSpace(t.Email)
		if typed := form.Address(c, at("email"), t.Email); typed != "" {
			if address, err := mail.ParseAddress(typed); err == nil {
				t.Name, t.Email = cmp.Or(t.Name, address.Name), address.Address
			}
		} else if t.Email == "" {
			c.Add(at("email"), "type a mail address, such as name@firm.example")
		}
		if slices.ContainsFunc(contacts, func(other Contact) bool { return strings.EqualFold(other.Email, t.Email) }) {
			c.Add(at("email"), "this address is above already")
		}
		contacts = append(contacts, t)
	}
	return contacts
}

// ContactsOf are the contacts of a customer, in the order in which they were typed.
func ContactsOf(s *book.Session, customerID int64) ([]Contact, error) {
	contacts, err := contactsBy(s, "customer_id = ?", customerID)
	return contacts[customerID], err
}

// AllContacts are the contacts of all customers, by customer.
func AllContacts(s *book.Session) (map[int64][]Contact, error) { return contactsBy(s) }

// contactsBy are the contacts that a condition finds.
func contactsBy(s *book.Session, condition ...any) (map[int64][]Contact, error) {
	rows, err := store.All[store.Contact](s.Tx, "id", condition...)
	contacts := map[int64][]Contact{}
	for _, r := range rows {
		contacts[r.CustomerID] = append(
			contacts[r.CustomerID], Contact{r.Name, r.Role, r.Email, r.Invoices, r.Statements, r.Reminders},
		)
	}
	return contacts, err
}

// SaveContacts keeps the contacts of a customer, in place of those that there were.
func SaveContacts(s *book.Session, customerID int64, contacts []Contact) error {
	if err := s.Run("DELETE FROM contacts WHERE customer_id = ?", customerID); err != nil {
		return err
	}
	for _, c := range contacts {
		row := store.Contact{
			CustomerID: customerID, Name: c.Name, Role: c.Role, Email: c.Email, Invoices: c.Invoices, Statements: c.Statements,
			Reminders: c.Reminders,
		}
		if err := s.Create(&row).Error; err != nil {
			return err
		}
	}
	return nil
}

// Recipients are who gets some kind of mail at a customer: the contacts that do; where none does, the customer's own address.
func Recipients(s *book.Session, customer store.Customer, of Mailed) (string, error) {
	contacts, err := ContactsOf(s, customer.ID)
	var to []string
	for _, c := range contacts {
		if *of.ticked(&c) {
			to = append(to, c.mailbox())
		}
	}
	if len(to) == 0 {
		return customer.Email, err
	}
	return strings.Join(to, ", "), err
}

// KeepRecipients has some kind of mail to a customer go to some addresses from now on, and to nobody else there. It is refused where others
// get it by now than those that were seen.
func KeepRecipients(s *book.Session, customer store.Customer, of Mailed, addresses, seen string) error {
	is, err := Recipients(s, customer, of)
	if err != nil || is == addresses {
		return err
	}
	if is != seen {
		return refuse.Conflict(
			"somebody else has changed who gets this at %s: it is %s now; send it without keeping the addresses, or change the customer in Setup",
			customer.Name, cmp.Or(is, "nobody"),
		)
	}
	contacts, err := ContactsOf(s, customer.ID)
	if err != nil {
		return err
	}
	to, err := mail.ParseAddressList(addresses)
	if err != nil {
		return err
	}
	had, now := Told(customer, contacts), customer
	now.Version++
	if len(contacts) == 0 {
		now.Email = addresses
	} else {
		for i := range contacts {
			*of.ticked(&contacts[i]) = false
		}
		for _, at := range to {
			i := slices.IndexFunc(contacts, func(c Contact) bool { return strings.EqualFold(c.Email, at.Address) })
			if i < 0 {
				i, contacts = len(contacts), append(contacts, Contact{Name: at.Name, Email: at.Address})
			}
			*of.ticked(&contacts[i]) = true
		}
		if err := SaveContacts(s, customer.ID, contacts); err != nil {
			return err
		}
	}
	if err := s.Save(&now).Error; err != nil {
		return err
	}
	return s.Record("changed", "customer", customer.ID, had, Told(now, contacts))
}

// ToldCustomer is a customer as its history tells of it.
type ToldCustomer struct {
	store.Customer
	People string
}

// Told is a customer with its contacts, as its history tells of them.
func Told(customer store.Customer, contacts []Contact) ToldCustomer {
	people := make([]string, len(contacts))
	for i, c := range contacts {
		people[i] = strings.Join(slices.DeleteFunc([]string{c.mailbox(), c.Role, c.Gets()}, func(s string) bool { return s == "" }), ", ")
	}
	return ToldCustomer{customer, strings.Join(people, "; ")}
}
