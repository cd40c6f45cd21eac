package cli

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store"
	"epitome/internal/view"
)

// settings reads the workshop's settings, once.
func (a *app) settings() (store.Settings, error) {
	if a.own != nil {
		return *a.own, nil
	}
	dir, err := store.ConfigFolder()
	if err != nil {
		return store.Settings{}, nil
	}
	return store.ReadSettings(filepath.Join(dir, "epitome", "settings.yaml"))
}

// docketFlags are docket's flags as typed.
type docketFlags struct {
	proposal               int
	job, out, paper        string
	asSaved, replace, hide bool
}

func (a *app) docket() *cobra.Command {
	var f docketFlags
	cmd := &cobra.Command{
		Use:   "docket CARD [STICK...] [--proposal N] [-o FILE]",
		Short: "The slip to buy from and the sheet to fit by",
		Long: `Docket makes the slip to buy from: what to buy in every spelling that a shop may
use, what may be taken instead and at what penalty, what looks alike and must be
avoided; and the sheet to fit by: what comes out, what goes where, the steps,
and the figures to expect.

It is made of a proposal that propose --save kept on the card, or of sticks
given, which go where they do best. -o writes a PDF, HTML or text by the name's
ending; without it the text is shown. A proposal that is not proved says so on
top; exit code 4 then.`,
		Example: `  epitome propose bench3.card --reach 16GB --stock list.csv --save
  epitome docket bench3.card --proposal 1
  epitome docket bench3.card --proposal 1 --job 2026-118 -o slip.pdf
  epitome docket bench3.card "8GB 1Rx8 PC4-2400T-SA1-11" -o slip.html`,
		Args: func(cmd *cobra.Command, args []string) error {
			if len(args) == 0 {
				return usageError("docket wants a card; see %s --help", cmd.CommandPath())
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error { return a.docketed(args[0], args[1:], f) },
	}
	a.listsFlag(cmd)
	flags := cmd.Flags()
	flags.IntVar(&f.proposal, "proposal", 0, "the number of a proposal that was kept (default: the first)")
	flags.StringVar(&f.job, "job", "", "the job's number, printed as a code too (default: the card's, else its name)")
	flags.StringVarP(&f.out, "out", "o", "", "write to this file: .pdf, .html or .txt")
	flags.StringVar(&f.paper, "paper", "", "A4 (default) or letter")
	flags.BoolVar(&f.asSaved, "as-saved", false, "go by the prices as they were, though a price list has changed since")
	flags.BoolVar(&f.hide, "redact", false, "leave out the job's own title, which may name a person")
	flags.BoolVar(&f.replace, "replace", false, "write over an existing file")
	return cmd
}

func (a *app) docketed(path string, sticks []string, f docketFlags) error {
	set, err := a.settings()
	if err != nil {
		return err
	}
	paper, err := paperOf(f.paper, set.Paper)
	if err != nil {
		return err
	}
	b, err := a.open(path)
	if err != nil {
		return err
	}
	way, currency, err := a.way(b, path, sticks, f)
	if err != nil {
		return err
	}
	job := first(f.job, b.Card().Job, strings.TrimSuffix(filepath.Base(path), filepath.Ext(path)))
	title := b.Title()
	if f.hide {
		title = "" // the technician's own name for the job may hold a customer's
	}
	d, err := b.Docket(bench.SlipOrder{Way: way, Currency: currency, Heading: clean(set.Heading), Job: view.Line(job),
		Title: title, Date: a.now().Format(time.DateOnly)})
	if err != nil {
		return fmt.Errorf("%s: the proposal no longer fits the machine: %w; run propose again", path, err)
	}
	if err := a.writeDocket(d, f, paper); err != nil {
		return err
	}
	if f.out != "" {
		a.noted(path, f.out)
	}
	return exitFor(d.Verdict, false)
}

func first(texts ...string) string {
	for _, t := range texts {
		if t != "" {
			return t
		}
	}
	return ""
}

func clean(lines []string) (out []string) {
	for _, l := range lines {
		out = append(out, view.Line(l))
	}
	return out
}

// way is the proposal that the docket is made of.
func (a *app) way(b *bench.Bench, path string, sticks []string, f docketFlags) (bench.Way, string, error) {
	if len(sticks) > 0 {
		return a.wayOfSticks(b, sticks)
	}
	w, p, err := a.kept(b, path, f.proposal)
	if err == nil && !f.asSaved {
		err = a.unchanged(p)
	}
	return w, p.Currency, err
}

// unchanged compares the price lists that a plan rests on with those that the
// technician names, on the command line or in the settings. What only the card
// names is not opened: the card may have come by mail.
func (a *app) unchanged(p bench.Plan) error {
	lists := a.lists
	if len(lists) == 0 {
		set, err := a.settings()
		if err != nil {
			return err
		}
		lists = set.PriceLists
	}
	for _, path := range lists {
		was, ok := bench.Sum(p, filepath.Base(path))
		if !ok {
			continue
		}
		sum, err := store.Sum(path)
		switch {
		case errors.Is(err, fs.ErrNotExist):
			a.say("epitome: the price list %s is not there any more; the prices are those of the proposal", path)
		case err != nil:
			return err
		case sum != was:
			return fmt.Errorf("the price list %s has changed since the proposal was worked out; run propose again, or go by "+
				"the old prices with --as-saved", path)
		}
	}
	return nil
}

// kept is a proposal that was kept on the card, the first one where number is 0.
func (a *app) kept(b *bench.Bench, path string, number int) (bench.Way, bench.Plan, error) {
	w, p, err := b.Kept(number)
	switch {
	case errors.Is(err, bench.ErrNoPlan):
		return w, p, usageError("%s %v; epitome propose %s … --save keeps some, or name the sticks", path, err, path)
	case errors.Is(err, bench.ErrPlan):
		return w, p, fmt.Errorf("%s: %w", path, err)
	case err != nil:
		return w, p, usageError("%v", err)
	}
	return w, p, nil
}

// wayOfSticks makes a way of sticks that are given.
func (a *app) wayOfSticks(b *bench.Bench, texts []string) (w bench.Way, currency string, err error) {
	sticks, err := a.readApart(texts)
	if err != nil {
		return w, "", err
	}
	w, err = b.WayOf(sticks)
	return w, "", err
}

// writeDocket writes the docket in the form that the file's name asks for.
func (a *app) writeDocket(d bench.Slip, f docketFlags, paper string) error {
	var b bytes.Buffer
	var err error
	switch ext := strings.ToLower(filepath.Ext(f.out)); {
	case f.out == "" || ext == ".txt":
		look := a.look()
		if f.out != "" {
			look = view.Look{Width: 80, ASCII: a.ascii}
		}
		page := view.NewPage(look)
		page.Docket(d)
		if f.out == "" {
			return page.Flush(a.out)
		}
		err = page.Flush(&b)
	case ext == ".pdf":
		err = view.DocketPDF(&b, d, paper)
	case ext == ".html" || ext == ".htm":
		err = view.DocketHTML(&b, d, paper)
	default:
		return usageError("-o %s: a name that ends in .pdf, .html or .txt", f.out)
	}
	if err != nil {
		return err
	}
	if err := a.write(f.out, b.Bytes(), f.replace); err != nil {
		return err
	}
	a.say("docket   %s", f.out)
	return nil
}
