package cli

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store"
	"epitome/internal/view"
)

func (a *app) catalogueList() *cobra.Command {
	return &cobra.Command{
		Use:   "list [WORD...]",
		Short: "List what is known, your own entries first",
		Long: `List shows one line for each processor family, chipset, board and system. Words
narrow it down: all of them must be in the kind, name, id or generations. Your
own entries come first, with the file and line they stand in.`,
		Example: `  epitome catalogue list board
  epitome catalogue list processor ddr5
  epitome catalogue list kaby`,
		RunE: func(_ *cobra.Command, args []string) error {
			k, wrong := a.known("")
			a.leftOut(wrong)
			entries := k.Entries(args...)
			page := view.NewPage(a.look())
			page.Entries(entries)
			if err := page.Flush(a.out); err != nil {
				return err
			}
			if len(entries) == 0 {
				return answer(exitCannotTell)
			}
			return nil
		},
	}
}

func (a *app) catalogueCheck() *cobra.Command {
	return &cobra.Command{
		Use:   "check [FILE|FOLDER...]",
		Short: "Check your own entries, and what they take the place of",
		Long: `Check reads files of your own entries, or all in a folder, and says by file and
line what is wrong and what is allowed there, and which other entries each
takes the place of. Without an argument it checks the folders that commands
use. Exit code 3 where anything is wrong.`,
		Example: `  epitome catalogue check
  epitome catalogue check epitome-demo/catalogue
  epitome catalogue check ours.yaml`,
		RunE: func(_ *cobra.Command, args []string) error {
			files, err := a.ownFiles(args)
			if err != nil {
				return err
			}
			if len(files) == 0 {
				return fmt.Errorf("there are no entries of your own; epitome catalogue add --template prints a file to start from")
			}
			var k bench.Known
			page, sound := view.NewPage(a.look()), true
			for _, f := range files {
				o, faults := bench.ParseEntries(f.Path, f.Text)
				page.Checked(f.Path, o, faults, k.Shadows(o))
				k = k.With(o)
				sound = sound && len(faults) == 0
			}
			if err := page.Flush(a.out); err != nil {
				return err
			}
			if !sound {
				return answer(exitNo)
			}
			return nil
		},
	}
}

// ownFiles reads the files and folders named, or those that commands use.
func (a *app) ownFiles(args []string) (files []store.CatalogueFile, err error) {
	if len(args) == 0 {
		folders, mustExist := a.ownFolders("card")
		for _, folder := range folders {
			if _, err := os.Stat(folder); err == nil || mustExist[folder] {
				args = append(args, folder)
			}
		}
	}
	for _, path := range args {
		if info, err := os.Stat(path); err == nil && info.IsDir() {
			more, err := store.ReadCatalogue(path)
			if err != nil {
				return nil, err
			}
			files = append(files, more...)
			continue
		}
		f, err := store.ReadCatalogueFile(path)
		if err != nil {
			return nil, err
		}
		files = append(files, f)
	}
	return files, nil
}

func (a *app) catalogueAdd() *cobra.Command {
	var template bool
	var pack, to string
	cmd := &cobra.Command{
		Use:   "add board|processor [--to FILE] | --pack FILE",
		Short: "Add an entry of your own from a manual or data sheet",
		Long: `Add writes one entry of your own from figures on the command line, checks it,
and says what it takes the place of. --template prints a commented file to
fill in instead. What is left out is unknown.

--pack takes in a file that another workshop packed: what is new is written as a
file of its own, what stands in your entries already stays as it is, and where
the two differ is said.`,
		Example: `  epitome catalogue add board --maker Groyne --name GN-31P --generation DDR3 --takes DIMM \
      --maximum 16GB --per-slot 4GB --slot DIMM_A1,channel=A,order=1 \
      --slot DIMM_B1,channel=B,order=2 --rate 1=1066 --basis "manual, page 11"
  epitome catalogue add processor --family "Petrel 9" --brand "Petrel P[57]-9" --generation DDR4 \
      --channels 2 --rate 3200 --maximum 64GB --basis "data sheet HS-9, table 4"
  epitome catalogue add --template > catalogue/ours.yaml`,
		RunE: func(cmd *cobra.Command, args []string) error {
			if pack != "" && len(args) == 0 {
				return a.takeIn(pack, to)
			}
			if template && len(args) == 0 {
				_, err := fmt.Fprint(a.out, bench.BlankEntries())
				return err
			}
			return usageError("add what: board or processor? --template prints a file to fill in; see %s --help",
				cmd.CommandPath())
		},
	}
	cmd.Flags().BoolVar(&template, "template", false, "print a commented file to fill in")
	cmd.Flags().StringVar(&pack, "pack", "", "take in a file that another workshop packed")
	cmd.Flags().StringVar(&to, "to", "",
		"the file to write what a pack brings (default: in the workshop's catalogue folder)")
	cmd.AddCommand(a.addBoard(), a.addProcessor())
	return cmd
}

