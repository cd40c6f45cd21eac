package cli

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store/joblog"
	"epitome/internal/view"
)

// visitFlags are visit's flags as typed.
type visitFlags struct {
	wishes
	from, root, out, title string
	page, format           string
	noQuestions, ask       bool
	replace, job           bool
	fresh                  bool // the card is made on this visit
	lead                   []string
}

func (a *app) visit() *cobra.Command {
	var f visitFlags
	cmd := &cobra.Command{
		Use:   "visit [CARD | --from FOLDER | --root FOLDER] [--reach SIZE | --use USES | --spend MONEY] [--stock FILE]...",
		Short: "One sitting: what is in it, what it lacks, how far it goes, what to buy",
		Long: `Visit reads the machine (or collected files, a copy of a system tree, or a card),
keeps the card, and says on one page what is there, what could be better without
buying, what the user needs, how far the machine goes, two to four choices, and
the looks on which the choice depends, three at most. Every other command goes
deeper from the card that it keeps.

The card is named after the machine, never over another; -o names it. The
choices come from the price lists of the settings or of --stock, else from what
is ordinarily sold. On a terminal it asks at most three questions, each skipped
with Enter; the answers go onto the card as observations.

Exit codes: 0 there is a choice, the machine has what was asked for, or nothing
was asked for and it takes no more; 3 it does not take what was asked for, or
nothing that is offered fits; 4 it can't be told yet.`,
		Example: `  sudo epitome visit
  epitome visit --from usb-stick/bench3 --reach 16GB --stock list.csv
  epitome visit bench3.card --use browsing,tabs=40,office
  epitome visit bench3.card --spend 60 --stock list.csv --page bench3.html`,
		Args: func(cmd *cobra.Command, args []string) error {
			switch {
			case len(args) > 1:
				return usageError("visit takes one card, or none; see %s --help", cmd.CommandPath())
			case len(args) == 1 && (f.from != "" || f.root != ""):
				return usageError("a card, --from and --root are different sources; give one")
			case f.from != "" && f.root != "":
				return usageError("--from and --root are two different sources; give one")
			case len(args) == 1 && f.out != "":
				return usageError("-o names a new card; %s is one already", args[0])
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, args []string) error {
			path := ""
			if len(args) == 1 {
				path = args[0]
			}
			return a.visited(cmd, path, f)
		},
	}
	formatFlag(cmd, &f.format)
	flags := cmd.Flags()
	flags.StringVar(&f.from, "from", "", "read collected files from this folder")
	flags.StringVar(&f.root, "root", "", "read a copy of a Linux system tree (FOLDER/sys, FOLDER/proc)")
	flags.StringVarP(&f.out, "out", "o", "", "the card to keep (default: named after the machine)")
	flags.StringVar(&f.title, "title", "", "your own name for the job, kept on the card")
	flags.BoolVar(&f.job, "job", false, "open a job for it in the workshop's log")
	f.goalFlags(cmd, "the size to reach, for example 16GB, or max for the most", "the most to spend, such as 60",
		"what it is used for, as epitome need takes it", "a stick at hand that costs nothing; may be repeated")
	flags.StringVar(&f.page, "page", "", "write the same as one HTML page that prints on one sheet")
	flags.BoolVar(&f.noQuestions, "no-questions", false, "ask nothing")
	flags.BoolVar(&f.ask, "ask", false, "ask, though the answers do not come from a terminal")
	flags.BoolVar(&f.replace, "replace", false, "write the page or the card over an existing file")
	return cmd
}

func (a *app) visited(cmd *cobra.Command, path string, f visitFlags) error {
	if err := checkFormat(f.format); err != nil {
		return err
	}
	if ext := strings.ToLower(filepath.Ext(f.page)); f.page != "" && ext != ".html" && ext != ".htm" {
		return usageError("--page %s: a name that ends in .html", f.page)
	}
	f.fresh = path == ""
	if f.fresh {
		var err error
		if path, err = a.received(cmd, &f); err != nil {
			return err
		}
	}
	if f.job {
		if err := a.withLog(func(l *joblog.Log) error { return a.openJob(l, path) }); err != nil {
			return err
		}
	}
	b, err := a.open(path)
	if err != nil {
		return err
	}
	sitting, err := a.sitting(b, &f)
	if err != nil {
		return err
	}
	work := func() bench.Visit {
		stop, finish := a.interruptible()
		defer finish()
		return b.Visit(sitting, stop)
	}
	v := work()
	if !f.noQuestions && (f.ask || a.errScreen != nil && a.keys != nil) {
		told, err := a.asked(path, b, v.Questions())
		if err != nil {
			return err
		}
		if told {
			if b, err = a.open(path); err != nil {
				return err
			}
			v = work()
		}
	}
	if f.fresh && len(v.Choices) > 0 {
		if err := a.savePlan(path, v.Proposals, f.stock); err != nil {
			return err
		}
	}
	return a.showVisit(path, b, v, f)
}

// received reads the machine or the files, and keeps the card.
func (a *app) received(cmd *cobra.Command, f *visitFlags) (path string, err error) {
	now := a.now().UTC().Truncate(time.Second)
	in := intakeFlags{from: f.from, root: f.root}
	haul, err := in.take(now)
	if err != nil {
		return "", err
	}
	for _, n := range haul.Notes {
		if !n.Taken {
			a.say("missing  %s: %s", n.Source, n.Says)
		}
	}
	again := again(cmd)
	if !haul.TellsOfMemory() {
		return "", errors.New("nothing was read that tells what memory is fitted; no card was kept.\n" + again)
	}
	if !haul.HasTable() && f.from == "" && f.root == "" {
		f.lead = append(f.lead, "The firmware tables were not read, so places and limits are guesswork. "+again)
	}
	c := bench.NewCard(now, f.title, haul.Readings)
	text, err := c.Encode()
	if err != nil {
		return "", err
	}
	if path = f.out; path == "" {
		path = freeName(slug(first(bench.Bare(c).Name(), "machine")))
	}
	return path, a.write(path, text, f.replace)
}

// again is how to read the machine with the rights that it takes.
func again(cmd *cobra.Command) string {
	typed := "epitome " + strings.Join(os.Args[1:], " ")
	if cmd != nil && (len(os.Args) < 2 || !slices.Contains(os.Args, cmd.Name())) {
		typed = "epitome visit" // called from a test, or by another name
	}
	if runtime.GOOS == "windows" {
		return "Type it again in a window that was opened as administrator:  " + typed
	}
	return "Type it again as root:  sudo " + typed
}

// freeName is a card's name that no file has.
func freeName(name string) string {
	path := name + ".card"
	for n := 2; n < 1000; n++ {
		if _, err := os.Lstat(path); err != nil {
			break
		}
		path = fmt.Sprintf("%s-%d.card", name, n)
	}
	return path
}

// asked asks what decides, and keeps the answers on the card; told is false where there is none.
func (a *app) asked(path string, b *bench.Bench, questions []bench.Question) (told bool, err error) {
	var facts []string
	for i, q := range questions {
		if i == 0 {
			a.say("Enter skips a question.")
		}
		answer := ""
		accept := func(text string) error { return b.Accepts(q.Fact, text) }
		if err := a.question(fmt.Sprintf("%s (as %s)", q.Text, q.Example), &answer, accept); err != nil {
			return false, err
		}
		if answer != "" {
			facts = append(facts, q.Fact+"="+answer)
		}
	}
	if len(facts) == 0 {
		return false, nil
	}
	return true, a.addObservation(path, b, facts, observeFlags{})
}

// sitting reads the goal, the wishes and what the machine is used for.
func (a *app) sitting(b *bench.Bench, f *visitFlags) (s bench.Sitting, err error) {
	set, err := a.settings()
	if err != nil {
		return s, err
	}
	if s.Policy, s.Uses, err = a.usesOf(f.uses, set.Policy); err != nil {
		return s, err
	}
	f.settle(set)
	wishes := f.wishes
	wishes.uses = "" // the visit works the need out itself, and shows it
	s.Goal, err = a.goal(b, wishes, set.Policy)
	return s, err
}

// typedGoal is a goal as it is typed.
func typedGoal(g bench.Goal) string {
	var flags []string
	if size, ok := g.Reach.Get(); ok {
		flags = append(flags, "--reach "+strings.ReplaceAll(size.String(), " ", ""))
	} else if money, ok := g.Spend.Get(); ok {
		flags = append(flags, "--spend "+money.String())
	}
	if rate, ok := g.Rate.Get(); ok {
		flags = append(flags, fmt.Sprintf("--speed %d", rate))
	}
	return strings.Join(flags, " ")
}

func (a *app) showVisit(path string, b *bench.Bench, v bench.Visit, f visitFlags) error {
	if f.lead == nil {
		f.lead = unreadTable(b)
	}
	s := view.Sitting{Machine: b.Machine(), Limits: b.Ceilings(), Visit: v, Lead: f.lead, Card: path,
		Lists: a.taken}
	switch {
	case len(v.Choices) == 0:
		s.Next = fmt.Sprintf("epitome brief %s --why", path)
	case f.fresh:
		s.Next = fmt.Sprintf("epitome docket %s --proposal %d", path, v.Choices[0].Number)
	default:
		s.Next = fmt.Sprintf("epitome propose %s %s --save, then epitome docket %s", path, typedGoal(v.Proposals.Goal), path)
	}
	if f.page != "" {
		var html bytes.Buffer
		if err := view.VisitHTML(&html, s); err != nil {
			return err
		}
		if err := a.write(f.page, html.Bytes(), f.replace); err != nil {
			return err
		}
		a.say("page     %s", f.page)
	}
	if f.fresh {
		a.say("card     %s", path)
	}
	var err error
	if f.format == "json" {
		a.sayTaken()
		err = view.WriteJSON(a.out, view.VisitJSON(s))
	} else {
		page := view.NewPage(a.look())
		page.Visit(s)
		err = page.Flush(a.out)
	}
	if err != nil {
		return err
	}
	return answer(endCodes[v.End()])
}

// unreadTable says first, where a card was made without the firmware tables, that it was.
func unreadTable(b *bench.Bench) []string {
	why := b.TableFailed()
	if why == "" {
		return nil
	}
	return []string{fmt.Sprintf("The firmware tables are not on the card (%s), so places and limits are guesswork: "+
		"make it again as root with  sudo epitome visit", why)}
}
