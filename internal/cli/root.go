// Package cli is the command line: one file per command, with its flags,
// arguments and exit codes. It computes nothing; it asks package bench and
// hands the answer to package view.
package cli

import (
	"errors"
	"fmt"
	"io"
	"os"
	"runtime"
	"strings"
	"time"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"
	"golang.org/x/term"

	"epitome/core/bench"
	"epitome/internal/store"
	"epitome/internal/view"
)

// The exit codes.
const (
	exitDone       = 0
	exitFailed     = 1
	exitUsage      = 2
	exitNo         = 3 // the answer is "no"
	exitCannotTell = 4 // the answer is "cannot tell"
)

// A codedError is an error, or an answer, with an exit code of its own.
type codedError struct {
	code int
	err  error // nil where the answer has been written already
}

func (e *codedError) Error() string {
	if e.err == nil {
		return ""
	}
	return e.err.Error()
}

func (e *codedError) Unwrap() error { return e.err }

func usageError(format string, args ...any) error {
	return &codedError{exitUsage, fmt.Errorf(format, args...)}
}

// answer ends a command with an exit code and nothing more to say.
func answer(code int) error { return &codedError{code: code} }

// An app is what the commands share: where text goes and what time it is.
type app struct {
	in       io.Reader
	out, err io.Writer // cleaned: see view.Cleaner
	// screen and errScreen are the terminals behind out and err, nil where there
	// is none.
	screen, errScreen *os.File
	keys              *os.File // the terminal that answers are typed at, nil where there is none
	colour            bool
	now               func() time.Time
	ascii             bool
	root              *cobra.Command
	inputs            []os.FileInfo // files that were read, never to be written over
	// catalogues are the folders of the workshop's own entries that were named.
	catalogues                []string
	lists                     []string // price lists in which stock:SKU is looked up
	listColumns, listCurrency string   // what they do not say of themselves
	doing                     string   // the command's name
	stopping                  *stopping
	taken                     []string        // of price lists that were read: what was taken for what, for the page
	offline                   bool            // the job log is left alone
	logAway                   error           // why the job log could not be reached, once that was tried
	own                       *store.Settings // instead of the workshop's, in the demo; nil elsewhere
}

// Main runs the program and returns its exit code.
func Main(args []string, in io.Reader, out, errOut io.Writer) int {
	a := &app{in: in, screen: terminal(out), errScreen: terminal(errOut), now: time.Now}
	if f, ok := in.(*os.File); ok && term.IsTerminal(int(f.Fd())) {
		a.keys = f
	}
	a.colour = a.screen != nil && os.Getenv("NO_COLOR") == "" && os.Getenv("TERM") != "dumb"
	clean := view.NewCleaner(out, a.colour)
	a.out, a.err = clean, view.NewCleaner(errOut, false)
	release := a.heed(errOut)
	code := a.run(args)
	release()
	if err := clean.Err(); err != nil {
		a.say("epitome: the output can't be written: %v", short(err))
		return exitFailed
	}
	return code
}

// terminal returns what w writes to, where that is a terminal. It asks the
// system; it never asks the terminal.
func terminal(w io.Writer) *os.File {
	if f, ok := w.(*os.File); ok && term.IsTerminal(int(f.Fd())) {
		return f
	}
	return nil
}

func (a *app) run(args []string) int {
	a.root = a.command()
	if completing(args) {
		a.completions(a.root)
	}
	a.root.SetArgs(args)
	err := a.root.Execute()
	var coded *codedError
	switch {
	case err == nil:
		return exitDone
	case errors.As(err, &coded):
		if coded.err != nil {
			a.say("epitome: %v", coded.err)
		}
		return coded.code
	}
	a.say("epitome: %v", err)
	return codeOf(err)
}

// codeOf is the exit code of an error of the core's.
func codeOf(err error) int {
	var wrong *bench.InputError
	var open *bench.OpenError
	var refused *bench.RefusedError
	switch {
	case errors.As(err, &wrong):
		return exitUsage
	case errors.As(err, &open):
		return exitCannotTell
	case errors.As(err, &refused):
		return exitNo
	}
	return exitFailed
}

// longestQuote bounds what a message repeats of foreign text, in characters a
// line; mostQuoted is how many lines an error may have.
const (
	longestQuote = 400
	mostQuoted   = 40
)

// say writes a message to stderr; results go to stdout instead. What is put
// into it is foreign text: a string is one line, an error may have several.
func (a *app) say(format string, args ...any) {
	for i, arg := range args {
		switch x := arg.(type) {
		case string:
			args[i] = view.Clip(view.Line(x), longestQuote)
		case error:
			args[i] = quoted(x.Error())
		}
	}
	fmt.Fprintf(a.err, format+"\n", args...)
}

// quoted cleans and bounds a message line by line.
func quoted(s string) string {
	lines := strings.Split(strings.TrimRight(s, "\n"), "\n")
	if len(lines) > mostQuoted {
		lines = append(lines[:mostQuoted], fmt.Sprintf("and %d lines more", len(lines)-mostQuoted))
	}
	for i, line := range lines {
		// A later line is set in: foreign text must not begin one of its own.
		in := min(len(line)-len(strings.TrimLeft(line, " ")), 8)
		if i > 0 {
			in = max(in, 2)
		}
		lines[i] = strings.Repeat(" ", in) + view.Clip(view.Line(line), longestQuote)
	}
	return strings.Join(lines, "\n")
}

