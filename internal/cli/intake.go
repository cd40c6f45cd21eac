package cli

import (
	"errors"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/card"
	"epitome/internal/live"
	"epitome/internal/store"
)

func (a *app) intake() *cobra.Command {
	var from, root, out, title string
	var replace bool
	cmd := &cobra.Command{
		Use:   "intake [--from FOLDER | --root FOLDER] -o CARD",
		Short: "Make a card: from this machine or from collected files",
		Long: `Intake takes raw readings and writes them on a new card. It reads this
machine (as root, since firmware tables are root's to read), files collected
in a folder, or a copy of a Linux system tree. It changes nothing on the
machine it reads. What was read, and what could not be and why, goes to stderr.

In a folder it recognises smbios_entry_point and DMI (the kernel's two files),
*.smbios (both in one file), spd-50.bin to spd-57.bin and *.spd (module
EEPROMs), cpuinfo, meminfo, vmstat, pressure-memory, pci, cim*.json, cim*.csv.`,
		Example: `  sudo epitome intake -o bench3.card
  epitome intake --from usb-stick/bench3 -o bench3.card
  epitome intake --root /mnt/customer-disk-image -o bench3.card --replace`,
		Args: exactly(0, "no arguments, only flags"),
		RunE: func(*cobra.Command, []string) error {
			switch {
			case from != "" && root != "":
				return usageError("--from and --root are two different sources; give one")
			case out == "":
				return usageError("no name for the card; give one with -o, as in -o bench3.card")
			}
			now := a.now().UTC().Truncate(time.Second)
			haul, err := take(from, root, now)
			if err != nil {
				return err
			}
			return a.write(haul, card.Card{Made: now, Title: title, Readings: haul.Readings}, out, replace)
		},
	}
	f := cmd.Flags()
	f.StringVar(&from, "from", "", "read collected files from this folder")
	f.StringVar(&root, "root", "", "read a copy of a Linux system tree (FOLDER/sys, FOLDER/proc)")
	f.StringVarP(&out, "out", "o", "", "the card to write")
	f.StringVar(&title, "title", "", "your own name for the job, kept on the card")
	f.BoolVar(&replace, "replace", false, "overwrite a card that exists")
	return cmd
}

func take(from, root string, now time.Time) (live.Haul, error) {
	switch {
	case from != "":
		return live.Folder(from, now)
	case root != "":
		return live.Tree(root, now)
	}
	return live.Here(now)
}

// write reports what was taken and writes the card, if it would say anything
// about memory.
func (a *app) write(haul live.Haul, c card.Card, out string, replace bool) error {
	for _, n := range haul.Notes {
		verb := "read   "
		if !n.Taken {
			verb = "missing"
		}
		a.say("%s  %s: %s", verb, plainLines(n.Source), plainLines(n.Says))
	}
	if !haul.HasTable() {
		return errors.New("no firmware table was read, so nothing tells what memory is fitted; no card was written.\n" +
			"As root (sudo) the tables can be read on most machines; or collect them elsewhere and use --from FOLDER")
	}
	text, err := c.Encode()
	if err != nil {
		return err
	}
	if err := store.Write(out, text, replace); err != nil {
		return err
	}
	a.say("card     %s: %d readings, %s", out, len(c.Readings), fmt.Sprintf("%d bytes", len(text)))
	return nil
}
