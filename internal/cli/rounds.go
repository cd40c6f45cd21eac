package cli

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"runtime/debug"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store"
	"epitome/internal/store/joblog"
	"epitome/internal/view"
)

// roundFlags are rounds' flags as typed.
type roundFlags struct {
	reach, spend, uses, budget string
	stock, drawer, out         []string
	columns, currency, order   string
	onlyNew, inStock, noStock  bool
	cheapest, keep, pairs      bool
	save, replace              bool
	format, paper, together    string
}

func (a *app) rounds() *cobra.Command {
	var f roundFlags
	cmd := &cobra.Command{
		Use:   "rounds FOLDER|LIST... [--reach SIZE] [--stock FILE]... [--budget MONEY]",
		Short: "Many machines at once: what each gets, and the one buying list",
		Long: `Rounds takes many cards, one goal for each of them, the price lists and what lies
in the drawer, and works out what every machine gets and the one list to buy. What
is limited is shared: quantities, minimum orders, kits that serve two machines,
sticks of the drawer, and modules that come out of one machine and suit another.
A budget, or a stock that is short, goes where most is missing of what is asked
for, over all machines together; then where most is gained.

Without a goal each machine goes to its next sensible size. Where it says so the
plan is the best there is; where the search was cut short, it says by how much
another one may be better.

With --together several hosts work on one round, each of them called with the same
cards, lists and wishes, and with the same name for it: they share it through the
database server that the settings name, and each writes the same result.

A FOLDER is searched for cards; a LIST is a text file that names cards or folders,
one a line. The drawer's FILE has a stick a line, as stickers or shops say it,
"3 x" before it for several alike; or it is a sheet with a description and a
quantity. A card that can't be read is listed, and the rest goes on.

Exit codes: 0 some machine gets something or all have what is asked for, 3 nothing
fits or nothing can be had, 4 it can't be told for any machine.`,
		Example: `  epitome rounds epitome-demo --stock epitome-demo/stock/harbour-parts.csv
  epitome rounds cards/ --reach 16GB --stock list.csv --drawer drawer.txt --budget 400
  epitome rounds school.txt --use browsing,office --stock list.csv -o round.pdf -o round.csv
  epitome rounds cards/ --reach 16GB --stock list.csv --order order.csv --save`,
		Args: atLeastOne("a folder of cards, cards, or a list of them"),
		RunE: func(_ *cobra.Command, args []string) error { return a.rounded(args, f) },
	}
	formatFlag(cmd, &f.format)
	flags := cmd.Flags()
	flags.StringVar(&f.reach, "reach", "", "the size that each is to reach, such as 16GB")
	flags.StringVar(&f.spend, "spend", "", "the most to spend on each, such as 40")
	flags.StringVar(&f.uses, "use", "", "each is to reach what these uses need, as epitome need takes them")
	flags.StringVar(&f.budget, "budget", "", "the most to spend on all together, such as 400")
	flags.StringArrayVar(&f.stock, "stock", nil, "a price list, CSV or XLSX; may be repeated")
	flags.StringArrayVar(&f.drawer, "drawer", nil, "a file of sticks at hand; may be repeated")
	stockFlags(cmd, &f.columns, &f.currency)
	flags.BoolVar(&f.keep, "keep", false, "take nothing out")
	flags.BoolVar(&f.pairs, "pairs", false, "the same modules on every channel, nothing else")
	flags.BoolVar(&f.cheapest, "cheapest", false, "what costs least first, whatever it gives up")
	flags.BoolVar(&f.onlyNew, "only-new", false, "only what a list says is new")
	flags.BoolVar(&f.inStock, "in-stock", false, "only what a list says is in stock")
	flags.BoolVar(&f.noStock, "no-stock", false, "specifications, though the settings name price lists")
	flags.StringArrayVarP(&f.out, "out", "o", nil,
		"write to this file, may be repeated: .pdf for the order and the slips, .csv for the machines, .txt for this page")
	flags.StringVar(&f.order, "order", "", "write the buying list to this CSV file")
	flags.StringVar(&f.paper, "paper", "", "A4 (default) or letter")
	flags.BoolVar(&f.save, "save", false, "keep on each card what it gets, for docket and recheck")
	flags.StringVar(&f.together, "together", "", "work on it with other hosts that give the round this name")
	flags.BoolVar(&f.replace, "replace", false, "write over existing files")
	return cmd
}

