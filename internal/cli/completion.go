package cli

import (
	"cmp"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store/joblog"
	"epitome/internal/view"
)

// completing reports whether a command line asks what may stand there: only then is it worked
// out, since no other start needs it.
func completing(args []string) bool {
	return len(args) > 0 && (args[0] == cobra.ShellCompRequestCmd || args[0] == cobra.ShellCompNoDescRequestCmd)
}

// completions gives every command and flag what may stand there. What a card or the log holds
// is looked up while somebody types; what can't be read then offers nothing.
func (a *app) completions(root *cobra.Command) {
	fixed := map[string][]string{"format": {"text", "json"}, "paper": {"A4", "letter"},
		"source": bench.Sources}
	for _, s := range bench.JobStates {
		fixed["state"] = append(fixed["state"], string(s))
	}
	files := map[string][]string{"stock": {"csv", "xlsx", "xlsm", "tsv"}, "drawer": {"txt", "csv", "xlsx"},
		"policy": {"yaml"},
		"order":  {"csv"}, "clean": {"csv"}, "chart": {"png", "svg"}}
	var visit func(*cobra.Command)
	visit = func(c *cobra.Command) {
		if strings.Contains(c.Use, " CARD") && c.ValidArgsFunction == nil {
			c.ValidArgsFunction = completeCards
		}
		for name, values := range fixed {
			offer(c, name, func([]string, string) ([]string, cobra.ShellCompDirective) {
				return values, cobra.ShellCompDirectiveNoFileComp
			})
		}
		for name, endings := range files {
			offer(c, name, func(_ []string, typed string) ([]string, cobra.ShellCompDirective) {
				return filesEnding(typed, endings...)
			})
		}
		for _, name := range []string{"pull", "put"} {
			offer(c, name, a.places)
		}
		for _, name := range []string{"proposal", "why", "against"} {
			if f := c.Flags().Lookup(name); f != nil && f.Value.Type() == "int" {
				offer(c, name, a.keptNumbers)
			}
		}
		offer(c, "use", a.uses)
		for _, sub := range c.Commands() {
			visit(sub)
		}
	}
	visit(root)
	find := func(path ...string) *cobra.Command {
		c, _, err := root.Find(path)
		if err != nil {
			return &cobra.Command{}
		}
		return c
	}
	find("observe").ValidArgsFunction = a.completeFacts
	find("rounds").ValidArgsFunction = func(*cobra.Command, []string, string) ([]string, cobra.ShellCompDirective) {
		return nil, cobra.ShellCompDirectiveDefault // folders, cards and lists
	}
	for _, name := range []string{"show", "close", "reopen", "withdraw"} {
		find("jobs", name).ValidArgsFunction = a.completeJobs
	}
}

// offer completes a command's flag, where it has it and nobody else completes it.
func offer(c *cobra.Command, name string, values func(args []string, typed string) ([]string,
	cobra.ShellCompDirective)) {
	if c.LocalNonPersistentFlags().Lookup(name) == nil {
		return
	}
	// The error says that it is completed already.
	_ = c.RegisterFlagCompletionFunc(name,
		func(_ *cobra.Command, args []string, typed string) ([]string, cobra.ShellCompDirective) {
			return values(args, typed)
		})
}

// beginning keeps what begins with what is typed, in any case.
func beginning(list []string, typed string) (kept []string) {
	for _, x := range list {
		if strings.HasPrefix(strings.ToLower(x), strings.ToLower(typed)) {
			kept = append(kept, view.Line(x))
		}
	}
	return kept
}

// quietly opens the card that a command line names first; nil where it can't be read.
func (a *app) quietly(args []string) *bench.Bench {
	if len(args) == 0 {
		return nil
	}
	quiet := *a
	quiet.err = new(strings.Builder)
	c, err := quiet.readCard(args[0])
	if err != nil {
		return nil
	}
	return quiet.lay(args[0], c)
}

// places offers the names of the card's places.
func (a *app) places(args []string, typed string) ([]string, cobra.ShellCompDirective) {
	var names []string
	if b := a.quietly(args); b != nil {
		for _, p := range b.Machine().Places {
			names = append(names, p.Name)
		}
	}
	return beginning(names, typed), cobra.ShellCompDirectiveNoFileComp
}

