package view

import (
	"bufio"
	"cmp"
	"encoding/json"
	"fmt"
	"io"
	"strconv"
	"strings"

	"epitome/core/bench"
	"epitome/core/maybe"
	"epitome/core/plain"
	"epitome/core/rule"
	"epitome/core/stock"
)

// A Round collects what a round comes to for each machine, and lays the whole out.
type Round struct {
	rows    [][2]string
	looks   []grouped
	nothing []grouped
	unread  []bench.RoundLine
}

// A grouped is something that is said of several machines.
type grouped struct {
	says  string
	names []string
}

func group(list []grouped, says, name string) []grouped {
	for i := range list {
		if list[i].says == says {
			list[i].names = append(list[i].names, name)
			return list
		}
	}
	return append(list, grouped{says, []string{name}})
}

// Add takes in one machine.
func (v *Round) Add(l bench.RoundLine) {
	switch l.State {
	case bench.RoundUnread:
		v.unread = append(v.unread, l)
		return
	case bench.RoundGets:
	default:
		v.nothing = group(v.nothing, l.Says, l.Name)
		return
	}
	for _, look := range l.Looks {
		v.looks = group(v.looks, look, l.Name)
	}
	v.rows = append(v.rows, [2]string{l.Name, roundWords(l)})
}

// roundWords is what is done for one machine: "Halyard Gull 14: 16 GB instead of 8 GB, at
// 2400 MT/s, works. Put in 1 × 8 GB …".
func roundWords(l bench.RoundLine) string {
	says := fmt.Sprintf("%s: %s instead of %s", l.Machine, l.After, size(l.Before))
	if l.Rate > 0 {
		says += fmt.Sprintf(", at %d MT/s", int(l.Rate))
	}
	says += ", " + map[bool]string{true: "works", false: l.Verdict.String()}[l.Verdict <= rule.RunsLess]
	if l.Says != "" {
		says += ", " + l.Says
	}
	says += ". Put in " + partsWords(l.Gets, ", ")
	if len(l.Out) > 0 {
		says += "; take out " + partsWords(l.Out, ", ")
	}
	if len(l.Moves) > 0 {
		says += "; move " + strings.Join(l.Moves, ", ")
	}
	return says + "."
}

func size(c interface{ String() string }) string {
	return strings.Replace(c.String(), "0 bytes", "?", 1)
}

// partsWords writes modules as a person says them: "2 × 8 GB DDR4-2400 SO-DIMM (HP-1002)".
func partsWords(list []bench.RoundPart, between string) string {
	var parts []string
	for _, x := range list {
		text := fmt.Sprintf("%d × %s", x.N, x.What)
		switch {
		case x.From == "drawer":
			text += " from the drawer"
		case x.From != "":
			text += " " + x.From
		case x.Offer != "":
			text += " (" + x.Offer + ")"
		}
		parts = append(parts, text)
	}
	return strings.Join(parts, between)
}

// Page lays the round out.
func (v *Round) Page(p *Page, r *bench.Round) {
	p.Headline(roundHeadline(r, len(v.rows), len(v.unread)))
	if len(r.Buying) > 0 {
		p.Blank()
		p.Heading("To buy")
		p.roundOrder(r)
	}
	if len(v.rows) > 0 {
		p.Blank()
		p.Para(2, "", roundSays(r))
	}
	if len(r.Left) > 0 {
		p.Para(2, "", "Left over for the drawer, as it is not sold singly: "+partsWords(r.Left, ", ")+".")
	}
	if len(v.rows) > 0 {
		p.Blank()
		p.Heading("Machines")
		wide := 0
		for _, row := range v.rows {
			wide = min(max(wide, len([]rune(row[0]))), mostNameWide)
		}
		for _, row := range v.rows {
			p.Para(wide+4, "  "+Clip(row[0], wide)+"  ", row[1])
		}
	}
	p.grouped("Look before you buy", v.looks)
	p.grouped("Nothing for", v.nothing)
	if len(v.unread) > 0 {
		p.Blank()
		p.Heading("Not read")
		for _, l := range v.unread {
			p.Para(4, "  - ", l.Card+": "+l.Says)
		}
	}
}

// grouped writes what is said of several machines.
func (p *Page) grouped(title string, list []grouped) {
	if len(list) == 0 {
		return
	}
	p.Blank()
	p.Heading(title)
	for _, g := range list {
		p.Para(4, "  - ", strings.TrimSuffix(few(g.names), ".")+": "+g.says)
	}
}

// mostNameWide is how much room a machine's name gets on a page.
const mostNameWide = 20

// mostNames is how many machines are named where all are alike.
const mostNames = 12

// few names machines, and counts the rest.
func few(names []string) string {
	if len(names) <= mostNames {
		return strings.Join(names, ", ")
	}
	return fmt.Sprintf("%s and %d more", strings.Join(names[:mostNames], ", "), len(names)-mostNames)
}

