package live

import (
	"context"
	"fmt"
	"os/exec"
	"strings"
	"time"

	"epitome/core/card"
)

// patience is how long the system may take to describe itself; it takes seconds.
const patience = 90 * time.Second

// describing takes the description that a command of the system prints. What can't
// be read on such a system is said.
func describing(command []string, now time.Time) (Haul, error) {
	t := taker{how: "live", now: now}
	ctx, cancel := context.WithTimeout(context.Background(), patience)
	defer cancel()
	var out limited
	cmd := exec.CommandContext(ctx, command[0], command[1:]...)
	cmd.Stdout = &out
	source := strings.Join(append([]string{command[0][strings.LastIndexByte(command[0], '/')+1:]}, command[1:]...), " ")
	switch err := cmd.Run(); {
	case out.over:
		t.note(source, false, "%v: over %d bytes", errTooLong, maxReading)
	case err != nil:
		t.note(source, false, "%v; type it yourself, keep what it prints as profile.json, and use --from FOLDER", err)
	case len(out.data) == 0:
		t.note(source, false, "printed nothing")
	default:
		t.keep(card.Reading{Kind: card.CIM, Source: source, Data: out.data})
		t.note(source, true, "%d bytes", len(out.data))
	}
	t.note("firmware tables, module EEPROMs", false, "can't be read on this system; the stickers must do")
	return t.haul, nil
}

// limited keeps what is written to it, up to the longest reading.
type limited struct {
	data []byte
	over bool
}

func (l *limited) Write(p []byte) (int, error) {
	if len(l.data)+len(p) > maxReading {
		l.over = true
		return 0, fmt.Errorf("%w: over %d bytes", errTooLong, maxReading)
	}
	l.data = append(l.data, p...)
	return len(p), nil
}
