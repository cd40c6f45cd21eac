package cli

import (
	"fmt"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store"
)

// wishes are what is asked of a machine and where the parts come from, as typed. visit,
// propose and rounds take the same flags for them, and read them here.
type wishes struct {
	bench.Wishes
	uses              string
	stock, drawer     []string
	columns, currency string
	weights           string // the workshop's own; a file that the settings name
	noStock           bool
}

// goalFlags are those of what is wanted, each with its help: a round says them of every one of
// its machines.
func (w *wishes) goalFlags(cmd *cobra.Command, reach, spend, uses, drawer string) {
	flags := cmd.Flags()
	flags.StringVar(&w.Reach, "reach", "", reach)
	flags.StringVar(&w.Speed, "speed", "", "the speed to run at afterwards, for example 2933, or max for the fastest")
	flags.StringVar(&w.Spend, "spend", "", spend)
	flags.StringVar(&w.uses, "use", "", uses)
	flags.StringArrayVar(&w.stock, "stock", nil, "a price list, CSV or XLSX; may be repeated")
	flags.StringArrayVar(&w.drawer, "drawer", nil, drawer)
	stockFlags(cmd, &w.columns, &w.currency)
}

// choiceFlags are those that say which of the ways are wanted.
func (w *wishes) choiceFlags(cmd *cobra.Command) {
	flags := cmd.Flags()
	flags.BoolVar(&w.Keep, "keep", false, "take nothing out")
	flags.BoolVar(&w.Cheapest, "cheapest", false, "what costs least first, whatever it gives up")
	flags.BoolVar(&w.Pairs, "pairs", false, "the same modules on every channel, nothing else")
	flags.BoolVar(&w.OnlyNew, "only-new", false, "only what a list says is new")
	flags.BoolVar(&w.InStock, "in-stock", false, "only what a list says is in stock")
	flags.BoolVar(&w.noStock, "no-stock", false, "specifications, though the settings name price lists")
}

// settle takes from the settings what was not typed.
func (w *wishes) settle(set store.Settings) {
	w.currency, w.weights = first(w.currency, set.Currency), set.Weights
	if len(w.stock) == 0 && !w.noStock {
		w.stock = set.PriceLists
	}
}

// wished reads the goal and the price lists. It leaves the drawer and the uses to the caller: a
// round has files of sticks, and works the need out for each machine. code is a currency that
// another amount names, for where nothing else does.
func (a *app) wished(w wishes, code string) (g bench.Goal, err error) {
	g, named, err := w.Goal()
	if err != nil {
		return g, err
	}
	if w.noStock && len(w.stock) > 0 {
		return g, usageError("--stock and --no-stock exclude each other; give one")
	}
	if err := w.priced(w.WantsPrices()); err != nil {
		return g, err
	}
	if w.weights != "" {
		scale, err := a.loadWeights(w.weights)
		if err != nil {
			return g, err
		}
		g.Scale = bench.Weighed(scale)
	}
	g.Offers, g.Currency, err = a.offers(w.stock, w.columns, first(w.currency, named, code))
	if err != nil {
		return g, err
	}
	if unstated := bench.Unstated(g.Offers); w.OnlyNew && unstated > 0 {
		a.say("stock    --only-new: %d of %d lines do not say whether they are new, and are left out", unstated,
			len(g.Offers))
	}
	return g, nil
}

// loadWeights reads the workshop's own weights.
func (a *app) loadWeights(path string) (w bench.Scale, err error) {
	return ownFile(a, path, "propose --show-weights prints some to start from", bench.ParseScale)
}

// ownFile reads a file of the workshop's own; start is how one begins with such a file.
func ownFile[T any](a *app, path, start string, parse func([]byte) (T, error)) (x T, err error) {
	text, err := a.read(path, 1<<20)
	if err != nil {
		return x, err
	}
	if x, err = parse(text); err != nil {
		return x, fmt.Errorf("%s: %w; %s", path, err, start)
	}
	return x, nil
}

// priced is the error of a flag that says something of prices where there are none; "" is none.
func (w wishes) priced(flag string) error {
	if flag == "" || len(w.stock) > 0 {
		return nil
	}
	return usageError("%s wants a price list; name one with --stock", flag)
}

// usesOf reads uses by the policy of a file, "" for the built-in one.
func (a *app) usesOf(text, policy string) (p bench.Policy, uses []bench.Use, err error) {
	if p, err = a.loadPolicy(policy); err != nil {
		return p, nil, err
	}
	if uses, err = p.ParseUses(text); err != nil {
		return p, nil, usageError("--use: %v", err)
	}
	return p, uses, nil
}