func (a *app) rounded(args []string, f roundFlags) error {
	if err := checkFormat(f.format); err != nil {
		return err
	}
	set, err := a.settings()
	if err != nil {
		return err
	}
	paper, err := paperOf(f.paper, set.Paper)
	if err != nil {
		return err
	}
	if err := roundFiles(f); err != nil {
		return err
	}
	cards, err := a.cardsOf(args)
	if err != nil {
		return err
	}
	if len(f.stock) == 0 && !f.noStock {
		f.stock = set.PriceLists
	}
	// Unlike the other commands a round may live for minutes: its garbage is worth a look.
	debug.SetGCPercent(collectAt)
	debug.SetMemoryLimit(roundMemory)
	order, err := a.roundOrder(f, set)
	if err != nil {
		return err
	}
	desk := &desk{app: a, known: make(map[string]bench.Known), taught: make(map[string][]bench.Taught)}
	order.Cards, order.Name = len(cards), func(i int) string { return cards[i] }
	order.Open = func(i int) (*bench.Bench, error) { return desk.open(cards[i]) }
	if f.format == "json" {
		order.Shape = view.RoundShape
	}
	stop, finish := a.roundProgress(&order)
	order.Stop = stop
	err = a.together(&order, cards, f, set, func() error {
		r, err := order.Plan()
		if err != nil {
			return err
		}
		return a.showRound(r, f, set, paper)
	})
	finish()
	desk.end()
	return err
}

// together works on a round with other hosts where that was asked for, else alone.
func (a *app) together(o *bench.RoundOrder, cards []string, f roundFlags, set store.Settings, work func() error) error {
	if f.together == "" {
		return work()
	}
	if !joblog.OnServer(set.Jobs) {
		return usageError("--together wants a database server, and the settings name none; add a line such as  " +
			"jobs: postgres://bench@127.0.0.1:5432/workshop")
	}
	sum, err := a.roundSum(cards, f, set)
	if err != nil {
		return err
	}
	l, err := joblog.Open(set.Jobs)
	if err != nil {
		return err
	}
	defer l.Close()
	if o.Spread, err = l.Shared(f.together, sum, a.now()); err != nil {
		return err
	}
	o.Shape = view.RoundShape // whoever works on a part does not know how the others show it
	return work()
}

// roundSum is the sum of everything that a round is made of. Where the files lie does not
// count: hosts may have them elsewhere.
func (a *app) roundSum(cards []string, f roundFlags, set store.Settings) (string, error) {
	sum := sha256.New()
	wishes := f
	wishes.stock, wishes.drawer, wishes.out, wishes.order = nil, nil, nil, ""
	wishes.format, wishes.paper, wishes.save, wishes.replace, wishes.together = "", "", false, false, ""
	commit, _ := revision()
	wishes.currency = first(f.currency, set.Currency)
	fmt.Fprintf(sum, "%+v %s %s\n", wishes, Version, commit)
	files := [][]string{f.stock, f.drawer}
	if f.uses != "" && set.Policy != "" {
		files = append(files, []string{set.Policy}) // what a use needs is the workshop's to say
	}
	for _, list := range files {
		for _, path := range list {
			one, err := store.Sum(path)
			if err != nil {
				return "", err
			}
			fmt.Fprintln(sum, one)
		}
	}
	folders := make(map[string]bool)
	for _, path := range cards {
		one, err := store.Sum(path)
		if err != nil {
			one = "not read"
		}
		fmt.Fprintf(sum, "%q %s\n", filepath.Base(path), one)
		if folder := filepath.Dir(path); !folders[folder] {
			folders[folder] = true
			own, _ := a.ownFolders(path)
			for _, folder := range own {
				files, _ := store.ReadCatalogue(folder)
				for _, file := range files {
					fmt.Fprintf(sum, "%x\n", sha256.Sum256(file.Text))
				}
			}
		}
	}
	return hex.EncodeToString(sum.Sum(nil)), nil
}

// collectAt and roundMemory are what the collector keeps a round within: how much the heap
// grows between its runs, in per cent, and how many bytes it works to stay below.
const collectAt, roundMemory = 200, 40 << 20

