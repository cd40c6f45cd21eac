package cli

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"epitome/core/bench"
	"epitome/internal/store"
	"epitome/internal/view"
)

// showRound writes what a round came to, everywhere where it was asked for.
func (a *app) showRound(r *bench.Round, f roundFlags, set store.Settings, paper string) error {
	var page view.Round
	var writer *view.RoundJSON
	if f.format == "json" {
		writer = view.NewRoundJSON(a.out)
	}
	wants := func(ending string) bool {
		return slices.ContainsFunc(f.out, func(n string) bool { return strings.EqualFold(filepath.Ext(n), ending) })
	}
	rows := [][]string{view.RoundCSV()}
	var slips []view.RoundSlip
	var served []bench.RoundLine // whose part is to be kept on their cards
	at := 0
	if err := r.Lines(func(l bench.RoundLine) error {
		page.Add(l)
		if wants(".csv") {
			rows = append(rows, view.RoundRow(r, l))
		}
		if l.State == bench.RoundGets && wants(".pdf") {
			d, err := r.Slip(at, l, bench.SlipOrder{Heading: clean(set.Heading), Date: a.now().Format(time.DateOnly)})
			if err != nil {
				return fmt.Errorf("%s: %w", l.Card, err)
			}
			slips = append(slips, view.RoundSlip{Line: l, Slip: d})
		}
		if l.State == bench.RoundGets && f.save {
			served = append(served, l)
		}
		at++
		if writer != nil {
			return writer.Add(l)
		}
		return nil
	}); err != nil {
		return err
	}
	a.sayTaken()
	// What was worked out is shown first, then written, then kept: each stands whatever becomes of the next.
	if writer != nil {
		if err := writer.End(r); err != nil {
			return err
		}
	} else {
		p := view.NewPage(a.look())
		page.Page(p, r)
		if err := p.Flush(a.out); err != nil {
			return err
		}
	}
	var wrong []error
	for _, name := range f.out {
		wrong = append(wrong, a.roundFile(name, r, &page, rows, slips, set, paper, f.replace))
	}
	if f.order != "" {
		err := a.writeCSV(f.order, view.OrderCSV(r), f.replace)
		if err == nil {
			a.say("order    %s", f.order)
		}
		wrong = append(wrong, err)
	}
	if err := errors.Join(append(wrong, a.saveRounds(r, served, f.stock))...); err != nil {
		return err
	}
	return answer(endCodes[r.End()])
}

// mostNamed is how many cards a message names.
const mostNamed = 20

// saveRounds keeps on each card what its machine gets, and says on which that failed.
func (a *app) saveRounds(r *bench.Round, served []bench.RoundLine, lists []string) error {
	var wrong []error
	for _, l := range served {
		if err := a.saveRound(r, l, lists); err != nil {
			wrong = append(wrong, err)
		}
	}
	if kept := len(served) - len(wrong); kept > 0 {
		a.say("kept     on %d cards", kept)
	}
	if len(wrong) == 0 {
		return nil
	}
	for _, err := range wrong[:min(len(wrong), mostNamed)] {
		a.say("not kept %v", err)
	}
	return fmt.Errorf("the plans of %d cards were not kept; what is shown and written stands", len(wrong))
}

// writable tells before the work what could not be written after it: files that exist already, and, where plans are
// to be kept, cards that are write-protected.
func (f roundFlags) writable(cards []string) error {
	for _, name := range append(slices.Clone(f.out), f.order) {
		if _, err := os.Stat(name); name != "" && err == nil && !f.replace {
			return usageError("%s exists already; --replace overwrites it", name)
		}
	}
	if !f.save {
		return nil
	}
	var wrong []string
	for _, path := range cards {
		if err := store.Writable(path); err != nil {
			wrong = append(wrong, err.Error())
		}
	}
	if len(wrong) > 0 {
		return fmt.Errorf("%d of %d cards can't be written, and nothing was begun:\n%s", len(wrong), len(cards),
			strings.Join(wrong[:min(len(wrong), mostNamed)], "\n"))
	}
	return nil
}

// roundFile writes a round in the form that a file's name asks for.
func (a *app) roundFile(name string, r *bench.Round, page *view.Round, rows [][]string, slips []view.RoundSlip,
	set store.Settings, paper string, replace bool) error {
	var b bytes.Buffer
	switch strings.ToLower(filepath.Ext(name)) {
	case ".csv":
		if err := a.writeCSV(name, rows, replace); err != nil {
			return err
		}
		a.say("machines %s: %d", name, len(rows)-1)
		return nil
	case ".pdf":
		if err := view.RoundPDF(&b, r, slips, clean(set.Heading), a.now().Format(time.DateOnly), paper); err != nil {
			return err
		}
	default:
		p := view.NewPage(view.Look{Width: 80, ASCII: a.ascii})
		page.Page(p, r)
		if err := p.Flush(&b); err != nil {
			return err
		}
	}
	if err := a.write(name, b.Bytes(), replace); err != nil {
		return err
	}
	a.say("round    %s", name)
	return nil
}

// saveRound keeps on a card what its machine gets.
func (a *app) saveRound(r *bench.Round, l bench.RoundLine, files []string) error {
	lists, err := listSums(files)
	if err != nil {
		return err
	}
	reading, err := r.Kept(l, lists, a.now().UTC().Truncate(time.Second))
	if err != nil {
		return err
	}
	_, err = a.changed(l.Card, func(c *bench.Card) (string, error) {
		c.Readings = append(c.Readings, reading)
		return "its part of a round kept", nil
	})
	return err
}
