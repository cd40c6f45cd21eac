package cli

import (
	"errors"
	"fmt"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/narrow"
	"epitome/internal/view"
)

// clueFlags are the clues as typed.
type clueFlags struct {
	year, pins, slots                         int
	notch                                     float64
	form, marking, clock, volts, total, noted string
}

func (a *app) narrow() *cobra.Command {
	var format string
	var f clueFlags
	cmd := &cobra.Command{
		Use:   "narrow CLUES",
		Short: "What could it be: from year, pins, notch, marking, total and slots",
		Long: `Narrow works out which generations, grades and module sets remain when all
clues are taken together, and which one further look would split them best.
A clue excludes only what it contradicts.

The notch is measured from the left end to its middle, label towards you,
contacts down. A figure in MHz may be a rate or a clock; both are kept.`,
		Example: `  epitome narrow --pins 240 --year 2008
  epitome narrow --form SO-DIMM --clock 800
  epitome narrow --total 12GB --slots 2 --form SO-DIMM
  epitome narrow --installed-note "4.0 GB (3.89 usable)" --slots 2`,
		Args: exactly(0, "only clues as flags, as in --pins 204"),
		RunE: func(cmd *cobra.Command, _ []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			clues, err := f.read(cmd)
			if err != nil {
				return err
			}
			r, err := narrow.From(clues)
			if errors.Is(err, narrow.ErrClue) {
				return &codedError{exitUsage, err}
			}
			if err != nil {
				return err
			}
			if format == "json" {
				err = view.WriteJSON(a.out, view.NarrowedJSON(r))
			} else {
				page := view.NewPage(a.look())
				page.Narrowed(r)
				err = page.Flush(a.out)
			}
			if err == nil && len(r.Candidates) == 0 {
				return answer(exitNo)
			}
			return err
		},
	}
	formatFlag(cmd, &format)
	flags := cmd.Flags()
	flags.IntVar(&f.year, "year", 0, "year in which the machine was sold")
	flags.IntVar(&f.pins, "pins", 0, "contacts on both sides together")
	flags.StringVar(&f.form, "form", "", "DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM, CAMM2 or soldered")
	flags.Float64Var(&f.notch, "notch", 0, "mm from the left end to the middle of the notch")
	flags.StringVar(&f.marking, "marking", "", "whatever is printed on it")
	flags.StringVar(&f.clock, "clock", "", "a figure called MHz, wherever it was seen")
	flags.StringVar(&f.volts, "volts", "", "supply printed on it, as 1.5")
	flags.StringVar(&f.total, "total", "", "memory in the machine, as 12GB")
	flags.IntVar(&f.slots, "slots", 0, "number of slots that make the total")
	flags.StringVar(&f.noted, "installed-note", "", `a system panel's line, as "4.0 GB (3.89 usable)"`)
	return cmd
}

// read turns the flags that were given into clues.
func (f clueFlags) read(cmd *cobra.Command) (narrow.Clues, error) {
	given := cmd.Flags().Changed
	c := narrow.Clues{Marking: f.marking, Note: f.noted}
	if !given("year") && !given("pins") && !given("form") && !given("notch") && f.marking == "" && f.clock == "" && f.volts == "" && f.total == "" && !given("slots") && f.noted == "" {
		return c, usageError("no clue given; give one or more, as in --pins 204 or --total 12GB --slots 2")
	}
	if given("year") && (f.year < 1990 || f.year > 2100) {
		return c, usageError("--year %d: a year such as 2012", f.year)
	}
	if given("pins") && f.pins <= 0 || given("slots") && (f.slots < 1 || f.slots > 32) || given("notch") && !(f.notch > 0 && f.notch <= 140) {
		return c, usageError("--pins, --slots (1 to 32) and --notch (mm, up to 140) are positive figures")
	}
	c.Year, c.Contacts, c.Slots, c.NotchMM = maybe.If(f.year, given("year")), maybe.If(f.pins, given("pins")), maybe.If(f.slots, given("slots")), maybe.If(f.notch, given("notch"))
	if f.form != "" {
		form, ok := jedec.ParseForm(f.form)
		if !ok {
			return c, usageError("--form %q is not known; it is DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM, CAMM2 or soldered", f.form)
		}
		c.Form = maybe.Just(form)
	}
	if err := f.figures(&c); err != nil {
		return c, err
	}
	if f.total != "" {
		total, err := jedec.ParseCapacity(f.total)
		if err != nil || total == 0 {
			return c, usageError("--total %q is not a size; write a number with MB or GB, as in 12GB", f.total)
		}
		c.Total = maybe.Just(total)
	}
	return c, nil
}

func (f clueFlags) figures(c *narrow.Clues) error {
	for _, x := range []struct {
		flag, text, unit string
		take             func(float64)
	}{
		{"clock", f.clock, "mhz", func(v float64) { c.MHz = maybe.Just(v) }},
		{"volts", f.volts, "v", func(v float64) { c.MilliVolts = maybe.Just(int(v*1000 + 0.5)) }},
	} {
		if x.text == "" {
			continue
		}
		text := strings.TrimSpace(strings.TrimSuffix(strings.ToLower(strings.TrimSpace(x.text)), x.unit))
		v, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
		if err != nil || !(v > 0 && v < 1e6) {
			return usageError("--%s %q is not a figure; write it as %s", x.flag, x.text, fmt.Sprintf("--%s %s", x.flag, map[string]string{"clock": "800", "volts": "1.35"}[x.flag]))
		}
		x.take(v)
	}
	return nil
}