// paperOf is the paper that is printed on.
func paperOf(typed, set string) (string, error) {
	paper := strings.ToLower(first(typed, set, "A4"))
	if paper != "a4" && paper != "letter" {
		return "", usageError("--paper %q: it is A4 or letter", typed)
	}
	return paper, nil
}

// roundFiles refuses names of files that nothing is written to.
func roundFiles(f roundFlags) error {
	for _, name := range f.out {
		switch strings.ToLower(filepath.Ext(name)) {
		case ".pdf", ".csv", ".txt":
		default:
			return usageError("-o %s: a name that ends in .pdf, .csv or .txt", name)
		}
	}
	if f.order != "" && !strings.EqualFold(filepath.Ext(f.order), ".csv") {
		return usageError("--order %s: a name that ends in .csv", f.order)
	}
	return nil
}

// roundOrder reads the goal, the lists, the drawer and the budget.
func (a *app) roundOrder(f roundFlags, set store.Settings) (o bench.RoundOrder, err error) {
	if f.currency == "" {
		f.currency = set.Currency
	}
	if len(f.stock) == 0 && (f.spend != "" || f.budget != "" || f.onlyNew || f.inStock) {
		return o, usageError("--spend, --budget, --only-new and --in-stock want a price list; name one with --stock")
	}
	w := bench.Wishes{Reach: f.reach, Spend: f.spend, Keep: f.keep, Cheapest: f.cheapest, Pairs: f.pairs,
		OnlyNew: f.onlyNew,
		InStock: f.inStock}
	g, named, err := w.Goal()
	if err != nil {
		return o, err
	}
	o.Goal = g
	budget, code, err := bench.BudgetOf(f.budget)
	if err != nil {
		return o, err
	}
	o.Budget = budget
	if f.uses != "" {
		if o.Policy, err = a.loadPolicy(set.Policy); err != nil {
			return o, err
		}
		if o.Uses, err = o.Policy.ParseUses(f.uses); err != nil {
			return o, usageError("--use: %v", err)
		}
	}
	for _, path := range f.drawer {
		sticks, err := a.drawerOf(path)
		if err != nil {
			return o, err
		}
		o.Drawer = append(o.Drawer, sticks...)
	}
	o.Offers, o.Currency, err = a.offers(f.stock, f.columns, first(f.currency, named, code))
	return o, err
}

// mostDrawer is the longest file of a drawer, in bytes.
const mostDrawer = 8 << 20

// drawerOf reads the sticks of a drawer: a text, a stick a line, or a sheet.
func (a *app) drawerOf(path string) (sticks []bench.Stick, err error) {
	switch strings.ToLower(filepath.Ext(path)) {
	case ".csv", ".xlsx", ".xlsm", ".tsv":
		a.isInput(path)
		var unread error
		sticks, wrong := bench.DrawerSheet(sheetRows(path, &unread))
		if unread != nil {
			return nil, unread
		}
		return sticks, a.drawerWrong(path, len(sticks), wrong)
	}
	text, err := a.read(path, mostDrawer)
	if err != nil {
		return nil, err
	}
	sticks, wrong := bench.DrawerText(string(text))
	return sticks, a.drawerWrong(path, len(sticks), wrong)
}

// drawerWrong says which lines of a drawer can't be read. It is an error where none can.
func (a *app) drawerWrong(path string, sticks int, wrong []string) error {
	if sticks == 0 && len(wrong) > 0 {
		return usageError("%s holds no stick that can be read: %s", path, wrong[0])
	}
	for i, w := range wrong {
		if i == 5 {
			a.say("drawer   %s: and %d lines more", path, len(wrong)-i)
			break
		}
		a.say("drawer   %s, %s; left out", path, w)
	}
	return nil
}

// mostList is the longest list of cards, in bytes.
const mostList = 16 << 20

