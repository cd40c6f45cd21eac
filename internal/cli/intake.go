package cli

import (
	"errors"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/live"
	"epitome/internal/store/joblog"
)

// intakeFlags are intake's flags as typed.
type intakeFlags struct {
	from, root, out, title, hand string
	stickers                     []string
	live, byHand, blank, replace bool
	how, job                     bool
	panel                        []string
}

func (a *app) intake() *cobra.Command {
	var f intakeFlags
	cmd := &cobra.Command{
		Use:   "intake [--from FOLDER | --root FOLDER | --by-hand] -o CARD",
		Short: "Make a card: from this machine, from collected files, or by hand",
		Long: `Intake takes raw readings and writes them on a new card. It reads this
machine (as root, since firmware tables are root's to read), files collected
in a folder, a copy of a Linux system tree, or what you read off stickers and
boards. It changes nothing on the machine it reads. What was read, and what
could not be and why, goes to stderr.

In a folder it recognises smbios_entry_point and DMI (the kernel's two files),
*.smbios (both in one file), spd-50.bin to spd-57.bin and *.spd (module
EEPROMs), cpuinfo, meminfo, vmstat, pressure-memory, pci, cim*.json, cim*.csv,
cim*.txt and profile*.json (what systems export of themselves), hand*.yaml.
--how prints what to type on a machine to collect them.

A machine that will not start is entered by hand: --by-hand asks one question
at a time, each of which may be skipped; --blank writes a form to fill in with
an editor, and --hand takes it in; --sticker adds one sticker. With --live this
machine is read besides.`,
		Example: `  sudo epitome intake -o bench3.card
  epitome intake --from usb-stick/bench3 -o bench3.card
  epitome intake --root /mnt/customer-disk-image -o bench3.card --replace
  epitome intake --sticker "DIMM A=8GB 1Rx8 PC4-2400T-SA1-11" -o bench3.card
  epitome intake --blank -o form.yaml
  epitome intake --how`,
		Args: exactly(0, "no arguments, only flags"),
		RunE: func(*cobra.Command, []string) error {
			if f.how {
				return a.how()
			}
			if err := f.check(); err != nil {
				return err
			}
			if f.blank {
				return a.writeBlank(f)
			}
			now := a.now().UTC().Truncate(time.Second)
			haul, err := f.take(now)
			if err != nil {
				return err
			}
			if err := a.addHand(&haul, f, now); err != nil {
				return err
			}
			return a.finish(haul, bench.NewCard(now, f.title, haul.Readings), f)
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&f.from, "from", "", "read collected files from this folder")
	flags.StringVar(&f.root, "root", "", "read a copy of a Linux system tree (FOLDER/sys, FOLDER/proc)")
	flags.StringVarP(&f.out, "out", "o", "", "the card to write")
	flags.StringVar(&f.title, "title", "", "your own name for the job, kept on the card")
	flags.BoolVar(&f.job, "job", false, "open a job for it in the workshop's log")
	flags.BoolVar(&f.byHand, "by-hand", false, "ask for everything, one question at a time")
	flags.BoolVar(&f.blank, "blank", false, "write a form to fill in with an editor, instead of a card")
	flags.StringVar(&f.hand, "hand", "", "take in a form that was filled in")
	flags.StringArrayVar(&f.stickers, "sticker", nil, `a sticker, as "DIMM A=8GB 1Rx8 PC4-2400T-SA1-11"; may be repeated`)
	flags.StringArrayVar(&f.panel, "panel", nil,
		`a line of a settings panel as it stands, as "Slots used: 1 of 2"; may be repeated`)
	flags.BoolVar(&f.live, "live", false, "read this machine besides what is given by hand")
	flags.BoolVar(&f.replace, "replace", false, "overwrite a card that exists")
	flags.BoolVar(&f.how, "how", false, "print the lines that collect files on a machine without Epitome")
	return cmd
}

func (f intakeFlags) check() error {
	switch {
	case f.from != "" && f.root != "":
		return usageError("--from and --root are two different sources; give one")
	case f.live && (f.from != "" || f.root != ""):
		return usageError("--live reads this machine; it does not go with --from or --root")
	case f.byHand && f.hand != "":
		return usageError("--by-hand and --hand are two ways to say the same; give one")
	case f.out == "":
		return usageError("no name for the card; give one with -o, as in -o bench3.card")
	}
	return nil
}

// manual reports whether anything is given by hand.
func (f intakeFlags) manual() bool {
	return f.byHand || f.hand != "" || len(f.stickers)+len(f.panel) > 0
}

// take reads what is not given by hand.
func (f intakeFlags) take(now time.Time) (live.Haul, error) {
	switch {
	case f.from != "":
		return live.Folder(f.from, now)
	case f.root != "":
		return live.Tree(f.root, now)
	case f.manual() && !f.live:
		return live.Haul{}, nil
	}
	return live.Here(now)
}

func (a *app) writeBlank(f intakeFlags) error {
	if err := a.write(f.out, []byte(bench.BlankForm()), f.replace); err != nil {
		return err
	}
	a.say("blank    %s: fill it in, then epitome intake --hand %s -o CARD", f.out, f.out)
	return nil
}

// addHand adds what is given by hand, after checking that it can be read.
func (a *app) addHand(haul *live.Haul, f intakeFlags, now time.Time) error {
	add := func(r bench.Reading, err error) error {
		if err == nil {
			haul.Add(r)
		}
		return err
	}
	if len(f.panel) > 0 {
		if err := add(bench.PanelReading(f.panel, now)); err != nil {
			return err
		}
	}
	if f.hand != "" {
		data, err := a.read(f.hand, 1<<20)
		if err != nil {
			return err
		}
		if err := add(bench.FormReading(f.hand, data, now)); err != nil {
			return err
		}
	}
	if f.byHand {
		h, err := a.ask()
		if err != nil {
			return err
		}
		if err := add(bench.EnteredReading(h, now)); err != nil {
			return err
		}
	}
	if len(f.stickers) > 0 {
		h, err := bench.StickerForm(f.stickers)
		if err != nil {
			return err
		}
		return add(bench.EnteredReading(h, now))
	}
	return nil
}

// matched says which EEPROM belongs to which place, and what could not be
// brought together.
func (a *app) matched(b *bench.Bench) {
	for _, p := range b.Machine().Places {
		if p.EEPROMAddress != "" && !strings.HasPrefix(p.Name, "EEPROM ") {
			a.say("matched  EEPROM %s: the module in %s", p.EEPROMAddress, p.Name)
		}
	}
	for _, c := range b.Unmatched() {
		a.say("unclear  %s: %s", strings.Join(c.Sources, ", "), c.Says)
	}
	for _, aside := range b.Ignored() {
		a.say("aside    %s: says nothing of memory", aside)
	}
	if next := b.Next(); next != "" {
		a.say("next     what would settle most: %s", next)
	}
}

// finish reports what was taken and writes the card, if it would say anything
// about memory.
func (a *app) finish(haul live.Haul, c bench.Card, f intakeFlags) error {
	for _, n := range haul.Notes {
		verb := "read"
		if !n.Taken {
			verb = "missing"
		}
		a.say("%-7s  %s: %s", verb, n.Source, n.Says)
	}
	if !haul.TellsOfMemory() {
		return errors.New("nothing was read that tells what memory is fitted; no card was written.\n" +
			"As root (sudo) the firmware tables can be read on most machines; or collect them elsewhere and use\n" +
			"--from FOLDER, or enter what the stickers say with --by-hand")
	}
	text, err := c.Encode()
	if err != nil {
		return err
	}
	if err := a.write(f.out, text, f.replace); err != nil {
		return err
	}
	a.say("card     %s: %d readings, %d bytes", f.out, len(c.Readings), len(text))
	if f.job {
		if err := a.withLog(func(l *joblog.Log) error { return a.openJob(l, f.out) }); err != nil {
			return err
		}
	}
	a.matched(bench.Bare(c))
	if !haul.HasTable() && !f.manual() && f.from == "" {
		// The machine was asked and did not tell: the card is worth having, and
		// whoever scripts this must notice.
		return errors.New("the card lacks the firmware tables, so places and limits are unknown; run again as root with " +
			"--replace, or add them with --from")
	}
	return nil
}
