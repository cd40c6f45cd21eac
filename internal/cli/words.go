package cli

import (
	"strings"

	"github.com/spf13/cobra"

	"epitome/internal/view"
)

// words are Epitome's own, and those of the trade that a page uses without explaining
// them, in the order in which one meets them.
var words = [][2]string{
	{"card", "the file about one machine: what was read and seen, and what was decided. Text; everything else is " +
		"worked out from it"},
	{"reading", "one piece of evidence on a card: a firmware table, a module's EEPROM, a record of the system, a " +
		"sticker, what somebody saw"},
	{"place", "anywhere memory sits: a socket, or a bank of chips on the board. Only sockets are slots"},
	{"attach", "how the memory of a place is joined to the board: in a socket, or soldered"},
	{"stick", "in commands, a module however it is described: a sticker's text, an EEPROM file, a line of a price " +
		"list, or 16GB DDR4-3200 SO-DIMM"},
	{"~ likely", "the evidence leans that way; what would tell stands beside it"},
	{"≠ disputed", "sources contradict each other; both stand under \"Does not add up\""},
	{"? not known", "no reading tells, or what it tells is not enough"},
	{"ceiling", "a limit, and who sets it. The one that binds stands in brackets"},
	{"runs", "what commonly runs though the maker publishes less: never a limit, and never a proof"},
	{"works", "it runs, whatever of what is open turns out"},
	{"reduced", "it runs, with a penalty that is named"},
	{"likely", "it runs as the evidence leans; what would break it is named, and the look that tells"},
	{"unproven", "a fact is missing without which nobody can say; it is named"},
	{"unlikely", "it does not run, as the evidence leans: a no to act on"},
	{"refused", "it does not run"},
	{"all channels", "memory that runs over all channels together is up to twice as fast as what sits on one alone"},
	{"access time", "from asking to the first data, in nanoseconds: latency in clocks times the length of a clock"},
	{"penalty", "what a choice costs in speed or use, in figures"},
	{"docket", "the slip to buy from and the sheet to fit by"},
	{"drawer", "modules at hand that cost nothing"},
	{"job", "one machine's way through the workshop, with a number; from opening it on, commands that change its " +
		"card note " +
		"what they did"},
	{"round", "many machines that share one list, one drawer and one budget"},
	{"need", "in a round, how much of what is asked for a machine lacks; a budget goes where most of it is met"},
}

// help explains a command or, as "help words", the words.
func (a *app) help() *cobra.Command {
	return &cobra.Command{
		Use:   "help [COMMAND | words]",
		Short: "Explain a command, or the words that pages use",
		Example: `  epitome help propose
  epitome help words`,
		RunE: func(_ *cobra.Command, args []string) error {
			if len(args) == 1 && args[0] == "words" {
				page := view.NewPage(a.look())
				page.Headline("The words that pages use.")
				page.Blank()
				for _, w := range words {
					page.Para(16, "  "+w[0], w[1]+".")
				}
				return page.Flush(a.out)
			}
			cmd, rest, err := a.root.Find(args)
			if err != nil || len(rest) > 0 {
				return usageError("there is no command %q; epitome --help lists them, epitome help words explains words",
					strings.Join(args, " "))
			}
			return cmd.Help()
		},
	}
}
