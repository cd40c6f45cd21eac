package bench

import (
	"fmt"
	"iter"
	"strconv"
	"strings"

	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/pattern"
	"epitome/core/stock"
)

// several is how many like sticks a line of a drawer begins with: "3 x 8GB …".
var several = pattern.Of(`^(\d{1,3}) *(?:x|×|\*) +`)

// mostAlike is how many like sticks one line of a drawer may stand for.
const mostAlike = 999

// DrawerText reads what lies in a drawer, a stick a line; what stands behind # and empty
// lines are passed over. wrong says, a line each, what can't be read.
func DrawerText(text string) (sticks []Stick, wrong []string) {
	number := 0
	for line := range strings.Lines(text) {
		number++
		line, _, _ = strings.Cut(line, "#")
		if line = strings.TrimSpace(strings.TrimPrefix(line, "\ufeff")); line == "" {
			continue
		}
		n := 1
		if m := several().FindStringSubmatch(line); m != nil {
			n, _ = strconv.Atoi(m[1])
			line = line[len(m[0]):]
		}
		s, err := module.Parse(line)
		switch {
		case err != nil:
			wrong = append(wrong, fmt.Sprintf("line %d: %v", number, err))
			continue
		case !s.Capacity.Known() || !s.Generation.Known():
			wrong = append(wrong, fmt.Sprintf("line %d: %q names no size or no generation; write it as the sticker has it",
				number,
				line))
			continue
		}
		for range n {
			sticks = append(sticks, s.Apart()...)
		}
	}
	return sticks, wrong
}

// DrawerSheet reads what lies in a drawer from a sheet with a description and, where
// several are alike, a quantity. wrong says what can't be read.
func DrawerSheet(rows iter.Seq[ListRow]) (sticks []Stick, wrong []string) {
	l, err := stock.Read(rows, stock.Options{Unpriced: true})
	if err != nil {
		return nil, []string{err.Error()}
	}
	for _, x := range l.Lines {
		if x.Problem != "" {
			wrong = append(wrong, fmt.Sprintf("row %d: %s", x.Row, x.Problem))
			continue
		}
		one := *x.Stick
		one.From = x.Description
		for range min(x.Quantity.Or(1), mostAlike) * x.Pieces {
			sticks = append(sticks, one)
		}
	}
	return sticks, wrong
}

// BudgetOf reads a budget as typed; empty is none. currency is the one that it names. The
// error is an InputError.
func BudgetOf(text string) (m maybe.Value[stock.Money], currency string, err error) {
	if text == "" {
		return m, "", nil
	}
	amount, code, err := stock.ParseMoney(text)
	if err != nil || amount < 0 {
		return m, "", input("--budget %q is no amount of money; write it as 400 or 399.90", text)
	}
	return maybe.Just(amount), code, nil
}
