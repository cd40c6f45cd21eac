package trial

import (
	"slices"
	"strings"

	"epitome/core/rule"
)

// A Scope is what a rule looks at.
type Scope uint8

// The scopes.
const (
	EachModule  Scope = iota // a module, in the place where it goes
	EachChannel              // what sits on one channel
	WholeSet                 // all modules together
)

// A Rule is one condition that a set of modules must meet. It is written for
// one world: what it needs it asks of the world, and gets a value.
type Rule struct {
	ID     string
	Says   string   // its statement, one sentence
	Needs  []string // what it must know to decide
	Source string   // standard clause, or kind of data sheet
	Scope  Scope
	// Beside are the facts of a module, by their keys in the table of module facts,
	// on which it depends what a module does beside another; none where each is
	// looked at alone.
	Beside []string
	// Machine: it can be asked of modules in a machine only.
	Machine bool
	// Moved: a fitted module that goes into another place is asked, too.
	Moved bool
	// Fine is what it says where no module, or no channel, breaks it.
	Fine string
	each func(w *rule.World, s *scene, i int) rule.Said
	// channel decides about one channel. The search asks it of every way in which it
	// fills one.
	channel func(w *rule.World, t *setting, l ChannelLoad) rule.Said
	// whole decides about all modules together; applies is false where the rule
	// has nothing to say.
	whole func(w *rule.World, s *scene) (said rule.Said, applies bool)
}

// Rules returns every rule, in the order in which they are asked.
func Rules() []Rule { return rules }

