package scan

import (
	"encoding/gob"
	"fmt"
	"os"
	"os/signal"
	"runtime/debug"
	"syscall"

	"github.com/pdfcpu/pdfcpu/pkg/api"
)

// In a process that was started as a child nothing else is run: whichever program it is, it reads scans until there are no more.
func init() {
	api.DisableConfigDir()
	if os.Getenv(asChild) == "" {
		return
	}
	_ = beChild() // it ends where there is nothing more to read
	os.Exit(0)
}

func beChild() error {
	debug.SetMemoryLimit(sparing)
	debug.SetMaxStack(mostStack)
	if err := syscall.Setrlimit(syscall.RLIMIT_DATA, &syscall.Rlimit{Cur: mostMemory, Max: mostMemory}); err != nil {
		return err
	}
	over := make(chan os.Signal, 1)
	signal.Notify(over, syscall.SIGXCPU)
	go func() { <-over; os.Exit(1) }()
	tasks, made := gob.NewDecoder(os.Stdin), gob.NewEncoder(os.Stdout)
	for {
		var t task
		if err := tasks.Decode(&t); err != nil {
			return err
		}
		if err := allowCPU(); err != nil {
			return err
		}
		if err := made.Encode(t.run()); err != nil {
			return err
		}
	}
}

// allowCPU gives the process the time for one more file: that of its processor, however busy the machine is.
func allowCPU() error {
	var used syscall.Rusage
	var limit syscall.Rlimit
	if err := syscall.Getrusage(syscall.RUSAGE_SELF, &used); err != nil {
		return err
	}
	if err := syscall.Getrlimit(syscall.RLIMIT_CPU, &limit); err != nil {
		return err
	}
	limit.Cur = min(limit.Max, uint64(used.Utime.Sec)+uint64(used.Stime.Sec)+1+uint64(mostCPU.Seconds()))
	return syscall.Setrlimit(syscall.RLIMIT_CPU, &limit)
}

// run does what was asked. A file from anywhere may be anything: what panics is an error of that file.
func (t task) run() (r result) {
	defer func() {
		if trouble := recover(); trouble != nil {
			r = result{Why: fmt.Sprintf("reading it: %v", trouble)}
		}
	}()
	var err error
	switch {
	case t.Do == toCheck && t.Media == "application/pdf":
		err = checkPDF(t.Data)
	case t.Do == toCheck:
		_, err = decoded(t.Data)
	case t.Media == "application/pdf":
		r.Data, err = cleanPages(t.Data, t.Size, t.Label)
	default:
		r.Data, err = printable(t.Data)
	}
	if err != nil {
		return result{Why: err.Error()}
	}
	return r
}