func (a *app) addBoard() *cobra.Command {
	var to string
	cmd := &cobra.Command{
		Use:   "board --name NAME --basis TEXT",
		Short: "Add a board or a machine from its manual",
		Example: `  epitome catalogue add board --maker Groyne --name GN-31P --generation DDR3 --maximum 16GB ` +
			`--basis "manual, page 11"
  epitome catalogue add board --maker Halyard --name "Tern 13" --slot "DIMM 1,channel=B" --soldered "DIMM 0,` +
			`channel=A,size=4GB" --basis "maintenance manual"`,
		Args: exactly(0, "no arguments, only flags"),
	}
	given := fieldFlags(cmd, bench.BoardFields())
	cmd.RunE = func(*cobra.Command, []string) error {
		flags := given()
		text, err := bench.NewBoard(flags)
		if err != nil {
			return err
		}
		return a.addEntry(text, strings.Join(append(flags["maker"], flags["name"]...), " "), to)
	}
	cmd.Flags().StringVar(&to, "to", "", "the file to write (default: in the workshop's catalogue folder)")
	return cmd
}

func (a *app) addProcessor() *cobra.Command {
	var to string
	cmd := &cobra.Command{
		Use:   "processor --brand EXPRESSION --generation GENERATION --basis TEXT",
		Short: "Add a processor family from its data sheet",
		Example: `  epitome catalogue add processor --family "Petrel 9" --brand "Petrel P[57]-9" --cpuid 6/201 ` +
			`--generation DDR4 --channels 2 --rate 3200 --basis "data sheet HS-9"`,
		Args: exactly(0, "no arguments, only flags"),
	}
	given := fieldFlags(cmd, bench.ProcessorFields())
	cmd.RunE = func(*cobra.Command, []string) error {
		flags := given()
		name := strings.Join(append(flags["maker"], flags["family"]...), " ")
		text, err := bench.NewProcessor(slug(name), flags)
		if err != nil {
			return err
		}
		return a.addEntry(text, name, to)
	}
	cmd.Flags().StringVar(&to, "to", "", "the file to write (default: in the workshop's catalogue folder)")
	return cmd
}

// fieldFlags gives a command a flag for each field of an entry, and returns what was given
// of them.
func fieldFlags(cmd *cobra.Command, fields []bench.Field) (given func() map[string][]string) {
	flags := cmd.Flags()
	for _, f := range fields {
		if f.Many {
			flags.StringArray(f.Name, nil, f.Doc+"; may be repeated")
		} else {
			flags.String(f.Name, "", f.Doc)
		}
	}
	return func() map[string][]string {
		texts := make(map[string][]string)
		for _, f := range fields {
			if !flags.Changed(f.Name) {
				continue
			}
			if f.Many {
				texts[f.Name], _ = flags.GetStringArray(f.Name)
			} else {
				one, _ := flags.GetString(f.Name)
				texts[f.Name] = []string{one}
			}
		}
		return texts
	}
}

// addEntry writes an entry into a file of its own, which is never written over.
func (a *app) addEntry(text []byte, name, to string) error {
	to, err := a.ownFile(to, name)
	if err != nil {
		return err
	}
	if _, err := os.Stat(to); err == nil {
		return fmt.Errorf("%s exists already; add the entry to it with an editor, or name another file with --to", to)
	}
	if err := store.MakeFolder(filepath.Dir(to)); err != nil {
		return fmt.Errorf("%s can't be made: %w", filepath.Dir(to), short(err))
	}
	o, _ := bench.ParseEntries(to, text)
	k, _ := a.known("")
	for _, s := range k.Shadows(o) {
		a.say("note     it takes the place of %s", s.Over)
	}
	if err := a.write(to, text, false); err != nil {
		return err
	}
	a.say("entry    %s", to)
	return nil
}

// slug makes a file name of a name.
func slug(name string) string {
	words := strings.FieldsFunc(strings.ToLower(name), func(r rune) bool {
		return !(r >= 'a' && r <= 'z' || r >= '0' && r <= '9')
	})
	if len(words) == 0 {
		return "entry"
	}
	return strings.Join(words, "-")
}
