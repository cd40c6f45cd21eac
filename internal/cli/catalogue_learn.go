package cli

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store"
)

func (a *app) catalogueLearn() *cobra.Command {
	var to, by string
	cmd := &cobra.Command{
		Use:   "learn CARD [--to FILE]",
		Short: "Make an entry of a card's board: what was seen, fitted and ran on it",
		Long: `Learn turns what is settled on a card into an entry of its board: the sockets
that were seen or counted, the channels, what is soldered, the maximum that a
manual was quoted with, and what runs on it, with day and number. It is written
into a file of its own; where the board was learned before, the same experience
counts once more. Nothing that is not settled is written.`,
		Example: `  epitome catalogue learn bench3.card
  epitome catalogue learn bench3.card --by J. --to catalogue/ours.yaml`,
		Args: exactly(1, "one card"),
		RunE: func(_ *cobra.Command, args []string) error {
			b, err := a.open(args[0])
			if err != nil {
				return err
			}
			entry, err := b.Learn(a.now().Format(time.DateOnly), by)
			if errors.Is(err, bench.ErrNothingToLearn) {
				a.say("%v", err)
				return answer(exitCannotTell)
			}
			if err != nil {
				return err
			}
			return a.learn(entry, to)
		},
	}
	cmd.Flags().StringVar(&to, "to", "", "the file to write (default: in the workshop's catalogue folder)")
	cmd.Flags().StringVar(&by, "by", "", "who saw it")
	return cmd
}

// learn writes an entry, or adds to the one that was learned of the board before.
func (a *app) learn(entry bench.Learned, to string) error {
	to, err := a.ownFile(to, "learned "+entry.Maker+" "+entry.Names[0])
	if err != nil {
		return err
	}
	text, err := os.ReadFile(to)
	switch {
	case errors.Is(err, fs.ErrNotExist):
	case err != nil:
		return fmt.Errorf("%s can't be read: %w", to, short(err))
	default:
		if entry, err = bench.LearnedBefore(to, text, entry); err != nil {
			return err
		}
	}
	out := bench.LearnedFile(entry)
	if err := store.MakeFolder(filepath.Dir(to)); err != nil {
		return fmt.Errorf("%s can't be made: %w", filepath.Dir(to), short(err))
	}
	if err := a.write(to, out, true); err != nil {
		return err
	}
	for _, line := range bench.Experience(entry) {
		a.say("learned  %s", line)
	}
	a.say("entry    %s", to)
	return nil
}

// ownFile is the file that an entry is written to: the one named, or one in the
// workshop's folder by the entry's name.
func (a *app) ownFile(to, name string) (string, error) {
	if to != "" {
		return to, nil
	}
	folders, _ := a.ownFolders("")
	if len(folders) == 0 {
		return "", usageError("there is no configuration folder; name the file with --to")
	}
	return filepath.Join(folders[len(folders)-1], slug(name)+".yaml"), nil
}

func (a *app) cataloguePack() *cobra.Command {
	var out, from string
	var replace bool
	cmd := &cobra.Command{
		Use:   "pack [FILE|FOLDER...] -o FILE",
		Short: "Put your own entries into one file, to hand to another workshop",
		Long: `Pack writes all entries of your own, or those of the files and folders named, as
one file. Each keeps its basis, and --from names your workshop in it. Comments
and the names of persons stay behind. The other workshop takes it in with
catalogue add --pack.`,
		Example: `  epitome catalogue pack -o harbour.yaml --from "Harbour workshop"`,
		RunE: func(_ *cobra.Command, args []string) error {
			if out == "" {
				return usageError("name the file to write with -o")
			}
			files, err := a.ownFiles(args)
			if err != nil {
				return err
			}
			text, n, faults := packFiles(files, from)
			for _, f := range faults {
				a.say("left out %v", f)
			}
			if n == 0 {
				return fmt.Errorf("there are no entries to pack")
			}
			if err := a.write(out, text, replace); err != nil {
				return err
			}
			a.say("packed   %s: %d entries", out, n)
			return nil
		},
	}
	cmd.Flags().StringVarP(&out, "out", "o", "", "the file to write")
	cmd.Flags().StringVar(&from, "from", "", "the workshop's name, kept with each entry")
	cmd.Flags().BoolVar(&replace, "replace", false, "write over an existing file")
	return cmd
}

func packFiles(files []store.CatalogueFile, from string) ([]byte, int, []bench.Fault) {
	texts, order := make(map[string][]byte), make([]string, 0, len(files))
	for _, f := range files {
		texts[f.Path], order = f.Text, append(order, f.Path)
	}
	return bench.Pack(texts, order, from)
}

// takeIn writes what is new in another workshop's pack as a file of its own.
func (a *app) takeIn(path, to string) error {
	f, err := store.ReadCatalogueFile(path)
	if err != nil {
		return err
	}
	k, wrong := a.known("")
	a.leftOut(wrong)
	taken, faults := k.Unpack(f.Path, f.Text)
	if len(faults) > 0 {
		return fmt.Errorf("%w; nothing is taken in", faults[0])
	}
	for _, s := range taken.Clash {
		a.say("differs  %s; your own stays", s)
	}
	if n := len(taken.Same); n > 0 {
		a.say("known    %d entries stand here already", n)
	}
	if len(taken.New) == 0 {
		a.say("nothing new in %s", path)
		return nil
	}
	if to, err = a.ownFile(to, "pack "+strings.TrimSuffix(filepath.Base(path), filepath.Ext(path))); err != nil {
		return err
	}
	if err := store.MakeFolder(filepath.Dir(to)); err != nil {
		return fmt.Errorf("%s can't be made: %w", filepath.Dir(to), short(err))
	}
	if err := a.write(to, taken.Text, false); err != nil {
		return err
	}
	for _, name := range taken.New {
		a.say("new      %s", name)
	}
	a.say("entry    %s", to)
	return nil
}
