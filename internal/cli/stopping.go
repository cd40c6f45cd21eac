package cli

import (
	"context"
	"fmt"
	"io"
	"os"
	"os/signal"
	"strings"
	"sync/atomic"
	"syscall"
	"time"

	"epitome/internal/store"
	"epitome/internal/view"
)

// How long a command has to notice that it was asked to stop, and one that noticed it to come to its end: what it found
// so far is shown, a proof or a watch is put on its card.
const (
	toNotice = 120 * time.Millisecond
	toEnd    = 10 * time.Second
)

// A stopping is how a signal ends a command: one that works longer than a moment asks it, now and then, and ends by
// itself; the others are ended, and it is said what they leave.
type stopping struct {
	ctx     context.Context
	cancel  context.CancelFunc
	noticed atomic.Bool
}

// heed ends the program within a moment of a signal that asks it to, whatever it is doing, until it is released. A
// second signal ends it at once. A signal that the program was started to ignore stays ignored.
func (a *app) heed(errOut io.Writer) (release func()) {
	a.stopping = new(stopping)
	a.stopping.ctx, a.stopping.cancel = context.WithCancel(context.Background())
	signals := make(chan os.Signal, 2)
	for _, s := range []os.Signal{os.Interrupt, syscall.SIGTERM, syscall.SIGHUP} {
		if !signal.Ignored(s) {
			signal.Notify(signals, s)
		}
	}
	done := make(chan struct{})
	go func() {
		select {
		case <-done:
			return
		case <-signals:
		}
		a.stopping.cancel()
		for _, patience := range []time.Duration{toNotice, toEnd} {
			select {
			case <-done:
				return
			case <-signals:
				patience = 0
			case <-time.After(patience):
			}
			if patience == 0 || !a.stopping.noticed.Load() {
				break
			}
		}
		fmt.Fprintln(errOut, "epitome: stopped by a signal; "+view.Clip(view.Line(leaves(store.Leave())), longestQuote))
		os.Exit(exitFailed)
	}()
	return func() {
		close(done)
		signal.Stop(signals)
		a.stopping.cancel()
	}
}

// leaves says what a command that was ended had written.
func leaves(wrote []string) string {
	if len(wrote) == 0 {
		return "no file was written"
	}
	return "written before that: " + strings.Join(wrote, ", ")
}

// interrupted reports whether the command was asked to stop. Who asks this ends by itself.
func (a *app) interrupted() bool {
	if a.stopping == nil || a.stopping.ctx.Err() == nil {
		return false
	}
	a.stopping.noticed.Store(true)
	return true
}

// untilStopped is a context that ends when the command is asked to stop, for what waits: it has noticed it by that.
func (a *app) untilStopped() context.Context {
	if a.stopping == nil {
		return context.Background()
	}
	context.AfterFunc(a.stopping.ctx, func() { a.stopping.noticed.Store(true) })
	return a.stopping.ctx
}
