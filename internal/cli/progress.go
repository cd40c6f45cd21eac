package cli

import (
	"fmt"
	"io"
	"time"

	"github.com/jedib0t/go-pretty/v6/progress"
	"github.com/jedib0t/go-pretty/v6/text"
)

// A bar shows on a terminal that a long command is at work.
type bar struct {
	writer  progress.Writer
	tracker *progress.Tracker
	screen  io.Writer
}

// newBar shows a bar of so many steps, or one that only moves where their number
// is not known (0).
func (a *app) newBar(says string, steps int64) *bar {
	w := progress.NewWriter()
	w.SetOutputWriter(a.errScreen)
	w.SetUpdateFrequency(200 * time.Millisecond)
	w.SetStyle(progress.StyleDefault)
	w.SetTrackerPosition(progress.PositionRight)
	w.SetTrackerLength(14)
	w.SetMessageLength(64)
	w.Style().Visibility = progress.StyleVisibility{ETA: steps > 0, Tracker: true}
	// The library moves up, to draw a line anew, over trackers alone that stay when they
	// are done: the line is taken off at the end instead.
	b := &bar{w, &progress.Tracker{Message: says, Total: steps}, a.errScreen}
	w.AppendTracker(b.tracker)
	go w.Render()
	return b
}

// at shows how far it is, and what is going on.
func (b *bar) at(step int64, says string) {
	if says != "" {
		b.tracker.UpdateMessage(says)
	}
	b.tracker.SetValue(step)
}

// end takes the bar off the screen.
func (b *bar) end() {
	b.tracker.MarkAsDone()
	drawn := false
	for range 20 {
		if !b.writer.IsRenderInProgress() {
			break
		}
		drawn = true
		b.writer.Stop()
		time.Sleep(10 * time.Millisecond)
	}
	if drawn {
		fmt.Fprint(b.screen, text.CursorUp.Sprint(), text.EraseLine.Sprint())
	}
}
