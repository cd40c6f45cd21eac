package cli

import (
	"errors"
	"fmt"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store"
	"epitome/internal/view"
)

// proposeFlags are propose's flags as typed.
type proposeFlags struct {
	wishes
	compare, format       string
	discard, why, against int
	save, showWeights     bool
}

func (a *app) propose() *cobra.Command {
	var f proposeFlags
	cmd := &cobra.Command{
		Use:   "propose CARD [--reach SIZE] [--spend MONEY] [--stock FILE]...",
		Short: "Work out the upgrades",
		Long: `Propose works out every sound way to upgrade a machine: what to keep, what to
take out, what to buy, what it costs and how it runs. The search is exact:
nothing better exists among the offers. What is not proved is shown apart, with
the fact that would prove it.

The goal is a size to reach, money to spend, both, or what the user needs
(--use, as epitome need takes it). Without a price list the modules that exist
are searched, and the fewest of them wanted.

Exit codes: 0 there are proved proposals, 3 nothing meets the goal, 4 it can't
be told yet.`,
		Example: `  epitome propose bench3.card --reach 16GB
  epitome propose bench3.card --reach 32GB --stock list.csv --stock other.xlsx
  epitome propose bench3.card --spend 60 --stock list.csv --only-new
  epitome propose bench3.card --use browsing,tabs=40 --stock list.csv
  epitome propose bench3.card --reach 16GB --keep --pairs --stock list.csv
  epitome propose bench3.card --reach 16GB --drawer "8GB 1Rx8 PC4-2400T-SA1-11"
  epitome propose bench3.card --reach 32GB --stock list.csv --compare 1,3
  epitome propose bench3.card --reach 16GB --stock list.csv --save`,
		Args: cobra.ArbitraryArgs,
		RunE: func(cmd *cobra.Command, args []string) error {
			if f.showWeights {
				_, text := bench.BuiltInScale()
				_, err := a.out.Write(text)
				return err
			}
			if err := exactly(1, "one card")(cmd, args); err != nil {
				return err
			}
			return a.proposed(cmd, args[0], f)
		},
	}
	formatFlag(cmd, &f.format)
	flags := cmd.Flags()
	f.goalFlags(cmd, "the size to reach, for example 16GB, or max for the most", "the most to spend, such as 60",
		"reach what these uses need, as epitome need takes them", "a stick at hand that costs nothing; may be repeated")
	f.choiceFlags(cmd)
	flags.StringVar(&f.TradeIn, "trade-in", "", "allowance for each module taken out, such as 5")
	flags.IntVar(&f.discard, "discard-at-most", -1, "take out no more modules than this")
	flags.BoolVar(&f.OneKit, "one-kit", false, "buy one kit or one module, no more")
	flags.BoolVar(&f.Everything, "all", false, "every proposal that nothing beats")
	flags.BoolVar(&f.save, "save", false, "keep the proposals on the card, for docket and recheck")
	flags.StringVar(&f.compare, "compare", "", "set proposals side by side: 1,3")
	flags.IntVar(&f.why, "why", 0, "one proposal by its number: what it truly costs, and every rule")
	flags.BoolVar(&f.showWeights, "show-weights", false, "print the weights that choose the first, with their reasons")
	flags.IntVar(&f.against, "against", 0, "what one proposal gives up against the others")
	return cmd
}

func (a *app) proposed(cmd *cobra.Command, path string, f proposeFlags) error {
	if err := checkFormat(f.format); err != nil {
		return err
	}
	numbers, err := readNumbers(f.compare)
	if err != nil {
		return err
	}
	b, err := a.open(path)
	if err != nil {
		return err
	}
	set, err := a.settings()
	if err != nil {
		return err
	}
	f.settle(set)
	if cmd.Flags().Changed("discard-at-most") {
		f.Discard = bench.Count(f.discard)
	}
	goal, err := a.goal(b, f.wishes, set.Policy)
	if err != nil {
		return err
	}
	stop, finish := a.interruptible()
	result, err := b.Propose(goal, stop)
	finish()
	if errors.Is(err, bench.ErrGoal) {
		return usageError("%v; say how much memory to reach, as in --reach 16GB, or what to spend, as in --spend 60", err)
	}
	if f.save && err == nil {
		if err := a.savePlan(path, result, f.stock); err != nil {
			return err
		}
	}
	if f.format == "text" && err == nil && (len(numbers) > 0 || f.why > 0 || f.against > 0) {
		return a.looked(b, result, numbers, f)
	}
	return a.proposals(result, err, f.format)
}

