package cli

import (
	"bytes"
	"errors"
	"fmt"
	"iter"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store"
	"epitome/internal/view"
)

func (a *app) stock() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "stock",
		Short: "Read and check a price list",
		Long: `A price list is a CSV or XLSX file of any supplier's shape, of all its sheets.
What a column holds is told by its title and its cells together; descriptions
are read as stickers and shops' texts are. A line that can't be read is counted,
and never used.`,
		Example: `  epitome stock check epitome-demo/stock/harbour-parts.csv`,
		Args:    cobra.ArbitraryArgs,
		RunE:    ofCommands,
	}
	cmd.AddCommand(a.stockCheck())
	return cmd
}

func (a *app) stockCheck() *cobra.Command {
	var columns, currency, clean, format string
	var all, replace bool
	cmd := &cobra.Command{
		Use:   "check FILE",
		Short: "What was understood of a price list, what was not and why",
		Long: `Check reads a price list and says which column means what, how many lines can
be used and, line by line, why the others can't. --clean writes the lines that
can be used as a list of its own. Exit code 3 where no line can be used.`,
		Example: `  epitome stock check epitome-demo/stock/harbour-parts.csv
  epitome stock check list.xlsx --columns "description=Text 2,price=EK netto" --currency EUR
  epitome stock check list.csv --clean cleaned.csv`,
		Args: exactly(1, "one file"),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			l, err := a.readStock(args[0], columns, currency)
			if err != nil {
				return err
			}
			if clean != "" {
				if err := a.writeCSV(clean, view.CleanedStock(l), replace); err != nil {
					return err
				}
				a.say("cleaned  %s: %d lines", clean, len(l.Usable()))
			}
			if format == "json" {
				err = view.WriteStockJSON(a.out, l)
			} else {
				page := view.NewPage(a.look())
				page.StockChecked(view.Line(args[0]), l, all)
				err = page.Flush(a.out)
			}
			if err == nil && len(l.Usable()) == 0 {
				return answer(exitNo)
			}
			return err
		},
	}
	formatFlag(cmd, &format)
	stockFlags(cmd, &columns, &currency)
	cmd.Flags().StringVar(&clean, "clean", "", "write the lines that can be used to this CSV file")
	cmd.Flags().BoolVar(&all, "all", false, "every line that can't be used, not a page of them")
	cmd.Flags().BoolVar(&replace, "replace", false, "write the cleaned list over an existing file")
	return cmd
}

func stockFlags(cmd *cobra.Command, columns, currency *string) {
	cmd.Flags().StringVar(columns, "columns", "",
		"which column means what, FIELD=TITLE or FIELD=NUMBER, separated by commas")
	cmd.Flags().StringVar(currency, "currency", "", "the prices' currency, where the list does not say it: EUR")
}

// errEnough ends the reading of a list whose begin told that it can't be used.
var errEnough = errors.New("enough")

// writeCSV writes rows as a CSV file.
func (a *app) writeCSV(path string, rows [][]string, replace bool) error {
	var b bytes.Buffer
	if err := store.WriteCSV(&b, rows); err != nil {
		return err
	}
	return a.write(path, b.Bytes(), replace)
}

// sheetRows are the rows of a sheet; unread says afterwards why they could not be read.
func sheetRows(path string, unread *error) iter.Seq[bench.ListRow] {
	return func(yield func(bench.ListRow) bool) {
		err := store.ReadSheet(path, func(r bench.ListRow) error {
			if !yield(r) {
				return errEnough
			}
			return nil
		})
		if !errors.Is(err, errEnough) {
			*unread = err
		}
	}
}

// readStock reads one price list; its supplier is the file's name.
func (a *app) readStock(path, columns, currency string) (bench.PriceList, error) {
	supplier := strings.TrimSuffix(filepath.Base(path), filepath.Ext(path))
	a.isInput(path)
	var unread error
	l, err := bench.ReadList(sheetRows(path, &unread),
		bench.ListOrder{Supplier: supplier, Columns: columns, Currency: currency})
	switch {
	case unread != nil:
		return bench.PriceList{}, unread
	case err != nil:
		return l, fmt.Errorf("%s: %w", path, err)
	}
	return l, nil
}

// offers reads price lists and makes offers of one currency. A list that can't be read is said, and the others go on;
// the error is the first one's where none can.
func (a *app) offers(files []string, columns, currency string) (out []bench.Offer, of string, err error) {
	var lists []bench.PriceList
	var unread error
	for _, path := range files {
		l, err := a.readStock(path, columns, currency)
		if err != nil {
			if len(files) == 1 {
				return nil, "", err
			}
			a.say("stock    %v; this list is left out", err)
			if unread == nil {
				unread = err
			}
			continue
		}
		if taken := view.TakenColumns(l); taken != "" {
			a.taken = append(a.taken, path+": "+taken+".")
		}
		if usable := len(l.Usable()); usable < len(l.Lines) {
			a.say("stock    %s: %d of %d lines used; epitome stock check tells why", path, usable, len(l.Lines))
		}
		lists = append(lists, l)
	}
	if len(lists) == 0 && unread != nil {
		return nil, "", unread
	}
	return bench.OffersOf(lists, currency)
}

// sayTaken says beside what programs read what was taken for what in price lists.
func (a *app) sayTaken() {
	for _, l := range a.taken {
		a.say("stock    %s", l)
	}
}

// listsFlag lets a command look up sticks written stock:SKU.
func (a *app) listsFlag(cmd *cobra.Command) {
	cmd.Flags().StringArrayVar(&a.lists, "stock", nil,
		"a price list in which sticks written stock:SKU are looked up; may be repeated")
	stockFlags(cmd, &a.listColumns, &a.listCurrency)
}

// stockStick finds a line of the price lists by its sku.
func (a *app) stockStick(sku string) (s bench.Stick, err error) {
	lists := a.lists
	if len(lists) == 0 {
		set, err := a.settings()
		if err != nil {
			return s, err
		}
		lists = set.PriceLists
	}
	if len(lists) == 0 {
		return s, usageError("stock:%s: no price list to look it up in; name one with --stock, or in the settings", sku)
	}
	for _, path := range lists {
		l, err := a.readStock(path, a.listColumns, first(a.listCurrency, "EUR"))
		if err != nil {
			return s, err
		}
		if s, found, err := bench.Listed(l, sku); found || err != nil {
			if err != nil {
				err = fmt.Errorf("stock:%s in %s: %w", sku, path, err)
			}
			return s, err
		}
	}
	return s, fmt.Errorf("stock:%s is in none of the price lists (%s)", sku, strings.Join(lists, ", "))
}
