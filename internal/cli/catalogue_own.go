package cli

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"epitome/core/catalogue"
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
			var k catalogue.Catalogue
			page, sound := view.NewPage(a.look()), true
			for _, f := range files {
				o, faults := catalogue.ParseOverlay(f.Path, f.Text)
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

// addFlags are the figures of an entry as typed.
type addFlags struct {
	board              catalogue.BoardFigures
	processor          catalogue.ProcessorFigure
	takes              catalogue.TakesFigures
	slots, bank, rates []string
	cpuid, to          string
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
				_, err := fmt.Fprint(a.out, catalogue.OverlayTemplate)
				return err
			}
			return usageError("add what: board or processor? --template prints a file to fill in; see %s --help", cmd.CommandPath())
		},
	}
	cmd.Flags().BoolVar(&template, "template", false, "print a commented file to fill in")
	cmd.Flags().StringVar(&pack, "pack", "", "take in a file that another workshop packed")
	cmd.Flags().StringVar(&to, "to", "", "the file to write what a pack brings (default: in the workshop's catalogue folder)")
	cmd.AddCommand(a.addBoard(), a.addProcessor())
	return cmd
}

func (a *app) addBoard() *cobra.Command {
	var f addFlags
	cmd := &cobra.Command{
		Use:   "board --name NAME --basis TEXT",
		Short: "Add a board or a machine from its manual",
		Example: `  epitome catalogue add board --maker Groyne --name GN-31P --generation DDR3 --maximum 16GB --basis "manual, page 11"
  epitome catalogue add board --maker Halyard --name "Tern 13" --slot "DIMM 1,channel=B" --soldered "DIMM 0,channel=A,size=4GB" --basis "maintenance manual"`,
		Args: exactly(0, "no arguments, only flags"),
		RunE: func(*cobra.Command, []string) error {
			b := &f.board
			for _, list := range []struct {
				texts []string
				into  *[]catalogue.SlotFigures
			}{{f.slots, &b.Slots}, {f.bank, &b.Soldered}} {
				for _, text := range list.texts {
					s, err := catalogue.ParseSlot(text)
					if err != nil {
						return usageError("%v", err)
					}
					*list.into = append(*list.into, s)
				}
			}
			for _, text := range f.rates {
				r, err := catalogue.ParseBoardRate(text)
				if err != nil {
					return usageError("--rate %v", err)
				}
				b.Rates = append(b.Rates, r)
			}
			name := b.Maker
			if len(b.Names) > 0 {
				name += " " + b.Names[0]
			}
			return a.addEntry(catalogue.OwnFile{Boards: []catalogue.BoardFigures{*b}}, name, f.to)
		},
	}
	flags, b := cmd.Flags(), &f.board
	flags.StringVar(&b.Maker, "maker", "", "who makes it, as firmware writes it")
	flags.StringArrayVar(&b.Names, "name", nil, "the board's or machine's name, as firmware writes it; may be repeated")
	flags.StringSliceVar(&b.Generations, "generation", nil, "the generation it takes, as DDR4")
	flags.StringVar(&b.Takes, "takes", "", "DIMM or SO-DIMM")
	flags.StringVar(&b.Maximum, "maximum", "", "of the whole machine, as 32GB")
	flags.StringVar(&b.PerSlot, "per-slot", "", "the largest module, as 16GB")
	flags.StringArrayVar(&f.slots, "slot", nil, "a slot: NAME,channel=A,order=1,maximum=8GB; may be repeated")
	flags.StringArrayVar(&f.bank, "soldered", nil, "a soldered bank: NAME,channel=A,size=4GB; may be repeated")
	flags.StringArrayVar(&f.rates, "rate", nil, "a rate: MODULES=RATE or MODULESxRANKS=RATE, as 2x2=2666; may be repeated")
	flags.StringVar(&b.Profiles, "profiles", "", "yes or no: overclocking profiles can be selected")
	flags.StringSliceVar(&b.ECC, "ecc", nil, "none, udimm, so-dimm-ecc, rdimm, lrdimm")
	flags.StringVar(&b.Basis, "basis", "", "which manual, which page")
	flags.StringVar(&b.Confidence, "confidence", "", "high (default), medium or low")
	flags.StringVar(&f.to, "to", "", "the file to write (default: in the workshop's catalogue folder)")
	return cmd
}

