package scan

import (
	"context"
	"encoding/gob"
	"errors"
	"io"
	"os"
	"os/exec"
	"time"
)

// The bounds of a child.
const (
	mostAtOnce = 2
	mostCPU    = 3 * time.Second // of a file
	mostTime   = 2 * time.Minute // of a file, where the machine is busy
	mostMemory = 512 << 20       // bytes
	mostStack  = 32 << 20        // bytes, of what goes in circles
	mostAnswer = 8 * Largest     // bytes of what is made of a file
	asChild    = "JARVO_SCAN"    // set where the binary is to be the child
	sparing    = mostMemory / 2  // bytes from which the child collects its garbage eagerly
)

// What a child does with a scan.
const (
	toCheck = "check"
	toMake  = "make"
)

// task is what a child is asked for, result what it answers.
type (
	task struct {
		Do, Media, Label, Size string
		Data                   []byte
	}
	result struct {
		Data []byte
		Why  string // it could not be done
	}
)

// turns holds a token for each child.
var turns = make(chan struct{}, mostAtOnce)

// Reader reads one scan after the other with the same child, and with another where a scan has ended it. Its zero value is ready; it must
// be closed. It is not safe for concurrent use.
type Reader struct {
	child  *exec.Cmd
	in     io.WriteCloser
	tasks  *gob.Encoder
	answer *io.LimitedReader
	made   *gob.Decoder
}

func (r *Reader) do(ctx context.Context, t task) ([]byte, error) {
	if r.child == nil {
		if err := r.begin(ctx); err != nil {
			return nil, err
		}
	}
	ctx, end := context.WithTimeout(ctx, mostTime)
	defer end()
	kill := context.AfterFunc(ctx, func() { _ = r.child.Process.Kill() })
	r.answer.N = mostAnswer
	var made result
	err := r.tasks.Encode(t)
	if err == nil {
		err = r.made.Decode(&made)
	}
	if err != nil {
		kill()
		r.Close()
		return nil, ErrTooMuch
	}
	if !kill() {
		r.Close() // it is being killed
	}
	if made.Why != "" {
		return nil, errors.New(made.Why)
	}
	return made.Data, nil
}

// begin starts a child once it is its turn.
func (r *Reader) begin(ctx context.Context) error {
	select {
	case turns <- struct{}{}:
	case <-ctx.Done():
		return context.Cause(ctx)
	}
	self, err := os.Executable()
	if err == nil {
		r.child = exec.Command(self)
		r.child.Env = []string{asChild + "=yes"} // and none of the secrets that the server was given
		r.in, err = r.child.StdinPipe()
	}
	if err == nil {
		var out io.ReadCloser
		if out, err = r.child.StdoutPipe(); err == nil {
			r.answer = &io.LimitedReader{R: out}
		}
	}
	if err == nil {
		err = r.child.Start()
	}
	if err != nil {
		r.child = nil
		<-turns
		return err
	}
	r.tasks, r.made = gob.NewEncoder(r.in), gob.NewDecoder(r.answer)
	return nil
}

// Close ends the child.
func (r *Reader) Close() {
	if r.child == nil {
		return
	}
	_ = r.in.Close()
	_ = r.child.Process.Kill() // it keeps nothing
	_ = r.child.Wait()
	r.child = nil
	<-turns
}
