package post

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"net/url"
	"regexp"
	"strconv"
	"time"

	gomail "github.com/wneessen/go-mail"
)

// Server is a mail server that messages are handed to.
type Server struct {
	client *gomail.Client
	Name   string
}

// answered is what the server said, within what is told of it.
var answered = regexp.MustCompile(`([45]\d\d .*?)(?:, affected|, [45]\d\d|$)`)

// answerTime is how long a server may take for an answer.
const answerTime = 30 * time.Second

// ParseServer reads the address of a mail server, smtp://user@host:587 or smtps://user@host:465, with the user's password. What is sent to
// a server on another machine is always encrypted.
func ParseServer(address, password string) (*Server, error) {
	at, err := url.Parse(address)
	if err != nil || at.Hostname() == "" || at.Scheme != "smtp" && at.Scheme != "smtps" {
		return nil, fmt.Errorf("%q is not the address of a mail server, such as smtp://user@mail.example:587", address)
	}
	local := at.Hostname() == "localhost" || at.Hostname() == "127.0.0.1" || at.Hostname() == "::1"
	options := []gomail.Option{gomail.WithTimeout(answerTime), gomail.WithoutNoop()}
	switch {
	case at.Scheme == "smtps":
		options = append(options, gomail.WithSSLPort(false))
	case local:
		options = append(options, gomail.WithTLSPortPolicy(gomail.TLSOpportunistic), gomail.WithTLSConfig(&tls.Config{
			InsecureSkipVerify: true, //nolint:gosec // the server is on this machine, often with a certificate of its own
			MinVersion:         tls.VersionTLS12,
		}))
	default:
		options = append(options, gomail.WithTLSPortPolicy(gomail.TLSMandatory))
	}
	if text := at.Port(); text != "" {
		port, err := strconv.Atoi(text)
		if err != nil {
			return nil, fmt.Errorf("%q is not a port", text)
		}
		options = append(options, gomail.WithPort(port))
	}
	if user := at.User.Username(); user != "" {
		options = append(options, gomail.WithSMTPAuth(gomail.SMTPAuthAutoDiscover), gomail.WithUsername(user), gomail.WithPassword(password))
	}
	client, err := gomail.NewClient(at.Hostname(), options...)
	return &Server{client, at.Hostname()}, err
}

// Send hands a message to the server.
func (s *Server) Send(ctx context.Context, m *gomail.Msg) error {
	err := s.client.DialAndSendWithContext(ctx, m)
	if err == nil || m.IsDelivered() { // where only the farewell failed
		return nil
	}
	refused := &Refusal{Why: err.Error(), MayPass: true}
	if answer := answered.FindStringSubmatch(refused.Why); answer != nil {
		refused.Why = answer[1]
	}
	if sent := (*gomail.SendError)(nil); errors.As(err, &sent) {
		code := sent.ErrorCode()
		refused.MayPass = sent.IsTemp() || code == 0
		if sent.Reason == gomail.ErrSMTPDataClose && code == 0 { // the message was there, and no answer came
			refused.MayPass = false
			refused.Why = "The server did not answer once it had the message. It may have arrived: ask before you send it again."
		}
	}
	return refused
}
