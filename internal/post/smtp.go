package post

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"net"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"time"

	gomail "github.com/wneessen/go-mail"
)

// Server is a mail server that messages are handed to.
type Server struct {
	Name    string
	tls     *tls.Config // of the connection from its first byte; nil for plain or STARTTLS
	options []gomail.Option
}

// answered is what the server said, within what is told of it.
var answered = regexp.MustCompile(`([45]\d\d .*?)(?:, affected|, [45]\d\d|$)`)

// The bounds of a conversation with a server.
const (
	stepTime   = 2 * time.Minute // until some more of it is taken or answered
	longest    = 30 * time.Minute
	mostAnswer = 1 << 20 // bytes that the server says
)

// line is the connection to a server. Each step has a time of its own, so that a large message on a slow line is not cut off, and what the
// server says is bounded.
type line struct {
	net.Conn
	left int64 // bytes that the server may still say
}

var errSaysTooMuch = errors.New("the mail server says more than a mail server has to say")

func (l *line) Read(p []byte) (int, error) {
	if l.left <= 0 {
		return 0, errSaysTooMuch
	}
	if err := l.SetReadDeadline(time.Now().Add(stepTime)); err != nil {
		return 0, err
	}
	n, err := l.Conn.Read(p[:min(int64(len(p)), l.left)])
	l.left -= int64(n)
	return n, err
}

func (l *line) Write(p []byte) (int, error) {
	if err := l.SetWriteDeadline(time.Now().Add(stepTime)); err != nil {
		return 0, err
	}
	return l.Conn.Write(p)
}

// SetDeadline leaves the deadlines to the steps.
func (l *line) SetDeadline(time.Time) error { return nil }

// dial connects to the server for a conversation, which ends with its context.
func (s *Server) dial(conversation context.Context) gomail.DialContextFunc {
	return func(ctx context.Context, network, address string) (net.Conn, error) {
		plain, err := (&net.Dialer{}).DialContext(ctx, network, address)
		if err != nil {
			return nil, err
		}
		context.AfterFunc(conversation, func() { _ = plain.Close() })
		conn := &line{plain, mostAnswer}
		if s.tls == nil {
			return conn, nil
		}
		secure := tls.Client(conn, s.tls)
		return secure, secure.HandshakeContext(ctx)
	}
}

// ParseServer reads the address of a mail server, smtp://user@host:587 or smtps://user@host:465, with the user's password. What is sent to
// a server on another machine is always encrypted.
func ParseServer(address, password string) (*Server, error) {
	at, err := url.Parse(address)
	if err != nil || at.Hostname() == "" || at.Scheme != "smtp" && at.Scheme != "smtps" {
		return nil, fmt.Errorf("%q is not the address of a mail server, such as smtp://user@mail.example:587", address)
	}
	local := at.Hostname() == "localhost" || at.Hostname() == "127.0.0.1" || at.Hostname() == "::1"
	s := &Server{Name: at.Hostname()}
	options := []gomail.Option{gomail.WithTimeout(stepTime), gomail.WithoutNoop()}
	switch {
	case at.Scheme == "smtps":
		s.tls = &tls.Config{ServerName: at.Hostname(), MinVersion: tls.VersionTLS12}
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
	s.options = options
	_, err = gomail.NewClient(s.Name, options...)
	return s, err
}

// Send hands a message to the server. It gives up when the context ends.
func (s *Server) Send(ctx context.Context, m *gomail.Msg) error {
	ctx, end := context.WithTimeout(ctx, longest)
	defer end()
	client, err := gomail.NewClient(s.Name, append(slices.Clone(s.options), gomail.WithDialContextFunc(s.dial(ctx)))...)
	if err != nil {
		return err
	}
	err = client.DialAndSendWithContext(ctx, m)
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