// cardsOf finds the cards that folders, lists and names stand for, each once.
func (a *app) cardsOf(args []string) (cards []string, err error) {
	seen := make(map[string]bool)
	add := func(path string) {
		if key := absolute(path); !seen[key] {
			seen[key], cards = true, append(cards, path)
		}
	}
	var take func(path string, listed bool) error
	take = func(path string, listed bool) error {
		info, err := os.Stat(path)
		switch {
		case err == nil && info.IsDir():
			found := 0
			err := filepath.WalkDir(path, func(p string, d fs.DirEntry, err error) error {
				if err == nil && !d.IsDir() && strings.EqualFold(filepath.Ext(p), ".card") {
					found++
					add(p)
				}
				return nil // a folder that can't be read holds no cards
			})
			if err == nil && found == 0 {
				err = usageError("%s holds no card; epitome intake -o %s makes one", path, filepath.Join(path, "NAME.card"))
			}
			return err
		case listed || strings.EqualFold(filepath.Ext(path), ".card"):
			add(path) // one that is not there is listed with those that can't be read
			return nil
		case err != nil:
			return fmt.Errorf("%s is not there; name a folder of cards, or a list that names them", path)
		}
		text, err := a.read(path, mostList)
		if err != nil {
			return err
		}
		if bytes.ContainsRune(text, 0) {
			return usageError("%s is no list of cards: a text file is wanted that names cards or folders, one a line", path)
		}
		lines, there := "", false
		for line := range strings.Lines(string(text)) {
			line = strings.TrimSpace(line)
			if line == "" || strings.HasPrefix(line, "#") {
				continue
			}
			if !filepath.IsAbs(line) {
				line = filepath.Join(filepath.Dir(path), filepath.FromSlash(line))
			}
			_, err := os.Stat(line)
			lines, there = first(lines, line), there || err == nil
			if err := take(line, true); err != nil {
				return err
			}
		}
		if lines != "" && !there {
			return usageError("%s names no card that is there, %s first; a list has a card or a folder a line", path,
				view.Clip(view.Line(lines), 80))
		}
		return nil
	}
	for _, arg := range args {
		if err := take(arg, false); err != nil {
			return nil, err
		}
	}
	if len(cards) == 0 {
		return nil, usageError("the list names no card")
	}
	return cards, nil
}

// A desk opens the cards of a round. What lies beside them is read once.
type desk struct {
	app    *app
	mu     sync.Mutex
	known  map[string]bench.Known // by folder
	taught map[string][]bench.Taught
	log    *joblog.Log
	tried  bool
}

func (d *desk) open(path string) (*bench.Bench, error) {
	text, err := store.Read(path, bench.MostCard)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, errors.New("it is not there")
	}
	if err != nil {
		return nil, err
	}
	c, err := bench.ParseCard(text)
	if err != nil {
		return nil, err
	}
	b := bench.New(c, d.beside(path))
	return b.Remembering(d.remembered(b.Make())), nil
}

// beside is what is known of parts beside a card.
func (d *desk) beside(path string) bench.Known {
	d.mu.Lock()
	defer d.mu.Unlock()
	folder := filepath.Dir(path)
	k, ok := d.known[folder]
	if !ok {
		var wrong []error
		k, wrong = d.app.known(path)
		d.app.leftOut(wrong)
		d.known[folder] = k
	}
	return k
}

// remembered is what earlier jobs showed of a make.
func (d *desk) remembered(make string) []bench.Taught {
	d.mu.Lock()
	defer d.mu.Unlock()
	if list, ok := d.taught[make]; ok || make == "" {
		return list
	}
	if !d.tried {
		d.tried = true
		set, err := d.app.settings()
		if err == nil && joblog.Exists(set.Jobs) {
			if d.log, err = joblog.Open(set.Jobs); err != nil {
				d.app.say("epitome: %v; what earlier jobs showed is left out", err)
			}
		}
	}
	if d.log == nil {
		return nil
	}
	list, err := d.log.Taught(make)
	if err != nil {
		d.app.say("epitome: %v; what earlier jobs showed is left out", err)
		d.end()
		return nil
	}
	d.taught[make] = list
	return list
}

func (d *desk) end() {
	if d.log != nil {
		d.log.Close()
		d.log = nil
	}
}

