package cli

import (
	"github.com/spf13/cobra"

	"epitome/core/bench"
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
		RunE: ofCommands,
	}
	cmd.AddCommand(a.catalogueShow(), a.catalogueList(), a.catalogueCheck(), a.catalogueAdd(), a.catalogueLearn(),
		a.cataloguePack())
	return cmd
}

func (a *app) catalogueShow() *cobra.Command {
	var q bench.PartQuery
	var format string
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
			k, wrong := a.known("")
			a.leftOut(wrong)
			q.Names = names
			found, err := bench.FindParts(k, q)
			if err != nil {
				return err
			}
			return a.showCatalogue(found, cells, format)
		},
	}
	formatFlag(cmd, &format)
	flags := cmd.Flags()
	flags.StringVar(&q.Brand, "brand", "", "the processor's brand string")
	flags.StringVar(&q.CPUID, "cpuid", "", "its family/model/stepping, decimal or 0x, as 6/142/9")
	flags.StringVar(&q.Maker, "maker", "", "intel or amd, where the brand string does not say it")
	flags.StringVar(&q.Board, "board", "", "a board or machine by its name, with its maker before it")
	flags.StringArrayVar(&q.PCI, "pci", nil, "a chipset's PCI id, as 8086:a305; may be repeated")
	flags.BoolVar(&cells, "cells", false,
		"add each embedded row as it stands: what is doubted, disputed, resolved, and the figures by brand")
	return cmd
}

func (a *app) showCatalogue(found bench.Parts, cells bool, format string) error {
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
