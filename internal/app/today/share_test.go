package today

import (
	"sync"
	"testing"
	"testing/synctest"
	"time"

	"github.com/stretchr/testify/assert"
)

// Forty who ask in the same moment share one answer; who asks after a change is never told what was read before it.
func TestWhoAsksTheSameAtOnceSharesAnAnswer(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		var s sharer[int]
		book, worked := 1, 0
		read := func() (int, error) {
			worked++
			found := book
			time.Sleep(30 * time.Millisecond)
			return found, nil
		}
		ask := func(want int) {
			got, err := s.ask("all", read)
			assert.NoError(t, err)
			assert.Equal(t, want, got)
		}
		begin := time.Now()
		ask(1)
		assert.Equal(t, 30*time.Millisecond, time.Since(begin), "the first does not wait for others")

		var asking sync.WaitGroup
		for range 40 {
			asking.Go(func() { ask(1) })
		}
		asking.Wait()
		assert.Equal(t, 2, worked)

		asking.Go(func() { ask(1) })
		time.Sleep(ShareEvery - 20*time.Millisecond) // its reading is under way
		book = 2
		asking.Go(func() { ask(2) })
		asking.Wait()
		assert.Equal(t, 4, worked)
	})
}

// Who may see other things is answered apart.
func TestOtherQuestionsAreAnsweredApart(t *testing.T) {
	var s sharer[string]
	for _, key := range []string{"owner", "foreman A"} {
		got, err := s.ask(key, func() (string, error) { return key, nil })
		assert.NoError(t, err)
		assert.Equal(t, key, got)
	}
}