// rules is the one table of rules. A pair of sticks, a machine and the search
// ask it by scope.
var rules = []Rule{
	{
		ID: "same-generation", Says: "All modules are of the generation that the board takes: generations never mix.",
		Needs:  []string{"generation of each module", "generation of the board"},
		Source: "JESD21-C module annexes: contacts and key differ by generation",
		Beside: []string{"generation"}, Fine: "all are of the board's generation", each: sameGeneration,
	},
	{
		ID: "form", Says: "Each module has the form and the contacts of its socket.",
		Needs: []string{"form of each module", "form of the sockets"}, Source: "JEDEC MO outlines",
		Fine: "all have the form of their sockets", each: form,
	},
	{
		ID: "socket", Says: "Every module that is new in its place goes into a socket that is free.", Machine: true,
		Moved: true,
		Needs: []string{"whether the place is a socket", "whether it is free"}, Source: "sight, or signs that agree",
		Fine: "every place is a socket", each: socket,
	},
	{
		ID: "supply", Says: "The board gives every module a supply that it is made for.",
		Needs:  []string{"supplies of each module", "supplies of controller and board"},
		Source: "JESD79-3-1 (1.35 V parts run at 1.5 V too, 1.5 V parts not at 1.35 V); controller data sheet",
		Beside: []string{"generation", "volts"}, Fine: "the supply is one that all are made for", each: supply,
	},
	{
		ID: "buffering", Says: "Registered, load-reduced and unbuffered modules never share a machine, nor go where only " +
			"another kind goes.",
		Needs:  []string{"kind of each module", "kinds that the controller takes"},
		Source: "JESD21-C 4.20: address lines are driven differently; controller data sheet",
		Beside: []string{"form", "registered", "load_reduced", "multiplexed_rank"},
		Fine:   "all are buffered as the machine takes them",
		each:   buffering,
	},
	{
		ID: "ecc", Says: "Modules with check bits need a controller, and a board, that take them; beside modules without, " +
			"they check nothing.",
		Needs:  []string{"check bits of each module", "kinds that the controller takes"},
		Source: "controller and chipset data sheet, board manual",
		Beside: []string{"ecc"}, Fine: "alike in check bits", each: checkBits,
	},
	{
		ID: "density", Says: "The controller addresses the modules' dies.", Machine: true,
		Needs: []string{"die density of each module", "largest die of the controller"}, Source: "controller data sheet",
		Fine: "the controller addresses all dies", each: density,
	},
	{
		ID: "chip-width", Says: "The controller takes modules of x4 and x16 chips only where it says so.", Machine: true,
		Needs: []string{"chip width of each module", "widths that the controller takes"}, Source: "controller data sheet",
		Fine: "the controller takes these chips", each: chipWidth,
	},
	{
		ID: "ranks", Says: "No module has more ranks than its socket selects.", Machine: true,
		Needs: []string{"ranks of each module"}, Source: "module annexes: two select lines for unbuffered modules",
		Fine: "no module has more ranks than a socket selects", each: ranks,
	},
	{
		ID: "odd-size", Says: "Modules of 12, 24 or 48 GB need a controller and a firmware that know 24 Gbit dies.",
		Machine: true,
		Needs:   []string{"largest die of the controller"}, Source: "JESD79-5: 24 Gbit dies came after the first boards",
		each: oddSize,
	},
	{
		ID: "clock-driver", Says: "Modules with a clock driver need a board that supports them.", Machine: true,
		Needs: []string{"whether the module carries one", "whether the board supports it"}, Source: "JESD323",
		Fine: "no module carries a clock driver", each: clockDriver,
	},
	{
		ID: "per-slot", Says: "No module is larger than its slot takes.", Machine: true,
		Needs: []string{"capacity of each module", "largest module of a slot"}, Source: "controller data sheet, board manual",
		Fine: "every module is of a size that its slot takes", each: perSlot,
	},
	{
		ID: "total", Says: "All memory together is no more than controller, board and firmware allow.", Machine: true,
		Scope:  WholeSet,
		Needs:  []string{"total capacity", "the machine's ceilings"},
		Source: "controller data sheet, board manual, firmware table 16", whole: total,
	},
	{
		ID: "system-limit", Says: "The operating system uses all of it.", Machine: true, Scope: WholeSet,
		Needs: []string{"edition and width of the system"}, Source: "the system maker's published limits", whole: systemLimit,
	},
	{
		ID: "past-jobs", Says: "So much memory was there after earlier jobs on machines of this make.", Machine: true,
		Scope: WholeSet,
		Needs: []string{"total capacity"}, Source: "the workshop's job log", whole: pastJobs,
	},
	{
		ID: "channel-slots", Says: "No channel carries more modules than the controller drives.", Machine: true,
		Scope: EachChannel,
		Needs: []string{"channel of each place", "slots of a channel"}, Source: "controller and chipset data sheet",
		Fine: "no channel carries more modules than the controller drives", channel: channelSlots,
	},
	{
		ID: "channel-ranks", Says: "No channel carries more ranks than the controller selects.", Machine: true,
		Scope:  EachChannel,
		Needs:  []string{"channel of each place", "ranks of each module", "ranks that a channel selects"},
		Source: "controller data sheet",
		Fine:   "no channel carries more ranks than the controller selects", channel: channelRanks,
	},
	{
		ID: "rate", Says: "The machine's rate for channels filled this way is known, and the modules keep it.",
		Machine: true, Scope: WholeSet,
		Needs: []string{"grade of each module", "rate by population"}, Source: "controller data sheet, board manual",
		whole: rate,
	},
	{
		ID: "timings", Says: "All modules share a CAS latency that is long enough for each.", Scope: WholeSet,
		Needs:  []string{"grade of each module", "access time of each module for the figures"},
		Source: "JESD21-C SPD annexes: rounding rules; the bins of the device standards", whole: timings,
	},
	{
		ID: "profile", Says: "Speed that a module reaches by an overclocking profile alone counts only where the machine " +
			"can select it.", Scope: WholeSet,
		Needs:  []string{"profiles of each module", "whether profiles can be selected"},
		Source: "chipset data sheet, board manual; profiles are no part of the standard", whole: profile,
	},
	{
		ID: "unlike", Says: "Modules of unlike makers, chips or ranks run side by side at standard timings; a profile is " +
			"tested by its maker for one kit alone.", Scope: WholeSet,
		Needs:  []string{"maker, chip maker and ranks of each module, as far as they are stated"},
		Source: "the device standards: every bin is alike whoever makes it", whole: unlike,
	},
	{
		ID: "pairing", Says: "Channels are filled alike, so that all memory runs over all of them together.", Machine: true,
		Scope: WholeSet,
		Needs: []string{"channel of each place"}, Source: "controller data sheet: interleaving", whole: pairing,
	},
	{
		ID: "order", Says: "Where the board's manual gives an order, slots are filled in it.", Machine: true, Scope: WholeSet,
		Needs: []string{"the manual's order"}, Source: "board manual", whole: order,
	},
	{
		ID: "faster-part", Says: "A module faster than the machine runs it gains nothing, and a slower one slows " +
			"the others.", Scope: WholeSet,
		Needs: []string{"grade of each module"}, Source: "controller data sheet", whole: fasterPart,
	},
}

