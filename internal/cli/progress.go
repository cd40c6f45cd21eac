package cli

import (
	"time"

	"github.com/jedib0t/go-pretty/v6/progress"
)

// A bar shows on a terminal that a long command is at work.
type bar struct {
	writer  progress.Writer
	tracker *progress.Tracker
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
	b := &bar{w, &progress.Tracker{Message: says, Total: steps, RemoveOnCompletion: true}}
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
	for range 20 {
		if !b.writer.IsRenderInProgress() {
			return
		}
		b.writer.Stop()
		time.Sleep(10 * time.Millisecond)
	}
}