// roundProgress shows on a terminal how far a round is, and lets Ctrl-C end it.
func (a *app) roundProgress(o *bench.RoundOrder) (stop func() bool, finish func()) {
	asked, done := interrupts()
	var mu sync.Mutex
	var shown *bar
	began := a.now()
	o.Seen = func(doing string, cards int) {
		mu.Lock()
		defer mu.Unlock()
		if a.errScreen == nil || shown == nil && a.now().Sub(began) < slow {
			return
		}
		if shown == nil {
			shown = a.newBar(doing, int64(o.Cards))
		}
		shown.at(int64(min(cards, o.Cards-1)), doing+"; Ctrl-C ends with what is known")
	}
	return asked, func() {
		mu.Lock()
		defer mu.Unlock()
		if shown != nil {
			shown.end()
		}
		done()
	}
}

// showRound writes what a round came to, everywhere where it was asked for.
func (a *app) showRound(r *bench.Round, f roundFlags, set store.Settings, paper string) error {
	var page view.Round
	var writer *view.RoundJSON
	if f.format == "json" {
		writer = view.NewRoundJSON(a.out)
	}
	wants := func(ending string) bool {
		return slices.ContainsFunc(f.out, func(n string) bool { return strings.EqualFold(filepath.Ext(n), ending) })
	}
	rows := [][]string{view.RoundCSV()}
	var slips []view.RoundSlip
	at, saved := 0, 0
	if err := r.Lines(func(l bench.RoundLine) error {
		page.Add(l)
		if wants(".csv") {
			rows = append(rows, view.RoundRow(r, l))
		}
		if l.State == bench.RoundGets && wants(".pdf") {
			d, err := r.Slip(at, l, bench.SlipOrder{Heading: clean(set.Heading), Date: a.now().Format(time.DateOnly)})
			if err != nil {
				return fmt.Errorf("%s: %w", l.Card, err)
			}
			slips = append(slips, view.RoundSlip{Line: l, Slip: d})
		}
		if l.State == bench.RoundGets && f.save {
			if err := a.saveRound(r, l, f.stock); err != nil {
				return err
			}
			saved++
		}
		at++
		if writer != nil {
			return writer.Add(l)
		}
		return nil
	}); err != nil {
		return err
	}
	for _, name := range f.out {
		if err := a.roundFile(name, r, &page, rows, slips, set, paper, f.replace); err != nil {
			return err
		}
	}
	if f.order != "" {
		if err := a.writeCSV(f.order, view.OrderCSV(r), f.replace); err != nil {
			return err
		}
		a.say("order    %s", f.order)
	}
	if saved > 0 {
		a.say("kept     on %d cards", saved)
	}
	if writer != nil {
		if err := writer.End(r); err != nil {
			return err
		}
	} else {
		p := view.NewPage(a.look())
		page.Page(p, r)
		if err := p.Flush(a.out); err != nil {
			return err
		}
	}
	return answer(endCodes[r.End()])
}

// roundFile writes a round in the form that a file's name asks for.
func (a *app) roundFile(name string, r *bench.Round, page *view.Round, rows [][]string, slips []view.RoundSlip,
	set store.Settings, paper string, replace bool) error {
	var b bytes.Buffer
	switch strings.ToLower(filepath.Ext(name)) {
	case ".csv":
		if err := a.writeCSV(name, rows, replace); err != nil {
			return err
		}
		a.say("machines %s: %d", name, len(rows)-1)
		return nil
	case ".pdf":
		if err := view.RoundPDF(&b, r, slips, clean(set.Heading), a.now().Format(time.DateOnly), paper); err != nil {
			return err
		}
	default:
		p := view.NewPage(view.Look{Width: 80, ASCII: a.ascii})
		page.Page(p, r)
		if err := p.Flush(&b); err != nil {
			return err
		}
	}
	if err := a.write(name, b.Bytes(), replace); err != nil {
		return err
	}
	a.say("round    %s", name)
	return nil
}

// saveRound keeps on a card what its machine gets.
func (a *app) saveRound(r *bench.Round, l bench.RoundLine, files []string) error {
	lists, err := listSums(files)
	if err != nil {
		return err
	}
	reading, err := r.Kept(l, lists, a.now().UTC().Truncate(time.Second))
	if err != nil {
		return err
	}
	_, err = a.changed(l.Card, func(c *bench.Card) (string, error) {
		c.Readings = append(c.Readings, reading)
		return "its part of a round kept", nil
	})
	return err
}
