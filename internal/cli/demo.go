package cli

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/internal/demo"
	"epitome/internal/store"
)

// demoMark is the file that tells a demo folder from anybody's own.
const demoMark = "MADE-BY-EPITOME-DEMO.txt"

func (a *app) demo() *cobra.Command {
	var folder string
	var school, lines int
	cmd := &cobra.Command{
		Use:   "demo [-o FOLDER] [--school N]",
		Short: "The whole job on made-up data",
		Long: `Demo sets up a small workshop by a harbour, with made-up machines on the
bench, in a folder of its own, and runs the job on one of them, from the visit
to the check after fitting: each step's command, then what it says. Then all of
them as one round, with the drawer, in a job log of the demo's own. The files stay
for you to try things on.

--school makes the cards of a school with many machines instead, and a long price
list beside them, to try rounds on.`,
		Example: `  epitome demo
  epitome demo -o /tmp/harbour
  epitome demo -o school --school 200
  epitome brief epitome-demo/tern-13.card`,
		Args: exactly(0, "no arguments, only flags"),
		RunE: func(*cobra.Command, []string) error {
			if school < 0 || school > 100_000 || lines < 1 || lines > 1_000_000 {
				return usageError("--school takes 0 to 100000 machines, and --lines 1 to 1000000")
			}
			if err := claim(folder); err != nil {
				return err
			}
			if school > 0 {
				return a.school(folder, school, lines)
			}
			return a.workshop(folder)
		},
	}
	cmd.Flags().StringVarP(&folder, "out", "o", "epitome-demo", "the folder to set the workshop up in")
	cmd.Flags().IntVar(&school, "school", 0, "make the cards of so many machines of a school instead")
	cmd.Flags().IntVar(&lines, "lines", 300, "how many lines the school's price list has")
	return cmd
}

// workshop sets the harbour's workshop up, and runs the job on the first of its machines.
func (a *app) workshop(folder string) error {
	list := filepath.Join(folder, "stock", "harbour-parts.csv")
	files := map[string][]demo.File{
		filepath.Join(folder, catalogueFolder): {{Name: "harbour.yaml", Data: []byte(demo.Catalogue)}},
		filepath.Dir(list):                     {{Name: filepath.Base(list), Data: []byte(demo.PriceList)}},
	}
	machines := demo.Machines()
	for _, m := range append(slices.Clone(machines), demo.Fitted()) {
		files[collected(folder, m)] = m.Files()
	}
	for to, held := range files {
		if err := writeFiles(to, held); err != nil {
			return err
		}
	}
	fmt.Fprintf(a.out, "A workshop by the harbour. %d machines wait on the bench; the demo takes the first.\n",
		len(machines))
	if err := a.firstAct(folder, list, machines[0]); err != nil {
		return err
	}
	for _, m := range machines[1:] {
		quiet := *a
		quiet.err = new(strings.Builder)
		if quiet.run(taken(folder, folder, m)) != exitDone {
			return fmt.Errorf("demo: making the card of %s failed: %v", m.Name, quiet.err)
		}
	}
	if err := a.secondAct(folder, list, machines); err != nil {
		return err
	}
	a.farewell(folder, machines)
	return nil
}

// collected is where a machine's collected files lie, cardOf its card.
func collected(folder string, m demo.Machine) string {
	return filepath.Join(folder, "collected", m.Name)
}

func cardOf(folder string, m demo.Machine) string { return filepath.Join(folder, m.Name+".card") }

// taken is the command that makes a machine's card of its files, into another folder.
func taken(folder, into string, m demo.Machine) []string {
	return []string{"intake", "--from", collected(folder, m), "-o", cardOf(into, m), "--title", m.Title, "--replace"}
}

// firstAct runs the job on one machine, and then what else there is to ask of it.
func (a *app) firstAct(folder, list string, m demo.Machine) error {
	card, after := cardOf(folder, m), cardOf(folder, demo.Fitted())
	for _, step := range [][]string{
		{"visit", "--from", collected(folder, m), "-o", card, "--title", m.Title, "--use", m.Uses, "--stock", list,
			"--replace"},
		{"docket", card},
		{"docket", card, "-o", filepath.Join(folder, m.Name+".pdf"), "--replace"},
		taken(folder, folder, demo.Fitted()),
		{"recheck", card, after},
		nil,
		{"brief", card},
		{"need", card, "--use", m.Uses},
		{"ceilings", card},
		{"propose", card, "--reach", m.Reach, "--stock", list},
	} {
		if step == nil {
			fmt.Fprint(a.out, "\nThat was the job. What else there is to ask of a card:\n")
			continue
		}
		if err := a.step(step); err != nil {
			return err
		}
	}
	return nil
}

