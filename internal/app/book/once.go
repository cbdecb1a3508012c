package book

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"time"
	"unicode"
	"unicode/utf8"

	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// ErrOtherContent is a key that was used before, for something else.
var ErrOtherContent = &refuse.Error{
	Kind: refuse.KindConflict, Message: "this was sent before with something else in it; look at what is there now, and send it again",
}

// Done is the answer of a request that has none.
type Done struct{}

// The lengths of a client's key, in characters.
const (
	shortestKey = 8
	longestKey  = 64
)

// Once makes something for a request, once. The client's key is the user's own and stands for the content of the request; it is looked
// up before anything is checked. Sent once more for want of an answer, the request makes nothing and is answered as it was then; with
// other content it is refused with [ErrOtherContent], and what it made. Without a key nothing is remembered.
func Once[T any](s *Session, kind, key string, content any, create func() (T, error)) (T, error) {
	if key == "" {
		return create()
	}
	answer, done, err := Answered[T](s, kind, key, content)
	if err != nil || done {
		return answer, err
	}
	hash, err := hashOf(kind, content)
	if err != nil {
		return answer, err
	}
	if answer, err = create(); err != nil {
		return answer, err
	}
	text, err := json.Marshal(answer)
	if err != nil {
		return answer, err
	}
	now := s.Book.Now()
	if err := s.Run("DELETE FROM creations WHERE at < ?", now.Add(-remembered).UnixMilli()); err != nil {
		return answer, err
	}
	return answer, s.Run(`INSERT INTO creations (user_id, key, content, answer, at)
		VALUES (?, ?, ?, ?, ?)`, s.Actor.UserID, key, hash, string(text), now.UnixMilli())
}

// remembered is how long a request is remembered: longer than any window keeps what it could not send.
const remembered = 90 * 24 * time.Hour

// Answered is how a request was answered that was sent before, as [Once] answers it: for what is made ready before the book is held for
// writing.
func Answered[T any](s *Session, kind, key string, content any) (answer T, done bool, _ error) {
	if key == "" {
		return answer, false, nil
	}
	if err := checkKey(key); err != nil {
		return answer, false, err
	}
	hash, err := hashOf(kind, content)
	if err != nil {
		return answer, false, err
	}
	used, err := store.Query[store.Creation](s.Tx, "SELECT * FROM creations WHERE user_id = ? AND key = ?", s.Actor.UserID, key)
	if err != nil || len(used) == 0 {
		return answer, false, err
	}
	if used[0].Content == hash {
		return answer, true, json.Unmarshal([]byte(used[0].Answer), &answer)
	}
	_ = json.Unmarshal([]byte(used[0].Answer), &answer) // of another kind it is no answer here
	return answer, false, ErrOtherContent
}

func hashOf(kind string, content any) (string, error) {
	asked, err := json.Marshal([]any{kind, content})
	sum := sha256.Sum256(asked)
	return hex.EncodeToString(sum[:]), err
}

func checkKey(key string) error {
	n := utf8.RuneCountInString(key)
	for _, r := range key {
		if r == utf8.RuneError || unicode.IsControl(r) {
			n = 0
		}
	}
	if n < shortestKey || n > longestKey {
		return refuse.Invalid("key", "a key has %d to %d characters", shortestKey, longestKey)
	}
	return nil
}

// KeyOf makes the key of a part of a request from the key of the whole.
func KeyOf(key string, part ...any) string {
	text, err := json.Marshal(append([]any{key}, part...))
	if err != nil {
		panic("a key of what is no JSON: " + err.Error()) // texts and numbers always are
	}
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:])
}