func roundHeadline(r *bench.Round, gets, unread int) string {
	parts := []string{count(r.Read, "machine")}
	switch {
	case gets == 0:
		parts = append(parts, "nothing to buy for any of them")
	case r.Priced:
		parts = append(parts, fmt.Sprintf("%d %s something, for %s", gets, getWord(gets), amount(r.Cost, r.Currency)))
	default:
		parts = append(parts, fmt.Sprintf("%d %s something", gets, getWord(gets)))
	}
	for _, x := range []struct {
		state      bench.RoundState
		says, many string
	}{{bench.RoundEnough, "has what is asked for, or takes no more", "have what is asked for, or take no more"},
		{bench.RoundShort, "goes without", "go without"},
		{bench.RoundBeyond, "finds nothing that fits", "find nothing that fits"},
		{bench.RoundOpen, "can't be told", "can't be told"}} {
		if n := r.Count[x.state]; n > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", n, map[bool]string{true: x.says, false: x.many}[n == 1]))
		}
	}
	if unread > 0 {
		parts = append(parts, plain.Count(unread, "card")+" not read")
	}
	return sentence(parts[0] + ": " + strings.Join(parts[1:], ", ") + ".")
}

func getWord(n int) string { return map[bool]string{true: "gets", false: "get"}[n == 1] }

func amount(m stock.Money, currency string) string {
	return strings.TrimSpace(m.String() + " " + currency)
}

// roundSays says how good the plan is.
func roundSays(r *bench.Round) string {
	says := ""
	if budget, ok := r.Budget.Get(); ok {
		says = fmt.Sprintf("Of a budget of %s, %s are left. ", amount(budget, r.Currency), amount(budget-r.Cost, r.Currency))
	}
	if r.Exact {
		if r.Priced {
			return says + "Worked out exactly: no other plan serves these machines as well for less."
		}
		return says + "Worked out exactly: no other plan serves these machines as well with fewer modules."
	}
	may := "do the same for " + amount(r.May, r.Currency) + " less"
	switch { // what is above the least counts more than all below it
	case r.MayNeed >= 100:
		may = "bring as much as " + count(int(r.MayNeed/100)+1, "machine") + " more to what is asked for"
	case r.MayNeed > 0:
		may = fmt.Sprintf("bring one machine nearer to what is asked for, by %d per cent of what it lacks", r.MayNeed+1)
	case r.MaySteps > 0:
		may = "be better in " + count(int(r.MaySteps)+1, "small thing") + ", such as a rate or a balance, over all " +
			"machines together"
	case !r.Priced:
		may = "do the same with a module or two less"
	}
	return says + "Not proved the best: another plan may " + may + ", and no more than that."
}

// roundOrder is the one buying list.
func (p *Page) roundOrder(r *bench.Round) {
	columns := []Column{{"", Right, 0}, {"Article", Left, 16}, {"What", Left, Rest}}
	if r.Priced {
		columns = append(columns, Column{"Each", Right, 0}, Column{"Sum", Right, 0})
	}
	columns = append(columns, Column{"For", Left, 22})
	var rows [][]string
	for _, b := range r.Buying {
		row := []string{fmt.Sprint(b.Units), cmp.Or(b.SKU, "-"), unitWords(b)}
		if r.Priced {
			row = append(row, b.Price.String(), (b.Price * stock.Money(b.Units)).String())
		}
		rows = append(rows, append(row, few(b.For)))
	}
	p.Table(columns, rows)
}

// unitWords is what one unit is, with who sells it.
func unitWords(b bench.RoundBuy) string {
	_, what, _ := strings.Cut(b.Buy.String(), " × ")
	from := b.Supplier
	if b.SKU == "" {
		from = stock.Ordered("", b.Supplier, b.Row, b.Text)
	}
	if from != "" {
		what += ", " + from
	}
	return what
}

// RoundCSV are the machines of a round as rows.
func RoundCSV() []string {
	return []string{"job", "card", "machine", "title", "state", "is_mib", "will_be_mib", "mts", "verdict", "gets", "out",
		"moves",
		"look_first", "cost", "says"}
}

// RoundRow is one machine as a row of a CSV file.
func RoundRow(r *bench.Round, l bench.RoundLine) []string {
	row := []string{l.Job, l.Card, l.Machine, l.Title, string(l.State), fmt.Sprint(l.Before.MiB()), "", "", "", "", "",
		"", "", "",
		l.Says}
	if l.State == bench.RoundGets {
		row[6], row[8] = fmt.Sprint(l.After.MiB()), l.Verdict.String()
		if l.Rate > 0 {
			row[7] = fmt.Sprint(int(l.Rate))
		}
		row[9], row[10] = partsWords(l.Gets, "; "), partsWords(l.Out, "; ")
		row[11], row[12] = strings.Join(l.Moves, "; "), strings.Join(l.Looks, "; ")
		if r.Priced {
			row[13] = l.Cost.String()
		}
	}
	return row
}