// school writes the cards of many machines, a price list and a drawer.
func (a *app) school(folder string, machines, lines int) error {
	cards := filepath.Join(folder, "cards")
	if err := writeFiles(filepath.Join(cards, catalogueFolder),
		[]demo.File{{Name: "harbour.yaml", Data: []byte(demo.Catalogue)}}); err != nil {
		return err
	}
	if err := writeFiles(folder, []demo.File{{Name: "list.csv", Data: []byte(demo.SchoolList(lines))},
		{Name: "drawer.txt", Data: []byte(demo.Drawer)}}); err != nil {
		return err
	}
	made := a.now().UTC().Truncate(time.Second)
	for n := range machines {
		c := demo.SchoolCard(n, made)
		text, err := c.Encode()
		if err != nil {
			return err
		}
		if err := store.Write(filepath.Join(cards, fmt.Sprintf("school-%05d.card", n+1)), text, true); err != nil {
			return err
		}
	}
	fmt.Fprintf(a.out, "A school with %d machines. Try:\n\n  epitome rounds %s --stock %s --drawer %s\n", machines, cards,
		filepath.Join(folder, "list.csv"), filepath.Join(folder, "drawer.txt"))
	return nil
}

// secondAct takes all machines of the bench as one round, on cards of its own.
func (a *app) secondAct(folder, list string, machines []demo.Machine) error {
	round, drawer := filepath.Join(folder, "round"), filepath.Join(folder, "drawer.txt")
	if err := writeFiles(filepath.Join(round, catalogueFolder),
		[]demo.File{{Name: "harbour.yaml", Data: []byte(demo.Catalogue)}}); err != nil {
		return err
	}
	if err := writeFiles(folder, []demo.File{{Name: filepath.Base(drawer), Data: []byte(demo.Drawer)}}); err != nil {
		return err
	}
	quiet := *a
	quiet.err = new(strings.Builder)
	open := []string{"jobs", "open"}
	for _, m := range machines {
		if quiet.run(taken(folder, round, m)) != exitDone {
			return fmt.Errorf("demo: making the card of %s failed: %v", m.Name, quiet.err)
		}
		open = append(open, cardOf(round, m))
	}
	log := filepath.Join(folder, "jobs.db")
	for _, old := range []string{log, log + "-wal", log + "-shm", log + ".numbers"} { // of an earlier demo
		if err := os.Remove(old); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return err
		}
	}
	own := *a
	own.own = &store.Settings{Jobs: absolute(log)}
	fmt.Fprintf(a.out, "\nThe second act: all %d machines as they came in, as one round, with what lies in the\ndrawer. "+
		"The demo keeps a job log of its own, %s.\n", len(machines), log)
	for _, step := range [][]string{open, {"rounds", round, "--stock", list, "--drawer", drawer, "--budget", "80", "-o",
		filepath.Join(folder, "round.pdf"), "--order", filepath.Join(folder, "order.csv"), "--save", "--replace"}, {"jobs"}} {
		if err := own.step(step); err != nil {
			return err
		}
	}
	return nil
}

// claim makes the demo's folder, or finds it made by an earlier demo. It
// never touches a folder that holds anything else.
func claim(folder string) error {
	mark := filepath.Join(folder, demoMark)
	entries, err := os.ReadDir(folder)
	if err == nil && len(entries) > 0 {
		if _, err := os.Stat(mark); err != nil {
			return fmt.Errorf("%s holds other files; name a new folder with -o", folder)
		}
	}
	if err := store.MakeFolder(folder); err != nil {
		return fmt.Errorf("%s can't be made: %w; name another folder with -o", folder, short(err))
	}
	return store.Write(mark, []byte("Everything in this folder is made up and may be deleted.\n"), true)
}

func writeFiles(folder string, files []demo.File) error {
	if err := store.MakeFolder(folder); err != nil {
		return err
	}
	for _, f := range files {
		if err := store.Write(filepath.Join(folder, f.Name), f.Data, true); err != nil {
			return err
		}
	}
	return nil
}

// step shows a command as it would be typed, then what it says. An answer of
// "no" or "cannot tell" is an answer; only a failure ends the demo.
func (a *app) step(args []string) error {
	quoted := make([]string, len(args))
	for i, arg := range args {
		if strings.ContainsAny(arg, " '\"") {
			arg = `"` + arg + `"`
		}
		quoted[i] = arg
	}
	fmt.Fprintf(a.out, "\n$ epitome %s\n\n", strings.Join(quoted, " "))
	inner := *a
	inner.err = a.out // in the order in which a person would see it
	if code := inner.run(args); code == exitFailed || code == exitUsage {
		return fmt.Errorf("demo: epitome %s ended with exit code %d", args[0], code)
	}
	return nil
}

func (a *app) farewell(folder string, machines []demo.Machine) {
	fmt.Fprintf(a.out, "\nThe files are in %s. The machines, to try things on:\n", folder)
	for _, m := range machines {
		fmt.Fprintf(a.out, "  epitome visit %-32s %s\n", filepath.Join(folder, m.Name+".card"), m.Title)
	}
}