func (a *app) addProcessor() *cobra.Command {
	var f addFlags
	cmd := &cobra.Command{
		Use:     "processor --brand EXPRESSION --generation GENERATION --basis TEXT",
		Short:   "Add a processor family from its data sheet",
		Example: `  epitome catalogue add processor --family "Petrel 9" --brand "Petrel P[57]-9" --cpuid 6/201 --generation DDR4 --channels 2 --rate 3200 --basis "data sheet HS-9"`,
		Args:    exactly(0, "no arguments, only flags"),
		RunE: func(*cobra.Command, []string) error {
			p := &f.processor
			if f.cpuid != "" {
				var id catalogue.Processor
				if err := readCPUID(f.cpuid, &id); err != nil {
					return err
				}
				p.CPUID = &catalogue.CPUIDFigures{Family: id.Family.Or(0), Models: []int{id.Model.Or(0)}}
			}
			p.ID, p.Takes = slug(p.Maker+" "+p.Family), []catalogue.TakesFigures{f.takes}
			return a.addEntry(catalogue.OwnFile{Processors: []catalogue.ProcessorFigure{*p}}, p.Maker+" "+p.Family, f.to)
		},
	}
	flags, p, t := cmd.Flags(), &f.processor, &f.takes
	flags.StringVar(&p.Maker, "maker", "", "who makes it")
	flags.StringVar(&p.Family, "family", "", "the family's name")
	flags.StringVar(&p.Brand, "brand", "", "an expression that the brand string matches")
	flags.StringVar(&f.cpuid, "cpuid", "", "family/model, as 6/142")
	flags.StringVar(&t.Generation, "generation", "", "the generation it takes, as DDR4")
	flags.StringVar(&t.Channels, "channels", "", "64-bit channels")
	flags.StringVar(&t.Slots, "slots-per-channel", "", "most slots of a channel")
	flags.StringVar(&t.Rate, "rate", "", "highest rate with one module a channel, in MT/s")
	flags.StringVar(&t.RateTwo, "rate-two", "", "highest rate with two modules a channel, in MT/s")
	flags.StringVar(&t.Maximum, "maximum", "", "most memory, as 64GB")
	flags.StringVar(&t.Die, "largest-die", "", "largest die, as 8Gbit")
	flags.StringVar(&t.X4, "x4", "", "yes or no: modules of x4 chips")
	flags.StringVar(&t.X16, "x16", "", "yes or no: modules of x16 chips")
	flags.StringSliceVar(&t.ECC, "ecc", nil, "none, udimm, so-dimm-ecc, rdimm, lrdimm")
	flags.StringSliceVar(&t.Volts, "volts", nil, "supplies, as 1.2")
	flags.StringVar(&p.Basis, "basis", "", "which data sheet, which table")
	flags.StringVar(&p.Confidence, "confidence", "", "high (default), medium or low")
	flags.StringVar(&f.to, "to", "", "the file to write (default: in the workshop's catalogue folder)")
	return cmd
}

// addEntry checks an entry and writes it into a file of its own, which is
// never written over.
func (a *app) addEntry(entry catalogue.OwnFile, name, to string) error {
	text, faults := entry.Encode()
	if len(faults) > 0 {
		var says []string
		for _, f := range faults {
			says = append(says, f.Says)
		}
		return usageError("the entry can't be used: %s", strings.Join(says, "; "))
	}
	to, err := a.ownFile(to, name)
	if err != nil {
		return err
	}
	if _, err := os.Stat(to); err == nil {
		return fmt.Errorf("%s exists already; add the entry to it with an editor, or name another file with --to", to)
	}
	if err := os.MkdirAll(filepath.Dir(to), 0o755); err != nil {
		return fmt.Errorf("%s can't be made: %w", filepath.Dir(to), short(err))
	}
	o, _ := catalogue.ParseOverlay(to, text)
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