// goal reads what is wanted of one machine; where uses are named, by the workshop's policy.
func (a *app) goal(b *bench.Bench, w wishes, policy string) (g bench.Goal, err error) {
	a.lists = w.stock // sticks of the drawer may be written stock:SKU
	drawer, err := a.readApart(w.drawer)
	if err != nil {
		return g, err
	}
	if g, err = a.wished(w, ""); err != nil {
		return g, err
	}
	if g.Drawer = drawer; w.uses == "" {
		return g, nil
	}
	p, uses, err := a.usesOf(w.uses, policy)
	if err != nil {
		return g, err
	}
	if size, ok := b.Toward(&g, p, uses); ok {
		a.say("goal     %v, by what the uses need", size)
	}
	return g, nil
}

// savePlan keeps the proposals on the card, with the sum of each price list.
func (a *app) savePlan(path string, r bench.Result, files []string) error {
	lists, err := listSums(files)
	if err != nil {
		return err
	}
	reading, err := bench.PlanReading(r, lists, a.now().UTC().Truncate(time.Second))
	if err != nil {
		return err
	}
	return a.add(path, fmt.Sprintf("%d proposals kept", len(r.Proposals)+len(r.Unproven)), reading)
}

// listSums are the price lists that a plan rests on, with what they say now.
func listSums(files []string) (lists []bench.ListSum, err error) {
	for _, file := range files {
		sum, err := store.Sum(file)
		if err != nil {
			return nil, err
		}
		lists = append(lists, bench.ListSum{Name: filepath.Base(file), SHA256: sum})
	}
	return lists, nil
}

// slow is how long a search may take before it shows that it is at work.
const slow = 500 * time.Millisecond

// interruptible lets Ctrl-C end a search with what is known so far, and shows
// on a terminal that a long one is at work.
func (a *app) interruptible() (stop func() bool, finish func()) {
	began := a.now()
	var shown *bar
	return func() bool {
			if a.errScreen != nil && a.now().Sub(began) > slow {
				if shown == nil {
					shown = a.newBar("searching; Ctrl-C shows what is known so far", 0)
				}
			}
			return a.interrupted()
		}, func() {
			if shown != nil {
				shown.end()
			}
		}
}

func readNumbers(text string) (list []int, err error) {
	if text == "" {
		return nil, nil
	}
	for part := range strings.SplitSeq(text, ",") {
		n, err := strconv.Atoi(strings.TrimSpace(part))
		if err != nil || n < 1 {
			return nil, usageError("--compare %q: write the numbers of proposals, as 1,3", text)
		}
		list = append(list, n)
	}
	if len(list) < 2 {
		return nil, usageError("--compare %q: two proposals or more are compared, as 1,3", text)
	}
	return list, nil
}

// looked shows proposals side by side, one explained, or what one gives up.
func (a *app) looked(b *bench.Bench, r bench.Result, numbers []int, f proposeFlags) error {
	find := func(n int) (bench.Proposal, error) {
		q, err := bench.Find(r, n)
		if err != nil {
			return q, usageError("%v", err)
		}
		return q, nil
	}
	page := view.NewPage(a.look())
	switch {
	case len(numbers) > 0:
		var list []bench.Proposal
		for _, n := range numbers {
			q, err := find(n)
			if err != nil {
				return err
			}
			list = append(list, q)
		}
		page.Compared(r, list)
	case f.why > 0:
		q, err := find(f.why)
		if err != nil {
			return err
		}
		if first, other, ok := r.Rivals(q); ok {
			page.TrueCosts(r, first, other)
			page.Blank()
		}
		page.Trial(b.Machine(), q.Trial)
	default:
		q, err := find(f.against)
		if err != nil {
			return err
		}
		page.GivenUp(r, q)
	}
	return page.Flush(a.out)
}

// endCodes are the exit codes of how a search ended.
var endCodes = map[bench.Ended]int{bench.Found: exitDone, bench.OutOf: exitNo, bench.Stopped: exitFailed,
	bench.CantTell: exitCannotTell}

// proposals shows what was found, or says why there is nothing.
func (a *app) proposals(result bench.Result, err error, format string) error {
	code := endCodes[bench.EndOf(result, err)]
	if format == "json" {
		a.sayTaken()
		blocked := ""
		if err != nil {
			blocked = err.Error()
		}
		if err := view.WriteJSON(a.out, view.ProposeJSON(result, blocked)); err != nil {
			return err
		}
		return answer(code)
	}
	page := view.NewPage(a.look())
	switch {
	case errors.Is(err, bench.ErrBeyond) && result.Blocked != "":
		page.Nearest(result)
	case err != nil:
		return &codedError{code, err}
	default:
		page.Proposals(result)
	}
	page.ListsTaken(a.taken)
	if err := page.Flush(a.out); err != nil {
		return err
	}
	return answer(code)
}
