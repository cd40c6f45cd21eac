package cli

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"epitome/internal/demo"
	"epitome/internal/store"
)

// demoMark is the file that tells a demo folder from anybody's own.
const demoMark = "MADE-BY-EPITOME-DEMO.txt"

func (a *app) demo() *cobra.Command {
	var folder string
	cmd := &cobra.Command{
		Use:   "demo [-o FOLDER]",
		Short: "The whole job on made-up data",
		Long: `Demo sets up a small workshop by a harbour, with made-up machines on the
bench, in a folder of its own, and runs the job on one of them, from the visit
to the check after fitting: each step's command, then what it says. The files stay for you to try things on.`,
		Example: `  epitome demo
  epitome demo -o /tmp/harbour
  epitome brief epitome-demo/tern-13.card`,
		Args: exactly(0, "no arguments, only flags"),
		RunE: func(*cobra.Command, []string) error {
			if err := claim(folder); err != nil {
				return err
			}
			if err := writeFiles(filepath.Join(folder, catalogueFolder),
				[]demo.File{{Name: "harbour.yaml", Data: []byte(demo.Catalogue)}}); err != nil {
				return err
			}
			list := filepath.Join(folder, "stock", "harbour-parts.csv")
			if err := writeFiles(filepath.Dir(list),
				[]demo.File{{Name: filepath.Base(list), Data: []byte(demo.PriceList)}}); err != nil {
				return err
			}
			machines := demo.Machines()
			for _, m := range machines {
				if err := writeFiles(filepath.Join(folder, "collected", m.Name), m.Files()); err != nil {
					return err
				}
			}
			fitted := demo.Fitted()
			if err := writeFiles(filepath.Join(folder, "collected", fitted.Name), fitted.Files()); err != nil {
				return err
			}
			after := filepath.Join(folder, fitted.Name+".card")
			slip := filepath.Join(folder, "gull-14.pdf")
			fmt.Fprintf(a.out, "A workshop by the harbour. %d machines wait on the bench; the demo takes the first.\n",
				len(machines))
			for i, m := range machines {
				card := filepath.Join(folder, m.Name+".card")
				args := []string{"intake", "--from", filepath.Join(folder, "collected", m.Name), "-o", card, "--title", m.Title,
					"--replace"}
				if i > 0 {
					quiet := *a
					quiet.err = new(strings.Builder)
					if quiet.run(args) != exitDone {
						return fmt.Errorf("demo: making %s failed: %v", card, quiet.err)
					}
					continue
				}
				visit := []string{"visit", "--from", filepath.Join(folder, "collected", m.Name), "-o", card, "--title", m.Title,
					"--use", m.Uses, "--stock", list, "--replace"}
				for _, step := range [][]string{visit, {"docket", card}, {"docket", card, "-o", slip, "--replace"},
					{"intake", "--from", filepath.Join(folder, "collected", fitted.Name), "-o", after, "--title", fitted.Title,
						"--replace"}, {"recheck", card, after},
					nil, {"brief", card}, {"need", card, "--use", m.Uses}, {"ceilings", card},
					{"propose", card, "--reach", m.Reach, "--stock", list}} {
					if step == nil {
						fmt.Fprint(a.out, "\nThat was the job. What else there is to ask of a card:\n")
						continue
					}
					if err := a.step(step); err != nil {
						return err
					}
				}
			}
			a.farewell(folder, machines)
			return nil
		},
	}
	cmd.Flags().StringVarP(&folder, "out", "o", "epitome-demo", "the folder to set the workshop up in")
	return cmd
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
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return fmt.Errorf("%s can't be made: %w; name another folder with -o", folder, short(err))
	}
	return store.Write(mark, []byte("Everything in this folder is made up and may be deleted.\n"), true)
}

func writeFiles(folder string, files []demo.File) error {
	if err := os.MkdirAll(folder, 0o755); err != nil {
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
