package cli

import (
	"fmt"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"epitome/core/catalogue"
	"epitome/core/maybe"
	"epitome/internal/view"
)

func (a *app) catalogue() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "catalogue",
		Short: "What Epitome knows of processors, chipsets and boards",
		Long: `The catalogue holds the limits of processors' memory controllers, chipsets and
operating systems, each with its basis and how far to trust it. A cell that is
not known is shown as unknown, never filled in.

Your own entries are YAML files: in the folder catalogue beside the card, in
epitome/catalogue of the user's configuration folder, or in a folder named by
--catalogue. They lie over the embedded ones.`,
		Example: `  epitome catalogue show --brand "BRAND STRING" --cpuid 6/142/9
  epitome catalogue show --pci 8086:1c4b
  epitome catalogue list board
  epitome catalogue check`,
		Args: cobra.ArbitraryArgs,
		RunE: func(cmd *cobra.Command, args []string) error {
			if len(args) > 0 {
				return usageError("there is no command %q; see %s --help", args[0], cmd.CommandPath())
			}
			return cmd.Help()
		},
	}
	cmd.AddCommand(a.catalogueShow(), a.catalogueList(), a.catalogueCheck(), a.catalogueAdd(), a.catalogueLearn(), a.cataloguePack())
	return cmd
}

func (a *app) catalogueShow() *cobra.Command {
	var brand, cpuid, maker, board, format string
	var pci []string
	var cells bool
	cmd := &cobra.Command{
		Use:   "show [ID|NAME...] [--brand STRING] [--cpuid FAMILY/MODEL/STEPPING] [--pci ID]",
		Short: "What is known of a processor, a chipset, a board, a system or a sort of module",
		Long: `Show recognises a processor by its brand string, as the processor itself gives
it, with its family and model numbers where they are given, a chipset by its
PCI id, and a board or machine of your own entries by its name. A processor
that no row matches is not known: the nearest row is never taken. An id or a
name, as catalogue list has it, shows that entry; a generation and a form, such
as "DDR4 SO-DIMM", the modules that shops ordinarily sell. --cells adds the
embedded row as it stands. Exit code 4 where nothing is known.`,
		Example: `  epitome catalogue show --brand "BRAND STRING" --cpuid 6/142/9
  epitome catalogue show --brand "BRAND STRING" --maker intel --format json
  epitome catalogue show --pci 8086:1c4b
  epitome catalogue show intel-kaby-lake-u --cells
  epitome catalogue show "DDR4 SO-DIMM" "Windows 10 Home"
  epitome --catalogue epitome-demo/catalogue catalogue show --board "Groyne Breakwater X"`,
		RunE: func(_ *cobra.Command, names []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			if brand == "" && len(pci) == 0 && board == "" && len(names) == 0 {
				return usageError("nothing to look up; give an id or a name, --brand, --pci or --board")
			}
			p := catalogue.Processor{Maker: maker, Brand: brand}
			if err := readCPUID(cpuid, &p); err != nil {
				return err
			}
			k, wrong := a.known("")
			a.leftOut(wrong)
			if maker != "" && !k.KnowsMaker(maker) {
				return usageError("--maker %q: the catalogue has processors of intel and amd, and of your own entries' makers", maker)
			}
			var found catalogue.Found
			for _, name := range names {
				found = found.And(k.Named(name))
			}
			if brand != "" {
				found.Controllers = append(found.Controllers, k.Controllers(p)...)
			}
			for _, id := range pci {
				if !isPCIID(id) {
					return usageError("--pci %q is no id; write vendor:device, as 8086:a305", id)
				}
				found.Chipsets = append(found.Chipsets, k.Chipsets(id)...)
			}
			found.Boards = append(found.Boards, k.Boards(board)...)
			return a.showCatalogue(found, cells, format)
		},
	}
	formatFlag(cmd, &format)
	flags := cmd.Flags()
	flags.StringVar(&brand, "brand", "", "the processor's brand string")
	flags.StringVar(&cpuid, "cpuid", "", "its family/model/stepping, decimal or 0x, as 6/142/9")
	flags.StringVar(&maker, "maker", "", "intel or amd, where the brand string does not say it")
	flags.StringVar(&board, "board", "", "a board or machine by its name, with its maker before it")
	flags.StringArrayVar(&pci, "pci", nil, "a chipset's PCI id, as 8086:a305; may be repeated")
	flags.BoolVar(&cells, "cells", false, "add each embedded row as it stands: what is doubted, disputed, resolved, and the figures by brand")
	return cmd
}

func (a *app) showCatalogue(found catalogue.Found, cells bool, format string) error {
	var err error
	if format == "json" {
		err = view.WriteJSON(a.out, view.CatalogueJSON(found, cells))
	} else {
		page := view.NewPage(a.look())
		page.Catalogue(found, cells)
		err = page.Flush(a.out)
	}
	if err == nil && found.Empty() {
		return answer(exitCannotTell)
	}
	return err
}

// readCPUID reads FAMILY/MODEL/STEPPING; the stepping may be left out.
func readCPUID(text string, p *catalogue.Processor) error {
	if text == "" {
		return nil
	}
	parts := strings.Split(text, "/")
	if len(parts) < 2 || len(parts) > 3 {
		return usageError("--cpuid %q: write FAMILY/MODEL/STEPPING, as 6/142/9", text)
	}
	var numbers []int
	for _, part := range parts {
		n, err := strconv.ParseInt(strings.TrimSpace(part), 0, 32)
		if err != nil || n < 0 {
			return usageError("--cpuid %q: %q is no number; decimal or 0x, as 6/142/9", text, part)
		}
		numbers = append(numbers, int(n))
	}
	p.Family, p.Model = maybe.Just(numbers[0]), maybe.Just(numbers[1])
	return nil
}

func isPCIID(id string) bool {
	vendor, device, found := strings.Cut(id, ":")
	for _, part := range []string{vendor, device} {
		if _, err := strconv.ParseUint(part, 16, 16); err != nil || len(part) != 4 {
			return false
		}
	}
	return found && len(id) == len(fmt.Sprintf("%s:%s", vendor, device))
}
