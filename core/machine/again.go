package machine

import (
	"fmt"
	"slices"
	"strings"
)

// Again finds the places of a machine in a later reading of it, and returns their names there by those that they had.
// A place is found by any of its names, else by the EEPROM's address among them; one that was announced, which nobody
// named, is the one on its channel that has a name since, else the first that is left. A place that is not found is
// missing.
func Again(before, after Machine) map[string]string {
	found := make(map[string]string)
	taken := make(map[string]bool)
	pair := func(p Place, q Place) { found[p.Name], taken[q.Name] = q.Name, true }
	tie := func(is func(p, q Place) bool) {
		for _, p := range before.Places {
			if _, has := found[p.Name]; has {
				continue
			}
			for _, q := range after.Places {
				if !taken[q.Name] && is(p, q) {
					pair(p, q)
					break
				}
			}
		}
	}
	tie(func(p, q Place) bool {
		return !p.Announced && !q.Announced && SameName(p.Name, q.Name) && !otherBank(p, q)
	})
	for _, p := range before.Places { // the names that say most first: a locator may stand on two banks
		names := append([]string{p.Name}, p.Names...)
		slices.SortStableFunc(names, func(a, b string) int { return len(b) - len(a) })
		for _, n := range names {
			if _, has := found[p.Name]; has || isAnnounced(n) {
				continue
			}
			var called []Place
			for _, q := range after.Places {
				if !taken[q.Name] && q.Called(n) && !otherBank(p, q) {
					called = append(called, q)
				}
			}
			if len(called) == 1 {
				pair(p, called[0])
			}
		}
	}
	nameless := func(p, q Place) bool { return p.Announced || q.Announced }
	tie(func(p, q Place) bool {
		a, ok1 := p.Channel.Get()
		b, ok2 := q.Channel.Get()
		return nameless(p, q) && ok1 && ok2 && a == b
	})
	tie(nameless)
	return found
}

// otherBank reports whether two places have the same locator on two banks.
func otherBank(p, q Place) bool {
	banks := func(p Place) (list []string) {
		for _, n := range p.Names {
			if strings.Contains(n, "/") {
				list = append(list, n)
			}
		}
		return list
	}
	mine, other := banks(p), banks(q)
	return len(mine) > 0 && len(other) > 0 && !slices.ContainsFunc(mine, func(n string) bool {
		return slices.ContainsFunc(other, func(o string) bool { return SameName(n, o) })
	})
}

// isAnnounced reports whether a name is that of an announced place, which tells one from another on one card only.
func isAnnounced(name string) bool { return strings.HasPrefix(name, announced) }

// announced begins the names of announced places.
const announced = "slot "

// AnnouncedName is what the nth place is called, from 1, that was announced and that nobody names.
func AnnouncedName(n int) string { return fmt.Sprint(announced, n) }