// OrderCSV is the buying list as rows.
func OrderCSV(r *bench.Round) [][]string {
	rows := [][]string{{"quantity", "sku", "supplier", "row", "description", "pieces", "price", "sum", "currency", "for"}}
	for _, b := range r.Buying {
		row := []string{fmt.Sprint(b.Units), b.SKU, b.Supplier, rowOf(b), b.Text, fmt.Sprint(b.Pieces), "", "", "",
			strings.Join(b.For, " ")}
		if r.Priced {
			row[6], row[7], row[8] = b.Price.String(), (b.Price * stock.Money(b.Units)).String(), r.Currency
		}
		rows = append(rows, row)
	}
	return rows
}

// rowOf is the row of the price list, empty for what is on none.
func rowOf(b bench.RoundBuy) string {
	if b.Row == 0 {
		return ""
	}
	return strconv.Itoa(b.Row)
}

// RoundShape is a machine's proposal as JSON has it.
func RoundShape(r bench.Result, q bench.Proposal) ([]byte, error) {
	return json.Marshal(proposalJSON(r, q))
}

// A RoundJSON writes a round as JSON, machine by machine, and keeps none of them.
type RoundJSON struct {
	w     io.Writer
	to    *bufio.Writer
	begun bool
}

// NewRoundJSON begins a round.
func NewRoundJSON(w io.Writer) *RoundJSON {
	to := bufio.NewWriter(w)
	j := &RoundJSON{w: escaper{to}, to: to}
	fmt.Fprint(j.w, "{\n  \"schema\": \"epitome.rounds.v1\",\n  \"machines\": [")
	return j
}

// Add writes one machine.
func (j *RoundJSON) Add(l bench.RoundLine) error {
	if l.State == bench.RoundUnread {
		return nil
	}
	one := struct {
		Card    string              `json:"card"`
		Job     maybe.Value[string] `json:"job"`
		Machine string              `json:"machine"`
		State   bench.RoundState    `json:"state"`
		First   json.RawMessage     `json:"first"`
		Says    string              `json:"says"`
	}{l.Card, orNull(l.Job), l.Machine, l.State, json.RawMessage("null"), roundLineSays(l)}
	if len(l.Shape) > 0 {
		one.First = l.Shape
	}
	text, err := json.MarshalIndent(one, "    ", "  ")
	if err != nil {
		return err
	}
	if j.begun {
		fmt.Fprint(j.w, ",")
	}
	j.begun = true
	_, err = fmt.Fprintf(j.w, "\n    %s", text)
	return err
}

// roundLineSays is what is said of one machine.
func roundLineSays(l bench.RoundLine) string {
	if l.State != bench.RoundGets {
		return l.Says
	}
	says := roundWords(l)
	if len(l.Looks) > 0 {
		says += " Look first: " + strings.Join(l.Looks, "; ") + "."
	}
	return says
}

// End writes the rest of the round.
func (j *RoundJSON) End(r *bench.Round) error {
	type buy struct {
		SKU         maybe.Value[string]  `json:"sku"`
		Supplier    maybe.Value[string]  `json:"supplier"`
		Description string               `json:"description"`
		Pieces      int                  `json:"pieces"`
		Quantity    int                  `json:"quantity"`
		Price       maybe.Value[float64] `json:"price"`
		For         []string             `json:"for"`
	}
	type unread struct {
		Card string `json:"card"`
		Says string `json:"says"`
	}
	type left struct {
		Stick    string `json:"stick"`
		Quantity int    `json:"quantity"`
	}
	rest := struct {
		Buying   []buy                `json:"buying"`
		Cost     maybe.Value[float64] `json:"cost"`
		Currency maybe.Value[string]  `json:"currency"`
		Budget   maybe.Value[float64] `json:"budget"`
		Exact    bool                 `json:"exact"`
		May      any                  `json:"may_be_better_by"`
		Over     []left               `json:"left_over"`
		Read     int                  `json:"read"`
		LeftOut  int                  `json:"left_out"`
		Unread   []unread             `json:"unread"`
	}{Buying: []buy{}, Cost: maybe.If(r.Cost.Units(), r.Priced),
		Currency: maybe.If(r.Currency, r.Priced && r.Currency != ""),
		Budget:   maybe.Map(r.Budget, stock.Money.Units), Exact: r.Exact, Over: []left{}, Read: r.Read,
		LeftOut: len(r.Unread), Unread: []unread{}}
	if !r.Exact {
		rest.May = map[string]any{"need": r.MayNeed, "steps": r.MaySteps, "cost": maybe.If(r.May.Units(), r.Priced)}
	}
	for _, b := range r.Buying {
		rest.Buying = append(rest.Buying, buy{orNull(b.SKU), orNull(b.Supplier), b.Text, b.Pieces, b.Units,
			maybe.If(b.Price.Units(), r.Priced), append([]string{}, b.For...)})
	}
	for _, l := range r.Left {
		rest.Over = append(rest.Over, left{l.What, l.N})
	}
	for _, l := range r.Unread {
		rest.Unread = append(rest.Unread, unread{l.Card, l.Says})
	}
	text, err := json.MarshalIndent(rest, "", "  ")
	if err != nil {
		return err
	}
	closing := "],"
	if j.begun {
		closing = "\n  ],"
	}
	fmt.Fprintf(j.w, "%s%s\n", closing, strings.TrimPrefix(string(text), "{"))
	return j.to.Flush()
}