// Root is the whole tree of commands, for what is made from it: manual pages and completions.
func Root() *cobra.Command {
	a := &app{in: strings.NewReader(""), out: io.Discard, err: io.Discard, now: time.Now}
	return a.command()
}

func (a *app) command() *cobra.Command {
	root := &cobra.Command{
		Use:   "epitome",
		Short: "Reads a computer's memory and works out its upgrade",
		Long: `Epitome reads what memory a laptop or desktop holds and how it may grow,
says how sure it is and why, and works out the upgrade.

One command reads the machine and says what to buy; it keeps a card, the file
about one machine, from which every other command goes deeper:

  sudo epitome visit                    this machine, on one page
  epitome brief bench3.card             what is in it, and what is not settled
  epitome propose bench3.card --reach 16GB
  epitome help words                    the words that pages use

Exit codes: 0 done, 1 failed, 2 wrong usage, 3 the answer is "no",
4 the answer is "cannot tell". Messages go to stderr, results to stdout.`,
		SilenceUsage:      true,
		SilenceErrors:     true,
		CompletionOptions: cobra.CompletionOptions{HiddenDefaultCmd: true},
		RunE: func(cmd *cobra.Command, args []string) error {
			if len(args) > 0 {
				return usageError("there is no command %q; epitome --help lists them", args[0])
			}
			return cmd.Help()
		},
		Args:             cobra.ArbitraryArgs,
		PersistentPreRun: func(cmd *cobra.Command, _ []string) { a.doing = cmd.Name() },
	}
	root.PersistentFlags().BoolVar(&a.ascii, "ascii", false, "draw with plain ASCII characters only")
	root.PersistentFlags().BoolVar(&a.offline, "offline", false, "leave the job log alone; jobs rebuild takes it in later")
	root.PersistentFlags().StringArrayVar(&a.catalogues, "catalogue", nil,
		"a folder of the workshop's own catalogue entries (default: catalogue/ beside the card)")
	root.SetIn(a.in)
	root.SetOut(a.out)
	root.SetErr(a.err)
	root.SetFlagErrorFunc(func(cmd *cobra.Command, err error) error {
		var wrong *pflag.InvalidValueError
		if errors.As(err, &wrong) {
			return usageError("--%s %q is not %s; see %s --help", wrong.GetFlag().Name, view.Clip(wrong.GetValue(), 60),
				kindOf(wrong.GetFlag().Value.Type()), cmd.CommandPath())
		}
		return usageError("%v; see %s --help", err, cmd.CommandPath())
	})
	root.SetHelpCommand(a.help())
	root.AddCommand(a.visit(), a.intake(), a.brief(), a.observe(), a.ceilings(), a.mix(), a.trial(), a.propose(),
		a.stock(), a.docket(), a.recheck(), a.prove(), a.jobs(), a.rounds(), a.need(), a.module(), a.convert(), a.narrow(),
		a.catalogue(), a.demo(), a.version())
	root.InitDefaultCompletionCmd()
	if shells, _, err := root.Find([]string{"completion"}); err == nil {
		shells.Args, shells.RunE = cobra.ArbitraryArgs, ofCommands
	}
	plainUse(root)
	return root
}

// ofCommands is a command that does nothing without one of its own.
func ofCommands(cmd *cobra.Command, args []string) error {
	if len(args) > 0 {
		return usageError("there is no command %q; see %s --help", args[0], cmd.CommandPath())
	}
	return cmd.Help()
}

// plainUse leaves "[flags]" out of every usage line: those that matter stand there.
func plainUse(c *cobra.Command) {
	c.DisableFlagsInUseLine = true
	for _, sub := range c.Commands() {
		plainUse(sub)
	}
}

// kindOf says in words what a flag of a type takes.
func kindOf(flagType string) string {
	switch flagType {
	case "int":
		return "a whole number"
	case "float64":
		return "a number"
	case "duration":
		return "a time, such as 20m"
	case "bool":
		return "true or false"
	}
	return "a value that it takes"
}

// exactly wraps cobra's argument count so that a wrong one is wrong usage.
func exactly(n int, what string) cobra.PositionalArgs {
	return func(cmd *cobra.Command, args []string) error {
		if len(args) != n {
			return usageError("%s takes %s, got %d arguments; see %s --help", cmd.Name(), what, len(args), cmd.CommandPath())
		}
		return nil
	}
}

// look finds out how text is to be laid out where it goes.
func (a *app) look() view.Look {
	l := view.Look{Width: 80, ASCII: a.ascii || !utf8Locale()}
	if a.screen == nil {
		return l
	}
	if w, _, err := term.GetSize(int(a.screen.Fd())); err == nil {
		l.Width = min(max(w, 60), 110)
	}
	l.Colour = a.colour
	return l
}

// utf8Locale reports whether text may hold more than ASCII.
func utf8Locale() bool {
	if runtime.GOOS == "windows" {
		return true
	}
	for _, name := range []string{"LC_ALL", "LC_CTYPE", "LANG"} {
		if v := os.Getenv(name); v != "" {
			v = strings.ToLower(v)
			return strings.Contains(v, "utf-8") || strings.Contains(v, "utf8")
		}
	}
	return true
}

// formatFlag adds --format to a command; check tests what was given.
func formatFlag(cmd *cobra.Command, format *string) {
	cmd.Flags().StringVar(format, "format", "text", "text or json")
}

func checkFormat(format string) error {
	if format != "text" && format != "json" {
		return usageError("--format %q is not known; it is text or json", format)
	}
	return nil
}
