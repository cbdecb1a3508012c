package post

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	gomail "github.com/wneessen/go-mail"

	"jarvo/internal/durable"
)

// Standin keeps messages as .eml files in a folder, in place of a mail server. As a server would, it takes nothing for a domain that there
// is not: those that end in .invalid (RFC 2606).
type Standin struct{ Folder string }

// Send keeps a message.
func (s Standin) Send(_ context.Context, m *gomail.Msg) error {
	for _, to := range m.GetTo() {
		if strings.HasSuffix(strings.ToLower(to.Address), ".invalid") {
			return &Refusal{Why: fmt.Sprintf("550 there is no such domain: %s", to.Address)}
		}
	}
	var eml bytes.Buffer
	if _, err := m.WriteTo(&eml); err != nil {
		return err
	}
	if err := os.MkdirAll(s.Folder, 0o700); err != nil {
		return err
	}
	id, _, _ := strings.Cut(strings.Trim(m.GetMessageID(), "<>"), "@")
	file := filepath.Join(s.Folder, filepath.Base(id)+".eml")
	if _, err := os.Stat(file); err == nil { // the same message a second time is one letter
		return nil
	}
	return durable.File(file, func(part string) error { return os.WriteFile(part, eml.Bytes(), 0o600) })
}