// judge asks every rule.
func (s *scene) judge() []rule.Reason {
	s.operate()
	var out []rule.Reason
	for _, r := range rules {
		if r.Machine && s.in == nil {
			continue
		}
		out = append(out, s.ask(r)...)
	}
	if s.stays() {
		for i := range out {
			out[i] = witnessed(out[i])
		}
	}
	return out
}

// stays reports whether nothing is changed: what is fitted sits where it sat.
func (s *scene) stays() bool {
	return s.in != nil && !s.profile && len(s.seats) == len(s.in.fitted) &&
		!slices.ContainsFunc(s.seats, func(seat Seat) bool { return seat.New || seat.Moved() })
}

// ask asks one rule: of each module that it is new to, of each channel, or of all
// together. What
// runs there today is not on trial.
func (s *scene) ask(r Rule) []rule.Reason {
	if r.Scope == EachChannel {
		return s.askChannels(r)
	}
	if r.Scope == WholeSet {
		applies := false
		reason := rule.Ask(func(w *rule.World) rule.Said {
			said, speaks := r.whole(w, s)
			applies = applies || speaks
			if !speaks {
				said.Outcome = rule.OK
			}
			return said
		})
		if !applies {
			return nil
		}
		return []rule.Reason{r.named(reason)}
	}
	var out []rule.Reason
	var of [][]string     // of each, the modules
	var inferred []string // that an answer without a word rests on
	asked := 0
	for i, seat := range s.seats {
		if seat.Soldered || s.in != nil && !seat.New && !(r.Moved && seat.Moved()) {
			continue
		}
		asked++
		reason := r.named(rule.Ask(func(w *rule.World) rule.Said { return r.each(w, s, i) }))
		if reason.Outcome != rule.OK || reason.Says != "" {
			// What holds of several in the same words is said once.
			at := slices.IndexFunc(out, func(x rule.Reason) bool {
				return x.Says == reason.Says && x.Outcome == reason.Outcome && len(x.Depends) == 0 && len(reason.Depends) == 0
			})
			if at >= 0 {
				of[at] = append(of[at], s.names[i])
				continue
			}
			out, of = append(out, reason), append(of, []string{s.names[i]})
			continue
		}
		for _, id := range reason.Inferred {
			if !slices.Contains(inferred, id) {
				inferred = append(inferred, id)
			}
		}
	}
	for i := range out {
		if len(of[i]) > 1 && len(of[i]) == asked && out[i].Says != "" {
			continue // it holds of all
		}
		out[i].Says = strings.TrimSuffix(strings.Join(of[i], ", ")+": "+out[i].Says, ": ")
	}
	if asked > 0 && len(out) == 0 {
		return []rule.Reason{{Rule: r.ID, Outcome: rule.OK, Says: r.Fine, Source: r.Source, Inferred: inferred}}
	}
	return out
}

// witnessed is a reason about what runs there today: whatever is not known of it, it runs.
func witnessed(r rule.Reason) rule.Reason {
	if r.Outcome.Runs() {
		return r
	}
	return rule.Reason{Rule: r.Rule, Outcome: rule.OK, Says: "what is fitted runs there today",
		Source:   "the running machine",
		Inferred: []string{"witness"}}
}

func (r Rule) named(reason rule.Reason) rule.Reason {
	reason.Rule = r.ID
	if reason.Source == "" {
		reason.Source = r.Source
	}
	return reason
}

const readSticker = "read its sticker, or its EEPROM"

// look is what tells a fact of a module: of one that is there its sticker, of one that is to be had its seller.
func (s *scene) look(i int) string {
	if s.in != nil && s.seats[i].New {
		return "ask its seller, or read its sticker"
	}
	return readSticker
}

// ok is what a rule says of a world in which it is met.
func ok() rule.Said { return rule.Said{Outcome: rule.OK} }

func refused(says, source string) rule.Said {
	return rule.Said{Outcome: rule.Refused, Says: says, Source: source}
}
