package cli

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"path/filepath"
	"runtime/debug"
	"strings"
	"sync"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store"
	"epitome/internal/store/joblog"
	"epitome/internal/view"
)

// roundFlags are rounds' flags as typed.
type roundFlags struct {
	wishes
	budget, order           string
	out                     []string
	save, replace           bool
	format, paper, together string
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
	f.goalFlags(cmd, "the size that each is to reach, such as 16GB", "the most to spend on each, such as 40",
		"each is to reach what these uses need, as epitome need takes them",
		"a file of sticks at hand; may be repeated")
	f.choiceFlags(cmd)
	flags.StringVar(&f.budget, "budget", "", "the most to spend on all together, such as 400")
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
	if err := f.writable(cards); err != nil {
		return err
	}
	f.settle(set)
	// Unlike the other commands a round may live for minutes: its garbage is worth a look.
	debug.SetGCPercent(collectAt)
	debug.SetMemoryLimit(roundMemory)
	order, err := a.roundOrder(f, set.Policy)
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
	typed := f
	typed.stock, typed.drawer, typed.out, typed.order, typed.weights = nil, nil, nil, "", ""
	typed.format, typed.paper, typed.save, typed.replace, typed.together = "", "", false, false, ""
	commit, _ := revision()
	fmt.Fprintf(sum, "%+v %s %s\n", typed, Version, commit)
	files := [][]string{f.stock, f.drawer}
	if f.uses != "" && set.Policy != "" {
		files = append(files, []string{set.Policy}) // what a use needs is the workshop's to say
	}
	if set.Weights != "" {
		files = append(files, []string{set.Weights})
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

// roundProgress shows on a terminal how far a round is, and lets Ctrl-C end it.
func (a *app) roundProgress(o *bench.RoundOrder) (stop func() bool, finish func()) {
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
	return a.interrupted, func() {
		mu.Lock()
		defer mu.Unlock()
		if shown != nil {
			shown.end()
		}
	}
}
