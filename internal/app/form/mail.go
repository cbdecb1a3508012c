package form

import (
	"net/mail"
	"strconv"
	"strings"

	"jarvo/internal/core/words"
)

// Address reads one mail address, or none.
func Address(c *Checks, path, s string) string {
	addresses := Addresses(c, path, s)
	if len(addresses) > 1 {
		c.Add(path, "type one mail address")
	}
	return strings.Join(addresses, "")
}

// Addresses reads mail addresses, with or without a name each, between commas, semicolons or on lines of their own; none is none.
func Addresses(c *Checks, path, s string) (addresses []string) {
	s = strings.NewReplacer(";", ",", "\r\n", ",", "\n", ",").Replace(c.Text(path, s))
	if s == "" {
		return nil
	}
	list, err := mail.ParseAddressList(s)
	if err != nil {
		for part := range strings.SplitSeq(s, ",") {
			if _, err := mail.ParseAddress(part); err != nil {
				s = strings.TrimSpace(part)
				break
			}
		}
		c.Add(path, "%q is not a mail address, such as name@firm.example", words.Shortened(s))
		return nil
	}
	for _, at := range list {
		switch {
		case !strings.Contains(at.Address[strings.LastIndexByte(at.Address, '@')+1:], "."):
			c.Add(path, "%q has no domain, such as firm.example", words.Shortened(at.Address))
		default:
			addresses = append(addresses, Mailbox(at))
		}
	}
	return addresses
}

// Mailbox writes a mail address as people type it, with its name where it has one; what stands before the @ is quoted where it has to be.
func Mailbox(at *mail.Address) string {
	address := strings.Trim((&mail.Address{Address: at.Address}).String(), "<>")
	switch {
	case at.Name == "":
		return address
	case strings.ContainsAny(at.Name, `,"<>@()[]:;\`):
		return strconv.Quote(at.Name) + " <" + address + ">"
	}
	return at.Name + " <" + address + ">"
}
