package cli

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/view"
)

func (a *app) module() *cobra.Command {
	var format, at string
	cmd := &cobra.Command{
		Use:   "module STICK... [--at RATE]",
		Short: "All about one stick, from its sticker or its EEPROM image",
		Long: `Module tells everything that a sticker's label, a part number, a shop's text or
an EEPROM image says of a module, and what it does not say. Nothing is filled
in: an attribute that is left out stays unknown, and two parts that can't both
be right are an error that quotes them. An argument that names a file is read
as an image. Several images stand side by side with their differences marked.`,
		Example: `  epitome module "8GB 1Rx8 PC4-2400T-SA1-11"
  epitome module "16 GB (2x8) DDR4 3200MHz CL22 SODIMM 1,2V"
  epitome module spd-50.bin spd-52.bin
  epitome module spd-50.bin --at 2133`,
		Args: atLeastOne("a stick: the label, or a description in quotes"),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			sticks, images, err := a.readSticks(args)
			if err != nil {
				return err
			}
			grade, err := bench.GradesAt(at, sticks)
			if err != nil {
				return err
			}
			if format == "json" {
				return view.WriteJSON(a.out, view.ModulesJSON(sticks))
			}
			page := view.NewPage(a.look())
			if images > 1 {
				page.Facing(sticks, grade)
				return page.Flush(a.out)
			}
			for i, s := range sticks {
				if i > 0 {
					page.Blank()
				}
				page.Module(s)
				if grade != nil {
					page.TimingsAt(s, grade[i])
				}
			}
			return page.Flush(a.out)
		},
	}
	formatFlag(cmd, &format)
	a.listsFlag(cmd)
	cmd.Flags().StringVar(&at, "at", "", "show the timings in clocks at this rate too, as 2133")
	return cmd
}

// readSticks reads each argument: a file as an image, anything else as text.
func (a *app) readSticks(args []string) (sticks []bench.Stick, images int, err error) {
	for _, arg := range args {
		var s bench.Stick
		sku, listed := strings.CutPrefix(arg, "stock:")
		info, statErr := os.Stat(arg)
		switch {
		case listed:
			s, err = a.stockStick(sku)
		case statErr != nil || info.IsDir():
			s, err = bench.StickOf(arg)
		default:
			s, err = a.imageStick(arg)
			images++
		}
		if err != nil {
			return nil, 0, err
		}
		sticks = append(sticks, s)
	}
	return sticks, images, nil
}

func (a *app) imageStick(path string) (bench.Stick, error) {
	image, err := a.read(path, bench.MostImage+1)
	if err != nil {
		return bench.Stick{}, err
	}
	s, err := bench.StickFrom(shortPath(path), image)
	if err != nil {
		err = fmt.Errorf("%s: %w", path, err)
	}
	return s, err
}

// shortPath keeps a file's name and the folder it lies in: images of several
// machines have the same names.
func shortPath(path string) string {
	return view.Line(filepath.Join(filepath.Base(filepath.Dir(path)), filepath.Base(path)))
}

// atLeastOne wraps cobra's argument count so that none is wrong usage.
func atLeastOne(what string) cobra.PositionalArgs {
	return func(cmd *cobra.Command, args []string) error {
		if len(args) == 0 {
			return &codedError{exitUsage, fmt.Errorf("%s wants %s; see %s --help", cmd.Name(), what, cmd.CommandPath())}
		}
		return nil
	}
}