// keptNumbers offers the proposals that the card keeps, with what they buy.
func (a *app) keptNumbers(args []string, _ string) (list []string, _ cobra.ShellCompDirective) {
	if b := a.quietly(args); b != nil {
		for _, x := range b.KeptNumbers() {
			list = append(list, x[0]+"\t"+view.Line(x[1]))
		}
	}
	return list, cobra.ShellCompDirectiveNoFileComp
}

// uses offers what a machine may be used for, behind those that are there already.
func (a *app) uses(_ []string, typed string) (list []string, _ cobra.ShellCompDirective) {
	set, err := a.settings()
	if err != nil {
		return nil, cobra.ShellCompDirectiveNoFileComp
	}
	policy, err := a.loadPolicy(set.Policy)
	if err != nil {
		return nil, cobra.ShellCompDirectiveNoFileComp
	}
	before := typed[:strings.LastIndexByte(typed, ',')+1]
	for _, u := range policy.Uses {
		list = append(list, before+u.Name)
	}
	return beginning(list, typed), cobra.ShellCompDirectiveNoFileComp | cobra.ShellCompDirectiveNoSpace
}

// completeFacts offers a card, then what may be observed of it, then the values of a fact.
func (a *app) completeFacts(c *cobra.Command, args []string, typed string) ([]string, cobra.ShellCompDirective) {
	if len(args) == 0 {
		return completeCards(c, args, typed)
	}
	b := a.quietly(args)
	if b == nil {
		return nil, cobra.ShellCompDirectiveNoFileComp
	}
	fact, _, chosen := strings.Cut(typed, "=")
	if !chosen {
		return beginning(b.Observable(), typed), cobra.ShellCompDirectiveNoFileComp | cobra.ShellCompDirectiveNoSpace
	}
	var list []string
	for _, v := range b.ValuesOf(fact) {
		list = append(list, fact+"="+v)
	}
	return beginning(list, typed), cobra.ShellCompDirectiveNoFileComp
}

// completeJobs offers the jobs of the log, the newest first.
func (a *app) completeJobs(*cobra.Command, []string, string) (list []string, _ cobra.ShellCompDirective) {
	set, err := a.settings()
	if err != nil || !joblog.Exists(set.Jobs) {
		return nil, cobra.ShellCompDirectiveNoFileComp
	}
	_ = a.readingLog(func(l *joblog.Log) error {
		all, err := l.Jobs(bench.JobFilter{})
		for i := len(all) - 1; i >= max(0, len(all)-50); i-- {
			list = append(list, view.Line(all[i].Number)+"\t"+view.Line(all[i].Machine()+" "+all[i].Title))
		}
		return err
	})
	return list, cobra.ShellCompDirectiveNoFileComp
}

// completeCards offers card files where a command wants one.
func completeCards(_ *cobra.Command, args []string, typed string) ([]string, cobra.ShellCompDirective) {
	if len(args) == 0 {
		return filesEnding(typed, "card")
	}
	return nil, cobra.ShellCompDirectiveDefault
}

// mostFiles bounds what is offered of a folder.
const mostFiles = 1_000

// filesEnding offers files of some endings, and folders to go on in. One of the four shells
// can't filter by endings itself, so none is asked to.
func filesEnding(typed string, endings ...string) (list []string, _ cobra.ShellCompDirective) {
	folder, begun := filepath.Split(typed)
	entries, err := os.ReadDir(cmp.Or(folder, "."))
	if err != nil {
		return nil, cobra.ShellCompDirectiveNoFileComp
	}
	directive := cobra.ShellCompDirectiveNoFileComp
	for _, e := range entries[:min(len(entries), mostFiles)] {
		name := e.Name()
		ending := strings.ToLower(strings.TrimPrefix(filepath.Ext(name), "."))
		switch {
		case !strings.HasPrefix(name, begun) || begun == "" && strings.HasPrefix(name, "."):
		case view.Line(name) != name: // what acts on a terminal is not offered to one
		case e.IsDir():
			list = append(list, folder+name+"/")
			directive |= cobra.ShellCompDirectiveNoSpace
		case slices.Contains(endings, ending):
			list = append(list, folder+name)
		}
	}
	return list, directive
}
