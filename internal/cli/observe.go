package cli

import (
	"fmt"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/core/card"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/plain"
	"epitome/core/records"
)

// observeFlags are observe's flags as typed.
type observeFlags struct {
	by, source     string
	undo, newPlace bool
}

func (a *app) observe() *cobra.Command {
	var f observeFlags
	cmd := &cobra.Command{
		Use:   "observe CARD FACT=VALUE...",
		Short: "Add what you saw or read to a card",
		Long: `Observe records on a card what the technician saw or read, with who, when and
from what kind of source. Sight outweighs everything about sockets; what
firmware said stays listed. Two observations that contradict each other are
both kept, and the fact is disputed until one is withdrawn.

Facts of a place: attach (socket, soldered), form (DIMM, SO-DIMM …), channel (A,
B …) and holds (the sticker's text, or free), each with "of PLACE". Facts of the
machine: kind, maker, model, board, processor, chipset, system, form (of all
sockets), supply (what the board gives, as 1.35 V), maximum (of the whole
machine), per slot (the largest module), rate (the highest, in MT/s), sockets
(how many you counted), slots a channel, distrust (a reading not to be used, by
its source or kind).

Lines of a settings panel are taken as they stand: "Slots used: 1 of 2".

--undo withdraws the latest observation; it stays on the card as history.`,
		Example: `  epitome observe bench3.card "attach of DIMM 0=soldered" --by Jory
  epitome observe bench3.card "holds of DIMM A=8GB 1Rx8 PC4-2400T-SA1-11"
  epitome observe bench3.card "attach of slot under the cover=socket" --new-place
  epitome observe bench3.card maximum=32GB --source manual
  epitome observe bench3.card --undo`,
		Args: func(cmd *cobra.Command, args []string) error {
			switch {
			case len(args) == 0:
				return usageError("observe wants a card and what was seen; see %s --help", cmd.CommandPath())
			case len(args) == 1 && !f.undo:
				return usageError(`nothing was observed; write FACT=VALUE, as "attach of DIMM 0=soldered"`)
			case len(args) > 1 && f.undo:
				return usageError("--undo withdraws; it adds nothing")
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			b, err := a.open(args[0])
			if err != nil {
				return err
			}
			if f.undo {
				return a.undo(args[0])
			}
			return a.addObservation(args[0], b, args[1:], f)
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&f.by, "by", "", "who saw it")
	flags.StringVar(&f.source, "source", "", "sight (default), manual, label, maker or measured")
	flags.BoolVar(&f.undo, "undo", false, "withdraw the latest observation")
	flags.BoolVar(&f.newPlace, "new-place", false, "the place is one that no reading listed")
	return cmd
}

func (a *app) addObservation(path string, b *bench.Bench, facts []string, f observeFlags) error {
	h := records.Hand{Version: 1, By: f.by, Source: f.source}
	facts, panel := panelLines(facts)
	if len(panel) > 0 {
		if err := a.add(path, "noted "+strings.Join(panel, "; "), card.Reading{Kind: card.Panel, Source: "settings panel", How: "by hand", Taken: a.now().UTC().Truncate(time.Second),
			Data: []byte(strings.Join(panel, "\n"))}); err != nil || len(facts) == 0 {
			return err
		}
	}
	for _, fact := range facts {
		name, value, found := strings.Cut(fact, "=")
		name, value = strings.TrimSpace(name), strings.TrimSpace(value)
		if !found || name == "" || value == "" {
			return usageError(`%q is no observation; write FACT=VALUE, as "attach of DIMM 0=soldered"`, fact)
		}
		if err := observed(&h, name, value, b.Machine(), f.newPlace); err != nil {
			return err
		}
		if name == "distrust" {
			if err := onCard(b.Card(), value); err != nil {
				return err
			}
		}
	}
	data, err := h.Encode()
	if err != nil {
		return err
	}
	if _, err := records.ParseHand(data); err != nil {
		return usageError("%v", err)
	}
	return a.add(path, "observed "+strings.Join(facts, "; "), card.Reading{
		Kind:   card.Hand,
		Source: "observed",
		How:    "by hand",
		Taken:  a.now().UTC().Truncate(time.Second),
		Data:   data,
	})
}

// panelLines takes apart what is copied from a settings panel, which has no equals
// sign, and what is written as an observation.
func panelLines(all []string) (facts, panel []string) {
	for _, text := range all {
		if _, err := records.ParsePanel(text); err == nil && !strings.Contains(text, "=") {
			panel = append(panel, text)
		} else {
			facts = append(facts, text)
		}
	}
	return facts, panel
}

// observed puts one fact into the entry.
func observed(h *records.Hand, name, value string, m machine.Machine, newPlace bool) error {
	fact, place, ofPlace := strings.Cut(name, " of ")
	place = strings.TrimSpace(place)
	if ofPlace && !newPlace {
		if err := listed(m, place); err != nil {
			return err
		}
	}
	if fact == "holds" && !records.IsFree(value) {
		if _, err := module.Parse(value); err != nil {
			return usageError("holds of %s: %v", place, err)
		}
	}
	if err := h.Observe(fact, place, value); err != nil {
		return usageError("%v", err)
	}
	return nil
}

// listed reports an error that lists the places where there is none of the
// name.
func listed(m machine.Machine, place string) error {
	var names []string
	for _, p := range m.Places {
		if strings.EqualFold(p.Name, place) {
			return nil
		}
		names = append(names, p.Name)
	}
	if len(names) == 0 {
		names = []string{"none yet"}
	}
	return usageError("there is no place %q on the card; there are: %s. --new-place adds one", plain.Line(place), strings.Join(names, ", "))
}

// onCard reports an error that lists the readings where none goes by the name.
func onCard(c card.Card, name string) error {
	var names []string
	for _, r := range c.Readings {
		if r.Kind == card.Hand {
			continue
		}
		if strings.EqualFold(string(r.Kind), name) || strings.Contains(r.Source, name) || r.Address != "" && strings.HasSuffix(r.Address, strings.TrimPrefix(name, "0x")) {
			return nil
		}
		names = append(names, fmt.Sprintf("%s (%s)", plain.Line(r.Source), r.Kind))
	}
	if len(names) == 0 {
		names = []string{"none"}
	}
	return usageError("no reading on the card goes by %q; there are: %s", plain.Line(name), strings.Join(names, ", "))
}

// undo withdraws the latest observation that still counts.
func (a *app) undo(path string) error {
	return a.change(path, func(c *card.Card) (string, error) {
		for i := len(c.Readings) - 1; i >= 0; i-- {
			r := &c.Readings[i]
			if r.Kind == card.Hand && r.Source == "observed" && r.Failure == "" {
				r.Failure = "withdrawn " + a.now().UTC().Format(time.DateOnly)
				return "withdrew the observation of " + r.Taken.Format(time.DateTime), nil
			}
		}
		return "", fmt.Errorf("%s: there is no observation to withdraw", path)
	})
}
